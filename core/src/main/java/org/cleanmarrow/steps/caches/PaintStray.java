package org.cleanmarrow.steps.caches;

import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.Work;

/** One stroke of a brush over how far vertices of a cloth may stray, see {@link SetStray}: each goes its amount of the way. */
@StepInfo(name = "paint-stray", says = "One stroke of a brush over how far vertices of a cloth may stray.")
public record PaintStray(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "what the stroke goes towards: 0 pinned, 1 free", least = 0, most = 1)
        double stray,

        @Parameter(says = "what it left on each vertex, 0 to 1")
        VertexAmounts amounts)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(stray >= 0 && stray <= 1)) {
            throw new Refused("cloth.stray", stray);
        }
        int m = Names.mesh(asset, mesh);
        Mesh was = asset.meshes().get(m);
        Mesh now = painted(was, amounts.on(was), stray);
        float[] before = Strays.of(was);
        float[] after = Strays.of(now);
        int changed = 0;
        for (int v = 0; v < after.length; v++) {
            changed += after[v] == before[v] ? 0 : 1;
        }
        return Change.of(asset.withMesh(m, now)).count("vertices.changed", changed);
    }

    /** The mesh as a stroke leaves it. @param amounts one a vertex, 0 to 1 */
    public static Mesh painted(Mesh mesh, float[] amounts, double stray) {
        float[] strays = Strays.of(mesh);
        for (int v = 0; v < strays.length; v++) {
            strays[v] = (float) Math.clamp(strays[v] + (stray - strays[v]) * amounts[v], 0, 1);
        }
        return Strays.with(mesh, strays);
    }
}
