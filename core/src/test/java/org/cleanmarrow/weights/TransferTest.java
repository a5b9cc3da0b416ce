package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Sheets above a sheet: what is near and faces alike is taken, the rest filled in, loose pieces move with their neighbours. */
public class TransferTest {
    private static final int WIDE = 21;

    /** A level sheet of one by one, its height by x; turned over where told. */
    private static WeldedSurface sheet(java.util.function.DoubleUnaryOperator height, boolean over, double... shift) {
        List<Float> p = new ArrayList<>();
        List<Integer> t = new ArrayList<>();
        add(p, t, height, over, 0);
        for (double s : shift) {
            add(p, t, height, over, s);
        }
        float[] points = new float[p.size()];
        for (int i = 0; i < points.length; i++) {
            points[i] = p.get(i);
        }
        Mesh mesh = Mesh.of(
                "sheet",
                Primitive.triangles(t.stream().mapToInt(Integer::intValue).toArray(), points, null, -1));
        return MeshTopology.of(mesh).welded(mesh);
    }

    private static void add(
            List<Float> p, List<Integer> t, java.util.function.DoubleUnaryOperator height, boolean over, double shift) {
        int first = p.size() / 3;
        for (int z = 0; z < WIDE; z++) {
            for (int x = 0; x < WIDE; x++) {
                double at = x / (WIDE - 1.0);
                p.add((float) at);
                p.add((float) (height.applyAsDouble(at) + shift));
                p.add(z / (WIDE - 1f));
            }
        }
        for (int z = 0; z + 1 < WIDE; z++) {
            for (int x = 0; x + 1 < WIDE; x++) {
                int v = first + z * WIDE + x;
                int[] quad = over
                        ? new int[] {v, v + 1, v + WIDE, v + 1, v + WIDE + 1, v + WIDE}
                        : new int[] {v, v + WIDE, v + 1, v + 1, v + WIDE, v + WIDE + 1};
                for (int corner : quad) {
                    t.add(corner);
                }
            }
        }
    }

    /** From joint 0 to joint 1 along x. */
    private static Influences along(WeldedSurface surface) {
        Influences.Builder rows = new Influences.Builder(surface.size());
        for (int i = 0; i < surface.size(); i++) {
            float x = surface.positions()[i * 3];
            rows.add(0, 1 - x);
            rows.add(1, x);
            rows.endRow();
        }
        return rows.build();
    }

    private static Transfer.Source source(WeldedSurface surface) {
        BitSet all = new BitSet();
        all.set(0, surface.size());
        return new Transfer.Source(surface, along(surface), all);
    }

    private static Transfer.Result run(WeldedSurface to, List<Transfer.Source> from, double reach, boolean either) {
        return Transfer.run(to, from, reach, 30, either, 3, Work.QUIET);
    }

    private static void assertAlong(WeldedSurface to, Influences rows, double near) {
        for (int p = 0; p < to.size(); p++) {
            assertThat(rows.weight(p, 1)).isCloseTo(to.positions()[p * 3], within((float) near));
            assertThat(rows.sum(p)).isCloseTo(1, within(1e-5));
        }
    }

    @Test
    public void whatLiesNearTakesTheWeightsBelowIt() {
        WeldedSurface below = sheet(x -> 0, false);
        WeldedSurface above = sheet(x -> 0.02, false);
        Transfer.Result result = run(above, List.of(source(below)), 0.05, false);
        assertThat(result.matched().cardinality()).isEqualTo(above.size());
        assertThat(result.filled().isEmpty()).isTrue();
        assertThat(result.nearest()[5]).isCloseTo(0.02f, within(1e-6f));
        assertAlong(above, result.rows(), 1e-4);
    }

    @Test
    public void whatFacesTheOtherWayIsTakenOnlyWhereToldSo() {
        WeldedSurface below = sheet(x -> 0, false);
        WeldedSurface lining = sheet(x -> 0.02, true);
        assertThat(run(lining, List.of(source(below)), 0.05, false)).isNull();
        assertAlong(lining, run(lining, List.of(source(below)), 0.05, true).rows(), 1e-4);
        assertThat(run(lining, List.of(source(below)), 0.01, true)).isNull();
    }

    /** A bulge leaves the source; over it the weights go on as they do beside it. */
    @Test
    public void aBulgeIsFilledInSmoothly() {
        WeldedSurface below = sheet(x -> 0, false);
        WeldedSurface bulge = sheet(x -> 0.02 + 0.25 * Math.exp(-60 * (x - 0.5) * (x - 0.5)), false);
        Transfer.Result result = run(bulge, List.of(source(below)), 0.05, false);
        assertThat(result.matched().cardinality()).isBetween(bulge.size() / 5, bulge.size() * 4 / 5);
        assertThat(result.filled().cardinality() + result.matched().cardinality())
                .isEqualTo(bulge.size());
        for (int p = 0; p < bulge.size(); p++) {
            for (int e = bulge.starts()[p]; e < bulge.starts()[p + 1]; e++) {
                double step = result.rows().weight(p, 1) - result.rows().weight(bulge.neighbours()[e], 1);
                assertThat(Math.abs(step)).as("from place to place").isLessThan(0.2);
            }
        }
        // As far as the middle of the bulge both joints have come half way.
        for (int p = 0; p < bulge.size(); p++) {
            if (Math.abs(bulge.positions()[p * 3] - 0.5) < 1e-6) {
                assertThat(result.rows().weight(p, 1)).isCloseTo(0.5f, within(0.05f));
            }
        }
    }

    @Test
    public void aLoosePieceFarAwayMovesAsOneWithTheNearestMatch() {
        WeldedSurface below = sheet(x -> 0, false);
        WeldedSurface two = sheet(x -> 0.02, false, 0.5);
        Transfer.Result result = run(two, List.of(source(below)), 0.05, false);
        assertThat(result.rigid().cardinality()).isEqualTo(WIDE * WIDE);
        int first = result.rigid().nextSetBit(0);
        for (int p = first; p >= 0; p = result.rigid().nextSetBit(p + 1)) {
            assertThat(result.rows().weight(p, 1)).isEqualTo(result.rows().weight(first, 1));
        }
        assertThat(result.rows().weight(first, 1)).as("the middle's").isCloseTo(0.5f, within(0.06f));
    }

    @Test
    public void ofSeveralSourcesTheNearestCountsAndLeftOutPlacesDoNot() {
        WeldedSurface far = sheet(x -> -0.03, false);
        WeldedSurface near = sheet(x -> 0, false);
        Influences.Builder third = new Influences.Builder(near.size());
        for (int p = 0; p < near.size(); p++) {
            third.add(2, 1);
            third.endRow();
        }
        Influences allThird = third.build();
        BitSet all = new BitSet();
        all.set(0, near.size());
        WeldedSurface above = sheet(x -> 0.01, false);
        Transfer.Result nearest =
                run(above, List.of(source(far), new Transfer.Source(near, allThird, all)), 0.05, false);
        for (int p = 0; p < above.size(); p++) {
            assertThat(nearest.rows().weight(p, 2)).isCloseTo(1, within(1e-6f));
        }
        Transfer.Result without =
                run(above, List.of(source(far), new Transfer.Source(near, allThird, new BitSet())), 0.05, false);
        assertAlong(above, without.rows(), 1e-4);
    }
}
