package org.cleanmarrow.measure;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import org.cleanmarrow.geometry.Box;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What a picture of numbers shows of a small triangle behind the edge of a plate, counted by hand in pixels of a hundredth. */
public class IdPictureTest {
    private static final int SIDE = 100;

    @DataProvider
    public Object[][] places() {
        // How far the triangle's near corner lies beyond the edge, negative behind the plate; seen, nearly seen.
        return new Object[][] {{0.03, true, true}, {-0.003, false, true}, {-0.03, false, false}};
    }

    /** The plate covers x up to 0 at z = 0.2, and the triangle lies at z = 0.1, three pixels wide, its near corner at x. */
    @Test(dataProvider = "places")
    public void whatJustIsNotSeenIsNearly(double x, boolean seen, boolean nearly) {
        float[] points = {
            -2,
            -2,
            0.2f,
            0,
            -2,
            0.2f,
            0,
            2,
            0.2f,
            -2,
            2,
            0.2f,
            (float) x,
            -0.02f,
            0.1f,
            (float) x,
            0.02f,
            0.1f,
            (float) x - 0.04f,
            0,
            0.1f
        };
        int[] corners = {0, 1, 2, 0, 2, 3, 4, 5, 6};
        Box box = Box.empty();
        // A diagonal of one unit, so that a pixel is a hundredth of it.
        box.grow(-0.3, -0.4, 0);
        box.grow(0.3, 0.4, 0);
        IdPicture picture = new IdPicture(SIDE);
        BitSet asked = new BitSet();
        asked.set(2);
        for (int turn = 0; turn < 2; turn++) {
            picture.take(box, new Vector3d(0, 0, 1), points, corners, new boolean[3]);
            assertThat(picture.seen().get(2)).isEqualTo(seen);
            assertThat(picture.nearlySeen(asked).get(2)).isEqualTo(nearly);
        }
        // From behind it stands before the plate, and turns its back.
        picture.take(box, new Vector3d(0, 0, -1), points, corners, new boolean[3]);
        assertThat(picture.seen().isEmpty()).isTrue();
        picture.take(box, new Vector3d(0, 0, -1), points, corners, new boolean[] {true, true, true});
        assertThat(picture.seen().get(2)).isTrue();
    }
}
