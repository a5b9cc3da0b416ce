package org.cleanmarrow.desktop.window;

import javafx.scene.Cursor;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import org.cleanmarrow.desktop.desk.Preferences;

/** Contents, view and station side by side; the outer two keep the widths they were dragged to, the view takes the rest. */
final class Columns extends HBox {
    /** Below this width of the whole the contents fold away. */
    private static final double NARROW = 1100;

    private static final double LEAST_VIEW = 320;

    /** The window that the widths below suit, in pixels at size 1; wider ones have room for longer names. */
    private static final double USUAL = 1280;

    private static final double LEFT = 219;
    private static final double RIGHT = 336;
    /** How many times as wide the contents become at most; the other column gains half as much of its own. */
    private static final double MOST = 1.5;

    private final Preferences preferences;
    private final Region contents;
    private final Region station;
    private final Region leftGrip = grip();
    private final Region rightGrip = grip();
    private double pressedAt;
    private double pressedWidth;

    Columns(Preferences preferences, Region contents, Region view, Region station) {
        this.preferences = preferences;
        this.contents = contents;
        this.station = station;
        HBox.setHgrow(view, Priority.ALWAYS);
        drag(leftGrip, contents, 1);
        drag(rightGrip, station, -1);
        getChildren().addAll(contents, leftGrip, view, rightGrip, station);
        preferences.scale().addListener((o, a, b) -> suit());
        sceneProperty().addListener((o, a, scene) -> {
            if (scene != null) {
                scene.widthProperty().addListener((p, was, is) -> suit());
            }
            suit();
        });
        suit();
    }

    private static Region grip() {
        Region grip = new Region();
        grip.getStyleClass().add("grip");
        grip.setCursor(Cursor.H_RESIZE);
        grip.setMinWidth(5);
        grip.setMaxWidth(5);
        return grip;
    }

    private void suit() {
        fold();
        double wide = getScene() == null
                ? USUAL
                : getScene().getWidth() / preferences.scale().get();
        double more = Math.clamp(wide / USUAL, 1, MOST) - 1;
        double left = preferences.left().get();
        double right = preferences.right().get();
        set(contents, left > 0 ? left : Math.rint(LEFT * (1 + more)));
        set(station, right > 0 ? right : Math.rint(RIGHT * (1 + more / 2)));
    }

    private void fold() {
        boolean seen = getScene() == null || getScene().getWidth() >= NARROW;
        contents.setVisible(seen);
        contents.setManaged(seen);
        leftGrip.setVisible(seen);
        leftGrip.setManaged(seen);
    }

    private void drag(Region grip, Region column, int way) {
        grip.setOnMousePressed(e -> {
            pressedAt = e.getSceneX();
            pressedWidth = column.getWidth();
        });
        grip.setOnMouseDragged(e -> {
            double most = getWidth() - LEAST_VIEW - (column == contents ? station : contents).getWidth();
            set(column, Math.clamp(pressedWidth + way * (e.getSceneX() - pressedAt), 150, Math.max(150, most)));
        });
        grip.setOnMouseReleased(
                e -> (column == contents ? preferences.left() : preferences.right()).set(column.getPrefWidth()));
    }

    private static void set(Region column, double width) {
        column.setMinWidth(width);
        column.setPrefWidth(width);
        column.setMaxWidth(width);
    }
}
