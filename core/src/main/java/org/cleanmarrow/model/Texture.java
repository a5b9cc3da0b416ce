package org.cleanmarrow.model;

import java.util.Collections;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * A use of an image.
 *
 * @param image   index, or -1
 * @param others  by the extension that says so, the same picture in another encoding
 * @param sampler how it is filtered and repeated, a glTF sampler (2.0, 5.26)
 */
public record Texture(
        String name, int image, SortedMap<String, Integer> others, Passthrough sampler, Passthrough carried)
        implements Refers<Texture> {

    public Texture {
        others = Collections.unmodifiableSortedMap(new TreeMap<>(others));
    }

    public Texture(String name, int image, Passthrough carried) {
        this(name, image, new TreeMap<>(), Passthrough.NONE, carried);
    }

    @Override
    public Texture renumbered(Renumbering numbers) {
        SortedMap<String, Integer> stay = new TreeMap<>();
        for (Map.Entry<String, Integer> other : others.entrySet()) {
            int now = numbers.of(Renumbering.Kind.IMAGE, other.getValue());
            if (now >= 0) {
                stay.put(other.getKey(), now);
            }
        }
        return new Texture(name, numbers.of(Renumbering.Kind.IMAGE, image), stay, sampler, carried);
    }
}
