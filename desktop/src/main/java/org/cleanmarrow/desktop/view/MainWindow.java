package org.cleanmarrow.desktop.view;

import java.io.File;
import java.io.InputStream;
import java.util.List;
import java.util.Locale;
import javafx.scene.Scene;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SplitPane;
import javafx.scene.input.DragEvent;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.scene.text.Font;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.FileDialogs;
import org.cleanmarrow.desktop.station.StationPane;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.formats.AssetFiles;

/** The whole window: spine at the left, view in the middle, the station's card at the right, ledger below. */
public final class MainWindow {
    private final Desk desk;
    private final ViewportPane viewport;
    private final TimePane time;
    private final FileDialogs dialogs;
    private final BorderPane root = new BorderPane();

    public MainWindow(Desk desk) {
        this.desk = desk;
        loadFonts();
        dialogs = new FileDialogs(desk);
        viewport = new ViewportPane(desk);
        viewport.setId("viewport");
        time = new TimePane(desk);
        root.getStyleClass().add("desk");
        root.setTop(new TopBar(desk, viewport, dialogs, this::switchTheme));
        root.setLeft(new Spine(desk));
        StackPane stage = new StackPane(viewport, new Welcome(desk, dialogs));
        stage.setMinWidth(200);
        SplitPane upper = new SplitPane(new ContentsPane(desk), stage);
        upper.setDividerPositions(0.25);
        SplitPane.setResizableWithParent(upper.getItems().getFirst(), false);
        VBox.setVgrow(upper, Priority.ALWAYS);
        root.setCenter(new VBox(upper, time));
        root.setRight(right());
        root.setBottom(new LedgerRibbon(desk, dialogs));
        root.addEventHandler(DragEvent.DRAG_OVER, this::dragOver);
        root.addEventHandler(DragEvent.DRAG_DROPPED, this::dropped);
        root.addEventFilter(KeyEvent.KEY_PRESSED, this::key);
    }

    private ScrollPane right() {
        VBox column = new VBox(new StationPane(desk, viewport, dialogs), new FindingsList(desk));
        column.getStyleClass().add("right-column");
        ScrollPane scroll = new ScrollPane(column);
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.getStyleClass().add("right");
        scroll.setPrefWidth(296);
        scroll.setMinWidth(296);
        return scroll;
    }

    private static void loadFonts() {
        for (String name : List.of("Lato-Regular.ttf", "Lato-Bold.ttf", "Inconsolata.otf")) {
            InputStream in = MainWindow.class.getResourceAsStream("/org/cleanmarrow/desktop/fonts/" + name);
            Font.loadFont(in, 13);
        }
    }

    /** A scene of this window. */
    public Scene scene(double width, double height) {
        Scene scene = new Scene(root, width, height);
        scene.getStylesheets()
                .add(MainWindow.class
                        .getResource("/org/cleanmarrow/desktop/desk.css")
                        .toExternalForm());
        viewport.requestFocus();
        scene.windowProperty().addListener((o, a, b) -> dialogs.setOwner(b));
        return scene;
    }

    public ViewportPane viewport() {
        return viewport;
    }

    /** Between the light theme and the dark one. */
    public void switchTheme() {
        if (!root.getStyleClass().remove("lamplight")) {
            root.getStyleClass().add("lamplight");
        }
        desk.seconds().set(Math.nextUp(desk.seconds().get()));
    }

    public void close() {
        viewport.close();
    }

    private void dragOver(DragEvent e) {
        if (droppable(e) != null) {
            e.acceptTransferModes(TransferMode.COPY);
            e.consume();
        }
    }

    private void dropped(DragEvent e) {
        File file = droppable(e);
        if (file != null) {
            desk.open(file.toPath());
            e.setDropCompleted(true);
            e.consume();
        }
    }

    private static File droppable(DragEvent e) {
        return e.getDragboard().getFiles().stream()
                .filter(f -> AssetFiles.endings().stream()
                        .anyMatch(end -> f.getName().toLowerCase(Locale.ROOT).endsWith("." + end)))
                .findFirst()
                .orElse(null);
    }

    private static final KeyCombination UNDO = new KeyCodeCombination(KeyCode.Z, KeyCombination.SHORTCUT_DOWN);
    private static final KeyCombination REDO =
            new KeyCodeCombination(KeyCode.Z, KeyCombination.SHORTCUT_DOWN, KeyCombination.SHIFT_DOWN);
    private static final KeyCombination OPEN = new KeyCodeCombination(KeyCode.O, KeyCombination.SHORTCUT_DOWN);

    private void key(KeyEvent e) {
        boolean typing = e.getTarget() instanceof javafx.scene.control.TextInputControl;
        if (UNDO.match(e) && !typing) {
            desk.undo();
        } else if (REDO.match(e) && !typing) {
            desk.redo();
        } else if (OPEN.match(e)) {
            dialogs.open();
        } else if (typing || e.isShortcutDown() || e.isAltDown()) {
            return;
        } else if (e.getCode() == KeyCode.SPACE && !(e.getTarget() instanceof javafx.scene.control.ButtonBase)) {
            time.toggle();
        } else if (e.getCode() == KeyCode.F) {
            viewport.frameChoice();
        } else if (e.getCode() == KeyCode.COMMA) {
            time.step(-1);
        } else if (e.getCode() == KeyCode.PERIOD) {
            time.step(1);
        } else {
            return;
        }
        e.consume();
    }
}
