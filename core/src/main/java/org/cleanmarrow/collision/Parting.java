package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Draws shapes in until none that could meet overlap, at rest and in all clips, looked at four times a frame. Both of a pair
 * are drawn in alike from the side that faces the other, in the way that leaves most of them and as little as will do; since what is left lies within what was there,
 * a pair that is parted stays so.
 *
 * @param asset    with the shapes drawn in
 * @param parted   pairs that overlapped, as they were at their worst
 * @param left     pairs that overlap still: they would have to become thinner than a twentieth
 * @param lost     share of the volume of all solid shapes that is gone
 */
public record Parting(Asset asset, List<Overlaps.Overlap> parted, List<Overlaps.Overlap> left, double lost) {
    private static final int A_FRAME = 4;
    private static final int ROUNDS = 12;
    private static final int KEPT = 60;
    private static final double LEAST = 0.05;
    private static final int HALVINGS = 12;

    /** A little more than needed, so that rounding does not bring them together again. */
    private static final double APART = 1e-4;

    /** Cost: pairs times moments, and for those that overlap a dozen times that. */
    public static Parting of(Asset asset, Work work) {
        Asset now = asset;
        Overlaps overlaps = new Overlaps(asset);
        Map<Overlaps.Pair, List<Overlaps.Overlap>> found =
                overlaps.all(overlaps.pairs(), A_FRAME, KEPT, work.part(0, 0.4));
        List<Overlaps.Overlap> first = overlaps.worst(found);
        for (int round = 0; round < ROUNDS && !found.isEmpty(); round++) {
            List<Collider> colliders = new ArrayList<>(Bodies.colliders(now));
            boolean better = false;
            for (var entry : found.entrySet()) {
                work.stopIfCancelled();
                better |= part(colliders, entry.getKey(), entry.getValue());
            }
            now = with(now, colliders);
            // What does not overlap now never will: only what does is looked at again.
            overlaps = new Overlaps(now);
            double from = 0.4 + 0.6 * round / ROUNDS;
            found = overlaps.all(found.keySet(), A_FRAME, KEPT, work.part(from, from + 0.6 / ROUNDS));
            if (!better) {
                break;
            }
        }
        List<Overlaps.Overlap> left = overlaps.worst(found);
        double before = volume(asset);
        return new Parting(now, first, left, before == 0 ? 0 : 1 - volume(now) / before);
    }

    private static double volume(Asset asset) {
        return Bodies.colliders(asset).stream()
                .mapToDouble(c -> c.shape().volume())
                .sum();
    }

    /** The asset with other colliders in the place of those it has. */
    public static Asset with(Asset asset, List<Collider> colliders) {
        int next = 0;
        List<Attached> all = new ArrayList<>(asset.attached());
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i) instanceof Collider) {
                all.set(i, colliders.get(next++));
            }
        }
        return asset.withAttached(all);
    }

    private static boolean part(List<Collider> all, Overlaps.Pair pair, List<Overlaps.Overlap> moments) {
        Collider a = all.get(pair.a());
        Collider b = all.get(pair.b());
        Vector3d toB = Overlaps.towards(a, b, moments.getFirst().between());
        Vector3d toA = Overlaps.towards(b, a, moments.getFirst().between().invert(new Matrix4d()));
        Collider[] best = {};
        double most = -1;
        for (int way = 0; way < Shrunk.ways(a.shape()); way++) {
            for (int other = 0; other < Shrunk.ways(b.shape()); other++) {
                Both both = new Both(a, way, toB, b, other, toA);
                double by = both.parts(moments);
                double kept = by == 0 ? -1 : both.volume(by);
                if (kept > most) {
                    most = kept;
                    best = both.drawnIn(by * (1 - APART));
                }
            }
        }
        if (best.length == 0) {
            return false;
        }
        all.set(pair.a(), best[0]);
        all.set(pair.b(), best[1]);
        return true;
    }

    /** Two shapes that are drawn in alike, each in one of its ways. */
    private record Both(Collider a, int way, Vector3d toB, Collider b, int other, Vector3d toA) {
        Collider[] drawnIn(double by) {
            return new Collider[] {Shrunk.of(a, way, toB, by), Shrunk.of(b, other, toA, by)};
        }

        /** What is left of both, each as a share of what it was. */
        double volume(double by) {
            Collider[] in = drawnIn(by);
            return share(in[0], a) + share(in[1], b);
        }

        private static double share(Collider is, Collider was) {
            // What is not closed has no volume; any way is as good then.
            return was.shape().volume() > 0 ? is.shape().volume() / was.shape().volume() : 0;
        }

        /** How much may stay so that they meet at none of the moments; 0 where nothing will do. */
        double parts(List<Overlaps.Overlap> moments) {
            double low = LEAST;
            double high = 1;
            if (meet(low, moments)) {
                return 0;
            }
            for (int i = 0; i < HALVINGS; i++) {
                double middle = (low + high) / 2;
                if (meet(middle, moments)) {
                    high = middle;
                } else {
                    low = middle;
                }
            }
            return low;
        }

        private boolean meet(double by, List<Overlaps.Overlap> moments) {
            Collider[] in = drawnIn(by);
            Convex x = Convex.of(in[0]);
            return moments.stream().anyMatch(m -> Convex.meet(x, Convex.of(in[1], m.between())));
        }
    }
}
