package org.cleanmarrow.collision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.geometry.DisjointSets;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Convex parts of solids against V-HACD (Mamou 2016; {@code tools/reference/convex.mjs} says how its answers were got). */
public class ConvexPartsTest {
    private static final double EMPTY = 0.05;

    @DataProvider
    public Object[][] solids() throws IOException {
        try (InputStream in = ConvexPartsTest.class.getResourceAsStream("convex.json")) {
            return JsonMapper.shared()
                    .readTree(in)
                    .valueStream()
                    .map(one -> new Object[] {one.path("name").stringValue(), one})
                    .toArray(Object[][]::new);
        }
    }

    private static double[] points(JsonNode one) {
        return one.path("positions")
                .valueStream()
                .mapToDouble(JsonNode::doubleValue)
                .toArray();
    }

    private static int[] corners(JsonNode one) {
        return one.path("corners").valueStream().mapToInt(JsonNode::intValue).toArray();
    }

    /** Which of the solids that one is made of each vertex belongs to. */
    private static int[] islands(int vertices, int[] corners) {
        DisjointSets sets = new DisjointSets(vertices);
        for (int i = 0; i < corners.length; i += 3) {
            sets.join(corners[i], corners[i + 1]);
            sets.join(corners[i], corners[i + 2]);
        }
        int[] out = new int[vertices];
        Arrays.setAll(out, sets::root);
        return out;
    }

    private static List<Hull> parts(JsonNode one) {
        double[] points = points(one);
        int[] corners = corners(one);
        return ConvexParts.of(
                points,
                corners,
                islands(points.length / 3, corners),
                one.path("most").intValue(),
                EMPTY,
                Work.QUIET);
    }

    /** No more hulls, hardly more volume, and every vertex and the middle of every triangle within one of them. */
    @Test(dataProvider = "solids")
    public void theyAreAsCloseAsVhacds(String name, JsonNode one) {
        List<Hull> parts = parts(one);
        double volume = parts.stream().mapToDouble(Hull::volume).sum();
        assertThat(parts).hasSizeLessThanOrEqualTo(one.path("most").intValue());
        assertThat(volume)
                .isGreaterThanOrEqualTo(one.path("volume").doubleValue() * (1 - 1e-6))
                .isLessThanOrEqualTo(1.05 * one.path("theirs").path("volume").doubleValue());
        double[] p = points(one);
        int[] corners = corners(one);
        List<double[][]> faces = parts.stream().map(Hull::planes).toList();
        for (int i = 0; i < corners.length; i += 3) {
            Vector3d middle = new Vector3d();
            for (int k = 0; k < 3; k++) {
                int v = 3 * corners[i + k];
                Vector3d corner = new Vector3d(p[v], p[v + 1], p[v + 2]);
                assertThat(least(faces, corner)).isLessThan(1e-9);
                middle.fma(1 / 3.0, corner);
            }
            assertThat(least(faces, middle)).isLessThan(1e-9);
        }
    }

    private static double least(List<double[][]> faces, Vector3d p) {
        return faces.stream().mapToDouble(f -> Hull.over(f, p)).min().orElseThrow();
    }

    /** Two boxes make a corner, three a channel, six a chair; what they hold is all that they are. */
    @Test
    public void whatIsBuiltOfBoxesIsCutAtItsCorners() throws IOException {
        for (Object[] row : solids()) {
            JsonNode one = (JsonNode) row[1];
            int boxes = List.of("corner", "channel", "chair").indexOf(row[0]);
            if (boxes >= 0) {
                List<Hull> parts = parts(one);
                assertThat(parts).hasSize(List.of(2, 3, 6).get(boxes));
                assertThat(parts.stream().mapToDouble(Hull::volume).sum())
                        .isCloseTo(one.path("volume").doubleValue(), within(1e-5));
            }
        }
    }
}
