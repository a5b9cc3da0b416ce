package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/** Gives vertices of a part to a region of the body by hand, with all that lie at their places. Nothing moves. */
@StepInfo(name = "set-region", says = "Gives vertices of a part to a region of the body.")
public record SetRegion(
        @Parameter(says = "name of the mesh") String part,

        @Parameter(says = "vertices that are given to it", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "such as torso or left-foot") String region)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, part);
        BodyRegion to =
                BodyRegion.of(region).orElseThrow(() -> new Refused("region.unknown", region, BodyRegion.codes()));
        Mesh mesh = asset.meshes().get(m);
        BitSet chosen = MeshTopology.of(mesh).sameWelded(vertices.on(mesh));
        @Nullable BodyRegion[] marks = RegionMarks.of(mesh);
        long changed = chosen.stream().filter(v -> marks[v] != to).count();
        chosen.stream().forEach(v -> marks[v] = to);
        return Change.of(changed == 0 ? asset : asset.withMesh(m, RegionMarks.with(mesh, marks)))
                .count("vertices.changed", changed);
    }
}
