package org.cleanmarrow.desktop.viewport;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.joml.Matrix4f;

/**
 * How near the nearest surface is in every pixel of a picture, so that thousands of vertices are told seen from hidden
 * without a ray each. What it cannot tell, beside an outline, it says so. Linear in triangles and pixels; bands of the
 * picture are drawn on all cores.
 */
final class DepthPicture {
    /** What is known of a point. */
    enum Verdict {
        SEEN,
        HIDDEN,
        UNSURE
    }

    /** Points this share of their distance behind a surface are still on it. */
    private static final float NEAR = 3e-4f;
    /** Points this much behind are surely not; in between a steep surface may hide its own points. */
    private static final float FAR = 0.01f;

    private final int width;
    private final int height;
    private final Matrix4f clip;
    private final Matrix4f view;
    private final boolean parallel;
    /** What grows towards the eye and is linear over a triangle in the picture: 1/w, or z without perspective. */
    private final float[] nearest;

    private volatile boolean whole = true;

    /** A surface in the view's space. */
    record Surface(float[] positions, int[] corners) {}

    DepthPicture(Camera camera, int width, int height, List<Surface> surfaces) {
        this.width = width;
        this.height = height;
        clip = new Matrix4f(camera.projection(width, height).mul(camera.view()));
        view = new Matrix4f(camera.view());
        parallel = camera.parallel();
        nearest = new float[width * height];
        Arrays.fill(nearest, Float.NEGATIVE_INFINITY);
        List<float[]> places =
                surfaces.stream().map(s -> projected(s.positions)).toList();
        int bands = Math.max(1, Math.min(height, Runtime.getRuntime().availableProcessors() * 2));
        IntStream.range(0, bands).parallel().forEach(band -> {
            int top = height * band / bands;
            int end = height * (band + 1) / bands;
            for (int s = 0; s < places.size(); s++) {
                draw(places.get(s), surfaces.get(s).corners, top, end);
            }
        });
    }

    /** x, y in pixels and nearness of every vertex; not-a-number behind the eye. */
    private float[] projected(float[] p) {
        float[] out = new float[p.length];
        IntStream.range(0, (p.length / 3 + 4095) / 4096).parallel().forEach(chunk -> {
            for (int v = chunk * 4096; v < Math.min(p.length / 3, chunk * 4096 + 4096); v++) {
                project(p[v * 3], p[v * 3 + 1], p[v * 3 + 2], out, v * 3);
            }
        });
        return out;
    }

    private void project(float x, float y, float z, float[] out, int at) {
        float w = clip.m03() * x + clip.m13() * y + clip.m23() * z + clip.m33();
        if (!(w > 1e-9f)) {
            out[at] = Float.NaN;
            return;
        }
        float cx = clip.m00() * x + clip.m10() * y + clip.m20() * z + clip.m30();
        float cy = clip.m01() * x + clip.m11() * y + clip.m21() * z + clip.m31();
        out[at] = (cx / w + 1) / 2 * width;
        out[at + 1] = (1 - cy / w) / 2 * height;
        out[at + 2] = parallel ? view.m02() * x + view.m12() * y + view.m22() * z + view.m32() : 1 / w;
    }

    private void draw(float[] p, int[] corners, int top, int end) {
        for (int t = 0; t + 2 < corners.length; t += 3) {
            int a = corners[t] * 3;
            int b = corners[t + 1] * 3;
            int c = corners[t + 2] * 3;
            float ay = p[a + 1];
            float by = p[b + 1];
            float cy = p[c + 1];
            float low = Math.min(ay, Math.min(by, cy));
            float high = Math.max(ay, Math.max(by, cy));
            if (p[a] != p[a] || p[b] != p[b] || p[c] != p[c]) {
                // Partly behind the eye: not drawn, so nothing is surely seen.
                whole = false;
                continue;
            }
            if (high < top || low >= end) {
                continue;
            }
            float area = (p[b] - p[a]) * (cy - ay) - (p[c] - p[a]) * (by - ay);
            if (area == 0) {
                continue;
            }
            int fromX = Math.max(0, (int) Math.ceil(Math.min(p[a], Math.min(p[b], p[c])) - 0.5f));
            int toX = Math.min(width - 1, (int) Math.floor(Math.max(p[a], Math.max(p[b], p[c])) - 0.5f));
            int fromY = Math.max(top, (int) Math.ceil(low - 0.5f));
            int toY = Math.min(end - 1, (int) Math.floor(high - 0.5f));
            for (int y = fromY; y <= toY; y++) {
                for (int x = fromX; x <= toX; x++) {
                    float px = x + 0.5f;
                    float py = y + 0.5f;
                    float u = ((p[b] - px) * (cy - py) - (p[c] - px) * (by - py)) / area;
                    float v = ((p[c] - px) * (ay - py) - (p[a] - px) * (cy - py)) / area;
                    float w = 1 - u - v;
                    if (u >= 0 && v >= 0 && w >= 0) {
                        float near = u * p[a + 2] + v * p[b + 2] + w * p[c + 2];
                        int at = y * width + x;
                        if (near > nearest[at]) {
                            nearest[at] = near;
                        }
                    }
                }
            }
        }
    }

    /** Whether a point on one of the surfaces is seen; unsure beside outlines and outside of the picture. */
    Verdict of(float x, float y, float z) {
        float[] at = new float[3];
        project(x, y, z, at, 0);
        int px = (int) Math.floor(at[0]);
        int py = (int) Math.floor(at[1]);
        if (at[0] != at[0] || px < 1 || py < 1 || px >= width - 1 || py >= height - 1) {
            return Verdict.UNSURE;
        }
        float mine = at[2] + Math.abs(at[2]) * NEAR;
        float surely = at[2] + Math.abs(at[2]) * FAR;
        boolean all = true;
        boolean none = true;
        for (int dy = -1; dy <= 1; dy++) {
            for (int dx = -1; dx <= 1; dx++) {
                float before = nearest[(py + dy) * width + px + dx];
                all &= before > surely;
                none &= !(before > mine);
            }
        }
        return none && whole ? Verdict.SEEN : all ? Verdict.HIDDEN : Verdict.UNSURE;
    }
}
