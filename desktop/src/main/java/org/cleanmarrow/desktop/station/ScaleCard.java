package org.cleanmarrow.desktop.station;

import java.util.Locale;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.DeclareConventions;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.joml.Vector3d;

/** Size, unit and axes: measure, say what the numbers mean, fold, convert. */
final class ScaleCard extends StationCard {
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

    private final PlaceSection place;
    private final ComboBox<String> declared = new ComboBox<>();
    private final ComboBox<String> unit = new ComboBox<>();

    ScaleCard(Desk desk, ViewportPane viewport) {
        super(desk);
        place = new PlaceSection(desk, viewport);
        declared.getItems().setAll(COMMON);
        declared.setId("declared");
        declared.setEditable(true);
        declared.setAccessibleText(Labels.of("scale.declare"));
        unit.getItems().setAll("", "m", "cm", "mm", "in", "ft");
        unit.setValue("");
        unit.setId("said-in");
        unit.setAccessibleText(Labels.of("scale.unit"));
        unit.setConverter(Widgets.shown(u -> u.isEmpty() ? Labels.of("scale.unit.any") : u));
        unit.valueProperty().addListener((o, a, b) -> refresh());
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
    void fill() {
        Conventions is = desk.now().conventions();
        Conventions wanted = desk.target().get().conventions();
        title("station.scale_and_axes", Labels.of("scale.what"));
        heading("scale.measure");
        measures(is);
        heading("scale.conventions");
        fact("scale.is", say(is));
        fact("scale.wanted", say(wanted));
        put(new StepRow(desk, "convert-preview")
                .main("convert", "scale.convert", () -> new Convert(wanted, true))
                .also("freeze", "scale.freeze", FreezeNodes::new));
        sentence("scale.convert.why");
        heading("scale.place");
        place.refresh();
        put(place);
        heading("scale.declare");
        sentence("scale.declare.why");
        declared.setValue(is.code());
        put(declared, new StepRow(desk, "declare-preview").also("declare", "scale.declare.act", this::declaration));
    }

    private void measures(Conventions is) {
        Box box = RestBox.of(Shipping.of(desk.now()));
        Vector3d size = box.size().mul(is.metresPerUnit());
        String in = unit.getValue();
        double height = size.get(is.up().dimension());
        String other = in.isEmpty() ? " · " + feet(height) : "";
        fact("scale.height", Units.sayIn(height, in) + other);
        fact("scale.box", Units.sayIn(size.x, in) + " × " + Units.sayIn(size.y, in) + " × " + Units.sayIn(size.z, in));
        double person = height / PERSON;
        fact(
                "scale.person",
                String.format(Locale.ROOT, person >= 100 ? "%.0f×" : person >= 0.01 ? "%.2f×" : "%.5f×", person));
        MixUps.of(is.metresPerUnit() / desk.target().get().conventions().metresPerUnit())
                .ifPresent(m ->
                        sentence("scale.mixup", String.format(Locale.ROOT, "%.4g", m.factor()), m.taken(), m.was()));
        put(Widgets.row(new Label(Labels.of("scale.unit")), unit));
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
