package org.cleanmarrow.cloth;

import java.util.Optional;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Hull;
import org.cleanmarrow.collision.Shape;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * A convex shape that cloth bumps into, as it moves from one frame to the next. In metres of the world. A surface that is not
 * convex counts as its hull.
 *
 * <p>Not for several threads.
 */
final class Obstacle {
    private final Shape shape;
    private final double[][] planes;
    private final Matrix4d stands;
    private final double friction;
    private final double reach;
    private final Vector3d middle;

    private final Vector3d from = new Vector3d();
    private final Vector3d to = new Vector3d();
    private final Quaterniond fromTurn = new Quaterniond();
    private final Quaterniond toTurn = new Quaterniond();
    /** Where what it belongs to was mirrored: its first axis points the other way. */
    private boolean mirrored;

    private final Matrix4d before = new Matrix4d();
    private final Matrix4d now = new Matrix4d();
    private final Matrix4d back = new Matrix4d();
    private final Vector3d ball = new Vector3d();
    private final Vector3d p = new Vector3d();
    private final Vector3d out = new Vector3d();

    private Obstacle(Collider collider, Shape shape, double[][] planes) {
        this.shape = shape;
        this.planes = planes;
        stands = collider.at().matrix();
        friction = collider.surface().dynamicFriction();
        Vector3d sum = new Vector3d();
        shape.marks().forEach(sum::add);
        middle = sum.div(shape.marks().size());
        reach = shape.skin().stream().mapToDouble(m -> m.distance(middle)).max().orElse(0)
                + (shape instanceof Shape.Capsule c ? Math.max(c.bottom(), c.top()) : 0);
    }

    /**
     * @param collider scaled to metres, in the axes of its node without their scale
     * @return empty where it collides as it is drawn, or its points lie in one plane
     */
    static Optional<Obstacle> of(Collider collider) {
        if (collider.shape() instanceof Shape.Drawn) {
            return Optional.empty();
        }
        if (!(collider.shape() instanceof Shape.Solid solid)) {
            return Optional.of(new Obstacle(collider, collider.shape(), new double[0][]));
        }
        return Hull.around(solid).map(hull -> new Obstacle(collider, hull.shape(), hull.planes()));
    }

    double friction() {
        return friction;
    }

    /** Where its node goes over a frame, without scale. */
    void frame(Matrix4d fromHere, Matrix4d toThere) {
        fromHere.mul(stands, before);
        mirrored = before.determinant3x3() < 0;
        stands(before, from, fromTurn);
        toThere.mul(stands, now);
        stands(now, to, toTurn);
        if (fromTurn.dot(toTurn) < 0) {
            toTurn.mul(-1);
        }
        at(0);
    }

    private void stands(Matrix4d at, Vector3d origin, Quaterniond turn) {
        at.getTranslation(origin);
        if (mirrored) {
            at.scale(-1, 1, 1);
        }
        turn.setFromUnnormalized(at);
    }

    /** Moves it on; where it was until now is where {@link #put} takes its surface to have come from. */
    void at(double share) {
        before.set(now);
        p.set(from).lerp(to, share);
        now.translationRotate(p, new Quaterniond(fromTurn).slerp(toTurn, share));
        now.invertAffine(back);
        now.transformPosition(ball.set(mirrored ? -middle.x : middle.x, middle.y, middle.z));
    }

    /** Both where it is now: at the start of all. */
    void still() {
        before.set(now);
    }

    /** Whether a point may lie nearer than that. */
    boolean near(double[] at, int i, double thickness) {
        double x = at[i] - ball.x;
        double y = at[i + 1] - ball.y;
        double z = at[i + 2] - ball.z;
        double far = reach + thickness;
        return x * x + y * y + z * z < far * far;
    }

    /**
     * Puts a point that lies too near out to its surface.
     *
     * @param moved gets where the surface there came from since the step before, 3 numbers
     * @return how far the point was put; 0 where it lay apart
     */
    double put(double[] at, int i, double thickness, double[] moved) {
        back.transformPosition(p.set(at[i], at[i + 1], at[i + 2]));
        double deep = thickness - distance();
        if (!(deep > 0)) {
            return 0;
        }
        before.transformPosition(p);
        moved[0] = at[i] - p.x;
        moved[1] = at[i + 1] - p.y;
        moved[2] = at[i + 2] - p.z;
        now.transformDirection(out);
        at[i] += deep * out.x;
        at[i + 1] += deep * out.y;
        at[i + 2] += deep * out.z;
        return deep;
    }

    /** Of p, in the shape's axes; below zero inside. The way out goes to {@link #out}, of unit length. */
    private double distance() {
        return switch (shape) {
            case Shape.Sphere s -> outOf(p.x, p.y, p.z) - s.radius();
            case Shape.Box b -> box(b);
            case Shape.Capsule c -> capsule(c);
            case Shape.Cylinder c -> cylinder(c);
            default -> hull();
        };
    }

    private double outOf(double x, double y, double z) {
        double length = Math.sqrt(x * x + y * y + z * z);
        if (length == 0) {
            out.set(0, 1, 0);
        } else {
            out.set(x / length, y / length, z / length);
        }
        return length;
    }

    private double box(Shape.Box b) {
        double x = Math.abs(p.x) - b.x() / 2;
        double y = Math.abs(p.y) - b.y() / 2;
        double z = Math.abs(p.z) - b.z() / 2;
        if (x > 0 || y > 0 || z > 0) {
            return outOf(
                    Math.max(x, 0) * Math.signum(p.x),
                    Math.max(y, 0) * Math.signum(p.y),
                    Math.max(z, 0) * Math.signum(p.z));
        }
        double most = Math.max(x, Math.max(y, z));
        out.set(0);
        out.setComponent(most == x ? 0 : most == y ? 1 : 2, 1);
        out.mul(p.x < 0 ? -1 : 1, p.y < 0 ? -1 : 1, p.z < 0 ? -1 : 1);
        return most;
    }

    /** The hull of two balls: which of both, or the cone between, by where the point lies along the cone's side. */
    private double capsule(Shape.Capsule c) {
        double h = c.height();
        double b = h > 0 ? (c.bottom() - c.top()) / h : 2;
        double y = p.y + h / 2;
        if (Math.abs(b) >= 1) {
            boolean low = c.bottom() >= c.top();
            return outOf(p.x, low ? y : y - h, p.z) - Math.max(c.bottom(), c.top());
        }
        double a = Math.sqrt(1 - b * b);
        double r = Math.sqrt(p.x * p.x + p.z * p.z);
        double along = a * y - b * r;
        if (along < 0) {
            return outOf(p.x, y, p.z) - c.bottom();
        }
        if (along > a * h) {
            return outOf(p.x, y - h, p.z) - c.top();
        }
        across(a, b, r);
        return a * r + b * y - c.bottom();
    }

    /** A direction given away from and along the axis. */
    private void across(double away, double along, double r) {
        if (r == 0) {
            out.set(away, along, 0);
        } else {
            out.set(away * p.x / r, along, away * p.z / r);
        }
    }

    /** In the half plane through the axis it is a convex outline of three sides. */
    private double cylinder(Shape.Cylinder c) {
        double r = Math.sqrt(p.x * p.x + p.z * p.z);
        double half = c.height() / 2;
        double slope = c.bottom() - c.top();
        double length = Math.sqrt(slope * slope + c.height() * c.height());
        double nr = c.height() / length;
        double ny = slope / length;
        double side = (r - c.bottom()) * nr + (p.y + half) * ny;
        double cap = Math.abs(p.y) - half;
        boolean top = p.y > 0;
        double rim = top ? c.top() : c.bottom();
        if (side <= 0 && cap <= 0) {
            if (side > cap) {
                across(nr, ny, r);
                return side;
            }
            out.set(0, top ? 1 : -1, 0);
            return cap;
        }
        if (cap > 0 && r <= rim) {
            out.set(0, top ? 1 : -1, 0);
            return cap;
        }
        double along = ((r - c.bottom()) * -slope + (p.y + half) * c.height()) / length;
        double at = Math.clamp(along / length, 0, 1);
        double toR = r - (c.bottom() - at * slope);
        double toY = p.y + half - at * c.height();
        double away = Math.sqrt(toR * toR + toY * toY);
        if (away == 0) {
            across(nr, ny, r);
            return 0;
        }
        across(toR / away, toY / away, r);
        return away;
    }

    /** By its planes: at edges and corners it keeps a little more than the thickness. */
    private double hull() {
        double most = Double.NEGATIVE_INFINITY;
        double x = mirrored ? -p.x : p.x;
        for (double[] plane : planes) {
            double over = plane[0] * x + plane[1] * p.y + plane[2] * p.z - plane[3];
            if (over > most) {
                most = over;
                out.set(mirrored ? -plane[0] : plane[0], plane[1], plane[2]);
            }
        }
        return most;
    }
}
