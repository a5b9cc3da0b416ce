package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.geometry.PlaneHull;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** The line around a shape is that around points strewn densely over its skin. */
public class ShapeDrawingTest {
    @DataProvider
    public Object[][] cameras() {
        Camera near = new Camera(new Vector3d(0, 0.5, 0), 30, 20, 2.2, false);
        return new Object[][] {{near}, {near.withParallel(true)}};
    }

    @Test(dataProvider = "cameras")
    public void aCapsulesLineIsThatOfItsSkin(Camera camera) {
        Matrix4d at = new Matrix4d().translation(0.1, 0.4, 0).rotateZ(0.5).scale(0.5);
        Shape.Capsule capsule = new Shape.Capsule(0.5, 0.3, 0.8);
        Random random = new Random(2);
        List<double[]> strewn = new ArrayList<>();
        for (int i = 0; i < 20_000; i++) {
            boolean top = i % 2 == 0;
            Vector3d p = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian())
                    .normalize()
                    .mul(top ? 0.3 : 0.5)
                    .add(0, top ? 0.4 : -0.4, 0);
            Vector3d seen = camera.toPicture(at.transformPosition(p), 800, 600);
            strewn.add(new double[] {seen.x, seen.y});
        }
        double expected = area(PlaneHull.of(strewn.toArray(double[][]::new)));
        double area = area(ShapeDrawing.ring(capsule, at, camera, 800, 600));
        assertThat(expected).isGreaterThan(10_000);
        assertThat(area).isCloseTo(expected, within(0.01 * expected));
    }

    @Test
    public void whatLiesBehindHasNoLine() {
        Camera camera = new Camera(new Vector3d(), 0, 0, 2, false);
        Vector3d behind = camera.eye().mul(1.5);
        assertThat(ShapeDrawing.ring(new Shape.Sphere(0.2), new Matrix4d().translation(behind), camera, 800, 600))
                .isEmpty();
    }

    private static double area(double[][] ring) {
        double twice = 0;
        for (int i = 0; i < ring.length; i++) {
            double[] a = ring[i];
            double[] b = ring[(i + 1) % ring.length];
            twice += a[0] * b[1] - b[0] * a[1];
        }
        return Math.abs(twice) / 2;
    }
}
