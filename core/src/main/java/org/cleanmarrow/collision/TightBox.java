package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.PlaneHull;
import org.joml.Matrix3d;
import org.joml.Quaterniond;
import org.joml.Quaterniondc;
import org.joml.Vector3d;

/**
 * The smallest box around points, turned as it likes: one side flush with each face of their hull in turn and the smallest
 * rectangle over it (rotating calipers, Freeman and Shapira 1975), the best of them then turned further as long as that
 * makes them smaller, and some turns spread evenly likewise. The smallest of all has two neighbouring sides flush with edges (O'Rourke 1985); what is found is
 * that or close to it.
 *
 * @param sizes full, along the frame's axes
 */
public record TightBox(Frame frame, Vector3d sizes) {
    private static final int COARSE = 64;
    private static final int STARTS = 12;
    private static final int EVEN = 24;
    private static final double FINEST = 1e-4;
    private static final double ROUGH = 4e-3;

    /** Cost: the faces of a coarser hull of at most 64 corners times these, and some looks at all corners. */
    public static TightBox of(Hull hull) {
        Hull coarse = hull.extremes(COARSE).orElse(hull);
        List<Quaterniond> turns = new ArrayList<>();
        turns.add(new Quaterniond());
        for (int t = 0; t < coarse.triangles().length; t += 3) {
            turns.add(flush(coarse, coarse.normal(t)));
        }
        List<Quaterniond> tried = new ArrayList<>(smallest(coarse, turns, STARTS));
        for (int i = 0; i < EVEN; i++) {
            tried.add(new Quaterniond()
                    .rotationTo(new Vector3d(0, 1, 0), Hull.spread(i, EVEN))
                    .rotateY(i));
        }
        List<Quaterniond> starts =
                tried.stream().map(turn -> refined(coarse, turn, ROUGH)).toList();
        Quaterniond best = smallest(hull, starts, 2).stream()
                .map(turn -> refined(hull, turn, FINEST))
                .min(Comparator.comparingDouble(turn -> volume(hull, turn)))
                .orElseThrow();
        return around(hull, best);
    }

    /** From a turn on, turned as long as that makes it smaller. */
    static TightBox near(Hull hull, Quaterniondc turn) {
        return around(hull, refined(hull, new Quaterniond(turn), FINEST));
    }

    private static List<Quaterniond> smallest(Hull hull, List<Quaterniond> turns, int most) {
        double[] volumes = turns.stream().mapToDouble(t -> volume(hull, t)).toArray();
        return IntStream.range(0, volumes.length)
                .boxed()
                .sorted(Comparator.comparingDouble(i -> volumes[i]))
                .limit(most)
                .map(turns::get)
                .toList();
    }

    private static Quaterniond refined(Hull hull, Quaterniond start, double finest) {
        Quaterniond best = new Quaterniond(start);
        double least = volume(hull, best);
        for (double step = 0.1; step > finest; ) {
            boolean better = false;
            for (int axis = 0; axis < 6; axis++) {
                Vector3d about = new Vector3d().setComponent(axis / 2, axis % 2 == 0 ? 1 : -1);
                Quaterniond tried = new Quaterniond(best).rotateAxis(step, about);
                double volume = volume(hull, tried);
                if (volume < least * (1 - 1e-9)) {
                    best = tried;
                    least = volume;
                    better = true;
                }
            }
            step = better ? step : step / 2;
        }
        return best;
    }

    private static double[][] spans(Hull hull, Quaterniond turn) {
        double[][] spans = new double[3][];
        for (int a = 0; a < 3; a++) {
            Vector3d axis = turn.transform(new Vector3d().setComponent(a, 1));
            double low = Double.POSITIVE_INFINITY;
            double high = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < hull.points().length; i += 3) {
                double at = axis.x * hull.points()[i] + axis.y * hull.points()[i + 1] + axis.z * hull.points()[i + 2];
                low = Math.min(low, at);
                high = Math.max(high, at);
            }
            spans[a] = new double[] {low, high};
        }
        return spans;
    }

    private static double volume(Hull hull, Quaterniond turn) {
        Matrix3d axes = turn.get(new Matrix3d());
        double lowX = Double.POSITIVE_INFINITY;
        double lowY = lowX;
        double lowZ = lowX;
        double highX = Double.NEGATIVE_INFINITY;
        double highY = highX;
        double highZ = highX;
        double[] p = hull.points();
        for (int i = 0; i < p.length; i += 3) {
            double x = axes.m00 * p[i] + axes.m01 * p[i + 1] + axes.m02 * p[i + 2];
            double y = axes.m10 * p[i] + axes.m11 * p[i + 1] + axes.m12 * p[i + 2];
            double z = axes.m20 * p[i] + axes.m21 * p[i + 1] + axes.m22 * p[i + 2];
            lowX = Math.min(lowX, x);
            highX = Math.max(highX, x);
            lowY = Math.min(lowY, y);
            highY = Math.max(highY, y);
            lowZ = Math.min(lowZ, z);
            highZ = Math.max(highZ, z);
        }
        return (highX - lowX) * (highY - lowY) * (highZ - lowZ);
    }

    private static TightBox around(Hull hull, Quaterniond turn) {
        double[][] spans = spans(hull, turn);
        Vector3d middle = new Vector3d();
        Vector3d sizes = new Vector3d();
        for (int a = 0; a < 3; a++) {
            middle.setComponent(a, (spans[a][0] + spans[a][1]) / 2);
            sizes.setComponent(a, spans[a][1] - spans[a][0]);
        }
        return new TightBox(Frame.at(turn.transform(middle), turn), sizes);
    }

    /** The turn whose second axis is a direction and whose others lie as the smallest rectangle over it. */
    private static Quaterniond flush(Hull hull, Vector3d up) {
        Quaterniond turn = new Quaterniond().rotationTo(new Vector3d(0, 1, 0), up);
        Quaterniond back = turn.invert(new Quaterniond());
        int n = hull.points().length / 3;
        double[][] flat = new double[n][];
        for (int i = 0; i < n; i++) {
            Vector3d p = back.transform(hull.point(i));
            flat[i] = new double[] {p.x, p.z};
        }
        double[][] ring = PlaneHull.of(flat);
        double best = Double.POSITIVE_INFINITY;
        double angle = 0;
        for (int i = 0; i < ring.length; i++) {
            double[] a = ring[i];
            double[] b = ring[(i + 1) % ring.length];
            double length = Math.hypot(b[0] - a[0], b[1] - a[1]);
            double ux = (b[0] - a[0]) / length;
            double uz = (b[1] - a[1]) / length;
            double along = 0;
            double back0 = 0;
            double across = 0;
            for (double[] p : ring) {
                double s = (p[0] - a[0]) * ux + (p[1] - a[1]) * uz;
                along = Math.max(along, s);
                back0 = Math.min(back0, s);
                across = Math.max(across, Math.abs((p[1] - a[1]) * ux - (p[0] - a[0]) * uz));
            }
            if ((along - back0) * across < best) {
                best = (along - back0) * across;
                angle = Math.atan2(-uz, ux);
            }
        }
        return turn.rotateY(angle);
    }

    public Shape.Box shape() {
        return new Shape.Box(sizes.x, sizes.y, sizes.z);
    }
}
