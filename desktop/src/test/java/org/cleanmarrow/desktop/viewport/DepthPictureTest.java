package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Random;
import org.joml.Intersectiond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Held against rays through all triangles (JOML's intersection of ray and triangle, in double precision). */
public class DepthPictureTest {
    private static final int W = 320;
    private static final int H = 240;

    @DataProvider
    public Object[][] cameras() {
        return new Object[][] {
            {Camera.front()}, {Camera.front().turned(50, 30)}, {Camera.front().withParallel(true)}
        };
    }

    @Test(dataProvider = "cameras")
    public void whatIsSaidToBeSeenOrHiddenIs(Camera camera) {
        Random random = new Random(5);
        int triangles = 240;
        double spread = camera.reach() * 0.08;
        float[] p = new float[triangles * 9];
        int[] corners = new int[triangles * 3];
        for (int t = 0; t < triangles; t++) {
            Vector3d middle = new Vector3d(camera.at())
                    .add(
                            random.nextGaussian() * spread,
                            random.nextGaussian() * spread,
                            random.nextGaussian() * spread);
            for (int k = 0; k < 3; k++) {
                p[t * 9 + k * 3] = (float) (middle.x + random.nextGaussian() * spread * 0.15);
                p[t * 9 + k * 3 + 1] = (float) (middle.y + random.nextGaussian() * spread * 0.15);
                p[t * 9 + k * 3 + 2] = (float) (middle.z + random.nextGaussian() * spread * 0.15);
                corners[t * 3 + k] = t * 3 + k;
            }
        }
        DepthPicture picture = new DepthPicture(camera, W, H, List.of(new DepthPicture.Surface(p, corners)));
        int[] verdicts = new int[3];
        for (int t = 0; t < triangles; t++) {
            double u = 0.1 + 0.4 * random.nextDouble();
            double v = 0.1 + 0.4 * random.nextDouble();
            Vector3d at = point(p, t, 0).mul(1 - u - v).fma(u, point(p, t, 1)).fma(v, point(p, t, 2));
            DepthPicture.Verdict verdict = picture.of((float) at.x, (float) at.y, (float) at.z);
            verdicts[verdict.ordinal()]++;
            if (verdict != DepthPicture.Verdict.UNSURE) {
                assertThat(verdict == DepthPicture.Verdict.SEEN)
                        .as("point on triangle %d", t)
                        .isEqualTo(isSeen(camera, p, triangles, t, at));
            }
        }
        assertThat(verdicts[DepthPicture.Verdict.SEEN.ordinal()]).isGreaterThan(8);
        assertThat(verdicts[DepthPicture.Verdict.HIDDEN.ordinal()]).isGreaterThan(8);
    }

    private static boolean isSeen(Camera camera, float[] p, int triangles, int own, Vector3d at) {
        Camera.Ray ray = camera.towards(at);
        double far = at.distance(ray.origin());
        for (int t = 0; t < triangles; t++) {
            double hit = Intersectiond.intersectRayTriangle(
                    ray.origin(), ray.direction(), point(p, t, 0), point(p, t, 1), point(p, t, 2), 1e-12);
            if (t != own && hit > 0 && hit < far * (1 - 1e-6)) {
                return false;
            }
        }
        return true;
    }

    private static Vector3d point(float[] p, int triangle, int corner) {
        int at = triangle * 9 + corner * 3;
        return new Vector3d(p[at], p[at + 1], p[at + 2]);
    }

    /** A triangle that reaches behind the eye is not drawn, and then nothing is surely seen. */
    @Test
    public void aSurfaceRoundTheEyeMakesItUnsure() {
        Camera camera = Camera.front();
        Vector3d eye = camera.eye();
        Vector3d ahead = new Vector3d(camera.at()).sub(eye).normalize();
        float[] p = new float[18];
        Vector3d far = new Vector3d(eye).fma(2, ahead);
        put(p, 0, new Vector3d(eye).fma(-1, ahead));
        put(p, 1, new Vector3d(eye).fma(1, ahead).add(0, 0.2, 0));
        put(p, 2, new Vector3d(eye).fma(1, ahead).add(0, -0.2, 0));
        put(p, 3, new Vector3d(far).add(-0.5, -0.5, 0));
        put(p, 4, new Vector3d(far).add(0.5, -0.5, 0));
        put(p, 5, new Vector3d(far).add(0, 0.5, 0));
        DepthPicture picture =
                new DepthPicture(camera, W, H, List.of(new DepthPicture.Surface(p, new int[] {0, 1, 2, 3, 4, 5})));
        assertThat(picture.of((float) far.x, (float) far.y, (float) far.z)).isEqualTo(DepthPicture.Verdict.UNSURE);
    }

    private static void put(float[] p, int at, Vector3d v) {
        p[at * 3] = (float) v.x;
        p[at * 3 + 1] = (float) v.y;
        p[at * 3 + 2] = (float) v.z;
    }
}
