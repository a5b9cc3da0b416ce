package org.cleanmarrow.desktop.station;

import javafx.scene.control.Slider;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;

/** How far a trial pose is gone into, from its first stop to its last; moves the time of the desk. */
public final class TrialSlider extends Slider {
    private final Desk desk;

    public TrialSlider(Desk desk, String id) {
        super(0, 1, 1);
        this.desk = desk;
        setId(id);
        setAccessibleText(Labels.of("trial.how.far"));
        setMaxWidth(Double.MAX_VALUE);
        setBlockIncrement(0.1);
        valueProperty().addListener((o, a, b) -> {
            if (desk.playback().trial().get() != null
                    && desk.playback().seconds().get() != b.doubleValue()) {
                desk.playback().seconds().set(b.doubleValue());
            }
        });
        desk.playback().seconds().addListener((o, a, b) -> follow());
        desk.playback().trial().addListener((o, a, b) -> follow());
        follow();
    }

    private void follow() {
        setDisable(desk.playback().trial().get() == null);
        if (desk.playback().trial().get() != null) {
            setValue(desk.playback().seconds().get());
        }
    }
}
