package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.steps.motion.RemoveKeys;
import org.cleanmarrow.text.Bytes;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Every act of the Motion station by mouse and keyboard, on the pilot's clips. */
public class MotionStationTest extends DeskWindow {
    private Clip clip(String name) throws Exception {
        return on(() -> desk.now().clips().get(desk.now().findClip(name)));
    }

    private void act(String button) throws Exception {
        int before = on(() -> desk.history().done().size());
        press("#" + button);
        quiet();
        assertThat(on(() -> desk.history().done().size())).as(button).isEqualTo(before + 1);
    }

    private Replay.Done last() throws Exception {
        return on(() -> desk.history().done().getLast());
    }

    @Test
    public void aClipIsTrimmedShiftedAndSplitByHand() throws Exception {
        openDemo();
        station(Station.MOTION);
        press("#trim-clip");
        quiet();
        assertThat(on(() -> desk.history().done())).as("no clip is picked yet").isEmpty();
        pickClip("punt");
        assertThat(clip("punt").firstFrame()).isEqualTo(1);
        type("#trim-first", "9");
        type("#trim-last", "40");
        act("trim-clip");
        assertThat(clip("punt").firstFrame()).isZero();
        assertThat(clip("punt").lastFrame()).isEqualTo(31);
        type("#shift-frames", "-3");
        press("#shift-clip");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("before 0");
        assertThat(on(() -> desk.history().done())).hasSize(1);
        type("#shift-frames", "5");
        act("shift-clip");
        assertThat(clip("punt").firstFrame()).isEqualTo(5);
        assertThat(on(() -> desk.outcomes().sentence(desk.history().done().getLast())))
                .as("the same moment is another pose's")
                .doesNotContain("Largest movement");
        type("#split-ranges", "push 5..19, glide 21..36");
        act("split-keep");
        assertThat(on(() -> desk.now().clips().stream().map(Clip::name).toList()))
                .containsExactly("idle", "hail", "punt", "push", "glide");
        assertThat(clip("glide").lastFrame()).isEqualTo(15);
    }

    /** A point of the picked clip's lane, so far along it. */
    private Point2D onLane(int lane, double share) throws Exception {
        Node lanes = find("#clip-lanes");
        Clip longest = clip("idle");
        return on(() -> {
            double wide = lanes.getBoundsInLocal().getWidth() - 120;
            double end = longest.end();
            Clip picked = desk.now().clips().get(lane);
            double t = picked.start() + share * picked.seconds();
            return lanes.localToScreen(92 + t / end * wide, 4 + lane * 24 + 12);
        });
    }

    private void drag(Point2D from, Point2D to) throws Exception {
        hand.moveTo(from);
        hand.press(MouseButton.PRIMARY);
        hand.moveTo(to);
        hand.release(MouseButton.PRIMARY);
        quiet();
    }

    @Test
    public void framesAreTakenByDraggingEndsOfLanesAndSplitOff() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("punt");
        type("#split-ranges", "");
        Button add = (Button) find("#add-frames");
        assertThat(on(add::isDisabled)).isTrue();
        drag(onLane(2, 1), onLane(2, 0.5));
        Playback.Frames half = on(() -> desk.playback().range().get());
        assertThat(half.first()).isEqualTo(1);
        assertThat(half.last()).isBetween(30, 32).isEqualTo(frame());
        assertThat(((TextField) find("#trim-last")).getText()).isEqualTo(Integer.toString(half.last()));
        press("#add-frames");
        drag(onLane(2, 0.5), onLane(2, 0.9));
        drag(onLane(2, 0), onLane(2, 0.6));
        Playback.Frames late = on(() -> desk.playback().range().get());
        assertThat(late.first()).isBetween(36, 38);
        press("#add-frames");
        String typed = ((TextField) find("#split-ranges")).getText();
        assertThat(typed).isEqualTo("part_1 1..%d, part_2 %d..%d".formatted(half.last(), late.first(), late.last()));
        act("split-clip");
        assertThat(clip("part_2").lastFrame()).isEqualTo(late.last() - late.first());
        assertThat(on(() -> desk.playback().range().get())).isNull();
        pickClip("hail");
        focus(find("#clip-lanes"));
        hand.push(KeyCode.SHIFT, KeyCode.RIGHT);
        hand.push(KeyCode.SHIFT, KeyCode.RIGHT);
        assertThat(on(() -> desk.playback().range().get())).isEqualTo(new Playback.Frames(0, 2));
        hand.push(KeyCode.ESCAPE);
        assertThat(on(() -> desk.playback().range().get())).isNull();
    }

    @Test
    public void keysAreBakedAndReducedAndEndsAreLedByHand() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("hail");
        act("bake");
        long all = clip("hail").keyCount();
        type("#reduce-millimetres", "2");
        act("reduce-keys");
        assertThat(clip("hail").keyCount()).isLessThan(all / 2);
        assertThat(last().motion().orElseThrow().largestMetres()).isBetween(1e-6, 0.002);
        long straight = clip("hail").keyCount();
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        act("reduce-splines");
        assertThat(clip("hail").keyCount()).isLessThan(straight);
        assertThat(clip("hail").channels())
                .anyMatch(c -> c.sampler().interpolation() == Sampler.Interpolation.CUBICSPLINE);
        assertThat(last().motion().orElseThrow().largestMetres()).isBetween(1e-6, 0.002);
        int frames = clip("hail").lastFrame();
        act("lead-in");
        assertThat(clip("hail").lastFrame()).isEqualTo(frames + 12);
        long led = clip("hail").keyCount();
        act("remove-lead-in");
        assertThat(clip("hail").lastFrame()).isEqualTo(frames);
        assertThat(clip("hail").keyCount()).isLessThan(led);
        assertThat(clip("hail").loop()).isFalse();
        act("close-loop");
        assertThat(clip("hail").loop()).isTrue();
        act("plays-once");
        assertThat(clip("hail").loop()).isFalse();
        type("#resample-rate", "60");
        act("resample");
        assertThat(clip("hail").rate()).isEqualTo(60);
        act("rotation-only");
        Asset now = on(() -> desk.now());
        assertThat(clip("hail").channels())
                .filteredOn(c -> c.path() == Channel.Path.TRANSLATION && c.node() >= 0)
                .extracting(c -> now.nodeRef(c.node()))
                .allMatch(n -> n.equals("hips") || !now.jointFlags()[now.findNode(n)]);
    }

    @Test
    public void clipsAreMadeOfClipsByHand() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("punt");
        type("#retime-speed", "2");
        act("retime");
        assertThat(clip("punt").lastFrame()).isEqualTo(31);
        act("reverse-clip");
        type("#hold-frames", "4");
        act("hold-start");
        act("hold-end");
        assertThat(clip("punt").lastFrame()).isEqualTo(39);
        type("#duplicate-name", "push");
        act("duplicate-clip");
        type("#clip-tags", "water, base");
        act("tag-clips");
        assertThat(clip("punt").tags()).containsExactly("water", "base");
        int before = on(() -> desk.history().done().size());
        press("#join-clips");
        quiet();
        assertThat(text("#join-preview")).contains("names of other clips");
        assertThat(on(() -> desk.history().done())).hasSize(before);
        type("#join-others", "hail");
        type("#join-name", "both");
        act("join-clips");
        assertThat(clip("both").lastFrame()).isEqualTo(39 + 1 + 47);
        type("#join-name", "at once");
        act("merge-clips");
        assertThat(on(() -> desk.now().clips().stream().map(Clip::name).toList()))
                .containsExactlyInAnyOrder("idle", "hail", "punt", "push", "both", "at once");
    }

    @Test
    public void theJointInHandIsMaskedAndHiddenByHand() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("hail");
        // Channels of joints that are gone belong to neither half.
        long lost = clip("hail").channels().stream().filter(c -> c.node() < 0).count();
        int all = clip("hail").channels().size();
        press("#mask-inside");
        quiet();
        assertThat(on(() -> desk.history().done())).as("no joint is picked yet").isEmpty();
        clickJoint("left_upper_arm");
        act("mask-outside");
        int others = clip("hail").channels().size();
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        act("branch-clips");
        assertThat(clip("hail_left_upper_arm").channels()).hasSize((int) (all - others));
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        act("mask-inside");
        assertThat(clip("hail").channels()).hasSize((int) (all - others + lost)).hasSizeGreaterThan(5);
        type("#hide-ranges", "0..11, 40..47");
        act("hide-by-scale");
        Asset now = on(() -> desk.now());
        Channel scale = clip("hail").channels().getLast();
        assertThat(now.nodeRef(scale.node())).isEqualTo("left_upper_arm_shown");
        assertThat(scale.sampler().values()).containsExactly(0, 0, 0, 1, 1, 1, 0, 0, 0);
        type("#hide-ranges", "0..1000");
        press("#hide-by-scale");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("0..47");
    }

    private static int unlike(WritableImage a, WritableImage b) {
        int out = 0;
        for (int y = 0; y < a.getHeight(); y++) {
            for (int x = 0; x < a.getWidth(); x++) {
                out += a.getPixelReader().getArgb(x, y) == b.getPixelReader().getArgb(x, y) ? 0 : 1;
            }
        }
        return out;
    }

    @Test
    public void clipsPlayTogetherAtTheSpeedChosenWithGhostsOfNeighbouringFrames() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("punt");
        choose("#time-speed", 2.0);
        assertThat(on(() -> desk.playback().speed().get())).isEqualTo(2);
        on(() -> {
            desk.playback().seconds().set(1);
            return null;
        });
        quiet();
        WritableImage alone = on(() -> window.viewport().snapshot(null, null));
        choose("#time-neighbours", 5);
        WritableImage ghosts = on(() -> window.viewport().snapshot(null, null));
        // Six skeletons of lines 1.6 pixels wide and some hundred long.
        assertThat(unlike(alone, ghosts)).isGreaterThan(2000);
        choose("#time-neighbours", 10);
        assertThat(unlike(ghosts, on(() -> window.viewport().snapshot(null, null))))
                .isGreaterThan(1000);
        Node lanes = find("#clip-lanes");
        focus(lanes);
        hand.push(KeyCode.SHIFT, KeyCode.UP);
        quiet();
        assertThat(on(() -> desk.playback().along().get())).containsExactly("hail");
        assertThat(on(() -> desk.playedClip().orElseThrow().channels()))
                .containsAll(clip("hail").channels());
        hand.push(KeyCode.SHIFT, KeyCode.UP);
        assertThat(on(() -> desk.playback().along().get())).isEmpty();
        hand.push(KeyCode.SHIFT, KeyCode.UP);
        pickClip("idle");
        assertThat(on(() -> desk.playback().along().get()))
                .as("another clip is played alone")
                .isEmpty();
    }

    private static void focus(Node node) throws Exception {
        on(() -> {
            node.requestFocus();
            return null;
        });
    }

    private int frame() throws Exception {
        double rate = clip("punt").rate();
        return (int) Math.round(on(() -> desk.playback().seconds().get()) * rate);
    }

    @Test
    public void curvesOfTheJointInHandAreReadAndTheirKeysTakenOutByKeyboardAndMouse() throws Exception {
        openDemo();
        station(Station.MOTION);
        pickClip("punt");
        press("#time-curves");
        Node picture = find("#curves-picture");
        assertThat(on(picture::getAccessibleText)).contains("Pick a joint");
        clickJoint("left_upper_arm");
        focus(picture);
        hand.push(KeyCode.RIGHT);
        hand.push(KeyCode.RIGHT);
        assertThat(frame()).isEqualTo(3);
        hand.push(KeyCode.SHIFT, KeyCode.RIGHT);
        hand.push(KeyCode.SHIFT, KeyCode.RIGHT);
        quiet();
        assertThat(on(picture::getAccessibleText)).contains("frame 5", "frames 3 to 5.", "a key", "\u00b0");
        assertThat(((TextField) find("#trim-first")).getText()).isEqualTo("3");
        assertThat(((TextField) find("#keys-last")).getText()).isEqualTo("5");
        Clip before = clip("punt");
        int steps = on(() -> desk.history().done().size());
        focus(picture);
        hand.push(KeyCode.DELETE);
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(steps + 1);
        assertThat(last().step()).isEqualTo(new RemoveKeys("punt", "left_upper_arm", RemoveKeys.What.ROTATION, 3, 5));
        assertThat(clip("punt").keyCount()).isEqualTo(before.keyCount() - 3);
        assertThat(on(picture::getAccessibleText)).contains("no key");
        hand.push(KeyCode.CONTROL, KeyCode.LEFT);
        assertThat(frame()).as("the key before").isEqualTo(2);
        hand.push(KeyCode.CONTROL, KeyCode.RIGHT);
        assertThat(frame()).as("the key after the gap").isEqualTo(6);
        // The probe, which is held to an independent computation, finds the same as the curve of the error.
        Button worst = (Button) find("#error-worst");
        double metres = last().motion().orElseThrow().largestMetres();
        String most = on(() -> desk.outcomes().length(metres));
        assertThat(on(worst::getText)).contains(most).contains("frame 4");
        press("#error-worst");
        assertThat(frame()).isEqualTo(4);
        assertThat(on(() -> scene.getFocusOwner())).isSameAs(worst);
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        assertThat(on(worst::isDisabled)).isTrue();
        press("#curve-translation");
        quiet();
        assertThat(on(picture::getAccessibleText)).contains("punt has no keys of translation for left_upper_arm");
        clickJoint("hips");
        assertThat(on(picture::getAccessibleText)).contains("hips, Translation", "m");
        Point2D from = on(() -> picture.localToScreen(200, 60));
        Point2D to = on(() -> picture.localToScreen(300, 60));
        hand.moveTo(from);
        hand.press(MouseButton.PRIMARY);
        hand.moveTo(to);
        hand.release(MouseButton.PRIMARY);
        quiet();
        Playback.Frames taken = on(() -> desk.playback().range().get());
        assertThat(taken.last()).isGreaterThan(taken.first() + 5).isEqualTo(frame());
        act("trim-clip");
        assertThat(clip("punt").lastFrame()).isEqualTo(taken.last() - taken.first());
        assertThat(on(() -> desk.playback().range().get()))
                .as("these frames are no more")
                .isNull();
        assertThat(((TextField) find("#trim-first")).getText()).isEqualTo("0");
    }

    /** Model and clips as files of their own, and all of them opened together again. */
    @Test
    public void clipsAreDeliveredApartByHandAndPlayTogetherAgainAsBefore() throws Exception {
        openDemo();
        Asset meant = on(() -> desk.now());
        station(Station.DELIVERY);
        Path out = home.resolve("apart");
        type("#delivery-folder", out.toString());
        press("#delivery-apart");
        quiet();
        VBox planned = (VBox) find("#delivery-planned");
        List<String> listed = on(() -> planned.lookupAll(".label").stream()
                .map(l -> ((Label) l).getText())
                .toList());
        assertThat(Files.exists(out)).as("nothing is written before").isFalse();
        press("#deliver");
        quiet();
        List<Path> files = on(() -> desk.lastDelivery().orElseThrow().files());
        for (Path file : files) {
            assertThat(listed).contains(file.getFileName().toString(), Bytes.say(Files.size(file)));
        }
        assertThat(listed).contains("3 parts, no clips", "no parts, 1 clip");
        press("#delivery-report");
        quiet();
        assertThat(out.resolve("ferry-pilot_v001.report.html")).content().contains("ferry-pilot_v001_punt.glb");
        assertThat(files)
                .extracting(f -> f.getFileName().toString())
                .containsExactly(
                        "ferry-pilot_v001.glb",
                        "ferry-pilot_v001_idle.glb",
                        "ferry-pilot_v001_hail.glb",
                        "ferry-pilot_v001_punt.glb");
        assertThat(text("#delivery-verdict")).contains("as it was meant to");
        on(() -> {
            desk.files().open(files);
            return null;
        });
        quiet();
        Asset together = on(() -> desk.now());
        assertThat(together.clips()).extracting(Clip::name).containsExactly("idle", "hail", "punt");
        Motion apart = MotionProbe.compare(meant, together, Work.QUIET);
        assertThat(apart.moments()).isGreaterThan(200);
        assertThat(apart.largestMetres()).isLessThan(apart.toleranceMetres());
    }
}
