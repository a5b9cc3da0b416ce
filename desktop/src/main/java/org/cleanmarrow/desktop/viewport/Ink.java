package org.cleanmarrow.desktop.viewport;

import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.Text;
import javafx.scene.text.TextAlignment;

/** Colours, fonts and small pieces that everything drawn over the picture shares. */
final class Ink {
    static final Color BONE = Color.web("#EFE8DC");
    static final Color FAINT = Color.web("#EFE8DC", 0.55);
    static final Color MARROW = Color.web("#E0574E");
    static final Color DARK = Color.web("#23201D", 0.92);
    static final Color GOLD = Color.web("#D9C26A");
    static final Font TEXT = Font.font("Lato", 12);
    static final Font SMALL = Font.font("Lato", 11);
    static final Font NAME = Font.font("Inconsolata", 13);

    private Ink() {}

    static void text(GraphicsContext g, String text, double x, double y, Font font, Color c, TextAlignment a) {
        g.setFont(font);
        g.setFill(c);
        g.setTextAlign(a);
        g.setTextBaseline(VPos.CENTER);
        g.fillText(text, x, y);
    }

    static double width(String text, Font font) {
        Text measure = new Text(text);
        measure.setFont(font);
        return measure.getLayoutBounds().getWidth();
    }

    /** A name on a dark plate, cut where it is far too long for the view. */
    static void plate(GraphicsContext g, String text, double x, double y, Font font, Color c) {
        String shown = shortened(text);
        g.setFill(DARK);
        g.fillRoundRect(x - 5, y - 9, width(shown, font) + 10, 18, 6, 6);
        text(g, shown, x, y, font, c, TextAlignment.LEFT);
    }

    static String shortened(String text) {
        return text.length() <= 44 ? text : text.substring(0, 28) + "…" + text.substring(text.length() - 14);
    }
}
