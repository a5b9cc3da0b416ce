package org.cleanmarrow.ledger;

import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.BiPredicate;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.work.Step;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * What nodes, meshes, clips and materials of an asset are called in a newer version of it, where they are called otherwise. A guess
 * by how alike names and things are, made only where each is the other's best and kinds do not contradict each other; to be shown
 * before it is used.
 *
 * @param names new by old
 */
public record NewNames(SortedMap<String, String> names) {
    /** More than this many on either side are no renaming. */
    private static final int MOST = 500;

    /** What is longer is compared by its beginning. */
    private static final int MOST_SIGNS = 200;

    private static final double LIKE = 0.5;
    private static final double BY_NAME = 0.6;

    /** Guesses what became of names that are gone. Cost: their number times that of the names that came. */
    public static NewNames between(Asset before, Asset after) {
        int[] up = before.parents();
        int[] upNow = after.parents();
        Map<String, String> found = new HashMap<>();
        Set<String> unclear = new HashSet<>();
        add(found, unclear, named(before.nodes(), Node::name), named(after.nodes(), Node::name), (a, b) -> {
            String parent = up[a] < 0 ? "" : before.nodes().get(up[a]).name();
            String parentNow = upNow[b] < 0 ? "" : after.nodes().get(upNow[b]).name();
            return parent.equals(parentNow)
                    && before.nodes().get(a).children().length
                            == after.nodes().get(b).children().length;
        });
        add(found, unclear, named(before.meshes(), Mesh::name), named(after.meshes(), Mesh::name), (a, b) -> {
            Mesh x = before.meshes().get(a);
            Mesh y = after.meshes().get(b);
            return x.vertexCount() == y.vertexCount() && x.triangleCount() == y.triangleCount();
        });
        add(found, unclear, named(before.clips(), Clip::name), named(after.clips(), Clip::name), (a, b) -> {
            Clip x = before.clips().get(a);
            Clip y = after.clips().get(b);
            return x.seconds() == y.seconds()
                    && x.channels().size() == y.channels().size();
        });
        add(
                found,
                unclear,
                named(before.materials(), Material::name),
                named(after.materials(), Material::name),
                (a, b) -> Arrays.equals(
                        before.materials().get(a).baseColour(),
                        after.materials().get(b).baseColour()));
        found.keySet().removeAll(unclear);
        return new NewNames(Collections.unmodifiableSortedMap(new TreeMap<>(found)));
    }

    /** Numbers of the things by their names; of several of one name the first. */
    private static <T> Map<String, Integer> named(List<T> things, Function<T, String> name) {
        Map<String, Integer> out = new LinkedHashMap<>();
        for (int i = 0; i < things.size(); i++) {
            out.putIfAbsent(name.apply(things.get(i)), i);
        }
        return out;
    }

    /** Names of one kind; one that became something else in another kind is unclear. */
    private static void add(
            Map<String, String> found,
            Set<String> unclear,
            Map<String, Integer> before,
            Map<String, Integer> after,
            BiPredicate<Integer, Integer> alike) {
        pairs(before, after, alike).forEach((old, now) -> {
            String other = found.putIfAbsent(old, now);
            if (other != null && !other.equals(now)) {
                unclear.add(old);
            }
        });
    }

    private static Map<String, String> pairs(
            Map<String, Integer> before, Map<String, Integer> after, BiPredicate<Integer, Integer> alike) {
        List<String> gone =
                before.keySet().stream().filter(n -> !after.containsKey(n)).toList();
        List<String> come =
                after.keySet().stream().filter(n -> !before.containsKey(n)).toList();
        Map<String, String> out = new HashMap<>();
        if (gone.size() > MOST || come.size() > MOST) {
            return out;
        }
        double[][] score = new double[gone.size()][come.size()];
        for (int i = 0; i < gone.size(); i++) {
            for (int j = 0; j < come.size(); j++) {
                score[i][j] = BY_NAME * likeness(gone.get(i), come.get(j))
                        + (alike.test(before.get(gone.get(i)), after.get(come.get(j))) ? 1 - BY_NAME : 0);
            }
        }
        for (int i = 0; i < gone.size(); i++) {
            int best = best(score[i]);
            int row = i;
            double[] column = best < 0
                    ? new double[0]
                    : Arrays.stream(score).mapToDouble(s -> s[best]).toArray();
            if (best >= 0 && score[row][best] >= LIKE && best(column) == row) {
                out.put(gone.get(i), come.get(best));
            }
        }
        return out;
    }

    /** Where the one largest number is, or -1 where there is none or two are as large. */
    private static int best(double[] numbers) {
        int best = -1;
        boolean twice = false;
        for (int i = 0; i < numbers.length; i++) {
            if (best < 0 || numbers[i] > numbers[best]) {
                best = i;
                twice = false;
            } else if (numbers[i] == numbers[best]) {
                twice = true;
            }
        }
        return twice ? -1 : best;
    }

    /** 1 where two names are the same but for case, marks and the order of their words, 0 where they have nothing in common. */
    static double likeness(String a, String b) {
        String x = a.substring(0, Math.min(MOST_SIGNS, a.length()));
        String y = b.substring(0, Math.min(MOST_SIGNS, b.length()));
        return Math.max(edits(plain(x), plain(y)), edits(sorted(x), sorted(y)));
    }

    /** 1 less the edits from one to the other over the longer (Levenshtein 1966). */
    private static double edits(String x, String y) {
        int longer = Math.max(x.length(), y.length());
        if (longer == 0) {
            return 0;
        }
        int[] last = new int[y.length() + 1];
        for (int j = 0; j <= y.length(); j++) {
            last[j] = j;
        }
        for (int i = 1; i <= x.length(); i++) {
            int diagonal = last[0];
            last[0] = i;
            for (int j = 1; j <= y.length(); j++) {
                int change = diagonal + (x.charAt(i - 1) == y.charAt(j - 1) ? 0 : 1);
                diagonal = last[j];
                last[j] = Math.min(change, 1 + Math.min(last[j], last[j - 1]));
            }
        }
        return 1 - last[y.length()] / (double) longer;
    }

    private static String sorted(String name) {
        String[] words = name.replaceAll("(?<=\\p{Ll})(?=\\p{Lu})", " ")
                .toLowerCase(Locale.ROOT)
                .split("[^\\p{L}\\p{N}]+");
        Arrays.sort(words);
        return String.join("", words);
    }

    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]", "");
    }

    /**
     * A step that calls everything by its new name.
     *
     * @throws BadJson where an old name was also a word of the step's own, so that it says nothing any more
     */
    Step in(Step step) throws BadJson {
        return StepCodec.read(renamed(StepCodec.write(step), false), "");
    }

    /** A ledger with other steps, whose poses and kept vertices call joints and meshes that are gone by their new names. */
    Ledger kept(Ledger ledger, List<Ledger.Entry> steps, Asset source) {
        List<TrialPose> poses = ledger.poses().stream()
                .map(p -> new TrialPose(
                        p.name(),
                        p.stops().stream()
                                .map(stop -> stop.entrySet().stream()
                                        .collect(Collectors.toMap(
                                                e -> source.findNode(e.getKey()) >= 0
                                                        ? e.getKey()
                                                        : names.getOrDefault(e.getKey(), e.getKey()),
                                                Map.Entry::getValue,
                                                (a, b) -> a)))
                                .toList()))
                .toList();
        List<Ledger.Choice> choices = ledger.choices().stream()
                .map(c -> source.findMesh(c.mesh()) >= 0
                        ? c
                        : new Ledger.Choice(c.name(), names.getOrDefault(c.mesh(), c.mesh()), c.vertices()))
                .toList();
        return new Ledger(steps, choices, poses, ledger.delivery());
    }

    private JsonNode renamed(JsonNode json, boolean named) {
        if (json instanceof ObjectNode object) {
            ObjectNode out = JsonNodeFactory.instance.objectNode();
            object.propertyStream().forEach(f -> {
                boolean step = f.getKey().equals("step");
                out.set(
                        named ? names.getOrDefault(f.getKey(), f.getKey()) : f.getKey(),
                        step ? f.getValue() : renamed(f.getValue(), f.getValue().isObject()));
            });
            return out;
        }
        if (json instanceof ArrayNode array) {
            ArrayNode out = JsonNodeFactory.instance.arrayNode();
            array.forEach(one -> out.add(renamed(one, false)));
            return out;
        }
        if (!json.isString()) {
            return json;
        }
        String text = json.stringValue();
        String changed = names.containsKey(text)
                ? names.get(text)
                : Arrays.stream(text.split(",", -1))
                        .map(part -> {
                            String name = part.strip();
                            return names.containsKey(name) ? part.replace(name, names.get(name)) : part;
                        })
                        .collect(Collectors.joining(","));
        return JsonNodeFactory.instance.stringNode(changed);
    }
}
