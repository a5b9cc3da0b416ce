package org.cleanmarrow.desktop.viewport;

import java.util.List;
import org.cleanmarrow.geometry.Box;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.joml.Vector4d;

/**
 * Looks at a point from a distance, in the view's own space: metres, Y up, whatever the asset's conventions.
 *
 * @param turn     degrees about the upright axis; 0 looks at the front
 * @param tilt     degrees above the horizon, -90 to 90
 * @param reach    distance from the point looked at, in metres
 * @param parallel without perspective; {@code reach} then only says how much is seen
 */
public record Camera(Vector3d at, double turn, double tilt, double reach, boolean parallel) {
    private static final double ANGLE = Math.toRadians(28);
    /** Tilted more, a figure is not told from a heap. */
    private static final double STEEPEST = 55;

    /** A line of sight; {@code direction} is of unit length. */
    public record Ray(Vector3d origin, Vector3d direction) {}

    /** Three-quarter view of a person's height. */
    public static Camera front() {
        return new Camera(new Vector3d(0, 0.9, 0), 24, 8, 4.6, false);
    }

    /** Moves to show a whole box from the same side. */
    public Camera framing(Box box) {
        double size = Math.max(box.diagonal(), 1e-4);
        // The ball around the box just fits between the edges of the view.
        return new Camera(box.centre(), turn, tilt, size * 0.5 / Math.sin(ANGLE / 2), parallel);
    }

    public Camera orbited(double dx, double dy) {
        return turned(turn - dx * 0.4, Math.clamp(tilt + dy * 0.4, -89, 89));
    }

    /** Moves sideways by pixels. */
    public Camera panned(double dx, double dy, double height) {
        double metres = metresPerPixel(height);
        Vector3d right = new Vector3d();
        Vector3d up = new Vector3d();
        Matrix4d view = view();
        view.positiveX(right);
        view.positiveY(up);
        Vector3d to = new Vector3d(at).fma(-dx * metres, right).fma(dy * metres, up);
        return new Camera(to, turn, tilt, reach, parallel);
    }

    /** Comes nearer by a factor towards a point of the picture. */
    public Camera zoomed(double factor, double x, double y, double width, double height) {
        double next = Math.clamp(reach * factor, 1e-3, 1e4);
        Camera nearer = new Camera(at, turn, tilt, next, parallel);
        double shift = 1 - next / reach;
        return nearer.panned(-(x - width / 2) * shift * reach / next, -(y - height / 2) * shift * reach / next, height);
    }

    public Camera turned(double newTurn, double newTilt) {
        return new Camera(at, newTurn, newTilt, reach, parallel);
    }

    /** The same place seen from where a direction leads, not from straight above or below. */
    public Camera facing(Vector3d from) {
        double side = Math.hypot(from.x, from.z);
        double up = Math.toDegrees(Math.atan2(from.y, side));
        double around = side < 1e-6 ? turn : Math.toDegrees(Math.atan2(from.x, from.z));
        return turned(around, Math.clamp(up, -STEEPEST, STEEPEST));
    }

    /** Whether what faces a direction is seen from behind. */
    public boolean isBehind(Vector3d direction) {
        return ahead().dot(direction) > 0;
    }

    public Camera withParallel(boolean wanted) {
        return new Camera(at, turn, tilt, reach, wanted);
    }

    /** From the eye to what is looked at, of unit length. */
    private Vector3d ahead() {
        double a = Math.toRadians(turn);
        double b = Math.toRadians(tilt);
        return new Vector3d(-Math.sin(a) * Math.cos(b), -Math.sin(b), -Math.cos(a) * Math.cos(b));
    }

    public Vector3d eye() {
        return ahead().mul(-reach).add(at);
    }

    public Matrix4d view() {
        Vector3d eye = eye();
        double a = Math.toRadians(turn);
        // Seen from straight above, the front points down the picture.
        boolean steep = Math.abs(tilt) > 89.5;
        double side = Math.signum(tilt);
        return steep
                ? new Matrix4d()
                        .lookAt(eye.x, eye.y, eye.z, at.x, at.y, at.z, -Math.sin(a) * side, 0, -Math.cos(a) * side)
                : new Matrix4d().lookAt(eye.x, eye.y, eye.z, at.x, at.y, at.z, 0, 1, 0);
    }

    public Matrix4d projection(double width, double height) {
        double aspect = width / Math.max(height, 1);
        if (parallel) {
            double up = reach * Math.tan(ANGLE / 2);
            return new Matrix4d().ortho(-up * aspect, up * aspect, -up, up, -reach * 30, reach * 60);
        }
        return new Matrix4d().perspective(ANGLE, aspect, reach * 0.02, reach * 60);
    }

    /** Where a point is in the picture: x and y in pixels from the top left, z not above zero where it is behind. */
    public Vector3d toPicture(Vector3d p, double width, double height) {
        return toPicture(projection(width, height).mul(view()), p, width, height);
    }

    /** The same for many points, whose matrices are made once. */
    List<Vector3d> toPicture(List<Vector3d> points, double width, double height) {
        Matrix4d all = projection(width, height).mul(view());
        return points.stream().map(p -> toPicture(all, p, width, height)).toList();
    }

    private static Vector3d toPicture(Matrix4d all, Vector3d p, double width, double height) {
        Vector4d clip = all.transform(new Vector4d(p, 1));
        if (clip.w <= 0) {
            return new Vector3d(0, 0, -1);
        }
        return new Vector3d((clip.x / clip.w + 1) / 2 * width, (1 - clip.y / clip.w) / 2 * height, clip.w);
    }

    /** The line of sight through a point of the picture. */
    public Ray ray(double x, double y, double width, double height) {
        double up = Math.tan(ANGLE / 2);
        double right = (2 * x / width - 1) * up * width / height;
        double above = (1 - 2 * y / height) * up;
        Matrix4d back = view().invert();
        if (parallel) {
            Vector3d from = back.transformPosition(new Vector3d(right * reach, above * reach, reach * 20));
            return new Ray(from, ahead());
        }
        return new Ray(
                eye(), back.transformDirection(new Vector3d(right, above, -1)).normalize());
    }

    /** The line of sight to a point in space, and how far along it the point is. */
    Ray towards(Vector3d point) {
        if (parallel) {
            return new Ray(new Vector3d(point).fma(-reach * 20, ahead()), ahead());
        }
        Vector3d eye = eye();
        return new Ray(eye, new Vector3d(point).sub(eye).normalize());
    }

    /** Metres that one pixel stands for at the point looked at. */
    public double metresPerPixel(double height) {
        return 2 * reach * Math.tan(ANGLE / 2) / height;
    }
}
