package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.cleanmarrow.geometry.Box;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Laws of looking: what is drawn at a pixel is what a line of sight through that pixel meets. */
public class CameraTest {
    private static final double W = 900;
    private static final double H = 700;

    @DataProvider
    public Object[][] cameras() {
        Object[][] out = new Object[14][];
        Random random = new Random(17);
        for (int i = 0; i < out.length; i++) {
            double tilt = i == 0 ? 90 : i == 1 ? -90 : random.nextDouble() * 170 - 85;
            Vector3d at = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
            out[i] = new Object[] {
                new Camera(at, random.nextDouble() * 360, tilt, Math.exp(random.nextDouble() * 6 - 3), i % 2 == 0)
            };
        }
        return out;
    }

    private static Vector3d near(Camera camera, Random random) {
        double reach = camera.reach() * 0.2;
        return new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian())
                .mul(reach)
                .add(camera.at());
    }

    @Test(dataProvider = "cameras")
    public void aRayThroughAPointsPixelGoesThroughThePoint(Camera camera) {
        Random random = new Random(4);
        for (int i = 0; i < 40; i++) {
            Vector3d p = near(camera, random);
            Vector3d pixel = camera.toPicture(p, W, H);
            Camera.Ray ray = camera.ray(pixel.x, pixel.y, W, H);
            assertThat(ray.direction().length()).isCloseTo(1, within(1e-9));
            Vector3d to = new Vector3d(p).sub(ray.origin());
            double along = to.dot(ray.direction());
            assertThat(along).as("it lies before the eye").isPositive();
            double beside = to.fma(-along, ray.direction()).length();
            assertThat(beside).isLessThan(1e-6 * camera.reach());
            Camera.Ray towards = camera.towards(p);
            assertThat(towards.direction().distance(ray.direction())).isLessThan(1e-6);
        }
    }

    @Test(dataProvider = "cameras")
    public void whatFacesAwayIsSeenFromTheOtherSideAndFromAsFar(Camera camera) {
        Random random = new Random(6);
        for (int i = 0; i < 20; i++) {
            Vector3d way =
                    new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
            Camera round = camera.facing(way);
            Vector3d eye = round.eye().sub(round.at());
            assertThat(round.isBehind(way)).isFalse();
            assertThat(round.at()).isEqualTo(camera.at());
            assertThat(eye.length()).isCloseTo(camera.reach(), within(1e-9 * camera.reach()));
            // Straight on, where it is not too steep for a figure to be told.
            boolean level = Math.abs(way.y) < Math.sin(Math.toRadians(55));
            assertThat(eye.angle(way)).isLessThan(level ? 1e-6 : Math.toRadians(36));
        }
    }

    @Test(dataProvider = "cameras")
    public void zoomingKeepsWhatLiesUnderThePointer(Camera camera) {
        // At the distance looked at, where the pointer's plane is.
        Camera.Ray ray = camera.ray(640, 200, W, H);
        Vector3d ahead = camera.ray(W / 2, H / 2, W, H).direction();
        double t = new Vector3d(camera.at()).sub(ray.origin()).dot(ahead)
                / ray.direction().dot(ahead);
        Vector3d under = new Vector3d(ray.origin()).fma(t, ray.direction());
        Camera nearer = camera.zoomed(0.7, 640, 200, W, H);
        Vector3d now = nearer.toPicture(under, W, H);
        assertThat(now.x).isCloseTo(640, within(1.5));
        assertThat(now.y).isCloseTo(200, within(1.5));
        assertThat(nearer.reach()).isCloseTo(camera.reach() * 0.7, within(1e-9));
    }

    @Test(dataProvider = "cameras")
    public void panningMovesWhatIsLookedAtByPixels(Camera camera) {
        Vector3d before = camera.toPicture(camera.at(), W, H);
        Vector3d after = camera.panned(37, -21, H).toPicture(camera.at(), W, H);
        assertThat(after.x - before.x).isCloseTo(37, within(0.2));
        assertThat(after.y - before.y).isCloseTo(-21, within(0.2));
    }

    @Test(dataProvider = "cameras")
    public void framingShowsEveryCornerOfABox(Camera camera) {
        Random random = new Random(8);
        for (int i = 0; i < 20; i++) {
            Box box = Box.empty();
            for (int k = 0; k < 2; k++) {
                box.grow(random.nextGaussian() * 3, random.nextGaussian(), random.nextGaussian() * 2);
            }
            Camera framed = camera.framing(box);
            for (int corner = 0; corner < 8; corner++) {
                Vector3d p = framed.toPicture(
                        new Vector3d(
                                (corner & 1) == 0 ? box.min().x : box.max().x,
                                (corner & 2) == 0 ? box.min().y : box.max().y,
                                (corner & 4) == 0 ? box.min().z : box.max().z),
                        W,
                        H);
                assertThat(p.z).isPositive();
                assertThat(p.x).isBetween(0.0, W);
                assertThat(p.y).isBetween(0.0, H);
            }
        }
    }

    @Test
    public void fromTheFrontLeftIsRightAndUpIsUp() {
        Camera front = Camera.front().turned(0, 0);
        Vector3d middle = front.toPicture(new Vector3d(0, 0.9, 0), W, H);
        // The figure faces +Z and its left side is +X: seen from the front that is the right of the picture.
        assertThat(front.toPicture(new Vector3d(0.3, 0.9, 0), W, H).x).isGreaterThan(middle.x);
        assertThat(front.toPicture(new Vector3d(0, 1.5, 0), W, H).y).isLessThan(middle.y);
        Camera above = Camera.front().turned(0, 90);
        assertThat(above.toPicture(new Vector3d(0, 0.9, 0.5), W, H).y)
                .as("the front points down the picture")
                .isGreaterThan(above.toPicture(new Vector3d(0, 0.9, -0.5), W, H).y);
    }

    @Test
    public void withoutPerspectiveDistanceChangesNothing() {
        Camera camera = Camera.front().withParallel(true).turned(0, 0);
        double near = camera.toPicture(new Vector3d(0.5, 1, 1), W, H).x;
        double far = camera.toPicture(new Vector3d(0.5, 1, -4), W, H).x;
        assertThat(near).isCloseTo(far, within(1e-9));
        assertThat(camera.metresPerPixel(H) * (near - W / 2)).isCloseTo(0.5, within(1e-9));
    }
}
