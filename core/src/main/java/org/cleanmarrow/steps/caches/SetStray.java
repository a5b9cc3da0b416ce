package org.cleanmarrow.steps.caches;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Says how far vertices of a cloth may go from where their skin has them: 0 pinned, 1 free, between them that share of the cloth's
 * reach. Kept by vertex in the attribute {@code _STRAY}. With rings it rises, or falls, evenly from the chosen vertices to what
 * the vertices that many edges away have.
 */
@StepInfo(name = "set-stray", says = "Pins vertices of a cloth, lets them free, or says how far they may stray.")
public record SetStray(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "0 pinned, 1 free, between them that share of the reach", least = 0, most = 1)
        double stray,

        @Parameter(
                says = "edges over which it passes into what lies around",
                fallback = "0",
                unit = "edges",
                least = 0,
                most = 1000)
        int rings)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(stray >= 0 && stray <= 1) || rings < 0 || rings > 1000) {
            throw new Refused("cloth.stray", stray);
        }
        int m = Names.mesh(asset, mesh);
        Mesh was = asset.meshes().get(m);
        BitSet chosen = vertices.on(was);
        if (chosen.isEmpty()) {
            throw new Refused("cloth.no.vertices", mesh);
        }
        WeldedSurface surface = MeshTopology.of(was).welded(was);
        float[] strays = Strays.of(was);
        int[] away = rings(surface, chosen, rings);
        int changed = 0;
        for (int v = 0; v < strays.length; v++) {
            int ring = away[surface.weldedOf(v)];
            if (ring > rings) {
                continue;
            }
            float now = ring == 0 ? (float) stray : (float) (stray + (strays[v] - stray) * ring / (rings + 1.0));
            changed += now == strays[v] ? 0 : 1;
            strays[v] = now;
        }
        return Change.of(asset.withMesh(m, Strays.with(was, strays))).count("vertices.changed", changed);
    }

    /** How many edges every place is away, up to so many. */
    private static int[] rings(WeldedSurface surface, BitSet chosen, int most) {
        int[] away = new int[surface.size()];
        Arrays.fill(away, Integer.MAX_VALUE);
        BitSet rim = new BitSet();
        chosen.stream().forEach(v -> rim.set(surface.weldedOf(v)));
        for (int ring = 0; ring <= most && !rim.isEmpty(); ring++) {
            int[] here = rim.stream().toArray();
            rim.clear();
            for (int p : here) {
                away[p] = ring;
            }
            for (int p : here) {
                for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                    rim.set(surface.neighbours()[e], away[surface.neighbours()[e]] == Integer.MAX_VALUE);
                }
            }
        }
        return away;
    }
}
