package org.cleanmarrow.work;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Messages;

/**
 * What a step made of an asset, and what it did.
 *
 * @param counts how many of what, in the order they were said
 * @param notes  what it could not do or had to choose, one sentence each
 */
public record Change(Asset asset, Map<String, Long> counts, List<String> notes) {

    public static Change of(Asset asset) {
        return new Change(asset, Map.of(), List.of());
    }

    public Change count(String what, long many) {
        Map<String, Long> more = new LinkedHashMap<>(counts);
        more.merge(what, many, Long::sum);
        return new Change(asset, Collections.unmodifiableMap(more), notes);
    }

    /** Adds a sentence from the text bundle. */
    public Change note(String key, Object... facts) {
        return noted(List.of(Messages.of("outcome." + key, facts)));
    }

    /** The same change with another's counts and notes put before its own. */
    public Change after(Change earlier) {
        Map<String, Long> all = new LinkedHashMap<>(earlier.counts);
        counts.forEach((k, v) -> all.merge(k, v, Long::sum));
        List<String> sentences = new ArrayList<>(earlier.notes);
        sentences.addAll(notes);
        return new Change(asset, Collections.unmodifiableMap(all), List.copyOf(sentences));
    }

    private Change noted(List<String> sentences) {
        List<String> more = new ArrayList<>(notes);
        more.addAll(sentences);
        return new Change(asset, counts, List.copyOf(more));
    }
}
