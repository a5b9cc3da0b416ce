package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;

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
        int[] places = chosen.stream().toArray();
        int[] at = new int[surface.size()];
        Arrays.fill(at, -1);
        for (int i = 0; i < places.length; i++) {
            at[places[i]] = i;
        }
        // Rows that change, round after round; the others are read where they are.
        Row[] now = new Row[places.length];
        for (int i = 0; i < places.length; i++) {
            now[i] = new Row();
            now[i].load(rows, places[i]);
        }
        // Asked for once: surfaces make them when they are first wanted, under a lock.
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        double[] strengths = new double[places.length];
        for (int i = 0; i < places.length; i++) {
            strengths[i] = strength.at(places[i]);
        }
        int chunks = (places.length + CHUNK - 1) / CHUNK;
        for (int round = 0; round < rounds; round++) {
            Row[] before = now;
            Row[] made = new Row[places.length];
            IntStream.range(0, chunks).parallel().forEach(c -> {
                Row mean = new Row();
                for (int i = c * CHUNK; i < Math.min(places.length, (c + 1) * CHUNK); i++) {
                    made[i] = smoothed(
                            starts, neighbours, rows, before, at, before[i], places[i], strengths[i], locked, mean);
                }
            });
            now = made;
        }
        Influences.Builder out = new Influences.Builder(rows.vertexCount());
        int copied = 0;
        for (int i = 0; i < places.length; i++) {
            out.copyRows(rows, copied, places[i]);
            now[i].to(out);
            copied = places[i] + 1;
        }
        out.copyRows(rows, copied, rows.vertexCount());
        return out.build();
    }

    /** How strongly a place is smoothed, 0 to 1. */
    public interface Strength {
        double at(int place);
    }

    private static Row smoothed(
            int[] starts,
            int[] neighbours,
            Influences rows,
            Row[] changed,
            int[] at,
            Row row,
            int place,
            double strength,
            BitSet locked,
            Row mean) {
        mean.clear();
        int around = 0;
        for (int e = starts[place]; e < starts[place + 1]; e++) {
            int beside = neighbours[e];
            if (at[beside] >= 0) {
                if (changed[at[beside]].sum() > 0) {
                    mean.add(changed[at[beside]], 1);
                    around++;
                }
            } else if (rows.sum(beside) > 0) {
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
