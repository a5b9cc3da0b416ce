package org.cleanmarrow.desktop.station;

import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.steps.intake.Combine;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.steps.intake.PaletteTexture;
import org.cleanmarrow.steps.intake.ShareDuplicates;
import org.cleanmarrow.steps.intake.Triangulate;
import org.cleanmarrow.work.VertexSet;

/** Several parts into one, several flat colours into one picture, a material for a shell. */
final class CombineSection extends VBox {
    private final Desk desk;
    private final TextField parts = field("combine-parts", "combine.parts", "*");
    private final TextField name = field("combine-name", "combine.name", "");
    private final TextField material = field("material-name", "combine.material", "");

    CombineSection(Desk desk) {
        super(6);
        this.desk = desk;
        HBox what = new HBox(6, parts, name);
        HBox.setHgrow(parts, Priority.ALWAYS);
        HBox.setHgrow(name, Priority.ALWAYS);
        StepRow combine = new StepRow(desk, "combine-preview")
                .main(
                        "combine",
                        "combine.act",
                        () -> new Combine(parts.getText(), name.getText().strip()))
                .also("palette", "combine.palette", () -> new PaletteTexture(parts.getText(), "palette"))
                .also("share-duplicates", "combine.duplicates", ShareDuplicates::new)
                .also("triangulate", "combine.triangulate", Triangulate::new);
        StepRow own = new StepRow(desk, "material-preview")
                .also("own-material", "combine.own", () -> own(false))
                .also("shell-materials", "combine.shells", () -> own(true));
        getChildren().addAll(what, combine, material, own);
    }

    private static TextField field(String id, String key, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        field.setPrefColumnCount(8);
        field.setPromptText(Labels.of(key));
        field.setAccessibleText(Labels.of(key));
        return field;
    }

    private OwnMaterial own(boolean eachShell) throws StepRow.Unclear {
        Desk.Chosen chosen = desk.chosen().get();
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("combine.choose");
        }
        if (material.getText().isBlank()) {
            throw new StepRow.Unclear("combine.material.empty");
        }
        var mesh = desk.now().meshes().get(chosen.mesh());
        return new OwnMaterial(
                desk.now().meshRef(chosen.mesh()),
                VertexSet.chosen(mesh, chosen.vertices()),
                material.getText().strip(),
                eachShell);
    }
}
