package org.cleanmarrow.probe;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.PointGrid;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Plays two assets side by side and measures how far their surfaces part.
 *
 * <p>Both are seen in metres and glTF's axes, so that a converted asset equals its source. Poses compared: rest,
 * and for every clip both have by name the union of their key times, the midpoints between, and a fixed rate of
 * 30 a second; at most {@value #MOST_MOMENTS} a clip, evenly thinned; where nothing but weights differs all trial poses
 * too, half way and whole. Vertices correspond by number where the
 * meshes have the same counts; otherwise by the nearest vertex, both ways, and {@code topology} says so. Where neither
 * side has a mesh, the joints of the same name are compared in the vertices' stead.
 */
public final class MotionProbe {
    private static final int MOST_MOMENTS = 600;
    private static final double FIXED_RATE = 30;

    private final Side a;
    private final Side b;
    private final List<Pair> pairs = new ArrayList<>();
    private final List<String> unmatched = new ArrayList<>();
    /** Nodes of both sides that are compared where there is no mesh, in pairs. */
    private final List<int[]> joints = new ArrayList<>();

    private String topology = "same";

    /** @param changed the only vertices that can part, rising; null: all can */
    private record Pair(MeshPlace a, MeshPlace b, boolean sameCount, int[] changed) {}

    private record Moment(Clip a, Clip b, double seconds) {}

    private record Found(double largest, double sum, long count, Pair pair, int vertex, Moment moment) {}

    private static final class Side {
        final Asset asset;
        final Rig rig;
        final Deformer deformer;
        final Matrix4d view;

        Side(Asset asset) {
            this.asset = asset;
            rig = new Rig(asset);
            deformer = new Deformer(asset);
            view = Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        }

        float[] positions(MeshPlace place, Pose pose, Matrix4d[] world, int[] some) {
            float[] out = new float[(some == null ? deformer.vertexCount(place) : some.length) * 3];
            if (some == null) {
                deformer.deform(place, pose, world, view, out, null, false);
            } else {
                deformer.deformSome(place, pose, world, view, some, out);
            }
            return out;
        }

        Pose pose(Clip clip, double seconds) {
            return clip == null ? rig.rest() : rig.at(clip, seconds);
        }
    }

    private MotionProbe(Asset a, Asset b) {
        this.a = new Side(a);
        this.b = new Side(b);
        pairMeshes();
        if (this.a.deformer.places().isEmpty() && this.b.deformer.places().isEmpty()) {
            pairJoints();
        }
    }

    /**
     * Compares two assets over rest and all clips they share.
     *
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static Motion compare(Asset a, Asset b, Work work) {
        if (a == b) {
            return new Motion("same", 0, 0, "", -1, "", 0, 1, List.of());
        }
        return new MotionProbe(a, b).run(work);
    }

    private void pairMeshes() {
        Map<String, List<MeshPlace>> byLabel = new HashMap<>();
        for (MeshPlace place : b.deformer.places()) {
            byLabel.computeIfAbsent(place.label(b.asset), k -> new ArrayList<>())
                    .add(place);
        }
        List<MeshPlace> leftA = new ArrayList<>();
        for (MeshPlace place : a.deformer.places()) {
            List<MeshPlace> same = byLabel.get(place.label(a.asset));
            if (same != null && !same.isEmpty()) {
                // A mesh that stands in several places: that at the node of the same name.
                String node = a.asset.nodes().get(place.node()).name();
                MeshPlace twin = same.stream()
                        .filter(p -> b.asset.nodes().get(p.node()).name().equals(node))
                        .findFirst()
                        .orElse(same.getFirst());
                same.remove(twin);
                pair(place, twin);
            } else {
                leftA.add(place);
            }
        }
        List<MeshPlace> leftB = new ArrayList<>(b.deformer.places().stream()
                .filter(p -> byLabel.get(p.label(b.asset)).contains(p))
                .toList());
        // Renamed parts still correspond when they are the only ones of their size.
        for (MeshPlace place : leftA) {
            int count = a.deformer.vertexCount(place);
            Optional<MeshPlace> twin = leftB.stream()
                    .filter(p -> b.deformer.vertexCount(p) == count)
                    .findFirst();
            if (twin.isPresent()) {
                pair(place, twin.get());
                leftB.remove(twin.get());
            } else {
                differ("mesh " + place.label(a.asset) + " is only in the first");
            }
        }
        leftB.forEach(p -> differ("mesh " + p.label(b.asset) + " is only in the second"));
    }

    private void pairJoints() {
        boolean[] joint = a.asset.jointFlags();
        String[] names = a.asset.nodeRefs();
        Map<String, Integer> others = new HashMap<>();
        String[] refs = b.asset.nodeRefs();
        for (int n = 0; n < refs.length; n++) {
            others.put(refs[n], n);
        }
        for (int n = 0; n < joint.length; n++) {
            Integer twin = joint[n] ? others.get(names[n]) : null;
            if (twin != null) {
                joints.add(new int[] {n, twin});
            } else if (joint[n]) {
                differ("joint " + names[n] + " is only in the first");
            }
        }
    }

    private void differ(String what) {
        unmatched.add(what);
        if (topology.equals("same")) {
            topology = what;
        }
    }

    private void pair(MeshPlace x, MeshPlace y) {
        int countA = a.deformer.vertexCount(x);
        int countB = b.deformer.vertexCount(y);
        if (countA == 0 || countB == 0) {
            if (countA != countB) {
                differ("mesh " + x.label(a.asset) + " has " + countA + " vertices against " + countB);
            }
            return;
        }
        pairs.add(new Pair(x, y, countA == countB, changed(x, y)));
        if (countA != countB) {
            differ("mesh " + x.label(a.asset) + " has " + countA + " vertices against " + countB
                    + "; compared by nearest vertex, both ways");
        } else if (triangles(a.asset, x) != triangles(b.asset, y)) {
            differ("mesh " + x.label(a.asset) + " has " + triangles(a.asset, x) + " triangles against "
                    + triangles(b.asset, y));
        }
    }

    /** True where skeleton and clips are the same objects, so that poses of one are poses of the other. */
    private boolean sameMotion() {
        return a.asset.nodes() == b.asset.nodes()
                && a.asset.skins() == b.asset.skins()
                && a.asset.clips() == b.asset.clips()
                && a.asset.conventions().equals(b.asset.conventions());
    }

    /**
     * The vertices whose weights differ, where weights are all that can: skeleton, clips and shape are the same
     * objects. Editing weights then costs what was edited, not the whole mesh.
     */
    private int[] changed(MeshPlace x, MeshPlace y) {
        boolean sameMotion = sameMotion() && x.equals(y);
        List<Primitive> p = a.asset.meshes().get(x.mesh()).primitives();
        List<Primitive> q = b.asset.meshes().get(y.mesh()).primitives();
        if (!sameMotion || p.size() != q.size()) {
            return null;
        }
        IntStream.Builder out = IntStream.builder();
        int first = 0;
        for (int i = 0; i < p.size(); i++) {
            Influences before = p.get(i).influences();
            Influences after = q.get(i).influences();
            boolean sameShape = p.get(i).positions() == q.get(i).positions()
                    && p.get(i).targets() == q.get(i).targets();
            if (!sameShape || (before == null) != (after == null)) {
                return null;
            }
            for (int v = 0; before != after && v < p.get(i).vertexCount(); v++) {
                if (!before.sameRow(after, v)) {
                    out.add(first + v);
                }
            }
            first += p.get(i).vertexCount();
        }
        return out.build().toArray();
    }

    private static int triangles(Asset asset, MeshPlace place) {
        return asset.meshes().get(place.mesh()).primitives().stream()
                .map(Primitive::triangleCorners)
                .mapToInt(c -> c.length / 3)
                .sum();
    }

    private List<Moment> moments() {
        List<Moment> moments = new ArrayList<>();
        moments.add(new Moment(null, null, 0));
        for (int c = 0; c < a.asset.clips().size(); c++) {
            Clip clipA = a.asset.clips().get(c);
            Clip clipB = twin(clipA, c);
            if (clipB == null) {
                unmatched.add("clip " + clipA.name() + " is only in the first");
                continue;
            }
            for (double seconds : times(clipA, clipB)) {
                moments.add(new Moment(clipA, clipB, seconds));
            }
        }
        for (Clip clip : b.asset.clips()) {
            if (a.asset.clips().stream().noneMatch(x -> x.name().equals(clip.name()))) {
                unmatched.add("clip " + clip.name() + " is only in the second");
            }
        }
        if (sameMotion() && pairs.stream().anyMatch(p -> p.changed != null && p.changed.length > 0)) {
            for (TrialPose pose : TrialPoses.of(a.asset)) {
                Clip clip = pose.clip(a.asset);
                moments.add(new Moment(clip, clip, 0.5));
                moments.add(new Moment(clip, clip, 1));
            }
        }
        return moments;
    }

    private Clip twin(Clip clip, int index) {
        List<Clip> others = b.asset.clips();
        // Files may hold several clips of one name; then they correspond by order.
        if (index < others.size() && others.get(index).name().equals(clip.name())) {
            return others.get(index);
        }
        return others.stream()
                .filter(o -> o.name().equals(clip.name()))
                .findFirst()
                .orElse(null);
    }

    private static double[] times(Clip a, Clip b) {
        TreeSet<Double> times = new TreeSet<>();
        a.keyTimes().forEach(t -> times.add((double) t));
        b.keyTimes().forEach(t -> times.add((double) t));
        if (times.isEmpty()) {
            return new double[0];
        }
        double first = times.first();
        double last = times.last();
        Double before = null;
        for (Double t : List.copyOf(times)) {
            if (before != null) {
                times.add((before + t) / 2);
            }
            before = t;
        }
        long steps = (long) Math.min(4.0 * MOST_MOMENTS, (last - first) * FIXED_RATE);
        for (long i = 1; i < steps; i++) {
            times.add(first + i / FIXED_RATE);
        }
        double[] all = times.stream().mapToDouble(Double::doubleValue).toArray();
        if (all.length <= MOST_MOMENTS) {
            return all;
        }
        return IntStream.range(0, MOST_MOMENTS)
                .mapToDouble(i -> all[(int) ((long) i * (all.length - 1) / (MOST_MOMENTS - 1))])
                .toArray();
    }

    private Motion run(Work work) {
        List<Moment> moments = moments();
        int[] done = {0};
        Found total = IntStream.range(0, moments.size())
                .parallel()
                .mapToObj(i -> {
                    work.stopIfCancelled();
                    Found found = measure(moments.get(i));
                    synchronized (done) {
                        work.at(++done[0] / (double) moments.size(), "comparing motion");
                    }
                    return found;
                })
                .reduce(new Found(0, 0, 0, null, -1, null), MotionProbe::worse);
        boolean moved = total.vertex >= 0;
        Moment at = moved ? total.moment : moments.getFirst();
        return new Motion(
                topology,
                total.largest,
                total.count == 0 ? 0 : total.sum / total.count,
                !moved
                        ? ""
                        : total.pair == null
                                ? a.asset.nodeRef(joints.get(total.vertex)[0])
                                : total.pair.a.label(a.asset),
                total.pair == null ? -1 : total.vertex,
                at.a == null ? "" : at.a.name(),
                at.seconds,
                moments.size(),
                List.copyOf(unmatched));
    }

    private static Found worse(Found x, Found y) {
        Found top = y.largest > x.largest ? y : x;
        return new Found(top.largest, x.sum + y.sum, x.count + y.count, top.pair, top.vertex, top.moment);
    }

    private Found measure(Moment moment) {
        // Where only weights differ both sides stand in the same pose.
        boolean samePose = !pairs.isEmpty() && pairs.stream().allMatch(pair -> pair.changed != null);
        Pose poseA = a.pose(moment.a, moment.seconds);
        Pose poseB = samePose ? poseA : b.pose(moment.b, moment.seconds);
        Matrix4d[] worldA = poseA.world();
        Matrix4d[] worldB = samePose ? worldA : poseB.world();
        Found found = ofJoints(worldA, worldB, moment);
        for (Pair pair : pairs) {
            float[] p = a.positions(pair.a, poseA, worldA, pair.changed);
            float[] q = b.positions(pair.b, poseB, worldB, pair.changed);
            double[] apart = pair.sameCount ? byNumber(p, q) : nearestBothWays(p, q);
            double largest = 0;
            int vertex = -1;
            double sum = 0;
            for (int v = 0; v < apart.length; v++) {
                sum += apart[v];
                // A number that is not finite is as far off as can be, and is said so by the checks.
                if (apart[v] > largest) {
                    largest = apart[v];
                    vertex = pair.changed == null ? v : pair.changed[v];
                }
            }
            int all = pair.changed == null ? apart.length : a.deformer.vertexCount(pair.a);
            found = worse(found, new Found(largest, sum, all, vertex < 0 ? null : pair, vertex, moment));
        }
        return found;
    }

    private Found ofJoints(Matrix4d[] worldA, Matrix4d[] worldB, Moment moment) {
        double largest = 0;
        double sum = 0;
        int worst = -1;
        for (int i = 0; i < joints.size(); i++) {
            Vector3d p = a.view.transformPosition(worldA[joints.get(i)[0]].getTranslation(new Vector3d()));
            Vector3d q = b.view.transformPosition(worldB[joints.get(i)[1]].getTranslation(new Vector3d()));
            double apart = p.distance(q);
            sum += apart;
            if (apart > largest) {
                largest = apart;
                worst = i;
            }
        }
        return new Found(largest, sum, joints.size(), null, worst, moment);
    }

    private static double[] byNumber(float[] p, float[] q) {
        double[] apart = new double[p.length / 3];
        for (int v = 0; v < apart.length; v++) {
            apart[v] = distance(p, v, q, v);
        }
        return apart;
    }

    private static double distance(float[] p, int i, float[] q, int j) {
        double dx = (double) p[i * 3] - q[j * 3];
        double dy = (double) p[i * 3 + 1] - q[j * 3 + 1];
        double dz = (double) p[i * 3 + 2] - q[j * 3 + 2];
        double d = Math.sqrt(dx * dx + dy * dy + dz * dz);
        return Double.isNaN(d) ? 0 : d;
    }

    private static double[] nearestBothWays(float[] p, float[] q) {
        PointGrid ofQ = new PointGrid(q);
        PointGrid ofP = new PointGrid(p);
        int n = p.length / 3;
        double[] apart = new double[n + q.length / 3];
        for (int v = 0; v < n; v++) {
            apart[v] = ofQ.nearestDistance(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
        }
        for (int v = n; v < apart.length; v++) {
            int at = (v - n) * 3;
            apart[v] = ofP.nearestDistance(q[at], q[at + 1], q[at + 2]);
        }
        return apart;
    }
}
