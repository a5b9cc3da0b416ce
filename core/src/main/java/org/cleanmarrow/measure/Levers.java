package org.cleanmarrow.measure;

import java.util.Arrays;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.joml.Matrix4d;

/** How far what is seen moves, in metres, for a small change of what a channel moves: found at rest. */
public final class Levers {
    /** Of what moves nothing that is drawn, as a share of the whole. */
    private static final double BARE = 0.05;

    /** Along the axes and to the corners of a cube: enough to find how far a body reaches within a few hundredths. */
    private static final double[][] DIRECTIONS = {
        {1, 0, 0},
        {-1, 0, 0},
        {0, 1, 0},
        {0, -1, 0},
        {0, 0, 1},
        {0, 0, -1},
        {1, 1, 1},
        {1, 1, -1},
        {1, -1, 1},
        {1, -1, -1},
        {-1, 1, 1},
        {-1, 1, -1},
        {-1, -1, 1},
        {-1, -1, -1}
    };

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
        double[][] outermost = outermost(side);
        for (int n = 0; n < far.length; n++) {
            for (int up = n; up >= 0 && outermost[n] != null; up = parents[up]) {
                raise(up, side.rest[up], outermost[n]);
            }
        }
        double bare = BARE * side.reach();
        for (int n = 0; n < far.length; n++) {
            far[n] = far[n] > 0 ? far[n] * metre : bare;
        }
    }

    /** For every node the points that hang on it and lie furthest out in some directions, 3 numbers each; null where none do. */
    private double[][] outermost(Side side) {
        double[][] points = new double[far.length][];
        double[][] most = new double[far.length][];
        Pose rest = side.rig.rest();
        for (MeshPlace place : side.deformer.places()) {
            float[] at = side.deformer.positions(place, rest);
            int first = 0;
            for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
                Skin skin = place.skin() < 0 ? null : asset.skins().get(place.skin());
                Influences rows = skin == null ? null : primitive.influences();
                for (int v = 0; v < primitive.vertexCount(); v++) {
                    int p = (first + v) * 3;
                    if (rows == null || skin == null) {
                        further(points, most, place.node(), at, p);
                        continue;
                    }
                    for (int e = rows.offsets()[v]; e < rows.offsets()[v + 1]; e++) {
                        further(points, most, skin.joints()[rows.joints()[e]], at, p);
                    }
                }
                first += primitive.vertexCount();
            }
        }
        return points;
    }

    private static void further(double[][] points, double[][] most, int node, float[] at, int p) {
        if (points[node] == null) {
            points[node] = new double[DIRECTIONS.length * 3];
            most[node] = new double[DIRECTIONS.length];
            Arrays.fill(most[node], Double.NEGATIVE_INFINITY);
        }
        for (int d = 0; d < DIRECTIONS.length; d++) {
            double out = DIRECTIONS[d][0] * at[p] + DIRECTIONS[d][1] * at[p + 1] + DIRECTIONS[d][2] * at[p + 2];
            if (out > most[node][d]) {
                most[node][d] = out;
                for (int i = 0; i < 3; i++) {
                    points[node][d * 3 + i] = at[p + i];
                }
            }
        }
    }

    private void raise(int node, Matrix4d world, double[] points) {
        for (int p = 0; p < points.length; p += 3) {
            double x = world.m30() - points[p];
            double y = world.m31() - points[p + 1];
            double z = world.m32() - points[p + 2];
            far[node] = Math.max(far[node], Math.sqrt(x * x + y * y + z * z));
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
