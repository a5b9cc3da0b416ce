package org.cleanmarrow.measure;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.geometry.SurfaceDistance;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Plays two assets side by side and measures how far their surfaces part.
 *
 * <p>Both are seen in metres and glTF's axes, so that a converted asset equals its source. Poses compared: rest, every
 * morph target by itself, and for every clip both have all {@link Moments}; where nothing but weights differs all trial
 * poses too, half way and whole. Of a long clip of a heavy mesh, few vertices (those that stand out furthest on every
 * joint) are looked at in all moments, and all vertices evenly through the clip and wherever the few part most.
 *
 * <p>Only what is drawn counts. Vertices correspond by number, otherwise by the nearest point of the surface, both ways, and
 * {@code topology} says so. Where both sides have the same points but for an affine map, and the same weights but for the order of joints, and what moves
 * them parts them by less than rounding, that bound stands for all their vertices and none is posed. A number that is not finite on one side alone is infinitely far. Joints of the same name are
 * compared too, with a point beside each that turns with it; where neither side has a mesh they are the figure.
 *
 * <p>Cost: about 60 million vertices a clip on either side at most; what is found does not depend on the number of cores.
 */
public final class MotionProbe {
    /** Vertices of either side that are posed for one clip beyond which moments are thinned. */
    private static final long MOST_POSED = 60_000_000;

    /** What a search for the nearest point costs beside posing a vertex. */
    private static final int NEAREST = 60;

    private static final int LEAST_MOMENTS = 40;
    /** Moments looked at wholly because the few part most there. */
    private static final int WORST = 24;

    private final Side a;
    private final Side b;
    private final MeshPairs meshes;
    private final List<Compared> pairs = new ArrayList<>();
    private final List<Message> unmatched = new ArrayList<>();
    private final JointFacet joints;
    private final List<Facet> facets;
    private final double reach;
    /** What float32 alone can part them by. */
    private final double rounding;

    private final boolean weightsAlone;

    /**
     * @param ofA     vertices that can part
     * @param scoutsA of those, the few that stand for all
     * @param alike   where both are the same but for an affine map and the order of joints
     */
    private record Compared(
            MeshPlace a,
            MeshPlace b,
            int[] ofA,
            int[] ofB,
            int[] scoutsA,
            int[] scoutsB,
            @Nullable Nearest nearest,
            int all,
            @Nullable Alike alike) {}

    /** How points of either side are held against the other; null where that has vertices alone. */
    private record Nearest(
            @Nullable SurfaceDistance there, @Nullable SurfaceDistance back) {
        double[] apart(float[] p, float[] q) {
            double[] there = toSurface(this.there, p, q);
            double[] back = toSurface(this.back, q, p);
            double[] apart = Arrays.copyOf(there, there.length + back.length);
            System.arraycopy(back, 0, apart, there.length, back.length);
            return apart;
        }
    }

    /** @param target morph target that is at one, -1 for none */
    private record Moment(@Nullable Clip a, @Nullable Clip b, double seconds, int target) {}

    private record Found(
            double largest,
            double sum,
            long count,
            @Nullable Compared pair,
            int vertex,
            double joints,
            int joint,
            @Nullable Moment moment) {
        Found withoutSum() {
            return new Found(largest, 0, 0, pair, vertex, joints, joint, moment);
        }
    }

    private MotionProbe(Asset a, Asset b) {
        this.a = new Side(a);
        this.b = new Side(b);
        meshes = new MeshPairs(a, b, this.a.deformer.places(), this.b.deformer.places());
        boolean sameMotion = sameMotion();
        boolean alone = sameMotion && !meshes.pairs.isEmpty();
        for (MeshPairs.Pair pair : meshes.pairs) {
            int[] changed = sameMotion && pair.a().equals(pair.b()) ? changed(pair) : null;
            alone &= changed != null;
            pairs.add(compared(pair, changed));
        }
        weightsAlone = alone;
        unmatched.addAll(meshes.unmatched);
        unmatched.addAll(Structure.joints(a, b));
        reach = Math.max(this.a.reach(), this.b.reach());
        rounding = reach * (0x1p-20 + 0x1p-23 * Math.max(this.a.depth(), this.b.depth()));
        joints = new JointFacet(this.a, this.b, reach);
        AttachedFacet things = new AttachedFacet(this.a, this.b);
        unmatched.addAll(things.unmatched());
        facets = List.of(joints, things);
    }

    /**
     * Compares two assets over rest and all clips they share.
     *
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static Motion compare(Asset a, Asset b, Work work) {
        Threads.begins("the motion probe");
        return a == b ? Motion.NONE : new MotionProbe(a, b).run(work);
    }

    private Compared compared(MeshPairs.Pair pair, int @Nullable [] changed) {
        boolean nearest = meshes.byNearest(pair);
        if (changed != null) {
            int[] some = changed.length <= 4096 ? changed : evenly(changed, 4096);
            return new Compared(pair.a(), pair.b(), changed, changed, some, some, null, pair.ofA().length, null);
        }
        int[] scouts = nearest ? new int[0] : Scouts.of(a, b, pair);
        int[] ofA = Arrays.stream(scouts).map(i -> pair.ofA()[i]).toArray();
        int[] ofB = Arrays.stream(scouts).map(i -> pair.ofB()[i]).toArray();
        Nearest surfaces = nearest ? nearest(pair) : null;
        Alike alike = nearest ? null : Alike.of(a, b, pair).orElse(null);
        return new Compared(pair.a(), pair.b(), pair.ofA(), pair.ofB(), ofA, ofB, surfaces, pair.ofA().length, alike);
    }

    private Nearest nearest(MeshPairs.Pair pair) {
        float[] p = a.positions(pair.a(), a.rig.rest(), a.rest, pair.ofA());
        float[] q = b.positions(pair.b(), b.rig.rest(), b.rest, pair.ofB());
        return new Nearest(surface(b, pair.b(), pair.ofB(), p, q), surface(a, pair.a(), pair.ofA(), q, p));
    }

    /** @param drawn vertices whose places are given, rising */
    private static @Nullable SurfaceDistance surface(
            Side side, MeshPlace place, int[] drawn, float[] points, float[] places) {
        MeshTopology of = MeshTopology.of(side.asset.meshes().get(place.mesh()));
        if (of.corners().length == 0) {
            return null;
        }
        int[] number = new int[of.vertexCount()];
        for (int i = 0; i < drawn.length; i++) {
            number[drawn[i]] = i;
        }
        return new SurfaceDistance(
                Arrays.stream(of.corners()).map(v -> number[v]).toArray(), points, places);
    }

    private static int[] evenly(int[] all, int many) {
        return IntStream.range(0, many)
                .map(i -> all[(int) ((long) i * (all.length - 1) / (many - 1))])
                .toArray();
    }

    /** True where skeleton and clips are the same objects, so that poses of one are poses of the other. */
    private boolean sameMotion() {
        return a.asset.nodes() == b.asset.nodes()
                && a.asset.skins() == b.asset.skins()
                && a.asset.clips() == b.asset.clips()
                && a.asset.attached() == b.asset.attached()
                && a.asset.conventions().equals(b.asset.conventions());
    }

    /**
     * The drawn vertices whose weights differ, where weights are all that can: skeleton, clips and shape are the same
     * objects. Editing weights then costs what was edited, not the whole mesh.
     */
    private int @Nullable [] changed(MeshPairs.Pair pair) {
        List<Primitive> p = a.asset.meshes().get(pair.a().mesh()).primitives();
        List<Primitive> q = b.asset.meshes().get(pair.b().mesh()).primitives();
        if (p.size() != q.size()) {
            return null;
        }
        BitSet drawn = new BitSet();
        Arrays.stream(pair.ofA()).forEach(drawn::set);
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
            for (int v = 0;
                    before != null
                            && after != null
                            && before != after
                            && v < p.get(i).vertexCount();
                    v++) {
                if (drawn.get(first + v) && !before.sameRow(after, v)) {
                    out.add(first + v);
                }
            }
            first += p.get(i).vertexCount();
        }
        return out.build().toArray();
    }

    /** Clips in pairs: by name, those of one name in their order; the one clip that is called as its file, with the other's. */
    private Map<Clip, Clip> clips() {
        Map<String, ArrayDeque<Clip>> byName = new LinkedHashMap<>();
        b.asset
                .clips()
                .forEach(c -> byName.computeIfAbsent(c.name(), k -> new ArrayDeque<>())
                        .add(c));
        Map<Clip, Clip> out = new java.util.IdentityHashMap<>();
        List<Clip> left = new ArrayList<>();
        for (Clip clip : a.asset.clips()) {
            ArrayDeque<Clip> same = byName.getOrDefault(clip.name(), new ArrayDeque<>());
            if (same.isEmpty()) {
                left.add(clip);
            } else {
                out.put(clip, same.poll());
            }
        }
        List<Clip> others = new ArrayList<>();
        byName.values().forEach(others::addAll);
        boolean unnamed = left.size() == 1
                && others.size() == 1
                && isCalledAsFile(left.getFirst(), a.asset)
                && isCalledAsFile(others.getFirst(), b.asset);
        if (unnamed) {
            out.put(left.getFirst(), others.getFirst());
            return out;
        }
        left.forEach(c -> unmatched.add(Message.of("probe.clip.first", c.name())));
        others.forEach(c -> unmatched.add(Message.of("probe.clip.second", c.name())));
        return out;
    }

    /** Formats without names for clips have them called as the file. */
    private static boolean isCalledAsFile(Clip clip, Asset asset) {
        return clip.name().isEmpty() || clip.name().equals(asset.name());
    }

    private Motion run(Work work) {
        List<Moment> still = new ArrayList<>(List.of(new Moment(null, null, 0, -1)));
        int targets = pairs.stream()
                .mapToInt(p -> a.asset.meshes().get(p.a.mesh()).targetCount())
                .max()
                .orElse(0);
        for (int t = 0; t < targets && !weightsAlone; t++) {
            still.add(new Moment(null, null, 0, t));
        }
        if (weightsAlone && pairs.stream().anyMatch(p -> p.ofA.length > 0)) {
            for (TrialPose pose : TrialPoses.of(a.asset)) {
                Clip clip = pose.clip(a.asset);
                still.add(new Moment(clip, clip, 0.5, -1));
                still.add(new Moment(clip, clip, 1, -1));
            }
        }
        Map<Clip, Clip> twins = clips();
        Found total = measured(still, work, 0, 1.0 / (1 + twins.size()));
        long moments = still.size();
        int number = 1;
        for (Clip clip : a.asset.clips()) {
            Clip twin = twins.get(clip);
            if (twin == null) {
                continue;
            }
            List<Moment> all = Arrays.stream(Moments.of(clip, twin))
                    .mapToObj(t -> new Moment(clip, twin, t, -1))
                    .toList();
            List<Moment> whole = weightsAlone ? evenly(all) : whole(all, work);
            double share = 1.0 / (1 + twins.size());
            Found[] each = each(whole, work, number++ * share, share);
            total = worse(total, together(each));
            moments += whole.size();
            if (whole.size() < all.size() && weightsAlone) {
                List<Moment> beside = besideWorst(all, each);
                // For the largest alone: the mean is of what is spread evenly.
                total = worse(
                        total, together(each(beside, work, number * share, 0)).withoutSum());
                moments += beside.size();
            }
        }
        List<Message> structure = new ArrayList<>(meshes.renamed);
        structure.addAll(Structure.of(a.asset, b.asset, meshes));
        turnedOver(structure);
        return motion(total, (int) moments, structure);
    }

    private Motion motion(Found total, int moments, List<Message> structure) {
        boolean byJoints = pairs.isEmpty()
                && a.deformer.places().isEmpty()
                && b.deformer.places().isEmpty();
        double largest = byJoints ? total.joints : total.largest;
        boolean moved = byJoints ? total.joint >= 0 : total.vertex >= 0;
        Moment at = moved && total.moment != null ? total.moment : new Moment(null, null, 0, -1);
        Facet facet = total.joint < joints.size() ? joints : facets.getLast();
        int number = facet == joints ? total.joint : total.joint - joints.size();
        String joint = total.joint < 0 ? "" : facet.name(number);
        return new Motion(
                Stream.concat(meshes.topology.stream(), meshes.unmatched.stream())
                        .findFirst(),
                largest,
                total.count == 0 ? 0 : total.sum / total.count,
                !moved ? "" : byJoints || total.pair == null ? joint : total.pair.a.label(a.asset),
                byJoints ? -1 : total.vertex,
                at.a == null ? "" : at.a.name(),
                at.seconds,
                moments,
                List.copyOf(unmatched),
                structure,
                total.joints,
                joint,
                total.joint < 0 ? Optional.empty() : Optional.of(facet.moved(number, total.joints)),
                rounding);
    }

    /** Of all moments of a clip those where every vertex is looked at. */
    private List<Moment> whole(List<Moment> all, Work work) {
        long vertices = 1
                + pairs.stream()
                        .mapToLong(p -> p.ofA.length * (p.nearest != null ? NEAREST : 1L))
                        .sum();
        int even = (int) Math.clamp(MOST_POSED / vertices, LEAST_MOMENTS, Integer.MAX_VALUE);
        if (all.size() <= even) {
            return all;
        }
        double[] part = new double[all.size()];
        IntStream.range(0, part.length).parallel().forEach(i -> {
            work.stopIfCancelled();
            Found few = measure(all.get(i), true);
            part[i] = Math.max(few.largest, few.joints);
        });
        BitSet chosen = new BitSet();
        for (int i = 0; i < even; i++) {
            chosen.set((int) ((long) i * (all.size() - 1) / (even - 1)));
        }
        IntStream.range(0, part.length)
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -part[i]))
                .limit(WORST)
                .forEach(chosen::set);
        return chosen.stream().mapToObj(all::get).toList();
    }

    /** Every other moment of a long clip; what lies between is looked at where it is worth it. */
    private static List<Moment> evenly(List<Moment> all) {
        return all.size() < 4 * WORST
                ? all
                : IntStream.range(0, (all.size() + 1) / 2)
                        .mapToObj(i -> all.get(2 * i))
                        .toList();
    }

    private static List<Moment> besideWorst(List<Moment> all, Found[] even) {
        BitSet chosen = new BitSet();
        IntStream.range(0, even.length)
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -even[i].largest))
                .limit(WORST)
                .forEach(i -> {
                    chosen.set(Math.max(0, 2 * i - 1));
                    chosen.set(Math.min(all.size() - 1, 2 * i + 1));
                });
        return chosen.stream().mapToObj(all::get).toList();
    }

    private Found measured(List<Moment> moments, Work work, double from, double share) {
        return together(each(moments, work, from, share));
    }

    private Found[] each(List<Moment> moments, Work work, double from, double share) {
        int[] done = {0};
        Found[] found = new Found[moments.size()];
        IntStream.range(0, found.length).parallel().forEach(i -> {
            work.stopIfCancelled();
            found[i] = measure(moments.get(i), false);
            synchronized (done) {
                work.at(from + share * ++done[0] / found.length, "comparing motion");
            }
        });
        return found;
    }

    /** Summed in the order of time, so that the mean has the same bits on any number of cores. */
    private static Found together(Found[] found) {
        return Arrays.stream(found).reduce(new Found(0, 0, 0, null, -1, 0, -1, null), MotionProbe::worse);
    }

    private static Found worse(Found x, Found y) {
        Found top =
                y.largest > x.largest || y.largest == x.largest && y.vertex < 0 && x.vertex < 0 && y.joints > x.joints
                        ? y
                        : x;
        Found swung = y.joints > x.joints ? y : x;
        return new Found(
                top.largest,
                x.sum + y.sum,
                x.count + y.count,
                top.pair,
                top.vertex,
                swung.joints,
                swung.joint,
                top.moment);
    }

    private Found measure(Moment moment, boolean few) {
        // Where only weights differ both sides stand in the same pose.
        Pose poseA = a.pose(moment.a, moment.seconds, moment.target);
        Pose poseB = weightsAlone ? poseA : b.pose(moment.b, moment.seconds, moment.target);
        Matrix4d[] worldA = poseA.world();
        Matrix4d[] worldB = weightsAlone ? worldA : poseB.world();
        Found found = ofFacets(worldA, worldB, moment);
        for (Compared pair : pairs) {
            if (few && pair.nearest != null) {
                continue;
            }
            double most = pair.alike == null ? Double.NaN : pair.alike.most(poseA, poseB, worldA, worldB);
            if (most <= rounding / 4) {
                found = worse(
                        found, new Found(most, most * pair.all, pair.all, null, -1, found.joints, found.joint, moment));
                continue;
            }
            float[] p = a.positions(pair.a, poseA, worldA, few ? pair.scoutsA : pair.ofA);
            float[] q = b.positions(pair.b, poseB, worldB, few ? pair.scoutsB : pair.ofB);
            double[] apart = pair.nearest != null ? pair.nearest.apart(p, q) : byNumber(p, q);
            double largest = 0;
            int vertex = -1;
            double sum = 0;
            for (int v = 0; v < apart.length; v++) {
                sum += apart[v];
                if (apart[v] > largest) {
                    largest = apart[v];
                    // From the second side's vertices there is no number on the first.
                    vertex = v < p.length / 3 ? (few ? pair.scoutsA : pair.ofA)[v] : pair.ofB[v - p.length / 3];
                }
            }
            int all = pair.nearest != null ? apart.length : pair.all;
            found = worse(
                    found,
                    new Found(largest, sum, all, vertex < 0 ? null : pair, vertex, found.joints, found.joint, moment));
        }
        return found;
    }

    /** Everything but vertices. */
    private Found ofFacets(Matrix4d[] worldA, Matrix4d[] worldB, Moment moment) {
        double largest = 0;
        int worst = -1;
        double sum = 0;
        int first = 0;
        for (Facet facet : facets) {
            for (int i = 0; i < facet.size() && !weightsAlone; i++) {
                double apart = facet.apart(i, worldA, worldB);
                sum += facet == joints ? apart : 0;
                if (apart > largest) {
                    largest = apart;
                    worst = first + i;
                }
            }
            first += facet.size();
        }
        boolean figure = pairs.isEmpty();
        return new Found(0, figure ? sum : 0, figure ? joints.size() : 0, null, -1, largest, worst, moment);
    }

    private static double[] byNumber(float[] p, float[] q) {
        double[] apart = new double[p.length / 3];
        for (int v = 0; v < apart.length; v++) {
            double dx = (double) p[v * 3] - q[v * 3];
            double dy = (double) p[v * 3 + 1] - q[v * 3 + 1];
            double dz = (double) p[v * 3 + 2] - q[v * 3 + 2];
            double d = Math.sqrt(dx * dx + dy * dy + dz * dz);
            boolean same = Double.isNaN(d) && Arrays.equals(p, v * 3, v * 3 + 3, q, v * 3, v * 3 + 3);
            apart[v] = !Double.isNaN(d) ? d : same ? 0 : Double.POSITIVE_INFINITY;
        }
        return apart;
    }

    /** Distance of every point to a surface, to its nearest vertex where it has no triangle. */
    private static double[] toSurface(@Nullable SurfaceDistance surface, float[] points, float[] places) {
        if (surface != null) {
            return surface.all(points, places);
        }
        double[] out = new double[points.length / 3];
        PointTree tree = new PointTree(places);
        Arrays.setAll(out, v -> tree.nearestDistance(points[v * 3], points[v * 3 + 1], points[v * 3 + 2]));
        return out;
    }

    /** Triangles whose front shows the other way at rest, though their corners are the same. */
    private void turnedOver(List<Message> out) {
        Pose restA = a.rig.rest();
        Pose restB = b.rig.rest();
        for (Compared pair : pairs) {
            if (pair.nearest != null || weightsAlone) {
                continue;
            }
            int[] p = MeshTopology.of(a.asset.meshes().get(pair.a.mesh())).corners();
            int[] q = MeshTopology.of(b.asset.meshes().get(pair.b.mesh())).corners();
            if (p.length != q.length) {
                continue;
            }
            float[] x = new float[a.deformer.vertexCount(pair.a) * 3];
            float[] y = new float[b.deformer.vertexCount(pair.b) * 3];
            a.deformer.deform(pair.a, restA, a.rest, a.view, x, null, false);
            b.deformer.deform(pair.b, restB, b.rest, b.view, y, null, false);
            double sign = facing(a, pair.a) * facing(b, pair.b);
            int over = 0;
            int counted = 0;
            for (int t = 0; t + 2 < p.length; t += 3) {
                Vector3d m = normal(x, p, t);
                Vector3d n = normal(y, q, t);
                double cos = m.dot(n) / Math.sqrt(m.lengthSquared() * n.lengthSquared());
                if (Math.abs(cos) > 0.5) {
                    counted++;
                    over += cos * sign < 0 ? 1 : 0;
                }
            }
            // A sliver that rounding turns is no fault; one in a hundred is.
            if (over > 0 && over * 100L >= counted) {
                out.add(Message.of("probe.turned.over", pair.a.label(a.asset), over));
            }
        }
    }

    /** glTF 2.0, 3.7.2.1: a transform that mirrors turns the front to the other side. */
    private static double facing(Side side, MeshPlace place) {
        Matrix4d m = new Matrix4d(side.view);
        if (place.skin() < 0) {
            return Math.signum(m.mul(side.rest[place.node()]).determinant3x3());
        }
        var skin = side.asset.skins().get(place.skin());
        return skin.joints().length == 0
                ? 1
                : Math.signum(m.mul(side.rest[skin.joints()[0]])
                        .mul(skin.inverseBind(0))
                        .determinant3x3());
    }

    private static Vector3d normal(float[] x, int[] corners, int t) {
        int a = corners[t] * 3;
        int b = corners[t + 1] * 3;
        int c = corners[t + 2] * 3;
        Vector3d u = new Vector3d((double) x[b] - x[a], (double) x[b + 1] - x[a + 1], (double) x[b + 2] - x[a + 2]);
        Vector3d v = new Vector3d((double) x[c] - x[a], (double) x[c + 1] - x[a + 1], (double) x[c + 2] - x[a + 2]);
        return u.cross(v);
    }
}
