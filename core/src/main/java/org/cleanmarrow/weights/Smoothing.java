package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.geometry.WeldedSurface;

/** Evens weights out along a surface: each place goes towards the mean of those beside it. */
public final class Smoothing {
    private static final int CHUNK = 512;

    private Smoothing() {}

    /**
     * @param rows     by place
     * @param chosen   places that change; those beside them are read only
     * @param strength 0 to 1 a round, by place: how far towards the mean
     * @param rounds   how often
     * @param locked   joints that keep their weights bit for bit
     */
    public static Influences run(
            WeldedSurface surface, Influences rows, BitSet chosen, Strength strength, int rounds, BitSet locked) {
        Influences now = rows;
        int[] places = chosen.stream().toArray();
        for (int round = 0; round < rounds; round++) {
            Influences before = now;
            int chunks = (places.length + CHUNK - 1) / CHUNK;
            Row[] made = new Row[places.length];
            IntStream.range(0, chunks).parallel().forEach(c -> {
                Row mean = new Row();
                for (int i = c * CHUNK; i < Math.min(places.length, (c + 1) * CHUNK); i++) {
                    made[i] = smoothed(surface, before, places[i], strength.at(places[i]), locked, mean);
                }
            });
            Influences.Builder out = new Influences.Builder(before.vertexCount());
            int copied = 0;
            for (int i = 0; i < places.length; i++) {
                out.copyRows(before, copied, places[i]);
                made[i].to(out);
                copied = places[i] + 1;
            }
            out.copyRows(before, copied, before.vertexCount());
            now = out.build();
        }
        return now;
    }

    /** How strongly a place is smoothed, 0 to 1. */
    public interface Strength {
        double at(int place);
    }

    private static Row smoothed(
            WeldedSurface surface, Influences rows, int place, double strength, BitSet locked, Row mean) {
        Row row = new Row();
        row.load(rows, place);
        int from = surface.starts()[place];
        int to = surface.starts()[place + 1];
        mean.clear();
        int around = 0;
        for (int e = from; e < to; e++) {
            int beside = surface.neighbours()[e];
            if (rows.sum(beside) > 0) {
                mean.add(rows, beside, 1);
                around++;
            }
        }
        if (around == 0 || !(strength > 0)) {
            return row;
        }
        Row out = new Row();
        for (int i = 0; i < row.size(); i++) {
            boolean held = locked.get(row.joint(i));
            out.append(row.joint(i), held ? row.weight(i) : row.weight(i) * (1 - strength));
        }
        for (int i = 0; i < mean.size(); i++) {
            if (!locked.get(mean.joint(i))) {
                out.add(mean.joint(i), mean.weight(i) / around * strength);
            }
        }
        out.dropBelow(1e-5);
        return out.normalise(locked) ? out : row;
    }
}
