package org.cleanmarrow.formats.usd;

import java.io.IOException;

/** Numbers of a binary scene that are looked up each time they are asked for, so that no more than one moment of them is in memory. */
final class UsdcArray {
    /** That they are broken shows late, where nothing but the whole reading can say so. */
    static final class Broken extends RuntimeException {
        private static final long serialVersionUID = 1;

        Broken(IOException why) {
            super(why.getMessage(), why);
        }
    }

    /** Finds them. */
    interface Source {
        double[] numbers() throws IOException;
    }

    private final int count;
    private final Source source;

    /** @param count of numbers, which is known before they are looked up */
    UsdcArray(int count, Source source) {
        this.count = count;
        this.source = source;
    }

    int count() {
        return count;
    }

    double[] numbers() {
        try {
            return source.numbers();
        } catch (IOException e) {
            throw new Broken(e);
        }
    }
}
