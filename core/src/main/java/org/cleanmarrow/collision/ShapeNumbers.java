package org.cleanmarrow.collision;

import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Where a collider stands and how large it is, as numbers to read and to type; in metres along its node's axes, the node's scale
 * taken out ({@link Bodies#toMetres}).
 *
 * @param middle  of its frame; of a hull or a mesh of the box around it
 * @param degrees turns about the node's x, then y, then z; of a hull or a mesh how much farther it is to be turned
 * @param size    full extents along its own axes; 0: as it is
 */
public record ShapeNumbers(Vector3d middle, Vector3d degrees, Vector3d size) {
    /** Of a collider in metres. */
    public static ShapeNumbers of(Collider inMetres) {
        if (inMetres.shape() instanceof Shape.Solid solid) {
            return new ShapeNumbers(middle(solid), new Vector3d(), solid.size());
        }
        Frame frame = inMetres.at().proper(false);
        return new ShapeNumbers(
                new Vector3d(frame.origin()),
                degrees(new Quaterniond(frame.turn())),
                inMetres.shape().size());
    }

    private static Vector3d middle(Shape.Solid solid) {
        Vector3d low = new Vector3d(Double.POSITIVE_INFINITY);
        Vector3d high = new Vector3d(Double.NEGATIVE_INFINITY);
        solid.marks().forEach(p -> {
            low.min(p);
            high.max(p);
        });
        return solid.points().length == 0 ? new Vector3d() : low.add(high).mul(0.5);
    }

    public Quaterniond turn() {
        return new Quaterniond()
                .rotationZYX(Math.toRadians(degrees.z), Math.toRadians(degrees.y), Math.toRadians(degrees.x));
    }

    public Frame frame() {
        return Frame.at(middle, turn());
    }

    public ShapeNumbers at(Vector3d place) {
        return new ShapeNumbers(place, degrees, size);
    }

    public ShapeNumbers sized(Vector3d changed) {
        return new ShapeNumbers(middle, degrees, changed);
    }

    /** Turned further, about its middle. */
    public ShapeNumbers turned(Quaterniond further) {
        return new ShapeNumbers(middle, degrees(further.mul(turn(), new Quaterniond())), size);
    }

    /** To a tenth of a millimetre and a hundredth of a degree, as a hand means them. */
    public ShapeNumbers rounded() {
        return new ShapeNumbers(rounded(middle, 1e4), rounded(degrees, 100), rounded(size, 1e4));
    }

    private static Vector3d rounded(Vector3d v, double parts) {
        return v.mul(parts, new Vector3d()).round().div(parts);
    }

    private static Vector3d degrees(Quaterniond turn) {
        Vector3d turns = turn.getEulerAnglesZYX(new Vector3d());
        return new Vector3d(Math.toDegrees(turns.x), Math.toDegrees(turns.y), Math.toDegrees(turns.z));
    }

    /** The same with sizes of 0 taken from another. */
    public ShapeNumbers over(ShapeNumbers was) {
        return new ShapeNumbers(
                middle,
                degrees,
                new Vector3d(
                        size.x > 0 ? size.x : was.size.x,
                        size.y > 0 ? size.y : was.size.y,
                        size.z > 0 ? size.z : was.size.z));
    }

    /** A collider in metres moved, turned and sized to these; its kind, role and the like stay. */
    public Collider applied(Collider inMetres) {
        Vector3d was = inMetres.shape().size();
        return switch (inMetres.shape()) {
            case Shape.Box b -> inMetres.withShape(frame(), new Shape.Box(size.x, size.y, size.z));
            case Shape.Sphere s -> inMetres.withShape(frame(), new Shape.Sphere(size.x / 2));
            case Shape.Capsule c -> {
                double wide = size.x / was.x;
                Shape.Capsule sized = new Shape.Capsule(c.bottom() * wide, c.top() * wide, 0);
                double between = Math.max(0, size.y - sized.bottom() - sized.top());
                yield inMetres.withShape(frame(), new Shape.Capsule(sized.bottom(), sized.top(), between));
            }
            case Shape.Cylinder c ->
                inMetres.withShape(
                        frame(), new Shape.Cylinder(c.bottom() * size.x / was.x, c.top() * size.x / was.x, size.y));
            case Shape.Solid s -> {
                Vector3d from = middle(s);
                yield inMetres.moved(new Matrix4d()
                        .translationRotate(middle, turn())
                        .scale(ratio(size.x, was.x), ratio(size.y, was.y), ratio(size.z, was.z))
                        .translate(-from.x, -from.y, -from.z));
            }
            case Shape.Drawn d -> inMetres;
        };
    }

    private static double ratio(double now, double was) {
        return was > 0 ? now / was : 1;
    }
}
