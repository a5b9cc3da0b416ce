package org.cleanmarrow.desktop.station.intake;

import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.steps.intake.Combine;

/** Several parts into one. */
final class CombineSection extends VBox {
    private final TextField parts = field("combine-parts", "combine.parts", "*");
    private final TextField name = field("combine-name", "combine.name", "");

    CombineSection(Desk desk) {
        super(6);
        HBox what = new HBox(6, parts, name);
        HBox.setHgrow(parts, Priority.ALWAYS);
        HBox.setHgrow(name, Priority.ALWAYS);
        StepRow combine = new StepRow(desk, "combine-preview")
                .main(
                        "combine",
                        "combine.act",
                        () -> new Combine(parts.getText(), name.getText().strip()));
        getChildren().addAll(what, combine);
    }

    static TextField field(String id, String key, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        field.setPrefColumnCount(8);
        field.setPromptText(Labels.of(key));
        field.setAccessibleText(Labels.of(key));
        return field;
    }
}
