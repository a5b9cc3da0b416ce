package org.cleanmarrow.caches;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.RigidFit;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Work;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;

/**
 * Rigid joints and weights that move points as the frames of a cache do (Le and Deng 2012, "Smooth skinning decomposition with
 * rigid bones"). Points are first parted among the bones by motion; then weights, none below zero, few a point and one in sum, and the
 * bones' fits are made better in turn. Where whole pieces move rigidly, each piece stays with one bone.
 *
 * <p>The same input gives the same bits. Cost: rounds x frames x points x weights a point; memory for all frames, 12 bytes a point each.
 */
public final class Decomposition {
    /** Rounds of weights and fits in turn at most. */
    private static final int ROUNDS = 24;

    /** Bones that are tried for a point beyond as many as it may have, those that leave it nearest. */
    private static final int TRIED_MORE = 4;

    /** Points that are parted among bones at first. */
    private static final int FIRST_POINTS = 1000;

    /** Points that bones are found from; with more, the others get weights of what was found. */
    private static final int MOST_POINTS = 4000;

    private final Moving moving;
    private final int influences;
    private final Bones bones;
    /** For each point {@link #influences} bones, heaviest first, -1 where there are fewer. */
    private final int[] joint;

    private final double[] weight;

    private Decomposition(Moving moving, Bones bones, int influences) {
        this.moving = moving;
        this.bones = bones;
        this.influences = influences;
        joint = new int[moving.points() * influences];
        weight = new double[joint.length];
        Arrays.fill(joint, -1);
    }

    /**
     * @param joints how many bones at most, at least 1
     * @param most   weights a point at most
     */
    public static Decomposition soft(
            float[] rest, List<VertexTrack> tracks, int[] vertices, int joints, int most, Work work) {
        Moving moving = Moving.of(rest, tracks, vertices, work);
        Moving some = moving.some(MOST_POINTS);
        Moving few = moving.some(FIRST_POINTS);
        int[][] own =
                IntStream.range(0, few.points()).mapToObj(i -> new int[] {i}).toArray(int[][]::new);
        Decomposition out =
                new Decomposition(some, MotionGroups.of(few, own, joints, work).bones(), most);
        out.alternate(work);
        if (some == moving) {
            return out;
        }
        Decomposition whole = new Decomposition(moving, out.bones, most);
        whole.weigh();
        return whole;
    }

    /**
     * Each piece with one bone: a bone for each where there are enough, otherwise pieces that move alike share one.
     *
     * @param pieceOf of each of {@code vertices} the number of its piece, from 0
     */
    public static Decomposition pieces(
            float[] rest, List<VertexTrack> tracks, int[] vertices, int[] pieceOf, int joints, Work work) {
        Moving moving = Moving.of(rest, tracks, vertices, work);
        int[][] own = members(pieceOf);
        MotionGroups groups =
                own.length <= joints ? MotionGroups.each(moving, own) : MotionGroups.of(moving, own, joints, work);
        Decomposition out = new Decomposition(moving, groups.bones(), 1);
        for (int p = 0; p < own.length; p++) {
            for (int i : own[p]) {
                out.joint[i] = groups.of(p);
                out.weight[i] = 1;
            }
        }
        return out;
    }

    static int[][] members(int[] groupOf) {
        int groups = Arrays.stream(groupOf).max().orElse(-1) + 1;
        int[] sizes = new int[groups];
        for (int g : groupOf) {
            sizes[g]++;
        }
        int[][] out = new int[groups][];
        for (int g = 0; g < groups; g++) {
            out[g] = new int[sizes[g]];
        }
        for (int i = groupOf.length - 1; i >= 0; i--) {
            out[groupOf[i]][--sizes[groupOf[i]]] = i;
        }
        return out;
    }

    private void alternate(Work work) {
        weigh();
        double before = rms();
        for (int round = 0; round < ROUNDS; round++) {
            work.stopIfCancelled();
            work.at(0.3 + 0.7 * round / ROUNDS, "");
            refit();
            weigh();
            double now = rms();
            if (now > before * (1 - 1e-3) || now < 1e-9 * moving.size()) {
                break;
            }
            before = now;
        }
    }

    private void weigh() {
        IntStream.range(0, moving.points()).parallel().forEach(this::weigh);
    }

    /** The best weights of a point: of the bones that leave it nearest, then of those of them that count most. */
    private void weigh(int point) {
        double[] off = new double[bones.count];
        for (int b = 0; b < off.length; b++) {
            off[b] = bones.off(b, moving, point);
        }
        int[] tried = IntStream.range(0, off.length)
                .boxed()
                .sorted((a, b) -> off[a] == off[b] ? Integer.compare(a, b) : Double.compare(off[a], off[b]))
                .limit(influences + TRIED_MORE)
                .mapToInt(Integer::intValue)
                .toArray();
        // The bones it has are tried again: what helps together may each leave it far off.
        int[] all = IntStream.concat(
                        Arrays.stream(tried),
                        Arrays.stream(joint, point * influences, (point + 1) * influences)
                                .filter(j -> j >= 0))
                .distinct()
                .toArray();
        Normal normal = new Normal(all, point);
        double[] w = normal.solve(new boolean[all.length]);
        boolean[] out = new boolean[all.length];
        while (many(w) > influences) {
            int least = -1;
            for (int i = 0; i < w.length; i++) {
                if (w[i] > 0 && (least < 0 || w[i] < w[least])) {
                    least = i;
                }
            }
            for (int i = 0; i < w.length; i++) {
                out[i] |= w[i] <= 0 || i == least;
            }
            w = normal.solve(out.clone());
        }
        double[] found = better(normal, w, point, all);
        int[] order = IntStream.range(0, all.length)
                .filter(i -> found[i] > 0)
                .boxed()
                .sorted((a, b) -> Double.compare(found[b], found[a]))
                .mapToInt(Integer::intValue)
                .toArray();
        for (int i = 0; i < influences; i++) {
            joint[point * influences + i] = i < order.length ? all[order[i]] : -1;
            weight[point * influences + i] = i < order.length ? found[order[i]] : 0;
        }
    }

    /** What leaves the point nearest: what was found, what it has, or the nearest bone alone, so that no round makes it worse. */
    private double[] better(Normal normal, double[] found, int point, int[] all) {
        double[] had = new double[all.length];
        double sum = 0;
        for (int s = point * influences; s < (point + 1) * influences && joint[s] >= 0; s++) {
            for (int i = 0; i < all.length; i++) {
                had[i] += all[i] == joint[s] ? weight[s] : 0;
            }
            sum += weight[s];
        }
        double[] alone = new double[all.length];
        alone[0] = 1;
        double[] best = normal.off(alone) < normal.off(found) ? alone : found;
        return sum > 0 && normal.off(had) < normal.off(best) ? had : best;
    }

    private static int many(double[] w) {
        int many = 0;
        for (double x : w) {
            many += x > 0 ? 1 : 0;
        }
        return many;
    }

    /** The normal equations of one point's weights over some bones. */
    private final class Normal {
        private final double[][] products;
        private final double[] right;

        Normal(int[] tried, int point) {
            int n = tried.length;
            products = new double[n][n];
            right = new double[n];
            double[][] at = new double[n][3];
            for (int t = 0; t < bones.frames.length; t++) {
                float[] q = moving.frames().get(t);
                for (int b = 0; b < n; b++) {
                    bones.take(t, tried[b], moving.rest(), point, at[b]);
                    for (int k = 0; k < 3; k++) {
                        // Against the point itself: with weights of one in sum the target is then nothing.
                        at[b][k] -= q[3 * point + k];
                    }
                    for (int c = 0; c <= b; c++) {
                        products[b][c] += at[b][0] * at[c][0] + at[b][1] * at[c][1] + at[b][2] * at[c][2];
                    }
                }
            }
            double most = 1e-300;
            for (int b = 0; b < n; b++) {
                most = Math.max(most, products[b][b]);
                for (int c = 0; c < b; c++) {
                    products[c][b] = products[b][c];
                }
            }
            for (int b = 0; b < n; b++) {
                // Bones that move alike leave their shares open; the even share is taken then.
                products[b][b] += 1e-10 * most;
            }
        }

        /** Sum of squares that weights of one in sum leave the point off by. */
        double off(double[] w) {
            double out = 0;
            for (int i = 0; i < w.length; i++) {
                for (int j = 0; w[i] != 0 && j < w.length; j++) {
                    out += w[i] * w[j] * products[i][j];
                }
            }
            return out;
        }

        /**
         * Weights, one in sum and none below zero, that leave the point nearest; those that come out below zero are left out, the
         * most so first.
         *
         * @param out which to leave out; changed
         */
        double[] solve(boolean[] out) {
            int n = right.length;
            while (true) {
                int[] in = IntStream.range(0, n).filter(i -> !out[i]).toArray();
                DMatrixRMaj a = new DMatrixRMaj(in.length + 1, in.length + 1);
                DMatrixRMaj b = new DMatrixRMaj(in.length + 1, 1);
                double scale = products[in[0]][in[0]];
                for (int i = 0; i < in.length; i++) {
                    scale = Math.max(scale, products[in[i]][in[i]]);
                }
                for (int i = 0; i < in.length; i++) {
                    for (int j = 0; j < in.length; j++) {
                        a.set(i, j, products[in[i]][in[j]] / scale);
                    }
                    a.set(i, in.length, 1);
                    a.set(in.length, i, 1);
                }
                b.set(in.length, 0, 1);
                DMatrixRMaj x = new DMatrixRMaj(in.length + 1, 1);
                double[] w = new double[n];
                if (in.length == 1 || !CommonOps_DDRM.solve(a, b, x)) {
                    w[in[0]] = 1;
                    return w;
                }
                int least = 0;
                for (int i = 0; i < in.length; i++) {
                    w[in[i]] = x.get(i, 0);
                    least = x.get(i, 0) < x.get(least, 0) ? i : least;
                }
                if (w[in[least]] >= 0) {
                    return w;
                }
                out[in[least]] = true;
            }
        }
    }

    /** Every bone in turn fits what the others leave of its points, in every frame. */
    private void refit() {
        int[][] points = new int[bones.count][];
        int[][] slots = new int[bones.count][];
        for (int b = 0; b < bones.count; b++) {
            int bone = b;
            slots[b] = IntStream.range(0, joint.length)
                    .filter(i -> joint[i] == bone)
                    .toArray();
            points[b] = Arrays.stream(slots[b]).map(i -> i / influences).toArray();
        }
        IntStream.range(0, bones.frames.length).parallel().forEach(t -> refit(t, slots, points));
    }

    private void refit(int t, int[][] slots, int[][] points) {
        float[] p = moving.rest();
        double[] left = left(t);
        double[] at = new double[3];
        for (int b = 0; b < bones.count; b++) {
            if (slots[b].length < 1) {
                continue;
            }
            RigidFit.Sums sums = new RigidFit.Sums();
            for (int s = 0; s < slots[b].length; s++) {
                int i = points[b][s];
                double a = weight[slots[b][s]];
                bones.take(t, b, p, i, at);
                for (int k = 0; k < 3; k++) {
                    left[3 * i + k] += a * at[k];
                }
                sums.add(p[3 * i], p[3 * i + 1], p[3 * i + 2], left[3 * i], left[3 * i + 1], left[3 * i + 2], a);
            }
            bones.put(t, b, sums.fit());
            for (int s = 0; s < slots[b].length; s++) {
                int i = points[b][s];
                bones.take(t, b, p, i, at);
                for (int k = 0; k < 3; k++) {
                    left[3 * i + k] -= weight[slots[b][s]] * at[k];
                }
            }
        }
    }

    /** What is missing of every point's place in a frame, 3 each. */
    private double[] left(int t) {
        float[] q = moving.frames().get(t);
        double[] out = new double[q.length];
        double[] at = new double[3];
        for (int i = 0; i < moving.points(); i++) {
            for (int k = 0; k < 3; k++) {
                out[3 * i + k] = q[3 * i + k];
            }
            for (int s = i * influences; s < (i + 1) * influences && joint[s] >= 0; s++) {
                bones.take(t, joint[s], moving.rest(), i, at);
                for (int k = 0; k < 3; k++) {
                    out[3 * i + k] -= weight[s] * at[k];
                }
            }
        }
        return out;
    }

    /** Root of the mean square of how far points are off, over all frames. */
    public double rms() {
        double sum = IntStream.range(0, bones.frames.length)
                .mapToDouble(t -> {
                    double all = 0;
                    for (double x : left(t)) {
                        all += x * x;
                    }
                    return all;
                })
                .sum();
        return Math.sqrt(sum / Math.max(1, (long) bones.frames.length * moving.points()));
    }

    /**
     * Where a point is farthest off.
     *
     * @param frame  through all tracks
     * @param vertex of the mesh
     */
    public record Worst(double off, int frame, int vertex) {}

    public Worst worst() {
        Worst worst = new Worst(0, 0, moving.points() == 0 ? 0 : moving.vertex()[0]);
        for (int t = 0; t < bones.frames.length; t++) {
            double[] left = left(t);
            for (int i = 0; i < moving.points(); i++) {
                double off = Math.sqrt(left[3 * i] * left[3 * i]
                        + left[3 * i + 1] * left[3 * i + 1]
                        + left[3 * i + 2] * left[3 * i + 2]);
                worst = off > worst.off ? new Worst(off, t, moving.vertex()[i]) : worst;
            }
        }
        return worst;
    }

    public int joints() {
        return bones.count;
    }

    /** How many vertices were given. */
    public int points() {
        return moving.points();
    }

    /** The i-th of them. */
    public int vertex(int i) {
        return moving.vertex()[i];
    }

    /** Length of the diagonal of their box at rest. */
    public double size() {
        return moving.size();
    }

    /** What a bone does in a frame, through all tracks, from rest. */
    public RigidFit at(int frame, int bone) {
        return bones.at(frame, bone);
    }

    /** Weights a point at most. */
    public int influences() {
        return influences;
    }

    /** Bone of a weight of the i-th of the vertices that were given, heaviest first; -1 where it has fewer. */
    public int joint(int i, int slot) {
        return joint[i * influences + slot];
    }

    public double weight(int i, int slot) {
        return weight[i * influences + slot];
    }

    /** Bones that bear no weight, or next to none, left out and the others numbered anew. */
    public Decomposition withoutIdle() {
        double[] sums = new double[bones.count];
        for (int i = 0; i < joint.length; i++) {
            if (joint[i] >= 0) {
                sums[joint[i]] += weight[i];
            }
        }
        int[] kept = IntStream.range(0, sums.length).filter(b -> sums[b] > 0).toArray();
        if (kept.length == sums.length) {
            return this;
        }
        int[] number = new int[sums.length];
        Bones fewer = new Bones(kept.length, bones.frames.length);
        for (int b = 0; b < kept.length; b++) {
            number[kept[b]] = b;
            for (int t = 0; t < bones.frames.length; t++) {
                System.arraycopy(bones.frames[t], 12 * kept[b], fewer.frames[t], 12 * b, 12);
            }
        }
        Decomposition out = new Decomposition(moving, fewer, influences);
        System.arraycopy(weight, 0, out.weight, 0, weight.length);
        for (int i = 0; i < joint.length; i++) {
            out.joint[i] = joint[i] < 0 ? -1 : number[joint[i]];
        }
        return out;
    }
}
