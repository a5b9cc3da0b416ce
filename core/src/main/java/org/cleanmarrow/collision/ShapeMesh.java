package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.List;
import org.joml.Vector3d;

/**
 * A shape as triangles, in its own frame: what is round is cut by {@value #AROUND} planes through its axis and {@value #RINGS}
 * circles at each end, its corners on the surface.
 *
 * @param points    3 numbers each
 * @param triangles 3 corners each, outside where they run against the clock; none where a part collides as it is drawn
 */
public record ShapeMesh(float[] points, int[] triangles) {
    private static final int AROUND = 16;
    private static final int RINGS = 4;

    public static ShapeMesh of(Shape shape) {
        return switch (shape) {
            case Shape.Solid s when !s.convex() -> new ShapeMesh(s.points(), s.triangles());
            case Shape.Sphere s -> turned(capsule(s.radius(), s.radius(), 0));
            case Shape.Capsule c -> turned(capsule(c.bottom(), c.top(), c.height()));
            case Shape.Cylinder c ->
                turned(List.of(
                        new double[] {0, -c.height() / 2},
                        new double[] {c.bottom(), -c.height() / 2},
                        new double[] {c.top(), c.height() / 2},
                        new double[] {0, c.height() / 2}));
            case Shape.Drawn d -> new ShapeMesh(new float[0], new int[0]);
            default -> hull(shape.skin());
        };
    }

    private static ShapeMesh hull(List<Vector3d> skin) {
        double[] points = skin.stream()
                .flatMapToDouble(p -> java.util.stream.DoubleStream.of(p.x, p.y, p.z))
                .toArray();
        return Hull.of(points)
                .map(h -> new ShapeMesh(h.shape().points(), h.triangles()))
                .orElseGet(() -> new ShapeMesh(new float[0], new int[0]));
    }

    /** The outline of half a capsule from the lower pole up, radius and height. */
    private static List<double[]> capsule(double bottom, double top, double height) {
        double wide = Math.max(bottom, top);
        double lean = height <= Math.abs(bottom - top) ? 0 : Math.asin((bottom - top) / height);
        if (height > 0 && height <= Math.abs(bottom - top)) {
            double middle = bottom > top ? -height / 2 : height / 2;
            return capsule(wide, wide, 0).stream()
                    .map(p -> new double[] {p[0], p[1] + middle})
                    .toList();
        }
        List<double[]> out = new ArrayList<>();
        for (int i = 0; i <= RINGS; i++) {
            double angle = -Math.PI / 2 + (Math.PI / 2 + lean) * i / RINGS;
            out.add(new double[] {bottom * Math.cos(angle), -height / 2 + bottom * Math.sin(angle)});
        }
        for (int i = height > 0 ? 0 : 1; i <= RINGS; i++) {
            double angle = lean + (Math.PI / 2 - lean) * i / RINGS;
            out.add(new double[] {top * Math.cos(angle), height / 2 + top * Math.sin(angle)});
        }
        out.getFirst()[0] = 0;
        out.getLast()[0] = 0;
        return out;
    }

    /** An outline turned about the second axis; its first and last point lie on it. */
    private static ShapeMesh turned(List<double[]> outline) {
        int rings = outline.size() - 2;
        float[] points = new float[3 * (2 + rings * AROUND)];
        points[1] = (float) outline.getFirst()[1];
        points[4] = (float) outline.getLast()[1];
        int[] triangles = new int[3 * 2 * AROUND * rings];
        int n = 0;
        for (int r = 0; r < rings; r++) {
            for (int i = 0; i < AROUND; i++) {
                double angle = 2 * Math.PI * i / AROUND;
                int v = 2 + r * AROUND + i;
                points[3 * v] = (float) (outline.get(r + 1)[0] * Math.cos(angle));
                points[3 * v + 1] = (float) outline.get(r + 1)[1];
                points[3 * v + 2] = (float) (outline.get(r + 1)[0] * Math.sin(angle));
                int next = 2 + r * AROUND + (i + 1) % AROUND;
                if (r == 0) {
                    n = triangle(triangles, n, 0, v, next);
                }
                if (r + 1 < rings) {
                    n = triangle(triangles, n, v, v + AROUND, next);
                    n = triangle(triangles, n, next, v + AROUND, next + AROUND);
                } else {
                    n = triangle(triangles, n, v, 1, next);
                }
            }
        }
        return new ShapeMesh(points, triangles);
    }

    private static int triangle(int[] into, int at, int a, int b, int c) {
        into[at] = a;
        into[at + 1] = b;
        into[at + 2] = c;
        return at + 3;
    }
}
