package org.cleanmarrow.caches;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.RigidFit;
import org.joml.Vector3d;

/**
 * Which joint hangs on which, by motion: two that move together keep the place between them in common, and the tree that joins all
 * by such places that part least is taken (the least spanning tree of Prim 1957), from the joint that stays nearest to where it is at rest.
 * After Le and Deng 2014, who join the bones of a decomposition likewise.
 */
public final class MotionTree {
    /** Frames that are looked at. */
    private static final int FRAMES = 48;

    private MotionTree() {}

    /**
     * For each joint the one that it hangs on; -1 for the top. Cost: the square of the joints, for some frames.
     *
     * @param frames  how many there are in all
     * @param middles where each joint stands at rest
     */
    public static int[] parents(Decomposition found, int frames, Vector3d[] middles) {
        int many = middles.length;
        int[] looked = IntStream.range(0, Math.min(FRAMES, frames))
                .map(i -> (int) ((long) i * frames / Math.min(FRAMES, frames)))
                .toArray();
        int top = IntStream.range(0, many)
                .boxed()
                .min((a, b) -> Double.compare(way(found, looked, a, middles), way(found, looked, b, middles)))
                .orElse(0);
        int[] parents = new int[many];
        Arrays.fill(parents, -1);
        double[] least = new double[many];
        Arrays.fill(least, Double.POSITIVE_INFINITY);
        boolean[] in = new boolean[many];
        int next = top;
        for (int taken = 0; taken < many; taken++) {
            in[next] = true;
            int added = next;
            double[] cost = IntStream.range(0, many)
                    .parallel()
                    .mapToDouble(j -> in[j] ? 0 : apart(found, looked, added, j, middles))
                    .toArray();
            next = -1;
            for (int j = 0; j < many; j++) {
                if (!in[j] && cost[j] < least[j]) {
                    least[j] = cost[j];
                    parents[j] = added;
                }
                if (!in[j] && (next < 0 || least[j] < least[next])) {
                    next = j;
                }
            }
        }
        return parents;
    }

    private static double way(Decomposition found, int[] frames, int joint, Vector3d[] middles) {
        double sum = 0;
        for (int f : frames) {
            sum += found.at(f, joint).at(middles[joint]).distance(middles[joint]);
        }
        return sum;
    }

    /** How far the place between two joints parts as either moves it, and a little for how far they lie off each other. */
    private static double apart(Decomposition found, int[] frames, int a, int b, Vector3d[] middles) {
        Vector3d between = new Vector3d(middles[a]).add(middles[b]).mul(0.5);
        double sum = 0;
        for (int f : frames) {
            RigidFit one = found.at(f, a);
            RigidFit other = found.at(f, b);
            sum += one.at(between).distance(other.at(between));
        }
        return sum / frames.length + 1e-3 * middles[a].distance(middles[b]);
    }
}
