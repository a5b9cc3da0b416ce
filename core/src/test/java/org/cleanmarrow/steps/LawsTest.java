package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.LongStream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What must hold for every asset: these steps move nothing by more than 1e-4 of its size. */
public class LawsTest {
    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 24).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    private static Asset still(Asset before, Step step, double share) throws Refused {
        Asset after = step.apply(before, Work.QUIET).asset();
        Motion motion = MotionProbe.compare(before, after, Work.QUIET);
        assertThat(motion.sameTopology()).isTrue();
        assertThat(motion.largestMetres()).as("%s in %s", step, motion.clip()).isLessThan(share * size(before));
        return after;
    }

    @Test(dataProvider = "seeds")
    public void convertThereAndBackMovesNothing(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Axis up = Axis.values()[(int) (seed % 6)];
        Axis forward = Axis.values()[(up.dimension() + 1 + (int) (seed % 2)) % 3];
        for (Handedness hand : Handedness.values()) {
            Conventions to = new Conventions(0.0254, up, forward, hand);
            Asset there = still(asset, new Convert(to, false), 1e-6);
            assertThat(there.conventions()).isEqualTo(to);
            still(there, new Convert(Conventions.GLTF, false), 1e-6);
        }
    }

    @Test(dataProvider = "seeds")
    public void freezeMovesNothingAndLeavesNodesAtZeroAndOne(long seed) throws Refused {
        Asset frozen = still(RandomAssets.of(seed), new FreezeNodes(), 1e-4);
        boolean[] joint = frozen.jointFlags();
        for (int n = 0; n < joint.length; n++) {
            Local local = frozen.nodes().get(n).local();
            assertThat(local.scale()).containsExactly(1, 1, 1);
            if (!joint[n]) {
                assertThat(local.rotation()).as(frozen.nodes().get(n).name()).containsExactly(0, 0, 0, 1);
            }
        }
        // Folding again finds nothing to fold.
        assertThat(new FreezeNodes().apply(frozen, Work.QUIET).counts())
                .containsEntry(Message.of("count.nodes.frozen"), 0L);
    }

    @Test(dataProvider = "seeds")
    public void rootMovesNothingAndStandsAboveAll(long seed) throws Refused {
        Asset rooted = still(RandomAssets.of(seed), new AddRoot("root"), 1e-4);
        assertThat(AddRoot.hasCleanRoot(rooted)).isTrue();
        assertThat(Skeletons.tops(rooted)).hasSize(1);
        int root = rooted.findNode("root");
        assertThat(rooted.skins())
                .allSatisfy(s -> assertThat(s.indexOfNode(root)).isNotNegative());
    }

    @Test(dataProvider = "seeds")
    public void trimRemovesWhatBearsNothingAndMovesNothing(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed, 60, 12);
        Asset trimmed = still(asset, new TrimEnds(), 1e-9);
        assertThat(trimmed.nodes().size()).isLessThan(asset.nodes().size());
        assertThat(Skeletons.idleEnds(trimmed).isEmpty()).isTrue();
        assertThat(Skeletons.bearing(trimmed).cardinality())
                .isEqualTo(Skeletons.bearing(asset).cardinality());
    }

    @Test(dataProvider = "seeds")
    public void normaliseAndLimitMoveNothingWhereAllIsWell(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        still(asset, new NormaliseWeights(""), 1e-6);
        assertThat(new LimitInfluences("", 4, 0).apply(asset, Work.QUIET).asset())
                .isSameAs(asset);
    }

    @Test(dataProvider = "seeds")
    public void oneAfterTheOtherTheyReachTheTarget(long seed) throws Refused {
        Target target = Target.named("z-up-cm-lh").orElseThrow();
        Asset asset = RandomAssets.of(seed);
        Asset done = still(asset, new AddRoot("root"), 1e-4);
        done = still(done, new Convert(target.conventions(), true), 1e-4);
        done = still(done, new TrimEnds(), 1e-9);
        assertThat(MotionProbe.compare(asset, done, Work.QUIET).largestMetres()).isLessThan(2e-4 * size(asset));
        assertThat(Checks.run(done, target, Work.QUIET))
                .noneMatch(f ->
                        List.of("axes", "node-transform", "root", "end-joints").contains(f.check()));
    }

    /** Winding and bitangent sign turn round with handedness (glTF 2.0, 3.7.2.1: the front is counter-clockwise). */
    @Test
    public void mirroringTurnsWindingAndTangentsRound() throws Refused {
        Asset asset = RandomAssets.of(2);
        Asset mirrored = new Convert(Conventions.parse("y-up-m-lh").orElseThrow(), false)
                .apply(asset, Work.QUIET)
                .asset();
        var before = asset.meshes().getFirst().primitives().getFirst();
        var after = mirrored.meshes().getFirst().primitives().getFirst();
        assertThat(after.indices()[1]).isEqualTo(before.indices()[2]);
        assertThat(after.tangents()[3]).isEqualTo(-before.tangents()[3]);
        assertThat(after.vertexCount()).isEqualTo(before.vertexCount());
    }

    private static Asset withGroup(Asset asset, Vector3d scale) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(0, nodes.get(0).withLocal(Local.of(new Vector3d(), new Quaterniond(), scale)));
        return asset.withNodes(nodes);
    }

    @Test
    public void unevenScaleAboveJointsIsRefusedWithItsShear() {
        Asset uneven = withGroup(RandomAssets.of(2), new Vector3d(1, 2, 1));
        assertThatThrownBy(() -> new FreezeNodes().apply(uneven, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("group")
                .hasMessageContaining("shear of 1.");
    }

    @Test
    public void mirrorScaleAboveJointsIsFoldedWithWindingRight() throws Refused {
        for (long seed = 0; seed < 8; seed++) {
            Asset mirrored = withGroup(RandomAssets.of(seed), new Vector3d(-3, 3, 3));
            Asset frozen = still(mirrored, new FreezeNodes(), 1e-4);
            assertThat(frozen.nodes().get(0).local().scale()).containsExactly(1, 1, 1);
        }
    }

    @Test
    public void sharedMeshesThatNeedDifferentFoldsAreCopied() throws Refused {
        Asset asset = RandomAssets.of(7);
        Asset frozen = new FreezeNodes().apply(asset, Work.QUIET).asset();
        // The crate stands once on the ground and once on a joint, turned differently.
        assertThat(frozen.meshes()).hasSize(3);
        assertThat(asset.meshes()).hasSize(2);
    }

    @Test
    public void aTakenRootNameIsRefused() {
        assertThatThrownBy(() -> new AddRoot("joint_0").apply(RandomAssets.of(1), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("joint_0");
    }
}
