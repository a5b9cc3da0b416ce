package org.cleanmarrow.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

public class MotionProbeTest {
    private static Asset withVertexMoved(Asset asset, int mesh, int vertex, float by) {
        Mesh old = asset.meshes().get(mesh);
        Primitive p = old.primitives().getFirst();
        float[] moved = p.positions().clone();
        moved[vertex * 3 + 1] += by;
        return asset.withMesh(
                mesh, old.withPrimitives(List.of(p.withShape(moved, p.normals(), p.tangents(), p.targets()))));
    }

    @Test
    public void findsTheOneVertexThatMoved() {
        Asset asset = RandomAssets.of(3);
        Motion motion = MotionProbe.compare(asset, withVertexMoved(asset, 0, 17, 0.25f), Work.QUIET);
        assertThat(motion.sameTopology()).isTrue();
        assertThat(motion.mesh()).isEqualTo("figure");
        assertThat(motion.vertex()).isEqualTo(17);
        // Moved by a quarter in the mesh's own space: the skin's linear part says how far that is in the world.
        double most = 0;
        for (org.cleanmarrow.model.Clip clip : asset.clips()) {
            for (double t : Moments.of(clip, clip)) {
                most = Math.max(
                        most,
                        movedBy(
                                asset,
                                new org.cleanmarrow.pose.Rig(asset).at(clip, t).world(),
                                17,
                                0.25));
            }
        }
        most = Math.max(
                most, movedBy(asset, new org.cleanmarrow.pose.Rig(asset).rest().world(), 17, 0.25));
        assertThat(motion.largestMetres()).isCloseTo(most, within(1e-5 * most));
        assertThat(motion.meanMetres()).isBetween(0.0, motion.largestMetres() / 50);
    }

    /** glTF 2.0, 3.7.3.3, in double and straight from the equation: how far a step along y in bind space goes. */
    private static double movedBy(Asset asset, org.joml.Matrix4d[] world, int vertex, double by) {
        var skin = asset.skins().getFirst();
        var rows = asset.meshes().getFirst().primitives().getFirst().influences();
        org.joml.Vector3d sum = new org.joml.Vector3d();
        for (int i = rows.offsets()[vertex]; i < rows.offsets()[vertex + 1]; i++) {
            int j = rows.joints()[i];
            org.joml.Matrix4d m = new org.joml.Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
            sum.add(m.transformDirection(new org.joml.Vector3d(0, by, 0)).mul(rows.weights()[i]));
        }
        return sum.length();
    }

    /** How far a node moves its mesh is found from the two world transforms, in double. */
    @Test
    public void whatCannotPartByMoreThanRoundingIsToldByItsBoundAndWhatCanIsMeasured() {
        boolean byBound = false;
        boolean measured = false;
        for (int seed = 1; seed <= 8; seed++) {
            Asset asset = RandomAssets.of(seed);
            double rounding = MotionProbe.compare(asset, asset.withClips(List.copyOf(asset.clips())), Work.QUIET)
                    .toleranceMetres();
            for (double by : new double[] {rounding / 16, rounding * 16}) {
                int node = asset.findNode("crate");
                Local local = asset.nodes().get(node).local();
                float[] place = local.translation().clone();
                place[1] += (float) by;
                List<Node> nodes = new ArrayList<>(asset.nodes());
                nodes.set(
                        node,
                        asset.nodes().get(node).withLocal(new Local(place, local.rotation(), local.scale(), null)));
                Asset other = asset.withNodes(nodes);
                double moved = at(asset, node).distance(at(other, node));
                Motion motion = MotionProbe.compare(asset, other, Work.QUIET);
                assertThat(motion.largestMetres()).isCloseTo(moved, within(rounding));
                byBound |= motion.vertex() < 0 && motion.largestMetres() > 0;
                measured |= motion.vertex() >= 0 && moved > 2 * rounding;
                assertThat(motion.vertex() >= 0 || moved < rounding).isTrue();
                assertThat(motion.sound()).isEqualTo(motion.largestMetres() <= rounding);
            }
        }
        assertThat(measured).isTrue();
        assertThat(byBound).isTrue();
    }

    private static org.joml.Vector3d at(Asset asset, int node) {
        return new org.cleanmarrow.pose.Rig(asset).rest().world()[node].getTranslation(new org.joml.Vector3d());
    }

    @Test
    public void findsTheClipAndTheMoment() {
        Asset asset = RandomAssets.of(9);
        Clip linear = asset.clips().get(1);
        Channel turned = linear.channels().stream()
                .filter(c -> c.path() == Channel.Path.ROTATION)
                .findFirst()
                .orElseThrow();
        float[] values = turned.sampler().values().clone();
        int third = 2 * 4;
        values[third] = -values[third];
        List<Channel> channels = new ArrayList<>(linear.channels());
        channels.set(
                linear.channels().indexOf(turned),
                turned.withTrack(turned.sampler().withValues(values)));
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(1, linear.withChannels(channels));
        Motion motion = MotionProbe.compare(asset, asset.withClips(clips), Work.QUIET);
        assertThat(motion.clip()).isEqualTo("linear");
        assertThat(motion.seconds()).isCloseTo(turned.sampler().times()[2], within(0.13));
    }

    /**
     * Points that a matrix turned, with what moves them turned back, stand where they stood: told by the bound. With one point off
     * they do not.
     */
    @Test
    public void pointsInOtherAxesAreTheSameButForWhatIsReallyMoved() throws Exception {
        Asset asset = withoutTargets(RandomAssets.of(3));
        Asset turned = new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), true)
                .apply(asset, Work.QUIET)
                .asset();
        Motion same = MotionProbe.compare(asset, turned, Work.QUIET);
        assertThat(same.vertex()).as("told by its bound").isEqualTo(-1);
        assertThat(same.largestMetres()).isPositive().isLessThan(same.toleranceMetres());
        Motion off = MotionProbe.compare(asset, withVertexMoved(turned, 0, 17, 2), Work.QUIET);
        assertThat(off.vertex()).isEqualTo(17);
        assertThat(off.largestMetres()).isBetween(0.002, 0.2);
    }

    private static Asset withoutTargets(Asset asset) {
        Asset out = asset;
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            List<Primitive> bare = mesh.primitives().stream()
                    .map(p -> p.withShape(p.positions(), p.normals(), p.tangents(), List.of()))
                    .toList();
            out = out.withMesh(m, new Mesh(mesh.name(), bare, null, List.of(), mesh.carried()));
        }
        List<Clip> still = out.clips().stream()
                .map(c -> c.withChannels(c.channels().stream()
                        .filter(x -> x.path() != Channel.Path.WEIGHTS)
                        .toList()))
                .toList();
        return out.withClips(still);
    }

    @Test
    public void theOrderOfJointsDoesNotCountButWhomTheRowsFollow() {
        Asset asset = RandomAssets.of(3);
        Skin skin = asset.skins().getFirst();
        int many = skin.joints().length;
        int[] joints = new int[many];
        float[] binds = new float[16 * many];
        int[] positions = new int[many];
        for (int j = 0; j < many; j++) {
            positions[j] = many - 1 - j;
            joints[positions[j]] = skin.joints()[j];
            System.arraycopy(skin.inverseBinds(), 16 * j, binds, 16 * positions[j], 16);
        }
        List<Skin> skins = new ArrayList<>(asset.skins());
        skins.set(0, new Skin(skin.name(), joints, binds, skin.skeleton(), skin.carried()));
        Asset wrong = asset.withSkins(skins);
        Asset right = wrong.withMesh(0, asset.meshes().getFirst().withJoints(positions));
        assertThat(MotionProbe.compare(asset, right, Work.QUIET).largestMetres())
                .isZero();
        assertThat(MotionProbe.compare(asset, wrong, Work.QUIET).largestMetres())
                .isGreaterThan(0.01);
    }

    @Test
    public void theSameTwiceIsExactlyNothing() {
        Motion motion = MotionProbe.compare(RandomAssets.of(6), RandomAssets.of(6), Work.QUIET);
        assertThat(motion.largestMetres()).isZero();
        assertThat(motion.meanMetres()).isZero();
        assertThat(motion.vertex()).isEqualTo(-1);
        assertThat(motion.moments()).isGreaterThan(20);
    }

    @Test
    public void differentCountsAreComparedByNearestAndSaidSo() {
        Asset asset = RandomAssets.of(4);
        Primitive p = asset.meshes().get(1).primitives().getFirst();
        float[] one = java.util.Arrays.copyOf(p.positions(), p.positions().length + 3);
        System.arraycopy(p.positions(), 0, one, p.positions().length, 3);
        int[] corners = java.util.Arrays.copyOf(p.indices(), p.indices().length + 3);
        java.util.Arrays.fill(corners, p.indices().length, corners.length, p.vertexCount());
        Mesh more = Mesh.of("crate", Primitive.triangles(corners, one, null, -1));
        Motion motion = MotionProbe.compare(asset, asset.withMesh(1, more), Work.QUIET);
        assertThat(motion.topology().toString()).contains("crate").contains("nearest point");
        // The vertex that was added lies on another, so nothing is far from its nearest.
        assertThat(motion.largestMetres()).isZero();
    }

    @Test
    public void whatOnlyOneSideHasIsNamed() {
        Asset asset = RandomAssets.of(4);
        Motion motion = MotionProbe.compare(asset, asset.withClips(asset.clips().subList(0, 2)), Work.QUIET);
        assertThat(motion.unmatched()).map(Message::toString).containsExactly("clip cubic is only in the first");
    }

    @Test
    public void canBeCancelled() {
        Work cancelled = new Work() {
            @Override
            public void at(double share, String doing) {}

            @Override
            public boolean cancelled() {
                return true;
            }
        };
        assertThatThrownBy(() -> MotionProbe.compare(RandomAssets.of(1), RandomAssets.of(2), cancelled))
                .isInstanceOf(CancellationException.class);
    }

    /** Where only weights differ the probe looks at the changed vertices alone, and must find the same. */
    @Test
    public void lookingOnlyAtChangedWeightsFindsTheSame() throws Exception {
        for (long seed = 1; seed < 9; seed++) {
            Asset before = RandomAssets.of(seed);
            java.util.BitSet some = new java.util.BitSet();
            some.set((int) seed, (int) seed + 5);
            Asset after = new org.cleanmarrow.steps.skin.SetWeight(
                            "figure", "joint_1", org.cleanmarrow.work.VertexSet.numbers(some), 0.7)
                    .apply(before, Work.QUIET)
                    .asset();
            // A copy of the node list is another object, and so the probe takes the long way; trial poses, which the
            // short way looks at too, are given to it as clips, of which it sees every frame.
            List<Clip> clips = new ArrayList<>(before.clips());
            TrialPoses.of(before).forEach(pose -> clips.add(pose.clip(before)));
            Asset longWay = after.withNodes(new ArrayList<>(after.nodes()));
            Motion quick = MotionProbe.compare(before, after, Work.QUIET);
            Motion whole = MotionProbe.compare(before, longWay, Work.QUIET);
            Motion posed = MotionProbe.compare(before.withClips(clips), longWay.withClips(clips), Work.QUIET);
            assertThat(quick.largestMetres())
                    .isPositive()
                    .isGreaterThanOrEqualTo(whole.largestMetres())
                    .isLessThanOrEqualTo(posed.largestMetres());
            if (before.findClip(quick.clip()) >= 0) {
                assertThat(quick.largestMetres()).isEqualTo(whole.largestMetres());
                assertThat(quick.vertex()).isEqualTo(whole.vertex());
                assertThat(quick.clip()).isEqualTo(whole.clip());
            }
        }
    }

    /** A file of motion alone has no vertex to look at, so its joints are looked at. */
    @Test
    public void jointsAreComparedWhereThereIsNoMesh() throws Exception {
        Asset whole = RandomAssets.of(3);
        Asset bare = whole.withNodes(
                        whole.nodes().stream().map(n -> n.withMesh(-1, -1)).toList())
                .withMeshes(java.util.List.of());
        assertThat(MotionProbe.compare(bare, bare.withName("again"), Work.QUIET).largestMetres())
                .isZero();
        java.util.List<org.cleanmarrow.model.Node> moved = new java.util.ArrayList<>(bare.nodes());
        int joint = bare.findNode("joint_0");
        boolean still =
                bare.clips().stream().flatMap(c -> c.channels().stream()).noneMatch(c -> c.node() == joint);
        var local = moved.get(joint).local();
        float[] t = local.translation().clone();
        t[1] += 0.5f;
        moved.set(
                joint,
                moved.get(joint).withLocal(new org.cleanmarrow.model.Local(t, local.rotation(), local.scale(), null)));
        Motion motion = MotionProbe.compare(bare, bare.withNodes(moved), Work.QUIET);
        double scale = new org.cleanmarrow.pose.Rig(bare)
                .rest()
                .world()[bare.parents()[joint]]
                .getScale(new org.joml.Vector3d())
                .x;
        assertThat(motion.largestMetres()).isCloseTo(0.5 * scale, org.assertj.core.data.Percentage.withPercentage(0.1));
        assertThat(motion.mesh()).startsWith("joint_");
        assertThat(still || motion.clip().isEmpty()).isTrue();
    }
}
