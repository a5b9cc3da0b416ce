package org.cleanmarrow.desktop.viewport;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Threads;
import org.joml.Matrix4d;
import org.joml.Matrix4f;
import org.joml.Vector3d;
import org.joml.Vector4f;

/** Finds what lies under the pointer on the posed surface, in the view's space: metres, Y up. */
public final class Picker {
    private final Map<TreeKey, TriangleTree> trees = new HashMap<>();
    private Asset asset;
    private Rig rig;
    private Deformer deformer;
    private Matrix4d view;
    private Clip clip;
    private double seconds;
    /** Null until somebody asks what lies where in this pose. */
    private List<Surface> surfaces;

    private Pose pose;
    private Matrix4d[] world;
    /** Places of the nodes at other moments, by their seconds, until another pose is taken. */
    private final Map<Double, Vector3d[]> neighbours = new HashMap<>();

    private DepthPicture depth;
    private Camera depthCamera;
    private int depthWidth;
    private int depthHeight;

    /** Two uses of one mesh stand in different places and need a tree each. */
    private record TreeKey(MeshTopology topology, int node) {}

    private record Surface(MeshPlace place, MeshTopology topology, float[] positions, TriangleTree tree) {}

    /** What a ray met: the corner nearest to the point stands for it. */
    public record Hit(MeshPlace place, int vertex, int triangle, Vector3d point, double distance) {}

    /** An asset at rest, made ready to be picked on; what takes long is in it. */
    public record Prepared(Asset asset, Picker picker, Box box) {}

    /** Makes an asset ready, on any thread; {@link #take} then costs nothing. */
    public static Prepared prepare(Asset asset) {
        Picker picker = new Picker();
        picker.pose(asset, null, 0);
        return new Prepared(asset, picker, picker.box());
    }

    /** Takes what was made ready in place of finding it again; it is not to be used elsewhere afterwards. */
    public void take(Prepared ready) {
        Picker made = ready.picker;
        asset = made.asset;
        rig = made.rig;
        deformer = made.deformer;
        view = made.view;
        clip = made.clip;
        seconds = made.seconds;
        pose = made.pose;
        world = made.world;
        surfaces = made.surfaces;
        depth = null;
        neighbours.clear();
        trees.clear();
        trees.putAll(made.trees);
    }

    /** Takes the asset and pose to pick on; work is done only where something changed, and only once it is needed. */
    public void pose(Asset newAsset, Clip newClip, double newSeconds) {
        if (newAsset == asset && newClip == clip && newSeconds == seconds) {
            return;
        }
        if (newAsset != asset) {
            asset = newAsset;
            rig = new Rig(asset);
            deformer = new Deformer(asset);
            view = Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
            if (trees.size() > 24) {
                trees.clear();
            }
        }
        clip = newClip;
        seconds = newSeconds;
        pose = clip == null ? rig.rest() : rig.at(clip, seconds);
        world = pose.world();
        surfaces = null;
        depth = null;
        neighbours.clear();
    }

    /** True where it is known what lies where in this pose; asked what does, it is found at once otherwise. */
    public boolean isReady() {
        return surfaces != null;
    }

    /** Finds what lies where in this pose. */
    public void makeReady() {
        surfaces();
    }

    /** The posed surfaces with their trees, found when they are first needed: while a clip plays nobody picks. */
    private List<Surface> surfaces() {
        if (surfaces != null) {
            return surfaces;
        }
        Threads.begins("posed surfaces");
        List<Surface> posed = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
            if (!asset.nodes().get(place.node()).ships()) {
                continue;
            }
            Mesh mesh = asset.meshes().get(place.mesh());
            MeshTopology topology = MeshTopology.of(mesh);
            float[] p = new float[topology.vertexCount() * 3];
            deformer.deform(place, pose, world, view, p, null, true);
            TreeKey key = new TreeKey(topology, place.node());
            TriangleTree tree = trees.get(key);
            if (tree == null) {
                tree = new TriangleTree(topology.corners(), p);
                trees.put(key, tree);
            } else {
                tree.refit(p);
            }
            posed.add(new Surface(place, topology, p, tree));
        }
        surfaces = posed;
        return posed;
    }

    /** Nearest surface along a line of sight; null when there is none. */
    public Hit pick(Camera.Ray ray) {
        float[] o = floats(ray.origin());
        float[] d = floats(ray.direction());
        Hit best = null;
        for (Surface s : surfaces()) {
            TriangleTree.Hit hit = s.tree.nearest(o, d, t -> true);
            if (hit != null && (best == null || hit.distance() < best.distance)) {
                float third = 1 - hit.u() - hit.v();
                int corner = third >= hit.u() && third >= hit.v() ? 0 : hit.u() >= hit.v() ? 1 : 2;
                int vertex = s.topology.corners()[hit.triangle() * 3 + corner];
                best = new Hit(
                        s.place,
                        vertex,
                        hit.triangle(),
                        new Vector3d(ray.origin()).fma(hit.distance(), ray.direction()),
                        hit.distance());
            }
        }
        return best;
    }

    private static float[] floats(Vector3d v) {
        return new float[] {(float) v.x, (float) v.y, (float) v.z};
    }

    /** The three corners of the triangle that was hit. */
    public BitSet face(Hit hit) {
        BitSet out = new BitSet();
        int[] corners = topology(hit.place.mesh()).corners();
        for (int i = 0; i < 3; i++) {
            out.set(corners[hit.triangle * 3 + i]);
        }
        return out;
    }

    private MeshTopology topology(int mesh) {
        return MeshTopology.of(asset.meshes().get(mesh));
    }

    /** A part of the picture. */
    public interface Region {
        boolean holds(double x, double y);

        /** A rectangle, its edges included. */
        static Region box(double x0, double y0, double x1, double y1) {
            return (x, y) -> x >= x0 && x <= x1 && y >= y0 && y <= y1;
        }

        /** A closed line of any shape; what it winds round an odd number of times is inside. */
        static Region outline(double[] xs, double[] ys) {
            return (x, y) -> {
                boolean inside = false;
                for (int i = 0, j = xs.length - 1; i < xs.length; j = i++) {
                    boolean crosses = ys[i] > y != ys[j] > y;
                    if (crosses && x < (xs[j] - xs[i]) * (y - ys[i]) / (ys[j] - ys[i]) + xs[i]) {
                        inside = !inside;
                    }
                }
                return inside;
            };
        }
    }

    /** Vertices of one mesh. */
    public record Found(int mesh, BitSet vertices) {}

    /**
     * Vertices inside a part of the picture, of the mesh that has most of them there.
     *
     * @param seenOnly leave out what lies behind something
     * @return null when there is none
     */
    public Found within(Camera camera, double width, double height, Region region, boolean seenOnly) {
        Matrix4f clip = new Matrix4f(camera.projection(width, height).mul(camera.view()));
        Found best = null;
        for (Surface s : surfaces()) {
            BitSet inside = new BitSet();
            Vector4f p = new Vector4f();
            for (int v = 0; v < s.positions.length / 3; v++) {
                p.set(s.positions[v * 3], s.positions[v * 3 + 1], s.positions[v * 3 + 2], 1)
                        .mul(clip);
                if (p.w > 0 && region.holds((p.x / p.w + 1) / 2 * width, (1 - p.y / p.w) / 2 * height)) {
                    inside.set(v);
                }
            }
            BitSet kept = seenOnly ? seen(camera, width, height, s, inside) : inside;
            if (!kept.isEmpty() && (best == null || kept.cardinality() > best.vertices.cardinality())) {
                best = new Found(s.place.mesh(), kept);
            }
        }
        return best;
    }

    /** Nodes of which no part is inside the picture; what lies behind something else counts as inside. */
    public List<Integer> outside(Camera camera, double width, double height) {
        Matrix4f clip = new Matrix4f(camera.projection(width, height).mul(camera.view()));
        List<Integer> out = new ArrayList<>();
        Vector4f p = new Vector4f();
        for (Surface s : surfaces()) {
            boolean inside = false;
            for (int v = 0; v < s.positions.length / 3 && !inside; v++) {
                p.set(s.positions[v * 3], s.positions[v * 3 + 1], s.positions[v * 3 + 2], 1)
                        .mul(clip);
                inside = p.w > 0 && Math.abs(p.x) <= p.w && Math.abs(p.y) <= p.w;
            }
            if (!inside) {
                out.add(s.place.node());
            }
        }
        return out;
    }

    /**
     * Vertices near a point of the surface that was hit.
     *
     * @param radius   in metres
     * @param seenOnly leave out what lies behind something
     */
    public BitSet around(Camera camera, double width, double height, Hit hit, double radius, boolean seenOnly) {
        BitSet out = new BitSet();
        for (Surface s : surfaces()) {
            if (s.place.equals(hit.place)) {
                float[] p = s.positions;
                for (int v = 0; v < p.length / 3; v++) {
                    double d = hit.point.distanceSquared(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
                    if (d <= radius * radius) {
                        out.set(v);
                    }
                }
                return seenOnly ? seen(camera, width, height, s, out) : out;
            }
        }
        return out;
    }

    /** Hears of a vertex near a point. */
    interface Touch {
        /** @param distance in metres */
        void at(int vertex, double distance);
    }

    /**
     * Tells of the vertices near a point of the surface that was hit; those of one place all together.
     *
     * @param radius    in metres
     * @param onSurface only those that edges within the radius lead to, so that a hand beside a coat leaves it alone
     */
    void touch(Hit hit, double radius, boolean onSurface, Touch touch) {
        Surface s = surfaces().stream()
                .filter(x -> x.place.equals(hit.place))
                .findFirst()
                .orElseThrow();
        WeldedSurface welded = s.topology.welded(asset.meshes().get(hit.place.mesh()));
        float[] p = s.positions;
        BitSet near = onSurface ? reached(welded, p, hit, radius) : null;
        for (int v = 0; v < p.length / 3; v++) {
            int stands = welded.vertexOf(welded.weldedOf(v)) * 3;
            double d = hit.point.distanceSquared(p[stands], p[stands + 1], p[stands + 2]);
            if (d <= radius * radius && (near == null || near.get(welded.weldedOf(v)))) {
                touch.at(v, Math.sqrt(d));
            }
        }
    }

    private static BitSet reached(WeldedSurface welded, float[] p, Hit hit, double radius) {
        BitSet out = new BitSet();
        ArrayDeque<Integer> queue = new ArrayDeque<>();
        queue.add(welded.weldedOf(hit.vertex));
        out.set(welded.weldedOf(hit.vertex));
        while (!queue.isEmpty()) {
            int place = queue.poll();
            for (int e = welded.starts()[place]; e < welded.starts()[place + 1]; e++) {
                int next = welded.neighbours()[e];
                int at = welded.vertexOf(next) * 3;
                if (!out.get(next) && hit.point.distanceSquared(p[at], p[at + 1], p[at + 2]) <= radius * radius) {
                    out.set(next);
                    queue.add(next);
                }
            }
        }
        return out;
    }

    /** Those of the vertices that nothing lies before: by a picture of depth, and beside outlines by a ray each. */
    private BitSet seen(Camera camera, double width, double height, Surface s, BitSet vertices) {
        List<Surface> all = surfaces();
        DepthPicture picture = depth(camera, Math.max(1, (int) width), Math.max(1, (int) height));
        float[] p = s.positions;
        BitSet out = new BitSet();
        int[] kept = vertices.stream()
                .parallel()
                .filter(v -> switch (picture.of(p[v * 3], p[v * 3 + 1], p[v * 3 + 2])) {
                    case SEEN -> true;
                    case HIDDEN -> false;
                    case UNSURE -> isSeen(camera, all, s, v);
                })
                .toArray();
        for (int v : kept) {
            out.set(v);
        }
        return out;
    }

    /** Drawn once for a pose, a camera and a size. */
    private DepthPicture depth(Camera camera, int width, int height) {
        if (depth == null || !camera.equals(depthCamera) || depthWidth != width || depthHeight != height) {
            depthCamera = camera;
            depthWidth = width;
            depthHeight = height;
            depth = new DepthPicture(
                    camera,
                    width,
                    height,
                    surfaces().stream()
                            .map(s -> new DepthPicture.Surface(s.positions, s.topology.corners()))
                            .toList());
        }
        return depth;
    }

    private static boolean isSeen(Camera camera, List<Surface> all, Surface s, int v) {
        Vector3d at = new Vector3d(s.positions[v * 3], s.positions[v * 3 + 1], s.positions[v * 3 + 2]);
        Camera.Ray ray = camera.towards(at);
        double far = at.distance(ray.origin());
        float limit = (float) (far * (1 - 2e-4) - 1e-4);
        float[] o = floats(ray.origin());
        float[] d = floats(ray.direction());
        for (Surface other : all) {
            if (other.tree.meetsBefore(o, d, limit)) {
                return false;
            }
        }
        return true;
    }

    /** From a node's axes into the view's space. */
    public Matrix4d nodeAxes(int node) {
        return new Matrix4d(view).mul(world[node]);
    }

    /** Where a node is in the view's space. */
    public Vector3d nodePlace(int node) {
        return view.transformPosition(world[node].getTranslation(new Vector3d()));
    }

    /** Where the nodes are at another moment of the clip, in the view's space; none where no clip is shown. */
    public Vector3d[] nodePlaces(double atSeconds) {
        return clip == null ? new Vector3d[0] : neighbours.computeIfAbsent(atSeconds, this::placesAt);
    }

    private Vector3d[] placesAt(double atSeconds) {
        Matrix4d[] then = rig.at(clip, atSeconds).world();
        Vector3d[] out = new Vector3d[then.length];
        for (int n = 0; n < out.length; n++) {
            out[n] = view.transformPosition(then[n].getTranslation(new Vector3d()));
        }
        return out;
    }

    /** Posed position of a vertex in the view's space. */
    public Vector3d vertexPlace(int mesh, int vertex) {
        for (Surface s : surfaces()) {
            if (s.place.mesh() == mesh && vertex * 3 + 2 < s.positions.length) {
                return new Vector3d(s.positions[vertex * 3], s.positions[vertex * 3 + 1], s.positions[vertex * 3 + 2]);
            }
        }
        return new Vector3d();
    }

    /** Which way some vertices of a mesh face in this pose, on the whole; the shorter the less they agree. */
    public Vector3d facing(int mesh, BitSet vertices) {
        Vector3d out = new Vector3d();
        double all = 0;
        for (Surface s : surfaces()) {
            if (s.place.mesh() != mesh) {
                continue;
            }
            int[] corners = s.topology.corners();
            float[] normal = new float[3];
            for (int t = 0; t + 2 < corners.length; t += 3) {
                if (vertices.get(corners[t]) || vertices.get(corners[t + 1]) || vertices.get(corners[t + 2])) {
                    TriangleNormals.put(corners, t, s.positions, normal, 0);
                    Vector3d own = new Vector3d(normal[0], normal[1], normal[2]);
                    all += own.length();
                    out.add(own);
                }
            }
            break;
        }
        return all > 0 && out.isFinite() ? out.div(all) : new Vector3d();
    }

    /** Box of everything in this pose. */
    public Box box() {
        Box box = Box.empty();
        surfaces().forEach(s -> box.grow(s.positions));
        return box;
    }

    /** Box of some vertices of a mesh in this pose. */
    public Box box(int mesh, BitSet vertices) {
        Box box = Box.empty();
        for (int v = vertices.nextSetBit(0); v >= 0; v = vertices.nextSetBit(v + 1)) {
            Vector3d p = vertexPlace(mesh, v);
            if (p.isFinite()) {
                box.grow(p.x, p.y, p.z);
            }
        }
        return box;
    }
}
