package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.text.Messages;

/**
 * How far apart two assets move, measured in the world in metres.
 *
 * @param topology      {@code same} where every drawn vertex has its counterpart; otherwise what differs, in words
 * @param largestMetres largest distance of any drawn vertex (of any joint where there is no mesh) at any sampled moment;
 *                      infinite where a number is not finite on one side alone
 * @param meanMetres    mean over vertices and moments
 * @param mesh          where the largest was found; empty when nothing moved; a joint where there is no mesh
 * @param vertex        its number in the mesh, or -1
 * @param clip          the clip it was found in; empty: at rest
 * @param seconds       on the clip's time line
 * @param moments       how many poses were compared vertex by vertex
 * @param unmatched     meshes, joints and clips that only one side has, one sentence each
 * @param structure     what else is not the same: names, order, materials, morph targets, attributes; one sentence each
 * @param jointsMetres  largest distance of any joint both sides have, and of a point beside it that turns with it
 * @param joint         which joint that is; empty when none moved
 * @param toleranceMetres what float32 rounding alone can part them by: a millionth of their reach and more for deep chains
 */
public record Motion(
        String topology,
        double largestMetres,
        double meanMetres,
        String mesh,
        int vertex,
        String clip,
        double seconds,
        int moments,
        List<String> unmatched,
        List<String> structure,
        double jointsMetres,
        String joint,
        double toleranceMetres) {

    /** Nothing moved and nothing differs. */
    static final Motion NONE = new Motion("same", 0, 0, "", -1, "", 0, 1, List.of(), List.of(), 0, "", 0);

    public boolean sameTopology() {
        return topology.equals("same");
    }

    /** True where nothing is lost and nothing moved by more than rounding. */
    public boolean sound() {
        return differences(toleranceMetres).isEmpty();
    }

    /**
     * All that is not the same, one sentence each; empty where both sides are sound copies of each other.
     *
     * @param tolerance distance in metres that still counts as the same
     */
    public List<String> differences(double tolerance) {
        List<String> out = new ArrayList<>(unmatched);
        if (!sameTopology() && !unmatched.contains(topology)) {
            out.add(topology);
        }
        out.addAll(structure);
        if (!(largestMetres <= tolerance)) {
            out.add(moved(vertex < 0 ? "joint" : "vertex", largestMetres));
        } else if (!(jointsMetres <= tolerance)) {
            out.add(Messages.of("probe.moved.joint.any", joint, say(jointsMetres)));
        }
        return List.copyOf(out);
    }

    private String moved(String kind, double metres) {
        String at = clip.isEmpty() ? "rest" : "clip";
        return Messages.of(
                "probe.moved." + kind + "." + at,
                mesh,
                Integer.toString(vertex),
                say(metres),
                clip,
                String.format(Locale.ROOT, "%.3f", seconds));
    }

    private static String say(double metres) {
        return Double.isInfinite(metres)
                ? Messages.of("probe.infinite")
                : String.format(Locale.ROOT, "%.4g mm", metres * 1000);
    }
}
