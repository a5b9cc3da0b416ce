package org.cleanmarrow.query;

import java.util.BitSet;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Vector3d;

/** Ways to choose vertices of a mesh other than by pointing; what hangs together is in {@link MeshTopology}. */
public final class VertexChoice {
    private VertexChoice() {}

    /** All vertices of a mesh. */
    public static BitSet all(Mesh mesh) {
        BitSet out = new BitSet();
        out.set(0, mesh.vertexCount());
        return out;
    }

    /** The vertices that are not chosen. */
    public static BitSet inverted(Mesh mesh, BitSet chosen) {
        BitSet out = all(mesh);
        out.andNot(chosen);
        return out;
    }

    /** All vertices of primitives that have the material of one of the chosen vertices. */
    public static BitSet sameMaterial(Mesh mesh, BitSet chosen) {
        BitSet materials = new BitSet();
        eachPrimitive(mesh, (p, first) -> {
            int next = chosen.nextSetBit(first);
            if (next >= 0 && next < first + p.vertexCount()) {
                materials.set(p.material() + 1);
            }
        });
        BitSet out = new BitSet();
        eachPrimitive(mesh, (p, first) -> {
            if (materials.get(p.material() + 1)) {
                out.set(first, first + p.vertexCount());
            }
        });
        return out;
    }

    /**
     * Vertices that a joint moves by more than a weight.
     *
     * @param joint position in the skin's list
     * @param over  0 to under 1
     */
    public static BitSet moved(Mesh mesh, int joint, double over) {
        BitSet out = new BitSet();
        eachPrimitive(mesh, (p, first) -> {
            Influences rows = p.influences();
            for (int v = 0; rows != null && v < p.vertexCount(); v++) {
                if (rows.weight(v, joint) > over) {
                    out.set(first + v);
                }
            }
        });
        return out;
    }

    /** What a mirrored choice found. */
    public record Mirrored(BitSet vertices, int unmatched) {}

    /**
     * The vertices that lie, at rest, where the chosen ones are mirrored at the asset's middle plane: through the
     * world's origin, at right angles to its left side.
     *
     * @param tolerance in the asset's unit; a vertex with none so near its mirror image is counted as unmatched
     */
    public static Mirrored mirrored(Asset asset, int mesh, BitSet chosen, double tolerance) {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == mesh)
                .findFirst()
                .orElseThrow();
        float[] p = deformer.positions(place, new Rig(asset).rest());
        Vector3d left = asset.conventions().left();
        PointTree grid = new PointTree(p);
        BitSet out = new BitSet();
        int unmatched = 0;
        for (int v = chosen.nextSetBit(0); v >= 0; v = chosen.nextSetBit(v + 1)) {
            Vector3d at = new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
            at.fma(-2 * at.dot(left), left);
            int found = grid.nearest((float) at.x, (float) at.y, (float) at.z);
            if (found >= 0 && at.distance(p[found * 3], p[found * 3 + 1], p[found * 3 + 2]) <= tolerance) {
                out.set(found);
            } else {
                unmatched++;
            }
        }
        return new Mirrored(MeshTopology.of(asset.meshes().get(mesh)).sameWelded(out), unmatched);
    }

    private interface Each {
        void take(Primitive primitive, int firstVertex);
    }

    private static void eachPrimitive(Mesh mesh, Each each) {
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            each.take(p, first);
            first += p.vertexCount();
        }
    }
}
