package org.cleanmarrow.desktop.text;

import org.cleanmarrow.text.Sentences;

/** The interface's texts, by key, from one bundle. */
public final class Labels {
    private static final Sentences ALL = new Sentences("org.cleanmarrow.desktop.words");

    private Labels() {}

    /** The text of a key with its facts put in; whole numbers are grouped in thousands. */
    public static String of(String key, Object... facts) {
        return facts.length == 0 ? ALL.text(key).replace("''", "'") : ALL.of(key, facts);
    }
}
