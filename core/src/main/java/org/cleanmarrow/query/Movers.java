package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;

/** Which joints move some vertices, and by how much of them. */
public final class Movers {
    private Movers() {}

    /**
     * A joint that moves them.
     *
     * @param node its node
     * @param mean its weight on average over the vertices, 0 to 1
     */
    public record Mover(int node, double mean) {}

    /** Positions in its skin of the joints that move any vertex of a mesh. */
    public static BitSet positions(Mesh mesh) {
        BitSet used = new BitSet();
        for (Primitive p : mesh.primitives()) {
            if (p.influences() != null) {
                for (int joint : p.influences().joints()) {
                    used.set(joint);
                }
            }
        }
        return used;
    }

    /**
     * Joints that move vertices of a mesh, the heaviest first; none where the mesh has no skin. Linear in the influences of
     * the vertices.
     *
     * @param vertices numbers in the mesh; those beyond it are passed over
     */
    public static List<Mover> of(Asset asset, int mesh, BitSet vertices) {
        int skin = mesh < 0 ? -1 : asset.skinOfMesh(mesh);
        if (skin < 0 || vertices.isEmpty()) {
            return List.of();
        }
        int[] joints = asset.skins().get(skin).joints();
        double[] sums = new double[joints.length];
        int first = 0;
        for (Primitive p : asset.meshes().get(mesh).primitives()) {
            Influences rows = p.influences();
            int end = first + p.vertexCount();
            for (int v = vertices.nextSetBit(first);
                    rows != null && v >= 0 && v < end;
                    v = vertices.nextSetBit(v + 1)) {
                for (int i = rows.offsets()[v - first]; i < rows.offsets()[v - first + 1]; i++) {
                    sums[rows.joints()[i]] += rows.weights()[i];
                }
            }
            first = end;
        }
        int count = vertices.cardinality();
        List<Mover> out = new ArrayList<>();
        for (int j = 0; j < sums.length; j++) {
            if (sums[j] > 0) {
                out.add(new Mover(joints[j], sums[j] / count));
            }
        }
        out.sort(Comparator.comparingDouble((Mover m) -> -m.mean));
        return out;
    }
}
