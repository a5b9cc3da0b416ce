package org.cleanmarrow.desktop.station.motion;

import java.util.OptionalDouble;
import javafx.scene.control.TextField;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;

/** The clip that is picked, as steps name it, and what is typed for them. */
final class ClipInHand {
    private final Desk desk;

    ClipInHand(Desk desk) {
        this.desk = desk;
    }

    static TextField field(String id, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        return field;
    }

    /** Null where none is picked. */
    Clip clip() {
        return desk.playback().picked(desk.now()).orElse(null);
    }

    /** The frames in hand, or else all of the clip; null where none is picked. */
    Playback.Frames frames() {
        Playback.Frames taken = desk.playback().range().get();
        Clip clip = clip();
        return clip == null || taken != null ? taken : new Playback.Frames(clip.firstFrame(), clip.lastFrame());
    }

    String name() throws StepRow.Unclear {
        if (clip() == null) {
            throw new StepRow.Unclear("motion.pick");
        }
        return clip().name();
    }

    /** A pattern that fits it alone. */
    String pattern() throws StepRow.Unclear {
        return NamePattern.exactly(name());
    }

    static double number(TextField field) throws StepRow.Unclear {
        OptionalDouble value = Lengths.number(field.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("motion.number", field.getText());
        }
        return value.getAsDouble();
    }

    static int whole(TextField field) throws StepRow.Unclear {
        double value = number(field);
        if (value != Math.rint(value) || Math.abs(value) > 1e6) {
            throw new StepRow.Unclear("motion.whole", field.getText());
        }
        return (int) value;
    }

    /** What is typed; nothing is unclear. */
    static String text(TextField field, String otherwise) throws StepRow.Unclear {
        if (field.getText().isBlank()) {
            throw new StepRow.Unclear(otherwise);
        }
        return field.getText().strip();
    }
}
