package org.cleanmarrow.steps.collision;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Where the vertices stand at rest that a joint moves more than any other does. */
final class MovedPoints {
    private static final int FEWEST = 8;

    private MovedPoints() {}

    /**
     * By joint's node, 3 numbers a vertex in that node's axes; joints of fewer than eight vertices are left out.
     *
     * @param owners for each node that to which its vertices are given
     */
    static Map<Integer, double[]> of(Asset asset, int[] owners, Work work) {
        Map<Integer, Points> found = new HashMap<>();
        Pose rest = new Rig(asset).rest();
        Matrix4d[] world = rest.world();
        Deformer deformer = new Deformer(asset);
        for (MeshPlace place : deformer.places()) {
            work.stopIfCancelled();
            if (place.skin() < 0 || !asset.meshes().get(place.mesh()).skinned()) {
                continue;
            }
            int[] joints = asset.skins().get(place.skin()).joints();
            float[] p = deformer.positions(place, rest);
            int first = 0;
            for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
                Influences rows = primitive.influences();
                for (int v = 0; rows != null && v < primitive.vertexCount(); v++) {
                    int joint = rows.heaviest(v);
                    if (joint >= 0) {
                        found.computeIfAbsent(owners[joints[joint]], j -> new Points(world[j]))
                                .add(p, 3 * (first + v));
                    }
                }
                first += primitive.vertexCount();
            }
        }
        Map<Integer, double[]> out = new HashMap<>();
        found.forEach((n, points) -> {
            if (points.count >= 3 * FEWEST) {
                out.put(n, Arrays.copyOf(points.at, points.count));
            }
        });
        return out;
    }

    /** By node the vertices of the part there that no joint deforms, in its axes. */
    static Map<Integer, double[]> ofParts(Asset asset) {
        Map<Integer, double[]> out = new HashMap<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0 && node.skin() < 0) {
                out.put(n, of(asset.meshes().get(node.mesh())));
            }
        }
        return out;
    }

    /** Every vertex of a mesh at rest, 3 numbers each. */
    static double[] of(Mesh mesh) {
        float[] points = MeshTopology.restPositions(mesh);
        double[] out = new double[points.length];
        Arrays.setAll(out, i -> points[i]);
        return out;
    }

    private static final class Points {
        private final Matrix4d into;
        private final Vector3d p = new Vector3d();
        private double[] at = new double[96];
        private int count;

        Points(Matrix4d world) {
            into = world.invert(new Matrix4d());
        }

        void add(float[] from, int i) {
            into.transformPosition(p.set(from[i], from[i + 1], from[i + 2]));
            if (count + 3 > at.length) {
                at = Arrays.copyOf(at, 2 * at.length);
            }
            at[count++] = p.x;
            at[count++] = p.y;
            at[count++] = p.z;
        }
    }
}
