package org.cleanmarrow.formats.obj;

import java.util.Arrays;

/** A list of float32 numbers that grows. */
final class Floats {
    private float[] values = new float[1024];
    private int size;

    void add(double value) {
        if (size == values.length) {
            values = Arrays.copyOf(values, size * 2);
        }
        values[size++] = (float) value;
    }

    int size() {
        return size;
    }

    float get(int i) {
        return values[i];
    }

    float[] array() {
        return values;
    }
}
