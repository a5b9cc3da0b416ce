package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.Locale;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.BooleanSupplier;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.geometry.Bounds;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.control.TableRow;
import javafx.scene.control.TextInputControl;
import javafx.scene.control.TreeCell;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Preferences;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.Picker;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Step;
import org.joml.Vector3d;
import org.testfx.api.FxToolkit;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeMethod;

/**
 * A real window, driven by mouse and keyboard on the offscreen platform. A class has one: what a test left open is closed before the
 * next begins, as people do; nothing of it may be in the way.
 */
abstract class DeskWindow {
    static final long PATIENCE_SECONDS = 60;
    private Target first;
    final Hand hand = new Hand();
    Path home;
    Desk desk;
    MainWindow window;
    Scene scene;
    Stage stage;

    @BeforeMethod
    public void begin() throws Exception {
        if (stage == null) {
            openWindow();
            return;
        }
        if (hasOneForEach()) {
            closeWindow();
            openWindow();
            return;
        }
        on(() -> {
            desk.files().close();
            desk.target().set(first);
            Preferences preferences = desk.preferences();
            preferences.dark().set(false);
            preferences.scale().set(Preferences.LEAST_SCALE);
            preferences.unit().set("");
            preferences.keys().clear();
            preferences.left().set(0);
            preferences.right().set(0);
            preferences.smooth().set(false);
            window.viewport().chooser().reach().set(Chooser.Reach.ISLAND);
            window.viewport().chooser().gesture().set(Chooser.Gesture.BOX);
            window.viewport().chooser().seenOnly().set(false);
            window.viewport().setCamera(Camera.front());
            window.viewport().requestFocus();
            return null;
        });
        quiet();
    }

    /** Whether every test needs a window of its own, because of what the application finds when it starts. */
    boolean hasOneForEach() {
        return false;
    }

    private void openWindow() throws Exception {
        home = Files.createTempDirectory("marrow-home");
        stage = FxToolkit.registerPrimaryStage();
        prepareHome();
        on(() -> {
            desk = new Desk(new AppFolder(home));
            // Every act would wait for a second picture of the same; what is smooth is looked at by one test of its
            // own.
            desk.preferences().smooth().set(false);
            first = desk.target().get();
            window = new MainWindow(desk);
            scene = window.scene(1280, 800);
            stage.setScene(scene);
            stage.show();
            return null;
        });
        quiet();
    }

    /** Puts files into the application's folder before it starts. */
    void prepareHome() throws Exception {}

    @AfterClass(alwaysRun = true)
    public void closeWindow() throws Exception {
        on(() -> {
            window.close();
            desk.close();
            stage.hide();
            return null;
        });
        FxToolkit.cleanupStages();
    }

    static <T> T on(Callable<T> act) throws Exception {
        CompletableFuture<T> done = new CompletableFuture<>();
        Platform.runLater(() -> {
            try {
                done.complete(act.call());
            } catch (Exception | AssertionError e) {
                done.completeExceptionally(e);
            }
        });
        try {
            return done.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            if (e.getCause() instanceof Exception x) {
                throw x;
            }
            throw new AssertionError(e.getCause());
        }
    }

    /** Waits until nothing is computed or drawn, for three beats of the toolkit's clock in a row. */
    void quiet() throws Exception {
        beats("the window comes to rest", 3, () -> desk.isQuiet() && !window.isBusy());
    }

    /** Waits until something has held for so many beats of the toolkit's clock in a row. */
    private static void beats(String what, int many, BooleanSupplier holds) throws Exception {
        CompletableFuture<Void> done = new CompletableFuture<>();
        AnimationTimer timer = new AnimationTimer() {
            private int calm;

            @Override
            public void handle(long now) {
                calm = holds.getAsBoolean() ? calm + 1 : 0;
                if (calm >= many) {
                    stop();
                    done.complete(null);
                }
            }
        };
        on(() -> {
            timer.start();
            return null;
        });
        try {
            done.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
        } catch (TimeoutException e) {
            throw new AssertionError(what, e);
        } finally {
            Platform.runLater(timer::stop);
        }
    }

    /** Waits until something holds, however slow the machine is. */
    static void until(String what, Callable<Boolean> holds) throws Exception {
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
        while (!on(holds)) {
            assertThat(System.nanoTime()).as(what).isLessThan(end);
            Thread.sleep(5);
        }
    }

    /** Waits for so many beats of the toolkit's clock. */
    static void pulses(int many) throws Exception {
        beats("the clock beats", many, () -> true);
    }

    void openDemo() throws Exception {
        click("#welcome-demo");
        quiet();
        assertThat(on(() -> desk.isOpen())).isTrue();
    }

    /** Something in the window; where it lies in an act that is folded, that act is unfolded from the keyboard. */
    Node find(String id) throws Exception {
        Act folded = on(() -> foldedOver(id));
        if (folded != null) {
            on(() -> {
                folded.line().requestFocus();
                return null;
            });
            hand.push(KeyCode.SPACE);
            until(id + " is unfolded", () -> folded.openProperty().get());
        }
        Node node = on(() -> scene.lookup(id));
        assertThat(node).as(id).isNotNull();
        return node;
    }

    /** The folded act of the open station that something lies in. */
    private Act foldedOver(String id) {
        return window.stationActs().stream()
                .filter(act -> act.getScene() != null && !act.openProperty().get())
                .filter(act -> act.form().lookup(id) != null)
                .findFirst()
                .orElse(null);
    }

    /** Clicks a joint in the tree at the left. */
    void clickJoint(String name) throws Exception {
        Point2D at = on(() -> scene.getRoot().lookupAll("#joints .tree-cell").stream()
                .map(n -> (TreeCell<?>) n)
                .filter(c ->
                        c.getAccessibleText() != null && c.getAccessibleText().startsWith(name + ","))
                .findFirst()
                .map(c -> c.localToScreen(c.getWidth() - 30, c.getHeight() / 2))
                .orElseThrow());
        hand.clickOn(at);
        quiet();
    }

    /** Something that takes keys and clicks: a control that was just made takes none until it has been drawn. */
    private Node drawn(String id) throws Exception {
        Node node = find(id);
        until(id + " is drawn", () -> !(node instanceof Control control) || control.getSkin() != null);
        return node;
    }

    void click(String id) throws Exception {
        Node node = drawn(id);
        Point2D at = on(() -> {
            Bounds b = node.localToScreen(node.getBoundsInLocal());
            assertThat(node.isDisabled()).as(id + " can be pressed").isFalse();
            return new Point2D(b.getCenterX(), b.getCenterY());
        });
        // Straight there: on its way the robot would rest a millisecond at two hundred places.
        hand.clickOn(at);
    }

    /** Presses a button that may lie below the visible part of its panel, from the keyboard. */
    void press(String id) throws Exception {
        Node node = drawn(id);
        on(() -> {
            assertThat(node.isDisabled()).as(id + " can be pressed").isFalse();
            node.requestFocus();
            return null;
        });
        hand.push(KeyCode.SPACE);
    }

    /** Takes a clip in hand by its line in the list. */
    void pickClip(String name) throws Exception {
        Point2D at = on(() -> scene.getRoot().lookupAll("#clips .table-row-cell").stream()
                .map(n -> (TableRow<?>) n)
                .filter(r -> r.getItem() instanceof Clip c && c.name().equals(name))
                .findFirst()
                .map(r -> r.localToScreen(30, r.getHeight() / 2))
                .orElseThrow());
        hand.clickOn(at);
        quiet();
        assertThat(on(() -> desk.playback().clip().get())).isEqualTo(name);
    }

    void station(Station station) throws Exception {
        click("#station-" + station.name().toLowerCase(Locale.ROOT));
        quiet();
    }

    /** Types into a field that may lie below the visible part of its panel. */
    void type(String id, String text) throws Exception {
        TextInputControl field = (TextInputControl) drawn(id);
        on(() -> {
            assertThat(field.isDisabled()).as(id + " can be typed into").isFalse();
            field.requestFocus();
            field.clear();
            return null;
        });
        hand.write(text);
    }

    /** Takes a choice of a list by the arrows, or types it where anything may be typed. */
    <T> void choose(String id, T value) throws Exception {
        ComboBox<?> box = (ComboBox<?>) drawn(id);
        if (box.isEditable()) {
            on(() -> {
                box.requestFocus();
                box.getEditor().selectAll();
                return null;
            });
            hand.write(value.toString());
            hand.push(KeyCode.ENTER);
            assertThat(on(() -> (Object) box.getValue())).as(id).isEqualTo(value);
            return;
        }
        int steps = on(() -> {
            assertThat(box.getItems().contains(value))
                    .as(id + " offers " + value)
                    .isTrue();
            box.requestFocus();
            return box.getItems().indexOf(value) - box.getItems().indexOf(box.getValue());
        });
        for (int i = 0; i < Math.abs(steps); i++) {
            hand.push(steps > 0 ? KeyCode.DOWN : KeyCode.UP);
        }
        assertThat(on(() -> (Object) box.getValue())).as(id).isEqualTo(value);
    }

    String text(String id) throws Exception {
        Labeled label = (Labeled) find(id);
        return on(label::getText);
    }

    void apply(Step step) throws Exception {
        on(() -> {
            desk.apply(step);
            return null;
        });
        quiet();
    }

    /** Presses Fix on the first finding of a check at the open station. */
    void fix(String check) throws Exception {
        Finding finding = finding(check);
        int index = on(() -> desk.findingsAt(finding.station()).indexOf(finding));
        station(finding.station());
        reveal(index);
        press("#fix-" + check + "-" + index);
        quiet();
    }

    /** Scrolls the findings to one of them. */
    void reveal(int index) throws Exception {
        ListView<?> list = (ListView<?>) find("#findings");
        on(() -> {
            list.scrollTo(index);
            list.layout();
            return null;
        });
    }

    Finding finding(String check) throws Exception {
        return on(() -> desk.findings().stream()
                .filter(f -> f.check().equals(check))
                .findFirst()
                .orElseThrow());
    }

    Camera camera() throws Exception {
        return on(() -> window.viewport().camera());
    }

    double width() throws Exception {
        return on(() -> window.viewport().getWidth());
    }

    double height() throws Exception {
        return on(() -> window.viewport().getHeight());
    }

    Point2D screen(double x, double y) throws Exception {
        return on(() -> window.viewport().localToScreen(x, y));
    }

    /** A point of the picture where one of the vertices is the first thing under the pointer, away from joints. */
    Point2D pointOn(int mesh, BitSet vertices) throws Exception {
        Asset asset = on(() -> desk.now());
        Picker picker = new Picker();
        picker.pose(
                asset,
                on(() -> desk.playedClip().orElse(null)),
                on(() -> desk.playback().seconds().get()));
        Camera camera = camera();
        double w = width();
        double h = height();
        boolean[] joints = asset.jointFlags();
        for (int v = vertices.nextSetBit(0); v >= 0; v = vertices.nextSetBit(v + 1)) {
            Vector3d at = camera.toPicture(picker.vertexPlace(mesh, v), w, h);
            double x = Math.rint(at.x);
            double y = Math.rint(at.y);
            Picker.Hit hit = picker.pick(camera.ray(x, y, w, h));
            boolean nearJoint = false;
            for (int n = 0; n < joints.length; n++) {
                Vector3d j = camera.toPicture(picker.nodePlace(n), w, h);
                nearJoint |= joints[n] && Math.hypot(j.x - x, j.y - y) < 9;
            }
            if (hit != null && !nearJoint && hit.place().mesh() == mesh && vertices.get(hit.vertex())) {
                return screen(x, y);
            }
        }
        throw new AssertionError("none of the vertices can be seen");
    }
}
