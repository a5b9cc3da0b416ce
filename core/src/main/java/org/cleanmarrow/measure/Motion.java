package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.text.Message;

/**
 * How far apart two assets move, measured in the world in metres.
 *
 * @param topology      what differs in it; empty where every drawn vertex has its counterpart
 * @param largestMetres largest distance of any drawn vertex (of any joint where there is no mesh) at any sampled moment;
 *                      infinite where a number is not finite on one side alone
 * @param meanMetres    mean over vertices and moments
 * @param mesh          where the largest was found; empty when nothing moved; a joint where there is no mesh
 * @param vertex        its number in the mesh, or -1
 * @param clip          the clip it was found in; empty: at rest
 * @param seconds       on the clip's time line
 * @param moments       how many poses were compared vertex by vertex
 * @param unmatched     meshes, joints and clips that only one side has
 * @param structure     what else is not the same: names, order, materials, morph targets, attributes
 * @param jointsMetres  largest distance of any joint both sides have, of a point beside it that turns with it, and of any
 *                      attached thing
 * @param joint         which that is; empty when none moved
 * @param jointMoved    the same, to be said
 * @param toleranceMetres what float32 rounding alone can part them by: a millionth of their reach and more for deep chains
 */
public record Motion(
        Optional<Message> topology,
        double largestMetres,
        double meanMetres,
        String mesh,
        int vertex,
        String clip,
        double seconds,
        int moments,
        List<Message> unmatched,
        List<Message> structure,
        double jointsMetres,
        String joint,
        Optional<Message> jointMoved,
        double toleranceMetres) {

    /** Nothing moved and nothing differs. */
    static final Motion NONE =
            new Motion(Optional.empty(), 0, 0, "", -1, "", 0, 1, List.of(), List.of(), 0, "", Optional.empty(), 0);

    public boolean sameTopology() {
        return topology.isEmpty();
    }

    /** True where nothing is lost and nothing moved by more than rounding. */
    public boolean sound() {
        return differences(toleranceMetres).isEmpty();
    }

    /**
     * All that is not the same; empty where both sides are sound copies of each other.
     *
     * @param tolerance distance in metres that still counts as the same
     */
    public List<Message> differences(double tolerance) {
        List<Message> out = new ArrayList<>(unmatched);
        topology.filter(t -> !unmatched.contains(t)).ifPresent(out::add);
        out.addAll(structure);
        if (!(largestMetres <= tolerance)) {
            out.add(moved(vertex < 0 ? "joint" : "vertex", largestMetres));
        } else if (!(jointsMetres <= tolerance)) {
            jointMoved.ifPresent(out::add);
        }
        return List.copyOf(out);
    }

    private Message moved(String kind, double metres) {
        String at = clip.isEmpty() ? "rest" : "clip";
        return Message.of(
                "probe.moved." + kind + "." + at,
                mesh,
                Integer.toString(vertex),
                new Length(metres),
                clip,
                String.format(Locale.ROOT, "%.3f", seconds));
    }
}
