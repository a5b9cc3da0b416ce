package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.VertexOrder;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.reference.MeshOutline;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Puts the vertices of a mesh back into the order of a template that an editor shuffled, split or welded, as {@link VertexOrder} says. The
 * template stands in the ledger, so that the next version of the source is put in order too.
 */
@StepInfo(
        name = "order-vertices",
        says = "Puts vertices and triangles of a mesh back into the order of a template; places and weights stay.")
public record OrderVertices(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "the mesh whose order is wanted, in the unit and axes of the asset")
        MeshOutline like)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, mesh);
        VertexOrder order = VertexOrder.of(like.mesh(), asset, m, work);
        VertexOrder.Reordered done = order.meshes().getFirst();
        if (done.matched() == 0) {
            throw new Refused("order.other", mesh);
        }
        Change change = Change.of(order.asset()).count("vertices.in.order", done.matched());
        if (done.welded() > 0) {
            change = change.count("vertices.that.were.welded", done.welded());
        }
        if (done.over() > 0) {
            change = change.count("vertices.of.no.template", done.over());
        }
        return done.unmatched().length == 0 ? change : change.note("order.unmatched", done.unmatched().length);
    }

    /** Steps that put an asset's meshes in the order of those of a template that are called the same, where it is another. */
    public static List<Step> like(Asset template, Asset asset) throws Refused {
        List<Step> out = new ArrayList<>();
        boolean any = false;
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh own = asset.meshes().get(m);
            MeshOutline like =
                    VertexOrder.like(template, asset, m).map(MeshOutline::of).orElse(null);
            any |= like != null;
            if (like != null && !like.isOrderOf(own)) {
                out.add(new OrderVertices(asset.meshRef(m), like));
            }
        }
        if (!any) {
            throw new Refused("order.no.mesh", template.name());
        }
        return out;
    }
}
