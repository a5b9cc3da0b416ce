package org.cleanmarrow.desktop.widgets;

import java.util.function.Function;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.ObjectProperty;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.OverrunStyle;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.util.StringConverter;
import org.cleanmarrow.desktop.text.Labels;

/** Small pieces that all panels are built from, so that they look and behave alike. */
public final class Widgets {
    private Widgets() {}

    /** A small heading in capitals. */
    public static Label heading(String key, Object... facts) {
        Label label = new Label(Labels.of(key, facts).toUpperCase(java.util.Locale.ROOT));
        label.getStyleClass().add("heading");
        return label;
    }

    /** A name in fixed width; where it does not fit its middle goes, because names that are alike differ at their ends. */
    public static Label name(String text) {
        Label label = new Label(text);
        label.getStyleClass().add("mono");
        label.setTextOverrun(OverrunStyle.CENTER_ELLIPSIS);
        return label;
    }

    /** A name that must stay in a sentence: one that is far too long without its middle. */
    public static String shortened(String name) {
        return name.length() <= 40 ? name : name.substring(0, 24) + "…" + name.substring(name.length() - 14);
    }

    /** A heading with a number at the other end. */
    public static HBox heading(String key, Label number) {
        number.getStyleClass().add("ink-2");
        HBox row = new HBox(heading(key), spring(), number);
        row.setAlignment(javafx.geometry.Pos.BASELINE_LEFT);
        return row;
    }

    /** A sentence that wraps. */
    public static Label sentence(String text) {
        Label label = new Label(text);
        label.getStyleClass().add("sentence");
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        return label;
    }

    /** Room of two lines for a sentence that changes; what does not fit is said in its tooltip. */
    public static Label twoLines(String id) {
        Label label = new Label();
        label.setId(id);
        label.setWrapText(true);
        label.setMaxWidth(Double.MAX_VALUE);
        label.getStyleClass().addAll("two-lines", "ink-2");
        Tips.say(label, label::getText);
        return label;
    }

    /** A button with an id for finding it. */
    public static Button button(String id, String key, Runnable act) {
        Button button = new Button(Labels.of(key));
        button.setId(id);
        button.setOnAction(e -> act.run());
        return button;
    }

    /** The one main act of a card. */
    public static Button mainButton(String id, String key, Runnable act) {
        Button button = button(id, key, act);
        button.getStyleClass().add("main");
        return button;
    }

    /** A name on the left and a value on the right. */
    public static HBox fact(String name, String value) {
        Label left = new Label(name);
        left.getStyleClass().add("fact-name");
        left.setTextOverrun(OverrunStyle.CENTER_ELLIPSIS);
        Label right = new Label(value);
        right.getStyleClass().add("fact-value");
        right.setMinWidth(Region.USE_PREF_SIZE);
        HBox row = new HBox(8, left, spring(), right);
        row.getStyleClass().add("fact");
        return row;
    }

    /** A name on the left and a label that changes on the right. */
    public static HBox fact(String key, Label value) {
        Label left = new Label(Labels.of(key));
        left.getStyleClass().add("fact-name");
        value.getStyleClass().add("fact-value");
        value.setMinWidth(0);
        HBox row = new HBox(8, left, spring(), value);
        row.getStyleClass().add("fact");
        return row;
    }

    /** A button that stays pressed while something is on. */
    public static ToggleButton toggle(String id, String key, BooleanProperty on) {
        ToggleButton button = new ToggleButton(Labels.of(key));
        button.setId(id);
        button.selectedProperty().bindBidirectional(on);
        button.setMinWidth(Region.USE_PREF_SIZE);
        return button;
    }

    /** A control with its name before it. */
    public static HBox labelled(String key, Node control) {
        return labelledBy(Labels.of(key), control);
    }

    /** A control with a name before it that is no text of ours, such as a parameter's. */
    public static HBox labelledBy(String text, Node control) {
        Label name = new Label(text);
        name.setMinWidth(Region.USE_PREF_SIZE);
        name.getStyleClass().add("ink-2");
        HBox row = new HBox(8, name, control);
        row.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        HBox.setHgrow(control, Priority.SOMETIMES);
        return row;
    }

    public static Region spring() {
        Region spring = new Region();
        HBox.setHgrow(spring, Priority.ALWAYS);
        return spring;
    }

    /** Buttons side by side, wrapping where they do not fit. */
    public static FlowPane row(Node... nodes) {
        FlowPane row = new FlowPane(8, 8, nodes);
        row.getStyleClass().add("row");
        return row;
    }

    /**
     * Buttons side by side of which one is on, for the constants of an enum; each has the id {@code <id>-<constant>}
     * and the text {@code <key>.<constant>}.
     */
    public static <E extends Enum<E>> HBox choices(String id, String key, E[] values, ObjectProperty<E> chosen) {
        ToggleGroup group = new ToggleGroup();
        HBox row = new HBox();
        row.getStyleClass().add("choices");
        for (E value : values) {
            String name = value.name().toLowerCase(java.util.Locale.ROOT);
            ToggleButton button = new ToggleButton(Labels.of(key + "." + name));
            button.setId(id + "-" + name);
            button.setToggleGroup(group);
            button.setSelected(chosen.get() == value);
            Tips.say(button, Labels.of(key + "." + name + ".tip"));
            button.setOnAction(e -> {
                chosen.set(value);
                button.setSelected(true);
            });
            row.getChildren().add(button);
        }
        chosen.addListener((o, before, now) -> ((ToggleButton) row.getChildren().get(now.ordinal())).setSelected(true));
        return row;
    }

    /** How values of a list of choices are shown. */
    public static <T> StringConverter<T> shown(Function<T, String> how) {
        return new StringConverter<>() {
            @Override
            public String toString(T value) {
                return value == null ? "" : how.apply(value);
            }

            @Override
            public T fromString(String text) {
                throw new UnsupportedOperationException("choices are not typed");
            }
        };
    }
}
