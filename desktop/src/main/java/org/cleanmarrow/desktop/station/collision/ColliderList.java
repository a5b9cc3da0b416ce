package org.cleanmarrow.desktop.station.collision;

import java.util.List;
import java.util.Map;
import javafx.scene.control.TableView;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.FitShapes;

/** Every collider with what it is and whose; choosing one chooses its node. */
final class ColliderList extends VBox {
    private final Desk desk;
    private final TableView<Collider> table = new TableView<>();
    private Asset listed;
    private Map<Integer, RigidBody> bodies = Map.of();
    private int[] bearers = {};

    ColliderList(Desk desk) {
        super(6);
        this.desk = desk;
        table.setId("colliders");
        table.setAccessibleText(Labels.of("collision.list"));
        table.setFixedCellSize(22);
        table.setPlaceholder(Widgets.sentence(Labels.of("collision.none")));
        Tables.fill(
                table,
                List.of(
                        Tables.text("collision.column.name", 70, this::called),
                        Tables.text(
                                "collision.column.kind",
                                72,
                                c -> Labels.of("collision.kind." + c.shape().kind())),
                        Tables.text("collision.column.body", 46, this::body)));
        table.getSelectionModel().selectedItemProperty().addListener((o, a, collider) -> {
            if (collider != null && listed == desk.now()) {
                String node = listed.nodeRef(collider.node());
                desk.selection().joint().set(node);
                desk.selection().shape().set(new Selection.ShapeName(node, collider.name()));
            }
        });
        VBox.setVgrow(table, Priority.ALWAYS);
        getChildren().addAll(Widgets.heading("collision.list"), table);
    }

    /** Its node, unless it has a name that says more. */
    private String called(Collider collider) {
        String node = listed.nodes().get(collider.node()).name();
        boolean more = !collider.name().isEmpty() && !collider.name().equals(node + FitShapes.ENDING);
        return more ? collider.name() : node;
    }

    private String body(Collider collider) {
        RigidBody body = bodies.get(bearers[collider.node()]);
        return body == null ? "–" : Labels.of("collision.kind." + body.kind().code());
    }

    void refresh() {
        if (desk.isOpen() && listed != desk.now()) {
            listed = desk.now();
            bodies = Bodies.byNode(listed);
            bearers = Bodies.bearers(listed, Bodies.nodes(listed));
            table.getItems().setAll(Bodies.colliders(listed));
            desk.selection().collider().ifPresent(table.getSelectionModel()::select);
        }
    }
}
