package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexAmounts;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.weights.Stroke;

/** One stroke of a brush over the weights of a mesh. Sums stay one, locked joints keep theirs bit for bit. */
@StepInfo(name = "paint-weights", says = "One stroke of a brush over the weights of a mesh.")
public record PaintWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "name of the joint; of no matter to smooth and sharpen")
        String joint,

        @Parameter(says = "what the brush does") Stroke.Mode mode,

        @Parameter(says = "what it left on each vertex, 0 to 1")
        VertexAmounts amounts,

        @Parameter(says = "weight that set goes towards, 0 to 1", fallback = "1.0")
        double goal,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(goal >= 0 && goal <= 1)) {
            throw new Refused("weight.range", goal);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, VertexSet.ALL, locked);
        boolean ofJoint = mode == Stroke.Mode.ADD || mode == Stroke.Mode.TAKE || mode == Stroke.Mode.SET;
        int own = ofJoint ? choice.freeJoint(joint) : -1;
        return choice.edited(
                amounts.vertices().on(choice.mesh),
                new Stroke(mode, choice.mesh, choice.surface(), own, goal, choice.locked, amounts.on(choice.mesh))
                        ::touch);
    }

    /** The mesh as the stroke leaves it, for showing a stroke while it is drawn. */
    public static Mesh live(Mesh mesh, Stroke stroke, java.util.BitSet touched) {
        return WeightRows.edit(mesh, touched, stroke::touch, new long[1]);
    }

    /** The surface that strokes on a mesh run along. */
    public static org.cleanmarrow.geometry.WeldedSurface surface(Mesh mesh) {
        return MeshTopology.of(mesh).welded(mesh);
    }
}
