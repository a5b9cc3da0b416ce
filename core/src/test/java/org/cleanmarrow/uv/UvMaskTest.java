package org.cleanmarrow.uv;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Masks against what they are for: read at points of the triangles as a picture that is filtered linearly is read. */
public class UvMaskTest {
    private static final int SIDE = 64;

    private static UvLayout laid(float[] uv) {
        int[] corners = new int[uv.length / 2];
        float[] positions = new float[corners.length * 3];
        for (int i = 0; i < corners.length; i++) {
            corners[i] = i;
            positions[i * 3] = i;
        }
        Primitive p = Primitive.triangles(corners, positions, null, -1)
                .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)));
        return UvLayout.of(new Mesh("m", List.of(p), new float[0], List.of(), Passthrough.NONE), 0)
                .orElseThrow();
    }

    /** The value of the picture at a place, between the middles of the four texels around it. */
    private static double read(UvMask mask, double u, double v) {
        double x = u * SIDE - 0.5;
        double y = v * SIDE - 0.5;
        int left = (int) Math.floor(x);
        int low = (int) Math.floor(y);
        double sum = 0;
        for (int i = 0; i < 4; i++) {
            int px = left + (i & 1);
            int py = low + (i >> 1);
            double share = (1 - Math.abs(x - px)) * (1 - Math.abs(y - py));
            sum += mask.at(Math.floorMod(px, SIDE), Math.floorMod(py, SIDE)) ? share : 0;
        }
        return sum;
    }

    @DataProvider
    public Object[][] spreads() {
        // Within the picture; mirrored and far beyond it, as repeated pictures have it; hair-thin.
        return new Object[][] {{1.0, 0.2}, {6.0, 0.3}, {1.0, 0.004}};
    }

    @Test(dataProvider = "spreads")
    public void noOtherTriangleShowsAnyOfIt(double over, double size) {
        Random random = new Random(3);
        float[] uv = new float[6 * 60];
        for (int t = 0; t < 60; t++) {
            double u = over * (random.nextDouble() - 0.3);
            double v = over * (random.nextDouble() - 0.3);
            for (int i = 0; i < 6; i++) {
                uv[6 * t + i] = (float) ((i % 2 == 0 ? u : v) + size * random.nextDouble());
            }
        }
        UvLayout layout = laid(uv);
        BitSet chosen = new BitSet();
        for (int t = 0; t < 60; t++) {
            chosen.set(t, t % 3 != 0);
        }
        UvMask mask = UvMask.of(layout, chosen::get, t -> true, SIDE);
        for (int t = 0; t < 60; t++) {
            boolean all = true;
            for (int k = 0; k < 400; k++) {
                double a = random.nextDouble();
                double b = random.nextDouble() * (1 - a);
                double[] at = new double[2];
                for (int i = 0; i < 2; i++) {
                    at[i] = a * uv[6 * t + i] + b * uv[6 * t + 2 + i] + (1 - a - b) * uv[6 * t + 4 + i];
                }
                if (!chosen.get(t)) {
                    assertThat(read(mask, at[0], at[1])).as("triangle %d", t).isZero();
                }
                all &= mask.at(
                        Math.floorMod((int) Math.floor(at[0] * SIDE), SIDE),
                        Math.floorMod((int) Math.floor(at[1] * SIDE), SIDE));
            }
            if (mask.isWhole(layout, t)) {
                assertThat(all).as("triangle %d, which is whole", t).isTrue();
            }
        }
    }

    /** Counted by hand: a square of 16 texels of 64, in two triangles, beside one that begins 8 texels further right. */
    @Test
    public void aSquareIsFilledToItsLastTexel() {
        float[] uv = {0, 0, 0.25f, 0, 0, 0.25f, 0.25f, 0, 0.25f, 0.25f, 0, 0.25f, 0.375f, 0, 0.5f, 0, 0.375f, 0.25f};
        UvLayout layout = laid(uv);
        UvMask mask = UvMask.of(layout, t -> t < 2, t -> true, SIDE);
        int set = 0;
        for (int i = 0; i < SIDE * SIDE; i++) {
            set += mask.at(i % SIDE, i / SIDE) ? 1 : 0;
        }
        // Texels that it touches at the rim alone are touched: one more to the right, below, and all around by
        // repeating.
        assertThat(set).isBetween(16 * 16, 18 * 18);
        assertThat(mask.isWhole(layout, 0)).isTrue();
        assertThat(mask.at(15, 15)).isTrue();
        assertThat(mask.at(18, 8)).isFalse();
        assertThat(UvMask.of(layout, t -> t < 2, t -> t < 2, SIDE).at(16, 16)).isEqualTo(mask.at(16, 16));
        assertThat(UvMask.of(layout, t -> t == 0, t -> true, SIDE).isWhole(layout, 0))
                .as("its neighbour's texels are not hidden with it")
                .isFalse();
    }

    /** As damaged files have it. */
    @Test
    public void coordinatesWithoutEndTakeNoTime() {
        UvLayout layout = laid(new float[] {0, 0, 1e30f, 0, 0, 1e30f, 0, 0, 0.1f, 0, 0, 0.1f});
        UvMask mask = UvMask.of(layout, t -> t == 1, t -> true, SIDE);
        assertThat(mask.at(1, 1)).isFalse();
    }
}
