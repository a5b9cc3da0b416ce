package org.cleanmarrow.work;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Message;

/**
 * What a step made of an asset, and what it did.
 *
 * @param counts how many of what, in the order they were said
 * @param notes  what it could not do or had to choose
 */
public record Change(Asset asset, Map<Message, Long> counts, List<Message> notes) {

    /** What was done, without the asset it was done to. */
    public Outcome outcome() {
        return new Outcome(counts, notes);
    }

    public static Change of(Asset asset) {
        return new Change(asset, Map.of(), List.of());
    }

    /** Adds to how many of something, {@code count.<key>} in the bundle. */
    public Change count(String key, long many, Object... facts) {
        Map<Message, Long> more = new LinkedHashMap<>(counts);
        more.merge(Message.of("count." + key, facts), many, Long::sum);
        return new Change(asset, Collections.unmodifiableMap(more), notes);
    }

    /** Adds what is to be said, {@code outcome.<key>} in the bundle. */
    public Change note(String key, Object... facts) {
        return noted(List.of(Message.of("outcome." + key, facts)));
    }

    /** The same change with another's counts and notes put before its own. */
    public Change after(Change earlier) {
        Map<Message, Long> all = new LinkedHashMap<>(earlier.counts);
        counts.forEach((k, v) -> all.merge(k, v, Long::sum));
        List<Message> sentences = new ArrayList<>(earlier.notes);
        sentences.addAll(notes);
        return new Change(asset, Collections.unmodifiableMap(all), List.copyOf(sentences));
    }

    private Change noted(List<Message> sentences) {
        List<Message> more = new ArrayList<>(notes);
        more.addAll(sentences);
        return new Change(asset, counts, List.copyOf(more));
    }
}
