package org.cleanmarrow.desktop.station.motion;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.scene.control.Label;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.motion.RemoveLostChannels;

/** The clips, and channels that move nothing here. */
public final class MotionStation extends StationDef {
    private final Label frames = new Label();
    private final Label rate = new Label();
    private final Label length = new Label();
    private final Label channels = new Label();
    private final ClipInHand hand;
    private final Label lost = Widgets.sentence("");

    public MotionStation(Desk desk) {
        super(Station.MOTION, desk);
        hand = new ClipInHand(desk);
        List<Act> acts = new ArrayList<>();
        acts.add(new Act(
                        "motion-clip",
                        Widgets.fact("motion.frames", frames),
                        Widgets.fact("motion.rate", rate),
                        Widgets.fact("motion.length", length),
                        Widgets.fact("motion.channels", channels))
                .refreshing(this::describe)
                .says(() -> clip() == null ? Labels.of("motion.clip.none") : Widgets.shortened(clip().name()))
                .opened());
        acts.addAll(new ClipActs(desk, hand).all());
        acts.addAll(new PartActs(desk, hand).all());
        acts.add(new Act(
                        "motion-lost",
                        lost,
                        new StepRow(desk, "lost-preview")
                                .main("remove-lost", "motion.lost.act", RemoveLostChannels::new))
                .refreshing(this::sayLost)
                .says(() -> Long.toString(lost())));
        acts.add(StepsAct.of(desk, "motion-steps", "motion"));
        consistOf(acts, List.of(), Piece.CLIPS, Piece.JOINTS);
    }

    private Clip clip() {
        return hand.clip();
    }

    private long lost() {
        Asset asset = desk.now();
        return desk.facts()
                .of(
                        "lost channels",
                        asset,
                        w -> asset.clips().stream()
                                .flatMap(c -> c.channels().stream())
                                .filter(RemoveLostChannels::isLost)
                                .count())
                .orElse(0L);
    }

    private void describe() {
        Clip clip = clip();
        frames.setText(clip == null ? "–" : clip.firstFrame() + " .. " + clip.lastFrame());
        rate.setText(clip == null ? "–" : String.format(Locale.ROOT, "%.4g", clip.rate()));
        length.setText(clip == null ? "–" : String.format(Locale.ROOT, "%.3f s", clip.seconds()));
        channels.setText(clip == null ? "–" : Integer.toString(clip.channels().size()));
    }

    private void sayLost() {
        lost.setText(lost() == 0 ? Labels.of("motion.lost.none") : Labels.of("motion.lost.some", lost()));
    }

    @Override
    public String facts() {
        return Labels.of("motion.what", desk.now().clips().size());
    }
}
