package org.cleanmarrow.desktop.text;

import java.text.MessageFormat;
import java.util.Locale;
import java.util.ResourceBundle;

/** The interface's texts, by key, from one bundle. */
public final class Labels {
    private static final ResourceBundle BUNDLE = ResourceBundle.getBundle("org.cleanmarrow.desktop.words", Locale.ROOT);

    private Labels() {}

    /** The text of a key with its facts put in; whole numbers are grouped in thousands. */
    public static String of(String key, Object... facts) {
        String text = BUNDLE.getString(key);
        return facts.length == 0 ? text.replace("''", "'") : new MessageFormat(text, Locale.ROOT).format(facts);
    }
}
