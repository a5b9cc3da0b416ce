package org.cleanmarrow.steps.scale;

import java.util.Optional;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NodeEdits;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Turns the whole asset about the world's origin, or one part about its own pivot, and folds the turn into the data:
 * no node is left holding it. Axes are those of the asset's own conventions; a positive angle turns by the hand that the
 * coordinate system has.
 */
@StepInfo(name = "turn-and-fold", says = "Turns everything, or one part about its pivot, and freezes the turn.")
public record TurnAndFold(
        @Parameter(says = "axis of the world to turn about") About about,
        @Parameter(says = "angle", unit = "degrees") double degrees,

        @Parameter(says = "node of the part; null for everything", fallback = "null")
        Optional<String> part)
        implements Step {
    /** The axis. */
    public enum About {
        X,
        Y,
        Z;

        Vector3d axis() {
            return new Vector3d(this == X ? 1 : 0, this == Y ? 1 : 0, this == Z ? 1 : 0);
        }
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(Math.abs(degrees) <= 36_000)) {
            throw new Refused("turn.angle", degrees);
        }
        Quaterniond turn = new Quaterniond().fromAxisAngleRad(about.axis(), Math.toRadians(degrees));
        return part.isPresent() ? onePart(asset, Names.node(asset, part.get()), turn) : everything(asset, turn, work);
    }

    private static Change everything(Asset asset, Quaterniond turn, Work work) throws Refused {
        NodeEdits edits = new NodeEdits(asset);
        int[] parents = asset.parents();
        NodeMap map = new NodeMap(new Matrix3d().set(turn), new Vector3d(), turn, new Quaterniond(), new Matrix3d());
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                edits.map(n, map);
            }
        }
        Change folded = new FreezeNodes().apply(edits.done(), work);
        return folded.count(
                "parts.turned",
                asset.nodes().stream().filter(n -> n.mesh() >= 0).count());
    }

    /** The node keeps its numbers; what stands at it and below it turns within it. */
    private static Change onePart(Asset asset, int n, Quaterniond turn) throws Refused {
        Node node = asset.nodes().get(n);
        if (node.skin() >= 0) {
            throw new Refused("part.skinned", asset.nodeRef(n));
        }
        if (node.camera() >= 0) {
            throw new Refused("part.camera", asset.nodeRef(n));
        }
        Matrix3d own = new Matrix3d(new Rig(asset).rest().world()[n]);
        Matrix3d within =
                own.invert(new Matrix3d()).mul(new Matrix3d().set(turn)).mul(own);
        if (!within.isFinite()) {
            throw new Refused("freeze.flat", asset.nodeRef(n));
        }
        boolean even =
                new Matrix3d(within).mul(within.transpose(new Matrix3d())).equals(new Matrix3d(), 1e-5);
        if (!even && node.children().length > 0) {
            throw new Refused("turn.uneven", asset.nodeRef(n));
        }
        NodeEdits edits = new NodeEdits(asset);
        Quaterniond left = even ? NodeMap.properPart(within) : new Quaterniond();
        for (int child : node.children()) {
            edits.map(child, new NodeMap(within, new Vector3d(), left, new Quaterniond(), new Matrix3d()));
        }
        edits.shape(n, new Matrix4d().set3x3(within));
        return Change.of(edits.done()).count("parts.turned", 1);
    }
}
