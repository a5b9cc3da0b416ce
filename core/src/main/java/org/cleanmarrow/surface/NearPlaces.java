package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntUnaryOperator;
import org.cleanmarrow.geometry.PointTree;

/**
 * Pairs places that triangles did not tell: the nearest place counts that is nearest the other way too, looks the same way and has the
 * same neighbours.
 */
final class NearPlaces extends PlaceSearch {
    /** Cosine of the most that the normals of places may part where only nearness tells. */
    private static final double SAME_WAY = 0.5;

    NearPlaces(PlacePairs known) {
        super(known);
    }

    void find(IntUnaryOperator placeA, IntUnaryOperator placeB, Runnable beat) {
        List<Integer> left = free(to, placeA);
        if (left.isEmpty()) {
            return;
        }
        int[][] around = around(template);
        int[][] aroundEdited = around(edited);
        float[] normals = normals(template, was);
        float[] normalsEdited = normals(edited, is);
        for (boolean found = true; found && !left.isEmpty(); left = free(to, placeA)) {
            beat.run();
            found = false;
            List<Integer> others = free(back, placeB);
            float[] expected = new float[left.size() * 3];
            for (int i = 0; i < left.size(); i++) {
                expect(left.get(i), around, expected, i * 3);
            }
            float[] there = new float[others.size() * 3];
            for (int i = 0; i < others.size(); i++) {
                System.arraycopy(is, others.get(i) * 3, there, i * 3, 3);
            }
            if (others.isEmpty()) {
                return;
            }
            PointTree ours = new PointTree(expected);
            PointTree theirs = new PointTree(there);
            for (int i = 0; i < left.size(); i++) {
                int j = theirs.nearest(expected[i * 3], expected[i * 3 + 1], expected[i * 3 + 2]);
                int p = left.get(i);
                int q = j < 0 ? -1 : others.get(j);
                if (q >= 0
                        && ours.nearest(there[j * 3], there[j * 3 + 1], there[j * 3 + 2]) == i
                        && looksAlike(normals, p, normalsEdited, q)
                        && hasSameNeighbours(around[p], aroundEdited[q])
                        && isNear(p, q, expected, i * 3, around[p])) {
                    known.pair(p, q);
                    found = true;
                }
            }
        }
    }

    private static List<Integer> free(int[] known, IntUnaryOperator place) {
        List<Integer> out = new ArrayList<>();
        for (int v = 0; v < known.length; v++) {
            if (known[v] < 0 && place.applyAsInt(v) == v) {
                out.add(v);
            }
        }
        return out;
    }

    /** Where a place should be by how those around it were moved. */
    private void expect(int p, int[][] around, float[] out, int at) {
        double[] moved = new double[3];
        int many = 0;
        for (int n : around[p]) {
            if (to[n] >= 0) {
                many++;
                for (int i = 0; i < 3; i++) {
                    moved[i] += is[to[n] * 3 + i] - was[n * 3 + i];
                }
            }
        }
        for (int i = 0; i < 3; i++) {
            out[at + i] = (float) (was[p * 3 + i] + (many == 0 ? 0 : moved[i] / many));
        }
    }

    private boolean hasSameNeighbours(int[] around, int[] aroundEdited) {
        int known = 0;
        int same = 0;
        for (int n : around) {
            if (to[n] >= 0) {
                known++;
                int m = to[n];
                same += Arrays.stream(aroundEdited).anyMatch(e -> e == m) ? 1 : 0;
            }
        }
        return same * 2 >= known;
    }

    /** Nearer than half the way to what lies around it; at its very place where nothing does. */
    private boolean isNear(int p, int q, float[] expected, int at, int[] around) {
        double least = Double.POSITIVE_INFINITY;
        for (int n : around) {
            double square = 0;
            for (int i = 0; i < 3; i++) {
                double d = was[n * 3 + i] - was[p * 3 + i];
                square += d * d;
            }
            least = Math.min(least, square);
        }
        double off = 0;
        for (int i = 0; i < 3; i++) {
            double d = is[q * 3 + i] - expected[at + i];
            off += d * d;
        }
        return around.length == 0 ? off == 0 : off < least / 4;
    }

    private static boolean looksAlike(float[] normals, int p, float[] others, int q) {
        double dot = 0;
        double a = 0;
        double b = 0;
        for (int i = 0; i < 3; i++) {
            dot += normals[p * 3 + i] * others[q * 3 + i];
            a += normals[p * 3 + i] * normals[p * 3 + i];
            b += others[q * 3 + i] * others[q * 3 + i];
        }
        return a == 0 || b == 0 || dot >= SAME_WAY * Math.sqrt(a * b);
    }

    private static int[][] around(Faceted faceted) {
        Neighbours all = Neighbours.of(faceted.place, c -> c, faceted.valence.length);
        int[][] out = new int[faceted.valence.length][];
        for (int p = 0; p < out.length; p++) {
            out[p] = Arrays.copyOfRange(all.of(), all.starts()[p], all.starts()[p + 1]);
        }
        return out;
    }

    /** Of places, by the areas of what lies around them; not of length one. */
    private static float[] normals(Faceted faceted, float[] at) {
        float[] out = new float[faceted.valence.length * 3];
        for (int c = 0; c < faceted.place.length; c += 3) {
            int[] p = {faceted.place[c] * 3, faceted.place[c + 1] * 3, faceted.place[c + 2] * 3};
            for (int i = 0; i < 3; i++) {
                int j = (i + 1) % 3;
                int k = (i + 2) % 3;
                float n = (at[p[1] + j] - at[p[0] + j]) * (at[p[2] + k] - at[p[0] + k])
                        - (at[p[1] + k] - at[p[0] + k]) * (at[p[2] + j] - at[p[0] + j]);
                for (int corner : p) {
                    out[corner + i] += n;
                }
            }
        }
        return out;
    }
}
