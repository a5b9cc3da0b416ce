package org.cleanmarrow.desktop.viewport;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
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

    /** Two uses of one mesh stand in different places and need a tree each. */
    private record TreeKey(MeshTopology topology, int node) {}

    private record Surface(MeshPlace place, MeshTopology topology, float[] positions, TriangleTree tree) {}

    /** What a ray met: the corner nearest to the point stands for it. */
    public record Hit(MeshPlace place, int vertex, int triangle, Vector3d point, double distance) {}

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
    }

    /** The posed surfaces with their trees, found when they are first needed: while a clip plays nobody picks. */
    private List<Surface> surfaces() {
        if (surfaces != null) {
            return surfaces;
        }
        List<Surface> posed = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
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

    /** Nearest surface along a ray; null when there is none. */
    public Hit pick(Vector3d origin, Vector3d direction) {
        float[] o = {(float) origin.x, (float) origin.y, (float) origin.z};
        float[] d = {(float) direction.x, (float) direction.y, (float) direction.z};
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
                        new Vector3d(origin).fma(hit.distance(), direction),
                        hit.distance());
            }
        }
        return best;
    }

    /**
     * Vertices inside a rectangle of the picture, of the mesh that has most of them there.
     *
     * @param seenOnly leave out what lies behind something
     * @return null when there is none
     */
    public Boxed inBox(
            Camera camera, double width, double height, double x0, double y0, double x1, double y1, boolean seenOnly) {
        Matrix4f clipMatrix = new Matrix4f(camera.projection(width, height).mul(camera.view()));
        Boxed best = null;
        for (Surface s : surfaces()) {
            BitSet inside = new BitSet();
            Vector4f p = new Vector4f();
            for (int v = 0; v < s.positions.length / 3; v++) {
                p.set(s.positions[v * 3], s.positions[v * 3 + 1], s.positions[v * 3 + 2], 1)
                        .mul(clipMatrix);
                double x = (p.x / p.w + 1) / 2 * width;
                double y = (1 - p.y / p.w) / 2 * height;
                if (p.w > 0 && x >= x0 && x <= x1 && y >= y0 && y <= y1 && (!seenOnly || isSeen(camera, s, v))) {
                    inside.set(v);
                }
            }
            if (!inside.isEmpty() && (best == null || inside.cardinality() > best.vertices.cardinality())) {
                best = new Boxed(s.place.mesh(), inside);
            }
        }
        return best;
    }

    /** Vertices found in a rectangle. */
    public record Boxed(int mesh, BitSet vertices) {}

    private boolean isSeen(Camera camera, Surface s, int v) {
        Vector3d eye = camera.eye();
        Vector3d at = new Vector3d(s.positions[v * 3], s.positions[v * 3 + 1], s.positions[v * 3 + 2]);
        Vector3d way = new Vector3d(at).sub(eye);
        double far = way.length();
        Hit first = pick(eye, way.normalize());
        return first == null || first.distance >= far * (1 - 2e-4) - 1e-4;
    }

    /** Where a node is in the view's space. */
    public Vector3d nodePlace(int node) {
        return view.transformPosition(world[node].getTranslation(new Vector3d()));
    }

    /** Posed position of a vertex in the view's space. */
    public Vector3d vertexPlace(int mesh, int vertex) {
        for (Surface s : surfaces()) {
            if (s.place.mesh() == mesh) {
                return new Vector3d(s.positions[vertex * 3], s.positions[vertex * 3 + 1], s.positions[vertex * 3 + 2]);
            }
        }
        return new Vector3d();
    }
}
