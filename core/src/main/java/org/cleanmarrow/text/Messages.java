package org.cleanmarrow.text;

import java.util.List;
import java.util.stream.Collectors;
import org.cleanmarrow.convention.Units;

/** The sentences of messages, kept in a bundle, so that the computation holds none. */
public final class Messages {
    private static final Sentences ALL = new Sentences("org.cleanmarrow.text.core");

    private Messages() {}

    /**
     * The sentence of a message; whole numbers are grouped in thousands.
     *
     * @param unit short name of the unit that lengths are said in; empty: whichever suits each
     * @throws java.util.MissingResourceException when there is no such key
     */
    public static String say(Message message, String unit) {
        Object[] facts = message.facts().stream().map(fact -> said(fact, unit)).toArray();
        return ALL.of(message.key(), facts);
    }

    private static Object said(Object fact, String unit) {
        return switch (fact) {
            case Message within -> say(within, unit);
            case Length length when Double.isInfinite(length.metres()) -> ALL.text("length.infinite");
            case Length length -> Units.sayIn(length.metres(), unit);
            case List<?> several ->
                several.stream()
                        .map(each -> said(each, unit).toString())
                        .collect(Collectors.joining(ALL.text("list.between")));
            default -> fact;
        };
    }
}
