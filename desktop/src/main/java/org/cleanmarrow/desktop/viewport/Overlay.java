package org.cleanmarrow.desktop.viewport;

import java.util.Locale;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.paint.CycleMethod;
import javafx.scene.paint.LinearGradient;
import javafx.scene.paint.Stop;
import javafx.scene.text.Font;
import javafx.scene.text.Text;
import javafx.scene.text.TextAlignment;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Paint;
import org.cleanmarrow.desktop.text.Words;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** What is drawn over the picture: joints, divider, legend, axis mark, scale, and the value under the pointer. */
final class Overlay {
    private static final Color BONE = Color.web("#EFE8DC");
    private static final Color FAINT = Color.web("#EFE8DC", 0.55);
    private static final Color MARROW = Color.web("#E0574E");
    private static final Color INK = Color.web("#23201D", 0.92);
    private static final Font TEXT = Font.font("Lato", 12);
    private static final Font SMALL = Font.font("Lato", 11);
    private static final Font NAME = Font.font("Inconsolata", 13);
    /** The weight ramp; exactly zero is not on it. */
    private static final Stop[] TIDELINE = {
        new Stop(0, Color.web("#2B2F6B")),
        new Stop(0.25, Color.web("#2C6E8F")),
        new Stop(0.5, Color.web("#4FA98B")),
        new Stop(0.75, Color.web("#D9C26A")),
        new Stop(1, Color.web("#FFF3DC"))
    };

    private String trouble = "";

    /** A rectangle being dragged. */
    record Band(double x0, double y0, double x1, double y1) {}

    /** What lies under the pointer, in words. */
    record Readout(double x, double y, String part, String value) {
        static Readout of(Desk desk, Picker.Hit hit, double x, double y) {
            Asset asset = desk.now();
            String part = hit.place().label(asset);
            int node = desk.jointNode();
            if (node < 0 || hit.place().skin() < 0) {
                return new Readout(x, y, part, Words.of("viewport.vertex", hit.vertex()));
            }
            int joint = asset.skins().get(hit.place().skin()).indexOfNode(node);
            float weight = joint < 0 ? 0 : weight(asset, hit, joint);
            return new Readout(
                    x, y, part, asset.nodes().get(node).name() + String.format(Locale.ROOT, " %.2f", weight));
        }

        private static float weight(Asset asset, Picker.Hit hit, int joint) {
            int vertex = hit.vertex();
            for (Primitive p : asset.meshes().get(hit.place().mesh()).primitives()) {
                if (vertex < p.vertexCount()) {
                    return p.influences() == null ? 0 : p.influences().weight(vertex, joint);
                }
                vertex -= p.vertexCount();
            }
            return 0;
        }
    }

    void setTrouble(String what) {
        trouble = what;
    }

    void draw(Canvas canvas, Desk desk, Camera camera, Picker picker, boolean joints, Band band, Readout readout) {
        GraphicsContext g = canvas.getGraphicsContext2D();
        double w = canvas.getWidth();
        double h = canvas.getHeight();
        g.clearRect(0, 0, w, h);
        if (!trouble.isEmpty()) {
            g.setFill(Color.web("#3A4047"));
            g.fillRect(0, 0, w, h);
            text(g, Words.of("viewport.no.gl", trouble), w / 2, h / 2, TEXT, BONE, TextAlignment.CENTER);
        }
        if (picker == null) {
            return;
        }
        double split = desk.divider().get() * w;
        if (joints) {
            g.save();
            g.beginPath();
            g.rect(split, 0, w - split, h);
            g.clip();
            drawJoints(g, desk, camera, picker, w, h);
            g.restore();
        }
        drawDivider(g, desk, split, w, h);
        if (desk.paint().get() == Paint.INFLUENCE) {
            drawLegend(g, w);
        }
        drawAxes(g, desk, camera, h);
        drawScale(g, camera, w, h);
        if (band != null) {
            g.setFill(Color.web("#EFE8DC", 0.10));
            g.fillRect(band.x0, band.y0, band.x1 - band.x0, band.y1 - band.y0);
            g.setStroke(BONE);
            g.setLineDashes(5, 4);
            g.setLineWidth(1);
            g.strokeRect(band.x0 + 0.5, band.y0 + 0.5, band.x1 - band.x0, band.y1 - band.y0);
            g.setLineDashes();
        }
        if (readout != null) {
            drawReadout(g, readout, w);
        }
    }

    private static void drawJoints(GraphicsContext g, Desk desk, Camera camera, Picker picker, double w, double h) {
        Asset asset = desk.now();
        boolean[] flags = asset.jointFlags();
        int[] parents = asset.parents();
        int chosen = desk.jointNode();
        Vector3d[] at = new Vector3d[flags.length];
        for (int n = 0; n < flags.length; n++) {
            if (flags[n]) {
                at[n] = camera.toPicture(picker.nodePlace(n), w, h);
            }
        }
        for (int n = 0; n < flags.length; n++) {
            int up = n < flags.length && flags[n] ? parents[n] : -1;
            if (up >= 0 && flags[up] && at[n].z > 0 && at[up].z > 0) {
                strut(g, at[up], at[n], up == chosen);
            }
        }
        for (int n = 0; n < flags.length; n++) {
            if (flags[n] && at[n].z > 0) {
                // Small bones, such as a hand's from afar, get small rings.
                int up = parents[n];
                boolean crowded = up >= 0 && flags[up] && at[up].distance(at[n].x, at[n].y, at[up].z) < 12;
                double r = n == chosen ? 4.5 : crowded ? 1.6 : 3;
                g.setFill(n == chosen ? MARROW : Color.web("#2B3036", 0.55));
                g.fillOval(at[n].x - r, at[n].y - r, 2 * r, 2 * r);
                g.setStroke(n == chosen ? Color.web("#FFE9E2") : Color.web("#EFE8DC", 0.85));
                g.setLineWidth(1.2);
                g.strokeOval(at[n].x - r, at[n].y - r, 2 * r, 2 * r);
            }
        }
        if (chosen >= 0 && flags[chosen] && at[chosen].z > 0) {
            label(g, asset.nodes().get(chosen).name(), at[chosen].x + 10, at[chosen].y - 12);
        }
    }

    /** A tapered strut, wide where the bone starts. */
    private static void strut(GraphicsContext g, Vector3d from, Vector3d to, boolean chosen) {
        double dx = to.x - from.x;
        double dy = to.y - from.y;
        double length = Math.hypot(dx, dy);
        if (length < 3) {
            return;
        }
        double wide = Math.min(3.6, 1.2 + length * 0.06);
        double nx = -dy / length * wide;
        double ny = dx / length * wide;
        g.setFill(chosen ? Color.web("#E0574E", 0.80) : Color.web("#EFE8DC", 0.30));
        g.fillPolygon(
                new double[] {from.x + nx, to.x + nx * 0.2, to.x - nx * 0.2, from.x - nx},
                new double[] {from.y + ny, to.y + ny * 0.2, to.y - ny * 0.2, from.y - ny},
                4);
        g.setStroke(chosen ? Color.web("#FFB9AE", 0.9) : Color.web("#EFE8DC", 0.45));
        g.setLineWidth(0.7);
        g.strokePolygon(
                new double[] {from.x + nx, to.x + nx * 0.2, to.x - nx * 0.2, from.x - nx},
                new double[] {from.y + ny, to.y + ny * 0.2, to.y - ny * 0.2, from.y - ny},
                4);
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
                text(g, Words.of("viewport.received"), 12, 18, TEXT, FAINT, TextAlignment.LEFT);
            }
        }
        boolean past = desk.looking() < desk.history().done().size();
        String now = past ? Words.of("viewport.step", desk.looking()) : Words.of("viewport.now");
        if (w - split > 60) {
            text(g, now, split + 12, 18, TEXT, BONE, TextAlignment.LEFT);
        }
    }

    private static void drawLegend(GraphicsContext g, double w) {
        double x = w - 168;
        g.setFill(new LinearGradient(0, 0, 1, 0, true, CycleMethod.NO_CYCLE, TIDELINE));
        g.fillRect(x, 14, 152, 8);
        text(g, ">0", x, 33, SMALL, BONE, TextAlignment.LEFT);
        text(g, "0.5", x + 76, 33, SMALL, BONE, TextAlignment.CENTER);
        text(g, "1", x + 152, 33, SMALL, BONE, TextAlignment.RIGHT);
        g.setFill(Color.web("#8B8F94"));
        g.fillRect(x, 43, 8, 8);
        text(g, Words.of("viewport.not.moved"), x + 14, 47, SMALL, BONE, TextAlignment.LEFT);
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

    private static void drawScale(GraphicsContext g, Camera camera, double w, double h) {
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
        text(g, Units.say(metres), x, h - 20, SMALL, BONE, TextAlignment.RIGHT);
    }

    private static void drawReadout(GraphicsContext g, Readout r, double w) {
        double wide = Math.max(width(r.part, TEXT), width(r.value, NAME)) + 18;
        double x = r.x + 18 + wide > w ? r.x - 18 - wide : r.x + 18;
        double y = Math.max(8, r.y - 46);
        g.setFill(INK);
        g.fillRoundRect(x, y, wide, 40, 8, 8);
        text(g, r.part, x + 9, y + 13, TEXT, BONE, TextAlignment.LEFT);
        text(g, r.value, x + 9, y + 29, NAME, Color.web("#D9C26A"), TextAlignment.LEFT);
    }

    private static void label(GraphicsContext g, String name, double x, double y) {
        g.setFill(INK);
        g.fillRoundRect(x - 5, y - 9, width(name, NAME) + 10, 18, 6, 6);
        text(g, name, x, y, NAME, BONE, TextAlignment.LEFT);
    }

    private static double width(String text, Font font) {
        Text measure = new Text(text);
        measure.setFont(font);
        return measure.getLayoutBounds().getWidth();
    }

    private static void text(GraphicsContext g, String text, double x, double y, Font font, Color c, TextAlignment a) {
        g.setFont(font);
        g.setFill(c);
        g.setTextAlign(a);
        g.setTextBaseline(VPos.CENTER);
        g.fillText(text, x, y);
    }
}
