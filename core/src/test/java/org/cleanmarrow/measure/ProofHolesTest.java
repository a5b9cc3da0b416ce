package org.cleanmarrow.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What the probe must never call the same, and what it must not call different. */
public class ProofHolesTest {
    private static Motion compare(Asset a, Asset b) {
        return MotionProbe.compare(a, b, Work.QUIET);
    }

    private static Asset withPosition(Asset asset, int number, float value) {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        float[] moved = p.positions().clone();
        moved[number] = value;
        return asset.withMesh(
                0, mesh.withPrimitives(List.of(p.withShape(moved, p.normals(), p.tangents(), p.targets()))));
    }

    @DataProvider
    public Object[][] notNumbers() {
        return new Object[][] {{Float.NaN}, {Float.POSITIVE_INFINITY}, {Float.NEGATIVE_INFINITY}};
    }

    @Test(dataProvider = "notNumbers")
    public void whatIsNotFiniteOnOneSideIsInfinitelyFar(float value) {
        Asset asset = RandomAssets.of(3);
        Asset bad = withPosition(asset, 50, value);
        assertThat(compare(asset, bad).largestMetres()).isInfinite();
        assertThat(compare(bad, asset).largestMetres()).isInfinite();
        assertThat(compare(asset, bad).sound()).isFalse();
        assertThat(compare(asset, bad).differences(1e9))
                .anyMatch(d -> d.toString().contains("infinitely far"));
        assertThat(compare(bad, withPosition(asset, 50, value)).sound()).isTrue();
    }

    @Test
    public void jointsThatAreNotFiniteAreInfinitelyFarToo() {
        Asset bare = withoutMeshes(RandomAssets.of(3));
        Node joint = bare.nodes().get(1);
        List<Node> nodes = new ArrayList<>(bare.nodes());
        nodes.set(
                1,
                joint.withLocal(new Local(
                        new float[] {Float.NaN, 0, 0},
                        joint.local().rotation(),
                        joint.local().scale(),
                        null)));
        assertThat(compare(bare, bare.withNodes(nodes)).largestMetres()).isInfinite();
    }

    private static Asset withoutMeshes(Asset asset) {
        return asset.withNodes(
                        asset.nodes().stream().map(n -> n.withMesh(-1, -1)).toList())
                .withMeshes(List.of());
    }

    @Test
    public void everyKindOfLossRenameDoublingAndReorderingIsADifference() {
        Asset asset = RandomAssets.of(5);
        assertThat(compare(asset, RandomAssets.of(5)).differences(0)).isEmpty();
        List<Clip> clips = asset.clips();
        List<Clip> doubled = new ArrayList<>(clips);
        doubled.add(clips.getFirst());
        List<Clip> turned = new ArrayList<>(clips);
        Collections.reverse(turned);
        assertDiffers(asset, asset.withClips(clips.subList(0, 1)), "clip");
        assertDiffers(asset, asset.withClips(doubled), "clip step is only in the second");
        assertDiffers(asset, asset.withClips(turned), "another order");
        assertDiffers(asset, asset.mapClips(c -> c.withName(c.name() + "_2")), "clip linear is only in the first");
        List<Mesh> swapped = new ArrayList<>(asset.meshes());
        Collections.reverse(swapped);
        assertDiffers(
                asset,
                asset.withMeshes(swapped)
                        .withNodes(asset.nodes().stream()
                                .map(n -> n.mesh() < 0 ? n : n.withMesh(1 - n.mesh(), n.skin()))
                                .toList()),
                "meshes come in another order");
        assertDiffers(asset, renamed(asset, "joint_1", "wrist"), "joint joint_1 is only in the first");
        Mesh figure = asset.meshes().getFirst();
        assertDiffers(asset, asset.withMesh(0, figure.withName("body")), "mesh figure is called body");
        Mesh fewer = new Mesh(
                figure.name(),
                figure.primitives().stream()
                        .map(p -> p.withShape(
                                p.positions(),
                                p.normals(),
                                p.tangents(),
                                p.targets().subList(0, 1)))
                        .toList(),
                new float[] {0.25f},
                List.of("wide"),
                Passthrough.NONE);
        assertDiffers(asset, asset.withMesh(0, fewer), "morph target tall of mesh figure is only in the first");
        Primitive p = figure.primitives().getFirst();
        assertDiffers(
                asset, asset.withMesh(0, figure.withPrimitives(List.of(p.withAttributes(List.of())))), "no TEXCOORD_0");
    }

    /** The same triangles the other way round are no other ones; the first that is another is named with its corners. */
    @Test
    public void theFirstTriangleThatIsAnotherIsNamed() {
        Asset asset = RandomAssets.of(3);
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        int[] corners = p.triangleCorners().clone();
        int[] turned = corners.clone();
        turned[0] = corners[1];
        turned[1] = corners[2];
        turned[2] = corners[0];
        int third = corners[8];
        turned[8] = corners[11];
        turned[11] = third;
        Asset other = asset.withMesh(0, mesh.withPrimitives(List.of(p.withIndices(Primitive.Mode.TRIANGLES, turned))));
        assertThat(MotionProbe.compare(asset, other, Work.QUIET)
                        .topology()
                        .orElseThrow()
                        .toString())
                .contains("number 2 first, with the vertices " + corners[6] + " " + corners[7] + " " + third
                        + " against " + corners[6] + " " + corners[7] + " " + turned[8]);
    }

    private static void assertDiffers(Asset a, Asset b, String says) {
        Motion motion = compare(a, b);
        assertThat(motion.sound()).as(says).isFalse();
        assertThat(motion.differences(1e9)).anyMatch(d -> d.toString().contains(says));
    }

    private static Asset renamed(Asset asset, String from, String to) {
        return asset.withNodes(asset.nodes().stream()
                .map(n -> n.name().equals(from) ? n.withName(to) : n)
                .toList());
    }

    /** A target that no clip raises can still be spoilt. */
    @Test
    public void aMorphTargetThatNothingRaisesIsLookedAt() {
        Asset asset = RandomAssets.of(5).withClips(List.of());
        Mesh figure = asset.meshes().getFirst();
        Primitive p = figure.primitives().getFirst();
        List<MorphTarget> targets = new ArrayList<>(p.targets());
        float[] spoilt = targets.get(1).positions().clone();
        spoilt[30] += 1;
        targets.set(1, new MorphTarget(spoilt, null, null, List.of()));
        Asset other = asset.withMesh(
                0, figure.withPrimitives(List.of(p.withShape(p.positions(), p.normals(), p.tangents(), targets))));
        assertThat(compare(asset, other).vertex()).isEqualTo(10);
    }

    /** Two crates of the same make under other names cannot be told apart, and no pair of them may be guessed. */
    @Test
    public void renamedPartsArePairedOnlyWhereOneIsOfThatMake() {
        Asset two = crates("a", "b", 0, 5);
        Motion motion = compare(two, crates("c", "d", 5, 0));
        assertThat(motion.unmatched()).hasSize(4);
        assertThat(motion.differences(1)).hasSize(4);
        // One alone is the same whatever it is called, and said to be renamed.
        Motion one = compare(crates("a", "b", 0, 5), crates("a", "d", 0, 5));
        assertThat(one.largestMetres()).isZero();
        assertThat(one.differences(1)).map(Message::toString).containsExactly("mesh b is called d in the second");
    }

    private static Asset crates(String first, String second, float x, float z) {
        int[] corners = {0, 1, 2};
        float[] p = {x, 0, 0, x + 1, 0, 0, x, 1, 0};
        float[] q = {z, 0, 0, z + 1, 0, 0, z, 1, 0};
        List<Node> nodes = List.of(
                Node.group("at_" + first, Local.IDENTITY).withMesh(0, -1),
                Node.group("at_" + second, Local.IDENTITY).withMesh(1, -1));
        return Asset.of(
                "crates",
                Conventions.GLTF,
                nodes,
                List.of(
                        Mesh.of(first, Primitive.triangles(corners, p, null, -1)),
                        Mesh.of(second, Primitive.triangles(corners, q, null, -1))),
                List.of(),
                List.of());
    }

    @Test
    public void onlyWhatIsDrawnCounts() {
        Asset plain = one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 7, 7, 7}, 0, 1, 2);
        assertThat(compare(plain, one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 9, 9, 9}, 0, 1, 2))
                        .differences(0))
                .isEmpty();
        // Left out altogether the numbers shift, and still the same triangles are drawn.
        assertThat(compare(plain, one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, 0, 1, 2))
                        .differences(0))
                .isEmpty();
        assertThat(compare(plain, one(new float[] {5, 5, 5, 0, 0, 0, 1, 0, 0, 0, 1, 0}, 1, 2, 3))
                        .differences(0))
                .isEmpty();
        Motion other = compare(plain, one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 7, 7, 7}, 0, 1, 3));
        assertThat(other.largestMetres()).isGreaterThan(9);
        Motion more = compare(plain, one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0}, 0, 1, 2, 2, 1, 3));
        assertThat(more.topology().toString()).contains("nearest");
        // The corner at 1, 1 from the diagonal of the triangle that both have.
        assertThat(more.largestMetres()).isCloseTo(Math.sqrt(0.5), within(1e-6));
        assertThat(compare(plain, one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 7, 7, 7}, 0, 2, 1))
                        .differences(1))
                .map(Message::toString)
                .containsExactly("1 triangles of mesh part show their other side");
    }

    private static Asset one(float[] p, int... corners) {
        return Asset.of(
                "one",
                Conventions.GLTF,
                List.of(Node.group("part", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("part", Primitive.triangles(corners, p, null, -1))),
                List.of(),
                List.of());
    }

    private static Asset moving(Sampler.Interpolation how, float[] times, float... heights) {
        float[] values = new float[heights.length * 3];
        for (int k = 0; k < heights.length; k++) {
            values[k * 3 + 1] = heights[k];
        }
        Sampler sampler = new Sampler(how, times, values, 3, Storage.FLOAT);
        return one(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, 0, 1, 2)
                .withClips(List.of(new Clip(
                        "jump",
                        List.of(new Channel(0, Channel.Path.TRANSLATION, sampler, "", Passthrough.NONE)),
                        30,
                        false,
                        true,
                        Passthrough.NONE)));
    }

    /** A baked step is two keys as near as numbers go; between them nothing is seen. */
    @Test
    public void aStepThatWasBakedIsNoMotion() {
        float t = 1.2345f;
        Asset step = moving(Sampler.Interpolation.STEP, new float[] {0, t, 2}, 0, 3, 3);
        for (float before : new float[] {Math.nextDown(t), t - 1e-5f}) {
            Asset baked = moving(Sampler.Interpolation.LINEAR, new float[] {0, before, t, 2}, 0, 0, 3, 3);
            assertThat(compare(step, baked).differences(0))
                    .as("key at " + before)
                    .isEmpty();
        }
        // The key of one side an ulp late, as after a change of rate.
        Asset late = moving(Sampler.Interpolation.STEP, new float[] {0, Math.nextUp(t), 2}, 0, 3, 3);
        assertThat(compare(step, late).differences(0)).isEmpty();
        // A frame late is seen.
        Asset frame = moving(Sampler.Interpolation.STEP, new float[] {0, t + 1 / 30f, 2}, 0, 3, 3);
        assertThat(compare(step, frame).largestMetres()).isEqualTo(3);
    }

    /** One key of ten thousand, between any evenly thinned samples, on a mesh too heavy to be posed at all of them. */
    @Test
    public void motionBetweenSamplesIsFound() {
        int keys = 10_000;
        float[] times = new float[keys];
        for (int k = 0; k < keys; k++) {
            times[k] = k / 30f;
        }
        float[] still = new float[keys];
        float[] twitch = still.clone();
        twitch[7777] = 0.5f;
        Asset a = heavy(moving(Sampler.Interpolation.LINEAR, times, still));
        Asset b = heavy(moving(Sampler.Interpolation.LINEAR, times, twitch));
        Motion motion = compare(a, b);
        assertThat(motion.largestMetres()).isEqualTo(0.5);
        assertThat(motion.seconds()).isCloseTo(7777 / 30.0, within(1e-4));
        assertThat(motion.moments()).isLessThan(keys);
    }

    private static Asset heavy(Asset asset) {
        int count = 20_001;
        float[] p = new float[count * 3];
        int[] corners = new int[count];
        for (int v = 0; v < count; v++) {
            p[v * 3] = v % 100;
            p[v * 3 + 2] = v / 100f;
            corners[v] = v;
        }
        return asset.withMesh(0, Mesh.of("part", Primitive.triangles(corners, p, null, -1)));
    }

    /** A curve that bulges to either side of a line meets it in the middle. */
    @Test
    public void aCurveThatCrossesALineHalfWayIsFound() {
        float[] times = {0, 2};
        Sampler curve = new Sampler(
                Sampler.Interpolation.CUBICSPLINE,
                times,
                new float[] {0, 0, 0, 0, 0, 0, 0, 5, 0, 0, 5, 0, 0, 0, 0, 0, 0, 0},
                3,
                Storage.FLOAT);
        Asset line = moving(Sampler.Interpolation.LINEAR, times, 0, 0);
        Clip clip = line.clips().getFirst();
        Asset bent = line.withClips(
                List.of(clip.withChannels(List.of(clip.channels().getFirst().withTrack(curve)))));
        // glTF 2.0, appendix C: 2 (t3 - 2t2 + t) 5 + 2 (t3 - t2) 5 = 10 (2t3 - 3t2 + t), at most 0.9623 at 0.2113.
        assertThat(compare(line, bent).largestMetres()).isCloseTo(0.9623, within(0.005));
    }

    /** Readers of formats without names call the clip as the file. */
    @Test
    public void clipsCalledAsTheirFilesAreCompared() {
        Asset a = moving(Sampler.Interpolation.LINEAR, new float[] {0, 1}, 0, 1);
        Asset b = moving(Sampler.Interpolation.LINEAR, new float[] {0, 1}, 0, 2);
        Asset first = a.withName("take_1").mapClips(c -> c.withName("take_1"));
        Asset second = b.withName("take_2").mapClips(c -> c.withName("take_2"));
        assertThat(compare(first, second).largestMetres()).isEqualTo(1);
        assertThat(compare(first, first.withName("again").mapClips(c -> c.withName("again")))
                        .differences(0))
                .isEmpty();
    }

    /** A file of motion alone that stands at one point still has a size: that of what it does. */
    @Test
    public void theToleranceDoesNotVanishWithoutAMesh() {
        Asset bare = withoutMeshes(RandomAssets.of(3));
        assertThat(compare(bare, bare.withName("again")).toleranceMetres()).isPositive();
    }

    /** A socket moves no vertex, and is still where a prop is held. */
    @Test
    public void aJointThatMovesNothingIsLookedAt() {
        Asset asset = RandomAssets.of(7);
        int joint = asset.findNode("joint_2");
        List<Node> nodes = new ArrayList<>(asset.nodes());
        Mesh figure = asset.meshes().getFirst();
        Primitive p = figure.primitives().getFirst();
        int[] still = new int[p.influences().joints().length];
        Asset bound = asset.withMesh(
                0,
                figure.withPrimitives(List.of(p.withInfluences(new org.cleanmarrow.model.Influences(
                        p.influences().offsets(), still, p.influences().weights())))));
        Local local = nodes.get(joint).local();
        float[] t = local.translation().clone();
        t[0] += 0.3f;
        nodes.set(joint, nodes.get(joint).withLocal(new Local(t, local.rotation(), local.scale(), null)));
        Motion motion = compare(bound, bound.withNodes(nodes));
        assertThat(motion.jointsMetres()).isPositive();
        assertThat(motion.sound()).isFalse();
        assertThat(Arrays.asList(motion.joint())).allMatch(j -> j.startsWith("joint_"));
    }
}
