package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Where a body shows through what covers it. Looked at are places of the body that, at rest, have the garment above them: straight
 * outwards, not far, a ray comes out through it. Where in a pose none does, and straight inwards, not far, the garment's outside lies, the
 * body stands out by that much. A garment of thickness covers with its outermost layer; where it has merely slid away nothing shows
 * through.
 *
 * <p>Cost: for each pose a tree over the garment and one or two rays a place.
 *
 * @param body    number of the mesh below
 * @param worn    number of the mesh that covers it
 * @param covered places of the body that are covered at rest
 * @param asked   vertices of the body that were looked at: those places, and what stands out amid them already
 * @param moments where anything shows through, the deepest first
 * @param looked  how many moments were looked at
 */
public record PokeThrough(int body, int worn, int covered, BitSet asked, List<Moment> moments, int looked) {
    /** Less than this, in metres, is no more than how roughly surfaces are built. */
    public static final double TOLERANCE_METRES = 0.002;
    /** How far above the body its garment is looked for, and how deep below it, in the size of the body. */
    private static final double REACH = 0.05;

    private static final double DEEPEST = 0.025;
    /** Fewer covered places than this share of the body are no garment. */
    private static final double LEAST_SHARE = 0.01;

    private static final int LEAST_PLACES = 24;
    /** What stands out farther at rest, as a share of the deepest, was never under it. */
    private static final double AT_REST = 0.1;
    /** A sleeve covers the arm, and the arm fills the sleeve: areas within that of each other tell neither from the other. */
    private static final double ALIKE = 2;
    /** How close behind the garment the body's own skin counts, in the reach. */
    private static final double BEYOND = 0.2;

    private static final float TILT = 1e-3f;

    /**
     * When something shows through.
     *
     * @param pose     a trial pose, held; empty where it is a clip or rest
     * @param clip     number of the clip; -1 for a trial pose or rest
     * @param seconds  within the clip
     * @param vertices of the body that stand out
     * @param deepest  by how much, in metres, at most
     */
    public record Moment(Optional<TrialPose> pose, int clip, double seconds, BitSet vertices, double deepest) {}

    /** Told of every place that stands out. */
    @FunctionalInterface
    public interface Found {
        /**
         * @param vertex  of the body, one of those at the place
         * @param depth   in the asset's unit
         * @param corners three vertices of the garment, below which the place should be
         */
        void at(int vertex, double depth, int[] corners);
    }

    /** All pairs of meshes of one skeleton of which one covers the other, with what shows through; those without are left out. */
    public static List<PokeThrough> all(Asset asset, int framesPerClip, Work work) {
        Threads.begins("poke-through");
        List<PokeThrough> out = new ArrayList<>();
        for (Pair pair : pairs(asset, work)) {
            PokeThrough found = pair.find(framesPerClip, (vertex, depth, corners) -> {}, work);
            if (!found.moments.isEmpty()) {
                out.add(found);
            }
        }
        out.sort(Comparator.comparingDouble((PokeThrough p) -> p.moments.getFirst().deepest)
                .reversed());
        return out;
    }

    /** Of each mesh that others of its skeleton cover at rest, their numbers. */
    public static SortedMap<Integer, List<Integer>> coverings(Asset asset, Work work) {
        Threads.begins("poke-through");
        SortedMap<Integer, List<Integer>> out = new TreeMap<>();
        for (Pair pair : pairs(asset, work)) {
            out.computeIfAbsent(pair.bodyMesh, k -> new ArrayList<>()).add(pair.wornMesh);
        }
        return out;
    }

    private static List<Pair> pairs(Asset asset, Work work) {
        List<Integer> meshes = skinned(asset);
        Map<Integer, String> families = LodFamilies.ofMeshes(asset);
        List<Pair> out = new ArrayList<>();
        Deformer deformer = new Deformer(asset);
        for (int i = 0; i < meshes.size(); i++) {
            for (int k = i + 1; k < meshes.size(); k++) {
                work.stopIfCancelled();
                int a = meshes.get(i);
                int b = meshes.get(k);
                boolean levels = families.containsKey(a) && families.get(a).equals(families.get(b));
                if (levels || !skin(asset, a).shares(skin(asset, b))) {
                    continue;
                }
                outer(new Pair(deformer, a, b), new Pair(deformer, b, a)).ifPresent(out::add);
            }
        }
        return out;
    }

    /**
     * What shows through of one mesh.
     *
     * @param framesPerClip looked at beside rest and the trial poses; 0 for none
     * @param found         told of each place in each pose
     * @return empty where the one does not cover the other at all
     */
    public static Optional<PokeThrough> of(Asset asset, int body, int worn, int framesPerClip, Found found, Work work) {
        Threads.begins("poke-through");
        Pair pair = new Pair(new Deformer(asset), body, worn);
        return pair.covers() ? Optional.of(pair.find(framesPerClip, found, work)) : Optional.empty();
    }

    /**
     * What shows through of one mesh in one clip alone, and in no trial pose: for what a cache moves, which follows no joint.
     *
     * @return empty where the one does not cover the other at rest
     */
    public static Optional<PokeThrough> inClip(Asset asset, int body, int worn, int clip, int frames, Work work) {
        Threads.begins("poke-through");
        Pair pair = new Pair(new Deformer(asset), body, worn);
        List<Moment> out = new ArrayList<>();
        return pair.covers()
                ? Optional.of(pair.sorted(out, pair.clip(clip, frames, out, (v, d, c) -> {}, work)))
                : Optional.empty();
    }

    /** The same of vertices that are known to be covered, whatever lies above them now. */
    public static PokeThrough of(
            Asset asset, int body, int worn, BitSet asked, int framesPerClip, Found found, Work work) {
        Threads.begins("poke-through");
        Pair pair = new Pair(new Deformer(asset), body, worn);
        pair.candidates =
                asked.stream().map(pair.body::weldedOf).distinct().sorted().toArray();
        return pair.find(framesPerClip, found, work);
    }

    private static List<Integer> skinned(Asset asset) {
        return IntStream.range(0, asset.meshes().size())
                .filter(m -> asset.skinOfMesh(m) >= 0
                        && asset.meshes().get(m).skinned()
                        && asset.nodes().stream().filter(n -> n.mesh() == m).count() == 1)
                .boxed()
                .toList();
    }

    private static Skin skin(Asset asset, int mesh) {
        return asset.skins().get(asset.skinOfMesh(mesh));
    }

    /** Of two ways round that in which one covers more of the other; where they cover alike, more closely. */
    private static Optional<Pair> outer(Pair one, Pair other) {
        if (!one.covers() || !other.covers()) {
            return one.covers() ? Optional.of(one) : other.covers() ? Optional.of(other) : Optional.empty();
        }
        double ratio = one.area / other.area;
        boolean alike = ratio > 1 / ALIKE && ratio < ALIKE;
        return Optional.of((alike ? one.closeness <= other.closeness : ratio > 1) ? one : other);
    }

    /** A body and a garment. */
    private static final class Pair {
        private final Asset asset;
        private final Rig rig;
        private final Deformer deformer;
        private final @Nullable MeshPlace below;
        private final @Nullable MeshPlace above;
        private final WeldedSurface body;
        private final WeldedSurface worn;
        private final int bodyMesh;
        private final int wornMesh;
        private final float reach;
        private final float deepest;
        private final double metres;
        /** Places of the body that have the garment above them at rest, or stand out of it. */
        private int[] candidates;

        private int covered;
        private double area;
        /** How far above them it is, in the middle. */
        private double closeness = Double.POSITIVE_INFINITY;

        Pair(Deformer deformer, int bodyMesh, int wornMesh) {
            asset = deformer.asset();
            rig = new Rig(asset);
            this.deformer = deformer;
            this.bodyMesh = bodyMesh;
            this.wornMesh = wornMesh;
            Mesh skin = asset.meshes().get(bodyMesh);
            Mesh garment = asset.meshes().get(wornMesh);
            body = MeshTopology.of(skin).welded(skin);
            worn = MeshTopology.of(garment).welded(garment);
            below = place(bodyMesh);
            above = place(wornMesh);
            metres = asset.conventions().metresPerUnit();
            if (below == null || above == null || body.size() == 0 || worn.triangles().length == 0) {
                reach = 0;
                deepest = 0;
                candidates = new int[0];
                return;
            }
            float[] skinAt = posed(below, body, rig.rest());
            float[] wornAt = posed(above, worn, rig.rest());
            Box size = Box.empty();
            size.grow(skinAt);
            reach = (float) (REACH * size.diagonal());
            deepest = (float) (DEEPEST * size.diagonal());
            candidates = apart(skinAt, wornAt) ? new int[0] : atRest(skinAt, wornAt);
        }

        private @Nullable MeshPlace place(int mesh) {
            return deformer.places().stream()
                    .filter(p -> p.mesh() == mesh)
                    .findFirst()
                    .orElse(null);
        }

        private float[] posed(MeshPlace place, WeldedSurface surface, Pose pose) {
            return surface.byWelded(deformer.positions(place, pose));
        }

        private boolean apart(float[] a, float[] b) {
            Box one = Box.empty();
            one.grow(a);
            Box other = Box.empty();
            other.grow(b);
            return one.min().x > other.max().x + reach
                    || one.min().y > other.max().y + reach
                    || one.min().z > other.max().z + reach
                    || other.min().x > one.max().x + reach
                    || other.min().y > one.max().y + reach
                    || other.min().z > one.max().z + reach;
        }

        private int[] atRest(float[] skinAt, float[] wornAt) {
            Look look = new Look(skinAt, wornAt);
            TriangleTree skin = new TriangleTree(body.triangles(), skinAt);
            double[] above = new double[body.size()];
            boolean[] out = new boolean[body.size()];
            IntStream.range(0, body.size()).parallel().forEach(p -> {
                above[p] = look.above(p);
                if (Double.isFinite(above[p]) && look.meetsSkinBeyond(p, above[p], skin)) {
                    // An arm beside a vest looks onto the garment from outside, and through it onto the body.
                    above[p] = Double.POSITIVE_INFINITY;
                }
                TriangleTree.Hit hit = Double.isFinite(above[p]) ? null : look.standsOut(p);
                out[p] = hit != null && hit.distance() < AT_REST * deepest;
            });
            double[] areas = body.areas();
            for (int p = 0; p < above.length; p++) {
                area += Double.isFinite(above[p]) ? areas[p] : 0;
            }
            double[] found =
                    Arrays.stream(above).filter(Double::isFinite).sorted().toArray();
            covered = found.length;
            closeness = covered == 0 ? closeness : found[covered / 2];
            return IntStream.range(0, body.size())
                    .filter(p -> Double.isFinite(above[p]) || out[p] && amid(p, above, out))
                    .toArray();
        }

        /** Whether all around what stands out already is covered or does so too: a collar's edge is meant to lie over the garment. */
        private boolean amid(int place, double[] above, boolean[] out) {
            int[] starts = body.starts();
            for (int e = starts[place]; e < starts[place + 1]; e++) {
                int next = body.neighbours()[e];
                if (!Double.isFinite(above[next]) && !out[next]) {
                    return false;
                }
            }
            return true;
        }

        /** Whether the garment covers enough of the body to be one. */
        boolean covers() {
            return covered >= Math.max(LEAST_PLACES, LEAST_SHARE * body.size());
        }

        PokeThrough find(int framesPerClip, Found found, Work work) {
            List<Moment> out = new ArrayList<>();
            List<TrialPose> trials = TrialPoses.of(asset);
            int looked = 0;
            moment(Optional.empty(), -1, 0, rig.rest(), out, found);
            for (int i = 0; i < trials.size(); i++) {
                work.at(0.5 * i / trials.size(), "");
                work.stopIfCancelled();
                moment(Optional.of(trials.get(i)), -1, 1, rig.at(trials.get(i).clip(asset), 1), out, found);
                looked++;
            }
            for (int c = 0; c < asset.clips().size(); c++) {
                work.at(0.5 + 0.5 * c / asset.clips().size(), "");
                looked += framesPerClip > 0 ? clip(c, framesPerClip, out, found, work) : 0;
            }
            return sorted(out, looked);
        }

        /** @return how many frames were looked at */
        int clip(int number, int frames, List<Moment> out, Found found, Work work) {
            Clip clip = asset.clips().get(number);
            double[] times = Moments.frames(clip, Math.max(2, frames));
            for (double t : times) {
                work.stopIfCancelled();
                moment(Optional.empty(), number, t, rig.at(clip, t), out, found);
            }
            return times.length;
        }

        /** @param looked moments looked at beside rest */
        PokeThrough sorted(List<Moment> out, int looked) {
            out.sort(Comparator.comparingDouble(Moment::deepest).reversed());
            BitSet places = new BitSet();
            Arrays.stream(candidates).forEach(places::set);
            return new PokeThrough(bodyMesh, wornMesh, covered, vertices(places), List.copyOf(out), looked + 1);
        }

        private BitSet vertices(BitSet places) {
            BitSet out = new BitSet();
            int count = asset.meshes().get(bodyMesh).vertexCount();
            for (int v = 0; v < count; v++) {
                out.set(v, places.get(body.weldedOf(v)));
            }
            return out;
        }

        private void moment(
                Optional<TrialPose> trial, int clip, double seconds, Pose pose, List<Moment> out, Found found) {
            Look look = new Look(
                    posed(java.util.Objects.requireNonNull(below), body, pose),
                    posed(java.util.Objects.requireNonNull(above), worn, pose));
            TriangleTree.@Nullable Hit[] hits = new TriangleTree.Hit[candidates.length];
            IntStream.range(0, candidates.length).parallel().forEach(i -> {
                if (look.above(candidates[i]) == Double.POSITIVE_INFINITY) {
                    hits[i] = look.standsOut(candidates[i]);
                }
            });
            BitSet places = new BitSet();
            double most = 0;
            for (int i = 0; i < hits.length; i++) {
                TriangleTree.Hit hit = hits[i];
                if (hit != null && hit.distance() * metres > TOLERANCE_METRES) {
                    places.set(candidates[i]);
                    most = Math.max(most, hit.distance() * metres);
                    int[] corners = new int[3];
                    for (int k = 0; k < 3; k++) {
                        corners[k] = worn.vertexOf(worn.triangles()[hit.triangle() * 3 + k]);
                    }
                    found.at(body.vertexOf(candidates[i]), hit.distance(), corners);
                }
            }
            if (places.isEmpty()) {
                return;
            }
            out.add(new Moment(trial, clip, seconds, vertices(places), most));
        }

        /** One pose. */
        private final class Look {
            private final float[] skinAt;
            private final float[] normals;
            private final float[] facing;
            private final TriangleTree tree;

            Look(float[] skinAt, float[] wornAt) {
                this.skinAt = skinAt;
                normals = body.normals(skinAt);
                tree = new TriangleTree(worn.triangles(), wornAt);
                facing = new float[worn.triangles().length];
                for (int t = 0; t < facing.length / 3; t++) {
                    TriangleNormals.put(worn.triangles(), t * 3, wornAt, facing, t * 3);
                }
            }

            private float[] at(int place) {
                return Arrays.copyOfRange(skinAt, place * 3, place * 3 + 3);
            }

            private float[] way(int place, float sign) {
                return new float[] {
                    sign * normals[place * 3], sign * normals[place * 3 + 1], sign * normals[place * 3 + 2]
                };
            }

            private boolean outwards(int triangle, int place) {
                double dot = 0;
                for (int i = 0; i < 3; i++) {
                    dot += facing[triangle * 3 + i] * normals[place * 3 + i];
                }
                return dot > 0;
            }

            private TriangleTree.@Nullable Hit ray(int place, float sign, float limit) {
                float[] from = at(place);
                float[] way = way(place, sign);
                TriangleTree.Hit hit = tree.nearest(from, way, limit, t -> outwards(t, place));
                if (hit == null) {
                    // Along an edge or through a corner a ray may slip between triangles.
                    way[0] += TILT;
                    way[1] -= TILT / 2;
                    way[2] += TILT / 3;
                    hit = tree.nearest(from, way, limit, t -> outwards(t, place));
                }
                return hit;
            }

            /** How far straight above a place a ray comes out of the garment; infinite where it does not. */
            double above(int place) {
                TriangleTree.Hit hit = ray(place, 1, reach);
                return hit == null ? Double.POSITIVE_INFINITY : hit.distance();
            }

            /** Whether the body's own skin lies close behind where a ray comes out of the garment. */
            boolean meetsSkinBeyond(int place, double above, TriangleTree skin) {
                float[] from = at(place);
                float[] way = way(place, 1);
                for (int i = 0; i < 3; i++) {
                    from[i] += (float) above * way[i];
                }
                return skin.meetsBefore(from, way, (float) (reach * BEYOND));
            }

            /** The outside of the garment straight below a place; null where there is none. */
            TriangleTree.@Nullable Hit standsOut(int place) {
                return ray(place, -1, deepest);
            }
        }
    }
}
