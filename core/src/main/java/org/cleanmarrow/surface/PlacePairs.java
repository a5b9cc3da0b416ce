package org.cleanmarrow.surface;

import java.util.Arrays;

/**
 * Two meshes that were one, and what is known so far of which place of one is which of the other.
 *
 * @param was    where the template's vertices lie
 * @param is     where the edited mesh's lie
 * @param corner for every corner of the template's triangles that of the edited one; -1 where none is known
 * @param to     for every place of the template that of the edited one; -1 where none is known
 * @param back   the other way
 */
record PlacePairs(Faceted template, Faceted edited, float[] was, float[] is, int[] corner, int[] to, int[] back) {
    static PlacePairs unknown(Faceted template, float[] was, Faceted edited, float[] is) {
        return new PlacePairs(
                template, edited, was, is, none(template.place.length), none(was.length / 3), none(is.length / 3));
    }

    private static int[] none(int many) {
        int[] out = new int[many];
        Arrays.fill(out, -1);
        return out;
    }

    void pair(int p, int q) {
        to[p] = q;
        back[q] = p;
    }
}
