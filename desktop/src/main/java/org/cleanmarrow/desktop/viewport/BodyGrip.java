package org.cleanmarrow.desktop.viewport;

import javafx.scene.canvas.GraphicsContext;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.LetGo;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Draws at a free body while bodies are let go: the place that was taken hold of follows the pointer as on a spring. */
final class BodyGrip implements Grip {
    private final Desk desk;
    private int body = -1;
    /** Taken hold of, in the body's node's axes without their scale, metres. */
    private Vector3d at;

    private Vector3d to;
    /** Puts the body's node's scale back. */
    private Matrix4d fromMetres;

    BodyGrip(Desk desk) {
        this.desk = desk;
    }

    @Override
    public boolean isOver(Sight sight, double x, double y) {
        return desk.letGo().running().get() && body(sight.picker().pick(sight.ray(x, y))) >= 0;
    }

    /** The free body that what was hit belongs to; -1 where that is none. */
    private int body(Picker.Hit hit) {
        if (hit == null) {
            return -1;
        }
        int node = hit.place().node();
        if (hit.place().skin() >= 0) {
            node = heaviest(hit);
        }
        return node < 0 ? -1 : desk.letGo().bearer(node);
    }

    private int heaviest(Picker.Hit hit) {
        int vertex = hit.vertex();
        for (Primitive p : desk.now().meshes().get(hit.place().mesh()).primitives()) {
            Influences rows = p.influences();
            if (vertex < p.vertexCount()) {
                int joint = rows == null ? -1 : rows.heaviest(vertex);
                return joint < 0
                        ? -1
                        : desk.now().skins().get(hit.place().skin()).joints()[joint];
            }
            vertex -= p.vertexCount();
        }
        return -1;
    }

    @Override
    public boolean take(Sight sight, double x, double y) {
        if (!desk.letGo().running().get()) {
            return false;
        }
        Picker.Hit hit = sight.picker().pick(sight.ray(x, y));
        body = body(hit);
        if (body < 0) {
            return false;
        }
        fromMetres = Bodies.toMetres(desk.now(), body).invert();
        to = new Vector3d(hit.point());
        at = axes(sight).invert().transformPosition(new Vector3d(to));
        pull();
        return true;
    }

    /** From the body's node's axes without their scale into the view, both in metres. */
    private Matrix4d axes(Sight sight) {
        return sight.picker().nodeAxes(body).mul(fromMetres);
    }

    @Override
    public void drag(Sight sight, double x, double y) {
        if (body >= 0) {
            to = sight.beside(to, x, y);
            pull();
        }
    }

    private void pull() {
        Conversion fromView = Conversion.between(Conventions.GLTF, desk.now().conventions());
        desk.letGo().pull(new LetGo.Hold(body, at, fromView.turn().transform(new Vector3d(to))));
    }

    @Override
    public void release() {
        body = -1;
        desk.letGo().pull(null);
    }

    @Override
    public void draw(GraphicsContext g, Sight sight) {
        if (body < 0 || !desk.letGo().running().get()) {
            return;
        }
        Vector3d a = sight.toPicture(axes(sight).transformPosition(new Vector3d(at)));
        Vector3d b = sight.toPicture(to);
        g.setStroke(Ink.MARROW);
        g.setLineWidth(2);
        g.strokeLine(a.x, a.y, b.x, b.y);
        g.setFill(Ink.BONE);
        g.fillOval(b.x - 4, b.y - 4, 8, 8);
    }
}
