package org.cleanmarrow.reference;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.reference.SkeletonComparison.Kind;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.MatchSkeleton;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.json.JsonMapper;

/** A skeleton that was messed with is put back as a reference has it, and the reference's clips play on it. */
public class ReferenceSkeletonTest {
    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    private static Asset reference(int seed, int joints) throws Refused {
        return done(done(RandomAssets.of(seed, joints, 60), new FreezeNodes()), new AddRoot("root"));
    }

    /** Other names, other parents, other axes, another order and other conventions; it moves as it did. */
    private static Asset messed(Asset asset, int joints) throws Refused {
        Map<String, String> names = new TreeMap<>();
        for (int j = 0; j < joints; j++) {
            names.put("joint_" + j, "bone" + (char) ('a' + j % 26) + j);
        }
        Asset out = done(asset, new OrientJoints("*", OrientJoints.Along.X));
        out = done(out, new Reparent("joint_" + (joints - 1), Optional.of("root"), true));
        List<SkeletonOutline.Joint> backwards =
                new ArrayList<>(SkeletonOutline.of(out).joints()).reversed();
        out = done(out, new MatchSkeleton(new SkeletonOutline(backwards), false, false, true));
        out = done(out, new RenameMany(Rename.Kind.NODE, names));
        return done(out, new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), false));
    }

    @DataProvider
    public Object[][] sizes() {
        return new Object[][] {{11, 6}, {12, 14}, {13, 40}};
    }

    @Test(dataProvider = "sizes")
    public void aMessedSkeletonBecomesTheReferenceAgain(int seed, int joints) throws Refused {
        Asset reference = reference(seed, joints);
        SkeletonOutline outline = SkeletonOutline.of(reference);
        assertThat(SkeletonComparison.of(reference, outline, 1e-9, 1e-4)).isEmpty();
        Asset messed = messed(reference, joints);
        double near = 1e-4
                * RestBox.of(reference).diagonal()
                * reference.conventions().metresPerUnit();
        assertThat(SkeletonComparison.of(messed, outline, near, 0.01))
                .extracting(SkeletonComparison.Row::kind)
                .contains(Kind.MISSING, Kind.EXTRA);

        Map<String, String> map = JointMap.guess(messed, reference);
        Asset named = done(messed, new RenameMany(Rename.Kind.NODE, map));
        assertThat(SkeletonComparison.of(named, outline, near, 0.01))
                .extracting(SkeletonComparison.Row::kind)
                .doesNotContain(Kind.MISSING, Kind.EXTRA, Kind.OFFSET)
                .contains(Kind.ORDER, Kind.AXES);
        Asset matched = done(named, new MatchSkeleton(outline, true, true, true));
        assertThat(SkeletonComparison.of(matched, outline, near, 0.01)).isEmpty();
        assertThat(MotionProbe.compare(named, matched, Work.QUIET).largestMetres())
                .isLessThan(near);

        Asset played = Join.of(matched.withClips(List.of()), motionOnly(reference), Work.QUIET);
        var motion = MotionProbe.compare(reference, played, Work.QUIET);
        assertThat(motion.unmatched()).isEmpty();
        assertThat(motion.largestMetres()).isLessThan(near);
    }

    private static Asset motionOnly(Asset asset) {
        return asset.withNodes(
                        asset.nodes().stream().map(n -> n.withMesh(-1, -1)).toList())
                .withMeshes(List.of());
    }

    @Test
    public void differencesAreSaidInMetresAndDegrees() throws Refused {
        Asset reference = reference(21, 8);
        SkeletonOutline outline = SkeletonOutline.of(reference);
        int n = reference.findNode("joint_7");
        List<Node> nodes = new ArrayList<>(reference.nodes());
        Local local = nodes.get(n).local();
        double metres = reference.conventions().metresPerUnit();
        nodes.set(
                n,
                nodes.get(n)
                        .withLocal(Local.of(
                                local.translationVector(),
                                local.rotationQuaternion().rotateY(Math.toRadians(30)),
                                local.scaleVector())));
        List<SkeletonComparison.Row> turned =
                SkeletonComparison.of(reference.withNodes(nodes), outline, 1e-6 * metres, 0.1);
        assertThat(turned)
                .filteredOn(r -> r.name().equals("joint_7"))
                .singleElement()
                .satisfies(r -> {
                    assertThat(r.kind()).isEqualTo(Kind.AXES);
                    assertThat(r.amount()).isCloseTo(30, within(0.01));
                });
        nodes.set(
                n,
                nodes.get(n)
                        .withLocal(Local.of(
                                local.translationVector().add(0, 0.25, 0),
                                local.rotationQuaternion(),
                                local.scaleVector())));
        double above = reference.nodes().get(reference.parents()[n]).local().scaleVector().y;
        assertThat(SkeletonComparison.of(reference.withNodes(nodes), outline, 1e-6, 0.1))
                .filteredOn(r -> r.name().equals("joint_7") && r.kind() == Kind.OFFSET)
                .singleElement()
                .satisfies(r -> assertThat(r.amount()).isGreaterThan(0.2 * metres * Math.min(1, above)));
    }

    @Test
    public void aReferenceStaysReadableInALedgerAndAWrongOneIsRefused() throws Exception {
        Asset reference = reference(31, 9);
        Step step = new MatchSkeleton(SkeletonOutline.of(reference), true, false, true);
        assertThat(StepCodec.read(StepCodec.write(step), "step 1")).isEqualTo(step);
        for (String bad : List.of(
                "[{\"name\":\"a\"}]",
                "[{\"name\":\"a\",\"parent\":\"\",\"placeMetres\":[0,0],\"axes\":[0,0,0,1]}]",
                "[{\"name\":\"a\",\"parent\":\"\",\"placeMetres\":[0,0,0],\"axes\":[0,0,0,0]}]",
                "\"y-up\"")) {
            var json = JsonMapper.shared().readTree("{\"step\":\"match-skeleton\",\"reference\":" + bad + "}");
            assertThatThrownBy(() -> StepCodec.read(json, "step 1"))
                    .isInstanceOf(BadJson.class)
                    .hasMessageContaining("reference");
        }
        Asset other = done(reference, new RenameMany(Rename.Kind.NODE, Map.of("root", "top")));
        SkeletonOutline strange = new SkeletonOutline(List.of(
                new SkeletonOutline.Joint("somewhere", "", new org.joml.Vector3d(), new org.joml.Quaterniond())));
        assertThatThrownBy(() -> done(other, new MatchSkeleton(strange, true, true, true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("by name");
    }
}
