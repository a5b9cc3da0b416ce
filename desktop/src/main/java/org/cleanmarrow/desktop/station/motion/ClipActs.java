package org.cleanmarrow.desktop.station.motion;

import static org.cleanmarrow.desktop.station.motion.ClipInHand.field;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.number;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.text;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.whole;

import java.util.List;
import java.util.Optional;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.measure.Seam;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.steps.motion.FitTranslations;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.RemoveLeadIn;
import org.cleanmarrow.steps.motion.Resample;
import org.cleanmarrow.steps.motion.RotationOnly;
import org.cleanmarrow.steps.motion.SetLoop;
import org.cleanmarrow.steps.motion.ShiftClip;
import org.cleanmarrow.steps.motion.SplitClip;
import org.cleanmarrow.steps.motion.TrimClip;

/** What is done to the clip in hand: its range, its keys, its beginning and its end. */
final class ClipActs {
    private final Desk desk;
    private final ClipInHand hand;
    private final TextField first = field("trim-first", "0");
    private final TextField last = field("trim-last", "0");
    private final TextField ranges = field("split-ranges", "");
    private final TextField shift = field("shift-frames", "0");
    private final TextField rate = field("resample-rate", "30");
    private final TextField millimetres = field("reduce-millimetres", "0.5");
    private final TextField lead = field("lead-in-frames", "12");
    private final TextField seam = field("loop-frames", "8");
    private final Label jump = new Label();
    private final Label faster = new Label();
    private final Label turn = new Label();
    private final Button addFrames = Widgets.button("add-frames", "motion.ranges.add", this::addFrames);
    private String shown = "";

    ClipActs(Desk desk, ClipInHand hand) {
        this.desk = desk;
        this.hand = hand;
        ranges.setPromptText(Labels.of("motion.ranges.prompt"));
        Tips.say(addFrames, Labels.of("motion.ranges.how"));
    }

    List<Act> all() {
        return List.of(
                new Act(
                                "motion-range",
                                Widgets.labelled("motion.first", first),
                                Widgets.labelled("motion.last", last),
                                new StepRow(desk, "trim-preview").main("trim-clip", "motion.trim", this::trim),
                                Widgets.labelled("motion.shift.frames", shift),
                                new StepRow(desk, "shift-preview")
                                        .also(
                                                "shift-clip",
                                                "motion.shift",
                                                () -> new ShiftClip(hand.pattern(), whole(shift))),
                                Widgets.labelled("motion.ranges", ranges),
                                addFrames,
                                new StepRow(desk, "split-preview")
                                        .also("split-clip", "motion.split", () -> split(false))
                                        .also("split-keep", "motion.split.keep", () -> split(true)))
                        .refreshing(this::showRange)
                        .says(this::range),
                new Act(
                                "motion-keys",
                                Widgets.labelled("motion.resample.rate", rate),
                                new StepRow(desk, "resample-preview")
                                        .also(
                                                "resample",
                                                "motion.resample",
                                                () -> new Resample(hand.pattern(), number(rate)))
                                        .also("bake", "motion.bake", () -> new Bake(hand.pattern())),
                                Widgets.labelled("motion.reduce.bound", millimetres),
                                new StepRow(desk, "reduce-preview")
                                        .main(
                                                "reduce-keys",
                                                "motion.reduce",
                                                () -> new ReduceKeys(hand.pattern(), number(millimetres)))
                                        .also(
                                                "reduce-splines",
                                                "motion.reduce.splines",
                                                () -> new ReduceKeys(
                                                        hand.pattern(), number(millimetres), ReduceKeys.Between.CUBIC))
                                        .also(
                                                "rotation-only",
                                                "motion.rotation",
                                                () -> new RotationOnly(hand.pattern(), ""))
                                        .also(
                                                "fit-translations",
                                                "motion.fit",
                                                () -> new FitTranslations(hand.pattern(), "")))
                        .says(() -> hand.clip() == null
                                ? ""
                                : Labels.of("motion.keys", hand.clip().keyCount())),
                new Act(
                                "motion-ends",
                                Widgets.labelled("motion.lead.frames", lead),
                                new StepRow(desk, "lead-in-preview")
                                        .main("lead-in", "motion.lead", () -> new LeadIn(hand.pattern(), whole(lead)))
                                        .also(
                                                "remove-lead-in",
                                                "motion.lead.remove",
                                                () -> new RemoveLeadIn(hand.pattern(), whole(lead))),
                                Widgets.fact("motion.seam", jump),
                                Widgets.fact("motion.seam.speed", faster),
                                Widgets.fact("motion.seam.turn", turn),
                                Widgets.labelled("motion.loop.frames", seam),
                                new StepRow(desk, "loop-preview")
                                        .also(
                                                "close-loop",
                                                "motion.loop",
                                                () -> new CloseLoop(hand.pattern(), whole(seam)))
                                        .also(
                                                "plays-round",
                                                "motion.plays.round",
                                                () -> new SetLoop(hand.pattern(), true))
                                        .also(
                                                "plays-once",
                                                "motion.plays.once",
                                                () -> new SetLoop(hand.pattern(), false)))
                        .refreshing(this::showSeam)
                        .says(() -> hand.clip() != null && hand.clip().loop() ? Labels.of("motion.loops") : ""));
    }

    /** What the clip in hand does where it begins again, whether it is to or not. */
    private void showSeam() {
        Clip clip = hand.clip();
        Asset asset = desk.now();
        Optional<Seam> found =
                clip == null ? Optional.empty() : desk.figures().of("seam", asset, clip, w -> Seam.of(asset, clip, w));
        jump.setText(found.map(s -> desk.outcomes().length(s.metres())).orElse("–"));
        faster.setText(found.map(
                        s -> Labels.of("motion.a.second", desk.outcomes().length(s.metresPerSecond())))
                .orElse("–"));
        turn.setText(found.map(s -> Labels.of("motion.degrees.a.second", Math.round(s.degreesPerSecond())))
                .orElse("–"));
    }

    private String range() {
        Clip clip = hand.clip();
        return clip == null ? "" : clip.firstFrame() + " .. " + clip.lastFrame();
    }

    /** The range of another clip, of one that was changed, or the frames in hand; what was typed for these stays. */
    private void showRange() {
        Clip clip = hand.clip();
        Playback.Frames frames = hand.frames();
        addFrames.setDisable(desk.playback().range().get() == null);
        String now = clip == null ? "" : clip.name() + " " + range() + " " + frames;
        if (!now.equals(shown)) {
            shown = now;
            first.setText(frames == null ? "" : Integer.toString(frames.first()));
            last.setText(frames == null ? "" : Integer.toString(frames.last()));
        }
    }

    /** Puts the frames in hand behind the ranges to split by, under a name that can be typed over. */
    private void addFrames() {
        Playback.Frames frames = desk.playback().range().get();
        if (frames != null) {
            String before = ranges.getText().strip();
            long many =
                    before.isEmpty() ? 0 : before.chars().filter(c -> c == ',').count() + 1;
            String added = Labels.of("motion.ranges.part", many + 1, frames.first(), frames.last());
            ranges.setText(before.isEmpty() ? added : before + ", " + added);
        }
    }

    private TrimClip trim() throws StepRow.Unclear {
        return new TrimClip(hand.name(), whole(first), whole(last), true);
    }

    private SplitClip split(boolean keep) throws StepRow.Unclear {
        return new SplitClip(hand.name(), text(ranges, "motion.ranges.prompt"), keep);
    }
}
