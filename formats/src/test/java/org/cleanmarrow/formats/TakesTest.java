package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** BVH takes with channels in every order, evaluated by multiplying JOML's own matrices. */
public class TakesTest {
    private final Random random = new Random(31);

    /** A chain of joints with random offsets and shuffled channels, and where each joint must be in each frame. */
    private record Take(String text, List<Vector3d[]> places) {}

    private Take take(int joints, int frames) {
        StringBuilder out = new StringBuilder("HIERARCHY\n");
        List<List<String>> channels = new ArrayList<>();
        double[][] offsets = new double[joints][3];
        for (int j = 0; j < joints; j++) {
            List<String> own = new ArrayList<>(List.of("Xrotation", "Yrotation", "Zrotation"));
            if (j == 0 || random.nextInt(3) == 0) {
                own.addAll(List.of("Xposition", "Yposition", "Zposition"));
            }
            Collections.shuffle(own, random);
            channels.add(own);
            for (int d = 0; d < 3; d++) {
                offsets[j][d] = Math.rint(random.nextGaussian() * 1000) / 100;
            }
            out.append(j == 0 ? "ROOT hips" : "JOINT j" + j)
                    .append("\n{\n")
                    .append(String.format(
                            Locale.ROOT, "OFFSET %.2f %.2f %.2f\n", offsets[j][0], offsets[j][1], offsets[j][2]))
                    .append("CHANNELS ")
                    .append(own.size())
                    .append(' ')
                    .append(String.join(" ", own))
                    .append('\n');
        }
        out.append("End Site\n{\nOFFSET 0 1 0\n}\n").append("}\n".repeat(joints));
        out.append("MOTION\nFrames: ").append(frames).append("\nFrame Time: 0.0333333\n");
        List<Vector3d[]> places = new ArrayList<>();
        for (int f = 0; f < frames; f++) {
            Matrix4d world = new Matrix4d();
            Vector3d[] at = new Vector3d[joints];
            for (int j = 0; j < joints; j++) {
                Vector3d shift = new Vector3d(offsets[j][0], offsets[j][1], offsets[j][2]);
                Matrix4d turn = new Matrix4d();
                for (String channel : channels.get(j)) {
                    double value = Math.rint(random.nextGaussian() * 9000) / 100;
                    out.append(String.format(Locale.ROOT, "%.2f ", value));
                    double angle = Math.toRadians(value);
                    switch (channel) {
                        case "Xposition" -> shift.x += value;
                        case "Yposition" -> shift.y += value;
                        case "Zposition" -> shift.z += value;
                        case "Xrotation" -> turn.mul(new Matrix4d().rotationX(angle));
                        case "Yrotation" -> turn.mul(new Matrix4d().rotationY(angle));
                        default -> turn.mul(new Matrix4d().rotationZ(angle));
                    }
                }
                world.mul(new Matrix4d().translation(shift)).mul(turn);
                at[j] = world.getTranslation(new Vector3d());
            }
            places.add(at);
            out.append('\n');
        }
        return new Take(out.toString(), places);
    }

    private static Asset read(String text) throws Exception {
        return BvhReader.read(text.getBytes(StandardCharsets.UTF_8), "take.bvh", Work.QUIET);
    }

    @Test
    public void everyOrderOfChannelsIsAppliedInItsOrder() throws Exception {
        for (int round = 0; round < 25; round++) {
            Take take = take(6, 4);
            Asset asset = read(take.text);
            Clip clip = asset.clips().getFirst();
            assertThat(clip.rate()).isEqualTo(30);
            assertThat(clip.lastFrame()).isEqualTo(3);
            Rig rig = new Rig(asset);
            for (int f = 0; f < 4; f++) {
                Matrix4d[] world = rig.at(clip, f / 30.0).world();
                for (int j = 0; j < 6; j++) {
                    Vector3d at = world[j].getTranslation(new Vector3d());
                    assertThat(at.distance(take.places.get(f)[j]))
                            .as("joint %d, frame %d", j, f)
                            .isLessThan(1e-3);
                }
            }
        }
    }

    @Test
    public void aTakeIsDeliveredAsGltfAndItsJointsMoveTheSame() throws Exception {
        Asset asset = read(take(9, 12).text);
        Asset again = GltfReader.read(GltfWriter.glb(asset), "take.glb", null, Work.QUIET);
        var motion = MotionProbe.compare(asset, again, Work.QUIET);
        assertThat(motion.unmatched()).isEmpty();
        assertThat(motion.moments()).isGreaterThan(20);
        assertThat(motion.largestMetres()).isLessThan(1e-6);
    }

    @Test
    public void onlyTheEndSiteOfATakeIsIdle() throws Exception {
        Asset asset = read(take(5, 3).text);
        var findings = Checks.run(asset, Target.named("y-up-cm-rh").orElseThrow(), Work.QUIET);
        assertThat(findings)
                .filteredOn(f -> f.check().equals("end-joints"))
                .hasSize(1)
                .allMatch(f -> f.count() == 1 && f.subject().equals("j4_end"));
    }

    @Test
    public void severalRootsAndNoFramesAreTakes() throws Exception {
        String text =
                "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 0\n}\nROOT b\n{\nOFFSET 1 2 3\nCHANNELS 1 Yrotation\n}\n"
                        + "MOTION\nFrames: 0\nFrame Time: 0.01\n";
        Asset asset = read(text);
        assertThat(asset.nodes().stream().map(n -> n.name()).toList()).containsExactly("a", "b");
        assertThat(asset.clips()).isEmpty();
        assertThat(asset.nodes().get(1).local().translation()).containsExactly(1, 2, 3);
        assertThat(asset.skins().getFirst().inverseBind(1).getTranslation(new Vector3d()))
                .isEqualTo(new Vector3d(-1, -2, -3));
    }

    /** A leg, so long a shin, in one pose and then another. */
    private static String leg(String prefix, int shin, String... frames) {
        String turns = "CHANNELS 3 Zrotation Xrotation Yrotation\n";
        return "HIERARCHY\nROOT " + prefix + "hips\n{\nOFFSET 0 90 0\n"
                + "CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation\n"
                + "JOINT " + prefix + "thigh\n{\nOFFSET 10 -5 0\n" + turns
                + "JOINT " + prefix + "shin\n{\nOFFSET 0 -40 0\n" + turns
                + "JOINT " + prefix + "foot\n{\nOFFSET 0 -" + shin + " 0\n" + turns
                + "End Site\n{\nOFFSET 0 0 12\n}\n}\n}\n}\n}\n"
                + "MOTION\nFrames: " + frames.length + "\nFrame Time: 0.0333333\n" + String.join("\n", frames) + "\n";
    }

    /** One T-pose take as the rest of all, held against a take of the same subject and one of a longer shin. */
    @Test
    public void takesAreHeldAgainstTheTakeWhoseFrameIsTheirRest() throws Exception {
        String bent = "0 85 0 0 0 0 0 30 0 0 -50 0 0 20 0";
        String straight = "0 90 0 0 0 0 0 0 0 0 0 0 0 0 0";
        Asset rest = read(leg("", 38, "0 90 0 0 0 0 5 0 0 -5 0 0 0 0 0"));
        Asset joined = Join.of(rest, read(leg("subject_2:", 38, straight, bent)), Work.QUIET);
        joined = Join.of(joined, read(leg("subject_9:", 42, straight, bent)), Work.QUIET);
        joined = new RestFrom(Optional.of("take"), 0).apply(joined, Work.QUIET).asset();
        assertThat(joined.nodes()
                        .get(joined.findNode("thigh"))
                        .local()
                        .rotationQuaternion()
                        .angle())
                .isCloseTo(Math.toRadians(5), within(1e-6));
        assertThat(joined.clips()).extracting(Clip::name).containsExactly("take", "take_2", "take_3");
        var found = Checks.run(joined, Target.named("y-up-cm-rh").orElseThrow(), Work.QUIET).stream()
                .filter(f -> f.check().equals("other-proportions"))
                .toList();
        assertThat(found).extracting(Finding::subject).containsExactly("take_3");
        assertThat(found.getFirst().message().toString()).contains("foot", "42 cm", "38 cm");
        // What the long shin's own file makes of it, place by place.
        Asset alone = read(leg("", 42, straight, bent));
        int foot = joined.findNode("foot");
        Vector3d there = new Rig(alone)
                .at(alone.clips().getFirst(), 1 / 30.0)
                .world()[alone.findNode("foot")]
                .getTranslation(new Vector3d());
        Vector3d here = new Rig(joined)
                .at(joined.clips().get(2), 1 / 30.0)
                .world()[foot]
                .getTranslation(new Vector3d());
        assertThat(here.distance(there)).isLessThan(1e-4);
        Asset fitted =
                found.getFirst().fix().orElseThrow().apply(joined, Work.QUIET).asset();
        Vector3d shin =
                new Rig(fitted).at(fitted.clips().get(2), 1 / 30.0).local(foot).getTranslation(new Vector3d());
        assertThat(shin.length()).isCloseTo(38, within(1e-4));
    }

    @DataProvider
    public Object[][] bounds() {
        return new Object[][] {{0.1}, {0.5}, {1.0}, {2.0}};
    }

    /** An open motion file of Debian's assimp-testmodels, eight times as densely as its frames lie. */
    @Test(dataProvider = "bounds")
    public void anOpenTakeOfFewerKeysStaysWithinTheBound(double millimetres) throws Exception {
        Asset asset = Samples.read("01_01.bvh");
        Asset fewer = new ReduceKeys("*", millimetres).apply(asset, Work.QUIET).asset();
        Clip was = asset.clips().getFirst();
        Clip now = fewer.clips().getFirst();
        assertThat(now.keyCount()).isLessThan(was.keyCount());
        Rig rig = new Rig(asset);
        int many = (int) Math.rint(was.seconds() * was.rate() * 8);
        double most = 0;
        for (int i = 0; i <= many; i++) {
            double t = was.start() + was.seconds() * i / many;
            Matrix4d[] a = rig.at(was, t).world();
            Matrix4d[] b = rig.at(now, t).world();
            for (int n = 0; n < a.length; n++) {
                most = Math.max(
                        most,
                        Math.hypot(
                                Math.hypot(a[n].m30() - b[n].m30(), a[n].m31() - b[n].m31()), a[n].m32() - b[n].m32()));
            }
        }
        // Centimetres.
        assertThat(most * 10).isLessThan(millimetres).isGreaterThan(millimetres / 3);
    }
}
