package org.cleanmarrow.checks.skin;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;

/** Finds vertices of skinned meshes by their influence row. */
final class SkinnedMeshes {
    private SkinnedMeshes() {}

    interface RowTest {
        boolean test(Influences rows, int row);
    }

    static boolean isSkinned(Asset asset, int mesh) {
        return asset.skinOfMesh(mesh) >= 0 && asset.meshes().get(mesh).skinned();
    }

    static BitSet vertices(Mesh mesh, RowTest test) {
        BitSet out = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int v = 0; rows != null && v < p.vertexCount(); v++) {
                if (test.test(rows, v)) {
                    out.set(first + v);
                }
            }
            first += p.vertexCount();
        }
        return out;
    }
}
