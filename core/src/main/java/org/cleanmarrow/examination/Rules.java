package org.cleanmarrow.examination;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a receiving side asks for beyond conventions and budgets.
 *
 * @param names      how things of a kind are called
 * @param joints     joints that a skeleton has
 * @param materials  pattern of the materials' names; empty where any will do
 * @param extensions glTF extensions that may be used; empty where any may
 * @param rates      frames per second that clips may have; none where any will do
 * @param gravity    by a check's id, how grave its findings are; empty for a check that is not run
 */
public record Rules(
        List<Names> names,
        List<Joint> joints,
        Optional<String> materials,
        Optional<List<String>> extensions,
        List<Double> rates,
        Map<String, Optional<Severity>> gravity) {

    public static final Rules NONE =
            new Rules(List.of(), List.of(), Optional.empty(), Optional.empty(), List.of(), Map.of());

    public Rules {
        names = List.copyOf(names);
        joints = List.copyOf(joints);
        extensions = extensions.map(List::copyOf);
        rates = List.copyOf(rates);
        gravity = Map.copyOf(gravity);
    }

    /** Kinds of things whose names a rule can be for. */
    public enum Kind {
        NODE,
        JOINT,
        MESH,
        MATERIAL,
        CLIP
    }

    /** @param pattern as {@link org.cleanmarrow.naming.NamePattern} reads it */
    public record Names(Kind of, String pattern) {}

    /** @param parent name of the joint that it hangs on; empty where any will do */
    public record Joint(String name, String parent) {}
}
