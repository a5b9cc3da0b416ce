package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Removes every joint that moves no vertex, and every bare node between joints, such as a control. Joints that stay hang on the nearest one above that stays, with their motion
 * baked so that nothing moves. What carries something, has a role, or is the top stays; so does a joint without which one
 * below it would have to shear.
 */
@StepInfo(
        name = "trim-idle",
        says =
                "Removes every joint and every bare node between joints that moves nothing; the rest hangs on the nearest that stays, moving as before.")
public record TrimIdle(
        @Parameter(says = "names of joints to keep all the same, with * for any run of characters", fallback = "\"\"")
        String keep)
        implements Step {
    private static final double SHEAR = 1e-4;
    private static final int MOST_MOMENTS = 50;

    /** Why a joint goes or stays. */
    public enum Why {
        IDLE,
        BEARS,
        CARRIES,
        ROLE,
        TOP,
        KEPT,
        SHEARS
    }

    /**
     * What would become of a joint.
     *
     * @param shear where it stays because of it, how much would be lost; otherwise 0
     */
    public record Row(int node, boolean goes, Why why, double shear) {}

    /** What would become of every joint and every node between joints, in node order. */
    public List<Row> plan(Asset asset) {
        boolean[] joint = withControls(asset);
        BitSet bearing = Skeletons.bearing(asset);
        List<Integer> tops = Skeletons.tops(asset);
        NamePattern kept = new NamePattern(keep);
        Why[] why = new Why[joint.length];
        double[] shear = new double[joint.length];
        for (int n = 0; n < joint.length; n++) {
            Node node = asset.nodes().get(n);
            if (!joint[n]) {
                continue;
            }
            boolean carries = node.mesh() >= 0
                    || node.camera() >= 0
                    || node.carried().hasExtensions()
                    || holdsOther(asset, joint, n);
            why[n] = bearing.get(n)
                    ? Why.BEARS
                    : tops.contains(n)
                            ? Why.TOP
                            : !Roles.of(node).isEmpty()
                                    ? Why.ROLE
                                    : carries ? Why.CARRIES : kept.fits(node.name()) ? Why.KEPT : Why.IDLE;
        }
        keepWhatShears(asset, why, shear);
        List<Row> out = new ArrayList<>();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                out.add(new Row(n, why[n] == Why.IDLE, why[n], shear[n]));
            }
        }
        return out;
    }

    /** Joints, and nodes that have a joint both above and below. */
    private static boolean[] withControls(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        int[] order = asset.topDown();
        boolean[] above = new boolean[joint.length];
        for (int n : order) {
            above[n] = parents[n] >= 0 && (joint[parents[n]] || above[parents[n]]);
        }
        boolean[] below = joint.clone();
        for (int i = order.length - 1; i >= 0; i--) {
            int up = parents[order[i]];
            if (up >= 0) {
                below[up] |= below[order[i]];
            }
        }
        for (int n = 0; n < joint.length; n++) {
            joint[n] |= above[n] && below[n];
        }
        return joint;
    }

    /** Something that is neither joint nor control hangs right on it: an attachment. */
    private static boolean holdsOther(Asset asset, boolean[] joint, int n) {
        for (int child : asset.nodes().get(n).children()) {
            if (!joint[child]) {
                return true;
            }
        }
        return false;
    }

    private static void keepWhatShears(Asset asset, Why[] why, double[] shear) {
        int[] parents = asset.parents();
        Matrix4d[] rest = new Rig(asset).rest().world();
        List<NodeMotion> motions =
                asset.clips().stream().map(c -> new NodeMotion(asset, c)).toList();
        BitSet scaled = new BitSet();
        asset.clips().stream()
                .flatMap(c -> c.channels().stream())
                .filter(c -> c.node() >= 0 && c.path() == Channel.Path.SCALE)
                .forEach(c -> scaled.set(c.node()));
        for (int n : asset.topDown()) {
            int up = parents[n];
            boolean stays = why[n] != null && why[n] != Why.IDLE;
            if (!stays || up < 0 || why[up] != Why.IDLE) {
                continue;
            }
            int anchor = up;
            while (anchor >= 0 && why[anchor] == Why.IDLE) {
                anchor = parents[anchor];
            }
            if (isEven(asset, scaled, n, anchor, parents)) {
                continue;
            }
            double most = anchor < 0
                    ? 0
                    : Baker.shear(new Matrix4d(rest[anchor]).invert().mul(rest[n]));
            for (int c = 0; c < motions.size(); c++) {
                most = Math.max(most, shear(asset.clips().get(c), motions.get(c), n, anchor, parents));
            }
            if (most > SHEAR) {
                why[up] = Why.SHEARS;
                shear[up] = most;
            }
        }
    }

    /** Where every scale on the way is even there is no shear to be looked for. */
    private static boolean isEven(Asset asset, BitSet scaled, int n, int anchor, int[] parents) {
        for (int up = n; up >= 0 && up != anchor; up = parents[up]) {
            var local = asset.nodes().get(up).local();
            float[] s = local.scale();
            boolean even = Math.abs(s[0] - s[1]) < 1e-6 && Math.abs(s[0] - s[2]) < 1e-6;
            if (scaled.get(up) || local.matrix() != null || !even) {
                return false;
            }
        }
        return true;
    }

    private static double shear(Clip clip, NodeMotion motion, int n, int anchor, int[] parents) {
        double most = 0;
        for (int i = 0; i <= MOST_MOMENTS && !clip.channels().isEmpty(); i++) {
            double t = clip.start() + clip.seconds() * i / MOST_MOMENTS;
            Matrix4d m = new Matrix4d();
            for (int up = n; up >= 0 && up != anchor; up = parents[up]) {
                m.mulLocal(motion.local(up, t));
            }
            most = Math.max(most, Baker.shear(m));
        }
        return most;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<Row> plan = plan(asset);
        BitSet gone = new BitSet();
        plan.stream().filter(Row::goes).forEach(r -> gone.set(r.node));
        int[] parents = asset.parents();
        ReparentKeepingWorld rehang = new ReparentKeepingWorld(asset);
        long hung = 0;
        for (int n = 0; n < parents.length; n++) {
            int up = parents[n];
            if (gone.get(n) || up < 0 || !gone.get(up)) {
                continue;
            }
            while (up >= 0 && gone.get(up)) {
                up = parents[up];
            }
            rehang.hang(n, up);
            hung++;
        }
        if (gone.isEmpty()) {
            return Change.of(asset).count("joints.removed", 0);
        }
        Asset out = rehang.done(work).without(gone);
        out = out.withClips(
                out.clips().stream().filter(c -> !c.channels().isEmpty()).toList());
        Change change =
                Change.of(out).count("joints.removed", gone.cardinality()).count("joints.hung.elsewhere", hung);
        long sheared = plan.stream().filter(r -> r.why == Why.SHEARS).count();
        return sheared == 0 ? change : change.note("trim.shear", sheared);
    }
}
