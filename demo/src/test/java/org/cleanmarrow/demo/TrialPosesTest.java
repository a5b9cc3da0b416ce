package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.skeleton.SetSwing;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Trial poses go where their names say, whatever way up the asset stands. */
public class TrialPosesTest {
    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    @DataProvider
    public Object[][] conventions() {
        return new Object[][] {{"z-up-cm-rh"}, {"y-up-m-rh"}, {"z-up-cm-lh"}, {"y-up-m-lh"}};
    }

    private static Matrix4d[] at(Asset asset, String pose) {
        TrialPose found = TrialPoses.of(asset).stream()
                .filter(p -> p.name().equals(pose))
                .findFirst()
                .orElseThrow();
        return new Rig(asset).at(found.clip(asset), 1).world();
    }

    private static Vector3d place(Asset asset, Matrix4d[] world, String joint) {
        return world[asset.findNode(joint)].getTranslation(new Vector3d());
    }

    private static Vector3d way(Asset asset, Matrix4d[] world, String from, String to) {
        return place(asset, world, to).sub(place(asset, world, from)).normalize();
    }

    @Test(dataProvider = "conventions")
    public void theBodyGoesWhereThePoseSays(String code) throws Refused {
        Conventions c = Conventions.parse(code).orElseThrow();
        Asset pilot = done(FerryPilot.asset(), new Convert(c, true));
        Vector3d up = c.up().vector();
        Vector3d front = c.forward().vector();
        Matrix4d[] raised = at(pilot, "arms-up");
        for (String side : List.of("left", "right")) {
            assertThat(way(pilot, raised, side + "_upper_arm", side + "_forearm")
                            .dot(up))
                    .isGreaterThan(0.95);
        }
        Matrix4d[] sits = at(pilot, "sit");
        assertThat(way(pilot, sits, "left_thigh", "left_shin").dot(front)).isGreaterThan(0.98);
        assertThat(way(pilot, sits, "left_shin", "left_foot").dot(up)).isLessThan(-0.98);
        Matrix4d[] rest = new Rig(pilot).rest().world();
        double before = way(pilot, rest, "hips", "head").dot(front);
        assertThat(way(pilot, at(pilot, "bow"), "hips", "head").dot(front)).isGreaterThan(before + 0.4);
        Matrix4d[] crossed = at(pilot, "arms-crossed");
        Vector3d left = c.left();
        assertThat(way(pilot, crossed, "left_forearm", "left_hand").dot(left)).isLessThan(-0.8);
        assertThat(way(pilot, crossed, "right_forearm", "right_hand").dot(left)).isGreaterThan(0.8);
        for (TrialPose pose : TrialPoses.of(pilot)) {
            Clip clip = pose.clip(pilot);
            Matrix4d[] start = new Rig(pilot).at(clip, 0).world();
            for (int n = 0; n < rest.length; n++) {
                assertThat(start[n].equals(rest[n], 1e-3)).as(pose.name()).isTrue();
                assertThat(new Rig(pilot).at(clip, 1).world()[n].isFinite()).isTrue();
            }
        }
    }

    @Test
    public void whatIsNoBodyIsBentAndWhatMovesNothingHasNoPoses() {
        assertThat(TrialPoses.of(MarshHeron.asset()))
                .extracting(TrialPose::name)
                .containsExactly(
                        "stride", "crouch", "head-about", "head-down", "wings-up", "wings-down", "wings-spread");
        // Nothing in a random figure tells what it is.
        assertThat(TrialPoses.of(RandomAssets.of(3)))
                .extracting(TrialPose::name)
                .containsExactly("bend-side", "bend-front", "twist-all");
        assertThat(TrialPoses.of(LiftBridge.asset())).isEmpty();
    }

    /** Wings go up on both sides at once and the body stays. */
    @Test
    public void aBirdsWingsBeatTogether() {
        Asset heron = MarshHeron.asset();
        TrialPose up = TrialPoses.of(heron).stream()
                .filter(p -> p.name().equals("wings-up"))
                .findFirst()
                .orElseThrow();
        var rest = new Rig(heron).rest().world();
        var posed = new Rig(heron).at(up.clip(heron), 1).world();
        var axis = heron.conventions().up().vector();
        for (String side : new String[] {"left", "right"}) {
            int tip = heron.findNode(side + "_wing_3");
            double rise = posed[tip].getTranslation(new org.joml.Vector3d()).dot(axis)
                    - rest[tip].getTranslation(new org.joml.Vector3d()).dot(axis);
            assertThat(rise * heron.conventions().metresPerUnit()).isGreaterThan(0.02);
        }
        int head = heron.findNode("head");
        assertThat(posed[head].equals(rest[head], 1e-9)).isTrue();
    }

    @Test
    public void aSweepTurnsOneJointBetweenItsLimitsWhichAreKeptWithIt() throws Refused {
        Asset heron = MarshHeron.asset();
        int n = heron.skins().getFirst().joints()[2];
        String joint = heron.nodeRef(n);
        Asset limited = done(heron, new SetSwing(joint, SetSwing.Axis.Z, -15, 68));
        assertThat(Swing.of(limited.nodes().get(n))).contains(new Swing(2, -15, 68));
        Clip sweep = TrialPoses.sweep(limited, n, 2, -15, 68).clip(limited);
        for (var stop : Map.of(0.0, -15.0, 1.0, 68.0, 0.5, 26.5).entrySet()) {
            var turned = new Rig(limited).at(sweep, stop.getKey()).rotation(n);
            var by = heron.nodes()
                    .get(n)
                    .local()
                    .rotationQuaternion()
                    .conjugate()
                    .mul(turned);
            assertThat(Math.toDegrees(2 * Math.atan2(by.z, by.w))).isCloseTo(stop.getValue(), within(0.01));
        }
        assertThatThrownBy(() -> done(heron, new SetSwing(joint, SetSwing.Axis.X, 20, -20)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("lesser");
    }
}
