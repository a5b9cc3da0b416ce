package org.cleanmarrow.demo.shape;

import java.util.List;
import org.cleanmarrow.model.Influences;
import org.joml.Vector3d;

/** Weights as whole rows, one number a joint. */
public final class Rows {
    private Rows() {}

    /** The table of them; the largest weight of each row takes what float32 rounds off the others. */
    public static Influences influences(List<double[]> rows) {
        Influences.Builder builder = new Influences.Builder(rows.size());
        for (double[] row : rows) {
            double sum = java.util.Arrays.stream(row).sum();
            int largest = 0;
            double others = 0;
            for (int j = 0; j < row.length; j++) {
                largest = row[j] > row[largest] ? j : largest;
            }
            for (int j = 0; j < row.length; j++) {
                others += j == largest ? 0 : (float) row[j];
            }
            for (int j = 0; j < row.length; j++) {
                builder.add(j, (float) (j == largest && sum > 0 ? sum - others : row[j]));
            }
            builder.endRow();
        }
        return builder.build();
    }

    /**
     * Weights by how near a point is to bones.
     *
     * @param from where each bone begins, one a joint
     * @param to   where it ends
     * @param most joints a point at most
     */
    public static double[] near(Vector3d point, List<Vector3d> from, List<Vector3d> to, int most) {
        double[] row = new double[from.size()];
        for (int j = 0; j < row.length; j++) {
            Vector3d along = new Vector3d(to.get(j)).sub(from.get(j));
            double square = along.lengthSquared();
            double t = square == 0
                    ? 0
                    : Math.clamp(new Vector3d(point).sub(from.get(j)).dot(along) / square, 0, 1);
            double d = new Vector3d(from.get(j)).fma(t, along).distance(point) + 1e-4;
            row[j] = 1 / (d * d * d * d);
        }
        for (int drop = row.length - most; drop > 0; drop--) {
            int least = -1;
            for (int j = 0; j < row.length; j++) {
                least = row[j] > 0 && (least < 0 || row[j] < row[least]) ? j : least;
            }
            row[least] = 0;
        }
        double sum = java.util.Arrays.stream(row).sum();
        for (int j = 0; j < row.length; j++) {
            row[j] = row[j] / sum < 0.01 ? 0 : row[j];
        }
        double left = java.util.Arrays.stream(row).sum();
        for (int j = 0; j < row.length; j++) {
            row[j] /= left;
        }
        return row;
    }
}
