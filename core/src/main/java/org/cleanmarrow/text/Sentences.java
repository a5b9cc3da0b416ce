package org.cleanmarrow.text;

import java.text.MessageFormat;
import java.util.Locale;
import java.util.Map;
import java.util.ResourceBundle;
import java.util.concurrent.ConcurrentHashMap;

/** Sentences by key from one bundle. Each is read once: lists say the same of every row. Safe from several threads. */
public final class Sentences {
    private final ResourceBundle bundle;
    private final Map<String, MessageFormat> read = new ConcurrentHashMap<>();

    /** @param bundle base name of the bundle */
    public Sentences(String bundle) {
        this.bundle = ResourceBundle.getBundle(bundle, Locale.ROOT);
    }

    /**
     * The text of a key as it stands.
     *
     * @throws java.util.MissingResourceException when there is no such key
     */
    public String text(String key) {
        return bundle.getString(key);
    }

    /**
     * The sentence of a key with its facts put in; whole numbers are grouped in thousands.
     *
     * @throws java.util.MissingResourceException when there is no such key
     */
    public String of(String key, Object... facts) {
        MessageFormat sentence = read.computeIfAbsent(key, k -> new MessageFormat(text(k), Locale.ROOT));
        // A format keeps what it is putting in, so one thread at a time has it.
        synchronized (sentence) {
            return sentence.format(facts);
        }
    }
}
