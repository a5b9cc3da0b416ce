package org.cleanmarrow.desktop.station.caches;

import java.util.BitSet;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Breaking a part: hit at its middle, or where vertices of it are selected. */
final class ShatterForm {
    private final Desk desk;
    private final Fields fields;
    private final TextField mesh;
    private final TextField pieces;
    private final TextField gather;
    private final TextField speed;
    private final TextField density;
    private final CheckBox bodies = new CheckBox(Labels.of("caches.bodies"));

    ShatterForm(Desk desk, Fields fields) {
        this.desk = desk;
        this.fields = fields;
        mesh = fields.names("shatter-mesh", fields::meshes, "");
        pieces = fields.number("shatter-pieces", "20");
        gather = fields.number("shatter-gather", "0");
        speed = fields.number("shatter-speed", "1");
        density = fields.number("shatter-density", "1000");
        bodies.setId("shatter-bodies");
        bodies.setSelected(true);
    }

    Node[] form() {
        return new Node[] {
            Widgets.labelled("caches.mesh", mesh),
            Widgets.labelled("caches.pieces", pieces),
            Widgets.labelled("caches.gather", gather),
            bodies,
            Widgets.labelled("caches.density", density),
            Widgets.labelled("caches.speed", speed),
            new StepRow(desk, "shatter-preview").also("shatter", "caches.shatter", this::breaking)
        };
    }

    private Shatter breaking() throws StepRow.Unclear {
        String name = fields.said(mesh);
        Vector3d hit = hit(name);
        return new Shatter(
                name,
                (int) fields.value(pieces),
                1,
                hit == null ? Shatter.Hit.MIDDLE : Shatter.Hit.POINT,
                hit == null ? 0 : hit.x,
                hit == null ? 0 : hit.y,
                hit == null ? 0 : hit.z,
                fields.value(gather),
                Shatter.GAP_MILLIMETRES,
                "",
                bodies.isSelected(),
                fields.value(density),
                fields.value(speed));
    }

    /** The middle of what is selected of the mesh, in the asset's world at rest; null where nothing is. */
    private Vector3d hit(String name) {
        Selection.Chosen chosen = desk.selection().chosen().get();
        Asset now = desk.now();
        int m = now.findMesh(name);
        if (chosen.isEmpty() || m < 0 || m != chosen.mesh()) {
            return null;
        }
        float[] rest = MeshTopology.restPositions(now.meshes().get(m));
        Box box = Box.empty();
        BitSet vertices = chosen.vertices();
        for (int v = vertices.nextSetBit(0); v >= 0; v = vertices.nextSetBit(v + 1)) {
            box.grow(rest[3 * v], rest[3 * v + 1], rest[3 * v + 2]);
        }
        Matrix4d[] world = new Rig(now).rest().world();
        for (int n = 0; n < world.length; n++) {
            if (now.nodes().get(n).mesh() == m) {
                return world[n].transformPosition(box.centre());
            }
        }
        return null;
    }
}
