package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.function.IntPredicate;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.check.Examination;

/** Finds vertices of skinned meshes by their influence row. */
final class SkinnedMeshes {
    private SkinnedMeshes() {}

    interface RowTest {
        boolean test(Influences rows, int row);
    }

    static boolean isSkinned(Asset asset, int mesh) {
        return asset.skinOfMesh(mesh) >= 0 && asset.meshes().get(mesh).skinned();
    }

    /** Faults of all skinned meshes. */
    static List<InfluenceFaults.Fault> faults(Examination examination) {
        return examination.shared("influence faults", () -> {
            List<InfluenceFaults.Fault> out = new ArrayList<>();
            for (int m = 0; m < examination.asset().meshes().size(); m++) {
                if (isSkinned(examination.asset(), m)) {
                    out.addAll(InfluenceFaults.of(examination.asset(), m));
                }
            }
            return out;
        });
    }

    static BitSet vertices(Mesh mesh, RowTest test) {
        BitSet out = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            IntPredicate wanted = v -> test.test(rows, v);
            for (int v = 0; rows != null && v < p.vertexCount(); v++) {
                if (wanted.test(v)) {
                    out.set(first + v);
                }
            }
            first += p.vertexCount();
        }
        return out;
    }
}
