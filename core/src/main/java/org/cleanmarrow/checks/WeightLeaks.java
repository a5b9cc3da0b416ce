package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.asset.Skin;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.steps.TakeOffJoint;
import org.cleanmarrow.weights.Bones;
import org.joml.Vector3d;

/**
 * A joint that reaches over to a shell which others move: a strap that follows the arm it lies beside.
 *
 * <p>A joint's home is the shell that most of its weight is on. Found is a joint with weight over
 * {@value #FELT} on vertices of another shell, of which it holds less than {@value #MINORITY} of all weight,
 * where most of those vertices lie clearly nearer to the bone of another joint that moves the shell.
 */
public final class WeightLeaks implements Check {
    private static final double MINORITY = 0.35;
    private static final double TRACE = 0.002;
    private static final float FELT = 0.05f;
    /** How much farther the joint's own bone must be than the nearest one to count as clearly farther. */
    private static final double FARTHER = 1.45;

    @Override
    public String id() {
        return "leak";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (SkinnedMeshes.isSkinned(asset, m)) {
                run(asset, m, out);
            }
        }
        return out;
    }

    private void run(Asset asset, int number, List<Finding> out) {
        Mesh mesh = asset.meshes().get(number);
        Skin skin = asset.skins().get(asset.skinOfMesh(number));
        MeshTopology topology = MeshTopology.of(mesh);
        int joints = skin.joints().length;
        if (topology.shellCount() < 2 || (long) topology.shellCount() * joints > 20_000_000L) {
            return;
        }
        double[][] weight = weights(mesh, topology, joints);
        Bones bones = Bones.bound(asset, skin);
        for (int s = 0; s < weight.length; s++) {
            double total = 0;
            int main = 0;
            for (int j = 0; j < joints; j++) {
                total += weight[s][j];
                main = weight[s][j] > weight[s][main] ? j : main;
            }
            for (int j = 0; j < joints; j++) {
                double share = total > 0 ? weight[s][j] / total : 0;
                if (j == main || share < TRACE || share > MINORITY || home(weight, j) == s) {
                    continue;
                }
                BitSet felt = felt(mesh, topology, s, j);
                if (felt.isEmpty() || !reachesOver(mesh, felt, j, weight[s], bones)) {
                    continue;
                }
                String joint = asset.nodeRef(skin.joints()[j]);
                String moved = asset.nodeRef(skin.joints()[main]);
                String name = asset.meshRef(number);
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                name,
                                felt.cardinality(),
                                felt.cardinality(),
                                name,
                                joint,
                                moved)
                        .at(Finding.Place.mesh(number, felt).withNode(skin.joints()[j]))
                        .fixedBy(new TakeOffJoint(
                                name, joint, VertexSet.chosen(mesh, shell(topology, s)), Optional.of(moved))));
            }
        }
    }

    private static boolean reachesOver(Mesh mesh, BitSet felt, int joint, double[] shellWeight, Bones bones) {
        float[] p = MeshTopology.restPositions(mesh);
        int over = 0;
        for (int v = felt.nextSetBit(0); v >= 0; v = felt.nextSetBit(v + 1)) {
            Vector3d at = new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
            double own = bones.distance(joint, at);
            for (int j = 0; j < shellWeight.length; j++) {
                if (j != joint && shellWeight[j] > 0 && bones.distance(j, at) * FARTHER < own) {
                    over++;
                    break;
                }
            }
        }
        return over * 2 > felt.cardinality();
    }

    private static double[][] weights(Mesh mesh, MeshTopology topology, int joints) {
        double[][] weight = new double[topology.shellCount()][joints];
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int v = 0; rows != null && v < p.vertexCount(); v++) {
                double[] shell = weight[topology.shellOf(first + v)];
                for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                    shell[rows.joints()[i]] += rows.weights()[i];
                }
            }
            first += p.vertexCount();
        }
        return weight;
    }

    private static int home(double[][] weight, int joint) {
        int best = 0;
        for (int s = 1; s < weight.length; s++) {
            best = weight[s][joint] > weight[best][joint] ? s : best;
        }
        return best;
    }

    private static BitSet felt(Mesh mesh, MeshTopology topology, int shell, int joint) {
        BitSet all = SkinnedMeshes.vertices(mesh, (rows, v) -> rows.weight(v, joint) > FELT);
        for (int v = all.nextSetBit(0); v >= 0; v = all.nextSetBit(v + 1)) {
            if (topology.shellOf(v) != shell) {
                all.clear(v);
            }
        }
        return all;
    }

    private static BitSet shell(MeshTopology topology, int shell) {
        BitSet out = new BitSet();
        for (int v = 0; v < topology.vertexCount(); v++) {
            if (topology.shellOf(v) == shell) {
                out.set(v);
            }
        }
        return out;
    }
}
