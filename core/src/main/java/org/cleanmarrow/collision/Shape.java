package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.joml.Vector3d;

/** The forms that a collider may have, as {@code KHR_implicit_shapes} and meshes give them; in the collider's frame. */
public sealed interface Shape {
    /** Points around a rim. */
    int AROUND = 32;

    /** What {@code inspect}, steps and words call it. */
    default String kind() {
        return getClass().getSimpleName().toLowerCase(Locale.ROOT);
    }

    /** Cubic units; 0 where it is not closed or not known. */
    double volume();

    /** About the middle of its frame. @param x full size along each axis, above 0 */
    record Box(double x, double y, double z) implements Shape {
        @Override
        public double volume() {
            return x * y * z;
        }
    }

    /** About the middle of its frame. */
    record Sphere(double radius) implements Shape {
        @Override
        public double volume() {
            return 4 * Math.PI / 3 * radius * radius * radius;
        }
    }

    /**
     * Along the second axis, about the middle of its frame: the hull of two spheres.
     *
     * @param bottom radius at the lower end
     * @param top    radius at the upper end
     * @param height between the two middles, 0 or more
     */
    record Capsule(double bottom, double top, double height) implements Shape {
        /** Both ends and the cone between the circles where it touches them. */
        @Override
        public double volume() {
            double wide = Math.max(bottom, top);
            double narrow = Math.min(bottom, top);
            if (height <= wide - narrow) {
                return new Sphere(wide).volume();
            }
            double sine = (wide - narrow) / height;
            double cosine = Math.sqrt(1 - sine * sine);
            double a = wide * cosine;
            double b = narrow * cosine;
            double between = height - wide * sine + narrow * sine;
            return Math.PI / 3 * between * (a * a + a * b + b * b)
                    + cap(wide, wide * (1 + sine))
                    + cap(narrow, narrow * (1 - sine));
        }

        /** A ball cut off at a height. */
        private static double cap(double radius, double height) {
            return Math.PI * height * height * (3 * radius - height) / 3;
        }
    }

    /** Along the second axis, about the middle of its frame; a cone where the radii differ. */
    record Cylinder(double bottom, double top, double height) implements Shape {
        @Override
        public double volume() {
            return Math.PI / 3 * height * (bottom * bottom + bottom * top + top * top);
        }
    }

    /**
     * A surface of its own that is not drawn.
     *
     * @param points    3 numbers each
     * @param triangles 3 corners each, outside where they run against the clock
     * @param convex    the hull of the points counts, not the triangles
     */
    record Solid(float[] points, int[] triangles, boolean convex) implements Shape {
        @Override
        public String kind() {
            return convex ? "hull" : "mesh";
        }

        /** Of the hull of its points where that counts, else what the triangles enclose. */
        @Override
        public double volume() {
            return convex
                    ? Hull.around(this).map(Hull::volume).orElse(0.0)
                    : Math.abs(Hull.of(this).volume());
        }

        Vector3d point(int number) {
            return new Vector3d(points[3 * number], points[3 * number + 1], points[3 * number + 2]);
        }
    }

    /** The mesh of its own node collides as it is drawn. @param convex the hull of it counts */
    record Drawn(boolean convex) implements Shape {
        @Override
        public double volume() {
            return 0;
        }
    }

    /** Points on it by which a move is told, in the collider's frame. */
    default List<Vector3d> marks() {
        List<Vector3d> out = new ArrayList<>();
        switch (this) {
            case Box b -> {
                for (int i = 0; i < 8; i++) {
                    out.add(new Vector3d(
                            (i & 1) == 0 ? -b.x / 2 : b.x / 2,
                            (i & 2) == 0 ? -b.y / 2 : b.y / 2,
                            (i & 4) == 0 ? -b.z / 2 : b.z / 2));
                }
            }
            case Sphere s -> round(out, s.radius, s.radius, 0);
            case Capsule c -> {
                round(out, c.bottom, c.top, c.height);
                out.add(new Vector3d(0, -c.height / 2 - c.bottom, 0));
                out.add(new Vector3d(0, c.height / 2 + c.top, 0));
            }
            case Cylinder c -> round(out, c.bottom, c.top, c.height);
            case Solid s -> {
                for (int i = 0; i < s.points.length / 3; i++) {
                    out.add(s.point(i));
                }
            }
            case Drawn d -> out.add(new Vector3d());
        }
        return out;
    }

    /** Corners and rims whose hull is the shape; of what is round like a ball its marks alone. */
    default List<Vector3d> skin() {
        if (!(this instanceof Cylinder c)) {
            return marks();
        }
        List<Vector3d> out = new ArrayList<>();
        for (int i = 0; i < AROUND; i++) {
            double angle = 2 * Math.PI * i / AROUND;
            out.add(new Vector3d(c.bottom * Math.cos(angle), -c.height / 2, c.bottom * Math.sin(angle)));
            out.add(new Vector3d(c.top * Math.cos(angle), c.height / 2, c.top * Math.sin(angle)));
        }
        return out;
    }

    /** Full extents along the axes of its frame; 0 where it collides as it is drawn. */
    default Vector3d size() {
        return switch (this) {
            case Box b -> new Vector3d(b.x, b.y, b.z);
            case Sphere s -> new Vector3d(2 * s.radius);
            case Capsule c -> {
                double wide = 2 * Math.max(c.bottom, c.top);
                yield new Vector3d(wide, Math.max(wide, c.height + c.bottom + c.top), wide);
            }
            case Cylinder c -> {
                double wide = 2 * Math.max(c.bottom, c.top);
                yield new Vector3d(wide, c.height, wide);
            }
            case Solid s -> {
                Vector3d low = new Vector3d(s.points.length == 0 ? 0 : Double.POSITIVE_INFINITY);
                Vector3d high = new Vector3d(s.points.length == 0 ? 0 : Double.NEGATIVE_INFINITY);
                for (int i = 0; i < s.points.length / 3; i++) {
                    low.min(s.point(i));
                    high.max(s.point(i));
                }
                yield high.sub(low);
            }
            case Drawn d -> new Vector3d();
        };
    }

    private static void round(List<Vector3d> out, double bottom, double top, double height) {
        for (int end = 0; end < 2; end++) {
            double r = end == 0 ? bottom : top;
            double y = end == 0 ? -height / 2 : height / 2;
            out.add(new Vector3d(r, y, 0));
            out.add(new Vector3d(-r, y, 0));
            out.add(new Vector3d(0, y, r));
            out.add(new Vector3d(0, y, -r));
        }
    }
}
