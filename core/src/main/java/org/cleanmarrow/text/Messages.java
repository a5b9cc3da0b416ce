package org.cleanmarrow.text;

import java.text.MessageFormat;
import java.util.Locale;
import java.util.ResourceBundle;

/** Sentences for people, kept in a bundle and named by keys, so that the computation holds none. */
public final class Messages {
    private static final ResourceBundle BUNDLE = ResourceBundle.getBundle("org.cleanmarrow.text.core", Locale.ROOT);

    private Messages() {}

    /**
     * The sentence of a key with its facts put in; whole numbers are grouped in thousands.
     *
     * @throws java.util.MissingResourceException when there is no such key
     */
    public static String of(String key, Object... facts) {
        return new MessageFormat(BUNDLE.getString(key), Locale.ROOT).format(facts);
    }
}
