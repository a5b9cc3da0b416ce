package org.cleanmarrow.collision;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Sheared;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * What something bumps into: a shape that stands in the axes of a node and follows it.
 *
 * @param name    may be empty
 * @param node    never below zero
 * @param at      where the shape stands in the node's axes; {@link Frame#NONE} where it is drawn
 * @param surface how it rubs and bounces
 * @param filter  what it meets
 */
public record Collider(String name, int node, Frame at, Shape shape, Role role, Surface surface, Filter filter)
        implements Attached {
    /** What it is for. */
    public enum Role {
        SOLID,
        /** Says that something is inside, and stops nothing. */
        TRIGGER,
        /** Found by rays and sweeps, and stops nothing. */
        QUERY;

        public String code() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    public Collider(String name, int node, Frame at, Shape shape) {
        this(name, node, at, shape, Role.SOLID, Surface.PLAIN, Filter.ALL);
    }

    @Override
    public Collider renumbered(Renumbering numbers) {
        return withNode(numbers.of(Renumbering.Kind.NODE, node));
    }

    @Override
    public Collider withNode(int changed) {
        return new Collider(name, changed, at, shape, role, surface, filter);
    }

    public Collider withShape(Frame stands, Shape changed) {
        return new Collider(name, node, stands, changed, role, surface, filter);
    }

    public Collider withName(String changed) {
        return new Collider(changed, node, at, shape, role, surface, filter);
    }

    public Collider withRole(Role changed) {
        return new Collider(name, node, at, shape, changed, surface, filter);
    }

    public Collider withSurface(Surface changed) {
        return new Collider(name, node, at, shape, role, changed, filter);
    }

    public Collider withFilter(Filter changed) {
        return new Collider(name, node, at, shape, role, surface, changed);
    }

    /**
     * The same from other axes. A box takes a scale along its own edges, a surface any; what is round takes a scale that is
     * the same in all directions.
     *
     * @throws Sheared where the shape would become one that it cannot have
     */
    @Override
    public Collider moved(Matrix4d by) {
        if (shape instanceof Shape.Drawn) {
            return this;
        }
        if (shape instanceof Shape.Solid solid) {
            return withShape(at, turned(solid, by));
        }
        Optional<Frame> stands = at.moved(by);
        if (stands.isPresent()) {
            return withShape(stands.get(), scaled(shape, Frame.evenScale(by).orElseThrow()));
        }
        Matrix4d there = new Matrix4d(by).mul(at.matrix());
        Vector3d x = there.getColumn(0, new Vector3d());
        Vector3d y = there.getColumn(1, new Vector3d());
        Vector3d z = there.getColumn(2, new Vector3d());
        double upright = Math.max(Math.abs(x.angleCos(y)), Math.max(Math.abs(x.angleCos(z)), Math.abs(y.angleCos(z))));
        if (shape instanceof Shape.Box box && upright < 1e-5) {
            return withShape(
                    Frame.of(there), new Shape.Box(box.x() * x.length(), box.y() * y.length(), box.z() * z.length()));
        }
        throw new Sheared(name.isEmpty() ? "#" + node : name);
    }

    private static Shape scaled(Shape shape, double by) {
        return switch (shape) {
            case Shape.Box b -> new Shape.Box(b.x() * by, b.y() * by, b.z() * by);
            case Shape.Sphere s -> new Shape.Sphere(s.radius() * by);
            case Shape.Capsule c -> new Shape.Capsule(c.bottom() * by, c.top() * by, c.height() * by);
            case Shape.Cylinder c -> new Shape.Cylinder(c.bottom() * by, c.top() * by, c.height() * by);
            case Shape.Solid s -> turned(s, new Matrix4d().scaling(by));
            case Shape.Drawn d -> d;
        };
    }

    private static Shape.Solid turned(Shape.Solid solid, Matrix4d by) {
        float[] points = new float[solid.points().length];
        for (int i = 0; i < points.length / 3; i++) {
            Vector3d p = by.transformPosition(solid.point(i));
            points[3 * i] = (float) p.x;
            points[3 * i + 1] = (float) p.y;
            points[3 * i + 2] = (float) p.z;
        }
        int[] triangles = solid.triangles().clone();
        for (int t = 0; by.determinant3x3() < 0 && t + 2 < triangles.length; t += 3) {
            int corner = triangles[t + 1];
            triangles[t + 1] = triangles[t + 2];
            triangles[t + 2] = corner;
        }
        return new Shape.Solid(points, triangles, solid.convex());
    }

    @Override
    public float[] points() {
        List<Vector3d> marks = shape.marks();
        float[] out = new float[3 * marks.size()];
        for (int i = 0; i < marks.size(); i++) {
            Vector3d p = at.matrix().transformPosition(marks.get(i));
            out[3 * i] = (float) p.x;
            out[3 * i + 1] = (float) p.y;
            out[3 * i + 2] = (float) p.z;
        }
        return out;
    }

    /** A mirrored box is the same box, and so is a round shape; files keep right-handed axes, in which their marks come otherwise. */
    @Override
    public boolean pointsInOrder() {
        return shape instanceof Shape.Solid || shape instanceof Shape.Drawn;
    }
}
