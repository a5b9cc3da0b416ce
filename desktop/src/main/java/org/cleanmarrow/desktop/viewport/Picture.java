package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;

/**
 * What is to be drawn: an immutable order to the renderer.
 *
 * @param width     in pixels
 * @param received  the asset as it was opened; the same object as {@code now} where nothing changed
 * @param now       the asset as it is looked at
 * @param divider   share of the width that shows {@code received}, 0 to 1
 * @param clip      what plays; null: at rest
 * @param before    the same on {@code received}
 * @param paint     how surfaces are painted
 * @param joint     node whose influence is shown in {@link ShadingMode#INFLUENCE}; -1: none
 * @param other     node that is compared with it in {@link ShadingMode#PAIR}; -1: none
 * @param price     what {@link ShadingMode#PRICE} shows; null: nothing
 * @param chosen    vertices shown as selected
 * @param lit       vertices that a click would take
 * @param look      what else is drawn
 * @param bounds    box of everything at rest in the view's space; what stands beside the asset stands beside it
 * @param still     nothing moves: draw with full smoothing
 */
public record Picture(
        int width,
        int height,
        Camera camera,
        Asset received,
        Asset now,
        double divider,
        Clip clip,
        Clip before,
        double seconds,
        ShadingMode paint,
        int joint,
        int other,
        DisplacementMap price,
        Marked chosen,
        Marked lit,
        Look look,
        Box bounds,
        boolean still) {
    /**
     * Vertices that are marked; the set is not changed any more.
     *
     * @param mesh number in {@code now}, or -1
     */
    public record Marked(int mesh, BitSet vertices) {
        public static final Marked NONE = new Marked(-1, new BitSet());
    }

    /** What is drawn besides the asset itself. */
    public record Look(
            boolean wire, boolean points, boolean ghost, boolean figure, boolean cube, boolean dual, boolean relaxed) {
        public static final Look PLAIN = new Look(false, false, false, false, false, false, false);
    }
}
