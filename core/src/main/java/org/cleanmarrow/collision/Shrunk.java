package org.cleanmarrow.collision;

import org.joml.Vector3d;

/** A shape drawn in from one side; what is left lies within what was there. */
final class Shrunk {
    private Shrunk() {}

    /** In how many ways a shape can be drawn in: a box along each of its axes, a capsule in length or all round. */
    static int ways(Shape shape) {
        return switch (shape) {
            case Shape.Box b -> 3;
            case Shape.Capsule k -> 2;
            case Shape.Cylinder k -> 2;
            default -> 1;
        };
    }

    /**
     * @param way  one of those there are
     * @param from where what it must leave lies, seen from its middle, in its node's axes
     * @param by   how much of its extent that way stays, above 0 and at most 1
     */
    static Collider of(Collider c, int way, Vector3d from, double by) {
        if (by >= 1) {
            return c;
        }
        return switch (c.shape()) {
            case Shape.Box b -> {
                Vector3d sizes = new Vector3d(b.x(), b.y(), b.z());
                double cut = sizes.get(way) * (1 - by);
                sizes.setComponent(way, sizes.get(way) * by);
                yield away(c, way, from, cut / 2, new Shape.Box(sizes.x, sizes.y, sizes.z));
            }
            case Shape.Sphere s -> {
                Vector3d back = from.lengthSquared() == 0 ? new Vector3d() : from.normalize(new Vector3d());
                Vector3d centre = new Vector3d(c.at().origin()).fma(-s.radius() * (1 - by), back);
                yield c.withShape(at(c, centre), new Shape.Sphere(s.radius() * by));
            }
            case Shape.Capsule k
            when k.bottom() == k.top() -> {
                double length = (k.height() + 2 * k.bottom()) * by;
                double radius = Math.min(k.bottom(), length / 2);
                double cut = k.height() + 2 * k.bottom() - length;
                yield away(c, 1, from, cut / 2, new Shape.Capsule(radius, radius, Math.max(0, length - 2 * radius)));
            }
            case Shape.Cylinder k
            when k.bottom() == k.top() ->
                away(c, 1, from, k.height() * (1 - by) / 2, new Shape.Cylinder(k.bottom(), k.top(), k.height() * by));
            case Shape.Solid s -> {
                int far = 0;
                for (int i = 1; i < s.points().length / 3; i++) {
                    far = s.point(i).dot(from) < s.point(far).dot(from) ? i : far;
                }
                Vector3d held = s.point(far);
                float[] points = new float[s.points().length];
                for (int i = 0; i < points.length; i++) {
                    points[i] = (float) (held.get(i % 3) + (s.points()[i] - held.get(i % 3)) * by);
                }
                yield c.withShape(c.at(), new Shape.Solid(points, s.triangles(), s.convex()));
            }
            case Shape.Capsule k -> c.withShape(c.at(), new Shape.Capsule(k.bottom() * by, k.top() * by, k.height()));
            case Shape.Cylinder k -> c.withShape(c.at(), new Shape.Cylinder(k.bottom() * by, k.top() * by, k.height()));
            case Shape.Drawn d -> c;
        };
    }

    private static Collider away(Collider c, int axis, Vector3d from, double by, Shape shape) {
        Vector3d along = c.at().axis(axis);
        double side = along.dot(from) < 0 ? 1 : -1;
        return c.withShape(at(c, new Vector3d(c.at().origin()).fma(side * by, along)), shape);
    }

    private static Frame at(Collider c, Vector3d origin) {
        return new Frame(origin, c.at().turn(), c.at().mirrored());
    }
}
