package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.weights.Sides;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** One stroke of a brush over the weights of a mesh. Sums stay one, locked joints keep theirs bit for bit. */
@StepInfo(name = "paint-weights", says = "One stroke of a brush over the weights of a mesh.")
public record PaintWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "name of the joint; of no matter to smooth and sharpen")
        String joint,

        @Parameter(says = "what the brush does") Stroke.Mode mode,

        @Parameter(says = "what it left on each vertex, 0 to 1")
        VertexAmounts amounts,

        @Parameter(says = "weight that set goes towards", fallback = "1.0", least = 0, most = 1)
        double goal,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked,

        @Parameter(says = "true to do the same on the other side, to the joint of that side", fallback = "false")
        boolean mirrored)
        implements Step {
    /** How far a mirror image may be off the surface, as a share of the asset's size. */
    private static final double MIRROR_TOLERANCE = 2e-3;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(goal >= 0 && goal <= 1)) {
            throw new Refused("weight.range", goal);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, VertexSet.ALL, locked);
        boolean ofJoint = mode == Stroke.Mode.ADD || mode == Stroke.Mode.TAKE || mode == Stroke.Mode.SET;
        int own = ofJoint ? choice.freeJoint(joint) : -1;
        float[] left = amounts.on(choice.mesh);
        Brushed one = new Brushed(choice, own, left);
        if (!mirrored) {
            return choice.edited(one.touched, one.stroke()::touch);
        }
        Sides sides = Sides.of(asset, choice.number);
        Asset once = choice.edited(one.touched, one.stroke()::touch).asset();
        MeshChoice other = new MeshChoice(once, mesh, VertexSet.ALL, locked);
        Brushed two = new Brushed(other, own < 0 ? -1 : sides.twinOf(own), mirrored(sides, asset, left));
        if (own >= 0 && choice.locked.get(sides.twinOf(own))) {
            throw new Refused(
                    "weight.locked",
                    asset.nodes().get(choice.skin.joints()[sides.twinOf(own)]).name());
        }
        return other.edited(two.touched, two.stroke()::touch).after(choice.edited(one.touched, one.stroke()::touch));
    }

    /** The amounts as a mirror shows them. */
    private static float[] mirrored(Sides sides, Asset asset, float[] amounts) {
        double near = MIRROR_TOLERANCE * RestBox.of(asset).diagonal();
        Sides.Image[] images = sides.images(near);
        float[] byWelded = new float[sides.surface().size()];
        for (int v = 0; v < amounts.length; v++) {
            int p = sides.surface().weldedOf(v);
            byWelded[p] = Math.max(byWelded[p], amounts[v]);
        }
        float[] out = new float[amounts.length];
        for (int v = 0; v < out.length; v++) {
            int place = sides.surface().weldedOf(v);
            Sides.Image image = images[place];
            // On the middle line the stroke itself has been.
            if (image == null || sides.sideOf(place, near) == 0) {
                continue;
            }
            for (int i = 0; i < 3; i++) {
                out[v] += (float) (image.shares()[i] * byWelded[image.corners()[i]]);
            }
        }
        return out;
    }

    /** A stroke on a mesh. */
    private final class Brushed {
        final MeshChoice choice;
        final int joint;
        final float[] left;
        final BitSet touched = new BitSet();

        Brushed(MeshChoice choice, int joint, float[] left) {
            this.choice = choice;
            this.joint = joint;
            this.left = left;
            for (int v = 0; v < left.length; v++) {
                touched.set(v, left[v] > 0);
            }
        }

        Stroke stroke() {
            return new Stroke(mode, choice.surface(), choice::places, joint, goal, choice.locked, left);
        }
    }

    /** The mesh as a stroke leaves it, for showing it while it is drawn. */
    public static Mesh live(Mesh mesh, Stroke stroke, BitSet touched) {
        return WeightRows.edit(mesh, touched, stroke::touch, new long[1]);
    }

    /** Positions in a skin of the joints that patterns name. */
    public static BitSet locked(Asset asset, org.cleanmarrow.model.Skin skin, String patterns) {
        return WeightRows.locked(asset, skin, patterns);
    }
}
