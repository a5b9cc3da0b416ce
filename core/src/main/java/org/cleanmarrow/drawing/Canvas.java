package org.cleanmarrow.drawing;

import java.util.Arrays;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.picture.Srgb;
import org.jspecify.annotations.Nullable;

/** Pixels with a depth each, onto which triangles are drawn; the nearest stays. x to the right, y up, z to the onlooker. */
final class Canvas {
    private static final int PAPER = 0xFBF8F2;
    private static final int INK = 0x23201D;
    /** Where light comes from, and how much there is of it in the shade. */
    private static final double[] LIGHT = {-0.36, 0.56, 0.746};

    private static final double SHADE = 0.45;

    private final int width;
    private final int height;
    private final double scale;
    private final float[] depth;
    private final int[] rgb;

    /** @param scale pixels a metre */
    Canvas(int width, int height, double scale) {
        this.width = width;
        this.height = height;
        this.scale = scale;
        depth = new float[width * height];
        Arrays.fill(depth, Float.NEGATIVE_INFINITY);
        rgb = new int[width * height];
        Arrays.fill(rgb, PAPER);
    }

    /** What a triangle is painted with: colours of its corners, or a factor and a texture at its corners' coordinates. */
    static final class Paint {
        private final float[] base;
        private final Pixels.@Nullable Some texture;
        private final float[] uv;
        private final int @Nullable [] corners;

        /** @param base linear red, green, blue */
        Paint(float[] base, Pixels.@Nullable Some texture, float @Nullable [] coordinates, int a, int b, int c) {
            this.base = base;
            this.texture = coordinates == null ? null : texture;
            uv = coordinates == null
                    ? new float[6]
                    : new float[] {
                        coordinates[2 * a],
                        coordinates[2 * a + 1],
                        coordinates[2 * b],
                        coordinates[2 * b + 1],
                        coordinates[2 * c],
                        coordinates[2 * c + 1]
                    };
            corners = null;
        }

        Paint(int a, int b, int c) {
            base = new float[3];
            texture = null;
            uv = new float[6];
            corners = new int[] {a, b, c};
        }

        /** Linear red, green and blue where the corners have these shares. */
        private void at(double a, double b, double c, double[] out) {
            for (int k = 0; k < 3; k++) {
                int shift = 16 - 8 * k;
                if (corners != null) {
                    double mixed = a * (corners[0] >> shift & 0xFF)
                            + b * (corners[1] >> shift & 0xFF)
                            + c * (corners[2] >> shift & 0xFF);
                    out[k] = Srgb.linear(mixed / 255);
                } else {
                    out[k] = base[k];
                }
            }
            if (texture != null) {
                int x = wrapped(a * uv[0] + b * uv[2] + c * uv[4], texture.width());
                int y = wrapped(a * uv[1] + b * uv[3] + c * uv[5], texture.height());
                int pixel = texture.argb()[y * texture.width() + x];
                for (int k = 0; k < 3; k++) {
                    out[k] *= Srgb.linear((pixel >> 16 - 8 * k & 0xFF) / 255.0);
                }
            }
        }

        private static int wrapped(double coordinate, int size) {
            double share = coordinate - Math.floor(coordinate);
            return (int) Math.min(size - 1.0, share * size);
        }
    }

    void triangle(float[] p, float[] n, int a, int b, int c, Paint paint) {
        double ax = width / 2.0 + p[3 * a] * scale;
        double ay = height / 2.0 - p[3 * a + 1] * scale;
        double bx = width / 2.0 + p[3 * b] * scale;
        double by = height / 2.0 - p[3 * b + 1] * scale;
        double cx = width / 2.0 + p[3 * c] * scale;
        double cy = height / 2.0 - p[3 * c + 1] * scale;
        double area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
        if (!(Math.abs(area) > 1e-9) || !Double.isFinite(area)) {
            return;
        }
        int left = (int) Math.max(0, Math.ceil(Math.min(ax, Math.min(bx, cx)) - 0.5));
        int right = (int) Math.min(width - 1.0, Math.floor(Math.max(ax, Math.max(bx, cx)) - 0.5));
        int top = (int) Math.max(0, Math.ceil(Math.min(ay, Math.min(by, cy)) - 0.5));
        int bottom = (int) Math.min(height - 1.0, Math.floor(Math.max(ay, Math.max(by, cy)) - 0.5));
        double[] colour = new double[3];
        for (int y = top; y <= bottom; y++) {
            for (int x = left; x <= right; x++) {
                double px = x + 0.5;
                double py = y + 0.5;
                double wa = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / area;
                double wb = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / area;
                double wc = 1 - wa - wb;
                if (wa < 0 || wb < 0 || wc < 0) {
                    continue;
                }
                float z = (float) (wa * p[3 * a + 2] + wb * p[3 * b + 2] + wc * p[3 * c + 2]);
                int at = y * width + x;
                if (!(z > depth[at])) {
                    continue;
                }
                depth[at] = z;
                paint.at(wa, wb, wc, colour);
                rgb[at] = lit(colour, light(p, n, a, b, c, wa, wb, wc));
            }
        }
    }

    private static double light(float[] p, float[] n, int a, int b, int c, double wa, double wb, double wc) {
        double x = wa * n[3 * a] + wb * n[3 * b] + wc * n[3 * c];
        double y = wa * n[3 * a + 1] + wb * n[3 * b + 1] + wc * n[3 * c + 1];
        double z = wa * n[3 * a + 2] + wb * n[3 * b + 2] + wc * n[3 * c + 2];
        double length = Math.sqrt(x * x + y * y + z * z);
        if (!(length > 1e-12)) {
            // No normals: that of the triangle.
            double ux = (double) p[3 * b] - p[3 * a];
            double uy = (double) p[3 * b + 1] - p[3 * a + 1];
            double uz = (double) p[3 * b + 2] - p[3 * a + 2];
            double vx = (double) p[3 * c] - p[3 * a];
            double vy = (double) p[3 * c + 1] - p[3 * a + 1];
            double vz = (double) p[3 * c + 2] - p[3 * a + 2];
            x = uy * vz - uz * vy;
            y = uz * vx - ux * vz;
            z = ux * vy - uy * vx;
            length = Math.sqrt(x * x + y * y + z * z);
        }
        double facing = z < 0 ? -1 : 1;
        double shine = facing * (x * LIGHT[0] + y * LIGHT[1] + z * LIGHT[2]) / Math.max(1e-30, length);
        return SHADE + (1 - SHADE) * Math.max(0, shine);
    }

    private static int lit(double[] linear, double light) {
        int out = 0;
        for (double part : linear) {
            out = out << 8 | (int) Math.round(255 * Srgb.encoded(part * light));
        }
        return out;
    }

    /** Draws a bar of a round length at the lower left, at most a third of the width, and says how long it is in metres. */
    double bar(int fine) {
        double most = width / 3.0 / scale;
        double ten = Math.pow(10, Math.floor(Math.log10(most)));
        double metres = most >= 5 * ten ? 5 * ten : most >= 2 * ten ? 2 * ten : ten;
        int margin = 8 * fine;
        int end = margin + (int) Math.round(metres * scale);
        for (int y = height - margin - 2 * fine; y < height - margin; y++) {
            Arrays.fill(rgb, y * width + margin, y * width + end, INK);
        }
        return metres;
    }

    /** Each pixel the mean of so many each way. */
    Pixels.Some shrunk(int fine) {
        int w = width / fine;
        int h = height / fine;
        int[] out = new int[w * h];
        for (int i = 0; i < out.length; i++) {
            int[] sum = new int[3];
            for (int k = 0; k < fine * fine; k++) {
                int pixel = rgb[(i / w * fine + k / fine) * width + i % w * fine + k % fine];
                for (int c = 0; c < 3; c++) {
                    sum[c] += pixel >> 16 - 8 * c & 0xFF;
                }
            }
            int many = fine * fine;
            out[i] = 0xFF000000
                    | (sum[0] + many / 2) / many << 16
                    | (sum[1] + many / 2) / many << 8
                    | (sum[2] + many / 2) / many;
        }
        return new Pixels.Some(w, h, out);
    }
}
