package org.cleanmarrow.desktop.station.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.StandIn;

/** What the engine bumps into: shapes for joints and parts, bodies, and what joins them. */
public final class CollisionStation extends StationDef {
    private final ColliderList list;
    private final TextField joints = names("fit-joints", this::jointNames, "*");
    private final ComboBox<ShapeFit.Kind> kind = choice("fit-kind", ShapeFit.Kind.values());
    private final TextField share = number("fit-share", "98");
    private final TextField parts = names("stand-parts", this::partNames, "*");
    private final ComboBox<StandIn.Kind> standIn = choice("stand-kind", StandIn.Kind.values());
    private final TextField over = number("stand-over", "0");
    private final TextField bodies = names("body-nodes", this::nodeNames, "");
    private final ComboBox<RigidBody.Kind> mover = choice("body-kind", RigidBody.Kind.values());
    private final TextField mass = number("body-mass", "0");
    private final TextField density = number("body-density", "0");
    private final TextField damping = number("body-damping", "0");
    private final TextField chain = names("join-chain", this::nodeNames, "");
    private final TextField swing = number("join-swing", "45");
    private final TextField twist = number("join-twist", "20");
    private final CheckBox meet = new CheckBox(Labels.of("collision.meet"));

    public CollisionStation(Desk desk) {
        super(Station.COLLISION, desk);
        list = new ColliderList(desk);
        standIn.setValue(StandIn.Kind.BEST);
        mover.setValue(RigidBody.Kind.FREE);
        meet.setId("join-meet");
        List<Act> acts = List.of(
                new Act(
                                "collision-fit",
                                Widgets.labelled("collision.joints", joints),
                                Widgets.labelled("collision.kind", kind),
                                Widgets.labelled("collision.share", share),
                                new StepRow(desk, "fit-preview").main("fit-shapes", "collision.fit", this::fitting))
                        .opened(),
                new Act(
                        "collision-stand-in",
                        Widgets.labelled("collision.parts", parts),
                        Widgets.labelled("collision.kind", standIn),
                        Widgets.labelled("collision.over", over),
                        new StepRow(desk, "stand-preview").also("stand-in", "collision.stand", this::standing)),
                new Act(
                        "collision-apart",
                        Widgets.sentence(Labels.of("collision.apart.why")),
                        new StepRow(desk, "apart-preview")
                                .also("shapes-ignore", "collision.ignore", () -> new ShapesApart(ShapesApart.By.IGNORE))
                                .also("shapes-apart", "collision.apart", ShapesApart::new)),
                new Act(
                                "collision-body",
                                Widgets.labelled("collision.nodes", bodies),
                                Widgets.labelled("collision.mover", mover),
                                Widgets.labelled("collision.mass", mass),
                                Widgets.labelled("collision.density", density),
                                Widgets.labelled("collision.damping", damping),
                                new StepRow(desk, "body-preview").also("set-body", "collision.body", this::body))
                        .says(() -> Labels.of(
                                "collision.bodies", Bodies.all(desk.now()).size())),
                new Act(
                                "collision-join",
                                Widgets.labelled("collision.chain", chain),
                                Widgets.labelled("collision.swing", swing),
                                Widgets.labelled("collision.twist", twist),
                                meet,
                                new StepRow(desk, "join-preview").also("join-bodies", "collision.join", this::joining))
                        .says(() -> Labels.of(
                                "collision.joined", Bodies.joints(desk.now()).size())),
                StepsAct.of(desk, "collision-steps", "collision"));
        List<Node> tray = List.of(
                Widgets.toggle("tray-shapes", "view.shapes", desk.seeing().shapes()));
        consistOf(acts, tray, Piece.OWN, Piece.JOINTS);
    }

    private static TextField names(String id, Supplier<List<String>> known, String text) {
        NameField field = new NameField(id, known);
        field.setText(text);
        field.setAccessibleText(Labels.of("collision." + id));
        return field;
    }

    private static TextField number(String id, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        field.setPrefColumnCount(6);
        field.setAccessibleText(Labels.of("collision." + id));
        return field;
    }

    private static <E extends Enum<E>> ComboBox<E> choice(String id, E[] values) {
        ComboBox<E> box = new ComboBox<>();
        box.getItems().setAll(values);
        box.setValue(values[0]);
        box.setId(id);
        box.setAccessibleText(Labels.of("collision." + id));
        box.setConverter(
                Widgets.shown(v -> Labels.of("collision.kind." + v.name().toLowerCase(Locale.ROOT))));
        return box;
    }

    private FitShapes fitting() throws StepRow.Unclear {
        return new FitShapes(joints.getText().strip(), kind.getValue(), value(share) / 100, 24);
    }

    private StandIn standing() throws StepRow.Unclear {
        return new StandIn(parts.getText().strip(), standIn.getValue(), (int) value(over));
    }

    private SetBody body() throws StepRow.Unclear {
        double slowing = value(damping);
        return new SetBody(said(bodies), mover.getValue(), value(mass), value(density), slowing, slowing, 1, -1, -1);
    }

    private JoinBodies joining() throws StepRow.Unclear {
        return new JoinBodies(said(chain), JoinBodies.Range.AUTO, value(swing), value(twist), 0, 0, meet.isSelected());
    }

    private static String said(TextField field) throws StepRow.Unclear {
        if (field.getText().isBlank()) {
            throw new StepRow.Unclear("collision.name.some");
        }
        return field.getText().strip();
    }

    private static double value(TextField field) throws StepRow.Unclear {
        try {
            return Double.parseDouble(field.getText().strip().replace(',', '.'));
        } catch (NumberFormatException e) {
            throw new StepRow.Unclear("collision.number", field.getText());
        }
    }

    private List<String> jointNames() {
        boolean[] joint = desk.isOpen() ? desk.now().jointFlags() : new boolean[0];
        return refs(n -> joint[n]);
    }

    private List<String> partNames() {
        return refs(n -> desk.now().nodes().get(n).mesh() >= 0);
    }

    private List<String> nodeNames() {
        return refs(n -> true);
    }

    private List<String> refs(java.util.function.IntPredicate which) {
        List<String> out = new ArrayList<>();
        if (desk.isOpen()) {
            String[] all = desk.now().nodeRefs();
            for (int n = 0; n < all.length; n++) {
                if (which.test(n)) {
                    out.add(all[n]);
                }
            }
        }
        return out;
    }

    @Override
    public String facts() {
        Asset asset = desk.now();
        return Labels.of(
                "collision.facts",
                Bodies.colliders(asset).size(),
                Bodies.all(asset).size());
    }

    @Override
    public Optional<Node> own() {
        return Optional.of(list);
    }

    @Override
    public void refresh() {
        list.refresh();
    }
}
