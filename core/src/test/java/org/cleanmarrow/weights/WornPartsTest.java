package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Tubes in tubes: what a part lies on, which of its layers leads, and that the other goes with it. */
public class WornPartsTest {
    private static final int AROUND = 32;
    private static final int HIGH = 24;

    /** Upright tubes about the Y axis, each its radius, from a height to another; one turned inside out where below zero. */
    private static WeldedSurface tubes(double from, double to, double aside, double... radii) {
        List<Float> p = new ArrayList<>();
        List<Integer> t = new ArrayList<>();
        for (double radius : radii) {
            int first = p.size() / 3;
            for (int y = 0; y <= HIGH; y++) {
                for (int i = 0; i < AROUND; i++) {
                    double angle = 2 * Math.PI * i / AROUND;
                    p.add((float) (aside + Math.abs(radius) * Math.cos(angle)));
                    p.add((float) (from + (to - from) * y / HIGH));
                    p.add((float) (Math.abs(radius) * Math.sin(angle)));
                }
            }
            for (int y = 0; y < HIGH; y++) {
                for (int i = 0; i < AROUND; i++) {
                    int a = first + y * AROUND + i;
                    int b = first + y * AROUND + (i + 1) % AROUND;
                    int[] quad = {a, a + AROUND, b, b, a + AROUND, b + AROUND};
                    for (int k = 0; k < 6; k++) {
                        t.add(quad[radius > 0 ? k : 5 - k]);
                    }
                }
            }
        }
        float[] points = new float[p.size()];
        for (int i = 0; i < points.length; i++) {
            points[i] = p.get(i);
        }
        Mesh mesh = Mesh.of(
                "tubes",
                Primitive.triangles(t.stream().mapToInt(Integer::intValue).toArray(), points, null, -1));
        return MeshTopology.of(mesh).welded(mesh);
    }

    /** From joint 0 below to joint 1 above. */
    private static Transfer.Source limb(WeldedSurface surface) {
        Influences.Builder rows = new Influences.Builder(surface.size());
        for (int i = 0; i < surface.size(); i++) {
            float y = Math.clamp(surface.positions()[i * 3 + 1], 0, 1);
            rows.add(0, 1 - y);
            rows.add(1, y);
            rows.endRow();
        }
        BitSet all = new BitSet();
        all.set(0, surface.size());
        return new Transfer.Source(surface, rows.build(), all);
    }

    @Test
    public void aSleeveIsWornOnTheLimbItGoesRoundNotOnTheOneBeside() {
        WeldedSurface arm = tubes(0, 1, 0, 0.1);
        WeldedSurface beside = tubes(0, 1, 0.35, 0.1);
        WeldedSurface sleeve = tubes(0.4, 0.9, 0, 0.13, -0.12);
        Transfer.Source one = limb(arm);
        Transfer.Source other = limb(beside);
        BodyRegion[] upper = {BodyRegion.LEFT_LOWER_ARM, BodyRegion.LEFT_UPPER_ARM};
        BodyRegion[] torso = {BodyRegion.TORSO, BodyRegion.TORSO};
        Map<BodyRegion, WornOn.Cover> covered = WornOn.covered(
                sleeve,
                List.of(one, other),
                List.of(WornOn.regions(one.rows(), upper), WornOn.regions(other.rows(), torso)));
        // The upper half lies under it from 0.5 to 0.9.
        assertThat(covered.get(BodyRegion.LEFT_UPPER_ARM).share()).isCloseTo(0.8, within(0.06));
        assertThat(covered.get(BodyRegion.LEFT_UPPER_ARM).around()).isGreaterThan(0.95);
        assertThat(covered.get(BodyRegion.TORSO).share()).isGreaterThan(0);
        assertThat(covered.get(BodyRegion.TORSO).around()).isLessThan(0.15);
        assertThat(WornOn.guess(covered))
                .containsExactlyInAnyOrder(BodyRegion.LEFT_UPPER_ARM, BodyRegion.LEFT_LOWER_ARM);
        assertThat(WornOn.guess(Map.of())).isEmpty();
    }

    /** Outer and inner layer 3 cm apart have the same weights, and those of the limb below. */
    @Test
    public void layersMoveTogether() {
        WeldedSurface sleeve = tubes(0.2, 0.8, 0, 0.15, -0.12);
        WornTransfer.Result result = WornTransfer.run(sleeve, List.of(limb(tubes(0, 1, 0, 0.1))), 0, 2, Work.QUIET);
        int half = sleeve.size() / 2;
        for (int p = 0; p < half; p++) {
            // Place for place the inner one lies behind the outer.
            assertThat(result.below()[p]).isEqualTo(half + p);
            assertThat(result.below()[half + p]).isEqualTo(-1);
            assertThat(result.taken().matched().get(p)).isTrue();
            assertThat(result.taken().rows().weight(p, 1))
                    .isCloseTo(result.taken().rows().weight(half + p, 1), within(0.02f));
            float y = sleeve.positions()[p * 3 + 1];
            boolean rim = y < 0.3 || y > 0.7;
            assertThat(result.taken().rows().weight(p, 1)).isCloseTo(y, within(rim ? 0.06f : 0.01f));
        }
    }

    /** Nothing is spread where the part lies on the skin. */
    @Test
    public void whatLiesOnTheSkinTakesItsWeightsExactly() {
        WeldedSurface limb = tubes(0, 1, 0, 0.1);
        WornTransfer.Result result = WornTransfer.run(limb, List.of(limb(limb)), 0, 2, Work.QUIET);
        for (int p = 0; p < limb.size(); p++) {
            assertThat(result.taken().rows().weight(p, 1)).isCloseTo(limb.positions()[p * 3 + 1], within(1e-5f));
            assertThat(result.taken().nearest()[p]).isZero();
        }
    }

    @Test
    public void nothingNearGivesNothing() {
        WeldedSurface limb = tubes(0, 1, 0, 0.1);
        Transfer.Source none = new Transfer.Source(limb, limb(limb).rows(), new BitSet());
        assertThat(WornTransfer.run(tubes(0, 1, 0, 0.12), List.of(none), 0, 2, Work.QUIET))
                .isNull();
    }

    @Test
    public void regionsHaveNamesAndEveryRoleHasOne() {
        for (BodyRegion region : BodyRegion.values()) {
            assertThat(BodyRegion.of(region.code())).contains(region);
        }
        assertThat(BodyRegion.of("tail")).isEmpty();
        assertThat(BodyRegion.LEFT_UPPER_ARM.code()).isEqualTo("left-upper-arm");
        for (Role role : Role.values()) {
            String region = BodyRegion.of(role).code();
            assertThat(region.startsWith("left")).isEqualTo(role.side() > 0 && !region.matches("torso|head"));
            assertThat(region.startsWith("right")).isEqualTo(role.side() < 0 && !region.matches("torso|head"));
        }
    }
}
