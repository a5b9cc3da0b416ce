package org.cleanmarrow.desktop.station.motion;

import java.util.List;
import java.util.OptionalDouble;
import javafx.scene.control.TextField;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.CloseLoop;
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
    private final TextField first = field("trim-first", "0");
    private final TextField last = field("trim-last", "0");
    private final TextField ranges = field("split-ranges", "");
    private final TextField shift = field("shift-frames", "0");
    private final TextField rate = field("resample-rate", "30");
    private final TextField millimetres = field("reduce-millimetres", "0.5");
    private final TextField lead = field("lead-in-frames", "12");
    private final TextField seam = field("loop-frames", "8");
    private String shown = "";

    ClipActs(Desk desk) {
        this.desk = desk;
        ranges.setPromptText(Labels.of("motion.ranges.prompt"));
    }

    private static TextField field(String id, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        return field;
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
                                                () -> new ShiftClip(pattern(), whole(shift))),
                                Widgets.labelled("motion.ranges", ranges),
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
                                                () -> new Resample(pattern(), number(rate)))
                                        .also("bake", "motion.bake", () -> new Bake(pattern())),
                                Widgets.labelled("motion.reduce.bound", millimetres),
                                new StepRow(desk, "reduce-preview")
                                        .main(
                                                "reduce-keys",
                                                "motion.reduce",
                                                () -> new ReduceKeys(pattern(), number(millimetres)))
                                        .also(
                                                "rotation-only",
                                                "motion.rotation",
                                                () -> new RotationOnly(pattern(), "")))
                        .says(() -> clip() == null ? "" : Labels.of("motion.keys", clip().keyCount())),
                new Act(
                                "motion-ends",
                                Widgets.labelled("motion.lead.frames", lead),
                                new StepRow(desk, "lead-in-preview")
                                        .main("lead-in", "motion.lead", () -> new LeadIn(pattern(), whole(lead)))
                                        .also(
                                                "remove-lead-in",
                                                "motion.lead.remove",
                                                () -> new RemoveLeadIn(pattern(), whole(lead))),
                                Widgets.labelled("motion.loop.frames", seam),
                                new StepRow(desk, "loop-preview")
                                        .also("close-loop", "motion.loop", () -> new CloseLoop(pattern(), whole(seam)))
                                        .also("plays-round", "motion.plays.round", () -> new SetLoop(pattern(), true))
                                        .also("plays-once", "motion.plays.once", () -> new SetLoop(pattern(), false)))
                        .says(() -> clip() != null && clip().loop() ? Labels.of("motion.loops") : ""));
    }

    /** The clip in hand; null where none is. */
    Clip clip() {
        return desk.playback().picked(desk.now()).orElse(null);
    }

    private String range() {
        Clip clip = clip();
        return clip == null ? "" : clip.firstFrame() + " .. " + clip.lastFrame();
    }

    /** The range of another clip, or of one that was changed; what was typed for this one stays. */
    private void showRange() {
        Clip clip = clip();
        String now = clip == null ? "" : clip.name() + " " + range();
        if (!now.equals(shown)) {
            shown = now;
            first.setText(clip == null ? "" : Integer.toString(clip.firstFrame()));
            last.setText(clip == null ? "" : Integer.toString(clip.lastFrame()));
        }
    }

    private String name() throws StepRow.Unclear {
        if (clip() == null) {
            throw new StepRow.Unclear("motion.pick");
        }
        return clip().name();
    }

    private String pattern() throws StepRow.Unclear {
        return NamePattern.exactly(name());
    }

    private TrimClip trim() throws StepRow.Unclear {
        return new TrimClip(name(), whole(first), whole(last), true);
    }

    private SplitClip split(boolean keep) throws StepRow.Unclear {
        if (ranges.getText().isBlank()) {
            throw new StepRow.Unclear("motion.ranges.prompt");
        }
        return new SplitClip(name(), ranges.getText().strip(), keep);
    }

    private static double number(TextField field) throws StepRow.Unclear {
        OptionalDouble value = Lengths.number(field.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("motion.number", field.getText());
        }
        return value.getAsDouble();
    }

    private static int whole(TextField field) throws StepRow.Unclear {
        double value = number(field);
        if (value != Math.rint(value) || Math.abs(value) > 1e6) {
            throw new StepRow.Unclear("motion.whole", field.getText());
        }
        return (int) value;
    }
}
