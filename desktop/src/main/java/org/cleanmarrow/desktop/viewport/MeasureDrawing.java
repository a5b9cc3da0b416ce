package org.cleanmarrow.desktop.viewport;

import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.geometry.Box;
import org.joml.Vector3d;

/** The box around the asset and the tape between two spots, with their lengths. */
final class MeasureDrawing {
    private static final Color EDGE = Color.web("#D9C26A", 0.75);

    private MeasureDrawing() {}

    static void box(GraphicsContext g, Desk desk, Camera camera, Box box, double w, double h) {
        if (box.isEmpty()) {
            return;
        }
        Vector3d[] corners = new Vector3d[8];
        for (int i = 0; i < 8; i++) {
            Vector3d p = new Vector3d(
                    (i & 1) == 0 ? box.min().x : box.max().x,
                    (i & 2) == 0 ? box.min().y : box.max().y,
                    (i & 4) == 0 ? box.min().z : box.max().z);
            corners[i] = camera.toPicture(p, w, h);
            if (corners[i].z <= 0) {
                return;
            }
        }
        g.setStroke(EDGE);
        g.setLineWidth(1);
        for (int i = 0; i < 8; i++) {
            for (int axis = 0; axis < 3; axis++) {
                int j = i | 1 << axis;
                if (j != i) {
                    g.strokeLine(corners[i].x, corners[i].y, corners[j].x, corners[j].y);
                }
            }
        }
        Vector3d size = box.size();
        length(g, desk, corners[0], corners[1], size.x);
        length(g, desk, nearer(corners, 0, 1, 4, 5), nearer(corners, 2, 3, 6, 7), size.y);
        length(g, desk, corners[1], corners[5], size.z);
    }

    /** The one of four corners that is farthest to the right. */
    private static Vector3d nearer(Vector3d[] corners, int... of) {
        Vector3d best = corners[of[0]];
        for (int i : of) {
            best = corners[i].x > best.x ? corners[i] : best;
        }
        return best;
    }

    private static void length(GraphicsContext g, Desk desk, Vector3d a, Vector3d b, double metres) {
        Ink.plate(g, desk.preferences().say(metres), (a.x + b.x) / 2 + 6, (a.y + b.y) / 2, Ink.SMALL, Ink.GOLD);
    }

    static void tape(GraphicsContext g, Desk desk, Camera camera, Picker picker, double w, double h) {
        ViewOptions.Tape tape = desk.seeing().tape().get();
        if (tape.from() == null || tape.from().mesh() >= desk.now().meshes().size()) {
            return;
        }
        Vector3d from = picker.vertexPlace(tape.from().mesh(), tape.from().vertex());
        Vector3d a = camera.toPicture(from, w, h);
        end(g, a);
        if (tape.to() == null || tape.to().mesh() >= desk.now().meshes().size()) {
            return;
        }
        Vector3d to = picker.vertexPlace(tape.to().mesh(), tape.to().vertex());
        Vector3d b = camera.toPicture(to, w, h);
        if (a.z <= 0 || b.z <= 0) {
            return;
        }
        g.setStroke(Ink.GOLD);
        g.setLineWidth(1.6);
        g.strokeLine(a.x, a.y, b.x, b.y);
        end(g, a);
        end(g, b);
        length(g, desk, a, b, metres(tape, picker));
    }

    /** Length of a tape held at both ends. */
    static double metres(ViewOptions.Tape tape, Picker picker) {
        return picker.vertexPlace(tape.from().mesh(), tape.from().vertex())
                .distance(picker.vertexPlace(tape.to().mesh(), tape.to().vertex()));
    }

    private static void end(GraphicsContext g, Vector3d at) {
        if (at.z > 0) {
            g.setFill(Ink.GOLD);
            g.fillRect(at.x - 2.5, at.y - 2.5, 5, 5);
        }
    }
}
