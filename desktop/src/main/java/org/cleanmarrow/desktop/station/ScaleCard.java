package org.cleanmarrow.desktop.station;

import java.util.Locale;
import javafx.scene.control.ComboBox;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.steps.Convert;
import org.cleanmarrow.steps.DeclareConventions;
import org.cleanmarrow.steps.FreezeNodes;
import org.joml.Vector3d;

/** Size, unit and axes: measure, say what the numbers mean, fold, convert. */
final class ScaleCard extends StationCard {
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

    ScaleCard(Desk desk) {
        super(desk);
    }

    /** Conventions as people say them: {@code Z-up · cm · left-handed}. */
    static String say(Conventions c) {
        return Words.of(
                "conventions",
                c.up().code().toUpperCase(Locale.ROOT),
                Units.shortName(c.metresPerUnit()).orElse(c.metresPerUnit() + " m"),
                Words.of("hand." + c.handedness().code()),
                c.forward().code().toUpperCase(Locale.ROOT));
    }

    @Override
    void fill() {
        Conventions is = desk.now().conventions();
        Conventions wanted = desk.target().get().conventions();
        title("station.scale_and_axes", Words.of("scale.what"));
        heading("scale.measure");
        Box box = Box.ofRest(desk.now());
        Vector3d size = box.size().mul(is.metresPerUnit());
        double height = size.get(is.up().dimension());
        fact("scale.height", Units.say(height) + " · " + feet(height));
        fact("scale.box", Units.say(size.x) + " × " + Units.say(size.y) + " × " + Units.say(size.z));
        heading("scale.conventions");
        fact("scale.is", say(is));
        fact("scale.wanted", say(wanted));
        getChildren()
                .add(Parts.row(
                        Parts.mainButton("convert", "scale.convert", () -> desk.apply(new Convert(wanted, true))),
                        Parts.button("freeze", "scale.freeze", () -> desk.apply(new FreezeNodes()))));
        sentence("scale.convert.why");
        heading("scale.declare");
        sentence("scale.declare.why");
        ComboBox<String> choices = new ComboBox<>();
        choices.getItems().setAll(COMMON);
        choices.setValue(is.code());
        choices.setId("declared");
        getChildren()
                .add(Parts.row(
                        choices,
                        Parts.button(
                                "declare",
                                "scale.declare.act",
                                () -> Conventions.parse(choices.getValue())
                                        .ifPresent(c -> desk.apply(new DeclareConventions(c))))));
    }

    /** Feet and inches, as a person's height is said. */
    static String feet(double metres) {
        double inches = metres / 0.0254;
        return String.format(Locale.ROOT, "%d ft %.1f in", (int) (inches / 12), inches % 12);
    }
}
