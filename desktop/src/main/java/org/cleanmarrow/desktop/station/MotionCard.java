package org.cleanmarrow.desktop.station;

import java.util.Locale;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.motion.RemoveLostChannels;

/** The clips, and channels that move nothing here. */
final class MotionCard extends StationCard {
    MotionCard(Desk desk) {
        super(desk);
    }

    @Override
    void fill() {
        title("station.motion", Labels.of("motion.what", desk.now().clips().size()));
        long lost = 0;
        for (Clip clip : desk.now().clips()) {
            lost += clip.channels().stream().filter(RemoveLostChannels::isLost).count();
            put(Widgets.heading("motion.clip", clip.name()));
            fact("motion.frames", clip.firstFrame() + " .. " + clip.lastFrame());
            fact("motion.rate", String.format(Locale.ROOT, "%.4g", clip.rate()));
            fact("motion.length", String.format(Locale.ROOT, "%.3f s", clip.seconds()));
            fact("motion.channels", Integer.toString(clip.channels().size()));
        }
        heading("motion.lost");
        if (lost == 0) {
            sentence("motion.lost.none");
        } else {
            sentence("motion.lost.some", lost);
        }
        var remove = Widgets.mainButton("remove-lost", "motion.lost.act", () -> desk.apply(new RemoveLostChannels()));
        remove.setDisable(lost == 0);
        put(Widgets.row(remove));
    }
}
