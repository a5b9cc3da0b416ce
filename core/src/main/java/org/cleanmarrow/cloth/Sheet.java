package org.cleanmarrow.cloth;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.surface.WeldedSurface;

/**
 * How a cloth hangs together: its points and what holds them at their distances. What lies on one place is one point.
 *
 * @param weights one over the mass of every point, 1/kg, for a cloth of one kilogram; 0: pinned
 * @param reaches metres that every point may go from where its skin has it; infinite: as far as it likes
 * @param edges   two points each
 * @param lengths of the edges, metres
 * @param bends   the points on both sides of an edge, two each
 * @param spans   how far these lie apart, metres
 * @param tethers a point and the pinned one that is nearest along the cloth, two each
 * @param ropes   that way, metres
 */
record Sheet(
        double[] weights,
        double[] reaches,
        int[] edges,
        double[] lengths,
        int[] bends,
        double[] spans,
        int[] tethers,
        double[] ropes) {

    int size() {
        return weights.length;
    }

    /**
     * Of a surface.
     *
     * @param rest   metres of the world, 3 a place
     * @param strays one a place, 0 to 1
     */
    static Sheet of(WeldedSurface surface, double[] rest, float[] strays, Fabric fabric) {
        int count = surface.size();
        int[] triangles = surface.triangles();
        double[] weights = weights(triangles, rest, count);
        double[] reaches = new double[count];
        for (int p = 0; p < count; p++) {
            double reach = strays[p] >= 1 ? Double.POSITIVE_INFINITY : strays[p] * fabric.reach();
            reaches[p] = reach;
            weights[p] = reach == 0 ? 0 : weights[p];
        }
        Map<Long, Integer> acrossOf = new HashMap<>();
        List<int[]> edges = new ArrayList<>();
        List<int[]> bends = new ArrayList<>();
        for (int t = 0; t < triangles.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                int a = triangles[t + i];
                int b = triangles[t + (i + 1) % 3];
                int across = triangles[t + (i + 2) % 3];
                Integer other = acrossOf.putIfAbsent((long) Math.min(a, b) << 32 | Math.max(a, b), across);
                if (other == null) {
                    edges.add(new int[] {a, b});
                } else if (other != across) {
                    bends.add(new int[] {other, across});
                }
            }
        }
        Tethers tethers = new Tethers(count, edges, rest, weights);
        edges.addAll(across(surface, edges));
        int[] e = flat(edges, weights);
        int[] b = flat(bends, weights);
        return new Sheet(
                weights, reaches, e, distances(e, rest), b, distances(b, rest), tethers.pairs(), tethers.ropes());
    }

    /**
     * What holds two layers of one cloth together, as a garment with an inside has them: from each point to the nearest that faces
     * the other way, where it lies no farther than neighbours do.
     */
    private static List<int[]> across(WeldedSurface surface, List<int[]> edges) {
        float[] at = surface.positions();
        float[] n = surface.normals();
        double sum = 0;
        for (int[] e : edges) {
            sum += apart(at, e[0], e[1]);
        }
        double near = edges.isEmpty() ? 0 : sum / edges.size();
        PointTree tree = new PointTree(at);
        List<int[]> out = new ArrayList<>();
        for (int p = 0; p < surface.size(); p++) {
            int own = p;
            int other = tree.nearest(
                    at[3 * p],
                    at[3 * p + 1],
                    at[3 * p + 2],
                    near,
                    q -> n[3 * own] * n[3 * q] + n[3 * own + 1] * n[3 * q + 1] + n[3 * own + 2] * n[3 * q + 2] < -0.5);
            if (other >= 0) {
                out.add(new int[] {p, other});
            }
        }
        return out;
    }

    private static double apart(float[] at, int a, int b) {
        double x = (double) at[3 * a] - at[3 * b];
        double y = (double) at[3 * a + 1] - at[3 * b + 1];
        double z = (double) at[3 * a + 2] - at[3 * b + 2];
        return Math.sqrt(x * x + y * y + z * z);
    }

    /** A third of the area of the triangles around each point is its share of the mass. */
    private static double[] weights(int[] triangles, double[] rest, int count) {
        double[] mass = new double[count];
        double all = 0;
        for (int t = 0; t < triangles.length; t += 3) {
            double area = area(rest, triangles[t], triangles[t + 1], triangles[t + 2]);
            all += area;
            for (int i = 0; i < 3; i++) {
                mass[triangles[t + i]] += area / 3;
            }
        }
        // What belongs to no triangle, or to slivers alone, weighs little, and is not without mass.
        double least = all > 0 ? 1e-3 / count : 1;
        double[] out = new double[count];
        for (int p = 0; p < count; p++) {
            out[p] = 1 / Math.max(least, all > 0 ? mass[p] / all : 0);
        }
        return out;
    }

    private static double area(double[] at, int a, int b, int c) {
        double ux = at[3 * b] - at[3 * a];
        double uy = at[3 * b + 1] - at[3 * a + 1];
        double uz = at[3 * b + 2] - at[3 * a + 2];
        double vx = at[3 * c] - at[3 * a];
        double vy = at[3 * c + 1] - at[3 * a + 1];
        double vz = at[3 * c + 2] - at[3 * a + 2];
        double x = uy * vz - uz * vy;
        double y = uz * vx - ux * vz;
        double z = ux * vy - uy * vx;
        return Math.sqrt(x * x + y * y + z * z) / 2;
    }

    /** Those of which at least one end moves. */
    private static int[] flat(List<int[]> pairs, double[] weights) {
        return pairs.stream()
                .filter(p -> weights[p[0]] + weights[p[1]] > 0)
                .flatMapToInt(Arrays::stream)
                .toArray();
    }

    private static double[] distances(int[] pairs, double[] at) {
        double[] out = new double[pairs.length / 2];
        for (int i = 0; i < out.length; i++) {
            out[i] = distance(at, pairs[2 * i], pairs[2 * i + 1]);
        }
        return out;
    }

    static double distance(double[] at, int a, int b) {
        double x = at[3 * a] - at[3 * b];
        double y = at[3 * a + 1] - at[3 * b + 1];
        double z = at[3 * a + 2] - at[3 * b + 2];
        return Math.sqrt(x * x + y * y + z * z);
    }

    /** The nearest pinned point along the edges (Dijkstra 1959); from it a point may not go farther than that way is long. */
    private static final class Tethers {
        private final double[] away;
        private final int[] pin;

        private record Reached(double away, int point) {}

        Tethers(int count, List<int[]> edges, double[] rest, double[] weights) {
            away = new double[count];
            pin = new int[count];
            Arrays.fill(away, Double.POSITIVE_INFINITY);
            Arrays.fill(pin, -1);
            List<List<Integer>> linked = new ArrayList<>();
            for (int p = 0; p < count; p++) {
                linked.add(new ArrayList<>());
            }
            for (int[] e : edges) {
                linked.get(e[0]).add(e[1]);
                linked.get(e[1]).add(e[0]);
            }
            PriorityQueue<Reached> open = new PriorityQueue<>(
                    Comparator.comparingDouble(Reached::away).thenComparingInt(Reached::point));
            for (int p = 0; p < count; p++) {
                if (weights[p] == 0) {
                    away[p] = 0;
                    pin[p] = p;
                    open.add(new Reached(0, p));
                }
            }
            while (!open.isEmpty()) {
                Reached at = open.poll();
                for (int next : at.away > away[at.point] ? List.<Integer>of() : linked.get(at.point)) {
                    double there = at.away + distance(rest, at.point, next);
                    if (there < away[next]) {
                        away[next] = there;
                        pin[next] = pin[at.point];
                        open.add(new Reached(there, next));
                    }
                }
            }
        }

        private boolean holds(int p) {
            return pin[p] >= 0 && pin[p] != p;
        }

        int[] pairs() {
            return IntStream.range(0, pin.length)
                    .filter(this::holds)
                    .flatMap(p -> IntStream.of(p, pin[p]))
                    .toArray();
        }

        double[] ropes() {
            return IntStream.range(0, pin.length)
                    .filter(this::holds)
                    .mapToDouble(p -> away[p])
                    .toArray();
        }
    }
}
