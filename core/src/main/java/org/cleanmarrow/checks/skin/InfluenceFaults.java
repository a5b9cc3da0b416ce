package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.IntPredicate;
import java.util.function.Predicate;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Patches of a skin that follow a joint they have nothing to do with.
 *
 * <p>Suspected is every patch where a joint is felt that does not hang together with the joint's home, the patch nearest to
 * its bone. Found is a suspect whose removal moves it visibly in some clip or trial pose, and lowers the strain of the
 * surface there: a natural blend stretches more without the joint, a slip of the brush less. A piece that is wholly on
 * the joint has no strain of its own; there the gap to what it lies on is looked at.
 *
 * <p>Suspected too is all that a joint moves, where it is little, far from its bone and near another's. Where weights are
 * strewn all over nothing is suspected.
 *
 * <p>Cost: posing the suspects alone, in at most {@value #MOST_POSES} poses; at most {@value #MOST} suspects a mesh, the
 * most suspicious first.
 */
final class InfluenceFaults {
    private static final float FELT = 0.02f;
    /** A vertex follows a joint plainly from here on. */
    private static final float PLAIN = 0.05f;
    /** What moves less than this share of the mesh's size nobody sees. */
    private static final double SEEN = 0.005;
    /** How much of the strain must be left at most for the removal to have mended something. */
    private static final double MENDED = 0.85;

    /** A piece this near to another, as a share of the size, lies on it. */
    private static final double TOUCHING = 0.02;

    /** Even all that a joint moves does not belong to it as far from its bone as this share of the size. */
    private static final double ASTRAY = 0.2;

    /** Weights as uneven as this are strewn all over: joints have no homes, and nothing is cut off from one. */
    private static final double STREWN = 0.3;

    private static final int MOST = 64;
    private static final int MOST_POSES = 36;
    private static final int PROBED = 64;

    private static final Kept<List<Fault>> KEPT = new Kept<>(32);

    /**
     * One fault.
     *
     * @param vertices of the mesh
     * @param moved    joint that moves most of what is around; -1 where none does
     * @param own      true where the joint's home is on the same piece, so that this is an island beside it
     * @param travel   how far the removal moves it at most, in metres
     * @param fix      the removal that was tried
     */
    record Fault(int mesh, int joint, BitSet vertices, int moved, boolean own, double travel, RemoveInfluence fix) {}

    /** A patch of one joint, by places of the welded surface. */
    private record Patch(int joint, BitSet places, double weight, double distance) {}

    private final Asset asset;
    private final int number;
    private final Mesh mesh;
    private final Skin skin;
    private final WeldedSurface surface;
    private final Influences rows;
    private final Bones bones;
    private final int[] standing;
    private final double size;
    private final Deformer plain;
    private @Nullable PointTree tree;
    private final List<Fault> found = new ArrayList<>();
    private final Map<Integer, List<Patch>> byJoint = new HashMap<>();

    private InfluenceFaults(Asset asset, int number) {
        this.asset = asset;
        this.number = number;
        mesh = asset.meshes().get(number);
        skin = asset.skins().get(asset.skinOfMesh(number));
        surface = MeshTopology.of(mesh).welded(mesh);
        rows = WeldedWeights.of(mesh, surface);
        bones = Bones.bound(asset, skin);
        standing = new int[surface.size()];
        for (int v = mesh.vertexCount() - 1; v >= 0; v--) {
            standing[surface.weldedOf(v)] = v;
        }
        Box box = Box.empty();
        box.grow(surface.positions());
        size = box.diagonal();
        plain = new Deformer(asset);
    }

    /**
     * Findings of a check, one for each fault; they are looked for once, whichever check asks first, until something changes that they depend on.
     *
     * @param own only those whose joint's home is on the same piece, or only the others
     */
    static List<Finding> findings(Check check, Examination examination, boolean own) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (Fault fault : ofAll(asset)) {
            if (fault.own == own) {
                String name = asset.meshRef(fault.mesh);
                int many = fault.vertices.cardinality();
                String moved = fault.moved < 0 ? "–" : asset.nodeRef(fault.moved);
                out.add(Finding.of(
                                check, Severity.CAUTION, "", name, many, many, name, asset.nodeRef(fault.joint), moved)
                        .at(Finding.Place.mesh(fault.mesh, fault.vertices).withNode(fault.joint))
                        .fixedBy(fault.fix));
            }
        }
        return out;
    }

    private static List<Fault> ofAll(Asset asset) {
        List<Object> read = Kept.posed(asset, asset.clips());
        return KEPT.of(read, () -> found(asset));
    }

    private static List<Fault> found(Asset asset) {
        List<Fault> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (SkinnedMeshes.isSkinned(asset, m)) {
                out.addAll(of(asset, m));
            }
        }
        return out;
    }

    /** All faults of a skinned mesh, those that would move furthest first. */
    private static List<Fault> of(Asset asset, int mesh) {
        InfluenceFaults faults = new InfluenceFaults(asset, mesh);
        faults.run();
        return faults.found;
    }

    private void run() {
        if (unevenness() > STREWN) {
            return;
        }
        List<Patch> suspects = suspects();
        if (suspects.isEmpty() || !(size > 0)) {
            return;
        }
        List<Pose> poses = poses();
        List<Matrix4d[]> worlds = poses.stream().map(Pose::world).toList();
        for (Patch suspect : suspects) {
            judge(suspect, suspects, poses, worlds);
        }
        found.sort(Comparator.comparingDouble(Fault::travel).reversed());
    }

    /** Mean over the edges of the share of weight that differs between their ends. */
    private double unevenness() {
        double sum = 0;
        double[] at = new double[skin.joints().length];
        for (int p = 0; p < surface.size(); p++) {
            fill(at, p, true);
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                int q = surface.neighbours()[e];
                double alike = 0;
                for (int i = rows.offsets()[q]; i < rows.offsets()[q + 1]; i++) {
                    alike += Math.min(rows.weights()[i], at[rows.joints()[i]]);
                }
                sum += 1 - alike;
            }
            fill(at, p, false);
        }
        return surface.neighbours().length == 0 ? 0 : sum / surface.neighbours().length;
    }

    private void fill(double[] at, int place, boolean with) {
        for (int i = rows.offsets()[place]; i < rows.offsets()[place + 1]; i++) {
            at[rows.joints()[i]] = with ? rows.weights()[i] : 0;
        }
    }

    private List<Patch> suspects() {
        BitSet[] felt = new BitSet[skin.joints().length];
        Arrays.setAll(felt, j -> new BitSet());
        for (int p = 0; p < rows.vertexCount(); p++) {
            for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                if (rows.weights()[i] > FELT) {
                    felt[rows.joints()[i]].set(p);
                }
            }
        }
        List<Patch> out = new ArrayList<>();
        for (int j = 0; j < felt.length; j++) {
            List<Patch> patches = patches(felt[j], j);
            byJoint.put(j, patches);
            if (patches.isEmpty()) {
                continue;
            }
            Patch home = home(patches);
            double heaviest = patches.stream().mapToDouble(Patch::weight).max().orElse(0);
            for (Patch patch : patches) {
                // What weighs as much as the home is a second home unless it lies far away.
                double further = patch.weight > 0.6 * heaviest ? 3 : 1.15;
                boolean off = patch == home
                        ? isAstray(patch)
                        : patch.distance > further * Math.max(home.distance, 0.01 * size);
                if (off) {
                    out.add(patch);
                }
            }
        }
        // A little weight far away matters as much as a lot near by.
        out.sort(Comparator.comparingDouble((Patch p) -> -p.distance * p.weight / p.places.cardinality()));
        if (out.isEmpty()) {
            return out;
        }
        tree = new PointTree(surface.positions());
        return out.stream().limit(MOST).filter(p -> !isHeld(p)).toList();
    }

    /** All that a joint moves, and yet far from its bone, near another's, and little: a part put onto an idle joint. */
    private boolean isAstray(Patch patch) {
        if (patch.distance < ASTRAY * size || patch.places.cardinality() > surface.size() / 8) {
            return false;
        }
        float[] x = surface.positions();
        Vector3d middle = new Vector3d();
        patch.places.stream().forEach(p -> middle.add(x[p * 3], x[p * 3 + 1], x[p * 3 + 2]));
        middle.div(patch.places.cardinality());
        for (int j = 0; j < skin.joints().length; j++) {
            if (j != patch.joint && bones.distance(j, middle) < 0.3 * bones.distance(patch.joint, middle)) {
                return true;
            }
        }
        return false;
    }

    private int near(int place, double within, IntPredicate allowed) {
        float[] x = surface.positions();
        return Objects.requireNonNull(tree).nearest(x[place * 3], x[place * 3 + 1], x[place * 3 + 2], within, allowed);
    }

    private int island(Patch patch) {
        return surface.islandOf(patch.places.nextSetBit(0));
    }

    /**
     * Whether a patch lies on what its joint moves as much: the end of a strap that follows the hips it is tied to. What
     * lies beside it, nearer to the bone, has then half of its weights or more.
     */
    private boolean isHeld(Patch patch) {
        float[] x = surface.positions();
        BitSet nearer = new BitSet();
        Objects.requireNonNull(byJoint.get(patch.joint)).stream()
                .filter(p -> p.distance < patch.distance)
                .forEach(p -> nearer.or(p.places));
        double own = 0;
        double shared = 0;
        int[] all = patch.places.stream().toArray();
        int step = Math.max(1, all.length / 256);
        for (int i = 0; i < all.length; i += step) {
            int p = all[i];
            double w = rows.weight(p, patch.joint);
            int nearest = near(p, TOUCHING * size, nearer::get);
            own += w * w;
            shared += nearest >= 0 ? w * Math.min(w, rows.weight(nearest, patch.joint)) : 0;
        }
        return shared > 0.5 * own;
    }

    /** The patch nearest to the bone, of those that weigh enough to be one: the less, the nearer they are. */
    private static Patch home(List<Patch> patches) {
        double heaviest = patches.stream().mapToDouble(Patch::weight).max().orElse(0);
        Patch of = nearest(patches, p -> p.weight >= 0.1 * heaviest);
        return nearest(patches, p -> p == of || p.weight * of.distance >= 0.5 * heaviest * p.distance);
    }

    private static Patch nearest(List<Patch> patches, Predicate<Patch> allowed) {
        return patches.stream()
                .filter(allowed)
                .min(Comparator.comparingDouble(Patch::distance))
                .orElseThrow();
    }

    private List<Patch> patches(BitSet felt, int joint) {
        List<Patch> out = new ArrayList<>();
        boolean[] seen = new boolean[surface.size()];
        int[] stack = new int[felt.cardinality()];
        float[] x = surface.positions();
        for (int from = felt.nextSetBit(0); from >= 0; from = felt.nextSetBit(from + 1)) {
            if (seen[from]) {
                continue;
            }
            BitSet patch = new BitSet();
            int depth = 0;
            stack[depth++] = from;
            seen[from] = true;
            double weight = 0;
            double distance = 0;
            while (depth > 0) {
                int p = stack[--depth];
                patch.set(p);
                double w = rows.weight(p, joint);
                weight += w;
                distance += w * bones.distance(joint, new Vector3d(x[p * 3], x[p * 3 + 1], x[p * 3 + 2]));
                for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                    int next = surface.neighbours()[e];
                    if (felt.get(next) && !seen[next]) {
                        seen[next] = true;
                        stack[depth++] = next;
                    }
                }
            }
            out.add(new Patch(joint, patch, weight, distance / weight));
        }
        return out;
    }

    private List<Pose> poses() {
        Rig rig = new Rig(asset);
        List<Pose> out = new ArrayList<>();
        int clips = asset.clips().size();
        int each = clips == 0 ? 0 : Math.clamp(24 / clips, 1, 5);
        for (Clip clip : asset.clips()) {
            for (int i = 0; i < each && out.size() < 24; i++) {
                out.add(rig.at(clip, clip.start() + clip.seconds() * (i + 0.5) / each));
            }
        }
        for (TrialPose pose : TrialPoses.of(asset)) {
            if (out.size() < MOST_POSES) {
                out.add(rig.at(pose.clip(asset), 1));
            }
        }
        return out;
    }

    private RemoveInfluence fix(Patch suspect) {
        String joint = asset.nodeRef(skin.joints()[suspect.joint]);
        return new RemoveInfluence(
                asset.meshRef(number), joint, VertexSet.chosen(mesh, vertices(suspect)), Optional.empty(), "", true);
    }

    private BitSet vertices(Patch suspect) {
        BitSet out = new BitSet();
        for (int v = 0, many = mesh.vertexCount(); v < many; v++) {
            out.set(v, suspect.places.get(surface.weldedOf(v)));
        }
        return out;
    }

    private void judge(Patch suspect, List<Patch> suspects, List<Pose> poses, List<Matrix4d[]> worlds) {
        Region region = new Region(suspect);
        if (region.edges.length == 0
                || region.whole
                        && Objects.requireNonNull(byJoint.get(suspect.joint)).size() == 1) {
            return;
        }
        RemoveInfluence fix = fix(suspect);
        Asset without;
        Asset bare = asset;
        Asset barer;
        try {
            without = fix.apply(asset, Work.QUIET).asset();
            // Two joints that leak together hide each other: one taken off, the other takes its share.
            for (Patch other : suspects) {
                if (other.joint != suspect.joint && other.places.intersects(suspect.places)) {
                    bare = fix(other).apply(bare, Work.QUIET).asset();
                }
            }
            barer = bare == asset ? without : fix.apply(bare, Work.QUIET).asset();
        } catch (Refused e) {
            return;
        }
        double scale = scale(region);
        Tried alone = tried(region, asset, without, poses, worlds, scale);
        Tried tried = alone.mends() || bare == asset ? alone : tried(region, bare, barer, poses, worlds, scale);
        if (tried.travel >= SEEN * size * scale && tried.mends()) {
            found.add(new Fault(
                    number,
                    skin.joints()[suspect.joint],
                    plain(vertices(suspect), suspect.joint),
                    region.mover(),
                    !region.whole && isHomeOn(suspect),
                    tried.travel * asset.conventions().metresPerUnit(),
                    fix));
        }
    }

    /** What a removal did: how far it moved the patch at most, and the strain with and without the joint. */
    private record Tried(double travel, double strained, double left) {
        boolean mends() {
            return left < MENDED * strained;
        }
    }

    private Tried tried(
            Region region, Asset with, Asset without, List<Pose> poses, List<Matrix4d[]> worlds, double scale) {
        Deformer was = with == asset ? plain : new Deformer(with);
        Deformer is = new Deformer(without);
        MeshPlace place = place(was);
        float[] before = new float[region.vertices.length * 3];
        float[] after = new float[before.length];
        double travel = 0;
        double strained = 0;
        double left = 0;
        for (int i = 0; i < poses.size(); i++) {
            was.deformSome(place, poses.get(i), worlds.get(i), new Matrix4d(), region.vertices, before);
            is.deformSome(place, poses.get(i), worlds.get(i), new Matrix4d(), region.vertices, after);
            for (int k : region.ownAt) {
                travel = Math.max(travel, apart(before, k, after, k));
            }
            strained += region.strain(before, scale);
            left += region.strain(after, scale);
        }
        return new Tried(travel, strained, left);
    }

    private MeshPlace place(Deformer deformer) {
        return deformer.places().stream()
                .filter(p -> p.mesh() == number && p.skin() >= 0)
                .findFirst()
                .orElseThrow();
    }

    /** Of a patch the vertices that plainly follow its joint, all where none does so. */
    private BitSet plain(BitSet vertices, int joint) {
        BitSet out = new BitSet();
        vertices.stream()
                .filter(v -> rows.weight(surface.weldedOf(v), joint) > PLAIN)
                .forEach(out::set);
        return out.isEmpty() ? vertices : out;
    }

    /** How much larger the mesh stands in the world than in its own space. */
    private double scale(Region region) {
        float[] at = new float[region.vertices.length * 3];
        Pose rest = new Rig(asset).rest();
        plain.deformSome(place(plain), rest, rest.world(), new Matrix4d(), region.vertices, at);
        double world = 0;
        double own = 0;
        for (int e = 0; e + 1 < region.edges.length; e += 2) {
            world += apart(at, region.edges[e], at, region.edges[e + 1]);
            own += region.lengths[e / 2];
        }
        return own > 0 && world > 0 ? world / own : 1;
    }

    private boolean isHomeOn(Patch suspect) {
        int island = island(suspect);
        int main = -1;
        double most = 0;
        Map<Integer, Double> byShell = new HashMap<>();
        for (int p = 0; p < rows.vertexCount(); p++) {
            double w = rows.weight(p, suspect.joint);
            if (w > FELT) {
                double sum = byShell.merge(surface.islandOf(p), w, Double::sum);
                if (sum > most) {
                    most = sum;
                    main = surface.islandOf(p);
                }
            }
        }
        return main == island;
    }

    private static double apart(float[] a, int i, float[] b, int k) {
        double x = (double) a[i * 3] - b[k * 3];
        double y = (double) a[i * 3 + 1] - b[k * 3 + 1];
        double z = (double) a[i * 3 + 2] - b[k * 3 + 2];
        return Math.sqrt(x * x + y * y + z * z);
    }

    /** A patch with what lies beside it, and the edges whose lengths tell whether it belongs there. */
    private final class Region {
        final int[] vertices;
        final int[] edges;
        final double[] lengths;
        /** Where the patch's own vertices lie among {@link #vertices}. */
        final int[] ownAt;

        final boolean whole;
        private final Patch patch;
        private final BitSet beside = new BitSet();

        Region(Patch patch) {
            this.patch = patch;
            List<int[]> pairs = new ArrayList<>();
            for (int p = patch.places.nextSetBit(0); p >= 0; p = patch.places.nextSetBit(p + 1)) {
                for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                    int q = surface.neighbours()[e];
                    if (!patch.places.get(q)) {
                        beside.set(q);
                        pairs.add(new int[] {p, q});
                    } else if (q > p) {
                        pairs.add(new int[] {p, q});
                    }
                }
            }
            whole = beside.isEmpty();
            if (whole) {
                pairs = gaps();
            }
            BitSet all = new BitSet();
            for (int[] pair : pairs) {
                all.set(standing[pair[0]]);
                all.set(standing[pair[1]]);
            }
            BitSet mine = new BitSet();
            patch.places.stream().forEach(p -> mine.set(standing[p]));
            all.or(mine);
            vertices = all.stream().toArray();
            Map<Integer, Integer> index = new HashMap<>();
            for (int i = 0; i < vertices.length; i++) {
                index.put(vertices[i], i);
            }
            ownAt = mine.stream().map(index::get).toArray();
            edges = new int[pairs.size() * 2];
            lengths = new double[pairs.size()];
            float[] x = surface.positions();
            for (int i = 0; i < lengths.length; i++) {
                int p = pairs.get(i)[0];
                int q = pairs.get(i)[1];
                edges[i * 2] = Objects.requireNonNull(index.get(standing[p]));
                edges[i * 2 + 1] = Objects.requireNonNull(index.get(standing[q]));
                lengths[i] = apart(x, p, x, q);
            }
        }

        /** Of a piece that is wholly the joint's: from some of its places to the nearest that are not on it. */
        private List<int[]> gaps() {
            float[] x = surface.positions();
            int island = island(patch);
            int[] places = patch.places.stream().toArray();
            List<int[]> out = new ArrayList<>();
            for (int i = 0; i < Math.min(PROBED, places.length); i++) {
                int p = places[(int) ((long) i * places.length / Math.min(PROBED, places.length))];
                int q = near(p, 0.05 * size, other -> surface.islandOf(other) != island);
                if (q < 0) {
                    continue;
                }
                if (apart(x, p, x, q) < 0.03 * size && rows.weight(q, patch.joint) > 0.3) {
                    // It is held by what the joint moves.
                    return List.of();
                }
                beside.set(q);
                out.add(new int[] {p, q});
            }
            return out.size() * 2 < Math.min(PROBED, places.length) ? List.of() : out;
        }

        /** Sum over edges of the square of what they are longer or shorter than at rest, in shares; gaps by the size. */
        double strain(float[] at, double scale) {
            double sum = 0;
            double least = whole ? 0.02 * size : 1e-6 * size;
            for (int e = 0; e < lengths.length; e++) {
                double rest = Math.max(lengths[e], least) * scale;
                double now = apart(at, edges[e * 2], at, edges[e * 2 + 1]);
                double off = (now - lengths[e] * scale) / rest;
                sum += off * off;
            }
            return sum;
        }

        /** The joint that moves most of what lies beside the patch. */
        int mover() {
            double[] sums = new double[skin.joints().length];
            for (int p = beside.nextSetBit(0); p >= 0; p = beside.nextSetBit(p + 1)) {
                for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                    sums[rows.joints()[i]] += rows.weights()[i];
                }
            }
            for (int p = patch.places.nextSetBit(0); p >= 0; p = patch.places.nextSetBit(p + 1)) {
                for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                    sums[rows.joints()[i]] += rows.joints()[i] == patch.joint ? 0 : rows.weights()[i];
                }
            }
            int best = -1;
            for (int j = 0; j < sums.length; j++) {
                best = j != patch.joint && sums[j] > 0 && (best < 0 || sums[j] > sums[best]) ? j : best;
            }
            return best < 0 ? -1 : skin.joints()[best];
        }
    }
}
