package org.cleanmarrow.uv;

import java.util.BitSet;
import java.util.function.IntPredicate;

/**
 * A square picture in texture coordinates that says which of a mesh's triangles are chosen, careful of the others: a texel is
 * set where a chosen triangle touches it and no other comes within a texel of it, so that no other shows any of it when the
 * picture is filtered linearly at its own size. Coordinates beyond 0 to 1 repeat (glTF 2.0, 5.26.3 the usual wrapping).
 *
 * <p>Cost: the texels that the triangles touch.
 */
public final class UvMask {
    /** A triangle over more repeats than these is taken to be everywhere. */
    private static final long MOST_TILES = 4;
    /** Texels that still can be counted. */
    private static final double FAR = 1e15;

    private final int side;
    private final BitSet set;

    private UvMask(int side, BitSet set) {
        this.side = side;
        this.set = set;
    }

    /**
     * @param chosen by the number of a triangle of the layout
     * @param among  triangles of the layout that the picture is shown on
     * @param side   texels of width and of height, at least 1
     */
    public static UvMask of(UvLayout layout, IntPredicate chosen, IntPredicate among, int side) {
        BitSet set = new BitSet(side * side);
        for (boolean of : new boolean[] {true, false}) {
            for (int t = 0; t < layout.triangleCount(); t++) {
                if (among.test(t) && chosen.test(t) == of) {
                    double[] at = texels(layout, t, side);
                    if (of) {
                        each(at, 0, side, i -> {
                            set.set(i);
                            return true;
                        });
                    } else {
                        each(at, 1, side, i -> {
                            set.clear(i);
                            return true;
                        });
                    }
                }
            }
        }
        return new UvMask(side, set);
    }

    public boolean at(int x, int y) {
        return set.get(y * side + x);
    }

    /** True where every texel that a triangle of the layout touches is set. */
    public boolean isWhole(UvLayout layout, int triangle) {
        return each(texels(layout, triangle, side), 0, side, set::get);
    }

    /** The corners in texels, x and y each, turned so that they run one way round. */
    private static double[] texels(UvLayout layout, int t, int side) {
        double[] out = new double[6];
        boolean turned = layout.twiceArea(t) < 0;
        for (int i = 0; i < 3; i++) {
            int c = layout.corners()[3 * t + (turned ? 2 - i : i)];
            for (int k = 0; k < 2; k++) {
                out[2 * i + k] = Math.clamp((double) layout.uv()[2 * c + k] * side, -FAR, FAR);
            }
        }
        return out;
    }

    /**
     * Every texel that a triangle touches, once or more.
     *
     * @param around texels beyond its edge that count as touched
     * @param of     false ends it
     * @return false where one ended it
     */
    private static boolean each(double[] at, int around, int side, IntPredicate of) {
        long left = (long) Math.floor(Math.min(at[0], Math.min(at[2], at[4]))) - around;
        long right = (long) Math.floor(Math.max(at[0], Math.max(at[2], at[4]))) + around;
        long low = (long) Math.floor(Math.min(at[1], Math.min(at[3], at[5]))) - around;
        long high = (long) Math.floor(Math.max(at[1], Math.max(at[3], at[5]))) + around;
        if (right - left > MOST_TILES * side || high - low > MOST_TILES * side) {
            // So often repeated that it touches nearly all, and would take forever.
            for (int i = 0; i < side * side; i++) {
                if (!of.test(i)) {
                    return false;
                }
            }
            return true;
        }
        for (long y = low; y <= high; y++) {
            for (long x = left; x <= right; x++) {
                if (touches(at, x - around, y - around, 1 + 2 * around)
                        && !of.test((int) (Math.floorMod(y, side) * side + Math.floorMod(x, side)))) {
                    return false;
                }
            }
        }
        return true;
    }

    /** Whether a triangle and a square have a point in common; its bounds do already. */
    private static boolean touches(double[] at, double x, double y, double size) {
        for (int i = 0; i < 6; i += 2) {
            int next = (i + 2) % 6;
            double dx = at[next] - at[i];
            double dy = at[next + 1] - at[i + 1];
            // The corner of the square that lies furthest to the inside of this edge.
            double px = dy < 0 ? x + size : x;
            double py = dx > 0 ? y + size : y;
            if (dx * (py - at[i + 1]) - dy * (px - at[i]) < 0) {
                return false;
            }
        }
        return true;
    }
}
