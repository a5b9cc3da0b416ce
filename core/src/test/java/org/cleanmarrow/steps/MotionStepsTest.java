package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.LongStream;
import org.cleanmarrow.kit.Plays;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.RemoveLeadIn;
import org.cleanmarrow.steps.motion.Resample;
import org.cleanmarrow.steps.motion.RotationOnly;
import org.cleanmarrow.steps.motion.ShiftClip;
import org.cleanmarrow.steps.motion.SplitClip;
import org.cleanmarrow.steps.motion.TrimClip;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class MotionStepsTest {
    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 12).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    private static Clip clip(Asset asset, String name) {
        return asset.clips().get(asset.findClip(name));
    }

    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    /** Worlds of all nodes of both at times a fixed way apart: the same to the sixth digit. */
    private static void plays(Asset was, Clip a, Asset is, Clip b, double from, double to, double later) {
        for (int i = 0; i <= 60; i++) {
            double t = from + (to - from) * i / 60;
            // Beside a step float32 decides on which side a moment lies.
            if (a.channels().getFirst().sampler().interpolation() == Sampler.Interpolation.STEP && i % 3 == 0) {
                continue;
            }
            Plays.alike(was, a, t, is, b, t + later);
        }
    }

    /** Ranges count both ends: 0..30 is 31 frames, 100 frames at 60 a second last 1.667 s (common practice). */
    @Test
    public void framesAreCountedWithBothEnds() throws Refused {
        Asset asset = done(RandomAssets.of(3), new Resample("linear", 60));
        Clip at60 = clip(asset, "linear");
        // The keys of the file lie from 1/24 s to 10/24 s: its start, and the frames 3 to 25.
        assertThat(at60.rate()).isEqualTo(60);
        assertThat(at60.channels().getFirst().track().times()).hasSize(24);
        Asset trimmed = done(asset, new TrimClip("linear", 5, 15, true));
        Clip ten = clip(trimmed, "linear");
        assertThat(ten.firstFrame()).isZero();
        assertThat(ten.lastFrame()).isEqualTo(10);
        assertThat(ten.seconds()).isCloseTo(10 / 60.0, within(1e-6));
        float[] keys = done(trimmed, new Bake("linear"))
                .clips()
                .get(asset.findClip("linear"))
                .channels()
                .getFirst()
                .track()
                .times();
        assertThat(keys).as("0..10 is 11 frames").hasSize(11);
    }

    @Test(dataProvider = "seeds")
    public void aTrimmedClipMovesAsItDidWhereverItIsCut(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (String name : List.of("step", "linear", "cubic")) {
            Asset cut = done(asset, new TrimClip(name, 2, 9, true));
            Clip was = clip(asset, name);
            assertThat(clip(cut, name).firstFrame()).isZero();
            assertThat(clip(cut, name).lastFrame()).isEqualTo(7);
            plays(asset, was, cut, clip(cut, name), 2 / 24.0, 9 / 24.0, -2 / 24.0);
            Asset there = done(asset, new TrimClip(name, 2, 9, false));
            plays(asset, was, there, clip(there, name), 2 / 24.0, 9 / 24.0, 0);
            // Cutting off nothing changes no key.
            Clip all = clip(done(asset, new TrimClip(name, 1, 10, false)), name);
            for (int c = 0; c < all.channels().size(); c++) {
                assertThat(all.channels().get(c).sampler().values())
                        .isEqualTo(was.channels().get(c).sampler().values());
            }
        }
    }

    @Test(dataProvider = "seeds")
    public void shiftedThereAndBackAndLedInAndOutAgainEveryKeyIsWhatItWas(long seed) throws Refused {
        // On frames to the last bit, as what was baked or resampled is.
        Asset asset = done(RandomAssets.of(seed), new ShiftClip("*", 5));
        same(asset, done(done(asset, new ShiftClip("*", 7)), new ShiftClip("*", -7)));
        Asset led = done(asset, new LeadIn("*", 12));
        same(asset, done(led, new RemoveLeadIn("*", 12)));
        for (Clip clip : led.clips()) {
            Clip was = clip(asset, clip.name());
            assertThat(clip.lastFrame() - clip.firstFrame()).isEqualTo(was.lastFrame() - was.firstFrame() + 12);
            Matrix4d[] rest = new Rig(led).rest().world();
            Matrix4d[] first = new Rig(led).at(clip, clip.start()).world();
            for (int n = 0; n < rest.length; n++) {
                double large = rest[n].getTranslation(new Vector3d()).length() + Math.cbrt(rest[n].determinant3x3());
                assertThat(first[n].equals(rest[n], 1e-6 * (1 + large))).isTrue();
            }
            plays(asset, was, led, clip, was.start(), was.end(), 12 / 24.0);
        }
    }

    private static void same(Asset a, Asset b) {
        for (int c = 0; c < a.clips().size(); c++) {
            for (int i = 0; i < a.clips().get(c).channels().size(); i++) {
                Sampler s = a.clips().get(c).channels().get(i).sampler();
                Sampler t = b.clips().get(c).channels().get(i).sampler();
                assertThat(t.times()).isEqualTo(s.times());
                assertThat(t.values()).isEqualTo(s.values());
                assertThat(t.interpolation()).isEqualTo(s.interpolation());
            }
        }
    }

    @Test
    public void aClipIsSplitByNamedRangesAndWhatIsWrongWithThemIsSaid() throws Refused {
        Asset asset = RandomAssets.of(4);
        Asset split = done(asset, new SplitClip("linear", "open 1..4, close the lid 6 .. 10", false));
        assertThat(split.clips()).extracting(Clip::name).containsExactly("step", "open", "close the lid", "cubic");
        Clip close = clip(split, "close the lid");
        assertThat(close.firstFrame()).isZero();
        assertThat(close.lastFrame()).isEqualTo(4);
        assertThat(close.loop()).isFalse();
        plays(asset, clip(asset, "linear"), split, close, 6 / 24.0, 10 / 24.0, -6 / 24.0);
        assertThat(done(asset, new SplitClip("linear", "open 1..4", true)).clips())
                .extracting(Clip::name)
                .containsExactly("step", "linear", "open", "cubic");
        // One frame between two ranges is left free (common practice); where none is, that is said.
        assertThat(new SplitClip("linear", "a 1..4, b 5..10", false)
                        .apply(asset, Work.QUIET)
                        .notes())
                .hasSize(1);
        assertThat(new SplitClip("linear", "a 1..4, b 6..10", false)
                        .apply(asset, Work.QUIET)
                        .notes())
                .isEmpty();
        for (String bad : List.of("", "open", "open 1-4", "open 4..1", "open 0..4", "a 1..2, a 4..6", "cubic 1..4")) {
            assertThatThrownBy(() -> done(asset, new SplitClip("linear", bad, false)))
                    .as(bad)
                    .isInstanceOf(Refused.class);
        }
        assertThatThrownBy(() -> done(asset, new SplitClip("none", "a 1..2", false)))
                .hasMessageContaining("none");
        assertThatThrownBy(() -> done(asset, new ShiftClip("linear", -2))).hasMessageContaining("before 0");
        assertThatThrownBy(() -> done(asset, new ShiftClip("no such", 2))).hasMessageContaining("no such");
    }

    @Test(dataProvider = "seeds")
    public void bakedClipsMoveTheSkinByNoMoreThanAHundredThousandthOfItsSize(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Asset baked = done(asset, new Bake("*"));
        Motion motion = MotionProbe.compare(asset, baked, Work.QUIET);
        assertThat(motion.largestMetres()).as(motion.clip()).isLessThan(1e-5 * size(asset));
        for (String name : List.of("linear", "cubic")) {
            for (Channel channel : clip(baked, name).channels()) {
                Sampler s = channel.sampler();
                assertThat(s.interpolation()).isEqualTo(Sampler.Interpolation.LINEAR);
                assertThat(s.times().length).isGreaterThanOrEqualTo(10);
                for (int k = 1; k < s.times().length && channel.path() == Channel.Path.ROTATION; k++) {
                    double dot = 0;
                    for (int i = 0; i < 4; i++) {
                        dot += (double) s.values()[k * 4 + i] * s.values()[k * 4 - 4 + i];
                    }
                    assertThat(dot).as("never the long way round").isNotNegative();
                }
            }
        }
    }

    /** How far the skin is off is found by glTF 2.0, 3.7.3.3, in double, at sixteen times the rate, beside the program's own. */
    @Test(dataProvider = "seeds")
    public void fewerKeysKeepEveryVertexWithinTheBoundAtEveryMoment(long seed) throws Refused {
        Asset asset = done(withoutMorphs(RandomAssets.of(seed)), new Resample("*", 60));
        long before = -1;
        for (double millimetres : new double[] {0.1, 1, 20}) {
            Asset fewer = done(asset, new ReduceKeys("*", millimetres));
            long keys = 0;
            for (Clip clip : asset.clips()) {
                Clip now = clip(fewer, clip.name());
                assertThat(now.start()).isEqualTo(clip.start());
                assertThat(now.end()).isEqualTo(clip.end());
                keys += now.keyCount();
                int many = (int) Math.ceil(clip.seconds() * clip.rate() * 16);
                for (int i = 0; i <= many; i++) {
                    double t = clip.start() + clip.seconds() * i / many;
                    assertThat(apart(asset, clip, now, t)).isLessThanOrEqualTo(millimetres / 1000);
                }
            }
            assertThat(keys).isLessThanOrEqualTo(before < 0 ? keys(asset) : before);
            before = keys;
            Asset splines = done(asset, new ReduceKeys("cubic", millimetres, ReduceKeys.Between.CUBIC));
            Clip was = clip(asset, "cubic");
            Clip now = clip(splines, "cubic");
            assertThat(numbers(now)).isLessThanOrEqualTo(numbers(was));
            int many = (int) Math.ceil(was.seconds() * was.rate() * 16);
            for (int i = 0; i <= many; i++) {
                double t = was.start() + was.seconds() * i / many;
                assertThat(apart(asset, was, now, t)).isLessThanOrEqualTo(millimetres / 1000);
            }
        }
        assertThat(before).as("20 mm leave out something").isLessThan(keys(asset));
    }

    /** Splines take few keys; straight ways in their place would take more, and then the clip stays. */
    @Test(dataProvider = "seeds")
    public void keysNeverBecomeMore(long seed) throws Refused {
        Asset asset = withoutMorphs(RandomAssets.of(seed));
        for (double millimetres : new double[] {0.1, 20, 1000}) {
            Asset fewer = done(asset, new ReduceKeys("*", millimetres));
            for (Clip clip : asset.clips()) {
                assertThat(clip(fewer, clip.name()).keyCount()).isLessThanOrEqualTo(clip.keyCount());
            }
        }
    }

    private static long numbers(Clip clip) {
        return clip.channels().stream()
                .mapToLong(c -> c.sampler().values().length)
                .sum();
    }

    private static Asset withoutMorphs(Asset asset) {
        return asset.withClips(asset.clips().stream()
                .map(c -> c.withChannels(c.channels().stream()
                        .filter(x -> x.path() != Channel.Path.WEIGHTS)
                        .toList()))
                .toList());
    }

    private static long keys(Asset asset) {
        return asset.clips().stream().mapToLong(Clip::keyCount).sum();
    }

    private static double apart(Asset asset, Clip a, Clip b, double seconds) {
        List<Vector3d> p = skinned(asset, a, seconds);
        List<Vector3d> q = skinned(asset, b, seconds);
        double most = 0;
        for (int v = 0; v < p.size(); v++) {
            most = Math.max(most, p.get(v).distance(q.get(v)));
        }
        return most;
    }

    private static List<Vector3d> skinned(Asset asset, Clip clip, double seconds) {
        Matrix4d[] world = new Rig(asset).at(clip, seconds).world();
        Skin skin = asset.skins().getFirst();
        float[] points = asset.meshes().getFirst().primitives().getFirst().positions();
        Influences rows = asset.meshes().getFirst().primitives().getFirst().influences();
        List<Vector3d> out = new ArrayList<>();
        for (int v = 0; v < points.length / 3; v++) {
            Vector3d at = new Vector3d();
            for (int e = rows.offsets()[v]; e < rows.offsets()[v + 1]; e++) {
                Matrix4d m =
                        new Matrix4d(world[skin.joints()[rows.joints()[e]]]).mul(skin.inverseBind(rows.joints()[e]));
                at.add(m.transformPosition(new Vector3d(points[v * 3], points[v * 3 + 1], points[v * 3 + 2]))
                        .mul(rows.weights()[e]));
            }
            out.add(at);
        }
        return out;
    }

    @Test(dataProvider = "seeds")
    public void aClosedLoopEndsAsItBeginsAndIsTheSameUntilItsLastFrames(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        for (String name : List.of("linear", "cubic")) {
            Asset closed = done(asset, new CloseLoop(name, 4));
            Clip was = clip(asset, name);
            Clip now = clip(closed, name);
            assertThat(now.loop()).isTrue();
            Matrix4d[] first = new Rig(closed).at(now, now.start()).world();
            Matrix4d[] last = new Rig(closed).at(now, now.end()).world();
            for (int n = 0; n < first.length; n++) {
                double far = first[n].getTranslation(new Vector3d()).length();
                assertThat(last[n].equals(first[n], 2e-4 * (1 + far))).as(name).isTrue();
            }
            plays(asset, was, closed, now, was.start(), 6 / 24.0, 0);
        }
    }

    /** A file may say that its last key is at any time; keys on every frame until then would fill all memory. */
    @Test
    public void framesWithoutEndAreRefused() {
        Asset asset = RandomAssets.of(3);
        float[] times = {0, 1e30f};
        Sampler endless = new Sampler(Sampler.Interpolation.LINEAR, times, new float[6], 3, Storage.FLOAT);
        Channel channel = new Channel(1, Channel.Path.TRANSLATION, endless, "", Passthrough.NONE);
        Asset bad = asset.withClips(List.of(new Clip("long", List.of(channel), 24, false, true, Passthrough.NONE)));
        for (Step step : List.of(new Resample("*", 30), new Bake("*"))) {
            assertThatThrownBy(() -> done(bad, step))
                    .isInstanceOf(Refused.class)
                    .hasMessageContaining("long")
                    .hasMessageContaining("trim");
        }
    }

    /** glTF 2.0, 3.11: times are not negative and rise strictly; a jump is two keys as near as float32 has them. */
    @Test
    public void aJumpAtTheBeginningIsStillOneAtTimeZero() throws Refused {
        float[] times = {Math.nextDown(0.5f), 0.5f, 1};
        Sampler jump = new Sampler(Sampler.Interpolation.STEP, times, new float[9], 3, Storage.FLOAT);
        Asset asset = RandomAssets.of(3);
        Clip clip = new Clip(
                "jump",
                List.of(new Channel(1, Channel.Path.TRANSLATION, jump, "", Passthrough.NONE)),
                24,
                false,
                true,
                Passthrough.NONE);
        Asset shifted = done(asset.withClips(List.of(clip)), new ShiftClip("jump", -12));
        float[] now = shifted.clips().getFirst().channels().getFirst().track().times();
        assertThat(now[0]).isZero();
        assertThat(now[1]).isGreaterThan(now[0]).isLessThan(1e-6f);
        assertThat(now[2]).isEqualTo(0.5f);
    }

    /** A clip that begins between two frames, here at 2.5 of them, is brought to time 0, never before it. */
    @Test
    public void whatBeginsBetweenFramesBeginsAtNoTimeBelowZero() throws Refused {
        Asset asset = done(RandomAssets.of(3), new Resample("linear", 60));
        Clip was = clip(asset, "linear");
        Clip now = clip(done(asset, new TrimClip("linear", was.firstFrame(), 20, true)), "linear");
        assertThat(now.start()).isZero();
        assertThatThrownBy(() -> done(asset, new ShiftClip("linear", -3))).hasMessageContaining("before 0");
    }

    @Test
    public void onlyTheTopsOfSkeletonsKeepTheirTranslation() throws Refused {
        Asset asset = RandomAssets.of(6);
        Asset turned = done(asset, new RotationOnly("linear", "joint_2"));
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        for (Channel channel : clip(turned, "linear").channels()) {
            int n = channel.node();
            boolean top = !joint[n]
                    || !joint[parents[n]]
                    || asset.nodes().get(n).name().equals("joint_2");
            assertThat(top || channel.path() == Channel.Path.ROTATION).isTrue();
        }
        assertThat(clip(turned, "linear").channels().size())
                .isLessThan(clip(asset, "linear").channels().size());
        assertThat(clip(turned, "cubic")).isSameAs(clip(asset, "cubic"));
    }
}
