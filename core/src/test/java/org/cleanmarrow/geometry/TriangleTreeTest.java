package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import org.joml.Intersectiond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** The tree's answers against going through every triangle with JOML's own ray test. */
public class TriangleTreeTest {
    private final Random random = new Random(21);

    private float[] cloud(int vertices) {
        float[] p = new float[vertices * 3];
        for (int i = 0; i < p.length; i++) {
            p[i] = random.nextFloat() * 2 - 1;
        }
        return p;
    }

    private int[] corners(int triangles, int vertices) {
        int[] c = new int[triangles * 3];
        for (int i = 0; i < c.length; i++) {
            c[i] = random.nextInt(vertices);
        }
        return c;
    }

    private static Vector3d point(float[] p, int v) {
        return new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }

    /** Distance to the first triangle along a ray; infinite when there is none. */
    private static double plainly(float[] p, int[] c, float[] o, float[] d) {
        double best = Double.POSITIVE_INFINITY;
        for (int t = 0; t < c.length; t += 3) {
            double at = Intersectiond.intersectRayTriangle(
                    new Vector3d(o[0], o[1], o[2]),
                    new Vector3d(d[0], d[1], d[2]),
                    point(p, c[t]),
                    point(p, c[t + 1]),
                    point(p, c[t + 2]),
                    1e-12);
            if (at >= 0) {
                best = Math.min(best, at);
            }
        }
        return best;
    }

    private float[] direction() {
        Vector3d d = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
        return new float[] {(float) d.x, (float) d.y, (float) d.z};
    }

    @Test
    public void nearestAndAnyBeforeAgreeWithEveryTriangleEvenAfterMoving() {
        int[] c = corners(900, 400);
        float[] p = cloud(400);
        TriangleTree tree = new TriangleTree(c, p);
        for (int pose = 0; pose < 4; pose++) {
            int hits = 0;
            for (int r = 0; r < 120; r++) {
                float[] o = {random.nextFloat() * 4 - 2, random.nextFloat() * 4 - 2, random.nextFloat() * 4 - 2};
                float[] d = direction();
                double expected = plainly(p, c, o, d);
                TriangleTree.Hit hit = tree.nearest(o, d, t -> true);
                if (Double.isInfinite(expected)) {
                    assertThat(hit).isNull();
                    assertThat(tree.meetsBefore(o, d, 1e6f)).isFalse();
                    continue;
                }
                hits++;
                assertThat((double) hit.distance()).isCloseTo(expected, org.assertj.core.data.Offset.offset(1e-4));
                assertThat(tree.meetsBefore(o, d, (float) expected * 1.01f)).isTrue();
                assertThat(tree.meetsBefore(o, d, (float) expected * 0.99f)).isFalse();
            }
            assertThat(hits).isGreaterThan(15);
            p = cloud(400);
            tree.refit(p);
        }
    }

    @Test
    public void onlyTrianglesThatAreWantedAreMet() {
        float[] p = {-1, -1, 1, 1, -1, 1, 0, 1, 1, -1, -1, 2, 1, -1, 2, 0, 1, 2};
        TriangleTree tree = new TriangleTree(new int[] {0, 1, 2, 3, 4, 5}, p);
        float[] o = {0, 0, 0};
        float[] d = {0, 0, 1};
        assertThat(tree.nearest(o, d, t -> true).triangle()).isZero();
        assertThat(tree.nearest(o, d, t -> t == 1).distance()).isEqualTo(2);
        assertThat(tree.nearest(o, d, t -> false)).isNull();
    }

    @Test
    public void verticesThatAreNoNumbersHideNothingElse() {
        int[] c = corners(300, 100);
        float[] p = cloud(100);
        int bad = c[0];
        p[bad * 3 + 1] = Float.NaN;
        TriangleTree tree = new TriangleTree(c, p);
        int hits = 0;
        for (int r = 0; r < 200; r++) {
            float[] o = {random.nextFloat() * 4 - 2, random.nextFloat() * 4 - 2, random.nextFloat() * 4 - 2};
            float[] d = direction();
            double best = Double.POSITIVE_INFINITY;
            for (int t = 0; t < c.length; t += 3) {
                if (c[t] != bad && c[t + 1] != bad && c[t + 2] != bad) {
                    best = Math.min(best, plainly(p, new int[] {c[t], c[t + 1], c[t + 2]}, o, d));
                }
            }
            TriangleTree.Hit hit = tree.nearest(o, d, t -> true);
            assertThat(hit == null).isEqualTo(Double.isInfinite(best));
            hits += hit == null ? 0 : 1;
        }
        assertThat(hits).isGreaterThan(20);
    }

    @Test
    public void anEmptyTreeMeetsNothing() {
        TriangleTree tree = new TriangleTree(new int[0], new float[0]);
        tree.refit(new float[0]);
        assertThat(tree.nearest(new float[] {0, 0, 0}, new float[] {1, 0, 0}, t -> true))
                .isNull();
        assertThat(tree.meetsBefore(new float[] {0, 0, 0}, new float[] {1, 0, 0}, 9))
                .isFalse();
    }
}
