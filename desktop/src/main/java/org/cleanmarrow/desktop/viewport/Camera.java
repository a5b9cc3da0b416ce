package org.cleanmarrow.desktop.viewport;

import org.cleanmarrow.geometry.Box;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.joml.Vector4d;

/**
 * Looks at a point from a distance, in the view's own space: metres, Y up, whatever the asset's conventions.
 *
 * @param turn  degrees about the upright axis; 0 looks at the front
 * @param tilt  degrees above the horizon, -89 to 89
 * @param reach distance from the point looked at, in metres
 */
public record Camera(Vector3d at, double turn, double tilt, double reach) {
    private static final double ANGLE = Math.toRadians(28);

    public static Camera front() {
        return new Camera(new Vector3d(0, 0.9, 0), 24, 8, 4.6);
    }

    /** Moves to show a whole box from the same side. */
    public Camera framing(Box box) {
        double size = Math.max(box.diagonal(), 1e-4);
        return new Camera(box.centre(), turn, tilt, size * 0.49 / Math.tan(ANGLE / 2));
    }

    public Camera orbited(double dx, double dy) {
        return new Camera(at, turn - dx * 0.4, Math.clamp(tilt + dy * 0.4, -89, 89), reach);
    }

    /** Moves sideways by pixels. */
    public Camera panned(double dx, double dy, double height) {
        double metres = 2 * reach * Math.tan(ANGLE / 2) / height;
        Vector3d right = new Vector3d();
        Vector3d up = new Vector3d();
        Matrix4d view = view();
        view.positiveX(right);
        view.positiveY(up);
        return new Camera(new Vector3d(at).fma(-dx * metres, right).fma(dy * metres, up), turn, tilt, reach);
    }

    /** Comes nearer by a factor towards a point of the picture. */
    public Camera zoomed(double factor, double x, double y, double width, double height) {
        double next = Math.clamp(reach * factor, 1e-3, 1e4);
        Camera nearer = new Camera(at, turn, tilt, next);
        double shift = 1 - next / reach;
        return nearer.panned(-(x - width / 2) * shift * reach / next, -(y - height / 2) * shift * reach / next, height);
    }

    public Camera turned(double newTurn, double newTilt) {
        return new Camera(at, newTurn, newTilt, reach);
    }

    public Vector3d eye() {
        double a = Math.toRadians(turn);
        double b = Math.toRadians(tilt);
        return new Vector3d(Math.sin(a) * Math.cos(b), Math.sin(b), Math.cos(a) * Math.cos(b))
                .mul(reach)
                .add(at);
    }

    public Matrix4d view() {
        Vector3d eye = eye();
        return new Matrix4d().lookAt(eye.x, eye.y, eye.z, at.x, at.y, at.z, 0, 1, 0);
    }

    public Matrix4d projection(double width, double height) {
        return new Matrix4d().perspective(ANGLE, width / Math.max(height, 1), reach * 0.02, reach * 60);
    }

    /** Where a point is in the picture: x and y in pixels from the top left, z below zero where it is behind. */
    public Vector3d toPicture(Vector3d p, double width, double height) {
        Vector4d clip = new Vector4d(p, 1);
        projection(width, height).mul(view()).transform(clip);
        if (clip.w <= 0) {
            return new Vector3d(0, 0, -1);
        }
        return new Vector3d((clip.x / clip.w + 1) / 2 * width, (1 - clip.y / clip.w) / 2 * height, clip.w);
    }

    /** Direction from the eye through a point of the picture. */
    public Vector3d ray(double x, double y, double width, double height) {
        double up = Math.tan(ANGLE / 2);
        Vector3d d = new Vector3d((2 * x / width - 1) * up * width / height, (1 - 2 * y / height) * up, -1);
        view().invert().transformDirection(d);
        return d.normalize();
    }

    /** Metres that one pixel stands for at the point looked at. */
    public double metresPerPixel(double height) {
        return 2 * reach * Math.tan(ANGLE / 2) / height;
    }
}
