package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.function.ToDoubleFunction;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Apart;
import org.cleanmarrow.steps.motion.Retarget;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;

/** Clips of one body on another: the same one, a smaller one, one of other proportions, one that rests otherwise. */
public class RetargetTest {
    private Asset pilot;

    @BeforeClass
    public void open() {
        pilot = FerryPilot.asset();
    }

    /** The pilot's skeleton with one clip, under other names. */
    private Asset take(String clip) {
        Asset alone = Apart.of(pilot).clips().stream()
                .filter(a -> a.name().equals(clip))
                .findFirst()
                .orElseThrow();
        return renamed(alone, n -> "take_" + n).mapClips(c -> c.withName("take"));
    }

    private static Asset renamed(Asset asset, UnaryOperator<String> name) {
        return asset.withNodes(asset.nodes().stream()
                .map(n -> n.withName(name.apply(n.name())))
                .toList());
    }

    /** The pilot with each bone so many times as long. */
    private Asset body(ToDoubleFunction<String> longer) {
        return pilot.withNodes(pilot.nodes().stream()
                .map(n -> {
                    Local l = n.local();
                    float[] place = l.translation().clone();
                    for (int i = 0; i < 3; i++) {
                        place[i] *= (float) longer.applyAsDouble(n.name());
                    }
                    return n.withLocal(new Local(place, l.rotation(), l.scale(), l.matrix()));
                })
                .toList());
    }

    private Asset retargeted(Asset body, Asset take) throws Refused {
        return new Retarget("take", true)
                .apply(Join.of(body, take, Work.QUIET), Work.QUIET)
                .asset();
    }

    private static Clip clip(Asset asset, String name) {
        return asset.clips().get(asset.findClip(name));
    }

    private static Vector3d at(Asset asset, Clip clip, String joint, double seconds) {
        Matrix4d world = new Rig(asset).at(clip, seconds).world()[asset.findNode(joint)];
        return world.getTranslation(new Vector3d()).mul(asset.conventions().metresPerUnit());
    }

    @Test
    public void toTheSameSkeletonUnderOtherNamesItIsTheSameMotion() throws Refused {
        for (String name : List.of("punt", "hail", "idle")) {
            Asset out = retargeted(pilot, take(name));
            assertThat(out.nodes())
                    .as("the other skeleton is gone")
                    .hasSize(pilot.nodes().size());
            assertThat(out.skins()).hasSize(pilot.skins().size());
            Clip was = clip(pilot, name);
            Clip now = clip(out, "take");
            for (int f = was.firstFrame(); f <= was.lastFrame(); f++) {
                double t = f / was.rate();
                Matrix4d[] a = new Rig(pilot).at(was, t).world();
                Matrix4d[] b = new Rig(out).at(now, t).world();
                for (int n = 0; n < a.length; n++) {
                    Vector3d p = a[n].getTranslation(new Vector3d());
                    // A hundred-thousandth of a man of 180 cm.
                    assertThat(p.distance(b[n].getTranslation(new Vector3d())))
                            .as("%s, %s at %f", name, pilot.nodeRef(n), t)
                            .isLessThan(180e-5);
                }
            }
        }
    }

    /** Onto a body 1.3 times as tall, and onto one of longer shins and a longer trunk besides. */
    @Test
    public void feetThatStandStayAndKneesBendForwardOnABodyOfOtherProportions() throws Refused {
        List<ToDoubleFunction<String>> proportions = List.of(
                n -> 1.3, n -> n.contains("foot") ? 1.3 : n.contains("shin") ? 0.95 : n.contains("ribs") ? 1.2 : 1);
        for (ToDoubleFunction<String> longer : proportions) {
            for (String name : List.of("punt", "idle")) {
                Asset out = retargeted(body(longer), take(name));
                Clip now = clip(out, "take");
                for (String side : List.of("left", "right")) {
                    Vector3d first = at(out, now, side + "_foot", now.start());
                    for (double t = now.start(); t <= now.end(); t += 1 / 48.0) {
                        assertThat(at(out, now, side + "_foot", t).distance(first))
                                .as("%s %s foot at %f", name, side, t)
                                .isLessThan(0.005);
                    }
                }
                kneesBendForward(out, now);
            }
        }
    }

    @Test
    public void feetSlideOnABodyOfOtherProportionsWhereTheyAreNotHeld() throws Refused {
        Asset body = body(n -> n.contains("foot") ? 1.3 : n.contains("shin") ? 0.95 : 1);
        Asset out = new Retarget("take", false)
                .apply(Join.of(body, take("punt"), Work.QUIET), Work.QUIET)
                .asset();
        Clip now = clip(out, "take");
        double most = 0;
        for (double t = now.start(); t <= now.end(); t += 1 / 24.0) {
            most = Math.max(most, at(out, now, "left_foot", t).distance(at(out, now, "left_foot", now.start())));
        }
        assertThat(most).isGreaterThan(0.02);
    }

    /** Takes of another body under the same names: played as they were until they are retargeted, then as under other names. */
    @Test
    public void aTakeOfOtherProportionsUnderTheSameNamesIsHeldFoundAndRetargeted() throws Refused {
        Asset body = body(n -> 1.3);
        Asset take = renamed(take("punt"), n -> n.substring("take_".length()));
        int tail = take.findNode("scarf_tail");
        float[] rest = take.nodes().get(tail).local().translation();
        float[] to = {rest[0], rest[1], rest[2], rest[0] * 1.1f, rest[1] * 1.1f, rest[2] * 1.1f};
        Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, new float[] {0.1f, 2}, to, 3, Storage.FLOAT);
        Channel shift = new Channel(tail, Channel.Path.TRANSLATION, keys, "", Passthrough.NONE);
        Asset joined = Join.of(
                body.withClips(List.of()),
                take.mapClips(c -> c.withChannels(
                        Stream.concat(c.channels().stream(), Stream.of(shift)).toList())),
                Work.QUIET);
        assertThat(joined.notes()).anyMatch(n -> n.contains("rest elsewhere"));
        assertThat(joined.nodes()).hasSameSizeAs(body.nodes());
        Clip was = clip(pilot, "punt");
        Clip held = clip(joined, "take");
        for (int f = was.firstFrame(); f <= was.lastFrame(); f += 7) {
            for (String joint : List.of("left_hand", "right_foot", "head")) {
                assertThat(at(joined, held, joint, f / was.rate()).distance(at(pilot, was, joint, f / was.rate())))
                        .as("%s at %d", joint, f)
                        .isLessThan(1e-5);
            }
        }
        Target target = Target.of(pilot.conventions());
        List<Finding> found = Checks.run(joined, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("other-proportions"))
                .toList();
        assertThat(found).hasSize(1);
        Asset fixed =
                found.getFirst().fix().orElseThrow().apply(joined, Work.QUIET).asset();
        assertThat(Checks.run(fixed, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("other-proportions"));
        Asset apart = retargeted(body, take("punt"));
        Clip now = clip(fixed, "take");
        Clip other = clip(apart, "take");
        for (int f = now.firstFrame(); f <= now.lastFrame(); f += 7) {
            for (String joint : List.of("left_hand", "right_foot", "head")) {
                assertThat(at(fixed, now, joint, f / now.rate()).distance(at(apart, other, joint, f / now.rate())))
                        .as("%s at %d", joint, f)
                        .isLessThan(1e-4);
            }
        }
        kneesBendForward(fixed, now);
        assertThat(now.channels())
                .filteredOn(c -> c.path() == Channel.Path.TRANSLATION)
                .extracting(c -> fixed.nodeRef(c.node()))
                .as("what shifts to and fro goes on, what was held is gone")
                .containsExactlyInAnyOrder("hips", "scarf_tail");
    }

    /** Joints of the same names whose bones lie along another axis: no key of one means the same on the other. */
    @Test
    public void aTakeWhoseJointsHaveOtherAxesComesAlongAndIsRetargeted() throws Exception {
        Asset turned = renamed(take("hail"), n -> n.substring("take_".length()));
        turned = new OrientJoints("*", OrientJoints.Along.X)
                .apply(turned, Work.QUIET)
                .asset();
        Asset joined = Join.of(pilot.withClips(List.of()), turned, Work.QUIET);
        assertThat(joined.notes()).anyMatch(n -> n.contains("with other axes"));
        Asset out = new Retarget("take", true).apply(joined, Work.QUIET).asset();
        assertThat(out.nodes()).hasSameSizeAs(pilot.nodes());
        Clip was = clip(pilot, "hail");
        Clip now = clip(out, "take");
        for (int f = was.firstFrame(); f <= was.lastFrame(); f++) {
            assertThat(at(out, now, "left_hand", f / was.rate()).distance(at(pilot, was, "left_hand", f / was.rate())))
                    .as("frame %d", f)
                    .isLessThan(1e-3);
        }
    }

    /** Another skeleton that a clip moves is found, and the fix offered is the step. */
    @Test
    public void aSkeletonThatCameAlongIsFoundAndItsClipRetargeted() throws Refused {
        Asset joined = Join.of(pilot, take("hail"), Work.QUIET);
        assertThat(joined.notes().getLast()).contains("its skeleton came along");
        Target target = Target.of(pilot.conventions());
        List<Finding> found = Checks.run(joined, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("skeleton-apart"))
                .toList();
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().subject()).isEqualTo("take");
        Asset fixed =
                found.getFirst().fix().orElseThrow().apply(joined, Work.QUIET).asset();
        assertThat(Checks.run(fixed, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("skeleton-apart"));
        assertThat(Checks.run(pilot, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("skeleton-apart"));
    }

    private void kneesBendForward(Asset asset, Clip clip) {
        int[] parents = asset.parents();
        for (String side : List.of("left", "right")) {
            int foot = asset.findNode(side + "_foot");
            int shin = parents[foot];
            int thigh = parents[shin];
            // The hinge at rest, by the hip's own axes: what turns the thigh's way onto the shin's over the front.
            for (double t = clip.start(); t <= clip.end(); t += 1 / 24.0) {
                Matrix4d[] world = new Rig(asset).at(clip, t).world();
                Vector3d hip = world[thigh].getTranslation(new Vector3d());
                Vector3d knee = world[shin].getTranslation(new Vector3d());
                Vector3d ankle = world[foot].getTranslation(new Vector3d());
                Vector3d ahead = pilotAhead(asset, world);
                Vector3d middle = new Vector3d(ankle).sub(hip);
                Vector3d out = new Vector3d(knee).sub(hip);
                out.fma(-out.dot(middle) / middle.lengthSquared(), middle);
                assertThat(out.dot(ahead)).as("%s knee at %f", side, t).isGreaterThan(-0.5);
            }
        }
    }

    private Vector3d pilotAhead(Asset asset, Matrix4d[] world) {
        int hips = asset.findNode("hips");
        Matrix4d rest = new Rig(pilot).rest().world()[pilot.findNode("hips")];
        Quaterniond turn = world[hips]
                .getUnnormalizedRotation(new Quaterniond())
                .mul(rest.getUnnormalizedRotation(new Quaterniond()).conjugate());
        return turn.transform(pilot.conventions().forward().vector());
    }

    /** Arms that hang at rest in the take and are held out here end at the same place in the world. */
    @Test
    public void limbsPointAsTheTakesDoWhereverTheyRest() throws Refused {
        Asset take = take("hail");
        int arm = take.findNode("take_left_upper_arm");
        Node node = take.nodes().get(arm);
        Quaterniond rest = node.local().rotationQuaternion();
        Quaterniond lower = new Quaterniond(rest).rotateX(0.5);
        List<Node> nodes = new ArrayList<>(take.nodes());
        nodes.set(
                arm,
                node.withLocal(Local.of(
                        node.local().translationVector(), lower, node.local().scaleVector())));
        Asset other = take.withNodes(nodes);
        Asset out = retargeted(pilot, other);
        Clip was = clip(pilot, "hail");
        Clip now = clip(out, "take");
        for (int f = was.firstFrame(); f <= was.lastFrame(); f++) {
            double t = f / was.rate();
            assertThat(at(out, now, "left_hand", t).distance(at(pilot, was, "left_hand", t)))
                    .as("frame %d", f)
                    .isLessThan(0.001);
        }
    }

    @Test
    public void whatCannotBeRetargetedIsSaid() {
        assertThatThrownBy(() -> new Retarget("punt", true).apply(pilot, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("punt");
        assertThatThrownBy(() -> new Retarget("none", true).apply(pilot, Work.QUIET))
                .hasMessageContaining("none");
        Asset bare = Apart.of(pilot).clips().getFirst();
        assertThatThrownBy(() -> new Retarget("*", true).apply(bare, Work.QUIET))
                .hasMessageContaining("skinned");
    }
}
