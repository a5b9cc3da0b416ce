package org.cleanmarrow.desktop.station.caches;

import java.util.ArrayList;
import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.cloth.Fabric;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.BrushFields;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.steps.caches.SimulateCloth;
import org.cleanmarrow.work.VertexSet;

/** Cloth: what a part is like, which of its vertices are pinned or free, and letting it hang and swing over a clip. */
final class ClothForm {
    private final Desk desk;
    private final Fields fields;
    private final TextField mesh;
    private final TextField reach;
    private final TextField thickness;
    private final TextField substeps;
    private final CheckBox itself = new CheckBox(Labels.of("caches.itself"));
    private final TextField stray;
    private final TextField rings;
    private final TextField clip;
    private final Node[] brush;

    ClothForm(Desk desk, Fields fields, ViewportPane viewport) {
        this.desk = desk;
        this.fields = fields;
        mesh = fields.names("cloth-mesh", fields::meshes, "");
        reach = fields.number("cloth-reach", String.valueOf(Fabric.PLAIN.reach()));
        thickness = fields.number("cloth-thickness", "5");
        substeps = fields.number("cloth-substeps", String.valueOf(Fabric.PLAIN.substeps()));
        itself.setId("cloth-itself");
        stray = fields.number("cloth-stray", "0");
        rings = fields.number("cloth-rings", "6");
        clip = fields.names("cloth-clip", fields::clips, "");
        brush = BrushFields.form("stray", desk, viewport, ShadingMode.STRAY);
    }

    Node[] form() {
        List<Node> all = new ArrayList<>(List.of(
                Widgets.labelled("caches.mesh", mesh),
                Widgets.labelled("caches.reach", reach),
                Widgets.labelled("caches.cloth.thickness", thickness),
                Widgets.labelled("caches.substeps", substeps),
                itself,
                new StepRow(desk, "cloth-preview").also("set-cloth", "caches.cloth", this::setting),
                Widgets.labelled("caches.stray", stray),
                Widgets.labelled("caches.rings", rings),
                new StepRow(desk, "stray-preview").also("set-stray", "caches.stray.set", this::straying)));
        all.addAll(List.of(brush));
        all.addAll(List.of(
                Widgets.labelled("caches.clip", clip),
                new StepRow(desk, "simulate-preview").also("simulate-cloth", "caches.simulate", this::simulating)));
        return all.toArray(Node[]::new);
    }

    private SetCloth setting() throws StepRow.Unclear {
        Fabric p = Fabric.PLAIN;
        return new SetCloth(
                fields.said(mesh),
                fields.value(reach),
                fields.value(thickness),
                p.stretch(),
                p.bend(),
                p.damping(),
                p.friction(),
                p.gravity(),
                (int) fields.value(substeps),
                itself.isSelected(),
                true);
    }

    /** On the selected vertices, where some of the mesh are. */
    private SetStray straying() throws StepRow.Unclear {
        String name = fields.said(mesh);
        Selection.Chosen chosen = desk.selection().chosen().get();
        Asset now = desk.now();
        if (chosen.isEmpty() || now.findMesh(name) != chosen.mesh()) {
            throw new StepRow.Unclear("caches.stray.select");
        }
        return new SetStray(
                name, VertexSet.chosen(now.meshes().get(chosen.mesh()), chosen.vertices()), fields.value(stray), (int)
                        fields.value(rings));
    }

    private SimulateCloth simulating() throws StepRow.Unclear {
        return new SimulateCloth(fields.said(mesh), fields.said(clip));
    }
}
