package org.cleanmarrow.reference;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.reference.SkeletonOutline.Joint;
import org.cleanmarrow.work.Threads;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Where a skeleton departs from a reference: names, parents, order, rest offsets and axes, joint by joint. */
public final class SkeletonComparison {
    /** What is other. */
    public enum Kind {
        /** The reference has it, this skeleton has not. */
        MISSING,
        /** This skeleton has it, the reference has not. */
        EXTRA,
        /** It hangs on another joint. */
        PARENT,
        /** It comes before a joint that it should come after. */
        ORDER,
        /** It stands elsewhere against the joint above; metres. */
        OFFSET,
        /** Its own axes are turned; degrees. */
        AXES
    }

    /**
     * One difference.
     *
     * @param node     of the asset, or -1 for a joint that is missing
     * @param name     of the joint
     * @param expected what the reference has: the parent's name, or empty
     * @param amount   metres or degrees by kind, otherwise 0
     */
    public record Row(Kind kind, int node, String name, String expected, double amount) {}

    private SkeletonComparison() {}

    /**
     * All differences beyond the tolerances; none where the skeletons are the same.
     *
     * @param nearMetres  rest offsets that differ by no more count as equal
     * @param nearDegrees axes that differ by no more count as equal
     */
    public static List<Row> of(Asset asset, SkeletonOutline reference, double nearMetres, double nearDegrees) {
        Threads.begins("a comparison of skeletons");
        Map<Integer, Joint> own = SkeletonOutline.standing(asset);
        Map<String, Joint> here = new HashMap<>();
        Map<String, Integer> nodes = new HashMap<>();
        own.forEach((n, j) -> {
            here.put(j.name(), j);
            nodes.put(j.name(), n);
        });
        Map<String, Joint> there = reference.byName();
        List<Row> rows = new ArrayList<>();
        for (Joint wanted : reference.joints()) {
            if (!here.containsKey(wanted.name())) {
                rows.add(new Row(Kind.MISSING, -1, wanted.name(), wanted.parent(), 0));
            }
        }
        Map<String, Integer> order = new HashMap<>();
        reference.joints().forEach(j -> order.putIfAbsent(j.name(), order.size()));
        int last = -1;
        for (Joint j : own.values()) {
            int node = Objects.requireNonNull(nodes.get(j.name()));
            Joint wanted = there.get(j.name());
            if (wanted == null) {
                rows.add(new Row(Kind.EXTRA, node, j.name(), "", 0));
                continue;
            }
            String above = firstIn(SkeletonOutline.above(there, j.name()), here);
            if (!above.equals(firstIn(SkeletonOutline.above(here, j.name()), there))) {
                rows.add(new Row(Kind.PARENT, node, j.name(), above, 0));
            }
            int number = Objects.requireNonNull(order.get(j.name()));
            if (number < last) {
                rows.add(new Row(Kind.ORDER, node, j.name(), "", 0));
            }
            last = Math.max(last, number);
            double off = offset(here, there, above, j, wanted);
            if (!(off <= nearMetres)) {
                rows.add(new Row(Kind.OFFSET, node, j.name(), "", off));
            }
            double turned = degrees(j.axes(), wanted.axes());
            if (!(turned <= nearDegrees)) {
                rows.add(new Row(Kind.AXES, node, j.name(), "", turned));
            }
        }
        return rows;
    }

    private static String firstIn(List<String> names, Map<String, Joint> where) {
        return names.stream().filter(where::containsKey).findFirst().orElse("");
    }

    /** How far apart the two offsets from the joint above end, in metres; tops are held to where they stand. */
    private static double offset(
            Map<String, Joint> here, Map<String, Joint> there, String above, Joint own, Joint wanted) {
        Vector3d a = new Vector3d(own.place());
        Vector3d b = new Vector3d(wanted.place());
        if (!above.isEmpty()) {
            a.sub(Objects.requireNonNull(here.get(above)).place());
            b.sub(Objects.requireNonNull(there.get(above)).place());
        }
        return a.distance(b);
    }

    private static double degrees(Quaterniond a, Quaterniond b) {
        return Math.toDegrees(2 * Math.acos(Math.min(1, Math.abs(a.dot(b)))));
    }
}
