package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.BitSet;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.InsertJoint;
import org.cleanmarrow.steps.skeleton.MirrorLimb;
import org.cleanmarrow.steps.skeleton.PivotToHinge;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Joints put in, limbs mirrored, hinges found: nothing moves, and what is made lies where it should. */
public class LimbsAndHingesTest {
    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    private static double moved(Asset a, Asset b) {
        return MotionProbe.compare(a, b, Work.QUIET).largestMetres();
    }

    private static double near(Asset asset) {
        return 1e-4 * RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    @DataProvider
    public Object[][] seeds() {
        return new Object[][] {{1, 6}, {2, 9}, {3, 14}, {4, 23}};
    }

    /** A rig whose joints all say that they are on the left, below a root in the middle. */
    private static Asset leftSided(int seed, int joints) throws Refused {
        Asset asset = done(done(RandomAssets.of(seed, joints, 60), new FreezeNodes()), new AddRoot("root"));
        Map<String, String> names = new TreeMap<>();
        for (int j = 0; j < joints; j++) {
            names.put("joint_" + j, "left_" + j);
        }
        return done(asset, new RenameMany(Rename.Kind.NODE, names));
    }

    @Test(dataProvider = "seeds")
    public void aMirroredLimbMovesAsInAMirror(int seed, int joints) throws Refused {
        Asset asset = leftSided(seed, joints);
        int root = asset.findNode("root");
        int first = asset.nodes().get(root).children()[0];
        Asset out = done(asset, new MirrorLimb(asset.nodeRef(first), true));
        assertThat(out.nodes().size()).isGreaterThan(asset.nodes().size());
        assertThat(moved(asset, out)).isLessThan(near(asset));
        assertThat(out.skins().getFirst().joints().length)
                .isEqualTo(asset.skins().getFirst().joints().length
                        + out.nodes().size()
                        - asset.nodes().size());
        Vector3d left = asset.conventions().left();
        for (Clip clip : out.clips()) {
            double t = (clip.start() + clip.end() * 3) / 4;
            Matrix4d[] world = new Rig(out).at(clip, t).world();
            for (int n = asset.nodes().size(); n < out.nodes().size(); n++) {
                String twin = out.nodes().get(n).name().replace("right_", "left_");
                Vector3d there = world[out.findNode(twin)].getTranslation(new Vector3d());
                there.fma(-2 * there.dot(left), left);
                assertThat(there.distance(world[n].getTranslation(new Vector3d())))
                        .as("%s of %s", twin, clip.name())
                        .isLessThan(Math.max(1e-4, near(asset)) * 10);
            }
        }
        assertThatThrownBy(() -> done(out, new MirrorLimb(asset.nodeRef(first), true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("right_");
        assertThatThrownBy(() -> done(asset, new MirrorLimb("root", true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("side");
    }

    @Test(dataProvider = "seeds")
    public void aJointPutInStandsOnTheBone(int seed, int joints) throws Refused {
        Asset asset = leftSided(seed, joints);
        int child = asset.nodes()
                .get(asset.nodes().get(asset.findNode("root")).children()[0])
                .children()[0];
        Asset out = done(asset, new InsertJoint(asset.nodeRef(child), "between", 0.25));
        assertThat(moved(asset, out)).isLessThan(near(asset));
        Matrix4d[] world = new Rig(out).rest().world();
        Vector3d above = world[asset.parents()[child]].getTranslation(new Vector3d());
        Vector3d below = world[child].getTranslation(new Vector3d());
        Vector3d at = world[out.findNode("between")].getTranslation(new Vector3d());
        assertThat(at.distance(above.lerp(below, 0.25))).isLessThan(1e-5);
        assertThat(out.parents()[child]).isEqualTo(out.findNode("between"));
        for (Step bad : new Step[] {
            new InsertJoint(asset.nodeRef(child), "between", 1.5), new InsertJoint(asset.nodeRef(child), "root", 0.5)
        }) {
            assertThatThrownBy(() -> done(asset, bad)).isInstanceOf(Refused.class);
        }
    }

    @Test
    public void moreJointsThanTheTargetTakesAreABlocker() throws Refused {
        Asset asset = leftSided(4, 23);
        Conventions c = asset.conventions();
        assertThat(Checks.run(asset, Target.of(c).with(Budget.INFLUENCES, 8).with(Budget.JOINTS, 20), Work.QUIET))
                .filteredOn(f -> f.check().equals("joint-budget"))
                .singleElement()
                .extracting(Finding::message)
                .asString()
                .contains("24 joints", "takes 20");
        assertThat(Checks.run(asset, Target.of(c).with(Budget.INFLUENCES, 8).with(Budget.JOINTS, 24), Work.QUIET))
                .noneMatch(f -> f.check().equals("joint-budget"));
    }

    @Test
    public void theTubeIsAHingeWhoseAxisTheJointTakes() throws Refused {
        Asset asset = WeightLawsTest.tube(1);
        BitSet barrel = new BitSet();
        barrel.set(0, asset.meshes().getFirst().vertexCount() - 1);
        VertexSet chosen = VertexSet.chosen(asset.meshes().getFirst(), barrel);
        Asset out = done(asset, new PivotToHinge("left_b", "tube", chosen));
        assertThat(moved(asset, out)).isLessThan(near(asset));
        Matrix4d world = new Rig(out).rest().world()[out.findNode("left_b")];
        assertThat(world.getTranslation(new Vector3d()).distance(0, 1, 0)).isLessThan(1e-4);
        assertThat(Math.abs(world.transformDirection(new Vector3d(1, 0, 0)).y)).isGreaterThan(0.99999);
    }

    @Test
    public void verticesThatAreNoBarrelAreRefused() throws Refused {
        Asset asset = leftSided(1, 6);
        String mesh = asset.meshRef(0);
        BitSet few = new BitSet();
        few.set(0, 4);
        VertexSet chosen = VertexSet.chosen(asset.meshes().getFirst(), few);
        assertThatThrownBy(() -> done(asset, new PivotToHinge("left_0", mesh, chosen)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("cylinder");
    }
}
