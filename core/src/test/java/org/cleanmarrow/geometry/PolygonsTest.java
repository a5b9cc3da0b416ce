package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.joml.Matrix3d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Cutting keeps what a polygon is: as many triangles as it must have, its winding, its area, all its corners. */
public class PolygonsTest {
    private record Cut(List<int[]> triangles, double area, double normalDot) {}

    private static Vector3d point(float[] p, int i) {
        return new Vector3d(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]);
    }

    /** Twice the area as a vector: half the sum of cross products round the outline (Newell). */
    private static Vector3d newell(float[] p, int[] corners, int count) {
        Vector3d sum = new Vector3d();
        for (int i = 0; i < count; i++) {
            sum.add(point(p, corners[i]).cross(point(p, corners[(i + 1) % count])));
        }
        return sum;
    }

    private static Cut cut(float[] p, int[] corners, int count) {
        List<int[]> triangles = new ArrayList<>();
        Polygons.triangulate(p, corners, count, (a, b, c) -> triangles.add(new int[] {a, b, c}));
        Vector3d whole = newell(p, corners, count).normalize();
        double area = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int[] t : triangles) {
            Vector3d a = point(p, corners[t[0]]);
            Vector3d n =
                    point(p, corners[t[1]]).sub(a).cross(point(p, corners[t[2]]).sub(a));
            area += n.length() / 2;
            least = Math.min(least, n.length() < 1e-12 ? 1 : n.normalize().dot(whole));
        }
        return new Cut(triangles, area, least);
    }

    private static int[] counting(int n) {
        int[] out = new int[n];
        for (int i = 0; i < n; i++) {
            out[i] = i;
        }
        return out;
    }

    /** A star about a centre is simple whatever its radii, and most of them are concave. */
    private static float[] star(int corners, Random random) {
        Matrix3d turn =
                new Matrix3d().rotateXYZ(random.nextDouble() * 6, random.nextDouble() * 6, random.nextDouble() * 6);
        float[] p = new float[corners * 3];
        for (int i = 0; i < corners; i++) {
            double angle = 2 * Math.PI * i / corners;
            double radius = 0.2 + random.nextDouble();
            Vector3d v = turn.transform(new Vector3d(radius * Math.cos(angle), radius * Math.sin(angle), 0.3));
            p[i * 3] = (float) v.x;
            p[i * 3 + 1] = (float) v.y;
            p[i * 3 + 2] = (float) v.z;
        }
        return p;
    }

    @Test
    public void starsKeepAreaWindingAndCorners() {
        Random random = new Random(6);
        for (int round = 0; round < 300; round++) {
            int n = 4 + random.nextInt(30);
            float[] p = star(n, random);
            Cut cut = cut(p, counting(n), n);
            assertThat(cut.triangles).hasSize(n - 2);
            double whole = newell(p, counting(n), n).length() / 2;
            assertThat(cut.area).as("%d corners, round %d", n, round).isCloseTo(whole, within(whole * 1e-5));
            assertThat(cut.normalDot).as("no triangle is turned over").isGreaterThan(0);
            assertThat(cut.triangles.stream()
                            .flatMapToInt(Arrays::stream)
                            .distinct()
                            .count())
                    .isEqualTo(n);
        }
    }

    @Test
    public void convexPolygonsAreAFanFromTheirFirstCorner() {
        float[] p = new float[6 * 3];
        for (int i = 0; i < 6; i++) {
            p[i * 3] = (float) Math.cos(i * Math.PI / 3);
            p[i * 3 + 2] = (float) Math.sin(i * Math.PI / 3);
        }
        List<int[]> triangles = cut(p, counting(6), 6).triangles;
        for (int i = 0; i < 4; i++) {
            assertThat(triangles.get(i)).containsExactly(0, i + 1, i + 2);
        }
    }

    @Test
    public void anOutlineThatRunsToAHoleAndBackLeavesTheHoleOpen() {
        // A square of side 4 with a square hole of side 2, joined by a line that is walked both ways.
        float[] p = {0, 0, 0, 4, 0, 0, 4, 4, 0, 0, 4, 0, 0, 0, 0, 1, 1, 0, 1, 3, 0, 3, 3, 0, 3, 1, 0, 1, 1, 0};
        Cut cut = cut(p, counting(10), 10);
        assertThat(cut.area).isCloseTo(16 - 4, within(1e-6));
        assertThat(cut.triangles).hasSize(8);
    }

    @Test
    public void whateverCrossesItselfOrHasNoAreaIsCutAllTheSame() {
        float[][] odd = {
            {0, 0, 0, 1, 1, 0, 1, 0, 0, 0, 1, 0},
            {0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0},
            {0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0, 4, 0, 0},
            {0, 0, 0, 1, 0, 0, Float.NaN, 0, 0, 0, 1, 0, 2, 2, 0}
        };
        for (float[] p : odd) {
            int n = p.length / 3;
            assertThat(cut(p, counting(n), n).triangles).hasSize(n - 2);
        }
    }

    /** Outline of a star about a place, left round or right round. */
    private static double[] outline(Random random, double x, double y, double least, double most, boolean left) {
        int n = 3 + random.nextInt(12);
        double[] out = new double[2 * n];
        for (int i = 0; i < n; i++) {
            double angle = 2 * Math.PI * (left ? i : -i) / n;
            double radius = least + (most - least) * random.nextDouble();
            out[2 * i] = x + radius * Math.cos(angle);
            out[2 * i + 1] = y + radius * Math.sin(angle);
        }
        return out;
    }

    /** The shoelace formula. */
    private static double area(double[] p) {
        double sum = 0;
        for (int i = 0; i < p.length; i += 2) {
            int j = (i + 2) % p.length;
            sum += p[i] * p[j + 1] - p[j] * p[i + 1];
        }
        return sum / 2;
    }

    /**
     * Outlines in any order, with up to nine holes and an island in one of them: no triangle is turned over, together they have the
     * area, and their edges are the outlines' and otherwise pairs.
     */
    @Test
    public void outlinesWithHolesAreFilled() {
        Random random = new Random(12);
        for (int round = 0; round < 400; round++) {
            List<double[]> outlines = new ArrayList<>();
            // As wide as it must be at its narrowest to hold what follows, whatever its corners are.
            double[] around = outline(random, 0, 0, 12, 20, true);
            outlines.add(around);
            int holes = random.nextInt(10);
            for (int h = 0; h < holes; h++) {
                outlines.add(outline(random, 2 * (h % 3) - 2, 2 * (h / 3) - 2, 0.3, 0.9, false));
            }
            if (holes > 0) {
                outlines.add(outline(random, -2, -2, 0.02, 0.1, true));
            }
            Collections.shuffle(outlines, random);
            double[] all = outlines.stream().flatMapToDouble(Arrays::stream).toArray();
            Map<Long, Integer> edges = new HashMap<>();
            int first = 0;
            for (double[] o : outlines) {
                for (int i = 0; i < o.length / 2; i++) {
                    count(edges, first + i, first + (i + 1) % (o.length / 2), -1);
                }
                first += o.length / 2;
            }
            double[] sum = {0, 0};
            Polygons.fill(outlines, (a, b, c) -> {
                double[] t = {all[2 * a], all[2 * a + 1], all[2 * b], all[2 * b + 1], all[2 * c], all[2 * c + 1]};
                sum[0] += area(t);
                sum[1] = Math.min(sum[1], area(t));
                count(edges, a, b, 1);
                count(edges, b, c, 1);
                count(edges, c, a, 1);
            });
            double whole = outlines.stream().mapToDouble(PolygonsTest::area).sum();
            assertThat(sum[0]).as("round " + round).isCloseTo(whole, within(1e-9));
            assertThat(sum[1]).as("round " + round + ", turned over").isGreaterThan(-1e-9);
            assertThat(edges.values()).as("round " + round).containsOnly(0);
        }
    }

    private static void count(Map<Long, Integer> edges, int a, int b, int by) {
        edges.merge((long) Math.min(a, b) << 32 | Math.max(a, b), a < b ? by : -by, Integer::sum);
    }
}
