package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;

/**
 * Levels of detail, known by names that end in {@code LOD} and a number, as in {@code cape_LOD2} or {@code cape.lod1}
 * (common practice). A part of the same name without such an ending is level 0.
 */
public final class LodFamilies {
    private static final Pattern LEVEL = Pattern.compile("(?i)^(.*?)[ _.-]*lod[ _.-]?(\\d{1,2})$");

    private LodFamilies() {}

    /** One part of a family. */
    public record Member(int level, int node) {}

    /**
     * Parts that stand for the same thing.
     *
     * @param name    what is left of their names without the level
     * @param members by rising level, at least two
     */
    public record Family(String name, List<Member> members) {}

    /** All families of at least two levels. */
    public static List<Family> of(Asset asset) {
        Map<String, List<Member>> byName = new LinkedHashMap<>();
        Map<String, Integer> plain = new LinkedHashMap<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() < 0) {
                continue;
            }
            String name =
                    node.name().isEmpty() ? asset.meshes().get(node.mesh()).name() : node.name();
            Matcher level = LEVEL.matcher(name);
            if (level.matches() && !level.group(1).isEmpty()) {
                byName.computeIfAbsent(level.group(1), k -> new ArrayList<>())
                        .add(new Member(Integer.parseInt(level.group(2)), n));
            } else {
                plain.put(name, n);
            }
        }
        List<Family> out = new ArrayList<>();
        byName.forEach((name, members) -> {
            boolean first = members.stream().anyMatch(m -> m.level() == 0);
            if (!first && plain.containsKey(name)) {
                members.add(new Member(0, plain.get(name)));
            }
            members.sort(Comparator.comparingInt(Member::level));
            if (members.size() > 1) {
                out.add(new Family(name, List.copyOf(members)));
            }
        });
        return out;
    }

    /** The name of the family of each mesh that is a level of one. */
    public static Map<Integer, String> ofMeshes(Asset asset) {
        Map<Integer, String> out = new HashMap<>();
        of(asset)
                .forEach(f -> f.members()
                        .forEach(m -> out.put(asset.nodes().get(m.node()).mesh(), f.name())));
        return out;
    }

    /** Name of a level of a part. */
    public static String levelName(String part, int level) {
        Matcher own = LEVEL.matcher(part);
        return (own.matches() ? own.group(1) : part) + "_LOD" + level;
    }
}
