package org.cleanmarrow.desktop.viewport;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import javafx.animation.AnimationTimer;
import javafx.animation.PauseTransition;
import javafx.beans.value.ObservableValue;
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
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.joml.Vector3d;

/**
 * The view of the asset: right-drag orbits, middle-drag pans, wheel zooms to the pointer, left chooses. Draws on
 * demand; while something moves smoothing is off, and where a picture takes too long it is drawn coarser; when it
 * rests it is drawn in full.
 */
public final class ViewportPane extends Pane {
    /** What is selected faces one way on the whole where its directions add up to this share at least. */
    private static final double AGREEING = 0.3;

    private static final Picture.Marked UNLIT = Picture.Marked.NONE;
    private static final double DRAG = 4;
    private static final double JOINT_REACH = 7;
    private static final double DIVIDER_REACH = 9;
    /** A moving picture that takes longer than this is drawn at half the size. */
    private static final double SLOW_MILLISECONDS = 22;
    /** Mirror images of vertices may miss their place by this share of the asset's size. */
    private static final double MIRROR_TOLERANCE = 1e-4;
    /** Degrees a second of the turntable. */
    private static final double TURNTABLE = 24;

    private final Desk desk;
    private final Chooser chooser = new Chooser();
    private final Brush brush = new Brush();
    /** The asset as the stroke under way leaves it; null while none is drawn. */
    private Asset painted;

    private final ImageView image = new ImageView();
    private final Canvas canvas = new Canvas();
    /** What drags take hold of first. */
    private final List<Grip> grips;

    private final Overlay overlay;
    private Grip gripped;
    private Picker picker = new Picker();
    /** Takes the next pose while the other is asked. */
    private Picker spare = new Picker();

    private boolean posing;
    /** What waits until it is known what lies where. */
    private final Set<Runnable> waiting = new LinkedHashSet<>();

    private MouseEvent hovered;
    private final Runnable aimAgain = this::aimUnderPointer;
    private final Orders renderer;
    private final PauseTransition settle = new PauseTransition(Duration.millis(140));
    private Camera camera = Camera.front();
    private Asset framed;
    private Box bounds = Box.empty();
    private Asset boundsOf;
    private Point2D pressed;
    private Point2D last;
    private MouseButton held = MouseButton.NONE;
    private boolean draggingDivider;
    private boolean still = true;
    private boolean coarse;
    private final List<Point2D> line = new ArrayList<>();
    private BitSet brushed;
    private Overlay.Readout readout;
    private Aim aim = Aim.NOTHING;
    private long lastTurn;

    public ViewportPane(Desk desk) {
        this.desk = desk;
        ShapeHandles handles = new ShapeHandles(desk);
        grips = List.of(handles, new BodyGrip(desk));
        overlay = new Overlay(handles, grips);
        getStyleClass().add("viewport");
        setAccessibleRole(AccessibleRole.IMAGE_VIEW);
        setAccessibleText(Labels.of("viewport.name"));
        setFocusTraversable(true);
        setMinSize(120, 120);
        // They are as large as this is, and a new picture must not lay out the window anew.
        image.setManaged(false);
        canvas.setManaged(false);
        getChildren().addAll(image, canvas);
        renderer = new Orders(this::show, this::failed);
        settle.setOnFinished(e -> {
            still = true;
            order();
        });
        desk.asset().addListener((o, a, b) -> assetChanged());
        desk.onAnyChange(this::prepare);
        for (ObservableValue<?> seen : List.of(
                desk.selection().joint(),
                desk.selection().chosen(),
                desk.beside(),
                desk.playback().clip(),
                desk.playback().trial(),
                desk.playback().seconds())) {
            seen.addListener((o, a, b) -> moved());
        }
        desk.seeing().inPicture().forEach(seen -> seen.addListener((o, a, b) -> moved()));
        desk.seeing().overPicture().forEach(drawn -> drawn.addListener((o, a, b) -> drawOverlay()));
        for (ObservableValue<?> drawn : List.of(
                desk.target(),
                desk.station(),
                desk.selection().shape(),
                desk.preferences().unit(),
                chooser.gesture(),
                chooser.brush())) {
            drawn.addListener((o, a, b) -> drawOverlay());
        }
        desk.preferences().smooth().addListener((o, a, b) -> moved());
        desk.seeing().turning().addListener((o, a, on) -> turntable(on));
        desk.shown().addListener((o, a, b) -> lookAt(b));
        desk.jobs().trouble().addListener((o, a, failed) -> {
            // A stroke that could not be recorded is not shown either.
            painted = null;
            moved();
        });
        widthProperty().addListener((o, a, b) -> order());
        heightProperty().addListener((o, a, b) -> order());
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::press);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::drag);
        addEventHandler(MouseEvent.MOUSE_RELEASED, this::release);
        addEventHandler(MouseEvent.MOUSE_MOVED, this::hover);
        addEventHandler(MouseEvent.MOUSE_EXITED, e -> {
            hovered = null;
            aimAt(Aim.NOTHING, null);
        });
        addEventHandler(ScrollEvent.SCROLL, this::scroll);
        addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    }

    public Chooser chooser() {
        return chooser;
    }

    public Brush brush() {
        return brush;
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

    /** Whether the picture on the screen is of the asset that is looked at. */
    public boolean showsAsset() {
        return desk.isOpen() && renderer.shows() == desk.now();
    }

    public void close() {
        turner.stop();
        renderer.close();
    }

    /** Box of everything at rest, in metres, Y up. */
    public Box bounds() {
        return bounds;
    }

    /** How far a mirror image may miss its vertex, in the asset's unit. */
    public double mirrorTolerance() {
        return bounds.diagonal() / desk.now().conventions().metresPerUnit() * MIRROR_TOLERANCE;
    }

    @Override
    protected void layoutChildren() {
        if (canvas.getWidth() == getWidth() && canvas.getHeight() == getHeight()) {
            return;
        }
        image.setFitWidth(getWidth());
        image.setFitHeight(getHeight());
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        drawOverlay();
    }

    private void show(WritableImage picture) {
        image.setImage(picture);
    }

    private void failed(String what) {
        overlay.setTrouble(what);
        drawOverlay();
    }

    private void assetChanged() {
        painted = null;
        aim = Aim.NOTHING;
        readout = null;
        if (!desk.isOpen()) {
            boundsOf = null;
            framed = null;
            bounds = Box.empty();
            moved();
            return;
        }
        prepare();
        moved();
    }

    /** Poses, trees and the box of a new asset are found elsewhere; it is looked at once they are there. */
    private void prepare() {
        if (!desk.isOpen() || boundsOf == desk.now()) {
            return;
        }
        Asset asset = desk.now();
        desk.facts().of("view", asset, w -> Picker.prepare(asset)).ifPresent(ready -> {
            boundsOf = asset;
            bounds = ready.box();
            picker.take(ready);
            // Of another asset it would be of no use, and hold it.
            spare = posing ? spare : new Picker();
            if (framed != desk.received()) {
                framed = desk.received();
                desk.seeing().tape().set(ViewOptions.Tape.NONE);
                frameAll();
            }
            moved();
        });
    }

    /** Looks at everything, from three quarters. */
    public void frameAll() {
        frameAll(seen -> Camera.front().withParallel(seen.parallel()));
    }

    private void frameAll(UnaryOperator<Camera> from) {
        whenPosed(() -> {
            camera = from.apply(camera);
            Box box = picker.box();
            Box beside = new Box(new Vector3d(box.min()), new Vector3d(box.max()));
            if (!box.isEmpty() && desk.seeing().figure().get()) {
                beside.grow(bounds.min().x - 0.75, 0, 0);
                beside.grow(bounds.min().x - 0.45, 1.8, 0);
            }
            if (!box.isEmpty() && desk.seeing().cube().get()) {
                beside.grow(bounds.max().x + 1.25, 0, 0);
            }
            camera = box.isEmpty() ? Camera.front() : camera.framing(beside);
            moved();
        });
    }

    /**
     * Looks at everything from a side.
     *
     * @param turn degrees about the upright axis, 0 in front
     * @param tilt degrees above the horizon
     */
    public void lookFrom(double turn, double tilt) {
        frameAll(seen -> seen.turned(turn, tilt));
    }

    /** Middle of the chosen vertices at rest, in metres as glTF has its axes. */
    public Vector3d middleOfChoice() {
        Selection.Chosen c = desk.selection().chosen().get();
        Picker still = new Picker();
        still.pose(desk.now(), null, 0);
        return still.box(c.mesh(), c.vertices()).centre();
    }

    /** Nodes with parts that are nowhere in the picture. */
    public List<Integer> outside() {
        pose();
        return picker.outside(camera, getWidth(), getHeight());
    }

    /** Looks at what is chosen: vertices, else the joint, else everything. */
    public void frameChoice() {
        whenPosed(this::frameChosen);
    }

    private void frameChosen() {
        Selection.Chosen c = desk.selection().chosen().get();
        if (!c.isEmpty()) {
            camera = camera.framing(padded(picker.box(c.mesh(), c.vertices())));
        } else if (desk.selection().jointNode() >= 0) {
            Vector3d at = picker.nodePlace(desk.selection().jointNode());
            Box box = Box.empty();
            box.grow(at.x, at.y, at.z);
            camera = camera.framing(padded(box));
        } else {
            frameAll();
        }
        moved();
    }

    private Box padded(Box box) {
        double pad = Math.max(box.diagonal() * 0.6, bounds.diagonal() * 0.12);
        Vector3d by = new Vector3d(pad / 2);
        return new Box(new Vector3d(box.min()).sub(by), new Vector3d(box.max()).add(by));
    }

    private void lookAt(Finding finding) {
        if (finding == null) {
            return;
        }
        if (finding.place().mesh() >= 0 || finding.place().node() >= 0) {
            showChoice();
        } else {
            frameAll();
        }
    }

    /** Comes near what is selected, and round to the other side where it is seen from behind. */
    public void showChoice() {
        whenPosed(() -> {
            Selection.Chosen c = desk.selection().chosen().get();
            Vector3d facing = c.isEmpty() ? new Vector3d() : picker.facing(c.mesh(), c.vertices());
            frameChosen();
            if (facing.length() > AGREEING && camera.isBehind(facing)) {
                camera = camera.facing(facing);
                moved();
            }
        });
    }

    private final AnimationTimer turner = new AnimationTimer() {
        @Override
        public void handle(long now) {
            double passed = lastTurn == 0 ? 0 : (now - lastTurn) / 1e9;
            lastTurn = now;
            setCamera(camera.turned(camera.turn() + passed * TURNTABLE, camera.tilt()));
        }
    };

    private void turntable(boolean on) {
        lastTurn = 0;
        if (on) {
            turner.start();
        } else {
            turner.stop();
        }
    }

    private void moved() {
        // Without smoothing a whole picture is as good at once as after a rest.
        still = !smooth() && !coarse;
        if (!still) {
            settle.playFromStart();
        }
        order();
    }

    private boolean smooth() {
        return desk.preferences().smooth().get();
    }

    /** What is now, or what a stroke or a trial makes of it so far. */
    private Asset drawn() {
        Asset tried = desk.seeing().tried().get();
        return painted != null ? painted : tried != null ? tried : desk.now();
    }

    private void order() {
        double size = scale() * (coarse && !still ? 0.5 : 1);
        int w = (int) Math.round(getWidth() * size);
        int h = (int) Math.round(getHeight() * size);
        if (w < 2 || h < 2) {
            return;
        }
        boolean open = desk.isOpen();
        Selection.Chosen chosen = desk.selection().chosen().get();
        ViewOptions seeing = desk.seeing();
        renderer.order(new Picture(
                w,
                h,
                camera,
                open ? desk.otherSide() : null,
                !open ? null : drawn(),
                !open ? 0 : seeing.before().get() ? 1 : seeing.divider().get(),
                desk.playedClip().orElse(null),
                open ? desk.playback().on(desk.otherSide()).orElse(null) : null,
                desk.playback().seconds().get(),
                seeing.paint().get(),
                desk.selection().jointNode(),
                open ? desk.now().findNode(desk.selection().compared().get()) : -1,
                desk.price().get(),
                new Picture.Marked(chosen.mesh(), chosen.vertices()),
                lit(),
                new Picture.Look(
                        seeing.wire().get(),
                        seeing.points().get(),
                        seeing.ghost().get(),
                        seeing.figure().get() && !bounds.isEmpty(),
                        seeing.cube().get() && !bounds.isEmpty(),
                        seeing.dual().get(),
                        seeing.relaxed().get()),
                bounds,
                still && smooth() && !desk.playback().playing().get()));
        if (!still || !smooth()) {
            coarse = renderer.isSoftware() && renderer.movingMilliseconds() > SLOW_MILLISECONDS / (coarse ? 3 : 1);
        }
        drawOverlay();
    }

    private double scale() {
        return getScene() == null || getScene().getWindow() == null
                ? 1
                : getScene().getWindow().getRenderScaleX()
                        * desk.preferences().scale().get();
    }

    private void pose() {
        picker.pose(
                desk.now(),
                desk.playedClip().orElse(null),
                desk.playback().seconds().get());
    }

    /**
     * Runs something on what is open once it is known what lies where in the pose that is shown: at once where it is. Where a clip
     * plays on meanwhile it is the pose of when it was asked.
     */
    private void whenPosed(Runnable then) {
        if (!desk.isOpen()) {
            return;
        }
        pose();
        if (picker.isReady()) {
            then.run();
            return;
        }
        waiting.add(then);
        if (posing) {
            return;
        }
        posing = true;
        Asset asset = desk.now();
        Clip clip = desk.playedClip().orElse(null);
        double seconds = desk.playback().seconds().get();
        Picker next = spare;
        desk.jobs()
                .glance(
                        w -> {
                            next.pose(asset, clip, seconds);
                            next.makeReady();
                            return next;
                        },
                        ready -> {
                            boolean wanted = asset == desk.now();
                            spare = wanted ? picker : new Picker();
                            picker = wanted ? ready : picker;
                            List<Runnable> all = List.copyOf(waiting);
                            waiting.clear();
                            // Where the asset is another by now, they wait for that.
                            all.forEach(wanted ? Runnable::run : this::whenPosed);
                        },
                        () -> posing = false);
    }

    private void drawOverlay() {
        if (canvas.getWidth() < 2) {
            return;
        }
        if (desk.isOpen()) {
            pose();
        }
        boolean known = picker.isReady();
        if (!known && hovered != null && !desk.playback().playing().get()) {
            // What was lit is where it was in an earlier pose.
            whenPosed(aimAgain);
        }
        overlay.draw(
                canvas,
                desk,
                camera,
                desk.isOpen() ? picker : null,
                mark(),
                known ? aim : Aim.NOTHING,
                known ? readout : null);
    }

    /** What the drag under way has drawn so far. */
    private Overlay.Mark mark() {
        if (chooser.brushes() && last != null && !desk.seeing().taping().get()) {
            return new Overlay.Mark(List.of(last), brushPixels());
        }
        if (line.isEmpty()) {
            return null;
        }
        if (chooser.gesture().get() == Chooser.Gesture.OUTLINE) {
            return new Overlay.Mark(List.copyOf(line), 0);
        }
        Point2D a = line.getFirst();
        Point2D b = line.getLast();
        return new Overlay.Mark(List.of(a, new Point2D(b.getX(), a.getY()), b, new Point2D(a.getX(), b.getY())), 0);
    }

    private void press(MouseEvent e) {
        requestFocus();
        pressed = new Point2D(e.getX(), e.getY());
        last = pressed;
        held = e.getButton();
        draggingDivider = e.getButton() == MouseButton.PRIMARY && overDivider(e.getX());
        readout = null;
        if (held != MouseButton.PRIMARY || draggingDivider) {
            aimAt(Aim.NOTHING, null);
        }
        line.clear();
        brushed = null;
        gripped = null;
        if (held == MouseButton.PRIMARY && desk.isOpen() && !draggingDivider) {
            pose();
            gripped = grips.stream()
                    .filter(grip -> grip.take(sight(), e.getX(), e.getY()))
                    .findFirst()
                    .orElse(null);
        }
        if (gripped == null && brushing()) {
            brush(e);
        }
    }

    private Sight sight() {
        return new Sight(camera, picker, getWidth(), getHeight());
    }

    /** Radius of the brush in the picture, at the distance looked at. */
    private double brushPixels() {
        double metres = brush.metres().get();
        return chooser.gesture().get() == Chooser.Gesture.PAINT && metres > 0
                ? metres / camera.metresPerPixel(getHeight())
                : chooser.brush().get();
    }

    /** Changes what the brush paints where it is, shown at once; recorded when the stroke ends. */
    private void paint(MouseEvent e) {
        pose();
        Picker.Hit hit = picker.pick(camera.ray(e.getX(), e.getY(), getWidth(), getHeight()));
        if (hit == null) {
            drawOverlay();
            return;
        }
        double depth = camera.parallel() ? 1 : hit.distance() / camera.reach();
        double metres = brush.metres().get();
        double radius = metres > 0 ? metres : chooser.brush().get() * camera.metresPerPixel(getHeight()) * depth;
        brush.touch(desk, picker, hit, radius).ifPresent(asset -> {
            painted = asset;
            moved();
        });
        if (!brush.isDrawing()) {
            desk.jobs().message().set(brush.paint().get().advice());
        }
    }

    private void endStroke() {
        brush.end(desk).ifPresent(step -> {
            Asset drawn = desk.now();
            desk.apply(step);
            // Shown until the step is there: the surface must not jump back in between.
            if (desk.now() != drawn) {
                painted = null;
            }
        });
    }

    private boolean brushing() {
        return held == MouseButton.PRIMARY
                && desk.isOpen()
                && !draggingDivider
                && !desk.seeing().taping().get()
                && chooser.brushes();
    }

    private boolean overDivider(double x) {
        double divider = desk.seeing().divider().get();
        return desk.isOpen() && divider > 0 && Math.abs(x - divider * getWidth()) < DIVIDER_REACH;
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
        } else if (gripped != null) {
            pose();
            gripped.drag(sight(), e.getX(), e.getY());
            drawOverlay();
        } else if (draggingDivider) {
            desk.seeing().divider().set(Math.clamp(e.getX() / getWidth(), 0, 1));
        } else if (brushing()) {
            brush(e);
        } else if (!line.isEmpty() || pressed.distance(last) > DRAG) {
            if (line.isEmpty()) {
                line.add(pressed);
            }
            line.add(last);
            drawOverlay();
        }
    }

    /** Takes what the brush touches; everything one stroke touched is added to, or taken from, what was chosen. */
    private void brush(MouseEvent e) {
        if (chooser.gesture().get() == Chooser.Gesture.PAINT) {
            paint(e);
            return;
        }
        pose();
        Picker.Hit hit = picker.pick(camera.ray(e.getX(), e.getY(), getWidth(), getHeight()));
        Selection.Chosen before = desk.selection().chosen().get();
        if (hit != null && (brushed == null || before.mesh() == hit.place().mesh())) {
            Picker.Found touched = chooser.touched(desk.now(), picker, camera, getWidth(), getHeight(), hit);
            boolean first = brushed == null;
            brushed = first ? new BitSet() : brushed;
            brushed.or(touched.vertices());
            desk.selection().choose(touched.mesh(), touched.vertices(), e.isShiftDown() || !first, e.isShortcutDown());
        }
        drawOverlay();
    }

    private void release(MouseEvent e) {
        boolean click = pressed != null && pressed.distance(e.getX(), e.getY()) <= DRAG;
        if (gripped != null) {
            gripped.release();
        } else if (e.getButton() == MouseButton.PRIMARY && desk.isOpen() && !draggingDivider) {
            pose();
            if (chooser.gesture().get() == Chooser.Gesture.PAINT
                    && !desk.seeing().taping().get()) {
                endStroke();
            } else if (line.size() > 1) {
                Optional<Picker.Found> found = chooser.drawn(desk.now(), picker, camera, getWidth(), getHeight(), line);
                choose(found, e);
            } else if (click && brushed == null) {
                click(e);
            }
        }
        line.clear();
        brushed = null;
        gripped = null;
        draggingDivider = false;
        held = MouseButton.NONE;
        pressed = null;
        drawOverlay();
    }

    private void click(MouseEvent e) {
        if (desk.seeing().taping().get()) {
            hold(picker.pick(camera.ray(e.getX(), e.getY(), getWidth(), getHeight())));
            return;
        }
        Aim taken = aimed(e);
        aimAt(taken, e);
        if (taken.kind() == Aim.Kind.JOINT) {
            desk.selection().joint().set(desk.now().nodeRef(taken.joint()));
        } else {
            choose(
                    taken.kind() == Aim.Kind.NOTHING
                            ? Optional.empty()
                            : Optional.of(new Picker.Found(taken.mesh(), taken.vertices())),
                    e);
        }
    }

    /** What a click here would take. Joints catch clicks where they are the aim; elsewhere with Alt held. */
    private Aim aimed(MouseEvent e) {
        boolean joints =
                desk.station().get() == Station.SKELETON || desk.station().get() == Station.MOTION;
        if (desk.seeing().joints().get() && joints != e.isAltDown()) {
            Optional<Integer> joint = jointAt(e.getX(), e.getY());
            if (joint.isPresent()) {
                return Aim.ofJoint(joint.get());
            }
        }
        Picker.Hit hit = picker.pick(camera.ray(e.getX(), e.getY(), getWidth(), getHeight()));
        return hit == null
                ? Aim.NOTHING
                : Aim.of(desk.now(), picker, chooser.reach().get(), hit, aim);
    }

    private void aimAt(Aim next, MouseEvent e) {
        Picture.Marked before = lit();
        boolean was = aim.kind() != Aim.Kind.NOTHING;
        aim = next;
        readout = next.kind() == Aim.Kind.NOTHING || e == null ? null : next.readout(desk, e.getX(), e.getY());
        if (before.vertices() != lit().vertices()) {
            order();
        } else if (was || next.kind() != Aim.Kind.NOTHING || chooser.brushes()) {
            drawOverlay();
        }
    }

    /** Islands and parts that a click would take, lit in the picture; not while a brush is drawn with. */
    private Picture.Marked lit() {
        boolean large = aim.kind() == Aim.Kind.ISLAND || aim.kind() == Aim.Kind.PART;
        return large && !chooser.brushes() ? new Picture.Marked(aim.mesh(), aim.vertices()) : UNLIT;
    }

    /** What is lit under the pointer: vertices that a click would take. */
    public Optional<Picker.Found> aimed() {
        return aim.mesh() < 0 ? Optional.empty() : Optional.of(new Picker.Found(aim.mesh(), aim.vertices()));
    }

    /** The joint that is lit under the pointer, or -1. */
    public int aimedJoint() {
        return aim.joint();
    }

    /** Holds an end of the tape; a third click begins a new one. */
    private void hold(Picker.Hit hit) {
        if (hit == null) {
            return;
        }
        ViewOptions.Spot spot = new ViewOptions.Spot(hit.place().mesh(), hit.vertex());
        ViewOptions.Tape tape = desk.seeing().tape().get();
        boolean second = tape.from() != null && tape.to() == null;
        desk.seeing().tape().set(second ? new ViewOptions.Tape(tape.from(), spot) : new ViewOptions.Tape(spot, null));
    }

    /** Length of the tape as it is drawn; 0 while it is not held at both ends. */
    public double tapeMetres() {
        ViewOptions.Tape tape = desk.seeing().tape().get();
        return tape.from() == null || tape.to() == null ? 0 : MeasureDrawing.metres(tape, picker);
    }

    private void choose(Optional<Picker.Found> found, MouseEvent e) {
        if (found.isPresent()) {
            desk.selection().choose(found.get().mesh(), found.get().vertices(), e.isShiftDown(), e.isShortcutDown());
        } else if (!e.isShiftDown() && !e.isShortcutDown()) {
            desk.selection().choose(-1, new BitSet());
        }
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
        last = new Point2D(e.getX(), e.getY());
        hovered = e;
        setCursor(overDivider(e.getX()) ? Cursor.H_RESIZE : Cursor.DEFAULT);
        if (!desk.playback().playing().get()) {
            whenPosed(aimAgain);
        }
    }

    private void aimUnderPointer() {
        MouseEvent e = hovered;
        if (e == null || held != MouseButton.NONE) {
            return;
        }
        if (grips.stream().anyMatch(grip -> grip.isOver(sight(), e.getX(), e.getY()))) {
            setCursor(Cursor.HAND);
            aimAt(Aim.NOTHING, e);
        } else {
            aimAt(aimed(e), e);
        }
    }

    private void scroll(ScrollEvent e) {
        if (e.getDeltaY() != 0) {
            setCamera(camera.zoomed(Math.pow(0.9985, e.getDeltaY()), e.getX(), e.getY(), getWidth(), getHeight()));
        }
    }

    private void key(KeyEvent e) {
        double x = getWidth() / 2;
        double y = getHeight() / 2;
        switch (e.getCode()) {
            case LEFT -> setCamera(camera.orbited(15, 0));
            case RIGHT -> setCamera(camera.orbited(-15, 0));
            case UP -> setCamera(camera.orbited(0, 10));
            case DOWN -> setCamera(camera.orbited(0, -10));
            case PLUS, ADD, EQUALS -> setCamera(camera.zoomed(0.85, x, y, getWidth(), getHeight()));
            case MINUS, SUBTRACT -> setCamera(camera.zoomed(1.18, x, y, getWidth(), getHeight()));
            default -> {
                return;
            }
        }
        e.consume();
    }
}
