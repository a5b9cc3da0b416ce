package org.cleanmarrow.desktop.uv;

import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import javafx.geometry.Point2D;
import javafx.geometry.Pos;
import javafx.scene.AccessibleRole;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.RadioMenuItem;
import javafx.scene.control.ToggleGroup;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Pane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.scene.shape.Rectangle;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.uv.UvLayout;

/**
 * How a mesh lies in its picture, beside the view: islands, what lies over something else, stretch. What is selected here is
 * selected on the mesh, by a click or a box, with the reach that the tray has; right-drag or middle-drag pans, the wheel zooms.
 */
public final class UvPane extends VBox {
    private static final double DRAG = 4;
    private static final double VERTEX_REACH = 12;

    private final Desk desk;
    private final Chooser chooser;
    private final Pane stage = new Pane();
    private final ImageView image = new ImageView();
    private final Rectangle box = new Rectangle();
    private final Label said = new Label();
    private final Label readout = new Label();
    private final Label legendLeast = new Label();
    private final Label legendMost = new Label();
    private final Region legendRamp = new Region();
    private final HBox legend = new HBox(6, legendLeast, legendRamp, legendMost);
    private final MenuButton meshes = menu("uv-mesh");
    private final MenuButton paints = menu("uv-paint");
    private final UvPainter painter = new UvPainter(image::setImage);
    private UvPaint paint = UvPaint.ISLANDS;
    private UvCamera camera;
    /** The mesh that was picked from the list, by its name; empty where the selection tells. */
    private String picked = "";

    private int wantedSet;
    private UvFacts facts;
    private Asset factsOf;
    /** The newest picture that was ordered; null where nothing is shown. */
    private UvPicture ordered;

    private BitSet lit = new BitSet();
    private int litTriangle = -1;
    private Point2D pressed;
    private Point2D last;

    public UvPane(Desk desk, Chooser chooser) {
        this.desk = desk;
        this.chooser = chooser;
        setId("uv-view");
        getStyleClass().add("uv-view");
        Button all = Widgets.button("uv-all", "uv.all", this::frame);
        all.getStyleClass().add("quiet");
        for (UvPaint each : UvPaint.values()) {
            paints.getItems().add(choice("uv.paint." + each.name().toLowerCase(Locale.ROOT), each == paint, () -> {
                paint = each;
                describe();
                order();
            }));
        }
        group(paints);
        HBox head = new HBox(4, meshes, paints, Widgets.spring(), all);
        head.setAlignment(Pos.CENTER_LEFT);
        head.getStyleClass().add("view-bar");
        box.getStyleClass().add("uv-box");
        box.setVisible(false);
        box.setMouseTransparent(true);
        readout.getStyleClass().add("uv-readout");
        readout.setMouseTransparent(true);
        readout.setManaged(false);
        legend.getStyleClass().add("uv-legend");
        legend.setAlignment(Pos.CENTER_LEFT);
        legend.setMouseTransparent(true);
        legendRamp.setPrefSize(110, 8);
        legend.layoutXProperty().set(10);
        legend.layoutYProperty().bind(stage.heightProperty().subtract(30));
        // As large as the stage: a new picture must not lay out the window anew.
        image.setManaged(false);
        stage.getChildren().addAll(image, box, legend, readout);
        stage.setId("uv-stage");
        stage.setMinSize(80, 80);
        stage.setFocusTraversable(true);
        stage.setAccessibleRole(AccessibleRole.IMAGE_VIEW);
        Rectangle clip = new Rectangle();
        clip.widthProperty().bind(stage.widthProperty());
        clip.heightProperty().bind(stage.heightProperty());
        stage.setClip(clip);
        VBox.setVgrow(stage, Priority.ALWAYS);
        said.setId("uv-said");
        said.getStyleClass().add("uv-said");
        said.setWrapText(true);
        said.setMinHeight(Region.USE_PREF_SIZE);
        getChildren().addAll(head, stage, said);
        visibleProperty().bind(desk.seeing().uvs());
        managedProperty().bind(visibleProperty());
        visibleProperty().addListener((o, a, b) -> changed());
        desk.onAnyChange(this::changed);
        desk.selection().chosen().addListener((o, a, b) -> {
            if (!b.isEmpty()) {
                picked = "";
            }
        });
        // What was lit is what another reach would take.
        chooser.reach().addListener((o, a, b) -> light(-1, new BitSet()));
        stage.widthProperty().addListener((o, a, b) -> order());
        stage.heightProperty().addListener((o, a, b) -> order());
        stage.addEventHandler(MouseEvent.MOUSE_PRESSED, this::press);
        stage.addEventHandler(MouseEvent.MOUSE_DRAGGED, this::drag);
        stage.addEventHandler(MouseEvent.MOUSE_RELEASED, this::release);
        stage.addEventHandler(MouseEvent.MOUSE_MOVED, e -> hover(e.getX(), e.getY()));
        stage.addEventHandler(MouseEvent.MOUSE_EXITED, e -> light(-1, new BitSet()));
        stage.addEventHandler(ScrollEvent.SCROLL, this::scroll);
        stage.addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    }

    private static MenuButton menu(String id) {
        MenuButton menu = new MenuButton();
        menu.setId(id);
        menu.getStyleClass().add("quiet");
        menu.setMinWidth(0);
        return menu;
    }

    private static RadioMenuItem choice(String words, boolean on, Runnable run) {
        return item(Labels.of(words), on, run);
    }

    private static RadioMenuItem item(String text, boolean on, Runnable run) {
        RadioMenuItem item = new RadioMenuItem(text);
        item.setMnemonicParsing(false);
        item.setSelected(on);
        item.setOnAction(e -> run.run());
        return item;
    }

    private static void group(MenuButton menu) {
        ToggleGroup group = new ToggleGroup();
        menu.getItems().forEach(i -> ((RadioMenuItem) i).setToggleGroup(group));
    }

    /** True while a picture is on its way. */
    public boolean isBusy() {
        return painter.isBusy();
    }

    public void close() {
        painter.close();
    }

    /** Where a vertex of the mesh that is shown lies on the stage; empty where it has no place. */
    public Optional<Point2D> placeOf(int vertex) {
        return shown().filter(s -> camera != null)
                .map(s -> new Point2D(
                        camera.x(s.layout().uv()[2 * vertex], stage.getWidth()),
                        camera.y(s.layout().uv()[2 * vertex + 1], stage.getHeight())));
    }

    private Optional<UvFacts.Shown> shown() {
        return Optional.ofNullable(facts).flatMap(UvFacts::layout);
    }

    /** The mesh to be shown: the one picked, the one selected, the one shown before, or the first that has coordinates. */
    private int wantedMesh(Asset asset) {
        int named = picked.isEmpty() ? -1 : asset.findMesh(picked);
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (named >= 0) {
            return named;
        }
        if (!chosen.isEmpty()) {
            return chosen.mesh();
        }
        int before = factsOf == null
                        || facts == null
                        || facts.mesh() >= factsOf.meshes().size()
                ? -1
                : asset.findMesh(factsOf.meshRef(facts.mesh()));
        return before >= 0
                ? before
                : IntStream.range(0, asset.meshes().size())
                        .filter(m -> hasCoordinates(asset.meshes().get(m)))
                        .findFirst()
                        .orElse(asset.meshes().isEmpty() ? -1 : 0);
    }

    private static boolean hasCoordinates(Mesh mesh) {
        return !UvLayout.sets(mesh).isEmpty();
    }

    private void changed() {
        if (!isVisible() || !desk.isOpen()) {
            return;
        }
        Asset asset = desk.now();
        Asset received = desk.received();
        int mesh = wantedMesh(asset);
        if (mesh < 0) {
            return;
        }
        int set = wantedSet;
        desk.facts()
                .of("uv", asset, List.of(mesh, set), w -> UvFacts.of(asset, received, mesh, set, w))
                .ifPresent(found -> {
                    if (found != facts) {
                        boolean other =
                                facts == null || factsOf == null || !same(factsOf, facts.mesh(), asset, found.mesh());
                        facts = found;
                        factsOf = asset;
                        lit = new BitSet();
                        litTriangle = -1;
                        if (other) {
                            camera = null;
                        }
                        describe();
                    }
                });
        order();
    }

    private static boolean same(Asset before, int was, Asset now, int is) {
        return was < before.meshes().size() && before.meshRef(was).equals(now.meshRef(is));
    }

    /** Whether what is shown is of the asset that is looked at: numbers of meshes and vertices are its own. */
    private boolean isCurrent() {
        return camera != null && desk.isOpen() && factsOf == desk.now();
    }

    /** What stands in the head and below the picture. */
    private void describe() {
        if (facts == null) {
            return;
        }
        Asset asset = factsOf;
        String name = asset.meshRef(facts.mesh());
        meshes.setText(facts.sets().size() > 1 ? Labels.of("uv.mesh.set", name, facts.set()) : name);
        meshes.setAccessibleText(Labels.of("uv.mesh", name));
        legend.setVisible(paint == UvPaint.SCALE || paint == UvPaint.ANGLES);
        if (legend.isVisible()) {
            String kind = paint.name().toLowerCase(Locale.ROOT);
            legendRamp.getStyleClass().setAll("uv-ramp-" + kind);
            legendLeast.setText(Labels.of("uv.legend." + kind + ".least"));
            legendMost.setText(Labels.of("uv.legend." + kind + ".most"));
        }
        paints.setText(Labels.of("uv.paint." + paint.name().toLowerCase(Locale.ROOT)));
        meshes.getItems().clear();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (hasCoordinates(asset.meshes().get(m))) {
                String one = asset.meshRef(m);
                for (int set : m == facts.mesh() ? facts.sets() : List.of(0)) {
                    String text =
                            m == facts.mesh() && facts.sets().size() > 1 ? Labels.of("uv.mesh.set", one, set) : one;
                    meshes.getItems().add(item(text, m == facts.mesh() && set == facts.set(), () -> {
                        picked = one;
                        wantedSet = set;
                        changed();
                    }));
                }
            }
        }
        group(meshes);
        said.setText(shown().map(this::summary).orElseGet(() -> Labels.of("uv.none", name)));
        stage.setAccessibleText(said.getText());
    }

    private String summary(UvFacts.Shown s) {
        String against = facts.against()
                .map(d -> d.moved() == 0
                        ? Labels.of("uv.said.same")
                        : Labels.of("uv.said.changed", d.moved(), d.changed(), d.largest()))
                .orElseGet(() -> Labels.of("uv.said.unlike"));
        if (Double.isNaN(s.stretch().root())) {
            return Labels.of(
                            "uv.said.spots",
                            s.layout().islandCount(),
                            s.layout().triangleCount()) + " " + against;
        }
        String over = s.overlap().partly().isEmpty()
                ? Labels.of("uv.said.apart")
                : Labels.of("uv.said.over", s.overlap().partly().cardinality());
        String stacked = s.overlap().stacked().isEmpty()
                ? ""
                : " " + Labels.of("uv.said.stacked", s.overlap().stacked().cardinality());
        return Labels.of(
                        "uv.said.islands",
                        s.layout().islandCount(),
                        s.layout().triangleCount(),
                        s.stretch().root())
                + " " + over + stacked + " " + against;
    }

    /** Looks at what is selected, or at all of it. */
    private void frame() {
        shown().ifPresent(s -> {
            double[] box = chosenHere().isEmpty() ? null : s.box(chosenHere());
            camera = UvCamera.framing(box == null ? everything(s) : box, stage.getWidth(), stage.getHeight());
            order();
        });
    }

    private static double[] everything(UvFacts.Shown s) {
        double[] all = s.box(null);
        double[] out = UvCamera.PICTURE.clone();
        for (int k = 0; k < 2; k++) {
            out[k] = Math.min(out[k], all[k]);
            out[k + 2] = Math.max(out[k + 2], all[k + 2]);
        }
        return out;
    }

    private BitSet chosenHere() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        return facts != null && chosen.mesh() == facts.mesh() ? chosen.vertices() : new BitSet();
    }

    private void order() {
        int w = (int) Math.round(stage.getWidth());
        int h = (int) Math.round(stage.getHeight());
        if (!isVisible() || w < 2 || h < 2) {
            return;
        }
        if (shown().isEmpty()) {
            image.setImage(null);
            ordered = null;
            return;
        }
        UvFacts.Shown s = shown().get();
        if (camera == null) {
            camera = UvCamera.framing(everything(s), w, h);
        }
        UvPicture picture = new UvPicture(s, facts.picture(), camera, w, h, paint, chosenHere(), lit);
        // The desk tells of many changes that none of this shows.
        if (!picture.equals(ordered)) {
            ordered = picture;
            painter.order(picture);
        }
    }

    private void press(MouseEvent e) {
        stage.requestFocus();
        pressed = new Point2D(e.getX(), e.getY());
        last = pressed;
    }

    private void drag(MouseEvent e) {
        if (pressed == null || camera == null) {
            return;
        }
        Point2D at = new Point2D(e.getX(), e.getY());
        if (e.getButton() != MouseButton.PRIMARY) {
            camera = camera.panned(at.getX() - last.getX(), at.getY() - last.getY());
            order();
        } else if (pressed.distance(at) > DRAG) {
            box.setX(Math.min(pressed.getX(), at.getX()));
            box.setY(Math.min(pressed.getY(), at.getY()));
            box.setWidth(Math.abs(pressed.getX() - at.getX()));
            box.setHeight(Math.abs(pressed.getY() - at.getY()));
            box.setVisible(true);
        }
        last = at;
    }

    private void release(MouseEvent e) {
        if (pressed != null && e.getButton() == MouseButton.PRIMARY && isCurrent()) {
            Optional<BitSet> taken =
                    box.isVisible() ? shown().map(s -> boxed(s)) : shown().map(s -> taken(s, e.getX(), e.getY()));
            taken.ifPresent(t -> desk.selection().choose(facts.mesh(), t, e.isShiftDown(), e.isShortcutDown()));
        }
        box.setVisible(false);
        pressed = null;
    }

    private BitSet boxed(UvFacts.Shown s) {
        double w = stage.getWidth();
        double h = stage.getHeight();
        BitSet in = s.within(
                camera.uAt(box.getX(), w),
                camera.vAt(box.getY(), h),
                camera.uAt(box.getX() + box.getWidth(), w),
                camera.vAt(box.getY() + box.getHeight(), h));
        return in.isEmpty()
                ? in
                : switch (chooser.reach().get()) {
                    case VERTEX -> in;
                    case FACE -> s.facesOf(in);
                    case ISLAND -> s.islandsOf(in);
                    case PART -> everyVertex();
                };
    }

    /** What a click takes: the vertex near by, or of the triangle there what the tray's reach says. */
    private BitSet taken(UvFacts.Shown s, double x, double y) {
        double u = camera.uAt(x, stage.getWidth());
        double v = camera.vAt(y, stage.getHeight());
        BitSet out = new BitSet();
        if (chooser.reach().get() == Chooser.Reach.VERTEX) {
            int vertex = s.vertexAt(u, v, VERTEX_REACH / camera.scale());
            if (vertex >= 0) {
                out.set(vertex);
            }
            return out;
        }
        int t = s.at(u, v);
        if (t < 0) {
            return out;
        }
        if (t == litTriangle && !lit.isEmpty()) {
            return lit;
        }
        return switch (chooser.reach().get()) {
            case ISLAND -> s.layout().verticesOf(s.layout().islandOf(t));
            case PART -> everyVertex();
            default -> {
                for (int i = 3 * t; i < 3 * t + 3; i++) {
                    out.set(s.layout().corners()[i]);
                }
                yield out;
            }
        };
    }

    private BitSet everyVertex() {
        return VertexChoice.all(factsOf.meshes().get(facts.mesh()));
    }

    private void hover(double x, double y) {
        if (shown().isEmpty() || !isCurrent()) {
            return;
        }
        UvFacts.Shown s = shown().get();
        int t = s.at(camera.uAt(x, stage.getWidth()), camera.vAt(y, stage.getHeight()));
        light(t, t == litTriangle && chooser.reach().get() != Chooser.Reach.VERTEX ? lit : taken(s, x, y));
        readout.setVisible(t >= 0);
        if (t >= 0) {
            readout.setText(Labels.of(
                    "uv.readout",
                    s.layout().islandOf(t) + 1,
                    Float.isNaN(s.stretch().scale()[t]) ? 0 : s.stretch().scale()[t],
                    Float.isNaN(s.stretch().shear()[t]) ? 0 : s.stretch().shear()[t]));
            readout.autosize();
            readout.relocate(
                    Math.clamp(x + 14, 0, Math.max(0, stage.getWidth() - readout.getWidth())),
                    Math.clamp(y + 14, 0, Math.max(0, stage.getHeight() - readout.getHeight())));
        }
    }

    private void light(int triangle, BitSet vertices) {
        boolean same = litTriangle == triangle && lit.equals(vertices);
        litTriangle = triangle;
        lit = vertices;
        if (triangle < 0) {
            readout.setVisible(false);
        }
        if (!same) {
            order();
        }
    }

    private void scroll(ScrollEvent e) {
        if (camera != null && e.getDeltaY() != 0) {
            zoom(Math.pow(1.0015, e.getDeltaY()), e.getX(), e.getY());
        }
    }

    private void zoom(double factor, double x, double y) {
        camera = camera.zoomed(factor, x, y, stage.getWidth(), stage.getHeight());
        order();
    }

    private void key(KeyEvent e) {
        if (camera == null) {
            return;
        }
        double x = stage.getWidth() / 2;
        double y = stage.getHeight() / 2;
        switch (e.getCode()) {
            case LEFT -> camera = camera.panned(40, 0);
            case RIGHT -> camera = camera.panned(-40, 0);
            case UP -> camera = camera.panned(0, 40);
            case DOWN -> camera = camera.panned(0, -40);
            case PLUS, ADD, EQUALS -> zoom(1.18, x, y);
            case MINUS, SUBTRACT -> zoom(0.85, x, y);
            default -> {
                return;
            }
        }
        order();
        e.consume();
    }
}
