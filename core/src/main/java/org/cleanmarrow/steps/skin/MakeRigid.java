package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.function.IntFunction;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.geometry.DisjointSets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Makes hard pieces of a mesh, such as buckles, follow one joint each with their whole weight, so that they never bend: what is chosen,
 * of the materials named, piece by piece as it hangs together. Without a joint each piece goes to that which moves it most. Cost: as
 * the vertices of the mesh.
 */
@StepInfo(name = "make-rigid", says = "Makes pieces of a mesh follow one joint each, so that they never bend.")
public record MakeRigid(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "vertices of the pieces", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "of these materials, with * and commas between", fallback = "\"*\"")
        String materials,

        @Parameter(says = "joint to follow; empty: each piece the one that moves it most", fallback = "\"\"")
        String joint)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Names.skinnedMesh(asset, mesh);
        Mesh old = asset.meshes().get(number);
        Skin skin = WeightRows.skin(asset, number);
        int heir = joint.isBlank() ? -1 : Names.joint(asset, skin, joint);
        BitSet which = (BitSet) vertices.on(old).clone();
        which.and(of(asset, old, materials));
        if (which.isEmpty()) {
            throw new Refused("rigid.nothing", mesh, materials);
        }
        WeldedSurface surface = RestSurface.of(asset, number);
        int[] piece = pieces(surface, which);
        Map<Integer, double[]> weights = new HashMap<>();
        IntFunction<Row> rows = WeldedWeights.rows(old);
        which.stream().forEach(v -> {
            double[] sums = weights.computeIfAbsent(piece[surface.weldedOf(v)], k -> new double[skin.joints().length]);
            Row row = rows.apply(v);
            for (int i = 0; i < row.size(); i++) {
                sums[row.joint(i)] += row.weight(i);
            }
        });
        Map<Integer, Integer> follows = new HashMap<>();
        weights.forEach((k, sums) -> follows.put(k, heir >= 0 ? heir : heaviest(sums)));
        long[] changed = {0};
        Mesh done = WeightRows.edit(
                old,
                which,
                (row, v) -> {
                    int to = follows.getOrDefault(piece[surface.weldedOf(v)], -1);
                    if (to < 0 || row.size() == 1 && row.joint(0) == to && row.weight(0) == 1) {
                        return false;
                    }
                    row.clear();
                    row.append(to, 1);
                    return true;
                },
                changed);
        return Change.of(asset.withMesh(number, done))
                .count(
                        "pieces.rigid",
                        follows.values().stream().filter(j -> j >= 0).count())
                .count("vertices.changed", changed[0]);
    }

    /** Whether a mesh has vertices of materials that patterns name. */
    static boolean has(Asset asset, Mesh mesh, String materials) {
        return !of(asset, mesh, materials).isEmpty();
    }

    private static BitSet of(Asset asset, Mesh mesh, String materials) {
        NamePattern pattern = new NamePattern(materials);
        BitSet out = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            String name =
                    p.material() < 0 ? "" : asset.materials().get(p.material()).name();
            if (pattern.fits(name)) {
                out.set(first, first + p.vertexCount());
            }
            first += p.vertexCount();
        }
        return out;
    }

    /** For each place the number of the piece of chosen places that it hangs together with. */
    private static int[] pieces(WeldedSurface surface, BitSet vertices) {
        BitSet chosen = new BitSet();
        vertices.stream().forEach(v -> chosen.set(surface.weldedOf(v)));
        DisjointSets sets = new DisjointSets(surface.size());
        for (int p = chosen.nextSetBit(0); p >= 0; p = chosen.nextSetBit(p + 1)) {
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                if (chosen.get(surface.neighbours()[e])) {
                    sets.join(p, surface.neighbours()[e]);
                }
            }
        }
        return sets.numbered();
    }

    /** -1 where nothing moves it. */
    private static int heaviest(double[] sums) {
        int best = 0;
        for (int j = 1; j < sums.length; j++) {
            best = sums[j] > sums[best] ? j : best;
        }
        return sums[best] > 0 ? best : -1;
    }
}
