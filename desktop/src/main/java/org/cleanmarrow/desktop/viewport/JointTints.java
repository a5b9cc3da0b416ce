package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;

/**
 * A colour for every joint of a skin. Joints that share a vertex, or are parent and child, never get the same one
 * while there are colours left.
 */
final class JointTints {
    private static final int BARE = 0x8B8F94;
    /** The two joints that are compared: far apart for every eye. */
    static final int FIRST = 0xE0746B;

    static final int SECOND = 0x3C9ED6;

    private final int[] colourOf;

    private JointTints(int[] colourOf) {
        this.colourOf = colourOf;
    }

    /** @param skin index, or -1: everything is bare */
    static JointTints of(Asset asset, int skin) {
        return new JointTints(skin < 0 ? new int[0] : colours(asset, skin));
    }

    private static int[] colours(Asset asset, int skin) {
        BitSet[] beside = neighbours(asset, skin);
        int[] colours = new int[beside.length];
        int[] used = new int[Hues.COUNT];
        for (int j = 0; j < colours.length; j++) {
            int best = 0;
            long least = Long.MAX_VALUE;
            for (int c = 0; c < Hues.COUNT; c++) {
                int colour = c;
                int before = j;
                long clashes = beside[j].stream()
                        .filter(n -> n < before && colours[n] == colour)
                        .count();
                long cost = clashes * 1_000_000 + used[c];
                if (cost < least) {
                    least = cost;
                    best = c;
                }
            }
            colours[j] = best;
            used[best]++;
        }
        for (int j = 0; j < colours.length; j++) {
            colours[j] = Hues.of(colours[j]);
        }
        return colours;
    }

    private static BitSet[] neighbours(Asset asset, int number) {
        Skin skin = asset.skins().get(number);
        BitSet[] beside = new BitSet[skin.joints().length];
        int[] parents = asset.parents();
        for (int j = 0; j < beside.length; j++) {
            beside[j] = new BitSet();
        }
        for (int j = 0; j < beside.length; j++) {
            int up = parents[skin.joints()[j]] < 0 ? -1 : skin.indexOfNode(parents[skin.joints()[j]]);
            if (up >= 0) {
                beside[j].set(up);
                beside[up].set(j);
            }
        }
        for (Node node : asset.nodes()) {
            if (node.skin() == number && node.mesh() >= 0) {
                for (Primitive p : asset.meshes().get(node.mesh()).primitives()) {
                    if (p.influences() != null) {
                        meet(p.influences(), beside);
                    }
                }
            }
        }
        return beside;
    }

    private static void meet(Influences rows, BitSet[] beside) {
        for (int v = 0; v < rows.vertexCount(); v++) {
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                for (int k = rows.offsets()[v]; k < i; k++) {
                    beside[rows.joints()[i]].set(rows.joints()[k]);
                    beside[rows.joints()[k]].set(rows.joints()[i]);
                }
            }
        }
    }

    /** Red, green and blue of every vertex: how much one joint and another move it, bare where neither does. */
    static float[] pair(Primitive p, int one, int two) {
        float[] out = new float[p.vertexCount() * 3];
        for (int v = 0; v < p.vertexCount(); v++) {
            float a = p.influences() == null || one < 0
                    ? 0
                    : Math.clamp(p.influences().weight(v, one), 0, 1);
            float b = p.influences() == null || two < 0
                    ? 0
                    : Math.clamp(p.influences().weight(v, two), 0, 1);
            float scale = 1 / Math.max(1, a + b);
            add(out, v, FIRST, a * scale);
            add(out, v, SECOND, b * scale);
            add(out, v, BARE, Math.max(0, 1 - (a + b) * scale));
        }
        return out;
    }

    /** Red, green and blue of every vertex, 0 to 1: its joints' colours mixed by weight. */
    float[] paint(Primitive p) {
        float[] out = new float[p.vertexCount() * 3];
        Influences rows = p.influences();
        for (int v = 0; v < p.vertexCount(); v++) {
            boolean moved = rows != null && rows.rowLength(v) > 0;
            if (!moved || colourOf.length == 0) {
                add(out, v, BARE, 1);
                continue;
            }
            double sum = rows.sum(v);
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                add(out, v, colourOf[rows.joints()[i]], (float) (rows.weights()[i] / sum));
            }
        }
        return out;
    }

    private static void add(float[] out, int v, int rgb, float share) {
        out[v * 3] += share * (rgb >> 16 & 255) / 255f;
        out[v * 3 + 1] += share * (rgb >> 8 & 255) / 255f;
        out[v * 3 + 2] += share * (rgb & 255) / 255f;
    }
}
