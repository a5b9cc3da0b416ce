package org.cleanmarrow.desktop.station.collision;

import java.util.List;
import java.util.Optional;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.steps.collision.StandIn;

/** What the engine bumps into: shapes for joints and parts, bodies, and what joins them. */
public final class CollisionStation extends StationDef {
    private final Fields fields;
    private final ColliderList list;
    private final TextField joints;
    private final ComboBox<ShapeFit.Kind> kind;
    private final TextField share;
    private final TextField parts;
    private final ComboBox<StandIn.Kind> standIn;
    private final TextField over;
    private final TextField bodies;
    private final ComboBox<RigidBody.Kind> mover;
    private final TextField mass;
    private final TextField density;
    private final TextField damping;
    private final TextField chain;
    private final TextField swing;
    private final TextField twist;
    private final TextField let;
    private final TextField lasts;
    private final ComboBox<SimulateBodies.Floor> floor;
    private final ComboBox<FitShapes.Set> set;
    private final TextField friction;
    private final TextField bounce;
    private final TextField gravity;
    private final ComboBox<SetBody.Centre> centre;
    private final TextField centreX;
    private final TextField centreY;
    private final TextField centreZ;
    private final ComboBox<JoinBodies.Range> range;
    private final TextField stiffness;
    private final TextField drawDamping;
    private final TextField hulls;
    private final ShapeByHand byHand;
    private final CheckBox meet = new CheckBox(Labels.of("collision.meet"));

    public CollisionStation(Desk desk) {
        super(Station.COLLISION, desk);
        fields = new Fields(desk, "collision");
        joints = fields.names("fit-joints", this::jointNames, "*");
        set = fields.choice("fit-set", FitShapes.Set.values());
        Tips.say(set, Labels.of("collision.set.why"));
        kind = fields.choice("fit-kind", ShapeFit.Kind.values());
        share = fields.number("fit-share", "98");
        parts = fields.names("stand-parts", this::partNames, "*");
        standIn = fields.choice("stand-kind", StandIn.Kind.values());
        over = fields.number("stand-over", "0");
        hulls = fields.number("stand-hulls", "8");
        bodies = fields.names("body-nodes", this::nodeNames, "");
        mover = fields.choice("body-kind", RigidBody.Kind.values());
        mass = fields.number("body-mass", "0");
        density = fields.number("body-density", "0");
        damping = fields.number("body-damping", "0");
        friction = fields.number("body-friction", "");
        bounce = fields.number("body-bounce", "");
        friction.setPromptText(Labels.of("collision.as.is"));
        bounce.setPromptText(Labels.of("collision.as.is"));
        gravity = fields.number("body-gravity", "1");
        centre = fields.choice("body-centre", SetBody.Centre.values());
        centreX = fields.number("body-centre-x", "0");
        centreY = fields.number("body-centre-y", "0");
        centreZ = fields.number("body-centre-z", "0");
        chain = fields.names("join-chain", this::nodeNames, "");
        swing = fields.number("join-swing", "45");
        twist = fields.number("join-twist", "20");
        range = fields.choice("join-range", JoinBodies.Range.values());
        stiffness = fields.number("join-stiffness", "0");
        drawDamping = fields.number("join-damping", "0");
        byHand = new ShapeByHand(desk, fields, this::nodeNames);
        let = fields.names("let-clip", fields::clips, "");
        lasts = fields.number("let-seconds", "2");
        floor = fields.choice("let-floor", SimulateBodies.Floor.values());
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
                                Widgets.labelled("collision.set", set),
                                new StepRow(desk, "fit-preview").main("fit-shapes", "collision.fit", this::fitting))
                        .opened(),
                new Act(
                        "collision-stand-in",
                        Widgets.labelled("collision.parts", parts),
                        Widgets.labelled("collision.kind", standIn),
                        Widgets.labelled("collision.over", over),
                        Widgets.labelled("collision.hulls", hulls),
                        new StepRow(desk, "stand-preview").also("stand-in", "collision.stand", this::standing)),
                byHand.act(),
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
                                Widgets.labelled("collision.friction", friction),
                                Widgets.labelled("collision.bounce", bounce),
                                Widgets.labelled("collision.gravity", gravity),
                                Widgets.labelled("collision.centre", centre),
                                ShapeByHand.row("collision.centre.at", List.of(centreX, centreY, centreZ)),
                                new StepRow(desk, "body-preview").also("set-body", "collision.body", this::body))
                        .says(() -> Labels.of(
                                "collision.bodies", Bodies.all(desk.now()).size())),
                new Act(
                                "collision-join",
                                Widgets.labelled("collision.chain", chain),
                                Widgets.labelled("collision.range", range),
                                Widgets.labelled("collision.swing", swing),
                                Widgets.labelled("collision.twist", twist),
                                Widgets.labelled("collision.stiffness", stiffness),
                                Widgets.labelled("collision.draw.damping", drawDamping),
                                meet,
                                new StepRow(desk, "join-preview").also("join-bodies", "collision.join", this::joining))
                        .says(() -> Labels.of(
                                "collision.joined", Bodies.joints(desk.now()).size())),
                new Act(
                        "collision-let",
                        Widgets.labelled("collision.let.clip", let),
                        Widgets.labelled("collision.let.seconds", lasts),
                        Widgets.labelled("collision.let.floor", floor),
                        new StepRow(desk, "let-preview").also("simulate-bodies", "collision.let", this::letting),
                        new TryByHand(desk, this::trying)),
                StepsAct.of(desk, "collision-steps", "collision"));
        List<Node> tray = List.of(
                Widgets.toggle("tray-shapes", "view.shapes", desk.seeing().shapes()));
        consistOf(acts, tray, Piece.OWN, Piece.JOINTS);
    }

    private FitShapes fitting() throws StepRow.Unclear {
        return new FitShapes(joints.getText().strip(), kind.getValue(), fields.value(share) / 100, 24, set.getValue());
    }

    private StandIn standing() throws StepRow.Unclear {
        return new StandIn(
                parts.getText().strip(), standIn.getValue(), (int) fields.value(over), Collider.Role.SOLID, 32, (int)
                        fields.value(hulls));
    }

    private SetBody body() throws StepRow.Unclear {
        double slowing = fields.value(damping);
        return new SetBody(
                fields.said(bodies),
                mover.getValue(),
                fields.value(mass),
                fields.value(density),
                slowing,
                slowing,
                fields.value(gravity),
                fields.value(friction, -1),
                fields.value(bounce, -1),
                centre.getValue(),
                fields.value(centreX),
                fields.value(centreY),
                fields.value(centreZ));
    }

    private SimulateBodies letting() throws StepRow.Unclear {
        return new SimulateBodies(let.getText().strip(), fields.value(lasts), "", floor.getValue());
    }

    /** The same for as long as one likes. */
    private SimulateBodies trying(double longest) throws StepRow.Unclear {
        return new SimulateBodies(let.getText().strip(), longest, "", floor.getValue());
    }

    private JoinBodies joining() throws StepRow.Unclear {
        return new JoinBodies(
                fields.said(chain),
                range.getValue(),
                fields.value(swing),
                fields.value(twist),
                fields.value(stiffness),
                fields.value(drawDamping),
                meet.isSelected());
    }

    private List<String> jointNames() {
        boolean[] joint = desk.isOpen() ? desk.now().jointFlags() : new boolean[0];
        return fields.nodes(n -> joint[n]);
    }

    private List<String> partNames() {
        return fields.nodes(n -> desk.now().nodes().get(n).mesh() >= 0);
    }

    private List<String> nodeNames() {
        return fields.nodes(n -> true);
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
        byHand.refresh();
    }
}
