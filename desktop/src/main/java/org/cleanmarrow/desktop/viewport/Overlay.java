package org.cleanmarrow.desktop.viewport;

import static org.cleanmarrow.desktop.viewport.Ink.BONE;
import static org.cleanmarrow.desktop.viewport.Ink.DARK;
import static org.cleanmarrow.desktop.viewport.Ink.FAINT;
import static org.cleanmarrow.desktop.viewport.Ink.GOLD;
import static org.cleanmarrow.desktop.viewport.Ink.NAME;
import static org.cleanmarrow.desktop.viewport.Ink.SMALL;
import static org.cleanmarrow.desktop.viewport.Ink.TEXT;
import static org.cleanmarrow.desktop.viewport.Ink.text;
import static org.cleanmarrow.desktop.viewport.Ink.width;

import java.util.List;
import java.util.Locale;
import javafx.geometry.Point2D;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.paint.CycleMethod;
import javafx.scene.paint.LinearGradient;
import javafx.scene.paint.Stop;
import javafx.scene.text.TextAlignment;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Station;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** What is drawn over the picture: joints, divider, legend, axis mark, scale, and the value under the pointer. */
final class Overlay {
    /** The weight ramp; exactly zero is not on it. */
    private static final Stop[] TIDELINE = {
        new Stop(0, Color.web("#2B2F6B")),
        new Stop(0.25, Color.web("#2C6E8F")),
        new Stop(0.5, Color.web("#4FA98B")),
        new Stop(0.75, Color.web("#D9C26A")),
        new Stop(1, Color.web("#FFF3DC"))
    };

    private static final Stop[] STRAIN = {
        new Stop(0, Color.web("#1F7A72")), new Stop(0.5, Color.web("#E9E2D4")), new Stop(1, Color.web("#A3342C"))
    };

    private final ShapeHandles handles;
    private final List<Grip> grips;
    private String trouble = "";

    /**
     * What a drag draws: a closed line, or a ring of a radius about one point.
     *
     * @param radius in pixels; 0 for a line
     */
    record Mark(List<Point2D> line, double radius) {}

    /** What lies under the pointer, in words. */
    record Readout(double x, double y, String part, String value) {}

    Overlay(ShapeHandles handles, List<Grip> grips) {
        this.handles = handles;
        this.grips = grips;
    }

    void setTrouble(String what) {
        trouble = what;
    }

    void draw(Canvas canvas, Desk desk, Camera camera, Picker picker, Mark mark, Aim aim, Readout readout) {
        GraphicsContext g = canvas.getGraphicsContext2D();
        double w = canvas.getWidth();
        double h = canvas.getHeight();
        g.clearRect(0, 0, w, h);
        if (!trouble.isEmpty()) {
            g.setFill(Color.web("#3A4047"));
            g.fillRect(0, 0, w, h);
            text(g, Labels.of("viewport.no.gl", trouble), w / 2, h / 2, TEXT, BONE, TextAlignment.CENTER);
        }
        if (picker == null) {
            return;
        }
        ViewOptions seeing = desk.seeing();
        double split = (seeing.before().get() ? 1 : seeing.divider().get()) * w;
        if (seeing.joints().get()) {
            g.save();
            g.beginPath();
            g.rect(split, 0, w - split, h);
            g.clip();
            int spacing = seeing.neighbours().get();
            desk.playedClip()
                    .filter(c -> spacing > 0 && desk.playback().trial().get() == null)
                    .ifPresent(clip -> JointDrawing.neighbours(
                            g,
                            desk.now(),
                            clip,
                            desk.playback().seconds().get(),
                            spacing / clip.rate(),
                            camera,
                            picker,
                            w,
                            h));
            JointDrawing.draw(
                    g,
                    desk.now(),
                    desk.selection().jointNode(),
                    aim.joint(),
                    seeing.names().get(),
                    camera,
                    picker,
                    w,
                    h);
            g.restore();
        }
        if (seeing.shapes().get() && desk.station().get() == Station.COLLISION) {
            ShapeDrawing.draw(g, desk.now(), handles.shown(), desk.selection().jointNode(), camera, picker, w, h);
        }
        Sight sight = new Sight(camera, picker, w, h);
        grips.forEach(grip -> grip.draw(g, sight));
        if (seeing.box().get()) {
            MeasureDrawing.box(g, desk, camera, picker.box(), w, h);
        }
        MeasureDrawing.tape(g, desk, camera, picker, w, h);
        drawDivider(g, desk, split, w, h);
        if (seeing.paint().get() == ShadingMode.INFLUENCE) {
            drawLegend(g, w, "viewport.not.moved", "1");
        } else if (seeing.paint().get() == ShadingMode.PAIR) {
            drawPairLegend(g, desk, w);
        } else if (seeing.paint().get() == ShadingMode.CHANGED) {
            drawLegend(g, w, "viewport.unchanged", "1");
        } else if (seeing.paint().get() == ShadingMode.STRAY) {
            drawLegend(g, w, "viewport.pinned", Labels.of("viewport.free"));
        } else if (seeing.paint().get() == ShadingMode.PRICE) {
            double most = desk.price().get() == null ? 0 : desk.price().get().most();
            drawLegend(g, w, "viewport.not.moved", desk.preferences().say(most));
        } else if (seeing.paint().get() == ShadingMode.STRAIN) {
            drawStrainLegend(g, w);
        }
        drawAxes(g, desk, camera, h);
        drawScale(g, desk, camera, w, h);
        drawAim(g, aim, camera, picker, w, h);
        if (mark != null) {
            drawMark(g, mark);
        }
        if (readout != null) {
            drawReadout(g, readout, w);
        }
    }

    /** A vertex or a face that a click would take; islands and parts are lit in the picture itself. */
    private static void drawAim(GraphicsContext g, Aim aim, Camera camera, Picker picker, double w, double h) {
        g.setStroke(BONE);
        g.setLineWidth(2);
        if (aim.kind() == Aim.Kind.VERTEX) {
            Vector3d at = camera.toPicture(
                    picker.vertexPlace(aim.mesh(), aim.vertices().nextSetBit(0)), w, h);
            g.strokeOval(at.x - 5, at.y - 5, 10, 10);
        } else if (aim.kind() == Aim.Kind.FACE) {
            double[] xs = new double[3];
            double[] ys = new double[3];
            int i = 0;
            for (int v = aim.vertices().nextSetBit(0);
                    v >= 0 && i < 3;
                    v = aim.vertices().nextSetBit(v + 1)) {
                Vector3d at = camera.toPicture(picker.vertexPlace(aim.mesh(), v), w, h);
                xs[i] = at.x;
                ys[i++] = at.y;
            }
            g.strokePolygon(xs, ys, i);
        }
    }

    private static void drawMark(GraphicsContext g, Mark mark) {
        double[] xs = mark.line.stream().mapToDouble(Point2D::getX).toArray();
        double[] ys = mark.line.stream().mapToDouble(Point2D::getY).toArray();
        g.setStroke(BONE);
        g.setLineWidth(1);
        if (mark.radius > 0) {
            double r = mark.radius;
            g.strokeOval(xs[0] - r, ys[0] - r, 2 * r, 2 * r);
            return;
        }
        g.setFill(Color.web("#EFE8DC", 0.10));
        g.fillPolygon(xs, ys, xs.length);
        g.setLineDashes(5, 4);
        g.strokePolygon(xs, ys, xs.length);
        g.setLineDashes();
    }

    private static void drawDivider(GraphicsContext g, Desk desk, double split, double w, double h) {
        if (split > 0) {
            g.setFill(Color.web("#F3EEE4"));
            g.fillRect(split - 1, 0, 2, h);
            g.fillRoundRect(split - 7, h / 2 - 17, 14, 34, 14, 14);
            g.setStroke(Color.web("#6A6259"));
            g.setLineWidth(1);
            g.strokeLine(split - 2, h / 2 - 6, split - 2, h / 2 + 6);
            g.strokeLine(split + 2, h / 2 - 6, split + 2, h / 2 + 6);
            if (split > 70) {
                String other = desk.beside().get() == null
                        ? Labels.of("viewport.received")
                        : Ink.shortened(desk.beside().get().name());
                text(g, other, 12, 18, TEXT, FAINT, TextAlignment.LEFT);
            }
        }
        if (desk.seeing().before().get()) {
            return;
        }
        boolean past = desk.looking() < desk.history().done().size();
        String now = past ? Labels.of("viewport.step", desk.looking()) : Labels.of("viewport.now");
        if (w - split > 60) {
            text(g, now, split + 12, 18, TEXT, BONE, TextAlignment.LEFT);
        }
    }

    private static void drawLegend(GraphicsContext g, double w, String zero, String most) {
        double x = w - 168;
        g.setFill(new LinearGradient(0, 0, 1, 0, true, CycleMethod.NO_CYCLE, TIDELINE));
        g.fillRect(x, 14, 152, 8);
        text(g, ">0", x, 33, SMALL, BONE, TextAlignment.LEFT);
        if (most.equals("1")) {
            text(g, "0.5", x + 76, 33, SMALL, BONE, TextAlignment.CENTER);
        }
        text(g, most, x + 152, 33, SMALL, BONE, TextAlignment.RIGHT);
        g.setFill(Color.web("#8B8F94"));
        g.fillRect(x, 43, 8, 8);
        text(g, Labels.of(zero), x + 14, 47, SMALL, BONE, TextAlignment.LEFT);
    }

    private static void drawPairLegend(GraphicsContext g, Desk desk, double w) {
        String[] names = {
            desk.selection().joint().get(), desk.selection().compared().get()
        };
        int[] colours = {JointTints.FIRST, JointTints.SECOND};
        for (int i = 0; i < 2; i++) {
            String name = names[i].isEmpty() ? Labels.of("viewport.no.joint") : Ink.shortened(names[i]);
            double x = w - 26 - width(name, SMALL);
            g.setFill(Color.web(String.format(Locale.ROOT, "#%06X", colours[i])));
            g.fillRect(x - 14, 14 + i * 18, 8, 8);
            text(g, name, x, 18 + i * 18, SMALL, BONE, TextAlignment.LEFT);
        }
    }

    private static void drawStrainLegend(GraphicsContext g, double w) {
        double x = w - 168;
        g.setFill(new LinearGradient(0, 0, 1, 0, true, CycleMethod.NO_CYCLE, STRAIN));
        g.fillRect(x, 14, 152, 8);
        text(g, "-50 %", x, 33, SMALL, BONE, TextAlignment.LEFT);
        text(g, "0", x + 76, 33, SMALL, BONE, TextAlignment.CENTER);
        text(g, "+50 %", x + 152, 33, SMALL, BONE, TextAlignment.RIGHT);
        text(g, Labels.of("viewport.pressed"), x, 47, SMALL, BONE, TextAlignment.LEFT);
        text(g, Labels.of("viewport.stretched"), x + 152, 47, SMALL, BONE, TextAlignment.RIGHT);
    }

    /** The target's axes as they lie in this view. */
    private static void drawAxes(GraphicsContext g, Desk desk, Camera camera, double h) {
        Matrix4d view = camera.view();
        Conversion toView = Conversion.between(desk.target().get().conventions(), Conventions.GLTF);
        Color[] colours = {Color.web("#E0635A"), Color.web("#7DBE6A"), Color.web("#6C9BE8")};
        String[] names = {"X", "Y", "Z"};
        double cx = 52;
        double cy = h - 48;
        for (int i = 0; i < 3; i++) {
            Vector3d axis = new Vector3d(i == 0 ? 1 : 0, i == 1 ? 1 : 0, i == 2 ? 1 : 0);
            toView.turn().transform(axis);
            view.transformDirection(axis);
            double x = cx + axis.x * 28;
            double y = cy - axis.y * 28;
            g.setStroke(colours[i]);
            g.setLineWidth(2);
            g.strokeLine(cx, cy, x, y);
            text(g, names[i], cx + axis.x * 38, cy - axis.y * 38, SMALL, BONE, TextAlignment.CENTER);
        }
    }

    private static void drawScale(GraphicsContext g, Desk desk, Camera camera, double w, double h) {
        double perPixel = camera.metresPerPixel(h);
        double metres = Math.pow(10, Math.floor(Math.log10(perPixel * 140)));
        for (double step : new double[] {5, 2}) {
            if (metres * step / perPixel <= 140) {
                metres *= step;
                break;
            }
        }
        double pixels = metres / perPixel;
        double x = w - 18;
        g.setStroke(BONE);
        g.setLineWidth(2);
        g.strokeLine(x - pixels, h - 34, x, h - 34);
        g.setLineWidth(1);
        g.strokeLine(x - pixels, h - 38, x - pixels, h - 30);
        g.strokeLine(x, h - 38, x, h - 30);
        text(g, desk.preferences().say(metres), x, h - 20, SMALL, BONE, TextAlignment.RIGHT);
    }

    private static void drawReadout(GraphicsContext g, Readout r, double w) {
        double wide = Math.max(width(r.part, TEXT), width(r.value, NAME)) + 18;
        double x = r.x + 18 + wide > w ? r.x - 18 - wide : r.x + 18;
        double y = Math.max(8, r.y - 46);
        g.setFill(DARK);
        g.fillRoundRect(x, y, wide, 40, 8, 8);
        text(g, r.part, x + 9, y + 13, TEXT, BONE, TextAlignment.LEFT);
        text(g, r.value, x + 9, y + 29, NAME, GOLD, TextAlignment.LEFT);
    }
}
