package org.cleanmarrow.pose;

import java.util.stream.IntStream;
import org.cleanmarrow.surface.WeldedSurface;

/**
 * What smoothing after deformation would make of a pose, as a preview of what a corrective could gain: Mancewicz, Derksen,
 * Rijpkema and Wilson, "Delta Mush: Smoothing Deformations While Preserving Detail", DigiPro 2014. The rest surface is
 * smoothed, and how each place lay against it is kept in a frame of the smooth surface; a pose is smoothed alike and the
 * detail put back. At rest, and where a pose only turns and moves the whole, nothing changes.
 */
public final class DeltaMush {
    private static final int ROUNDS = 10;
    private static final double STRENGTH = 0.5;
    private static final int CHUNK = 2048;

    private final WeldedSurface surface;
    /** How each place lies against the smooth rest surface, in its frame there. */
    private final double[] details;

    /** @param rest 3 a place, at rest in the space of the poses */
    public DeltaMush(WeldedSurface surface, float[] rest) {
        this.surface = surface;
        float[] smooth = smooth(rest);
        double[] frames = frames(smooth);
        details = new double[rest.length];
        for (int p = 0; p < surface.size(); p++) {
            for (int axis = 0; axis < 3; axis++) {
                double sum = 0;
                for (int k = 0; k < 3; k++) {
                    sum += frames[p * 9 + axis * 3 + k] * (rest[p * 3 + k] - smooth[p * 3 + k]);
                }
                details[p * 3 + axis] = sum;
            }
        }
    }

    /** The pose relaxed; 3 a place both. */
    public float[] relaxed(float[] posed) {
        float[] out = smooth(posed);
        double[] frames = frames(out);
        for (int p = 0; p < surface.size(); p++) {
            for (int k = 0; k < 3; k++) {
                double sum = 0;
                for (int axis = 0; axis < 3; axis++) {
                    sum += frames[p * 9 + axis * 3 + k] * details[p * 3 + axis];
                }
                out[p * 3 + k] += (float) sum;
            }
        }
        return out;
    }

    private float[] smooth(float[] positions) {
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        float[] now = positions;
        for (int round = 0; round < ROUNDS; round++) {
            float[] from = now;
            float[] to = new float[from.length];
            chunks(p -> {
                int many = starts[p + 1] - starts[p];
                for (int k = 0; k < 3; k++) {
                    double mean = 0;
                    for (int e = starts[p]; e < starts[p + 1]; e++) {
                        mean += from[neighbours[e] * 3 + k];
                    }
                    to[p * 3 + k] = many == 0
                            ? from[p * 3 + k]
                            : (float) (from[p * 3 + k] * (1 - STRENGTH) + mean / many * STRENGTH);
                }
            });
            now = to;
        }
        return now == positions ? positions.clone() : now;
    }

    /** Three axes a place: towards the first neighbour, upright on that, and the normal; zero where there is none. */
    private double[] frames(float[] x) {
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        float[] normals = surface.normals(x);
        double[] out = new double[surface.size() * 9];
        chunks(p -> {
            if (starts[p] == starts[p + 1]) {
                return;
            }
            double[] n = {normals[p * 3], normals[p * 3 + 1], normals[p * 3 + 2]};
            int to = neighbours[starts[p]] * 3;
            double[] along = {x[to] - x[p * 3], x[to + 1] - x[p * 3 + 1], x[to + 2] - x[p * 3 + 2]};
            double dot = along[0] * n[0] + along[1] * n[1] + along[2] * n[2];
            double[] one = unit(along[0] - dot * n[0], along[1] - dot * n[1], along[2] - dot * n[2]);
            double[] two = {n[1] * one[2] - n[2] * one[1], n[2] * one[0] - n[0] * one[2], n[0] * one[1] - n[1] * one[0]
            };
            System.arraycopy(one, 0, out, p * 9, 3);
            System.arraycopy(two, 0, out, p * 9 + 3, 3);
            System.arraycopy(n, 0, out, p * 9 + 6, 3);
        });
        return out;
    }

    private static double[] unit(double x, double y, double z) {
        double length = Math.sqrt(x * x + y * y + z * z);
        return length > 0 && Double.isFinite(length)
                ? new double[] {x / length, y / length, z / length}
                : new double[3];
    }

    private interface Each {
        void at(int place);
    }

    private void chunks(Each each) {
        int size = surface.size();
        IntStream.range(0, (size + CHUNK - 1) / CHUNK).parallel().forEach(c -> {
            for (int p = c * CHUNK; p < Math.min(size, (c + 1) * CHUNK); p++) {
                each.at(p);
            }
        });
    }
}
