package org.cleanmarrow.desktop.station.collision;

import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.LetGo;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.steps.collision.SimulateBodies;

/** Lets bodies go as one watches, to be drawn at in the view; what was done can be kept as a clip. */
final class TryByHand extends VBox {
    /** Where no clip says how long, it goes on for this long at most, seconds. */
    private static final double LONGEST = 120;

    private final Desk desk;
    private final Label line = Widgets.twoLines("try-said");

    /** What is let go, as it is typed. */
    interface How {
        SimulateBodies make(double longest) throws StepRow.Unclear;
    }

    TryByHand(Desk desk, How how) {
        super(2);
        this.desk = desk;
        LetGo letGo = desk.letGo();
        Button start = Widgets.button("try-bodies", "collision.try", () -> begin(how));
        Button stop = Widgets.button("try-stop", "collision.try.stop", letGo::stop);
        Button keep = Widgets.button(
                "try-keep", "collision.try.keep", () -> letGo.kept().ifPresent(desk::apply));
        stop.disableProperty().bind(letGo.running().not());
        keep.disableProperty().bind(letGo.running().or(letGo.frames().lessThan(1)));
        letGo.running().addListener((o, was, now) -> say());
        letGo.frames().addListener((o, was, now) -> say());
        FlowPane row = Widgets.row();
        row.getChildren().addAll(start, stop, keep);
        getChildren().addAll(line, row);
        say();
    }

    private void begin(How how) {
        try {
            desk.letGo().start(how.make(LONGEST));
        } catch (StepRow.Unclear e) {
            line.setText(e.getMessage());
        }
    }

    private void say() {
        int frames = desk.letGo().frames().get();
        line.setText(Labels.of(desk.letGo().running().get() ? "collision.trying" : "collision.tried", frames));
    }
}
