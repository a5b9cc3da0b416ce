package org.cleanmarrow.steps;

import java.util.BitSet;
import java.util.Optional;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.asset.Skin;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Gives vertices that follow nothing something to follow: the joint named, or without one the mean of what the
 * vertices around them follow, from the rim inwards; a shell that follows nothing at all goes to the joint that
 * stood nearest when it was bound.
 */
@StepInfo(
        name = "give-strays",
        says = "Gives vertices that follow no joint to one, or to what the vertices around them follow.")
public record GiveStrays(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh,

        @Parameter(says = "joint to give them to; empty: as the vertices around them", fallback = "null")
        Optional<String> joint)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Asset out = asset;
        long given = 0;
        for (int number : WeightRows.meshes(asset, mesh)) {
            Mesh old = out.meshes().get(number);
            Skin skin = WeightRows.skin(out, number);
            BitSet strays = strays(old);
            if (strays.isEmpty()) {
                continue;
            }
            double[][] rows = new double[old.vertexCount()][];
            if (joint.isPresent()) {
                int heir = Names.joint(asset, skin, joint.get());
                strays.stream().forEach(v -> rows[v] = single(heir, skin));
            } else {
                fillFromAround(old, skin, strays, rows);
            }
            long[] changed = {0};
            Mesh edited = WeightRows.edit(
                    old,
                    strays,
                    (row, v) -> {
                        row.clear();
                        for (int j = 0; j < rows[v].length; j++) {
                            if (rows[v][j] > 0) {
                                row.add(j, rows[v][j]);
                            }
                        }
                        row.keep(4);
                        return row.normalise();
                    },
                    changed);
            given += changed[0];
            out = out.withMesh(number, edited);
        }
        return Change.of(out).count("vertices given", given);
    }

    /** Vertices of skinned primitives whose weights are all zero, or sum to nothing that could be scaled. */
    public static BitSet strays(Mesh mesh) {
        BitSet strays = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            for (int v = 0; p.influences() != null && v < p.vertexCount(); v++) {
                if (!(p.influences().sum(v) > 0)) {
                    strays.set(first + v);
                }
            }
            first += p.vertexCount();
        }
        return strays;
    }

    private static double[] single(int joint, Skin skin) {
        double[] row = new double[skin.joints().length];
        row[joint] = 1;
        return row;
    }

    private static void fillFromAround(Mesh mesh, Skin skin, BitSet strays, double[][] rows) {
        MeshTopology topology = MeshTopology.of(mesh);
        BitSet open = (BitSet) strays.clone();
        while (!open.isEmpty()) {
            BitSet reached = new BitSet();
            double[][] next = new double[mesh.vertexCount()][];
            for (int v = open.nextSetBit(0); v >= 0; v = open.nextSetBit(v + 1)) {
                next[v] = meanAround(mesh, topology, skin, v, open, rows);
                if (next[v] != null) {
                    reached.set(v);
                }
            }
            if (reached.isEmpty()) {
                break;
            }
            reached.stream().forEach(v -> rows[v] = next[v]);
            open.andNot(reached);
        }
        for (int v = open.nextSetBit(0); v >= 0; v = open.nextSetBit(v + 1)) {
            rows[v] = single(nearestJoint(mesh, skin, v), skin);
        }
    }

    private static double[] meanAround(
            Mesh mesh, MeshTopology topology, Skin skin, int v, BitSet open, double[][] rows) {
        double[] mean = new double[skin.joints().length];
        int found = 0;
        int[] around = topology.neighboursOf(v);
        for (int i = -1; i < around.length; i++) {
            // The other vertices at the same place come first: a seam must not open.
            int n = i < 0 ? topology.placeOf(v) : around[i];
            if (n == v || open.get(n)) {
                continue;
            }
            found++;
            if (rows[n] != null) {
                for (int j = 0; j < mean.length; j++) {
                    mean[j] += rows[n][j];
                }
            } else {
                addRow(mesh, n, mean);
            }
            if (i < 0) {
                return mean;
            }
        }
        return found == 0 ? null : mean;
    }

    private static void addRow(Mesh mesh, int vertex, double[] mean) {
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            int local = vertex - first;
            if (local < p.vertexCount()) {
                Influences rows = p.influences();
                for (int i = rows == null ? 0 : rows.offsets()[local];
                        rows != null && i < rows.offsets()[local + 1];
                        i++) {
                    mean[rows.joints()[i]] += rows.weights()[i];
                }
                return;
            }
            first += p.vertexCount();
        }
    }

    private static int nearestJoint(Mesh mesh, Skin skin, int vertex) {
        float[] p = MeshTopology.restPositions(mesh);
        Vector3d at = new Vector3d(p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]);
        int best = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int j = 0; j < skin.joints().length; j++) {
            Matrix4d bind = skin.inverseBind(j);
            if (bind.determinant() == 0) {
                continue;
            }
            double distance = bind.invert().getTranslation(new Vector3d()).distance(at);
            if (distance < least) {
                least = distance;
                best = j;
            }
        }
        return best;
    }
}
