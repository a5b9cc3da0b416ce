package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.joml.Intersectiond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** The nearest point of a surface against JOML's own closest point, triangle by triangle. */
public class NearestPointTest {
    private final Random random = new Random(5);

    private float[] points(int count, double reach) {
        float[] out = new float[count * 3];
        for (int i = 0; i < out.length; i++) {
            out[i] = (float) (random.nextGaussian() * reach);
        }
        return out;
    }

    private int[] triangles(int count, int vertices) {
        int[] out = new int[count * 3];
        for (int i = 0; i < out.length; i++) {
            out[i] = random.nextInt(vertices);
        }
        return out;
    }

    private static Vector3d at(float[] p, int v) {
        return new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }

    private static double byHand(int[] corners, float[] p, Vector3d point) {
        double best = Double.POSITIVE_INFINITY;
        for (int t = 0; t < corners.length; t += 3) {
            Vector3d found = new Vector3d();
            Vector3d a = at(p, corners[t]);
            Vector3d b = at(p, corners[t + 1]);
            Vector3d c = at(p, corners[t + 2]);
            Intersectiond.findClosestPointOnTriangle(a, b, c, point, found);
            best = Math.min(best, found.distance(point));
        }
        return best;
    }

    @DataProvider
    public Object[][] sizes() {
        return new Object[][] {{1}, {5}, {7}, {60}, {900}};
    }

    @Test(dataProvider = "sizes")
    public void theTreeFindsWhatLookingAtEveryTriangleFinds(int count) {
        float[] p = points(count + 3, 1);
        int[] corners = new int[count * 3];
        for (int t = 0; t < count; t++) {
            // Three different corners, so that every triangle has an area.
            corners[t * 3] = t;
            corners[t * 3 + 1] = t + 1;
            corners[t * 3 + 2] = t + 2;
        }
        TriangleTree tree = new TriangleTree(corners, p);
        for (int i = 0; i < 200; i++) {
            Vector3d point =
                    new Vector3d(random.nextGaussian() * 2, random.nextGaussian() * 2, random.nextGaussian() * 2);
            TriangleTree.Hit hit = tree.nearestPoint((float) point.x, (float) point.y, (float) point.z, t -> true);
            Vector3d exact = new Vector3d((float) point.x, (float) point.y, (float) point.z);
            assertThat((double) hit.distance()).isCloseTo(byHand(corners, p, exact), within(1e-5));
            // The shares name the very point that is so far away.
            int t = hit.triangle() * 3;
            Vector3d named = at(p, corners[t])
                    .mul(1 - hit.u() - hit.v())
                    .fma(hit.u(), at(p, corners[t + 1]))
                    .fma(hit.v(), at(p, corners[t + 2]));
            assertThat(named.distance(exact)).isCloseTo(hit.distance(), within(1e-4));
            assertThat(hit.u()).isBetween(-1e-6f, 1 + 1e-6f);
            assertThat(hit.u() + hit.v()).isLessThan(1 + 1e-5f);
        }
    }

    @Test
    public void afterARefitTheMovedSurfaceIsMeant() {
        float[] p = points(40, 1);
        int[] corners = triangles(60, 40);
        TriangleTree tree = new TriangleTree(corners, p);
        float[] moved = p.clone();
        for (int i = 0; i < moved.length; i += 3) {
            moved[i] += 100;
        }
        tree.refit(moved);
        TriangleTree.Hit hit = tree.nearestPoint(100, 0, 0, t -> true);
        assertThat((double) hit.distance()).isLessThan(3);
        assertThat((double) tree.nearestPoint(0, 0, 0, t -> true).distance()).isGreaterThan(90);
    }

    @Test
    public void onlyTrianglesThatAreTakenCount() {
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 5, 1, 0, 5, 0, 1, 5};
        TriangleTree tree = new TriangleTree(new int[] {0, 1, 2, 3, 4, 5}, p);
        assertThat(tree.nearestPoint(0.2f, 0.2f, 1, t -> true).triangle()).isZero();
        TriangleTree.Hit other = tree.nearestPoint(0.2f, 0.2f, 1, t -> t == 1);
        assertThat(other.triangle()).isEqualTo(1);
        assertThat((double) other.distance()).isCloseTo(4, within(1e-6));
        assertThat(tree.nearestPoint(0, 0, 0, t -> false)).isNull();
    }

    @Test
    public void flatTrianglesAndNumbersThatAreNoneBringNothingDown() {
        float[] p = {0, 0, 0, 0, 0, 0, 0, 0, 0, Float.NaN, 0, 0, 1, 1, 1, 2, 2, 2};
        TriangleTree tree = new TriangleTree(new int[] {0, 1, 2, 3, 4, 5}, p);
        TriangleTree.Hit hit = tree.nearestPoint(3, 0, 0, t -> true);
        assertThat(hit.triangle()).isZero();
        assertThat((double) hit.distance()).isCloseTo(3, within(1e-6));
        assertThat(new TriangleTree(new int[0], new float[0]).nearestPoint(1, 2, 3, t -> true))
                .isNull();
    }
}
