package org.cleanmarrow.surface;

import java.util.List;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.jspecify.annotations.Nullable;

/** A primitive whose vertices are mixed of up to three of another's each. */
public final class Mixed {
    private static final int SLOTS = 3;

    private final int[] from;
    private final double[] share;

    /**
     * @param from  3 numbers of vertices each, below zero for none; the first is always one
     * @param share how much of each; they sum to 1
     */
    public Mixed(int[] from, double[] share) {
        this.from = from;
        this.share = share;
    }

    /**
     * Everything but positions is mixed; normals and tangents keep their length, and a tangent's sign is that of its largest
     * share. Weights and layout of the file do not stay.
     *
     * @param positions 3 a new vertex
     */
    public Primitive of(Primitive p, int[] indices, float[] positions) {
        List<Attribute> attributes = p.attributes().stream().map(this::mixed).toList();
        List<MorphTarget> targets = p.targets().stream()
                .map(t -> new MorphTarget(
                        mixedIfAny(t.positions(), 3),
                        mixedIfAny(t.normals(), 3),
                        mixedIfAny(t.tangents(), 3),
                        t.attributes().stream().map(this::mixed).toList()))
                .toList();
        return new Primitive(
                Primitive.Mode.TRIANGLES,
                indices,
                positions,
                unit(mixedIfAny(p.normals(), 3), 3),
                unit(signed(p.tangents()), 4),
                attributes,
                null,
                targets,
                p.material(),
                Primitive.Layout.PLAIN,
                p.carried());
    }

    private Attribute mixed(Attribute a) {
        float[] values = mixed(a.values(), a.width());
        return new Attribute(a.name(), a.width(), values, Storage.FLOAT);
    }

    private float @Nullable [] mixedIfAny(float @Nullable [] values, int width) {
        return values == null ? null : mixed(values, width);
    }

    private float[] mixed(float[] values, int width) {
        float[] out = new float[from.length / SLOTS * width];
        for (int v = 0; v < from.length / SLOTS; v++) {
            for (int d = 0; d < width; d++) {
                double sum = 0;
                for (int s = SLOTS * v; s < SLOTS * v + SLOTS && from[s] >= 0; s++) {
                    sum += share[s] * values[from[s] * width + d];
                }
                out[v * width + d] = (float) sum;
            }
        }
        return out;
    }

    private float @Nullable [] signed(float @Nullable [] tangents) {
        if (tangents == null) {
            return null;
        }
        float[] out = mixed(tangents, 4);
        for (int v = 0; v < from.length / SLOTS; v++) {
            int most = SLOTS * v;
            for (int s = most + 1; s < SLOTS * v + SLOTS && from[s] >= 0; s++) {
                most = share[s] > share[most] ? s : most;
            }
            out[4 * v + 3] = tangents[4 * from[most] + 3];
        }
        return out;
    }

    /** What is not mixed keeps what it was to the bit. */
    private float @Nullable [] unit(float @Nullable [] values, int width) {
        for (int v = 0; values != null && v < from.length / SLOTS; v++) {
            int i = v * width;
            double length = Math.sqrt(
                    values[i] * values[i] + values[i + 1] * values[i + 1] + values[i + 2] * (double) values[i + 2]);
            for (int d = i; from[SLOTS * v + 1] >= 0 && length > 0 && d < i + 3; d++) {
                values[d] /= (float) length;
            }
        }
        return values;
    }
}
