package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import java.util.Optional;
import javafx.animation.PauseTransition;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.geometry.Point2D;
import javafx.scene.AccessibleRole;
import javafx.scene.Cursor;
import javafx.scene.canvas.Canvas;
import javafx.scene.image.ImageView;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Pane;
import javafx.util.Duration;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.MeshTopology;
import org.joml.Vector3d;

/**
 * The view of the asset: right-drag orbits, middle-drag pans, wheel zooms to the pointer, left chooses. Draws
 * on demand; smoothing is off while something moves and on when it rests.
 */
public final class ViewportPane extends Pane {
    private static final double DRAG = 4;
    private static final double JOINT_REACH = 7;
    private static final double DIVIDER_REACH = 9;

    /** How left-drag and click choose vertices. */
    public enum Tool {
        BOX,
        SHELL
    }

    private final Desk desk;
    private final ImageView image = new ImageView();
    private final Canvas canvas = new Canvas();
    private final Overlay overlay = new Overlay();
    private final Picker picker = new Picker();
    private final RenderThread renderer;
    private final PauseTransition settle = new PauseTransition(Duration.millis(140));
    private final ObjectProperty<Tool> tool = new SimpleObjectProperty<>(Tool.SHELL);
    private final BooleanProperty joints = new SimpleBooleanProperty(true);
    private final BooleanProperty wire = new SimpleBooleanProperty();
    private final BooleanProperty seenOnly = new SimpleBooleanProperty();
    private Camera camera = Camera.front();
    private Asset framed;
    private Point2D pressed;
    private Point2D last;
    private MouseButton held = MouseButton.NONE;
    private boolean draggingDivider;
    private boolean still = true;
    private Overlay.Band band;
    private Overlay.Readout readout;

    public ViewportPane(Desk desk) {
        this.desk = desk;
        getStyleClass().add("viewport");
        setAccessibleRole(AccessibleRole.IMAGE_VIEW);
        setAccessibleText(Words.of("viewport.name"));
        setFocusTraversable(true);
        setMinSize(120, 120);
        getChildren().addAll(image, canvas);
        renderer = new RenderThread(this::show, overlay::setTrouble);
        settle.setOnFinished(e -> {
            still = true;
            order();
        });
        desk.revision().addListener((o, a, b) -> assetChanged());
        desk.joint().addListener((o, a, b) -> moved());
        desk.chosen().addListener((o, a, b) -> moved());
        desk.clip().addListener((o, a, b) -> moved());
        desk.seconds().addListener((o, a, b) -> moved());
        desk.paint().addListener((o, a, b) -> moved());
        desk.divider().addListener((o, a, b) -> moved());
        desk.target().addListener((o, a, b) -> drawOverlay());
        desk.station().addListener((o, a, b) -> drawOverlay());
        desk.shown().addListener((o, a, b) -> lookAt(b));
        joints.addListener((o, a, b) -> drawOverlay());
        wire.addListener((o, a, b) -> order());
        widthProperty().addListener((o, a, b) -> order());
        heightProperty().addListener((o, a, b) -> order());
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::press);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::drag);
        addEventHandler(MouseEvent.MOUSE_RELEASED, this::release);
        addEventHandler(MouseEvent.MOUSE_MOVED, this::hover);
        addEventHandler(MouseEvent.MOUSE_EXITED, e -> setReadout(null));
        addEventHandler(ScrollEvent.SCROLL, this::scroll);
        addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    }

    public ObjectProperty<Tool> tool() {
        return tool;
    }

    /** Whether joints are drawn. */
    public BooleanProperty joints() {
        return joints;
    }

    public BooleanProperty wire() {
        return wire;
    }

    /** Whether the box leaves out what lies behind something. */
    public BooleanProperty seenOnly() {
        return seenOnly;
    }

    public Camera camera() {
        return camera;
    }

    public void setCamera(Camera next) {
        camera = next;
        moved();
    }

    /** True while a picture is on its way, or a smoother one will follow. */
    public boolean isBusy() {
        return renderer.isBusy() || !still;
    }

    public void close() {
        renderer.close();
    }

    @Override
    protected void layoutChildren() {
        image.setFitWidth(getWidth());
        image.setFitHeight(getHeight());
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        drawOverlay();
    }

    private void show(WritableImage picture) {
        image.setImage(picture);
    }

    private void assetChanged() {
        if (!desk.isOpen()) {
            return;
        }
        if (framed != desk.received()) {
            framed = desk.received();
            frameAll();
        }
        moved();
    }

    /** Looks at everything. */
    public void frameAll() {
        if (desk.isOpen()) {
            Box box = viewBox(desk.now(), -1, null);
            camera = box.isEmpty() ? Camera.front() : Camera.front().framing(box);
            moved();
        }
    }

    /** Looks at what is chosen: vertices, else the joint, else everything. */
    public void frameChoice() {
        if (!desk.isOpen()) {
            return;
        }
        Desk.Chosen c = desk.chosen().get();
        if (!c.isEmpty()) {
            camera = camera.framing(padded(viewBox(desk.now(), c.mesh(), c.vertices())));
        } else if (desk.jointNode() >= 0) {
            pose();
            Vector3d at = picker.nodePlace(desk.jointNode());
            Box box = Box.empty();
            box.grow(at.x, at.y, at.z);
            camera = camera.framing(padded(box));
        } else {
            frameAll();
        }
        moved();
    }

    private Box padded(Box box) {
        double pad =
                Math.max(box.diagonal() * 0.6, viewBox(desk.now(), -1, null).diagonal() * 0.12);
        Vector3d by = new Vector3d(pad / 2);
        return new Box(new Vector3d(box.min()).sub(by), new Vector3d(box.max()).add(by));
    }

    private Box viewBox(Asset asset, int mesh, BitSet vertices) {
        picker.pose(asset, desk.playedClip().orElse(null), desk.seconds().get());
        Box box = Box.empty();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (mesh >= 0 && m != mesh) {
                continue;
            }
            int count = asset.meshes().get(m).vertexCount();
            for (int v = 0; v < count; v++) {
                if (vertices == null || vertices.get(v)) {
                    Vector3d p = picker.vertexPlace(m, v);
                    if (p.isFinite()) {
                        box.grow(p.x, p.y, p.z);
                    }
                }
            }
        }
        return box;
    }

    private void lookAt(Finding finding) {
        if (finding == null) {
            return;
        }
        if (finding.place().mesh() >= 0 || finding.place().node() >= 0) {
            frameChoice();
        } else {
            frameAll();
        }
    }

    private void moved() {
        still = false;
        settle.playFromStart();
        order();
    }

    private void order() {
        int w = (int) Math.round(getWidth() * scale());
        int h = (int) Math.round(getHeight() * scale());
        if (w < 2 || h < 2) {
            return;
        }
        boolean open = desk.isOpen();
        Desk.Chosen chosen = desk.chosen().get();
        renderer.order(new Picture(
                w,
                h,
                camera,
                open ? desk.received() : null,
                open ? desk.now() : null,
                open ? desk.divider().get() : 0,
                desk.playedClip().orElse(null),
                desk.seconds().get(),
                desk.paint().get(),
                desk.jointNode(),
                chosen.mesh(),
                chosen.vertices(),
                wire.get(),
                still && !desk.playing().get()));
        drawOverlay();
    }

    private double scale() {
        return getScene() == null || getScene().getWindow() == null
                ? 1
                : getScene().getWindow().getRenderScaleX();
    }

    private void pose() {
        picker.pose(desk.now(), desk.playedClip().orElse(null), desk.seconds().get());
    }

    private void drawOverlay() {
        if (canvas.getWidth() < 2) {
            return;
        }
        if (desk.isOpen()) {
            pose();
        }
        overlay.draw(canvas, desk, camera, desk.isOpen() ? picker : null, joints.get(), band, readout);
    }

    private void press(MouseEvent e) {
        requestFocus();
        pressed = new Point2D(e.getX(), e.getY());
        last = pressed;
        held = e.getButton();
        draggingDivider = e.getButton() == MouseButton.PRIMARY && overDivider(e.getX());
        setReadout(null);
    }

    private boolean overDivider(double x) {
        return desk.isOpen()
                && desk.divider().get() > 0
                && Math.abs(x - desk.divider().get() * getWidth()) < DIVIDER_REACH;
    }

    private void drag(MouseEvent e) {
        if (pressed == null) {
            return;
        }
        double dx = e.getX() - last.getX();
        double dy = e.getY() - last.getY();
        last = new Point2D(e.getX(), e.getY());
        if (held == MouseButton.SECONDARY) {
            setCamera(camera.orbited(dx, dy));
        } else if (held == MouseButton.MIDDLE) {
            setCamera(camera.panned(dx, dy, getHeight()));
        } else if (draggingDivider) {
            desk.divider().set(Math.clamp(e.getX() / getWidth(), 0, 1));
        } else if (pressed.distance(last) > DRAG && tool.get() == Tool.BOX) {
            band = new Overlay.Band(
                    Math.min(pressed.getX(), e.getX()), Math.min(pressed.getY(), e.getY()),
                    Math.max(pressed.getX(), e.getX()), Math.max(pressed.getY(), e.getY()));
            drawOverlay();
        }
    }

    private void release(MouseEvent e) {
        boolean click = pressed != null && pressed.distance(e.getX(), e.getY()) <= DRAG;
        if (e.getButton() == MouseButton.PRIMARY && desk.isOpen() && !draggingDivider) {
            pose();
            if (band != null) {
                Overlay.Band b = band;
                band = null;
                Picker.Boxed found =
                        picker.inBox(camera, getWidth(), getHeight(), b.x0(), b.y0(), b.x1(), b.y1(), seenOnly.get());
                choose(found == null ? -1 : found.mesh(), found == null ? new BitSet() : found.vertices(), e);
            } else if (click) {
                click(e);
            }
        }
        band = null;
        draggingDivider = false;
        pressed = null;
        drawOverlay();
    }

    private void click(MouseEvent e) {
        if (joints.get()) {
            Optional<Integer> joint = jointAt(e.getX(), e.getY());
            if (joint.isPresent()) {
                desk.joint().set(desk.now().nodeRef(joint.get()));
                return;
            }
        }
        Picker.Hit hit = hitAt(e.getX(), e.getY());
        if (hit == null) {
            choose(-1, new BitSet(), e);
            return;
        }
        int mesh = hit.place().mesh();
        BitSet vertices = new BitSet();
        vertices.set(hit.vertex());
        if (tool.get() == Tool.SHELL) {
            Mesh of = desk.now().meshes().get(mesh);
            vertices = MeshTopology.of(of).shellsOf(vertices);
        }
        choose(mesh, vertices, e);
    }

    private void choose(int mesh, BitSet vertices, MouseEvent e) {
        Desk.Chosen before = desk.chosen().get();
        boolean more = e.isShiftDown() && before.mesh() == mesh;
        boolean less = e.isShortcutDown() && before.mesh() == mesh;
        BitSet next = (BitSet) vertices.clone();
        if (more) {
            next.or(before.vertices());
        } else if (less) {
            next = (BitSet) before.vertices().clone();
            next.andNot(vertices);
        } else if (vertices.isEmpty() && (e.isShiftDown() || e.isShortcutDown())) {
            return;
        }
        desk.choose(mesh, next);
    }

    private Picker.Hit hitAt(double x, double y) {
        return picker.pick(camera.eye(), camera.ray(x, y, getWidth(), getHeight()));
    }

    private Optional<Integer> jointAt(double x, double y) {
        boolean[] flags = desk.now().jointFlags();
        int best = -1;
        double least = JOINT_REACH;
        for (int n = 0; n < flags.length; n++) {
            if (!flags[n]) {
                continue;
            }
            Vector3d at = camera.toPicture(picker.nodePlace(n), getWidth(), getHeight());
            double d = Math.hypot(at.x - x, at.y - y);
            if (at.z > 0 && d < least) {
                least = d;
                best = n;
            }
        }
        return best < 0 ? Optional.empty() : Optional.of(best);
    }

    private void hover(MouseEvent e) {
        setCursor(overDivider(e.getX()) ? Cursor.H_RESIZE : Cursor.DEFAULT);
        if (!desk.isOpen() || desk.playing().get()) {
            return;
        }
        pose();
        Picker.Hit hit = hitAt(e.getX(), e.getY());
        setReadout(hit == null ? null : Overlay.Readout.of(desk, hit, e.getX(), e.getY()));
    }

    private void setReadout(Overlay.Readout next) {
        if (next != readout) {
            readout = next;
            drawOverlay();
        }
    }

    private void scroll(ScrollEvent e) {
        if (e.getDeltaY() != 0) {
            setCamera(camera.zoomed(Math.pow(0.9985, e.getDeltaY()), e.getX(), e.getY(), getWidth(), getHeight()));
        }
    }

    private void key(KeyEvent e) {
        switch (e.getCode()) {
            case LEFT -> setCamera(camera.orbited(15, 0));
            case RIGHT -> setCamera(camera.orbited(-15, 0));
            case UP -> setCamera(camera.orbited(0, 10));
            case DOWN -> setCamera(camera.orbited(0, -10));
            case PLUS, ADD, EQUALS ->
                setCamera(camera.zoomed(0.85, getWidth() / 2, getHeight() / 2, getWidth(), getHeight()));
            case MINUS, SUBTRACT ->
                setCamera(camera.zoomed(1.18, getWidth() / 2, getHeight() / 2, getWidth(), getHeight()));
            default -> {
                return;
            }
        }
        e.consume();
    }
}
