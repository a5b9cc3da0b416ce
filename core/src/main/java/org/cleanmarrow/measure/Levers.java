package org.cleanmarrow.measure;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** How far what is seen moves, in metres, for a small change of what a channel moves: found at rest. */
public final class Levers {
    /** Of what moves nothing that is drawn, as a share of the whole. */
    private static final double BARE = 0.05;

    private final Asset asset;
    /** Metres from each node to the farthest vertex that hangs on it. */
    private final double[] far;
    /** Metres a unit of the node's parent. */
    private final double[] unit;

    public Levers(Asset asset) {
        this.asset = asset;
        Side side = new Side(asset);
        int[] parents = asset.parents();
        far = new double[parents.length];
        unit = new double[parents.length];
        double metre = asset.conventions().metresPerUnit();
        for (int n = 0; n < unit.length; n++) {
            Matrix4d above = parents[n] < 0 ? new Matrix4d() : side.rest[parents[n]];
            unit[n] = metre * Math.cbrt(Math.abs(above.determinant3x3()));
        }
        Deformer deformer = side.deformer;
        Pose rest = side.rig.rest();
        Vector3d at = new Vector3d();
        for (MeshPlace place : deformer.places()) {
            float[] points = deformer.positions(place, rest);
            int first = 0;
            for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
                Influences rows = place.skin() < 0 ? null : primitive.influences();
                Skin skin = place.skin() < 0 ? null : asset.skins().get(place.skin());
                for (int v = 0; v < primitive.vertexCount(); v++) {
                    int p = (first + v) * 3;
                    at.set(points[p], points[p + 1], points[p + 2]);
                    if (rows == null || skin == null) {
                        raise(place.node(), at, parents, side.rest);
                        continue;
                    }
                    for (int e = rows.offsets()[v]; e < rows.offsets()[v + 1]; e++) {
                        raise(skin.joints()[rows.joints()[e]], at, parents, side.rest);
                    }
                }
                first += primitive.vertexCount();
            }
        }
        double bare = BARE * side.reach();
        for (int n = 0; n < far.length; n++) {
            far[n] = far[n] > 0 ? far[n] * metre : bare;
        }
    }

    private void raise(int node, Vector3d point, int[] parents, Matrix4d[] world) {
        for (int n = node; n >= 0; n = parents[n]) {
            double x = world[n].m30() - point.x;
            double y = world[n].m31() - point.y;
            double z = world[n].m32() - point.z;
            far[n] = Math.max(far[n], Math.sqrt(x * x + y * y + z * z));
        }
    }

    /**
     * Metres for a change of one in a channel's own unit: a length, a radian, a size, a morph weight; infinite where it moves
     * nothing here, or vertices by themselves.
     */
    public double of(Channel channel) {
        int node = channel.node();
        if (node < 0) {
            return Double.POSITIVE_INFINITY;
        }
        return switch (channel.path()) {
            case TRANSLATION -> unit[node];
            case ROTATION, SCALE -> far[node];
            case WEIGHTS -> shapes(node) * unit[node];
            case VERTICES, POINTER -> Double.POSITIVE_INFINITY;
        };
    }

    /** The farthest that a morph target takes any vertex of a node's mesh. */
    private double shapes(int node) {
        int mesh = asset.nodes().get(node).mesh();
        return mesh < 0
                ? 0
                : asset.meshes().get(mesh).primitives().stream()
                        .flatMap(p -> p.targets().stream())
                        .mapToDouble(Levers::farthest)
                        .max()
                        .orElse(0);
    }

    private static double farthest(MorphTarget target) {
        float[] d = target.positions();
        double most = 0;
        for (int i = 0; d != null && i + 2 < d.length; i += 3) {
            most = Math.max(most, Math.sqrt((double) d[i] * d[i] + d[i + 1] * d[i + 1] + d[i + 2] * d[i + 2]));
        }
        return most;
    }
}
