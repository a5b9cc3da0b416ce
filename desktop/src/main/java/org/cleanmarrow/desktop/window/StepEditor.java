package org.cleanmarrow.desktop.window;

import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepForm;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.work.Step;

/** The parameters of one recorded step, to be changed; the ledger then runs again. */
final class StepEditor extends VBox {
    private final Label trouble = Widgets.sentence("");

    private StepEditor(Desk desk, Layer layer, int index, String name, Step step) {
        super(8);
        setId("step-editor");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(460, VBox.USE_PREF_SIZE);
        Label title = new Label(name);
        title.getStyleClass().add("title");
        getChildren()
                .addAll(title, Widgets.sentence(StepCodec.info(step.getClass()).says()));
        StepForm form = new StepForm(desk, step);
        getChildren().add(form);
        trouble.getStyleClass().add("trouble");
        trouble.setManaged(false);
        var apply = Widgets.mainButton("editor-apply", "editor.apply", () -> {
            try {
                Step changed = form.step();
                layer.hide();
                desk.replaceStep(index, changed);
            } catch (BadJson e) {
                trouble.setManaged(true);
                trouble.setText(e.getMessage());
            }
        });
        getChildren()
                .addAll(trouble, Widgets.row(apply, Widgets.button("editor-cancel", "editor.cancel", layer::hide)));
        addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.ESCAPE) {
                layer.hide();
                e.consume();
            }
        });
    }

    /** Opens the editor for a step of the desk's ledger. */
    static void open(Desk desk, Layer layer, int index, String name) {
        Step step = desk.history().ledger().entries().get(index).step();
        StepEditor editor = new StepEditor(desk, layer, index, name, step);
        layer.show(editor, Pos.BOTTOM_CENTER, new Insets(0, 0, 86, 0));
        editor.requestFocus();
    }
}
