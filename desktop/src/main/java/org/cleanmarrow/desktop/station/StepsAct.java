package org.cleanmarrow.desktop.station;

import java.util.List;
import java.util.Optional;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.steps.Steps;
import org.cleanmarrow.work.Step;

/** Every step of a station with all of its parameters, for what no form of one's own was made. */
public final class StepsAct {
    private StepsAct() {}

    /** @param folder of the station's steps, such as {@code skin} */
    public static Act of(Desk desk, String id, String folder) {
        List<Class<? extends Step>> kinds = Steps.ALL.stream()
                .filter(k -> k.getPackageName().endsWith(".steps." + folder))
                .toList();
        ComboBox<Class<? extends Step>> which = new ComboBox<>();
        which.setId(id + "-which");
        which.setAccessibleText(Labels.of("form.step"));
        which.setMaxWidth(Double.MAX_VALUE);
        which.getItems().setAll(kinds);
        which.setConverter(Widgets.shown(k -> StepCodec.info(k).name()));
        Label says = Widgets.sentence("");
        says.getStyleClass().add("ink-2");
        VBox form = new VBox();
        Label line = Widgets.twoLines(id + "-preview");
        StepForm[] shown = new StepForm[1];
        Button apply = Widgets.mainButton(
                id + "-apply", "form.apply", () -> made(shown[0], line).ifPresent(desk::apply));
        apply.setDisable(true);
        desk.foreteller().on(apply, () -> made(shown[0], line), line::setText);
        which.valueProperty().addListener((o, a, kind) -> {
            shown[0] = new StepForm(desk, kind);
            says.setText(StepCodec.info(kind).says());
            form.getChildren().setAll(shown[0]);
            apply.setDisable(false);
        });
        FlowPane row = Widgets.row(apply);
        row.setAlignment(Pos.CENTER_RIGHT);
        return new Act(id, Widgets.labelled("form.step", which), says, form, line, row)
                .says(() -> Integer.toString(kinds.size()));
    }

    private static Optional<Step> made(StepForm form, Label line) {
        try {
            return form == null ? Optional.empty() : Optional.of(form.step());
        } catch (BadJson e) {
            line.setText(e.getMessage());
            return Optional.empty();
        }
    }
}
