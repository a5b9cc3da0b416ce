package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.work.Work;

/**
 * Parts points, singly or in pieces, into groups that move rigidly: a group more at a time, begun where what is there fits worst,
 * and all parted and fitted anew a few times after each.
 *
 * @param bones of the groups
 * @param group of each piece
 */
record MotionGroups(Bones bones, int[] group) {
    private static final int ROUNDS = 3;
    private static final int LAST_ROUNDS = 8;

    /** Points that a new group begins with at most. */
    private static final int SEED = 12;

    /** A group for each piece. */
    static MotionGroups each(Moving moving, int[][] pieces) {
        Bones bones = new Bones(pieces.length, moving.frames().size());
        for (int p = 0; p < pieces.length; p++) {
            bones.fit(p, moving, pieces[p]);
        }
        return new MotionGroups(bones, IntStream.range(0, pieces.length).toArray());
    }

    /** As many groups as asked for, fewer where fewer fit exactly. */
    static MotionGroups of(Moving moving, int[][] pieces, int groups, Work work) {
        MotionGroups out =
                each(moving, new int[][] {IntStream.range(0, moving.points()).toArray()});
        out = new MotionGroups(out.bones, new int[pieces.length]);
        double enough = 1e-12 * moving.size() * moving.size() * moving.frames().size();
        while (out.bones.count < groups) {
            work.stopIfCancelled();
            work.at(0.3 * out.bones.count / groups, "");
            double[] off = out.off(moving, pieces);
            int worst = 0;
            for (int p = 1; p < off.length; p++) {
                worst = off[p] > off[worst] ? p : worst;
            }
            if (pieces.length == 0 || off[worst] <= enough * pieces[worst].length) {
                return out;
            }
            out = out.more(moving, seed(moving, pieces, out, worst));
            for (int r = 0; r < ROUNDS; r++) {
                out = out.parted(moving, pieces);
            }
        }
        for (int r = 0; r < LAST_ROUNDS; r++) {
            work.stopIfCancelled();
            out = out.parted(moving, pieces);
        }
        return out;
    }

    /** Sum of squares that each piece is off by. */
    private double[] off(Moving moving, int[][] pieces) {
        return IntStream.range(0, pieces.length)
                .parallel()
                .mapToDouble(p -> off(moving, pieces[p], group[p]))
                .toArray();
    }

    private double off(Moving moving, int[] piece, int bone) {
        double sum = 0;
        for (int i : piece) {
            sum += bones.off(bone, moving, i);
        }
        return sum;
    }

    /** The worst piece itself; a single point with those of its group that lie nearest at rest, for one point turns no way. */
    private static int[] seed(Moving moving, int[][] pieces, MotionGroups now, int worst) {
        if (pieces[worst].length > 2) {
            return pieces[worst];
        }
        int at = pieces[worst][0];
        List<Integer> near = new ArrayList<>();
        for (int p = 0; p < pieces.length; p++) {
            if (now.group[p] == now.group[worst]) {
                for (int i : pieces[p]) {
                    near.add(i);
                }
            }
        }
        near.sort((a, b) -> {
            int c = Double.compare(apart(moving.rest(), a, at), apart(moving.rest(), b, at));
            return c == 0 ? Integer.compare(a, b) : c;
        });
        return near.stream().limit(SEED).mapToInt(Integer::intValue).toArray();
    }

    private static double apart(float[] p, int a, int b) {
        double sum = 0;
        for (int k = 0; k < 3; k++) {
            double d = (double) p[3 * a + k] - p[3 * b + k];
            sum += d * d;
        }
        return sum;
    }

    private MotionGroups more(Moving moving, int[] seed) {
        Bones wider = new Bones(bones.count + 1, bones.frames.length);
        for (int t = 0; t < bones.frames.length; t++) {
            System.arraycopy(bones.frames[t], 0, wider.frames[t], 0, 12 * bones.count);
        }
        wider.fit(bones.count, moving, seed);
        return new MotionGroups(wider, group);
    }

    /** Every piece with the bone that leaves it nearest, then every bone fitted to what it has; one that has nothing stays. */
    private MotionGroups parted(Moving moving, int[][] pieces) {
        int[] now = IntStream.range(0, pieces.length)
                .parallel()
                .map(p -> {
                    int best = 0;
                    double least = Double.POSITIVE_INFINITY;
                    for (int b = 0; b < bones.count; b++) {
                        double off = off(moving, pieces[p], b);
                        if (off < least) {
                            least = off;
                            best = b;
                        }
                    }
                    return best;
                })
                .toArray();
        for (int b = 0; b < bones.count; b++) {
            int bone = b;
            int[] points = IntStream.range(0, pieces.length)
                    .filter(p -> now[p] == bone)
                    .flatMap(p -> Arrays.stream(pieces[p]))
                    .toArray();
            if (points.length > 0) {
                bones.fit(b, moving, points);
            }
        }
        return new MotionGroups(bones, now);
    }

    int of(int piece) {
        return group[piece];
    }
}
