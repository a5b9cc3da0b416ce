package org.cleanmarrow.demo.pilot;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.demo.shape.Shell;
import org.joml.Vector3d;

/** Skin weights by nearness to bones, smoothed over the surface: rows of weights, one number a joint. */
final class PilotWeights {
    private static final double SHARPNESS = 5;
    private static final double SOFTNESS = 0.018;
    private static final int KEPT = 4;

    private final PilotJoints joints;
    private final List<String> order;

    PilotWeights(PilotJoints joints) {
        this.joints = joints;
        order = joints.names();
    }

    /** Weights of a shell that only some joints may move; each row sums to one and has at most four entries. */
    double[][] of(Shell shell, List<String> allowed, int smoothing) {
        double[][] rows = new double[shell.points.size()][order.size()];
        int[] columns = allowed.stream().mapToInt(order::indexOf).toArray();
        Vector3d[] starts = allowed.stream().map(joints::at).toArray(Vector3d[]::new);
        Vector3d[] ends = allowed.stream().map(joints::tip).toArray(Vector3d[]::new);
        IntStream.range(0, rows.length).parallel().forEach(p -> {
            for (int j = 0; j < columns.length; j++) {
                double d = distance(shell.points.get(p), starts[j], ends[j]);
                rows[p][columns[j]] = StrictMath.pow(d + SOFTNESS, -SHARPNESS);
            }
            normalise(rows[p]);
        });
        int[][] around = neighbours(shell);
        double[][] now = rows;
        for (int i = 0; i < smoothing; i++) {
            now = smoothed(now, around, columns);
        }
        return kept(now);
    }

    private static double[][] kept(double[][] rows) {
        for (double[] row : rows) {
            keepHeaviest(row);
            normalise(row);
        }
        return rows;
    }

    /** The cape hangs on the ribs and then on its own chain, by height alone. */
    double[][] ofCape(Shell shell) {
        String[] chain = {"ribs_upper", "cape_1", "cape_2", "cape_3"};
        double[] heights = {1.40, 1.19, 0.97, 0.74};
        double[][] rows = new double[shell.points.size()][order.size()];
        for (int p = 0; p < rows.length; p++) {
            double y = shell.points.get(p).y;
            for (int i = 0; i < chain.length; i++) {
                double above = i == 0 ? 1 : (heights[i - 1] - y) / (heights[i - 1] - heights[i]);
                double below = i == chain.length - 1 ? 1 : (y - heights[i + 1]) / (heights[i] - heights[i + 1]);
                double w = Math.clamp(Math.min(above, below), 0, 1);
                rows[p][order.indexOf(chain[i])] = w * w * (3 - 2 * w);
            }
            normalise(rows[p]);
        }
        return rows;
    }

    static void normalise(double[] row) {
        double sum = 0;
        for (double w : row) {
            sum += w;
        }
        for (int j = 0; j < row.length; j++) {
            row[j] /= sum;
        }
    }

    private static void keepHeaviest(double[] row) {
        double[] sorted = row.clone();
        java.util.Arrays.sort(sorted);
        double least = Math.max(sorted[sorted.length - KEPT], 0.012);
        for (int j = 0; j < row.length; j++) {
            if (row[j] < least) {
                row[j] = 0;
            }
        }
    }

    private static double[][] smoothed(double[][] rows, int[][] around, int[] columns) {
        double[][] out = new double[rows.length][rows[0].length];
        IntStream.range(0, rows.length).parallel().forEach(p -> {
            int[] near = around[p];
            for (int j : columns) {
                double sum = 0;
                for (int n : near) {
                    sum += rows[n][j];
                }
                out[p][j] = near.length == 0 ? rows[p][j] : 0.5 * rows[p][j] + 0.5 * sum / near.length;
            }
        });
        return out;
    }

    private static int[][] neighbours(Shell shell) {
        List<List<Integer>> around = new ArrayList<>();
        shell.points.forEach(p -> around.add(new ArrayList<>()));
        for (int[] t : shell.triangles) {
            for (int i = 0; i < 3; i++) {
                int a = t[i];
                int b = t[(i + 1) % 3];
                if (!around.get(a).contains(b)) {
                    around.get(a).add(b);
                }
                if (!around.get(b).contains(a)) {
                    around.get(b).add(a);
                }
            }
        }
        return around.stream()
                .map(near -> near.stream().mapToInt(Integer::intValue).toArray())
                .toArray(int[][]::new);
    }

    private static double distance(Vector3d p, Vector3d a, Vector3d b) {
        Vector3d d = new Vector3d(b).sub(a);
        double square = d.lengthSquared();
        double t = square == 0 ? 0 : Math.clamp(new Vector3d(p).sub(a).dot(d) / square, 0, 1);
        return p.distance(d.mul(t).add(a));
    }
}
