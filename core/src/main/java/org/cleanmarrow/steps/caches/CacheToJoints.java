package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Decomposition;
import org.cleanmarrow.caches.MotionTree;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.geometry.RigidFit;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * Turns the vertex caches of a mesh into joints and weights that an engine can play. Pieces that stay rigid get a joint each, at their
 * middle, and come back within rounding; where there are more of them than joints, pieces that move alike share one. A soft surface is
 * taken apart by motion ({@link Decomposition}). Joints hang below the node that the mesh stood at, all caches of the mesh become keys of
 * the same joints in their clips, and how far off that is is said.
 */
@StepInfo(
        name = "cache-to-joints",
        says = "Turns a mesh's vertex caches into joints, weights and keys; rigid pieces get a joint each.")
public record CacheToJoints(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "joints at most; a few hundred are fine", least = 1, most = CacheToJoints.MOST)
        int joints,

        @Parameter(says = "weights a vertex at most, on a soft surface", fallback = "4", least = 1, most = 8)
        int influences,

        @Parameter(
                says =
                        "a piece is rigid where no vertex is farther off than this; 0: a ten-thousandth of the mesh's size",
                fallback = "0",
                unit = "mm",
                least = 0)
        double rigidMillimetres,

        @Parameter(
                says = "flat: all joints below the node of the mesh; motion: each on the one that it moves with most",
                fallback = "\"flat\"")
        Hierarchy hierarchy)
        implements Step {
    /** What joints hang on. */
    public enum Hierarchy {
        FLAT,
        MOTION
    }

    static final int MOST = 1000;
    private static final double RIGID = 1e-4;
    private static final long MOST_BYTES = 768L << 20;

    public CacheToJoints(String mesh, int joints) {
        this(mesh, joints, 4, 0, Hierarchy.FLAT);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (joints < 1 || joints > MOST || influences < 1 || influences > 8 || !(rigidMillimetres >= 0)) {
            throw new Refused("cache.joints.range", joints, influences, rigidMillimetres);
        }
        int m = Names.mesh(asset, mesh);
        List<CacheUse> uses = uses(asset, m);
        int node = uses.getFirst().node();
        List<VertexTrack> tracks = uses.stream().map(CacheUse::track).toList();
        Mesh was = asset.meshes().get(m);
        long bytes = tracks.stream()
                .mapToLong(t -> 12L * t.vertices() * t.times().length)
                .sum();
        if (bytes > MOST_BYTES) {
            throw new Refused("cache.joints.large", bytes >> 20, MOST_BYTES >> 20);
        }
        float[] rest = MeshTopology.restPositions(was);
        Decomposition found = found(asset, was, rest, tracks, node, work).withoutIdle();
        Vector3d[] middles = middles(found, rest);
        Decomposition.Worst worst = found.worst();
        double metres = metres(asset, node);
        JointPerPiece made = built(asset, m, node, uses, found, middles);
        Asset out = made.asset();
        if (hierarchy == Hierarchy.MOTION) {
            int frames = tracks.stream().mapToInt(t -> t.times().length).sum();
            out = hung(made, MotionTree.parents(found, frames, middles), work);
        }
        return Change.of(Unused.removed(out))
                .count("cache.joints.made", found.joints())
                .note(
                        "cache.joints.error",
                        new Length(found.rms() * metres),
                        new Length(worst.off() * metres),
                        worst.vertex(),
                        frame(asset, uses, worst.frame()));
    }

    private List<CacheUse> uses(Asset asset, int m) throws Refused {
        List<CacheUse> uses =
                CacheUse.of(asset, m).stream().filter(u -> u.fits(asset)).toList();
        if (uses.isEmpty()) {
            throw new Refused("cache.none", mesh);
        }
        if (asset.nodes().stream().filter(n -> n.mesh() == m).count() > 1) {
            throw new Refused("cache.joints.shared", mesh);
        }
        return uses;
    }

    /** Metres that one of a node's own units is at rest. */
    private static double metres(Asset asset, int node) {
        double scale = Math.cbrt(Math.abs(new Rig(asset).rest().world()[node].determinant3x3()));
        return scale * asset.conventions().metresPerUnit();
    }

    private Decomposition found(Asset asset, Mesh was, float[] rest, List<VertexTrack> tracks, int node, Work work) {
        MeshTopology topology = MeshTopology.of(was);
        int[] all = IntStream.range(0, was.vertexCount()).toArray();
        int[] pieceOf = Arrays.stream(all).map(topology::islandOf).toArray();
        if (topology.islandCount() > 1) {
            Decomposition exact =
                    Decomposition.pieces(rest, tracks, all, pieceOf, Integer.MAX_VALUE, work.part(0, 0.3));
            double rigid = rigidMillimetres > 0 ? rigidMillimetres / 1000 / metres(asset, node) : RIGID * exact.size();
            if (exact.worst().off() <= rigid) {
                return topology.islandCount() <= joints
                        ? exact
                        : Decomposition.pieces(rest, tracks, all, pieceOf, joints, work.part(0.3, 1));
            }
        }
        // One vertex of each place decides for all on it, so that no seam opens.
        int[] places = Arrays.stream(all).filter(v -> topology.weldedOf(v) == v).toArray();
        return Decomposition.soft(rest, tracks, places, joints, influences, work.part(0.3, 1));
    }

    /** Where each joint stands at rest: the middle of what it moves, by weight. */
    private static Vector3d[] middles(Decomposition found, float[] rest) {
        Vector3d[] out =
                IntStream.range(0, found.joints()).mapToObj(j -> new Vector3d()).toArray(Vector3d[]::new);
        double[] sums = new double[out.length];
        for (int i = 0; i < found.points(); i++) {
            int v = found.vertex(i);
            for (int s = 0; s < found.influences() && found.joint(i, s) >= 0; s++) {
                double w = found.weight(i, s);
                out[found.joint(i, s)].add(w * rest[3 * v], w * rest[3 * v + 1], w * rest[3 * v + 2]);
                sums[found.joint(i, s)] += w;
            }
        }
        for (int j = 0; j < out.length; j++) {
            out[j].div(sums[j]);
        }
        return out;
    }

    private static int frame(Asset asset, List<CacheUse> uses, int frame) {
        int left = frame;
        for (CacheUse use : uses) {
            float[] times = use.track().times();
            if (left < times.length) {
                return (int)
                        Math.rint(times[left] * asset.clips().get(use.clip()).rate());
            }
            left -= times.length;
        }
        return frame;
    }

    private static Asset hung(JointPerPiece made, int[] parents, Work work) throws Refused {
        ReparentKeepingWorld tree = new ReparentKeepingWorld(made.asset());
        for (int j = 0; j < parents.length; j++) {
            if (parents[j] >= 0) {
                tree.hang(made.joints()[j], made.joints()[parents[j]]);
            }
        }
        return tree.done(work);
    }

    private JointPerPiece built(
            Asset asset, int m, int node, List<CacheUse> uses, Decomposition found, Vector3d[] middles) {
        JointPerPiece jointed =
                JointPerPiece.of(asset, node, bound(asset.meshes().get(m), found), middles);
        Asset out = jointed.asset();
        int first = 0;
        // From the last on, so that the places of those before stay.
        int[] firsts = new int[uses.size()];
        for (int u = 0; u < firsts.length; u++) {
            firsts[u] = first;
            first += uses.get(u).track().times().length;
        }
        for (int u = firsts.length - 1; u >= 0; u--) {
            out = uses.get(u).replaced(out, keys(out, uses.get(u), firsts[u], found, jointed.joints()));
        }
        return new JointPerPiece(out, jointed.joints());
    }

    private static List<Channel> keys(Asset asset, CacheUse use, int first, Decomposition found, int[] joints) {
        float[] times = use.track().times();
        List<Channel> out = new ArrayList<>();
        for (int j = 0; j < joints.length; j++) {
            int bone = j;
            Local rest = asset.nodes().get(joints[j]).local();
            Vector3d c = rest.translationVector();
            out.addAll(Baker.channels(
                    joints[j],
                    times,
                    false,
                    seconds -> {
                        RigidFit fit = found.at(first + Arrays.binarySearch(times, (float) seconds), bone);
                        return Local.of(fit.at(c), fit.rotation(), new Vector3d(1));
                    },
                    rest));
        }
        return out;
    }

    private static Mesh bound(Mesh mesh, Decomposition found) {
        MeshTopology topology = MeshTopology.of(mesh);
        int[] pointOf = new int[mesh.vertexCount()];
        for (int i = 0; i < found.points(); i++) {
            pointOf[found.vertex(i)] = i;
        }
        boolean each = found.points() == mesh.vertexCount();
        List<Primitive> primitives = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Influences.Builder rows = new Influences.Builder(p.vertexCount());
            for (int v = first; v < first + p.vertexCount(); v++) {
                int i = pointOf[each ? v : topology.weldedOf(v)];
                // The heaviest, which comes first, takes what rounding leaves of the sum.
                float others = 0;
                for (int s = 1; s < found.influences() && found.joint(i, s) >= 0; s++) {
                    others += (float) found.weight(i, s);
                }
                for (int s = 0; s < found.influences() && found.joint(i, s) >= 0; s++) {
                    rows.add(found.joint(i, s), s == 0 ? 1 - others : (float) found.weight(i, s));
                }
                rows.endRow();
            }
            primitives.add(p.withInfluences(rows.build()));
            first += p.vertexCount();
        }
        return mesh.withPrimitives(primitives);
    }
}
