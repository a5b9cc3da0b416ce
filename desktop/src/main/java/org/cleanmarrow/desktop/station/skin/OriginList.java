package org.cleanmarrow.desktop.station.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.TransferWeights;

/**
 * Where the weights of a transfer come from, before it is done: how many vertices from which mesh, filled in, or as the nearest; each
 * is selected by a click. And the regions of the body that it is taken to be worn on, each changed by a click.
 */
final class OriginList extends VBox {
    private final Desk desk;
    private final Maker maker;
    private final NameField on;
    private final FlowPane parts = Widgets.row();
    private final FlowPane regions = Widgets.row();

    /** The transfer as it is typed. */
    interface Maker {
        TransferWeights make() throws StepRow.Unclear;
    }

    /** @param on where regions are typed */
    OriginList(Desk desk, Maker maker, NameField on) {
        super(4);
        this.desk = desk;
        this.maker = maker;
        this.on = on;
        parts.setId("transfer-parts");
        regions.setId("transfer-regions");
        desk.asset().addListener((o, a, b) -> forget());
        getChildren()
                .addAll(Widgets.row(Widgets.button("transfer-origin", "transfer.origin", this::look)), parts, regions);
    }

    private void forget() {
        parts.getChildren().clear();
        regions.getChildren().clear();
    }

    private void look() {
        try {
            TransferWeights step = maker.make();
            Asset asset = desk.now();
            desk.jobs().tryOut(w -> step.origin(asset, w), found -> show(asset, step.to(), found), () -> {});
        } catch (StepRow.Unclear e) {
            parts.getChildren().setAll(new Label(e.getMessage()));
        }
    }

    private void show(Asset asset, String to, TransferWeights.Origin found) {
        if (asset != desk.now()) {
            return;
        }
        int mesh = asset.findMesh(to);
        List<Node> all = new ArrayList<>();
        found.from().forEach((giver, vertices) -> all.add(part("transfer-from-" + giver, giver, mesh, vertices)));
        all.add(part("transfer-filled", Labels.of("transfer.filled"), mesh, found.filled()));
        all.add(part("transfer-rigid", Labels.of("transfer.rigid"), mesh, found.rigid()));
        parts.getChildren().setAll(all);
        Set<BodyRegion> chosen = found.on().isEmpty() ? EnumSet.noneOf(BodyRegion.class) : EnumSet.copyOf(found.on());
        regions.getChildren().setAll(new Label(Labels.of("transfer.on")));
        for (BodyRegion region : found.on()) {
            ToggleButton toggle =
                    new ToggleButton(Labels.of("region.kind." + region.name().toLowerCase(Locale.ROOT)));
            toggle.setId("worn-on-" + region.code());
            toggle.setSelected(true);
            toggle.selectedProperty().addListener((o, was, is) -> {
                if (is) {
                    chosen.add(region);
                } else {
                    chosen.remove(region);
                }
                on.setText(chosen.stream().map(BodyRegion::code).collect(Collectors.joining(", ")));
            });
            regions.getChildren().add(toggle);
        }
    }

    /** A word and a number, which select what they are of. */
    private Button part(String id, String name, int mesh, BitSet vertices) {
        Button out = new Button(Labels.of("transfer.part", name, vertices.cardinality()));
        out.setId(id);
        out.setDisable(vertices.isEmpty());
        out.setOnAction(e -> desk.selection().choose(mesh, (BitSet) vertices.clone()));
        return out;
    }
}
