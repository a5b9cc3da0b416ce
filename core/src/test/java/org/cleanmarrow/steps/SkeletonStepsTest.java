package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.MergeJoint;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.Rebind;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.RigParts;
import org.cleanmarrow.steps.skeleton.RootMotion;
import org.cleanmarrow.steps.skeleton.SplitJoint;
import org.cleanmarrow.steps.skeleton.StaticTwin;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Hierarchies are changed and nothing moves: laws on random skeletons of 6 to 240 joints, by the probe. */
public class SkeletonStepsTest {
    private static Change done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET);
    }

    private static double moved(Asset a, Asset b) {
        return MotionProbe.compare(a, b, Work.QUIET).largestMetres();
    }

    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    @DataProvider
    public Object[][] sizes() {
        return new Object[][] {{1, 6}, {2, 9}, {3, 14}, {4, 23}, {5, 60}, {6, 240}};
    }

    private static Asset asset(int seed, int joints) throws Refused {
        return done(done(RandomAssets.of(seed, joints, 60), new FreezeNodes()).asset(), new AddRoot("root"))
                .asset();
    }

    @Test(dataProvider = "sizes")
    public void trimmedReparentedAndTurnedSkeletonsMoveTheSame(int seed, int joints) throws Refused {
        Asset asset = asset(seed, joints);
        double near = 1e-4 * size(asset);
        Asset trimmed = done(asset, new TrimIdle("")).asset();
        assertThat(trimmed.nodes().size()).isLessThanOrEqualTo(asset.nodes().size());
        assertThat(moved(asset, trimmed)).as("trim").isLessThan(near);
        if (joints > 100) {
            return;
        }
        for (OrientJoints.Along along : OrientJoints.Along.values()) {
            Asset turned = done(asset, new OrientJoints("*", along)).asset();
            assertThat(moved(asset, turned)).as(along.name()).isLessThan(near);
        }
        String last = "joint_" + (joints - 1);
        Asset hung = done(asset, new Reparent(last, Optional.of("root"), true)).asset();
        assertThat(hung.parents()[hung.findNode(last)]).isEqualTo(hung.findNode("root"));
        assertThat(moved(asset, hung)).as("reparent").isLessThan(near);
        Asset back = done(
                        hung,
                        new Reparent(last, Optional.of(asset.nodeRef(asset.parents()[asset.findNode(last)])), true))
                .asset();
        assertThat(moved(asset, back)).as("there and back").isLessThan(near);
    }

    /** A node of a control rig that no skin knows, between two joints: it goes, and the joint below moves as it did. */
    @Test(dataProvider = "sizes")
    public void aControlBetweenJointsGoesAndItsMotionStays(int seed, int joints) throws Refused {
        if (joints > 60) {
            return;
        }
        Asset asset = asset(seed, joints);
        boolean[] joint = asset.jointFlags();
        int below = Skeletons.bearing(asset).stream()
                .filter(n -> asset.parents()[n] >= 0 && joint[asset.parents()[n]])
                .findFirst()
                .orElseThrow();
        int above = asset.parents()[below];
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(
                above,
                nodes.get(above)
                        .withChildren(Arrays.stream(nodes.get(above).children())
                                .map(c -> c == below ? nodes.size() : c)
                                .toArray()));
        Local tilted = Local.of(new Vector3d(0.1, 0, 0), new Quaterniond().rotateX(0.3), new Vector3d(1));
        nodes.add(Node.group("control", tilted).withChildren(below));
        int control = nodes.size() - 1;
        float[] turns = {0, 0, 0, 1, 0, 0, (float) Math.sin(0.4), (float) Math.cos(0.4)};
        Asset rigged = asset.withNodes(nodes).mapClips(c -> {
            float[] times = {(float) c.start(), (float) c.end()};
            Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
            List<Channel> all = new ArrayList<>(c.channels());
            all.add(new Channel(control, Channel.Path.ROTATION, keys, "", Passthrough.NONE));
            return c.seconds() > 0 ? c.withChannels(all) : c;
        });
        assertThat(new TrimIdle("control").plan(rigged))
                .filteredOn(r -> r.node() == control)
                .allMatch(r -> r.why() == TrimIdle.Why.KEPT)
                .hasSize(1);
        Asset trimmed = done(rigged, new TrimIdle("")).asset();
        assertThat(trimmed.findNode("control")).isNegative();
        assertThat(moved(rigged, asset)).isGreaterThan(1e-3 * size(asset));
        assertThat(moved(rigged, trimmed)).isLessThan(1e-4 * size(asset));
    }

    @Test(dataProvider = "sizes")
    public void travelGoesToTheRootAndBackWithoutTheWorldNoticing(int seed, int joints) throws Refused {
        if (joints > 60) {
            return;
        }
        Asset asset = asset(seed, joints);
        Asset there = done(asset, new RootMotion("linear, step", RootMotion.Way.TO_ROOT, true, seed % 2 == 0, 0))
                .asset();
        assertThat(moved(asset, there)).isLessThan(1e-5 * Math.max(1, size(asset)));
        Asset back = done(there, new RootMotion("*", RootMotion.Way.BACK, true, false, 0))
                .asset();
        assertThat(moved(asset, back)).isLessThan(2e-5 * Math.max(1, size(asset)));
        int root = back.findNode("root");
        assertThat(back.clips().stream().flatMap(c -> c.channels().stream()).noneMatch(c -> c.node() == root))
                .isTrue();
    }

    /** A walk in a full circle: the heading goes on past half a turn, and the hips keep no travel. */
    @Test
    public void headingIsContinuousThroughAFullTurn() throws Refused {
        List<Node> nodes = List.of(
                Node.group("root", Local.IDENTITY, 1),
                Node.group("hips", Local.at(0, 1, 0), 2),
                Node.group("head", Local.at(0, 0.6, 0)));
        Matrix4d[] binds = {new Matrix4d(), new Matrix4d().translation(0, -1, 0), new Matrix4d().translation(0, -1.6, 0)
        };
        Skin skin = new Skin("walker", new int[] {0, 1, 2}, Skin.pack(binds), 0, Passthrough.NONE);
        int frames = 49;
        float[] times = new float[frames];
        float[] at = new float[frames * 3];
        float[] turns = new float[frames * 4];
        for (int k = 0; k < frames; k++) {
            times[k] = k / 24f;
            double a = 2.5 * Math.PI * k / (frames - 1);
            at[k * 3] = (float) (3 * Math.sin(a));
            at[k * 3 + 1] = (float) (1 + 0.03 * Math.sin(8 * a));
            at[k * 3 + 2] = (float) (3 * Math.cos(a) - 3);
            Quaterniond q = new Quaterniond().rotationY(a + Math.PI / 2).rotateX(0.2 * Math.sin(4 * a));
            turns[k * 4] = (float) q.x;
            turns[k * 4 + 1] = (float) q.y;
            turns[k * 4 + 2] = (float) q.z;
            turns[k * 4 + 3] = (float) q.w;
        }
        Clip walk = new Clip(
                "circle",
                List.of(
                        new Channel(1, Channel.Path.TRANSLATION, sampler(times, at, 3), "", Passthrough.NONE),
                        new Channel(1, Channel.Path.ROTATION, sampler(times, turns, 4), "", Passthrough.NONE)),
                24,
                false,
                true,
                Passthrough.NONE);
        Asset asset = Asset.of("walker", Conventions.GLTF, nodes, List.of(), List.of(skin), List.of(walk));
        Change change = done(asset, new RootMotion("*", RootMotion.Way.TO_ROOT, true, false, 0));
        Asset out = change.asset();
        assertThat(change.notes().getFirst().toString()).contains("travels");
        for (double t = 0; t < 2; t += 0.017) {
            Matrix4d[] was = new Rig(asset).at(walk, t).world();
            Matrix4d[] is = new Rig(out).at(out.clips().getFirst(), t).world();
            for (int n = 1; n < 3; n++) {
                double off = is[n].getTranslation(new Vector3d()).distance(was[n].getTranslation(new Vector3d()));
                assertThat(off).as("%s at %s", n, t).isLessThan(6e-5);
            }
        }
        Channel heading = out.clips().getFirst().channels().stream()
                .filter(c -> c.node() == 0 && c.path() == Channel.Path.ROTATION)
                .findFirst()
                .orElseThrow();
        float[] q = heading.sampler().values();
        double sum = 0;
        for (int k = 1; k < heading.sampler().times().length; k++) {
            Quaterniond step = new Quaterniond(q[k * 4], q[k * 4 + 1], q[k * 4 + 2], q[k * 4 + 3])
                    .mul(new Quaterniond(q[k * 4 - 4], q[k * 4 - 3], q[k * 4 - 2], q[k * 4 - 1]).conjugate());
            double angle = 2 * Math.atan2(step.y, step.w);
            assertThat(Math.abs(angle)).isLessThan(0.3);
            assertThat(Math.hypot(step.x, step.z)).isLessThan(1e-5);
            sum += angle;
        }
        assertThat(sum).isCloseTo(2.5 * Math.PI, within(0.01));
        // Below the root nothing travels over the ground any more.
        for (double t = 0; t < 2; t += 0.13) {
            Matrix4d[] world = new Rig(out).at(out.clips().getFirst(), t).world();
            Vector3d hips = world[1].getTranslation(new Vector3d());
            Vector3d root = world[0].getTranslation(new Vector3d());
            assertThat(Math.hypot(hips.x - root.x, hips.z - root.z)).isLessThan(1e-3);
            assertThat(root.y).isCloseTo(0, within(1e-6));
        }
    }

    private static Sampler sampler(float[] times, float[] values, int width) {
        return new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
    }

    @Test
    public void whatCannotGoIsNamedWithItsShearAndNothingIsChanged() throws Refused {
        Asset asset = asset(3, 14);
        int bearing = org.cleanmarrow.query.Skeletons.bearing(asset).stream()
                .filter(n ->
                        asset.parents()[n] >= 0 && asset.nodes().get(n).name().startsWith("joint"))
                .max()
                .orElseThrow();
        // A joint in between with an uneven scale, that bears nothing.
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int parent = asset.parents()[bearing];
        int added = nodes.size();
        nodes.add(Node.group(
                "uneven", Local.of(new Vector3d(0.1, 0.2, 0), new Quaterniond(), new Vector3d(1, 2, 1)), bearing));
        nodes.set(
                parent,
                nodes.get(parent)
                        .withChildren(Arrays.stream(nodes.get(parent).children())
                                .map(c -> c == bearing ? added : c)
                                .toArray()));
        Skin skin = asset.skins().getFirst();
        int[] joints = Arrays.copyOf(skin.joints(), skin.joints().length + 1);
        joints[joints.length - 1] = added;
        float[] binds = Arrays.copyOf(skin.inverseBinds(), joints.length * 16);
        for (int i = 0; i < 16; i += 5) {
            binds[binds.length - 16 + i] = 1;
        }
        Asset uneven = asset.withNodes(nodes).withSkins(List.of(skin.with(joints, binds, skin.skeleton())));
        List<TrimIdle.Row> plan = new TrimIdle("").plan(uneven);
        TrimIdle.Row row =
                plan.stream().filter(r -> r.node() == added).findFirst().orElseThrow();
        assertThat(row.goes()).isFalse();
        assertThat(row.why()).isEqualTo(TrimIdle.Why.SHEARS);
        assertThat(row.shear()).isGreaterThan(1e-3);
        Asset out = done(uneven, new TrimIdle("")).asset();
        assertThat(out.findNode("uneven")).isNotNegative();
        assertThat(moved(uneven, out)).isLessThan(1e-4 * size(asset));
        String below = asset.nodeRef(bearing);
        assertThatThrownBy(() -> done(uneven, new Reparent(below, Optional.of("root"), true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining(below)
                .hasMessageContaining("shear");
        assertThatThrownBy(() -> done(asset, new Reparent("root", Optional.of(below), true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("below itself");
    }

    @Test(dataProvider = "sizes")
    public void restPosesComeAndGoWhileClipsStay(int seed, int joints) throws Refused {
        if (joints > 60) {
            return;
        }
        Asset asset = asset(seed, joints);
        Clip linear = asset.clips().get(asset.findClip("linear"));
        int frame = (linear.firstFrame() + linear.lastFrame()) / 2;
        Asset posed = done(asset, new RestFrom(Optional.of("linear"), frame)).asset();
        // Every clip is as it was; only rest is elsewhere, and there it is the frame.
        Asset clipsOnly = posed.withNodes(posed.nodes());
        Matrix4d[] is = new Rig(clipsOnly).rest().world();
        Matrix4d[] wanted = new Rig(asset).at(linear, frame / linear.rate()).world();
        for (int n = 0; n < is.length; n++) {
            assertThat(is[n].getTranslation(new Vector3d()).distance(wanted[n].getTranslation(new Vector3d())))
                    .isLessThan(1e-4 * Math.max(1, size(asset)));
        }
        for (Clip clip : asset.clips()) {
            double t = (clip.start() * 2 + clip.end()) / 3;
            Matrix4d[] a = new Rig(asset).at(clip, t).world();
            Matrix4d[] b = new Rig(posed)
                    .at(posed.clips().get(posed.findClip(clip.name())), t)
                    .world();
            for (int n = 0; n < a.length; n++) {
                assertThat(b[n].equals(a[n], 1e-4 * Math.max(1, size(asset)))).isTrue();
            }
        }
        Asset back = done(posed, new RestFrom(Optional.empty(), 0)).asset();
        assertThat(moved(asset, back)).as("back to bind").isLessThan(1e-4 * Math.max(1, size(asset)));
        Asset bound = done(posed, new Rebind()).asset();
        Matrix4d[] world = new Rig(bound).rest().world();
        Skin skin = bound.skins().getFirst();
        for (int j = 0; j < skin.joints().length; j++) {
            assertThat(new Matrix4d(world[skin.joints()[j]])
                            .mul(skin.inverseBind(j))
                            .equals(new Matrix4d(), 1e-4))
                    .isTrue();
        }
        // At rest the skin is where it was.
        Asset a = posed.withClips(List.of());
        assertThat(moved(a, bound.withClips(List.of()))).isLessThan(1e-5 * Math.max(1, size(asset)));
    }

    @Test
    public void aMergedJointLeavesItsWeightsToTheOneAbove() throws Refused {
        Asset asset = asset(4, 23);
        int n = org.cleanmarrow.query.Skeletons.bearing(asset).stream()
                .filter(j -> asset.jointFlags()[asset.parents()[j]] && asset.parents()[j] != asset.findNode("root"))
                .filter(j -> asset.nodes().get(j).mesh() < 0)
                .findFirst()
                .orElseThrow();
        String joint = asset.nodeRef(n);
        Change change = done(asset, new MergeJoint(joint));
        Asset out = change.asset();
        assertThat(out.findNode(joint)).isEqualTo(-1);
        assertThat(change.counts().get(Message.of("count.vertices.that.follow.the.joint.above.now")))
                .isPositive();
        var rows = out.meshes().getFirst().primitives().getFirst().influences();
        var were = asset.meshes().getFirst().primitives().getFirst().influences();
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(rows.sum(v)).isCloseTo(were.sum(v), within(1e-6));
        }
        // What hung on it hangs on the one above, and moves as before.
        for (int child : asset.nodes().get(n).children()) {
            String name = asset.nodes().get(child).name();
            Matrix4d a = new Rig(asset).rest().world()[child];
            Matrix4d b = new Rig(out).rest().world()[out.findNode(name)];
            assertThat(b.equals(a, 1e-4)).isTrue();
        }
        assertThatThrownBy(() -> done(asset, new MergeJoint("root"))).isInstanceOf(Refused.class);
    }

    @Test(dataProvider = "sizes")
    public void splitBonesRiggedPartsAndStillTwinsMoveNothing(int seed, int joints) throws Refused {
        if (joints > 60) {
            return;
        }
        Asset asset = asset(seed, joints);
        double near = 1e-4 * Math.max(1, size(asset));
        boolean[] flags = asset.jointFlags();
        int child = java.util.stream.IntStream.range(0, flags.length)
                .filter(n -> flags[n] && asset.parents()[n] >= 0 && flags[asset.parents()[n]])
                .filter(n -> !asset.nodes().get(asset.parents()[n]).name().equals("root"))
                .findFirst()
                .orElseThrow();
        String parent = asset.nodes().get(asset.parents()[child]).name();
        for (boolean weights : new boolean[] {true, false}) {
            Asset split = done(asset, new SplitJoint(asset.nodeRef(child), 4, weights))
                    .asset();
            assertThat(moved(asset, split)).as("split").isLessThan(near);
            assertThat(split.findNode(parent + "_3")).isNotNegative();
            assertThat(split.parents()[split.findNode(asset.nodes().get(child).name())])
                    .isEqualTo(split.findNode(parent + "_3"));
            var rows = split.meshes().getFirst().primitives().getFirst().influences();
            var were = asset.meshes().getFirst().primitives().getFirst().influences();
            for (int v = 0; v < rows.vertexCount(); v++) {
                assertThat(rows.sum(v)).isCloseTo(were.sum(v), within(1e-6));
            }
        }
        Asset rigged = done(asset, new RigParts("crate, tool")).asset();
        assertThat(rigged.jointFlags()[rigged.findNode("crate")]).isTrue();
        for (Clip clip : asset.clips()) {
            double t = (clip.start() + clip.end()) / 2;
            float[] was = at(asset, "tool", clip.name(), t);
            float[] is = at(rigged, "tool_mesh", clip.name(), t);
            for (int i = 0; i < was.length; i++) {
                assertThat((double) is[i]).isCloseTo(was[i], within(near));
            }
        }
        Asset twin = done(asset, new StaticTwin("figure", "statue")).asset();
        float[] figure = at(asset, "figure", "", 0);
        float[] statue = at(twin, "statue", "linear", 0.5);
        for (int i = 0; i < figure.length; i++) {
            assertThat((double) statue[i]).isCloseTo(figure[i], within(1e-5 * Math.max(1, size(asset))));
        }
        assertThatThrownBy(() -> done(asset, new SplitJoint("root", 2, true))).isInstanceOf(Refused.class);
        assertThatThrownBy(() -> done(asset, new RigParts("figure"))).isInstanceOf(Refused.class);
    }

    private static float[] at(Asset asset, String node, String clip, double seconds) {
        int n = asset.findNode(node);
        var place = new org.cleanmarrow.pose.MeshPlace(
                n, asset.nodes().get(n).mesh(), asset.nodes().get(n).skin());
        Rig rig = new Rig(asset);
        int number = asset.findClip(clip);
        return new org.cleanmarrow.pose.Deformer(asset)
                .positions(place, number < 0 ? rig.rest() : rig.at(asset.clips().get(number), seconds));
    }
}
