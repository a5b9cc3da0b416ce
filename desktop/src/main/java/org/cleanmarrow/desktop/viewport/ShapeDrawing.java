package org.cleanmarrow.desktop.viewport;

import java.util.ArrayList;
import java.util.List;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.geometry.PlaneHull;
import org.cleanmarrow.model.Asset;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Collision shapes as what they cover, seen through the surface, with the axis of those that have one; joints as pins. */
public final class ShapeDrawing {
    private static final Color COVERED = Color.web("#7FB7C9", 0.20);
    private static final Color RIM = Color.web("#A9D3E0", 0.85);
    private static final Color TRIGGER = Color.web("#D9C26A", 0.85);
    private static final double PIN = 4;
    private static final int AROUND = 32;

    private ShapeDrawing() {}

    static void draw(
            GraphicsContext g,
            Asset asset,
            List<Collider> shapes,
            int chosen,
            Camera camera,
            Picker picker,
            double w,
            double h) {
        for (Collider c : shapes) {
            Matrix4d at = picker.nodeAxes(c.node()).mul(c.at().matrix());
            double[][] ring = ring(c.shape(), at, camera, w, h);
            if (ring.length < 3) {
                continue;
            }
            boolean solid = c.role() == Collider.Role.SOLID;
            outline(g, ring, c.node() == chosen ? Ink.MARROW : solid ? RIM : TRIGGER, solid);
            if (c.shape() instanceof Shape.Capsule k) {
                axis(g, at, k.height(), camera, w, h);
            } else if (c.shape() instanceof Shape.Cylinder k) {
                axis(g, at, k.height(), camera, w, h);
            }
        }
        for (RigidJoint joint : Bodies.joints(asset)) {
            Vector3d p = picker.nodeAxes(joint.node()).mul(joint.at().matrix()).getTranslation(new Vector3d());
            p = camera.toPicture(p, w, h);
            if (p.z > 0) {
                g.setFill(Ink.DARK);
                g.fillPolygon(
                        new double[] {p.x - PIN, p.x, p.x + PIN, p.x},
                        new double[] {p.y, p.y - PIN, p.y, p.y + PIN},
                        4);
                g.setStroke(Ink.BONE);
                g.setLineWidth(1);
                g.strokePolygon(
                        new double[] {p.x - PIN, p.x, p.x + PIN, p.x},
                        new double[] {p.y, p.y - PIN, p.y, p.y + PIN},
                        4);
            }
        }
    }

    /**
     * The line around a shape in the picture; none where any of it lies behind.
     *
     * @param at from the shape's frame into the view's space
     */
    public static double[][] ring(Shape shape, Matrix4d at, Camera camera, double w, double h) {
        List<Vector3d> rim = new ArrayList<>();
        switch (shape) {
            case Shape.Sphere s -> ball(rim, at, 0, s.radius(), camera);
            case Shape.Capsule c -> {
                ball(rim, at, -c.height() / 2, c.bottom(), camera);
                ball(rim, at, c.height() / 2, c.top(), camera);
            }
            default -> shape.skin().forEach(p -> rim.add(at.transformPosition(p)));
        }
        List<Vector3d> seen = camera.toPicture(rim, w, h);
        return seen.stream().anyMatch(p -> p.z <= 0)
                ? new double[0][]
                : PlaneHull.of(seen.stream().map(p -> new double[] {p.x, p.y}).toArray(double[][]::new));
    }

    /** Where lines of sight touch a ball: a circle that faces the eye, in front of the ball's middle. */
    private static void ball(List<Vector3d> out, Matrix4d at, double y, double size, Camera camera) {
        Vector3d scale = at.getScale(new Vector3d());
        double radius = size * scale.get(scale.maxComponent());
        Vector3d middle = at.transformPosition(new Vector3d(0, y, 0));
        Camera.Ray sight = camera.towards(middle);
        double share = Math.min(1, radius / middle.distance(sight.origin()));
        Vector3d centre = new Vector3d(middle).fma(-radius * share, sight.direction());
        double around = radius * Math.sqrt(1 - share * share);
        Vector3d side = new Vector3d(sight.direction())
                .cross(Math.abs(sight.direction().y) > 0.9 ? new Vector3d(1, 0, 0) : new Vector3d(0, 1, 0))
                .normalize();
        Vector3d up = new Vector3d(side).cross(sight.direction());
        for (int i = 0; i < AROUND; i++) {
            double angle = 2 * Math.PI * i / AROUND;
            out.add(new Vector3d(centre).fma(around * Math.cos(angle), side).fma(around * Math.sin(angle), up));
        }
    }

    private static void outline(GraphicsContext g, double[][] ring, Color rim, boolean solid) {
        double[] xs = new double[ring.length];
        double[] ys = new double[ring.length];
        for (int i = 0; i < ring.length; i++) {
            xs[i] = ring[i][0];
            ys[i] = ring[i][1];
        }
        g.setFill(COVERED);
        g.fillPolygon(xs, ys, xs.length);
        g.setStroke(rim);
        g.setLineWidth(1.4);
        if (!solid) {
            g.setLineDashes(6, 4);
        }
        g.strokePolygon(xs, ys, xs.length);
        g.setLineDashes();
    }

    private static void axis(GraphicsContext g, Matrix4d at, double height, Camera camera, double w, double h) {
        Vector3d a = camera.toPicture(at.transformPosition(new Vector3d(0, -height / 2, 0)), w, h);
        Vector3d b = camera.toPicture(at.transformPosition(new Vector3d(0, height / 2, 0)), w, h);
        g.setStroke(RIM);
        g.setLineWidth(1);
        g.strokeLine(a.x, a.y, b.x, b.y);
    }
}
