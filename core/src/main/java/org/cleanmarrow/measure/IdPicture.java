package org.cleanmarrow.measure;

import java.util.Arrays;
import org.cleanmarrow.geometry.Box;
import org.joml.Vector3d;

/** A picture of triangles without perspective, in which every pixel says which triangle is nearest there. */
final class IdPicture {
    private final int side;
    private final Vector3d across;
    private final Vector3d up;
    private final Vector3d to;
    private final Vector3d centre;
    private final double scale;
    private final float[] depth;
    private final int[] ids;

    /**
     * @param side pixels of width and of height
     * @param box  what fills it; what lies before it is drawn too
     * @param to   from there to who looks, of length one
     */
    IdPicture(int side, Box box, Vector3d to) {
        this.side = side;
        this.to = to;
        across = (Math.abs(to.y) < 0.9 ? new Vector3d(0, 1, 0) : new Vector3d(1, 0, 0))
                .cross(to)
                .normalize();
        up = to.cross(across, new Vector3d());
        centre = box.centre();
        scale = side / Math.max(box.diagonal(), 1e-12);
        depth = new float[side * side];
        Arrays.fill(depth, Float.NEGATIVE_INFINITY);
        ids = new int[depth.length];
        Arrays.fill(ids, -1);
    }

    /** @param bothSides by triangle whether it is drawn from behind */
    void draw(float[] points, int[] corners, boolean[] bothSides) {
        double[] at = new double[points.length];
        for (int i = 0; i < points.length; i += 3) {
            double x = points[i] - centre.x;
            double y = points[i + 1] - centre.y;
            double z = points[i + 2] - centre.z;
            at[i] = side / 2.0 + scale * (x * across.x + y * across.y + z * across.z);
            at[i + 1] = side / 2.0 + scale * (x * up.x + y * up.y + z * up.z);
            at[i + 2] = x * to.x + y * to.y + z * to.z;
        }
        for (int t = 0; t < corners.length; t += 3) {
            fill(at, corners[t] * 3, corners[t + 1] * 3, corners[t + 2] * 3, bothSides[t / 3], t / 3);
        }
    }

    private void fill(double[] at, int a, int b, int c, boolean bothSides, int id) {
        // What lies beside the picture goes first: most does.
        if (at[a] < 0 && at[b] < 0 && at[c] < 0
                || at[a] > side && at[b] > side && at[c] > side
                || at[a + 1] < 0 && at[b + 1] < 0 && at[c + 1] < 0
                || at[a + 1] > side && at[b + 1] > side && at[c + 1] > side) {
            return;
        }
        double area = (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[c] - at[a]) * (at[b + 1] - at[a + 1]);
        if (!(area > 0 || bothSides && area < 0)) {
            return;
        }
        int left = first(Math.min(at[a], Math.min(at[b], at[c])));
        int right = last(Math.max(at[a], Math.max(at[b], at[c])));
        int low = first(Math.min(at[a + 1], Math.min(at[b + 1], at[c + 1])));
        int high = last(Math.max(at[a + 1], Math.max(at[b + 1], at[c + 1])));
        // Shares of the first and second corner, and the steps of them from pixel to pixel.
        double ux = (at[b + 1] - at[c + 1]) / area;
        double uy = (at[c] - at[b]) / area;
        double vx = (at[c + 1] - at[a + 1]) / area;
        double vy = (at[a] - at[c]) / area;
        for (int y = low; y <= high; y++) {
            double u = ux * (left + 0.5 - at[c]) + uy * (y + 0.5 - at[c + 1]);
            double v = vx * (left + 0.5 - at[c]) + vy * (y + 0.5 - at[c + 1]);
            for (int x = left; x <= right; x++, u += ux, v += vx) {
                if (u >= 0 && v >= 0 && u + v <= 1) {
                    float z = (float) (u * at[a + 2] + v * at[b + 2] + (1 - u - v) * at[c + 2]);
                    int pixel = y * side + x;
                    if (z > depth[pixel]) {
                        depth[pixel] = z;
                        ids[pixel] = id;
                    }
                }
            }
        }
    }

    private static int first(double from) {
        return (int) Math.max(0, Math.ceil(from - 0.5));
    }

    private int last(double to) {
        return (int) Math.min(side - 1, Math.floor(to - 0.5));
    }

    /** Says of every triangle that a pixel shows that it is seen; of the others nothing. */
    void markSeen(boolean[] seen) {
        for (int id : ids) {
            if (id >= 0) {
                seen[id] = true;
            }
        }
    }
}
