package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Reads the binary form of USD into what {@link UsdaParser} makes of the text: a table of words, one of paths, and for each prim, attribute
 * and relation the fields that are said of it. Versions from 0.4 on, which is all that was written since 2016. Arrays stay where they are
 * until somebody asks for them, so that a cache takes no memory beside the file's own bytes.
 */
final class UsdcParser {
    private static final int HEAD = 88;
    private static final int DEEPEST = 256;
    private static final int OLDEST = 4;
    private static final int END_OF_SET = -1;

    private static final int ATTRIBUTE = 1;
    private static final int PRIM = 6;
    private static final int ROOT = 7;
    private static final int RELATION = 8;

    /** Fields that are composition, and what text calls them. */
    private static final Map<String, String> ARCS = Map.of(
            "references", "references",
            "payload", "payload",
            "inheritPaths", "inherits",
            "specializes", "specializes",
            "variantSetNames", "variantSets");

    private final UsdcBytes bytes;
    private final Work work;
    private final Map<String, Long> sections = new HashMap<>();
    private List<String> tokens = List.of();
    private final UsdLayer layer = new UsdLayer();

    /** A field: its name, and its value or where that lies. */
    private record Field(String name, long rep) {}

    /** Something of which fields are said. */
    private record Spec(String path, int kind, int set) {}

    private UsdcParser(byte[] bytes, Work work) {
        this.bytes = new UsdcBytes(bytes);
        this.work = work;
    }

    /** @throws ReadFailed where it is broken, or older than what is read */
    static UsdLayer parse(byte[] bytes, String file, Work work) throws ReadFailed {
        try {
            return new UsdcParser(bytes, work).layer();
        } catch (IOException e) {
            throw new ReadFailed(file, "", "is a broken binary scene: " + e.getMessage());
        }
    }

    private UsdLayer layer() throws IOException {
        if (bytes.length() < HEAD) {
            throw new IOException("it ends within its head");
        }
        UsdcBytes.At head = bytes.at(8);
        int major = head.u8();
        int version = head.u8();
        if (major != 0 || version < OLDEST) {
            throw new IOException("its version is " + major + "." + version + ", expected 0." + OLDEST
                    + " or later; write it anew, or as text");
        }
        UsdcBytes.At contents = bytes.at(bytes.at(16).i64());
        int count = contents.count(32);
        for (int i = 0; i < count; i++) {
            String name = contents.text(16);
            sections.put(name, contents.i64());
            contents.i64();
        }
        tokens = tokens();
        work.at(0.2, "reading words");
        UsdcBytes.At at = section("STRINGS");
        int[] strings = new int[at.count(Integer.BYTES)];
        for (int i = 0; i < strings.length; i++) {
            strings[i] = at.i32();
        }
        List<String> paths = paths();
        List<Field> fields = fields();
        at = section("FIELDSETS");
        int[] sets = at.ints(packedCount(at));
        work.stopIfCancelled();
        UsdcValues values = new UsdcValues(bytes, version, tokens, strings, paths);
        tell(specs(paths), fields, sets, values);
        return layer;
    }

    private UsdcBytes.At section(String name) throws IOException {
        Long start = sections.get(name);
        if (start == null) {
            throw new IOException("it has no section " + name);
        }
        return bytes.at(start);
    }

    /** A count of whole numbers that follow packed: two bits each at least, before the last packing. */
    private int packedCount(UsdcBytes.At at) throws IOException {
        return at.count(1.0 / (4 * Lz4.MOST_GROWTH));
    }

    private List<String> tokens() throws IOException {
        UsdcBytes.At at = section("TOKENS");
        long count = at.i64();
        long length = at.i64();
        byte[] all = at.unpacked(at.i64(), length);
        if (count < 0 || count > all.length) {
            throw new IOException("there are fewer words than " + count);
        }
        List<String> out = new ArrayList<>();
        int from = 0;
        for (int to = 0; to < all.length && out.size() < count; to++) {
            if (all[to] == 0) {
                out.add(new String(all, from, to - from, java.nio.charset.StandardCharsets.UTF_8));
                from = to + 1;
            }
        }
        if (out.size() < count) {
            throw new IOException("there are fewer words than " + count);
        }
        return out;
    }

    private List<Field> fields() throws IOException {
        UsdcBytes.At at = section("FIELDS");
        int count = packedCount(at);
        int[] names = at.ints(count);
        byte[] reps = at.unpacked(at.i64(), (long) count * Long.BYTES);
        if (reps.length < (long) count * Long.BYTES) {
            throw new IOException("there are fewer values than fields");
        }
        UsdcBytes.At rep = new UsdcBytes(reps).at(0);
        List<Field> out = new ArrayList<>();
        for (int name : names) {
            out.add(new Field(token(name), rep.i64()));
        }
        return out;
    }

    private String token(int number) throws IOException {
        if (number < 0 || number >= tokens.size()) {
            throw new IOException("there is no word number " + number);
        }
        return tokens.get(number);
    }

    /** Paths by number, from a tree told in its order with leaps from brother to brother. */
    private List<String> paths() throws IOException {
        UsdcBytes.At at = section("PATHS");
        int many = packedCount(at);
        int count = packedCount(at);
        int[] numbers = at.ints(count);
        int[] elements = at.ints(count);
        int[] leaps = at.ints(count);
        List<@Nullable String> out = new ArrayList<>(Collections.nCopies(many, null));
        Deque<Branch> open = new ArrayDeque<>();
        open.push(new Branch(0, "", 0));
        boolean[] seen = new boolean[count];
        while (!open.isEmpty() && count > 0) {
            Branch branch = open.pop();
            int i = branch.first;
            if (i >= count || seen[i]) {
                throw new IOException("its paths lead round in a ring");
            }
            seen[i] = true;
            if (numbers[i] < 0 || numbers[i] >= many || branch.depth > DEEPEST) {
                throw new IOException("its paths are broken or nested deeper than " + DEEPEST);
            }
            String path = i == 0 ? "" : branch.parent + below(elements[i]);
            out.set(numbers[i], path.isEmpty() ? "/" : path);
            if (leaps[i] >= 0) {
                open.push(new Branch(leaps[i] == 0 ? i + 1 : i + leaps[i], branch.parent, branch.depth));
            }
            if (leaps[i] > 0 || leaps[i] == -1) {
                open.push(new Branch(i + 1, path, branch.depth + 1));
            }
        }
        return Collections.unmodifiableList(out);
    }

    /** A path's brothers and what is below them, beginning with one. */
    private record Branch(int first, String parent, int depth) {}

    private String below(int element) throws IOException {
        String name = token(Math.abs(element));
        // Choices of variants have no stroke of their own.
        return element < 0 ? "." + name : name.startsWith("{") ? name : "/" + name;
    }

    private List<Spec> specs(List<String> paths) throws IOException {
        UsdcBytes.At at = section("SPECS");
        int count = packedCount(at);
        int[] path = at.ints(count);
        int[] set = at.ints(count);
        int[] kind = at.ints(count);
        List<Spec> out = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            if (path[i] < 0 || path[i] >= paths.size() || paths.get(path[i]) == null) {
                throw new IOException("something is said of path number " + path[i] + ", which is not there");
            }
            out.add(new Spec(paths.get(path[i]), kind[i], set[i]));
        }
        return out;
    }

    private void tell(List<Spec> specs, List<Field> fields, int[] sets, UsdcValues values) throws IOException {
        Map<String, UsdPrim> prims = new LinkedHashMap<>();
        Map<String, List<String>> order = new HashMap<>();
        List<Spec> properties = new ArrayList<>();
        for (Spec spec : specs) {
            work.stopIfCancelled();
            if (spec.path.contains("{")) {
                // What a variant holds; that there are some is said at their prim.
                continue;
            }
            switch (spec.kind) {
                case ROOT -> {
                    for (Field field : of(spec, fields, sets)) {
                        if (field.name.equals("primChildren")) {
                            order.put("", UsdPrim.words(values.value(field.rep)));
                        } else {
                            layer.metadata.put(field.name, values.value(field.rep));
                        }
                    }
                }
                case PRIM -> {
                    UsdPrim prim =
                            new UsdPrim(spec.path, spec.path.substring(spec.path.lastIndexOf('/') + 1), "over", "");
                    prims.put(spec.path, prim);
                    for (Field field : of(spec, fields, sets)) {
                        tell(prim, field, values, order);
                    }
                }
                case ATTRIBUTE, RELATION -> properties.add(spec);
                default -> {}
            }
        }
        for (Spec spec : properties) {
            int dot = spec.path.lastIndexOf('.');
            UsdPrim prim = dot < 0 ? null : prims.get(spec.path.substring(0, dot));
            if (prim != null) {
                UsdPrim.Property property = new UsdPrim.Property();
                property.type = spec.kind == RELATION ? "rel" : "";
                prim.properties.put(spec.path.substring(dot + 1), property);
                for (Field field : of(spec, fields, sets)) {
                    tell(property, field, values);
                }
            }
        }
        prims.values().forEach(prim -> {
            int stroke = prim.path.lastIndexOf('/');
            UsdPrim parent = prims.get(prim.path.substring(0, stroke));
            if (parent != null) {
                parent.children.add(prim);
            } else if (stroke == 0) {
                layer.roots.add(prim);
            }
        });
        sort(layer.roots, order.get(""));
        prims.values().forEach(prim -> sort(prim.children, order.get(prim.path)));
    }

    private static void sort(List<UsdPrim> prims, @Nullable List<String> order) {
        if (order != null) {
            Map<String, Integer> place = new HashMap<>();
            order.forEach(name -> place.putIfAbsent(name, place.size()));
            prims.sort(java.util.Comparator.comparingInt(p -> place.getOrDefault(p.name, Integer.MAX_VALUE)));
        }
    }

    private void tell(UsdPrim prim, Field field, UsdcValues values, Map<String, List<String>> order)
            throws IOException {
        if (ARCS.containsKey(field.name)) {
            layer.arcs.add(ARCS.get(field.name) + " at " + prim.path);
            return;
        }
        Object value = values.value(field.rep);
        switch (field.name) {
            case "specifier" -> prim.specifier = String.valueOf(value);
            case "typeName" -> prim.type = value instanceof String s ? s : "";
            case "primChildren" -> order.put(prim.path, UsdPrim.words(value));
            case "properties" -> {}
            default -> prim.metadata.put(field.name, value);
        }
    }

    private static void tell(UsdPrim.Property property, Field field, UsdcValues values) throws IOException {
        if (UsdcValues.isSamples(field.rep)) {
            property.samples.putAll(values.samples(field.rep));
            return;
        }
        Object value = values.value(field.rep);
        switch (field.name) {
            case "typeName" -> property.type = value instanceof String s ? s : "";
            case "default" -> property.value = value;
            case "targetPaths", "connectionPaths" -> property.targets = UsdPrim.words(value);
            default -> property.metadata.put(field.name, value);
        }
    }

    private static List<Field> of(Spec spec, List<Field> fields, int[] sets) throws IOException {
        List<Field> out = new ArrayList<>();
        for (int i = spec.set; ; i++) {
            if (i < 0 || i >= sets.length) {
                throw new IOException("a set of fields does not end");
            }
            if (sets[i] == END_OF_SET) {
                return out;
            }
            if (sets[i] < 0 || sets[i] >= fields.size()) {
                throw new IOException("there is no field number " + sets[i]);
            }
            out.add(fields.get(sets[i]));
        }
    }
}
