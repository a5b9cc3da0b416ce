package org.cleanmarrow.desktop.widgets;

import java.util.Comparator;
import java.util.List;
import java.util.function.Function;
import java.util.function.ToDoubleFunction;
import javafx.beans.property.ReadOnlyObjectWrapper;
import javafx.geometry.Pos;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import org.cleanmarrow.desktop.text.Labels;

/** Columns of tables, sortable and readable aloud. */
public final class Tables {
    private Tables() {}

    /** Gives a table its columns, which share what width there is beyond their own; a narrow one scrolls. */
    public static <R> void fill(TableView<R> table, List<TableColumn<R, ?>> columns) {
        columns.forEach(c -> c.setMinWidth(c.getPrefWidth()));
        table.getColumns().setAll(columns);
        table.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_ALL_COLUMNS);
    }

    /** A column of texts. */
    public static <R> TableColumn<R, String> text(String key, double width, Function<R, String> what) {
        TableColumn<R, String> column = new TableColumn<>(Labels.of(key));
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new ReadOnlyObjectWrapper<>(what.apply(row.getValue())));
        return column;
    }

    /** A column of numbers, sorted as numbers and shown in words of one's own. */
    public static <R> TableColumn<R, Double> number(
            String key, double width, ToDoubleFunction<R> what, Function<Double, String> said) {
        TableColumn<R, Double> column = new TableColumn<>(Labels.of(key));
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new ReadOnlyObjectWrapper<>(what.applyAsDouble(row.getValue())));
        column.setComparator(Comparator.naturalOrder());
        // Its heading stands over the numbers.
        column.getStyleClass().add("number");
        column.setCellFactory(c -> new TableCell<>() {
            {
                setAlignment(Pos.CENTER_RIGHT);
            }

            @Override
            protected void updateItem(Double item, boolean empty) {
                super.updateItem(item, empty);
                setText(empty || item == null ? null : said.apply(item));
            }
        });
        return column;
    }
}
