package org.cleanmarrow.text;

import java.util.List;

/**
 * Something to be said to a person, as a key and its facts: words are put to it where it is read, in the reader's unit.
 *
 * @param key   of a sentence in the bundle
 * @param facts texts, numbers, {@link Length lengths}, messages within the message, and lists of such
 */
public record Message(String key, List<Object> facts) {

    public Message {
        facts = List.copyOf(facts);
    }

    public static Message of(String key, Object... facts) {
        return new Message(key, List.of(facts));
    }

    /** The sentence, with each length in whichever unit suits it. */
    @Override
    public String toString() {
        return Messages.say(this, "");
    }
}
