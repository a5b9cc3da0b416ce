package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * A prim as a layer says it. Values are {@link Double}, {@link Boolean}, {@link String} (strings, tokens, assets), {@code double[]}
 * (tuples and arrays of numbers, all in a row), {@link UsdcArray} (arrays that are looked up later), {@code List<String>}, {@code Map<String, Object>}, or null for None.
 */
final class UsdPrim {
    final String path;
    final String name;
    String specifier;
    String type;
    final Map<String, @Nullable Object> metadata = new LinkedHashMap<>();
    final Map<String, Property> properties = new LinkedHashMap<>();
    final List<UsdPrim> children = new ArrayList<>();

    /** An attribute or a relation. */
    static final class Property {
        String type = "";

        @Nullable
        Object value;

        final TreeMap<Double, @Nullable Object> samples = new TreeMap<>();
        final Map<String, @Nullable Object> metadata = new LinkedHashMap<>();
        /** Of a relation, or of a connection. */
        List<String> targets = List.of();

        /** The value, or the first of its samples. */
        @Nullable
        Object first() {
            return value != null || samples.isEmpty()
                    ? value
                    : samples.firstEntry().getValue();
        }

        double[] numbers() {
            return UsdPrim.numbers(first());
        }

        String interpolation() {
            return metadata.get("interpolation") instanceof String s ? s : "";
        }
    }

    UsdPrim(String path, String name, String specifier, String type) {
        this.path = path;
        this.name = name;
        this.specifier = specifier;
        this.type = type;
    }

    static double[] numbers(@Nullable Object value) {
        return switch (value) {
            case double[] all -> all;
            case UsdcArray later -> later.numbers();
            case Double one -> new double[] {one};
            case Boolean yes -> new double[] {yes ? 1 : 0};
            case null, default -> new double[0];
        };
    }

    /** How many {@link #numbers} there are, without looking up those that can be looked up later. */
    static int count(@Nullable Object value) {
        return value instanceof UsdcArray later ? later.count() : numbers(value).length;
    }

    Optional<Property> property(String named) {
        return Optional.ofNullable(properties.get(named));
    }

    /** Numbers of an attribute; none where it is not there. */
    double[] numbers(String named) {
        return property(named).map(Property::numbers).orElse(new double[0]);
    }

    List<String> words(String named) {
        return property(named).map(Property::first).map(UsdPrim::words).orElse(List.of());
    }

    static List<String> words(@Nullable Object value) {
        List<String> out = new ArrayList<>();
        if (value instanceof List<?> all) {
            all.forEach(one -> out.add(String.valueOf(one)));
        } else if (value instanceof String one) {
            out.add(one);
        }
        return out;
    }

    String word(String named, String otherwise) {
        return property(named)
                .map(Property::first)
                .map(v -> v instanceof String s ? s : otherwise)
                .orElse(otherwise);
    }

    /** The first target of a relation or connection. */
    Optional<String> target(String named) {
        return property(named).filter(p -> !p.targets.isEmpty()).map(p -> p.targets.getFirst());
    }

    /** What it is called for people. */
    String label() {
        return metadata.get("displayName") instanceof String s && !s.isEmpty() ? s : name;
    }

    boolean active() {
        return !(metadata.get("active") instanceof Boolean b) || b;
    }

    /** What a weaker layer says of the same prim, where this one says nothing. */
    void under(UsdPrim weaker) {
        if (type.isEmpty()) {
            type = weaker.type;
        }
        if (specifier.equals("over")) {
            specifier = weaker.specifier;
        }
        weaker.metadata.forEach(metadata::putIfAbsent);
        weaker.properties.forEach(properties::putIfAbsent);
        under(children, weaker.children);
    }

    static void under(List<UsdPrim> stronger, List<UsdPrim> weaker) {
        for (UsdPrim w : weaker) {
            Optional<UsdPrim> same =
                    stronger.stream().filter(s -> s.name.equals(w.name)).findFirst();
            same.ifPresentOrElse(s -> s.under(w), () -> stronger.add(w));
        }
    }
}
