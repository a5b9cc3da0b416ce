package org.cleanmarrow.checks.scale;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.text.Message;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Nodes that hold a rotation or scale of their own. Joints may be turned, but not scaled. */
public final class NodeTransforms implements Check {
    private static final double TURN_DEGREES = 0.01;
    private static final double SCALE = 1e-4;

    @Override
    public String id() {
        return "node-transform";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        boolean[] joint = asset.jointFlags();
        String[] refs = asset.nodeRefs();
        boolean[] above = aboveJoints(asset, joint);
        List<Finding> out = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.camera() >= 0 || node.carried().hasExtensions()) {
                continue;
            }
            Matrix4d local = node.local().toMatrix();
            Vector3d scale = local.getScale(new Vector3d());
            double degrees = joint[n] ? 0 : degrees(local);
            boolean scaled = isScaled(local);
            if (degrees <= TURN_DEGREES && !scaled || !local.isFinite()) {
                continue;
            }
            String variant = scaled ? degrees > TURN_DEGREES ? "both" : "scale" : "turn";
            Finding finding = Finding.of(
                            this,
                            above[n] ? Severity.BLOCKER : Severity.CAUTION,
                            variant,
                            refs[n],
                            1,
                            refs[n],
                            String.format(Locale.ROOT, "%.1f", degrees),
                            say(scale, local.determinant3x3() < 0))
                    .at(Finding.Place.node(n));
            out.add(mended(examination, finding, n, joint[n]));
        }
        return out;
    }

    /** With the fix where it leaves nothing of the finding; otherwise with the reason why there is none. */
    private static Finding mended(Examination examination, Finding finding, int n, boolean joint) {
        Optional<List<Node>> frozen = examination.frozen();
        if (frozen.isEmpty()) {
            return finding.saying(Message.of(
                    "check.node-transform.refused",
                    finding.message(),
                    examination.frozenRefusal().orElseThrow()));
        }
        Matrix4d after = frozen.get().get(n).local().toMatrix();
        boolean left = isScaled(after) || !joint && degrees(after) > TURN_DEGREES;
        return left
                ? finding.saying(Message.of("check.node-transform.kept", finding.message()))
                : finding.fixedBy(new FreezeNodes());
    }

    private static double degrees(Matrix4d local) {
        Quaterniond turn = local.getUnnormalizedRotation(new Quaterniond());
        return Math.toDegrees(2 * Math.asin(Math.min(1, new Vector3d(turn.x, turn.y, turn.z).length())));
    }

    private static boolean isScaled(Matrix4d local) {
        Vector3d scale = local.getScale(new Vector3d());
        return Math.abs(scale.x - 1) > SCALE
                || Math.abs(scale.y - 1) > SCALE
                || Math.abs(scale.z - 1) > SCALE
                || local.determinant3x3() < 0;
    }

    /** Joints, and nodes with a joint somewhere below them. */
    private static boolean[] aboveJoints(Asset asset, boolean[] joint) {
        boolean[] above = joint.clone();
        int[] order = asset.topDown();
        int[] parents = asset.parents();
        for (int i = order.length - 1; i >= 0; i--) {
            if (above[order[i]] && parents[order[i]] >= 0) {
                above[parents[order[i]]] = true;
            }
        }
        return above;
    }

    private static String say(Vector3d s, boolean mirrored) {
        boolean even = Math.abs(s.x - s.y) < SCALE * s.x && Math.abs(s.x - s.z) < SCALE * s.x;
        String text = even
                ? String.format(Locale.ROOT, "%.4g", s.x)
                : String.format(Locale.ROOT, "%.4g x %.4g x %.4g", s.x, s.y, s.z);
        return (mirrored ? "-" : "") + text.replaceAll("(\\.\\d*?)0+\\b", "$1").replaceAll("\\.(?=\\D|$)", "");
    }
}
