package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPoses;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * Chooses the few joints of a vertex that move it most nearly as all of them did, over clips and trial poses: of all ways to
 * choose them where those are few, otherwise taken out one after the other, each time the one whose loss matters least. What
 * is kept is weighted anew by least squares with a sum of one and none below zero; where keeping the heaviest does better,
 * that stands.
 */
public final class InfluenceChoice {
    private static final int MOMENTS_A_CLIP = 8;
    /** Eight joints down to four are 70 ways, ten down to four 210. */
    private static final int MOST_SUBSETS = 256;

    /** Joint matrices of every sampled pose, 12 numbers a joint. */
    private final List<float[]> poses = new ArrayList<>();

    /** @param mesh number of a skinned mesh */
    public InfluenceChoice(Asset asset, int mesh) {
        Skin skin = asset.skins().get(asset.skinOfMesh(mesh));
        Rig rig = new Rig(asset);
        Matrix4d own = new Matrix4d();
        for (Clip clip : asset.clips()) {
            for (double t : Moments.frames(clip, MOMENTS_A_CLIP)) {
                poses.add(Deformer.jointMatrices(skin, rig.at(clip, t).world(), own));
            }
        }
        TrialPoses.of(asset)
                .forEach(pose -> poses.add(
                        Deformer.jointMatrices(skin, rig.at(pose.clip(asset), 1).world(), own)));
    }

    /** How many poses are looked at. */
    public int poses() {
        return poses.size();
    }

    /** Cuts a row down to so many joints; its weights then sum to one. The vertex is at x, y, z in the mesh's own space. */
    public void cut(Row row, float x, float y, float z, int most) {
        if (row.size() <= most) {
            return;
        }
        Row heaviest = new Row();
        heaviest.add(row, 1);
        heaviest.keep(most);
        heaviest.normalise();
        row.normalise();
        int n = row.size();
        double[][] gram = gram(row, x, y, z);
        Kept best = subsets(n, most) <= MOST_SUBSETS ? bestSubset(gram, n, most) : greedy(gram, n, most);
        List<Integer> kept = best.which;
        double[] weights = best.weights;
        Row found = new Row();
        for (int i = 0; weights != null && i < kept.size(); i++) {
            if (weights[i] > 0) {
                found.append(row.joint(kept.get(i)), weights[i]);
            }
        }
        boolean sound = weights != null && kept.size() <= most && found.normalise();
        boolean better = sound && error(gram, row, found) < error(gram, row, heaviest);
        row.clear();
        row.add(better ? found : heaviest, 1);
    }

    /** @param weights null where none is finite */
    private record Kept(List<Integer> which, double @Nullable [] weights, double error) {}

    /** How many ways there are to choose; more than can be counted is as much as can be. */
    private static long subsets(int n, int most) {
        double ways = 1;
        for (int i = 1; i <= most; i++) {
            ways = ways * (n - most + i) / i;
        }
        return ways > Long.MAX_VALUE / 2 ? Long.MAX_VALUE : Math.round(ways);
    }

    private static Kept bestSubset(double[][] gram, int n, int most) {
        Kept best = new Kept(List.of(), null, Double.POSITIVE_INFINITY);
        int[] which = new int[most];
        for (int i = 0; i < most; i++) {
            which[i] = i;
        }
        while (true) {
            List<Integer> chosen = Arrays.stream(which).boxed().toList();
            double[] w = fitted(gram, chosen);
            double error = error(gram, chosen, w);
            best = error < best.error ? new Kept(chosen, w, error) : best;
            int at = most - 1;
            while (at >= 0 && which[at] == n - most + at) {
                at--;
            }
            if (at < 0) {
                return best;
            }
            which[at]++;
            for (int i = at + 1; i < most; i++) {
                which[i] = which[i - 1] + 1;
            }
        }
    }

    private static Kept greedy(double[][] gram, int n, int most) {
        List<Integer> kept = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            kept.add(i);
        }
        Kept found = new Kept(kept, null, Double.POSITIVE_INFINITY);
        while (kept.size() > most) {
            found = new Kept(kept, null, Double.POSITIVE_INFINITY);
            for (int i = 0; i < kept.size(); i++) {
                List<Integer> without = new ArrayList<>(kept);
                without.remove(i);
                double[] w = fitted(gram, without);
                double error = error(gram, without, w);
                found = error < found.error ? new Kept(without, w, error) : found;
            }
            if (found.weights == null) {
                break;
            }
            kept = found.which;
        }
        return found;
    }

    /**
     * How far a row is from another over all poses: the root mean square, in the unit of the mesh.
     *
     * @param full what the joints of both are measured against
     */
    public double distance(Row full, Row other, float x, float y, float z) {
        return Math.sqrt(error(gram(full, x, y, z), full, other) / Math.max(1, poses.size()));
    }

    /** Sums over poses of the products of where two joints alone would put the vertex, against where all together do. */
    private double[][] gram(Row row, float x, float y, float z) {
        int n = row.size();
        double[][] out = new double[n][n];
        double[] at = new double[n * 3];
        for (float[] m : poses) {
            double px = 0;
            double py = 0;
            double pz = 0;
            for (int i = 0; i < n; i++) {
                int j = row.joint(i) * 12;
                at[i * 3] = m[j] * x + m[j + 1] * y + m[j + 2] * z + m[j + 3];
                at[i * 3 + 1] = m[j + 4] * x + m[j + 5] * y + m[j + 6] * z + m[j + 7];
                at[i * 3 + 2] = m[j + 8] * x + m[j + 9] * y + m[j + 10] * z + m[j + 11];
                px += row.weight(i) * at[i * 3];
                py += row.weight(i) * at[i * 3 + 1];
                pz += row.weight(i) * at[i * 3 + 2];
            }
            for (int i = 0; i < n; i++) {
                at[i * 3] -= px;
                at[i * 3 + 1] -= py;
                at[i * 3 + 2] -= pz;
            }
            for (int i = 0; i < n; i++) {
                for (int k = 0; k <= i; k++) {
                    out[i][k] += at[i * 3] * at[k * 3] + at[i * 3 + 1] * at[k * 3 + 1] + at[i * 3 + 2] * at[k * 3 + 2];
                    out[k][i] = out[i][k];
                }
            }
        }
        return out;
    }

    /** Weights of least error that sum to one, none below zero. */
    static double[] fitted(double[][] gram, List<Integer> kept) {
        int n = kept.size();
        boolean[] zero = new boolean[n];
        double[] w = new double[n];
        for (int round = 0; round < n; round++) {
            w = solved(gram, kept, zero);
            int least = -1;
            for (int i = 0; i < n; i++) {
                least = w[i] < 0 && (least < 0 || w[i] < w[least]) ? i : least;
            }
            if (least < 0) {
                break;
            }
            zero[least] = true;
        }
        for (int i = 0; i < n; i++) {
            w[i] = Math.max(0, w[i]);
        }
        return w;
    }

    /** {@code G w = 1} on what is not zero, scaled to a sum of one: the stationary point under that sum. */
    private static double[] solved(double[][] gram, List<Integer> kept, boolean[] zero) {
        int n = kept.size();
        double[][] a = new double[n][n + 1];
        double trace = 0;
        for (int i = 0; i < n; i++) {
            trace += gram[kept.get(i)][kept.get(i)];
        }
        double ridge = 1e-9 * trace / n + 1e-300;
        for (int i = 0; i < n; i++) {
            for (int k = 0; k < n; k++) {
                a[i][k] = zero[i] || zero[k] ? 0 : gram[kept.get(i)][kept.get(k)];
            }
            a[i][i] = zero[i] ? 1 : a[i][i] + ridge;
            a[i][n] = zero[i] ? 0 : 1;
        }
        for (int c = 0; c < n; c++) {
            int pivot = c;
            for (int r = c + 1; r < n; r++) {
                pivot = Math.abs(a[r][c]) > Math.abs(a[pivot][c]) ? r : pivot;
            }
            double[] swap = a[c];
            a[c] = a[pivot];
            a[pivot] = swap;
            for (int r = c + 1; r < n; r++) {
                double by = a[r][c] / a[c][c];
                for (int k = c; k <= n && by != 0; k++) {
                    a[r][k] -= by * a[c][k];
                }
            }
        }
        double[] w = new double[n];
        double sum = 0;
        for (int r = n - 1; r >= 0; r--) {
            double value = a[r][n];
            for (int k = r + 1; k < n; k++) {
                value -= a[r][k] * w[k];
            }
            w[r] = value / a[r][r];
            sum += w[r];
        }
        for (int i = 0; i < n; i++) {
            w[i] /= sum;
        }
        return w;
    }

    private static double error(double[][] gram, List<Integer> kept, double[] w) {
        double sum = 0;
        for (int i = 0; i < w.length; i++) {
            for (int k = 0; k < w.length; k++) {
                sum += w[i] * w[k] * gram[kept.get(i)][kept.get(k)];
            }
        }
        return Double.isNaN(sum) ? Double.POSITIVE_INFINITY : sum;
    }

    private static double error(double[][] gram, Row full, Row other) {
        double sum = 0;
        for (int i = 0; i < full.size(); i++) {
            for (int k = 0; k < full.size(); k++) {
                sum += other.of(full.joint(i)) * other.of(full.joint(k)) * gram[i][k];
            }
        }
        return Double.isNaN(sum) ? Double.POSITIVE_INFINITY : Math.max(0, sum);
    }
}
