package org.cleanmarrow.convention;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import org.joml.Matrix3d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

public class ConventionTest {
    /** All 48: six up axes, four forward axes each, two hands. */
    static List<Conventions> all() {
        List<Conventions> out = new ArrayList<>();
        for (Axis up : Axis.values()) {
            for (Axis forward : Axis.values()) {
                if (up.dimension() != forward.dimension()) {
                    out.add(new Conventions(1, up, forward, Handedness.RIGHT));
                    out.add(new Conventions(0.01, up, forward, Handedness.LEFT));
                }
            }
        }
        return out;
    }

    private static Conventions named(String name) {
        return Conventions.parse(name).orElseThrow();
    }

    /** glTF 2.0, section 3.4: +Y up, +Z forward, -X right. */
    @Test
    public void theStandardsLeftIsPlusX() {
        assertThat(Conventions.GLTF.left()).isEqualTo(new Vector3d(1, 0, 0));
    }

    /** Turning Y-up into Z-up is +90 degrees about X (common practice; COLLADA 1.4.1, asset/up_axis, Z_UP). */
    @Test
    public void yUpToZUpIsNinetyDegreesAboutX() {
        Matrix3d turn =
                Conversion.between(named("y-up-m-rh"), named("z-up-m-rh")).turn();
        assertThat(turn.equals(new Matrix3d().rotationX(Math.PI / 2), 1e-15)).isTrue();
    }

    /** The international inch is 0.0254 m and the foot 0.3048 m exactly (NIST Special Publication 811, appendix B.8). */
    @Test
    public void unitsAreThePublishedOnes() {
        assertThat(Conversion.between(named("y-up-in-rh"), Conventions.GLTF).scale())
                .isEqualTo(0.0254);
        assertThat(Conversion.between(named("y-up-ft-rh"), named("y-up-in-rh")).scale())
                .isCloseTo(12, within(1e-12));
        assertThat(Conversion.between(named("y-up-m-rh"), named("y-up-cm-rh")).scale())
                .isCloseTo(100, within(1e-12));
    }

    @Test
    public void everyPairIsARotationOrAMirrorAndComesBack() {
        assertThat(all()).hasSize(48).doesNotHaveDuplicates();
        for (Conventions a : all()) {
            for (Conventions b : all()) {
                Conversion there = Conversion.between(a, b);
                Conversion back = Conversion.between(b, a);
                boolean sameHand = a.handedness() == b.handedness();
                assertThat(there.turn().determinant()).isEqualTo(sameHand ? 1.0 : -1.0);
                assertThat(there.mirrors()).isEqualTo(!sameHand);
                assertThat(new Matrix3d(back.turn()).mul(there.turn()).equals(new Matrix3d(), 1e-15))
                        .isTrue();
                assertThat(there.turn().transform(a.up().vector()).distance(b.up().vector()))
                        .isZero();
                assertThat(there.turn()
                                .transform(a.forward().vector())
                                .distance(b.forward().vector()))
                        .isZero();
                assertThat(there.turn().transform(a.left()).distance(b.left())).isZero();
            }
        }
    }

    @Test
    public void namesAreReadBack() {
        for (Conventions c : all()) {
            assertThat(Conventions.parse(c.code())).as(c.code()).contains(c);
        }
        assertThat(named("z-up-cm-lh").up()).isEqualTo(Axis.Z);
        assertThat(named("z-up-cm-lh-fwd-x").forward()).isEqualTo(Axis.X);
        assertThat(Conventions.parse("z-up-cm")).isEmpty();
        assertThat(Conventions.parse("y-up-ell-rh")).isEmpty();
        assertThat(Conventions.parse("y-up-m-rh-fwd-y")).isEmpty();
    }

    @Test
    public void nonsenseIsRefused() {
        assertThatThrownBy(() -> new Conventions(0, Axis.Y, Axis.Z, Handedness.RIGHT))
                .hasMessageContaining("above zero");
        assertThatThrownBy(() -> new Conventions(1, Axis.Y, Axis.MINUS_Y, Handedness.RIGHT))
                .hasMessageContaining("different axes");
    }

    @Test
    public void lengthsAreSaidInAUnitThatFits() {
        assertThat(Units.say(0.000002)).isEqualTo("0.002 mm");
        assertThat(Units.say(0.148)).isEqualTo("14.8 cm");
        assertThat(Units.say(1.75)).isEqualTo("1.75 m");
        assertThat(Units.say(175)).isEqualTo("175 m");
    }
}
