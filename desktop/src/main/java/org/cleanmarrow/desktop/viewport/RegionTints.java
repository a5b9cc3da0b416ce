package org.cleanmarrow.desktop.viewport;

import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.weights.RegionMarks;

/** A flat colour for every region of the body. */
public final class RegionTints {
    private static final float[] NONE = {};
    private static final int BARE = 0x8B8F94;
    /** How much darker what lies at the right is than the same at the left. */
    private static final double RIGHT = 0.66;

    private RegionTints() {}

    /** Red, green and blue of a region; left and right are one hue, light and dark. */
    public static int rgb(BodyRegion region) {
        String name = region.name();
        boolean right = name.startsWith("RIGHT_");
        BodyRegion like = right ? BodyRegion.valueOf("LEFT_" + name.substring("RIGHT_".length())) : region;
        // Six at the left, of which three come after those at the right: hues are few, so none is passed over.
        int hue = Hues.of(like.ordinal() > BodyRegion.LEFT_HAND.ordinal() ? like.ordinal() - 3 : like.ordinal());
        double share = right ? RIGHT : 1;
        return (int) (share * (hue >> 16)) << 16 | (int) (share * (hue >> 8 & 255)) << 8 | (int) (share * (hue & 255));
    }

    /** The numbers that a primitive's regions are kept as; none where it has none. */
    static float[] numbers(Primitive p) {
        return p.attribute(RegionMarks.ATTRIBUTE)
                .filter(a -> a.width() == 1)
                .map(Attribute::values)
                .orElse(NONE);
    }

    /** Red, green and blue of every vertex of one of a mesh's primitives, 0 to 1. */
    static float[] paint(Mesh mesh, int primitive) {
        BodyRegion[] all = RegionMarks.of(mesh);
        int first = 0;
        for (int i = 0; i < primitive; i++) {
            first += mesh.primitives().get(i).vertexCount();
        }
        float[] out = new float[mesh.primitives().get(primitive).vertexCount() * 3];
        for (int v = 0; v < out.length / 3; v++) {
            BodyRegion region = all[first + v];
            int rgb = region == null ? BARE : rgb(region);
            for (int i = 0; i < 3; i++) {
                out[3 * v + i] = (rgb >> 16 - 8 * i & 255) / 255f;
            }
        }
        return out;
    }

    /** The same triangles, each from a corner of the region that most of its corners have: the first one gives it its colour. */
    static int[] fromMost(int[] corners, float[] numbers) {
        if (numbers.length == 0) {
            return corners;
        }
        int[] out = corners.clone();
        for (int t = 0; t + 2 < out.length; t += 3) {
            boolean turned = numbers[out[t + 1]] == numbers[out[t + 2]];
            out[t] = corners[turned ? t + 1 : t];
            out[t + 1] = corners[turned ? t + 2 : t + 1];
            out[t + 2] = corners[turned ? t : t + 2];
        }
        return out;
    }
}
