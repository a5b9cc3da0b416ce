package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.geometry.Box;
import org.joml.Vector3d;

/** A picture of triangles without perspective, in which every pixel says which triangle is nearest there. Taken again and again. */
final class IdPicture {
    private final int side;
    private final float[] depth;
    private final int[] ids;
    /** The points as the picture has them: across and up in pixels, then nearness. */
    private double[] at = {};

    private int[] corners = {};
    private boolean[] bothSides = {};

    // What is being filled in: its box of pixels, and the shares of its first and second corner there.
    private int left;
    private int right;
    private int low;
    private int high;
    private double ux;
    private double uy;
    private double vx;
    private double vy;

    /** @param side pixels of width and of height */
    IdPicture(int side) {
        this.side = side;
        depth = new float[side * side];
        ids = new int[depth.length];
    }

    /**
     * Takes the picture anew.
     *
     * @param box       what fills it; what lies before it is drawn too
     * @param to        from there to who looks, of length one
     * @param bothSides by triangle whether it is drawn from behind
     */
    void take(Box box, Vector3d to, float[] points, int[] corners, boolean[] bothSides) {
        this.corners = corners;
        this.bothSides = bothSides;
        Arrays.fill(depth, Float.NEGATIVE_INFINITY);
        Arrays.fill(ids, -1);
        project(box, to, points);
        for (int t = 0; t < corners.length / 3; t++) {
            if (!begin(t)) {
                continue;
            }
            int c = corners[3 * t + 2] * 3;
            double za = at[corners[3 * t] * 3 + 2] - at[c + 2];
            double zb = at[corners[3 * t + 1] * 3 + 2] - at[c + 2];
            for (int y = low; y <= high; y++) {
                double u = ux * (left + 0.5 - at[c]) + uy * (y + 0.5 - at[c + 1]);
                double v = vx * (left + 0.5 - at[c]) + vy * (y + 0.5 - at[c + 1]);
                int pixel = y * side + left;
                boolean inside = false;
                for (int x = left; x <= right; x++, u += ux, v += vx, pixel++) {
                    if (u >= 0 && v >= 0 && u + v <= 1) {
                        inside = true;
                        float z = (float) (u * za + v * zb + at[c + 2]);
                        if (z > depth[pixel]) {
                            depth[pixel] = z;
                            ids[pixel] = t;
                        }
                    } else if (inside) {
                        break;
                    }
                }
            }
        }
    }

    private void project(Box box, Vector3d to, float[] points) {
        Vector3d across = (Math.abs(to.y) < 0.9 ? new Vector3d(0, 1, 0) : new Vector3d(1, 0, 0))
                .cross(to)
                .normalize();
        Vector3d up = to.cross(across, new Vector3d());
        Vector3d centre = box.centre();
        double scale = side / Math.max(box.diagonal(), 1e-12);
        if (at.length != points.length) {
            at = new double[points.length];
        }
        for (int i = 0; i < points.length; i += 3) {
            double x = points[i] - centre.x;
            double y = points[i + 1] - centre.y;
            double z = points[i + 2] - centre.z;
            at[i] = side / 2.0 + scale * (x * across.x + y * across.y + z * across.z);
            at[i + 1] = side / 2.0 + scale * (x * up.x + y * up.y + z * up.z);
            at[i + 2] = x * to.x + y * to.y + z * to.z;
        }
    }

    /** Begins with a triangle; false where it is not in the picture. */
    private boolean begin(int t) {
        int a = corners[3 * t] * 3;
        int b = corners[3 * t + 1] * 3;
        int c = corners[3 * t + 2] * 3;
        // What lies beside the picture goes first: most does.
        if (at[a] < 0 && at[b] < 0 && at[c] < 0
                || at[a] > side && at[b] > side && at[c] > side
                || at[a + 1] < 0 && at[b + 1] < 0 && at[c + 1] < 0
                || at[a + 1] > side && at[b + 1] > side && at[c + 1] > side) {
            return false;
        }
        double area = (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[c] - at[a]) * (at[b + 1] - at[a + 1]);
        if (!(area > 0 || bothSides[t] && area < 0)) {
            return false;
        }
        left = first(Math.min(at[a], Math.min(at[b], at[c])));
        right = last(Math.max(at[a], Math.max(at[b], at[c])));
        low = first(Math.min(at[a + 1], Math.min(at[b + 1], at[c + 1])));
        high = last(Math.max(at[a + 1], Math.max(at[b + 1], at[c + 1])));
        ux = (at[b + 1] - at[c + 1]) / area;
        uy = (at[c] - at[b]) / area;
        vx = (at[c + 1] - at[a + 1]) / area;
        vy = (at[a] - at[c]) / area;
        return true;
    }

    private static int first(double from) {
        return (int) Math.max(0, Math.ceil(from - 0.5));
    }

    private int last(double to) {
        return (int) Math.min(side - 1, Math.floor(to - 0.5));
    }

    /** The triangles of which a pixel is seen. */
    BitSet seen() {
        BitSet out = new BitSet();
        for (int id : ids) {
            if (id >= 0) {
                out.set(id);
            }
        }
        return out;
    }

    /**
     * Of some triangles those of which a pixel is seen, or would be if what is before it ended a pixel earlier: what one just does not
     * see is seen from a little beside.
     */
    BitSet nearlySeen(BitSet asked) {
        BitSet out = new BitSet();
        for (int t = asked.nextSetBit(0); t >= 0; t = asked.nextSetBit(t + 1)) {
            out.set(t, begin(t) && isNearlySeen(t));
        }
        return out;
    }

    private boolean isNearlySeen(int t) {
        int a = corners[3 * t] * 3;
        int b = corners[3 * t + 1] * 3;
        int c = corners[3 * t + 2] * 3;
        for (int y = low; y <= high; y++) {
            for (int x = left; x <= right; x++) {
                double u = ux * (x + 0.5 - at[c]) + uy * (y + 0.5 - at[c + 1]);
                double v = vx * (x + 0.5 - at[c]) + vy * (y + 0.5 - at[c + 1]);
                boolean inside = u >= 0 && v >= 0 && u + v <= 1;
                // Rounded otherwise than when it was drawn, what is seen itself would just miss.
                if (inside && (ids[y * side + x] == t || nearness(a, b, c, u, v) >= farthestAround(x, y))) {
                    return true;
                }
            }
        }
        return false;
    }

    private double nearness(int a, int b, int c, double u, double v) {
        return u * at[a + 2] + v * at[b + 2] + (1 - u - v) * at[c + 2];
    }

    private float farthestAround(int x, int y) {
        float out = Float.POSITIVE_INFINITY;
        for (int j = Math.max(0, y - 1); j <= Math.min(side - 1, y + 1); j++) {
            for (int i = Math.max(0, x - 1); i <= Math.min(side - 1, x + 1); i++) {
                out = Math.min(out, depth[j * side + i]);
            }
        }
        return out;
    }
}
