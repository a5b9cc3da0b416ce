package org.cleanmarrow.desktop.station.motion;

import static org.cleanmarrow.desktop.station.motion.ClipInHand.field;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.number;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.text;
import static org.cleanmarrow.desktop.station.motion.ClipInHand.whole;

import java.util.List;
import java.util.Locale;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.BranchClips;
import org.cleanmarrow.steps.motion.DuplicateClip;
import org.cleanmarrow.steps.motion.HideByScale;
import org.cleanmarrow.steps.motion.HoldClip;
import org.cleanmarrow.steps.motion.JoinClips;
import org.cleanmarrow.steps.motion.MaskClip;
import org.cleanmarrow.steps.motion.MergeClips;
import org.cleanmarrow.steps.motion.RemoveKeys;
import org.cleanmarrow.steps.motion.Retime;
import org.cleanmarrow.steps.motion.ReverseClip;
import org.cleanmarrow.steps.motion.TagClips;

/** Clips made of the clip in hand and others, and what the joint in hand does in it. */
final class PartActs {
    private final Desk desk;
    private final ClipInHand hand;
    private final TextField speed = field("retime-speed", "1");
    private final TextField held = field("hold-frames", "12");
    private final TextField copy = field("duplicate-name", "");
    private final TextField tags = field("clip-tags", "");
    private String tagged = "";
    private final TextField others = field("join-others", "");
    private final TextField made = field("join-name", "");
    private final TextField gap = field("join-gap", "1");
    private final TextField hidden = field("hide-ranges", "");
    private final ComboBox<RemoveKeys.What> property = new ComboBox<>();
    private final TextField first = field("keys-first", "");
    private final TextField last = field("keys-last", "");
    private Playback.Frames shown;

    PartActs(Desk desk, ClipInHand hand) {
        this.desk = desk;
        this.hand = hand;
        others.setPromptText(Labels.of("motion.others.prompt"));
        hidden.setPromptText(Labels.of("motion.hide.prompt"));
        property.setId("keys-property");
        property.getItems().setAll(RemoveKeys.What.values());
        property.setConverter(Widgets.shown(w -> Labels.of("curves." + w.name().toLowerCase(Locale.ROOT))));
        property.setValue(RemoveKeys.What.ALL);
    }

    List<Act> all() {
        return List.of(
                new Act(
                                "motion-whole",
                                Widgets.labelled("motion.speed", speed),
                                new StepRow(desk, "retime-preview")
                                        .also(
                                                "retime",
                                                "motion.retime",
                                                () -> new Retime(hand.pattern(), number(speed)))
                                        .also("reverse-clip", "motion.reverse", () -> new ReverseClip(hand.pattern())),
                                Widgets.labelled("motion.hold.frames", held),
                                new StepRow(desk, "hold-preview")
                                        .also("hold-start", "motion.hold.start", () -> hold(HoldClip.Where.START))
                                        .also("hold-end", "motion.hold.end", () -> hold(HoldClip.Where.END)),
                                Widgets.labelled("motion.copy", copy),
                                new StepRow(desk, "duplicate-preview")
                                        .also(
                                                "duplicate-clip",
                                                "motion.duplicate",
                                                () -> new DuplicateClip(hand.name(), text(copy, "motion.name.none"))),
                                Widgets.labelled("motion.tags", tags),
                                new StepRow(desk, "tag-preview")
                                        .also(
                                                "tag-clips",
                                                "motion.tag",
                                                () -> new TagClips(hand.pattern(), tags.getText())))
                        .refreshing(this::showTags)
                        .says(this::saidTags),
                new Act(
                        "motion-together",
                        Widgets.labelled("motion.others", others),
                        Widgets.labelled("motion.made", made),
                        Widgets.labelled("motion.gap", gap),
                        new StepRow(desk, "join-preview")
                                .also(
                                        "join-clips",
                                        "motion.join",
                                        () -> new JoinClips(clips(), text(made, "motion.name.none"), whole(gap), true))
                                .also(
                                        "merge-clips",
                                        "motion.merge",
                                        () -> new MergeClips(clips(), text(made, "motion.name.none"), true))),
                new Act(
                                "motion-parts",
                                new StepRow(desk, "mask-preview")
                                        .also("mask-inside", "motion.mask.inside", () -> mask(true))
                                        .also("mask-outside", "motion.mask.outside", () -> mask(false))
                                        .also("branch-clips", "motion.branch", this::branch),
                                Widgets.labelled("motion.hide.ranges", hidden),
                                new StepRow(desk, "hide-preview")
                                        .also(
                                                "hide-by-scale",
                                                "motion.hide",
                                                () -> new HideByScale(
                                                        joint(),
                                                        hand.name(),
                                                        hidden.getText().strip())),
                                Widgets.labelled("motion.keys.of", property),
                                Widgets.labelled("motion.keys.first", first),
                                Widgets.labelled("motion.keys.last", last),
                                new StepRow(desk, "keys-preview")
                                        .also("remove-keys", "motion.keys.remove", this::removeKeys))
                        .refreshing(this::showFrames)
                        .says(() -> Widgets.shortened(desk.selection().joint().get())));
    }

    private String saidTags() {
        return hand.clip() == null ? "" : String.join(", ", hand.clip().tags());
    }

    private void showTags() {
        String now = hand.clip() == null ? "" : hand.clip().name() + " " + saidTags();
        if (!now.equals(tagged)) {
            tagged = now;
            tags.setText(saidTags());
        }
    }

    private void showFrames() {
        Playback.Frames now = hand.frames();
        if (now != null && !now.equals(shown)) {
            shown = now;
            first.setText(Integer.toString(now.first()));
            last.setText(Integer.toString(now.last()));
        }
    }

    private RemoveKeys removeKeys() throws StepRow.Unclear {
        return new RemoveKeys(hand.name(), joint(), property.getValue(), whole(first), whole(last));
    }

    private HoldClip hold(HoldClip.Where where) throws StepRow.Unclear {
        return new HoldClip(hand.pattern(), whole(held), where);
    }

    /** The clip in hand, and then those that were typed. */
    private String clips() throws StepRow.Unclear {
        return hand.name() + ", " + text(others, "motion.others.none");
    }

    private MaskClip mask(boolean inside) throws StepRow.Unclear {
        return new MaskClip(hand.pattern(), NamePattern.exactly(joint()), inside);
    }

    private BranchClips branch() throws StepRow.Unclear {
        return new BranchClips(hand.pattern(), NamePattern.exactly(joint()), false);
    }

    private String joint() throws StepRow.Unclear {
        if (desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("motion.joint.none");
        }
        return desk.selection().joint().get();
    }
}
