package org.cleanmarrow.desktop.station.intake;

import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.steps.intake.PaletteTexture;
import org.cleanmarrow.steps.intake.RelaxUvs;
import org.cleanmarrow.work.VertexSet;

/** Several flat colours into one picture, a material of its own for what is selected, and how it lies in its picture. */
final class MaterialSection extends VBox {
    private final Desk desk;
    private final TextField material = CombineSection.field("material-name", "combine.material", "");

    MaterialSection(Desk desk) {
        super(6);
        this.desk = desk;
        StepRow own = new StepRow(desk, "material-preview")
                .also("palette", "combine.palette", () -> new PaletteTexture("*", "palette"))
                .also("own-material", "combine.own", () -> own(false))
                .also("island-materials", "combine.islands", () -> own(true));
        ToggleButton beside = new ToggleButton(Labels.of("act.uvs"));
        beside.setId("uvs-beside");
        beside.selectedProperty().bindBidirectional(desk.seeing().uvs());
        StepRow relax = new StepRow(desk, "relax-preview").also("relax-uvs", "combine.relax", this::relax);
        getChildren().addAll(material, own, beside, relax);
    }

    private RelaxUvs relax() throws StepRow.Unclear {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("combine.choose");
        }
        var mesh = desk.now().meshes().get(chosen.mesh());
        return new RelaxUvs(desk.now().meshRef(chosen.mesh()), VertexSet.chosen(mesh, chosen.vertices()), 0);
    }

    private OwnMaterial own(boolean eachIsland) throws StepRow.Unclear {
        Selection.Chosen chosen = desk.selection().chosen().get();
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
                eachIsland);
    }
}
