package org.cleanmarrow.desktop.window;

import java.io.File;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.TextInputControl;
import javafx.scene.input.DragEvent;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.scene.text.Font;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.uv.UvPane;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Zoomed;
import org.cleanmarrow.formats.AssetFiles;

/**
 * The whole window: spine and contents at the left, view with tray and transport in the middle, the station's column at
 * the right, ledger below, and over all a layer for what is shown for a while.
 */
public final class MainWindow {
    private final Desk desk;
    private final ViewportPane viewport;
    private final UvPane uvs;
    private final Transport time;
    private final FileDialogs dialogs;
    private final Commands acts;
    private final StationColumn column;
    private final Layer layer = new Layer();
    private final BorderPane root = new BorderPane();
    private final Zoomed zoomed;

    /** Fonts are the process's. */
    private static boolean fontsLoaded;

    public MainWindow(Desk desk) {
        this.desk = desk;
        if (!fontsLoaded) {
            loadFonts();
            fontsLoaded = true;
        }
        dialogs = new FileDialogs(desk);
        viewport = new ViewportPane(desk);
        viewport.setId("viewport");
        uvs = new UvPane(desk, viewport.chooser());
        // Half of the room each, whatever stands in them.
        viewport.setPrefWidth(1);
        uvs.setPrefWidth(1);
        time = new Transport(desk);
        acts = new Commands(desk, viewport, time, dialogs, layer);
        Finder finder = new Finder(desk, layer);
        finder.setActs(acts);
        Settings settings = new Settings(desk, acts, layer);
        Tour tour = new Tour(desk, layer);
        TargetSheet target = new TargetSheet(desk, dialogs, layer);
        layer.connect(finder::open, settings::open, tour::open, target::open);
        root.getStyleClass().add("desk");
        root.setTop(new TopBar(desk, finder, acts, layer));
        root.setLeft(new Spine(desk));
        Stations stations = new Stations(desk, viewport, dialogs);
        column = new StationColumn(desk, stations, new FindingsList(desk));
        finder.setStations(column);
        HBox views = new HBox(viewport, uvs);
        HBox.setHgrow(viewport, Priority.ALWAYS);
        HBox.setHgrow(uvs, Priority.ALWAYS);
        StackPane stage = new StackPane(views, new Welcome(desk, acts));
        VBox view = new VBox(new ViewBar(desk, acts), stage, new Tray(desk, stations, viewport), time);
        VBox.setVgrow(stage, Priority.ALWAYS);
        view.setMinWidth(200);
        root.setCenter(new Columns(desk.preferences(), new Contents(desk, stations), view, column));
        root.setBottom(new LedgerRibbon(desk, acts, layer));
        zoomed = new Zoomed(new StackPane(root, layer));
        zoomed.factor().bind(desk.preferences().scale());
        zoomed.getStyleClass().add("window");
        showTheme();
        desk.preferences().dark().addListener((o, a, b) -> showTheme());
        desk.asset().addListener((o, a, b) -> {
            if (b == null) {
                layer.hide();
            }
        });
        zoomed.addEventHandler(DragEvent.DRAG_OVER, this::dragOver);
        zoomed.addEventHandler(DragEvent.DRAG_DROPPED, this::dropped);
        zoomed.addEventFilter(KeyEvent.KEY_PRESSED, this::key);
        zoomed.addEventFilter(KeyEvent.KEY_RELEASED, this::released);
    }

    private static void loadFonts() {
        for (String name : List.of("Lato-Regular.ttf", "Lato-Bold.ttf", "Inconsolata.otf")) {
            InputStream in = MainWindow.class.getResourceAsStream("/org/cleanmarrow/desktop/fonts/" + name);
            Font.loadFont(in, 13);
        }
    }

    /** A scene of this window. */
    public Scene scene(double width, double height) {
        Scene scene = new Scene(zoomed, width, height);
        scene.getStylesheets()
                .add(MainWindow.class
                        .getResource("/org/cleanmarrow/desktop/desk.css")
                        .toExternalForm());
        Platform.runLater(viewport::requestFocus);
        scene.windowProperty().addListener((o, a, b) -> dialogs.setOwner(b));
        return scene;
    }

    public ViewportPane viewport() {
        return viewport;
    }

    /** The view of texture coordinates beside it. */
    public UvPane uvs() {
        return uvs;
    }

    /** True while a picture is on its way. */
    public boolean isBusy() {
        return viewport.isBusy() || uvs.isBusy();
    }

    /** Unfolds an act of a station and goes there. */
    public void unfold(String id) {
        column.all().stream().filter(a -> a.id().equals(id)).findFirst().ifPresent(column::reveal);
    }

    /** The acts of all stations. */
    public List<Act> stationActs() {
        return column.all();
    }

    /** Does an act by its id, where it can be done. */
    public void act(String id) {
        acts.run(id);
    }

    private void showTheme() {
        zoomed.getStyleClass().remove("lamplight");
        if (desk.preferences().dark().get()) {
            zoomed.getStyleClass().add("lamplight");
        }
    }

    public void close() {
        viewport.close();
        uvs.close();
    }

    private void dragOver(DragEvent e) {
        if (!droppable(e).isEmpty()) {
            e.acceptTransferModes(TransferMode.COPY);
            e.consume();
        }
    }

    private void dropped(DragEvent e) {
        List<Path> files = droppable(e);
        if (!files.isEmpty()) {
            desk.files().open(files);
            e.setDropCompleted(true);
            e.consume();
        }
    }

    private static List<Path> droppable(DragEvent e) {
        return e.getDragboard().getFiles().stream()
                .filter(f -> AssetFiles.endings().stream()
                        .anyMatch(end -> f.getName().toLowerCase(Locale.ROOT).endsWith("." + end)))
                .map(File::toPath)
                .toList();
    }

    private void key(KeyEvent e) {
        boolean typing = e.getTarget() instanceof TextInputControl;
        boolean plain = !e.isShortcutDown() && !e.isAltDown() && !e.getCode().isFunctionKey();
        boolean edits = e.isShortcutDown() && (e.getCode() == KeyCode.Z || e.getCode() == KeyCode.A) && typing;
        boolean presses = e.getCode() == KeyCode.SPACE && e.getTarget() instanceof ButtonBase;
        if (typing && plain || edits || presses || isInLayer(e)) {
            return;
        }
        Optional<Command> act = acts.of(e);
        if (act.isEmpty() || act.get().id().equals("choose-none") && !isInView(e)) {
            return;
        }
        if (act.get().id().equals(Commands.BEFORE)) {
            desk.seeing().before().set(true);
        }
        act.get().run().run();
        e.consume();
    }

    /** Escape closes what is open elsewhere; only in the view it lets go of the choice. */
    private boolean isInView(KeyEvent e) {
        return e.getTarget() == viewport;
    }

    /** A sheet over the desk takes its keys itself. */
    private boolean isInLayer(KeyEvent e) {
        for (Node up = e.getTarget() instanceof Node node ? node : null; up != null; up = up.getParent()) {
            if (up == layer) {
                return true;
            }
        }
        return false;
    }

    private void released(KeyEvent e) {
        desk.seeing().before().set(false);
    }
}
