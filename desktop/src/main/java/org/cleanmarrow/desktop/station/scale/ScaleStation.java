package org.cleanmarrow.desktop.station.scale;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.DeclareConventions;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.joml.Vector3d;

/** Size, unit and axes: measure, say what the numbers mean, freeze, convert. */
public final class ScaleStation extends StationDef {
    /** Height of the figure that can stand beside the asset, in metres. */
    private static final double PERSON = 1.8;

    private static final String[] COMMON = {
        "y-up-m-rh",
        "z-up-m-rh",
        "z-up-cm-rh",
        "y-up-cm-rh",
        "y-up-mm-rh",
        "y-up-in-rh",
        "z-up-in-rh",
        "y-up-ft-rh",
        "y-up-m-lh",
        "z-up-cm-lh"
    };

    private final ComboBox<String> declared = new ComboBox<>();
    private final ComboBox<String> unit = new ComboBox<>();
    private final Label height = new Label();
    private final Label box = new Label();
    private final Label person = new Label();
    private final Label is = new Label();
    private final Label wanted = new Label();
    private final Label mixUp = Widgets.twoLines("mix-up");
    private Asset declaredOf;

    public ScaleStation(Desk desk, ViewportPane viewport) {
        super(Station.SCALE_AND_AXES, desk);
        PlaceSection place = new PlaceSection(desk, viewport);
        declared.getItems().setAll(COMMON);
        declared.setId("declared");
        declared.setEditable(true);
        declared.setMaxWidth(Double.MAX_VALUE);
        declared.setAccessibleText(Labels.of("scale.declare"));
        unit.getItems().setAll("", "m", "cm", "mm", "in", "ft");
        unit.setValue("");
        unit.setId("said-in");
        unit.setAccessibleText(Labels.of("scale.unit"));
        unit.setConverter(Widgets.shown(u -> u.isEmpty() ? Labels.of("scale.unit.any") : u));
        unit.valueProperty().addListener((o, a, b) -> measure());
        List<Node> tray = List.of(
                Widgets.toggle("tray-tape", "view.tape", desk.seeing().taping()),
                Widgets.toggle("tray-box", "view.box", desk.seeing().box()),
                Widgets.toggle("tray-figure", "view.figure", desk.seeing().figure()));
        List<Act> acts = List.of(
                new Act(
                                "scale-measure",
                                Widgets.fact("scale.height", height),
                                Widgets.fact("scale.box", box),
                                Widgets.fact("scale.person", person),
                                Widgets.labelled("scale.unit", unit),
                                mixUp)
                        .refreshing(this::measure)
                        .says(() -> size().map(s -> Units.sayIn(tall(s), "")).orElse("")),
                new Act(
                                "scale-convert",
                                Widgets.fact("scale.is", is),
                                Widgets.fact("scale.wanted", wanted),
                                Widgets.sentence(Labels.of("scale.convert.why")),
                                new StepRow(desk, "convert-preview")
                                        .also("freeze", "scale.freeze", FreezeNodes::new)
                                        .main("convert", "scale.convert", this::conversion))
                        .refreshing(this::sayConventions)
                        .says(this::converts)
                        .opened(),
                new Act(
                                "scale-declare",
                                Widgets.sentence(Labels.of("scale.declare.why")),
                                declared,
                                new StepRow(desk, "declare-preview")
                                        .also("declare", "scale.declare.act", this::declaration))
                        .refreshing(this::showDeclared)
                        .says(() -> desk.now().conventions().code()),
                new Act("scale-turn", place.turning()).refreshing(place::refresh),
                new Act("scale-pivot", place.pivots()).refreshing(place::refresh),
                new Act("scale-mirror", place.mirroring()).refreshing(place::refresh),
                StepsAct.of(desk, "scale-steps", "scale"));
        consistOf(acts, tray, Piece.PARTS, Piece.JOINTS);
    }

    /** Conventions as people say them: {@code Z-up · cm · left-handed}. */
    static String say(Conventions c) {
        return Labels.of(
                "conventions",
                c.up().code().toUpperCase(Locale.ROOT),
                Units.shortName(c.metresPerUnit())
                        .orElse(String.format(Locale.ROOT, "%.6g", c.metresPerUnit())
                                        .replaceFirst("\\.?0+$", "") + " m"),
                Labels.of("hand." + c.handedness().code()),
                c.forward().code().toUpperCase(Locale.ROOT));
    }

    @Override
    public String facts() {
        Conventions c = desk.now().conventions();
        return Labels.of(
                "conventions.short",
                c.up().code().toUpperCase(Locale.ROOT),
                Units.shortName(c.metresPerUnit()).orElse("?"),
                Labels.of("hand." + c.handedness().code()));
    }

    private Convert conversion() {
        return new Convert(desk.target().get().conventions(), true);
    }

    private String converts() {
        boolean same = desk.now().conventions().equals(desk.target().get().conventions());
        return Labels.of(same ? "scale.fits" : "scale.differs");
    }

    private void sayConventions() {
        is.setText(say(desk.now().conventions()));
        wanted.setText(say(desk.target().get().conventions()));
    }

    private void showDeclared() {
        if (declaredOf != desk.now()) {
            declaredOf = desk.now();
            declared.setValue(declaredOf.conventions().code());
        }
    }

    /** Lengths of the box around what ships, in metres along the asset's axes. */
    private Optional<Vector3d> size() {
        Asset asset = desk.now();
        return desk.facts()
                .of(
                        "rest box",
                        asset,
                        w -> RestBox.of(Shipping.of(asset))
                                .size()
                                .mul(asset.conventions().metresPerUnit()));
    }

    private double tall(Vector3d size) {
        return size.get(desk.now().conventions().up().dimension());
    }

    private void measure() {
        if (!desk.isOpen()) {
            return;
        }
        size().ifPresent(size -> {
            String in = unit.getValue();
            double tall = tall(size);
            height.setText(Units.sayIn(tall, in) + (in.isEmpty() ? " · " + feet(tall) : ""));
            box.setText(Units.sayIn(size.x, in) + " × " + Units.sayIn(size.y, in) + " × " + Units.sayIn(size.z, in));
            double times = tall / PERSON;
            person.setText(
                    String.format(Locale.ROOT, times >= 100 ? "%.0f×" : times >= 0.01 ? "%.2f×" : "%.5f×", times));
        });
        double units = desk.now().conventions().metresPerUnit()
                / desk.target().get().conventions().metresPerUnit();
        mixUp.setText(MixUps.of(units)
                .map(m -> Labels.of("scale.mixup", String.format(Locale.ROOT, "%.4g", m.factor()), m.taken(), m.was()))
                .orElse(""));
    }

    private DeclareConventions declaration() throws StepRow.Unclear {
        String said = declared.getEditor().getText();
        return new DeclareConventions(
                Conventions.parse(said).orElseThrow(() -> new StepRow.Unclear("scale.declare.bad", said)));
    }

    /** Feet and inches, as a person's height is said. */
    static String feet(double metres) {
        double inches = metres / 0.0254;
        return String.format(Locale.ROOT, "%d ft %.1f in", (int) (inches / 12), inches % 12);
    }
}
