package org.cleanmarrow.uv;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;
import org.cleanmarrow.linear.SparseCholesky;
import org.cleanmarrow.linear.SparseSymmetric;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Texture coordinates evened out inside the borders of their islands, which do not move. First each point lies where its
 * neighbours pull it by cotangent weights of the surface (harmonic maps, Eck et al. 1995), which keeps a flat piece as it is; then
 * the weights are divided by the stretch around each point and solved again, a few times, while the root of the mean square
 * stretch falls (Yoshizawa, Belyaev and Seidel 2004, "A fast and simple stretch-minimizing mesh parameterization"). What would
 * turn a triangle over stays nearer to where it was. From the best of these, what was given among them, point after point goes
 * down the stretch of the triangles around it (Sander et al. 2001, section 3), which is never without end there, so that none
 * turns over: this helps where the border is not convex. It is never worse than what was given. A sparse factor a round, then
 * time that grows with the points.
 *
 * @param uv      coordinates, two a vertex
 * @param moved   points that lie elsewhere now
 * @param held    points that went only part of their way, or not at all, because a triangle would have turned over
 * @param before  root of the mean square stretch of the islands in which something may move, as in {@link UvStretch}
 * @param after   the same afterwards
 */
public record UvRelax(float[] uv, int moved, int held, double before, double after) {
    private static final int ROUNDS = 6;
    /** What a weight is where the cotangents of an edge sum to nothing or less, as across the long side of flat quads. */
    private static final double LEAST_WEIGHT = 1e-4;

    private static final int HALVINGS = 8;
    private static final int SWEEPS = 40;
    /** Sweeps end where one takes less than this share of the stretch away. */
    private static final double WORTH = 1e-4;

    /** Relaxes the chosen vertices of a mesh that lie inside an island; null where none does. */
    public static @Nullable UvRelax of(Mesh mesh, UvLayout layout, BitSet chosen, Work work) {
        Problem problem = new Problem(mesh, layout, chosen);
        return problem.unknowns == 0 ? null : problem.solve(work);
    }

    /** Points that may move, and the triangles around them. */
    private static final class Problem {
        private final float[] positions;
        private final int[] corners;
        private final int[] triangles;
        private final float[] given;
        private final int[] point;
        private final int[] unknown;
        private final int unknowns;
        private final double[] weights;

        Problem(Mesh mesh, UvLayout layout, BitSet chosen) {
            positions = MeshTopology.restPositions(mesh);
            given = layout.uv();
            point = new int[mesh.vertexCount()];
            Arrays.setAll(point, layout::pointOf);
            corners = Arrays.stream(layout.corners()).map(v -> point[v]).toArray();
            BitSet free = new BitSet();
            for (int v : layout.corners()) {
                if (!layout.isOnBorder(v)) {
                    free.set(point[v]);
                }
            }
            for (int v = 0; v < point.length; v++) {
                if (!chosen.get(v)) {
                    free.clear(point[v]);
                }
            }
            BitSet flat = new BitSet();
            boolean[] spread = new boolean[layout.islandCount()];
            for (int t = 0; t < layout.triangleCount(); t++) {
                spread[layout.islandOf(t)] |= layout.twiceArea(t) != 0;
            }
            BitSet islands = new BitSet();
            for (int t = 0; t < layout.triangleCount(); t++) {
                for (int i = 3 * t; i < 3 * t + 3; i++) {
                    if (free.get(corners[i])) {
                        islands.set(layout.islandOf(t));
                        if (!spread[layout.islandOf(t)]) {
                            flat.set(corners[i]);
                        }
                    }
                }
            }
            // An island without area, a spot of one colour, has no inside.
            free.andNot(flat);
            triangles = IntStream.range(0, layout.triangleCount())
                    .filter(t -> islands.get(layout.islandOf(t)) && spread[layout.islandOf(t)])
                    .toArray();
            unknown = new int[point.length];
            Arrays.fill(unknown, -1);
            int many = 0;
            for (int v = free.nextSetBit(0); v >= 0; v = free.nextSetBit(v + 1)) {
                unknown[v] = many++;
            }
            unknowns = many;
            weights = new double[3 * triangles.length];
            for (int i = 0; i < triangles.length; i++) {
                for (int k = 0; k < 3; k++) {
                    weights[3 * i + k] = cotangent(triangles[i], k) / 2;
                }
            }
        }

        /** Of the angle at a corner; 0 where the triangle has no area. */
        private double cotangent(int t, int k) {
            int a = 3 * corners[3 * t + k];
            int b = 3 * corners[3 * t + (k + 1) % 3];
            int c = 3 * corners[3 * t + (k + 2) % 3];
            double dot = 0;
            double[] e = new double[3];
            double[] f = new double[3];
            for (int i = 0; i < 3; i++) {
                e[i] = (double) positions[b + i] - positions[a + i];
                f[i] = (double) positions[c + i] - positions[a + i];
                dot += e[i] * f[i];
            }
            double x = e[1] * f[2] - e[2] * f[1];
            double y = e[2] * f[0] - e[0] * f[2];
            double z = e[0] * f[1] - e[1] * f[0];
            double cross = Math.sqrt(x * x + y * y + z * z);
            return cross > 0 ? dot / cross : 0;
        }

        UvRelax solve(Work work) {
            double before = root(given);
            float[] best = given;
            int held = 0;
            double least = before;
            double[] divisor = new double[point.length];
            Arrays.fill(divisor, 1);
            for (int round = 0; round < ROUNDS; round++) {
                work.stopIfCancelled();
                work.at(round / (double) ROUNDS, "");
                float[] solved = round(divisor, round > 0);
                if (solved == null) {
                    break;
                }
                float[] safe = solved.clone();
                int kept = untwist(safe);
                double now = root(safe);
                if (!(now < least) && round > 0) {
                    break;
                }
                if (now < least) {
                    least = now;
                    best = safe;
                    held = kept;
                }
                stretchAround(safe, divisor);
            }
            float[] descended = descended(best, work);
            double now = root(descended);
            if (now < least && !turnsOver(descended)) {
                least = now;
                best = descended;
            }
            int moved = 0;
            for (int v = 0; v < point.length; v++) {
                boolean other = best[2 * v] != given[2 * v] || best[2 * v + 1] != given[2 * v + 1];
                moved += unknown[point[v]] >= 0 && point[v] == v && other ? 1 : 0;
            }
            return new UvRelax(best, moved, best == given ? unknowns : held, before, least);
        }

        private double root(float[] uv) {
            int[] some = new int[3 * triangles.length];
            for (int i = 0; i < triangles.length; i++) {
                System.arraycopy(corners, 3 * triangles[i], some, 3 * i, 3);
            }
            return UvStretch.of(positions, some, uv).root();
        }

        /**
         * Where all unknown points lie by weights over divisors; null where the system cannot be solved. The cotangents alone are an
         * energy, which can be solved with weights below zero too; divided they are none any more.
         */
        private float @Nullable [] round(double[] divisor, boolean divided) {
            Map<Long, Double> sums = new HashMap<>();
            for (int i = 0; i < triangles.length; i++) {
                for (int k = 0; k < 3; k++) {
                    int a = corners[3 * triangles[i] + (k + 1) % 3];
                    int b = corners[3 * triangles[i] + (k + 2) % 3];
                    if (unknown[a] >= 0 || unknown[b] >= 0) {
                        sums.merge((long) Math.min(a, b) << 32 | Math.max(a, b), weights[3 * i + k], Double::sum);
                    }
                }
            }
            SparseSymmetric matrix = new SparseSymmetric(unknowns);
            double[][] right = new double[2][unknowns];
            sums.forEach((edge, sum) -> {
                int a = (int) (edge >> 32);
                int b = (int) (long) edge;
                double weight = (divided ? Math.max(sum, LEAST_WEIGHT) : sum) / (divisor[a] * divisor[b]);
                half(matrix, right, a, b, weight);
                half(matrix, right, b, a, weight);
                if (unknown[a] >= 0 && unknown[b] >= 0) {
                    matrix.add(unknown[a], unknown[b], -weight);
                }
            });
            SparseCholesky factor = SparseCholesky.of(matrix.rows());
            if (factor == null) {
                return null;
            }
            double[] u = factor.solve(right[0]);
            double[] v = factor.solve(right[1]);
            float[] out = given.clone();
            for (int w = 0; w < point.length; w++) {
                int at = unknown[point[w]];
                if (at >= 0) {
                    out[2 * w] = (float) u[at];
                    out[2 * w + 1] = (float) v[at];
                }
            }
            return out;
        }

        private void half(SparseSymmetric matrix, double[][] right, int own, int other, double weight) {
            if (unknown[own] >= 0) {
                matrix.add(unknown[own], unknown[own], weight);
                if (unknown[other] < 0) {
                    right[0][unknown[own]] += weight * given[2 * other];
                    right[1][unknown[own]] += weight * given[2 * other + 1];
                }
            }
        }

        private boolean turnsOver(float[] uv) {
            return Arrays.stream(triangles).anyMatch(t -> turnedOver(uv, t));
        }

        private boolean turnedOver(float[] uv, int t) {
            double was = UvLayout.twiceArea(given, corners, t);
            return was != 0 && UvLayout.twiceArea(uv, corners, t) * was <= 0;
        }

        /** Every free point in turn to where the triangles around it are stretched less, until that is not worth it any more. */
        private float[] descended(float[] from, Work work) {
            float[] uv = from.clone();
            int[][] around = around();
            double last = Double.POSITIVE_INFINITY;
            for (int sweep = 0; sweep < SWEEPS; sweep++) {
                work.stopIfCancelled();
                double sum = 0;
                for (int p = 0; p < around.length; p++) {
                    if (around[p].length > 0) {
                        sum += descend(uv, p, around[p]);
                    }
                }
                if (!(sum < last * (1 - WORTH))) {
                    break;
                }
                last = sum;
            }
            for (int v = 0; v < point.length; v++) {
                if (unknown[point[v]] >= 0) {
                    uv[2 * v] = uv[2 * point[v]];
                    uv[2 * v + 1] = uv[2 * point[v] + 1];
                }
            }
            return uv;
        }

        /** Triangles around each free point; none at the others. */
        private int[][] around() {
            int[] many = new int[point.length];
            for (int t : triangles) {
                for (int i = 3 * t; i < 3 * t + 3; i++) {
                    many[corners[i]] += unknown[corners[i]] >= 0 ? 1 : 0;
                }
            }
            int[][] out = new int[point.length][];
            for (int p = 0; p < out.length; p++) {
                out[p] = new int[many[p]];
            }
            for (int t : triangles) {
                for (int i = 3 * t; i < 3 * t + 3; i++) {
                    if (unknown[corners[i]] >= 0) {
                        out[corners[i]][--many[corners[i]]] = t;
                    }
                }
            }
            return out;
        }

        /** Moves a point against the slope of the stretch around it, as far as that falls; the stretch it has then. */
        private double descend(float[] uv, int p, int[] some) {
            float u = uv[2 * p];
            float v = uv[2 * p + 1];
            double now = stretch(uv, some);
            if (now == Double.POSITIVE_INFINITY) {
                return 0;
            }
            double size = 0;
            for (int t : some) {
                size = Math.max(size, Math.abs(UvLayout.twiceArea(uv, corners, t)));
            }
            double reach = Math.sqrt(size);
            float little = (float) (reach * 1e-3);
            double slopeU = slope(uv, 2 * p, little, some);
            double slopeV = slope(uv, 2 * p + 1, little, some);
            double steep = Math.hypot(slopeU, slopeV);
            if (!(steep > 0) || !Double.isFinite(steep)) {
                return now;
            }
            for (double step = reach / 2; step > reach * 1e-3; step /= 2) {
                uv[2 * p] = (float) (u - step * slopeU / steep);
                uv[2 * p + 1] = (float) (v - step * slopeV / steep);
                double then = stretch(uv, some);
                if (then < now) {
                    return then;
                }
            }
            uv[2 * p] = u;
            uv[2 * p + 1] = v;
            return now;
        }

        private double slope(float[] uv, int at, float little, int[] some) {
            float was = uv[at];
            uv[at] = was + little;
            double more = stretch(uv, some);
            uv[at] = was - little;
            double less = stretch(uv, some);
            uv[at] = was;
            return more - less;
        }

        /** Mean square stretch of some triangles times their area; without end where one is turned over or has no area. */
        private double stretch(float[] uv, int[] some) {
            double sum = 0;
            double[] square = new double[2];
            for (int t : some) {
                double twice = UvLayout.twiceArea(uv, corners, t);
                if (twice == 0 || turnedOver(uv, t)) {
                    return Double.POSITIVE_INFINITY;
                }
                double area = UvStretch.singular(positions, corners, uv, t, twice, square);
                sum += area > 0 ? area * (square[0] + square[1]) / 2 : 0;
            }
            return sum;
        }

        /** Takes points back, by halves and at last wholly, until no triangle is turned over that was not. */
        private int untwist(float[] uv) {
            float[] wanted = uv.clone();
            int[] taken = new int[point.length];
            for (boolean again = true; again; ) {
                again = false;
                BitSet back = new BitSet();
                for (int t : triangles) {
                    if (turnedOver(uv, t)) {
                        for (int i = 3 * t; i < 3 * t + 3; i++) {
                            if (unknown[corners[i]] >= 0 && taken[corners[i]] <= HALVINGS) {
                                back.set(corners[i]);
                            }
                        }
                    }
                }
                for (int p = back.nextSetBit(0); p >= 0; p = back.nextSetBit(p + 1)) {
                    taken[p]++;
                    again = true;
                }
                for (int v = 0; again && v < point.length; v++) {
                    if (back.get(point[v])) {
                        double share = taken[point[v]] > HALVINGS ? 0 : Math.pow(0.5, taken[point[v]]);
                        for (int k = 2 * v; k < 2 * v + 2; k++) {
                            uv[k] = share == 0 ? given[k] : (float) (given[k] + share * (wanted[k] - given[k]));
                        }
                    }
                }
            }
            return (int) Arrays.stream(taken).filter(n -> n > 0).count();
        }

        /** Multiplies each point's divisor by the root of the mean square stretch around it. */
        private void stretchAround(float[] uv, double[] divisor) {
            double[] sum = new double[point.length];
            double[] area = new double[point.length];
            double[] square = new double[2];
            for (int t : triangles) {
                double twice = UvLayout.twiceArea(uv, corners, t);
                if (twice == 0) {
                    continue;
                }
                double own = UvStretch.singular(positions, corners, uv, t, twice, square);
                for (int i = 3 * t; i < 3 * t + 3; i++) {
                    sum[corners[i]] += own * (square[0] + square[1]) / 2;
                    area[corners[i]] += own;
                }
            }
            double all = Arrays.stream(sum).sum() / Arrays.stream(area).sum();
            for (int p = 0; p < divisor.length; p++) {
                if (area[p] > 0) {
                    divisor[p] *= Math.sqrt(sum[p] / area[p] / all);
                }
            }
        }
    }
}
