package org.cleanmarrow.steps.intake;

import java.util.BitSet;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.uv.UvLayout;
import org.cleanmarrow.uv.UvRelax;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Evens out texture coordinates inside the borders of their islands ({@link UvRelax}). No vertex moves and no border: seams, and
 * every corner that is not selected, keep their coordinates to the bit. Tangents, which follow the picture, are left away where
 * coordinates they may belong to change, so that whoever draws computes them as glTF says (2.0, 3.7.2.1).
 */
@StepInfo(
        name = "relax-uvs",
        says = "Evens out texture coordinates inside the borders of their islands, which do not move.")
public record RelaxUvs(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(
                says = "vertices that may move in the picture; those on a border of an island stay",
                fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "which set of texture coordinates", fallback = "0", least = 0, most = 15)
        int set)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, mesh);
        Mesh given = asset.meshes().get(m);
        UvLayout layout = UvLayout.of(given, set).orElseThrow(() -> new Refused("uv.none", mesh, set));
        BitSet chosen = vertices.on(given);
        UvRelax relaxed = UvRelax.of(given, layout, chosen, work);
        if (relaxed == null) {
            throw new Refused("uv.no.inside", mesh);
        }
        if (relaxed.moved() == 0) {
            throw new Refused("uv.is.even", mesh);
        }
        boolean tangents = given.primitives().stream().anyMatch(p -> p.tangents() != null);
        Mesh changed = UvLayout.with(given, set, relaxed.uv());
        if (tangents) {
            changed = changed.withPrimitives(changed.primitives().stream()
                    .map(p -> p.withShape(p.positions(), p.normals(), null, p.targets()))
                    .toList());
        }
        return Change.of(asset.withMesh(m, changed))
                .count("uv.points.moved", relaxed.moved())
                .count("uv.points.held", relaxed.held())
                .count("tangents.left.away", tangents ? 1 : 0)
                .note("uv.relaxed", relaxed.before(), relaxed.after());
    }
}
