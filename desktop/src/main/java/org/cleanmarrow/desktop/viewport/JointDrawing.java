package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.joml.Vector3d;

/** Joints as rings, and the bones between them as tapered struts, seen through the surface. */
final class JointDrawing {
    private static final Color CASING = Color.web("#23282D", 0.55);
    private static final Color STRUT = Color.web("#EFE8DC", 0.42);
    private static final Color STRUT_RIM = Color.web("#EFE8DC", 0.75);
    private static final Color CHOSEN = Color.web("#E0574E", 0.80);
    private static final Color CHOSEN_RIM = Color.web("#FFB9AE", 0.9);
    private static final Color RING = Color.web("#EFE8DC", 0.85);
    private static final Color CHOSEN_RING = Color.web("#FFE9E2");
    private static final Color HOLE = Color.web("#2B3036", 0.55);
    /** Rings nearer together than this are drawn small, such as a hand's from afar. */
    private static final double CROWDED = 12;

    private static final double CELL = 16;
    /** How tall a name is. */
    private static final double TALL = 11;

    /** Skeletons that are drawn before and after the moment shown. */
    private static final int NEIGHBOURS = 3;

    private static final Color EARLIER = Color.web("#8FB8C9");
    private static final Color LATER = Color.web("#E3B45C");

    private JointDrawing() {}

    static void draw(
            GraphicsContext g,
            Asset asset,
            int chosen,
            int lit,
            boolean names,
            Camera camera,
            Picker picker,
            double w,
            double h) {
        boolean[] flags = asset.jointFlags();
        int[] parents = asset.parents();
        Vector3d[] at = new Vector3d[flags.length];
        for (int n = 0; n < flags.length; n++) {
            if (flags[n]) {
                at[n] = camera.toPicture(picker.nodePlace(n), w, h);
            }
        }
        for (int n = 0; n < flags.length; n++) {
            int up = flags[n] ? parents[n] : -1;
            if (up >= 0 && flags[up] && at[n].z > 0 && at[up].z > 0) {
                strut(g, at[up], at[n], up == chosen);
            }
        }
        for (int n = 0; n < flags.length; n++) {
            if (flags[n] && at[n].z > 0) {
                int up = parents[n];
                boolean crowded = up >= 0 && flags[up] && Math.hypot(at[up].x - at[n].x, at[up].y - at[n].y) < CROWDED;
                ring(g, at[n], n == chosen, n == chosen ? 4.5 : crowded ? 1.6 : 3);
            }
        }
        if (lit >= 0 && lit < flags.length && flags[lit] && at[lit].z > 0) {
            g.setStroke(CHOSEN_RING);
            g.setLineWidth(2);
            g.strokeOval(at[lit].x - 8, at[lit].y - 8, 16, 16);
        }
        if (names) {
            names(g, asset, flags, at, w, h);
        }
        if (chosen >= 0 && flags[chosen] && at[chosen].z > 0) {
            Ink.plate(g, asset.nodes().get(chosen).name(), at[chosen].x + 10, at[chosen].y - 12, Ink.NAME, Ink.BONE);
        }
    }

    /**
     * The skeleton at moments around the one that is shown, paler the further off; earlier ones are dotted.
     *
     * @param step seconds from one to the next
     */
    static void neighbours(
            GraphicsContext g,
            Asset asset,
            Clip clip,
            double seconds,
            double step,
            Camera camera,
            Picker picker,
            double w,
            double h) {
        boolean[] flags = asset.jointFlags();
        int[] parents = asset.parents();
        g.save();
        for (int i = NEIGHBOURS; i > 0; i--) {
            for (int side = -1; side <= 1; side += 2) {
                double at = seconds + side * i * step;
                if (at < clip.start() || at > clip.end()) {
                    continue;
                }
                Vector3d[] places = picker.nodePlaces(at);
                g.setStroke(side < 0 ? EARLIER : LATER);
                g.setGlobalAlpha(1 - i / (NEIGHBOURS + 1.0));
                g.setLineWidth(1.6);
                g.setLineDashes(side < 0 ? new double[] {2, 4} : null);
                for (int n = 0; n < places.length; n++) {
                    int up = flags[n] ? parents[n] : -1;
                    if (up >= 0 && flags[up]) {
                        Vector3d a = camera.toPicture(places[up], w, h);
                        Vector3d b = camera.toPicture(places[n], w, h);
                        if (a.z > 0 && b.z > 0) {
                            g.strokeLine(a.x, a.y, b.x, b.y);
                        }
                    }
                }
            }
        }
        g.restore();
    }

    private static void ring(GraphicsContext g, Vector3d at, boolean chosen, double r) {
        g.setFill(CASING);
        g.fillOval(at.x - r - 1.6, at.y - r - 1.6, 2 * r + 3.2, 2 * r + 3.2);
        g.setFill(chosen ? Ink.MARROW : HOLE);
        g.fillOval(at.x - r, at.y - r, 2 * r, 2 * r);
        g.setStroke(chosen ? CHOSEN_RING : RING);
        g.setLineWidth(1.2);
        g.strokeOval(at.x - r, at.y - r, 2 * r, 2 * r);
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
        double[] xs = {from.x + nx, to.x + nx * 0.2, to.x - nx * 0.2, from.x - nx};
        double[] ys = {from.y + ny, to.y + ny * 0.2, to.y - ny * 0.2, from.y - ny};
        // A dark casing first, so that struts read on white, black and pictured surfaces alike.
        g.setStroke(CASING);
        g.setLineWidth(2.6);
        g.strokePolygon(xs, ys, 4);
        g.setFill(chosen ? CHOSEN : STRUT);
        g.fillPolygon(xs, ys, 4);
        g.setStroke(chosen ? CHOSEN_RIM : STRUT_RIM);
        g.setLineWidth(0.7);
        g.strokePolygon(xs, ys, 4);
    }

    private static boolean isFree(BitSet taken, int first, int last) {
        int clash = taken.nextSetBit(first);
        return clash < 0 || clash > last;
    }

    /** Names beside the rings; where they would lie over each other the first one stays. */
    private static void names(GraphicsContext g, Asset asset, boolean[] flags, Vector3d[] at, double w, double h) {
        int wide = (int) (w / CELL) + 1;
        BitSet taken = new BitSet();
        for (int n = 0; n < flags.length; n++) {
            boolean inside = flags[n] && at[n].z > 0 && at[n].x > 0 && at[n].x < w && at[n].y > 0 && at[n].y < h;
            if (!inside) {
                continue;
            }
            String name = Ink.shortened(asset.nodes().get(n).name());
            int first = (int) (at[n].x / CELL);
            int last = Math.min(wide - 1, first + (int) (name.length() * 7 / CELL));
            int top = (int) (Math.max(0, at[n].y - TALL / 2) / CELL) * wide;
            int bottom = (int) ((at[n].y + TALL / 2) / CELL) * wide;
            if (isFree(taken, top + first, top + last) && isFree(taken, bottom + first, bottom + last)) {
                taken.set(top + first, top + last + 1);
                taken.set(bottom + first, bottom + last + 1);
                Ink.text(g, name, at[n].x + 7, at[n].y, Ink.SMALL, Ink.BONE, javafx.scene.text.TextAlignment.LEFT);
            }
        }
    }
}
