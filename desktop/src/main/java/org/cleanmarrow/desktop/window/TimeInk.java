package org.cleanmarrow.desktop.window;

import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.TextAlignment;

/** Colours of what is drawn over time, by day or by lamplight. */
record TimeInk(Color ink, Color quiet, Color marrow, Color line, Color bar, Color played, Color[] axes) {
    private static final Font FONT = Font.font("Lato", 12);

    private static final TimeInk DAY = new TimeInk(
            Color.web("#23201D"),
            Color.web("#6A6259"),
            Color.web("#9C2F2A"),
            Color.web("#D0C4AE"),
            Color.web("#E6DDCB"),
            Color.web("#EBCFC9"),
            new Color[] {Color.web("#B83A32"), Color.web("#3F7F35"), Color.web("#2F5FB0")});

    private static final TimeInk LAMP = new TimeInk(
            Color.web("#EFE8DC"),
            Color.web("#A89F92"),
            Color.web("#E0746B"),
            Color.web("#423D38"),
            Color.web("#37322D"),
            Color.web("#4A2C2A"),
            new Color[] {Color.web("#E0635A"), Color.web("#7DBE6A"), Color.web("#6C9BE8")});

    static TimeInk of(boolean dark) {
        return dark ? LAMP : DAY;
    }

    static void text(GraphicsContext g, String text, double x, double y, Color c, TextAlignment a) {
        g.setFont(FONT);
        g.setTextAlign(a);
        g.setTextBaseline(VPos.CENTER);
        g.setFill(c);
        g.fillText(text, x, y);
    }

    /** Where time stands: a line with a head at its top. */
    void moment(GraphicsContext g, double x, double height) {
        g.setStroke(marrow);
        g.setLineWidth(1.5);
        g.strokeLine(x, 2, x, height);
        g.setFill(marrow);
        g.fillPolygon(new double[] {x - 5, x + 5, x}, new double[] {0, 0, 7}, 3);
    }
}
