package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.desktop.desk.Paint;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.probe.PriceMap;

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
 * @param joint     node whose influence is shown in {@link Paint#INFLUENCE}; -1: none
 * @param other     node that is compared with it in {@link Paint#PAIR}; -1: none
 * @param price     what {@link Paint#PRICE} shows; null: nothing
 * @param mesh      mesh that {@code chosen} belongs to, or -1
 * @param chosen    vertices shown as chosen
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
        Paint paint,
        int joint,
        int other,
        PriceMap price,
        int mesh,
        BitSet chosen,
        Look look,
        Box bounds,
        boolean still) {
    /** What is drawn besides the asset itself. */
    public record Look(
            boolean wire, boolean points, boolean ghost, boolean figure, boolean cube, boolean dual, boolean relaxed) {
        public static final Look PLAIN = new Look(false, false, false, false, false, false, false);
    }
}
