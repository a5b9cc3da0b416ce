package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.stream.LongStream;
import org.cleanmarrow.kit.Plays;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.BindChannels;
import org.cleanmarrow.steps.motion.BranchClips;
import org.cleanmarrow.steps.motion.DuplicateClip;
import org.cleanmarrow.steps.motion.FitTranslations;
import org.cleanmarrow.steps.motion.HideByScale;
import org.cleanmarrow.steps.motion.HoldClip;
import org.cleanmarrow.steps.motion.JoinClips;
import org.cleanmarrow.steps.motion.MaskClip;
import org.cleanmarrow.steps.motion.MergeClips;
import org.cleanmarrow.steps.motion.RemoveKeys;
import org.cleanmarrow.steps.motion.Resample;
import org.cleanmarrow.steps.motion.Retime;
import org.cleanmarrow.steps.motion.ReverseClip;
import org.cleanmarrow.steps.motion.SmoothClip;
import org.cleanmarrow.steps.motion.SplitClip;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Clips made of clips: slower, backwards, longer, one after the other, together, in part, and hidden by scale. */
public class ClipStepsTest {
    private static final String VISIBLE = "/extensions/KHR_node_visibility/visible";

    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 8).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    private static Clip clip(Asset asset, String name) {
        return asset.clips().get(asset.findClip(name));
    }

    /** What time of the second a time of the first is. */
    private interface Moment {
        double of(double seconds);
    }

    private static void plays(Asset was, Clip a, Asset is, Clip b, double from, double to, Moment moment) {
        for (int i = 0; i <= 40; i++) {
            double t = from + (to - from) * i / 40;
            Plays.alike(was, a, t, is, b, moment.of(t));
        }
    }

    /** A little after each frame but the last, so that nothing lies before a step by rounding. */
    private static void playsOnFrames(Asset was, Clip a, Asset is, Clip b, Moment moment) {
        for (int frame = a.firstFrame(); frame < a.lastFrame(); frame++) {
            double t = frame / 24.0;
            plays(was, a, is, b, t, t, x -> moment.of(x) + 1e-4);
        }
    }

    @Test(dataProvider = "seeds")
    public void aRetimedClipPassesThroughTheSamePosesInAnotherTime(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (String name : List.of("linear", "cubic")) {
            Asset slow = done(asset, new Retime(name, 0.25));
            Clip was = clip(asset, name);
            Clip now = clip(slow, name);
            assertThat(now.rate()).isEqualTo(was.rate());
            assertThat(now.start()).isEqualTo(was.start());
            assertThat(now.seconds()).isCloseTo(4 * was.seconds(), within(1e-6));
            plays(asset, was, slow, now, was.start(), was.end(), t -> was.start() + 4 * (t - was.start()));
            Asset back = done(slow, new Retime(name, 4));
            plays(asset, was, back, clip(back, name), was.start(), was.end(), t -> t);
        }
        for (double bad : new double[] {0, -1, Double.NaN, 1e9}) {
            assertThatThrownBy(() -> done(asset, new Retime("linear", bad))).isInstanceOf(Refused.class);
        }
    }

    @Test(dataProvider = "seeds")
    public void aReversedClipEndsWhereItBeganAndReversedTwiceItIsWhatItWas(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Asset back = done(asset, new ReverseClip("*"));
        Asset twice = done(back, new ReverseClip("*"));
        for (Clip was : asset.clips()) {
            Clip now = clip(back, was.name());
            Clip again = clip(twice, was.name());
            assertThat(now.start()).isEqualTo(was.start());
            assertThat(now.end()).isEqualTo(was.end());
            if (was.name().equals("step")) {
                playsOnFrames(asset, was, back, now, t -> was.start() + was.end() - t);
                playsOnFrames(asset, was, twice, again, t -> t);
            } else {
                plays(asset, was, back, now, was.start(), was.end(), t -> was.start() + was.end() - t);
                plays(asset, was, twice, again, was.start(), was.end(), t -> t);
            }
        }
    }

    @Test(dataProvider = "seeds")
    public void whatIsSplitAndJoinedAgainPlaysAsBefore(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (String name : List.of("step", "linear", "cubic")) {
            Clip was = clip(asset, name);
            for (int gap = 0; gap <= 1; gap++) {
                // With no gap the two halves share a frame; with one the second begins on the next, and all keys lie on
                // frames.
                Asset keyed = gap == 0 ? asset : done(asset, new Resample(name, 24));
                Asset halves = done(keyed, new SplitClip(name, "one 1..5, two " + (5 + gap) + "..10", false));
                Asset joined = done(halves, new JoinClips("one, two", "whole", gap, false));
                assertThat(joined.clips())
                        .extracting(Clip::name)
                        .contains("whole")
                        .doesNotContain("one", "two");
                Clip now = clip(joined, "whole");
                assertThat(now.lastFrame()).isEqualTo(9);
                if (name.equals("step")) {
                    playsOnFrames(keyed, clip(keyed, name), joined, now, t -> t - 1 / 24.0);
                } else {
                    Clip source = clip(keyed, name);
                    plays(keyed, source, joined, now, was.start(), was.end(), t -> t - 1 / 24.0);
                }
            }
        }
    }

    @Test(dataProvider = "seeds")
    public void clipsOfDifferentKindsAreJoinedAndEachPlaysAsItDid(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Asset joined = done(asset, new JoinClips("step, linear, cubic", "all", 3, true));
        assertThat(joined.clips()).hasSize(4);
        Clip all = clip(joined, "all");
        playsOnFrames(asset, clip(asset, "step"), joined, all, t -> t);
        // Each spans frames 1 to 10, so that the next begins on frame 10 + 3.
        Clip linear = clip(asset, "linear");
        plays(asset, linear, joined, all, linear.start(), linear.end(), t -> t + 12 / 24.0);
        for (int frame = 1; frame <= 10; frame++) {
            // Between frames it is linear now.
            plays(asset, clip(asset, "cubic"), joined, all, frame / 24.0, frame / 24.0, t -> t + 1);
        }
        assertThatThrownBy(() -> done(asset, new JoinClips("step", "x", 1, true)))
                .hasMessageContaining("two or more");
        assertThatThrownBy(() -> done(asset, new JoinClips("step, step", "x", 1, true)))
                .hasMessageContaining("twice");
        assertThatThrownBy(() -> done(asset, new JoinClips("step, linear", "cubic", 1, false)))
                .hasMessageContaining("cubic");
        assertThat(done(asset, new JoinClips("step, linear", "step", 1, false)).clips())
                .extracting(Clip::name)
                .containsExactly("step", "cubic");
    }

    @Test(dataProvider = "seeds")
    public void aHeldPoseStandsStillAndTheRestPlaysOn(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (Clip was : asset.clips()) {
            Asset after = done(asset, new HoldClip(was.name(), 6, HoldClip.Where.END));
            Clip longer = clip(after, was.name());
            assertThat(longer.lastFrame()).isEqualTo(was.lastFrame() + 6);
            plays(asset, was, after, longer, was.end(), was.end() + 6 / 24.0, t -> t);
            Asset before = done(asset, new HoldClip(was.name(), 6, HoldClip.Where.START));
            Clip later = clip(before, was.name());
            assertThat(later.lastFrame()).isEqualTo(was.lastFrame() + 6);
            plays(asset, was, before, later, was.start() - 6 / 24.0, was.start(), t -> t + 6 / 24.0);
            if (!was.name().equals("step")) {
                plays(asset, was, after, longer, was.start(), was.end(), t -> t);
                plays(asset, was, before, later, was.start(), was.end(), t -> t + 6 / 24.0);
            }
        }
    }

    @Test(dataProvider = "seeds")
    public void twoMasksOfTheSameJointsShareAClipOutAndMergedTheyAreIt(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Clip was = clip(asset, "linear");
        String joint = asset.nodeRef(was.channels().getFirst().node());
        Asset twins = done(asset, new DuplicateClip("linear", "arm"));
        Asset masked = done(done(twins, new MaskClip("arm", joint, true)), new MaskClip("linear", joint, false));
        List<Channel> both = new ArrayList<>(clip(masked, "arm").channels());
        both.addAll(clip(masked, "linear").channels());
        assertThat(both).containsExactlyInAnyOrderElementsOf(was.channels());
        Asset merged = done(masked, new MergeClips("linear, arm", "linear", false));
        assertThat(merged.clips()).extracting(Clip::name).containsExactly("step", "linear", "cubic");
        plays(asset, was, merged, clip(merged, "linear"), was.start(), was.end(), t -> t);
        assertThatThrownBy(() -> done(asset, new MaskClip("linear", "no_such", true)))
                .hasMessageContaining("no_such");
        assertThatThrownBy(() -> done(asset, new DuplicateClip("linear", "cubic")))
                .hasMessageContaining("cubic");
    }

    @Test(dataProvider = "seeds")
    public void branchesWithTheirOwnClipsPlayTogetherAsTheClipThatWas(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Clip was = clip(asset, "linear");
        int first = was.channels().getFirst().node();
        String joint = asset.nodes().get(first).name();
        Asset parted = done(asset, new BranchClips("linear", joint, false));
        Clip branch = clip(parted, "linear_" + joint);
        List<Channel> all = new ArrayList<>(branch.channels());
        int rest = parted.findClip("linear");
        if (rest >= 0) {
            all.addAll(parted.clips().get(rest).channels());
        }
        assertThat(all).containsExactlyInAnyOrderElementsOf(was.channels());
        int[] parents = asset.parents();
        assertThat(branch.channels()).allMatch(c -> {
            int up = c.node();
            while (up >= 0 && up != first) {
                up = parents[up];
            }
            return up == first;
        });
        Asset kept = done(asset, new BranchClips("linear, cubic", joint, true));
        assertThat(kept.clips()).extracting(Clip::name).contains("linear", "cubic", "linear_" + joint);
        assertThatThrownBy(() -> done(kept, new BranchClips("linear", joint, true)))
                .hasMessageContaining("linear_" + joint);
        assertThatThrownBy(() -> done(asset, new BranchClips("linear", "no_such", true)))
                .hasMessageContaining("no_such");
    }

    /** Noise of 12 hertz on a slow turn: the turn stays, nine tenths of the noise go (4th order: 1 / (1 + (12 / 4)^4) of the power). */
    @Test
    public void noiseGoesFromAClipAndSlowMotionStays() throws Refused {
        Asset asset = RandomAssets.of(3);
        int keys = 121;
        float[] times = new float[keys];
        float[] clean = new float[keys * 3];
        float[] noisy = new float[keys * 3];
        for (int k = 0; k < keys; k++) {
            times[k] = k / 60f;
            clean[k * 3] = (float) Math.sin(Math.PI * k / 60.0);
            noisy[k * 3] = clean[k * 3] + 0.01f * (float) Math.sin(2 * Math.PI * 12 * k / 60.0);
        }
        Sampler way = new Sampler(Sampler.Interpolation.LINEAR, times, noisy, 3, Storage.FLOAT);
        Channel channel = new Channel(1, Channel.Path.TRANSLATION, way, "", Passthrough.NONE);
        Asset bad = asset.withClips(List.of(new Clip("take", List.of(channel), 60, false, true, Passthrough.NONE)));
        float[] out = done(bad, new SmoothClip("take", 4))
                .clips()
                .getFirst()
                .channels()
                .getFirst()
                .sampler()
                .values();
        for (int k = 15; k < keys - 15; k++) {
            assertThat(out[k * 3]).isCloseTo(clean[k * 3], within(0.0015f));
        }
        assertThatThrownBy(() -> done(bad, new SmoothClip("take", 30))).hasMessageContaining("half the rate");
        for (long seed = 0; seed < 4; seed++) {
            Asset any = done(RandomAssets.of(seed), new SmoothClip("*", 5));
            for (Channel c : clip(any, "cubic").channels()) {
                float[] v = c.sampler().values();
                for (int k = 0; k < v.length && c.path() == Channel.Path.ROTATION; k += 4) {
                    assertThat(Math.hypot(Math.hypot(v[k], v[k + 1]), Math.hypot(v[k + 2], v[k + 3])))
                            .isCloseTo(1, within(1e-6));
                }
            }
        }
    }

    @Test
    public void channelsWhoseJointsAreGoneAreGivenOthersByListAndByPrefix() throws Refused {
        Asset asset = RandomAssets.of(4);
        Clip was = clip(asset, "linear");
        Asset bad = asset.mapClips(c -> c.withChannels(c.channels().stream()
                .map(x -> x.path() == Channel.Path.ROTATION || x.path() == Channel.Path.TRANSLATION
                        ? new Channel(-1, x.path(), x.track(), called(asset, x.node()), x.carried())
                        : x)
                .toList()));
        Asset bound = done(bad, new BindChannels(Map.of("knee", "joint_2"), "take:"));
        plays(asset, was, bound, clip(bound, "linear"), was.start(), was.end(), t -> t);
        Asset some = done(bad, new BindChannels(Map.of("take:joint_1", "joint_1"), "nothing"));
        assertThat(clip(some, "linear").channels()).anyMatch(c -> c.node() < 0);
        assertThatThrownBy(() -> done(bad, new BindChannels(Map.of(), "nothing")))
                .hasMessageContaining("names");
        assertThatThrownBy(() -> done(asset, new BindChannels(Map.of(), ""))).isInstanceOf(Refused.class);
    }

    private static String called(Asset asset, int node) {
        return asset.nodeRef(node).equals("joint_2") ? "knee" : "take:" + asset.nodeRef(node);
    }

    private static double reach(Asset asset, Clip clip, int node, double seconds) {
        Matrix4d m = new Rig(asset).at(clip, seconds).world()[node];
        return Math.max(
                Math.max(m.getScale(new Vector3d()).x, m.getScale(new Vector3d()).y), m.getScale(new Vector3d()).z);
    }

    /** glTF 2.0, 3.5.3: a scale of zero on all axes is how an animation hides a node and its mesh. */
    @Test(dataProvider = "seeds")
    public void aPartIsHiddenOnItsFramesAloneAndWhatHangsBelowKeepsItsSize(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (String part : List.of("tool", "crate")) {
            int node = asset.findNode(part);
            Asset hidden = done(asset, new HideByScale(part, "linear", "2..4, 8..8"));
            Clip was = clip(asset, "linear");
            Clip now = clip(hidden, "linear");
            int carrier = now.channels().getLast().node();
            assertThat(hidden.nodes().get(carrier).mesh())
                    .isEqualTo(asset.nodes().get(node).mesh());
            for (int frame = 1; frame <= 10; frame++) {
                boolean gone = frame >= 2 && frame <= 4 || frame == 8;
                double size = reach(hidden, now, carrier, frame / 24.0 + 1e-4);
                if (gone) {
                    assertThat(size).as("frame %d", frame).isZero();
                } else {
                    assertThat(size).isCloseTo(reach(asset, was, node, frame / 24.0 + 1e-4), within(1e-4 * size));
                }
            }
            for (int n = 0; n < asset.nodes().size(); n++) {
                if (n != carrier) {
                    assertThat(reach(hidden, now, n, 3 / 24.0)).isEqualTo(reach(asset, was, n, 3 / 24.0));
                }
            }
            plays(asset, clip(asset, "cubic"), hidden, clip(hidden, "cubic"), 1 / 24.0, 10 / 24.0, t -> t);
        }
    }

    /** A joint that moves more than one part, or has joints below it, gets one beside it that carries the part alone. */
    @Test
    public void aJointsPartIsHiddenByAJointOfItsOwn() throws Refused {
        Asset asset = RandomAssets.of(5);
        Asset hidden = done(asset, new HideByScale("joint_1", "linear", "1..10"));
        int carrier = hidden.findNode("joint_1_shown");
        assertThat(hidden.parents()[carrier]).isEqualTo(hidden.findNode("joint_1"));
        int own = asset.skins().getFirst().indexOfNode(asset.findNode("joint_1"));
        int other = hidden.skins().getFirst().indexOfNode(carrier);
        for (int v = 0; v < 60; v++) {
            assertThat(hidden.meshes()
                            .getFirst()
                            .primitives()
                            .getFirst()
                            .influences()
                            .weight(v, other))
                    .isEqualTo(asset.meshes()
                            .getFirst()
                            .primitives()
                            .getFirst()
                            .influences()
                            .weight(v, own));
        }
        plays(asset, clip(asset, "cubic"), hidden, clip(hidden, "cubic"), 0, 1, t -> t);
        Asset again = done(hidden, new HideByScale("joint_1", "cubic", "3..5"));
        assertThat(again.nodes())
                .as("the same joint carries it in other clips")
                .hasSize(hidden.nodes().size());
        assertThat(clip(again, "cubic").channels().getLast().node()).isEqualTo(carrier);
        assertThatThrownBy(() -> done(asset, new HideByScale("figure", "linear", "1..2")))
                .hasMessageContaining("Bind it to one joint");
        assertThatThrownBy(() -> done(asset, new HideByScale("still", "linear", "1..2")))
                .hasMessageContaining("moves nothing");
        for (String bad : List.of("x", "1..99", "5..2", "-3..2", "1..")) {
            assertThatThrownBy(() -> done(asset, new HideByScale("crate", "linear", bad)))
                    .as(bad)
                    .isInstanceOf(Refused.class);
        }
    }

    private static Asset pointed(Asset asset, int node) {
        String target = "{\"target\":{\"extensions\":{\"KHR_animation_pointer\":{\"pointer\":\"/nodes/" + node + VISIBLE
                + "\"}}}}";
        Sampler keys = new Sampler(
                Sampler.Interpolation.STEP,
                new float[] {1 / 24f, 5 / 24f},
                new float[] {0, 1},
                1,
                Storage.UNSIGNED_BYTE);
        Channel channel = new Channel(-1, Channel.Path.POINTER, keys, "", new Passthrough(target));
        return asset.mapClips(c -> {
            List<Channel> channels = new ArrayList<>(c.channels());
            channels.add(channel);
            return c.withChannels(channels);
        });
    }

    /** Shapes of the extensions KHR_node_visibility and KHR_animation_pointer, by their specifications. */
    @Test
    public void visibilityThatTheFileAnimatesBecomesKeysOfScale() throws Refused {
        Asset bare = RandomAssets.of(2);
        int tool = bare.findNode("tool");
        Asset asset = pointed(bare, tool);
        Asset hidden = done(asset, new HideByScale("tool", "linear", ""));
        Clip now = clip(hidden, "linear");
        assertThat(now.channels()).noneMatch(c -> c.path() == Channel.Path.POINTER);
        int carrier = now.channels().getLast().node();
        assertThat(reach(hidden, now, carrier, 2 / 24.0)).isZero();
        assertThat(reach(hidden, now, carrier, 6 / 24.0)).isPositive();
        assertThatThrownBy(() -> done(bare, new HideByScale("tool", "linear", "")))
                .hasMessageContaining("does not say");
        Asset off = bare.withNodes(bare.nodes().stream()
                .map(n -> n.name().equals("tool")
                        ? n.withCarried(
                                new Passthrough("{\"extensions\":{\"KHR_node_visibility\":{\"visible\":false}}}"))
                        : n)
                .toList());
        Asset both = done(pointed(off, tool), new HideByScale("tool", "linear", ""));
        assertThat(both.nodes()
                        .get(tool)
                        .carried()
                        .extension("KHR_node_visibility")
                        .isMissingNode())
                .as("a node that begins hidden would hide what scale shows")
                .isTrue();
        Asset gone = done(off, new HideByScale("tool", "linear", ""));
        assertThat(reach(gone, clip(gone, "linear"), carrier, 9 / 24.0)).isZero();
    }

    @Test
    public void whatAChannelPointsAtKeepsItsPlaceWhenNodesGoAndGoesWithItsNode() {
        Asset bare = RandomAssets.of(2);
        int tool = bare.findNode("tool");
        Asset asset = pointed(bare, tool);
        BitSet still = new BitSet();
        still.set(bare.findNode("crate"));
        Asset fewer = asset.without(still);
        assertThat(clip(fewer, "linear").channels().getLast().pointer())
                .isEqualTo("/nodes/" + fewer.findNode("tool") + VISIBLE)
                .isNotEqualTo("/nodes/" + tool + VISIBLE);
        BitSet gone = new BitSet();
        gone.set(tool);
        assertThat(clip(asset.without(gone), "linear").channels()).noneMatch(c -> c.path() == Channel.Path.POINTER);
    }

    /** Between the keys that are left a turn goes by spherical linear interpolation: glTF 2.0, appendix C. */
    @Test(dataProvider = "seeds")
    public void whereKeysAreTakenOutItGoesStraightFromTheKeyBeforeToTheKeyAfter(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Clip was = clip(asset, "linear");
        Channel turning = was.channels().stream()
                .filter(c -> c.path() == Channel.Path.ROTATION)
                .findFirst()
                .orElseThrow();
        String joint = asset.nodeRef(turning.node());
        Asset fewer = done(asset, new RemoveKeys("linear", joint, RemoveKeys.What.ROTATION, 3, 5));
        Clip now = clip(fewer, "linear");
        for (int c = 0; c < was.channels().size(); c++) {
            Channel before = was.channels().get(c);
            Channel after = now.channels().get(c);
            if (before != turning) {
                assertThat(after).isSameAs(before);
                continue;
            }
            float[] times = before.sampler().times();
            assertThat(after.sampler().times()).containsExactly(times[0], times[2], times[3]);
            float[] v = before.sampler().values();
            Quaterniond a = new Quaterniond(v[0], v[1], v[2], v[3]);
            Quaterniond b = new Quaterniond(v[8], v[9], v[10], v[11]);
            double[] value = new double[4];
            Keys.sampleRotation(after.sampler(), times[1], value);
            double along = Math.abs(a.slerp(b, 0.5).dot(new Quaterniond(value[0], value[1], value[2], value[3])));
            assertThat(along).isCloseTo(1, within(1e-6));
        }
        plays(asset, was, fewer, now, 7 / 24.0, was.end(), t -> t);
        assertThat(clip(done(asset, new RemoveKeys("linear", joint, RemoveKeys.What.ALL, 8, 99)), "linear")
                        .end())
                .as("as long as before")
                .isEqualTo(was.end());
        for (Step bad : List.of(
                new RemoveKeys("linear", joint, RemoveKeys.What.ROTATION, 2, 3),
                new RemoveKeys("linear", joint, RemoveKeys.What.ROTATION, 5, 3),
                new RemoveKeys("linear", joint, RemoveKeys.What.ROTATION, -9, 99),
                new RemoveKeys("linear", joint, RemoveKeys.What.SCALE, 1, 9),
                new RemoveKeys("linear", "nobody", RemoveKeys.What.ALL, 1, 9),
                new RemoveKeys("none", joint, RemoveKeys.What.ALL, 1, 9))) {
            assertThatThrownBy(() -> done(asset, bad)).as(bad.toString()).isInstanceOf(Refused.class);
        }
    }

    /** A clip made on limbs of other lengths: keys come to the lengths of this skeleton, whatever factor each was off by. */
    @Test(dataProvider = "seeds")
    public void translationsOfJointsThatShouldOnlyTurnAreScaledToTheLengthsOfTheSkeleton(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        boolean[] isJoint = asset.jointFlags();
        int[] parents = asset.parents();
        float[] times = {0, 0.5f, 1};
        List<Channel> channels = new ArrayList<>();
        List<Integer> joints = new ArrayList<>();
        for (int joint : asset.skins().getFirst().joints()) {
            float[] rest = asset.nodes().get(joint).local().translation();
            float by = 0.4f + 0.3f * channels.size();
            float[] values = new float[9];
            for (int i = 0; i < 9; i++) {
                values[i] = rest[i % 3] * by * (1 + 0.01f * (i / 3 - 1));
            }
            Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values, 3, Storage.FLOAT);
            channels.add(new Channel(joint, Channel.Path.TRANSLATION, keys, "", Passthrough.NONE));
            joints.add(joint);
        }
        Asset foreign = asset.mapClips(c -> c.withChannels(channels));
        Asset fitted = done(foreign, new FitTranslations("linear", ""));
        Clip now = clip(fitted, "linear");
        int changed = 0;
        for (int c = 0; c < channels.size(); c++) {
            if (!isJoint[parents[joints.get(c)]]) {
                assertThat(now.channels().get(c)).as("the top may travel").isSameAs(channels.get(c));
                continue;
            }
            changed++;
            Vector3d rest = asset.nodes().get(joints.get(c)).local().translationVector();
            float[] values = now.channels().get(c).sampler().values();
            for (int k = 0; k < 3; k++) {
                Vector3d key = new Vector3d(values[k * 3], values[k * 3 + 1], values[k * 3 + 2]);
                assertThat(key.distance(new Vector3d(rest).mul(1 + 0.01 * (k - 1))))
                        .isLessThan(1e-5 * (1 + rest.length()));
            }
        }
        assertThat(changed).isPositive();
        assertThat(clip(fitted, "cubic")).as("another clip").isSameAs(clip(foreign, "cubic"));
        assertThat(clip(done(fitted, new FitTranslations("linear", "")), "linear"))
                .as("once is enough")
                .isSameAs(now);
        assertThat(clip(done(foreign, new FitTranslations("linear", "*")), "linear"))
                .as("all keep theirs")
                .isSameAs(clip(foreign, "linear"));
    }
}
