package org.cleanmarrow.desktop.station;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.IntPredicate;
import java.util.function.Supplier;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.query.Inventory;

/** Fields of one station's forms, with what they offer and hold; read aloud as {@code <station>.<id>} says. */
public final class Fields {
    private final Desk desk;
    private final String station;

    /** @param station what its words begin with */
    public Fields(Desk desk, String station) {
        this.desk = desk;
        this.station = station;
    }

    /** Names that are picked from what there is, or typed. */
    public TextField names(String id, Supplier<List<String>> known, String text) {
        TextField field = new NameField(id, known);
        field.setText(text);
        field.setAccessibleText(Labels.of(station + "." + id));
        return field;
    }

    public TextField number(String id, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        field.setPrefColumnCount(6);
        field.setAccessibleText(Labels.of(station + "." + id));
        return field;
    }

    /** A choice whose words are {@code <station>.kind.<value>}; the first is chosen. */
    public <E extends Enum<E>> ComboBox<E> choice(String id, E[] values) {
        ComboBox<E> box = new ComboBox<>();
        box.getItems().setAll(values);
        box.setValue(values[0]);
        box.setId(id);
        box.setAccessibleText(Labels.of(station + "." + id));
        box.setConverter(
                Widgets.shown(v -> Labels.of(station + ".kind." + v.name().toLowerCase(Locale.ROOT))));
        return box;
    }

    /** What a field that must not be empty says. */
    public String said(TextField field) throws StepRow.Unclear {
        if (field.getText().isBlank()) {
            throw new StepRow.Unclear(station + ".name.some");
        }
        return field.getText().strip();
    }

    public double value(TextField field) throws StepRow.Unclear {
        try {
            return Double.parseDouble(field.getText().strip().replace(',', '.'));
        } catch (NumberFormatException e) {
            throw new StepRow.Unclear(station + ".number", field.getText());
        }
    }

    /** The same; where nothing is typed what stands for it. */
    public double value(TextField field, double empty) throws StepRow.Unclear {
        return field.getText().isBlank() ? empty : value(field);
    }

    /** Nodes of the asset that fit; none where none is open. */
    public List<String> nodes(IntPredicate which) {
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

    public List<String> meshes() {
        List<String> out = new ArrayList<>();
        for (int m = 0; desk.isOpen() && m < desk.now().meshes().size(); m++) {
            out.add(desk.now().meshRef(m));
        }
        return out;
    }

    public List<String> clips() {
        List<String> out = new ArrayList<>();
        for (int c = 0; desk.isOpen() && c < desk.now().clips().size(); c++) {
            out.add(Inventory.clipRef(desk.now(), c));
        }
        return out;
    }
}
