package org.cleanmarrow.desktop.uv;

import java.awt.AlphaComposite;
import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.TexturePaint;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Line2D;
import java.awt.geom.Path2D;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.util.BitSet;
import java.util.Optional;
import java.util.function.IntPredicate;
import org.cleanmarrow.desktop.viewport.Hues;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.uv.UvLayout;

/**
 * A picture of a layout to be drawn. Everything of it is immutable, so that it can be drawn elsewhere.
 *
 * @param chosen vertices that are selected
 * @param lit    vertices that a click would take
 */
record UvPicture(
        UvFacts.Shown shown,
        Optional<Pixels.Some> picture,
        UvCamera camera,
        int width,
        int height,
        UvPaint paint,
        BitSet chosen,
        BitSet lit) {
    private static final Color STAGE = new Color(0x343A40);
    private static final Color SHEET = new Color(0x434A51);
    private static final Color GRID = new Color(0x545C64);
    private static final Color EDGE = new Color(0, 0, 0, 70);
    private static final Color BORDER = new Color(0xEFE8DC);
    private static final Color OVER = new Color(0xE0574E);
    private static final Color STACKED = new Color(0xD9C26A);
    private static final int REST = 0xE9E2D4;
    private static final int PRESSED = 0x1F7A72;
    private static final int STRETCHED = 0xA3342C;
    /** Edges shorter than this many pixels on average would make a grey of everything. */
    private static final double LEAST_EDGE = 5;
    /** So many selected vertices are drawn as dots. */
    private static final int MOST_DOTS = 200;

    /** What does not change with the selection; drawn again only where this does. */
    boolean hasGroundOf(UvPicture other) {
        return other != null
                && shown == other.shown
                && paint == other.paint
                && width == other.width
                && height == other.height
                && camera.equals(other.camera);
    }

    /** The layout without what is selected or lit. */
    BufferedImage ground() {
        BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
        Graphics2D g = image.createGraphics();
        g.setColor(STAGE);
        g.fillRect(0, 0, width, height);
        sheet(g);
        if (paint != UvPaint.PICTURE) {
            fill(g);
        }
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        if (edgePixels() >= LEAST_EDGE) {
            g.setColor(paint == UvPaint.PICTURE ? new Color(255, 255, 255, 110) : EDGE);
            edges(g, t -> true, 0.8f);
        }
        hatch(g, shown.overlap().stacked()::get, STACKED, 9);
        hatch(g, shown.overlap().partly()::get, OVER, 6);
        g.setColor(BORDER);
        g.setStroke(new BasicStroke(1.2f));
        g.draw(borders());
        g.dispose();
        return image;
    }

    /** The ground with what is selected and lit over it. */
    BufferedImage over(BufferedImage ground) {
        BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
        Graphics2D g = image.createGraphics();
        g.drawImage(ground, 0, 0, null);
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        if (!lit.isEmpty()) {
            g.setComposite(AlphaComposite.SrcOver.derive(0.28f));
            g.setColor(Color.WHITE);
            g.fill(triangles(whole(lit)));
            g.setComposite(AlphaComposite.SrcOver);
        }
        if (!chosen.isEmpty()) {
            hatch(g, whole(chosen), Color.WHITE, 5);
            g.setColor(Color.WHITE);
            g.setStroke(new BasicStroke(2.2f));
            g.draw(rim());
            dots(g);
        }
        g.dispose();
        return image;
    }

    private IntPredicate whole(BitSet in) {
        int[] corners = shown.layout().corners();
        return t -> in.get(corners[3 * t]) && in.get(corners[3 * t + 1]) && in.get(corners[3 * t + 2]);
    }

    private void sheet(Graphics2D g) {
        double left = camera.x(0, width);
        double top = camera.y(0, height);
        g.setColor(SHEET);
        g.fill(new Rectangle2D.Double(left, top, camera.scale(), camera.scale()));
        if (paint == UvPaint.PICTURE && picture.isPresent()) {
            Pixels.Some p = picture.get();
            BufferedImage pixels = new BufferedImage(p.width(), p.height(), BufferedImage.TYPE_INT_ARGB);
            pixels.setRGB(0, 0, p.width(), p.height(), p.argb(), 0, p.width());
            g.drawImage(
                    pixels,
                    (int) Math.round(left),
                    (int) Math.round(top),
                    (int) Math.round(camera.scale()),
                    (int) Math.round(camera.scale()),
                    null);
        }
        g.setColor(GRID);
        for (int k = 0; k <= 4; k++) {
            double at = k / 4.0 * camera.scale();
            g.draw(new Line2D.Double(left + at, top, left + at, top + camera.scale()));
            g.draw(new Line2D.Double(left, top + at, left + camera.scale(), top + at));
        }
    }

    private void fill(Graphics2D g) {
        g.setComposite(AlphaComposite.SrcOver.derive(0.82f));
        Path2D.Double path = new Path2D.Double();
        for (int t = 0; t < shown.layout().triangleCount(); t++) {
            path.reset();
            if (add(path, t)) {
                g.setColor(new Color(colour(t)));
                g.fill(path);
            }
        }
        g.setComposite(AlphaComposite.SrcOver);
        spots(g);
    }

    /** Triangles without area, as those that take their colour from a palette have none: a spot an island. */
    private void spots(Graphics2D g) {
        UvLayout layout = shown.layout();
        BitSet done = new BitSet();
        for (int t = 0; t < layout.triangleCount(); t++) {
            if (layout.twiceArea(t) == 0 && !done.get(layout.islandOf(t))) {
                done.set(layout.islandOf(t));
                int v = layout.corners()[3 * t];
                double x = camera.x(layout.uv()[2 * v], width);
                double y = camera.y(layout.uv()[2 * v + 1], height);
                g.setColor(new Color(Hues.of(layout.islandOf(t))));
                g.fill(new Rectangle2D.Double(x - 4, y - 4, 8, 8));
            }
        }
    }

    private int colour(int t) {
        return switch (paint) {
            case ISLANDS, PICTURE -> Hues.of(shown.layout().islandOf(t));
            // Twice as many texels each way is one end, half as many the other.
            case SCALE -> ramp(Math.log(shown.stretch().scale()[t]) / Math.log(2));
            case ANGLES -> ramp((shown.stretch().shear()[t] - 1) / 2);
        };
    }

    private static int ramp(double share) {
        if (Double.isNaN(share)) {
            return 0x8B8F94;
        }
        int to = share < 0 ? PRESSED : STRETCHED;
        double by = Math.min(1, Math.abs(share));
        int out = 0;
        for (int shift = 16; shift >= 0; shift -= 8) {
            double from = REST >> shift & 0xFF;
            out |= (int) Math.round(from + by * ((to >> shift & 0xFF) - from)) << shift;
        }
        return out;
    }

    /** Adds a triangle that is in the picture. */
    private boolean add(Path2D path, int t) {
        UvLayout layout = shown.layout();
        double[] x = new double[3];
        double[] y = new double[3];
        for (int i = 0; i < 3; i++) {
            int v = layout.corners()[3 * t + i];
            x[i] = camera.x(layout.uv()[2 * v], width);
            y[i] = camera.y(layout.uv()[2 * v + 1], height);
        }
        if (Math.max(x[0], Math.max(x[1], x[2])) < 0
                || Math.min(x[0], Math.min(x[1], x[2])) > width
                || Math.max(y[0], Math.max(y[1], y[2])) < 0
                || Math.min(y[0], Math.min(y[1], y[2])) > height) {
            return false;
        }
        path.moveTo(x[0], y[0]);
        path.lineTo(x[1], y[1]);
        path.lineTo(x[2], y[2]);
        path.closePath();
        return true;
    }

    private Path2D triangles(IntPredicate which) {
        Path2D.Double path = new Path2D.Double(Path2D.WIND_NON_ZERO);
        for (int t = 0; t < shown.layout().triangleCount(); t++) {
            if (which.test(t)) {
                add(path, t);
            }
        }
        return path;
    }

    private void edges(Graphics2D g, IntPredicate which, float thick) {
        g.setStroke(new BasicStroke(thick));
        g.draw(triangles(which));
    }

    private void hatch(Graphics2D g, IntPredicate which, Color colour, int apart) {
        Path2D path = triangles(which);
        BufferedImage tile = new BufferedImage(apart, apart, BufferedImage.TYPE_INT_ARGB);
        for (int k = 0; k < apart; k++) {
            tile.setRGB(k, apart - 1 - k, colour.getRGB());
        }
        g.setPaint(new TexturePaint(tile, new Rectangle2D.Double(0, 0, apart, apart)));
        g.fill(path);
    }

    /** Edges at the rim of islands. */
    private Path2D borders() {
        UvLayout layout = shown.layout();
        Path2D.Double path = new Path2D.Double();
        for (int e = 0; e < layout.corners().length; e++) {
            if (layout.across(e) < 0) {
                line(path, layout.corners()[e], layout.corners()[e - e % 3 + (e + 1) % 3]);
            }
        }
        return path;
    }

    /** Edges between what is selected and what is not. */
    private Path2D rim() {
        UvLayout layout = shown.layout();
        IntPredicate in = whole(chosen);
        Path2D.Double path = new Path2D.Double();
        for (int e = 0; e < layout.corners().length; e++) {
            int other = layout.across(e);
            if (in.test(e / 3) && (other < 0 || !in.test(other))) {
                line(path, layout.corners()[e], layout.corners()[e - e % 3 + (e + 1) % 3]);
            }
        }
        return path;
    }

    private void line(Path2D path, int a, int b) {
        float[] uv = shown.layout().uv();
        path.moveTo(camera.x(uv[2 * a], width), camera.y(uv[2 * a + 1], height));
        path.lineTo(camera.x(uv[2 * b], width), camera.y(uv[2 * b + 1], height));
    }

    private void dots(Graphics2D g) {
        if (chosen.cardinality() > MOST_DOTS) {
            return;
        }
        float[] uv = shown.layout().uv();
        for (int v = chosen.nextSetBit(0); v >= 0; v = chosen.nextSetBit(v + 1)) {
            if (2 * v + 1 < uv.length && Float.isFinite(uv[2 * v])) {
                double x = camera.x(uv[2 * v], width);
                double y = camera.y(uv[2 * v + 1], height);
                g.fill(new Ellipse2D.Double(x - 3, y - 3, 6, 6));
            }
        }
    }

    private double edgePixels() {
        UvLayout layout = shown.layout();
        double sum = 0;
        int n = layout.triangleCount();
        for (int t = 0; t < n; t++) {
            sum += Math.sqrt(Math.abs(layout.twiceArea(t)));
        }
        return sum / Math.max(1, n) * camera.scale();
    }
}
