package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Gives chosen triangles a material of their own, a copy of the one they had, so that it can be changed by itself. */
@StepInfo(name = "own-material", says = "Gives selected triangles, or every island of a mesh, a material of their own.")
public record OwnMaterial(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "vertices whose triangles are meant; triangles of which all corners are selected")
        VertexSet vertices,

        @Parameter(says = "name of the new material") String name,

        @Parameter(says = "true to give each island of the selection one, numbered", fallback = "false")
        boolean eachShell)
        implements Step {
    private static final int MOST_ISLANDS = 256;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, mesh);
        Mesh given = asset.meshes().get(m);
        BitSet chosen = vertices.on(given);
        List<BitSet> sets = eachShell ? shells(given, chosen) : List.of(chosen);
        if (sets.size() > MOST_ISLANDS) {
            throw new Refused("material.islands", sets.size(), MOST_ISLANDS);
        }
        Asset out = asset;
        long moved = 0;
        for (int s = 0; s < sets.size(); s++) {
            String own = sets.size() == 1 ? name : name + "_" + (s + 1);
            if (own.isBlank() || out.materials().stream().anyMatch(x -> x.name().equals(own))) {
                throw new Refused("name.taken", own);
            }
            // Vertices are split off and numbered anew each time, so the rest are found by where they were.
            BitSet set = s == 0
                    ? sets.get(s)
                    : VertexSet.chosen(given, sets.get(s)).on(out.meshes().get(m));
            moved += split(out, m, set);
            out = with(out, m, set, own);
        }
        if (moved == 0) {
            throw new Refused("material.none", mesh);
        }
        return Change.of(out).count("triangles.painted", moved).count("materials.made", sets.size());
    }

    private static List<BitSet> shells(Mesh mesh, BitSet chosen) {
        MeshTopology topology = MeshTopology.of(mesh);
        List<BitSet> out = new ArrayList<>();
        BitSet left = (BitSet) chosen.clone();
        for (int v = left.nextSetBit(0); v >= 0; v = left.nextSetBit(v + 1)) {
            int shell = topology.islandOf(v);
            BitSet own = new BitSet();
            for (int w = left.nextSetBit(v); w >= 0; w = left.nextSetBit(w + 1)) {
                if (topology.islandOf(w) == shell) {
                    own.set(w);
                }
            }
            left.andNot(own);
            out.add(own);
        }
        return out;
    }

    private static long split(Asset asset, int m, BitSet chosen) {
        long many = 0;
        int first = 0;
        for (Primitive p : asset.meshes().get(m).primitives()) {
            many += corners(p, first, chosen, true).length / 3;
            first += p.vertexCount();
        }
        return many;
    }

    private static int[] corners(Primitive p, int first, BitSet chosen, boolean inside) {
        int[] all = p.triangleCorners();
        return IntStream.range(0, all.length / 3)
                .filter(t -> inside
                        == (chosen.get(first + all[3 * t])
                                && chosen.get(first + all[3 * t + 1])
                                && chosen.get(first + all[3 * t + 2])))
                .flatMap(t -> IntStream.of(all[3 * t], all[3 * t + 1], all[3 * t + 2]))
                .toArray();
    }

    private static Asset with(Asset asset, int m, BitSet chosen, String name) {
        List<Primitive> primitives = new ArrayList<>();
        List<VertexMap.Piece> pieces = new ArrayList<>();
        List<Material> materials = new ArrayList<>(asset.materials());
        int made = -1;
        int first = 0;
        for (Primitive p : asset.meshes().get(m).primitives()) {
            int[] inside = corners(p, first, chosen, true);
            int[] outside = corners(p, first, chosen, false);
            int start = first;
            first += p.vertexCount();
            if (inside.length == 0) {
                primitives.add(p);
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), null));
                continue;
            }
            if (made < 0) {
                made = materials.size();
                materials.add(
                        p.material() < 0
                                ? new Material(name, new float[] {1, 1, 1, 1}, -1, false, Passthrough.NONE)
                                : asset.materials().get(p.material()).withName(name));
            }
            if (outside.length == 0) {
                primitives.add(p.withMaterial(made));
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), null));
            } else {
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), Subset.used(outside)));
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), Subset.used(inside)));
                primitives.add(Subset.ofTriangles(p, outside));
                primitives.add(Subset.ofTriangles(p, inside).withMaterial(made));
            }
        }
        return asset.withMesh(m, asset.meshes().get(m).withPrimitives(primitives), VertexMap.of(pieces))
                .withMaterials(materials);
    }
}
