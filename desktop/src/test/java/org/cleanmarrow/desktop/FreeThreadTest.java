package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import javafx.geometry.Point2D;
import javafx.scene.control.Button;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.work.Threads;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;

/**
 * The interface thread computes nothing that takes time and touches no file: whatever does says that it begins
 * ({@link Threads}), and none of it may begin there, at any station, with every act unfolded and every finding pointed at.
 */
public class FreeThreadTest extends DeskWindow {
    private static final List<Station> STATIONS = List.of(
            Station.INTAKE, Station.SCALE_AND_AXES, Station.SKELETON, Station.SKIN, Station.MOTION, Station.DELIVERY);

    private final Set<String> begun = ConcurrentHashMap.newKeySet();

    @AfterMethod(alwaysRun = true)
    public void watchNone() {
        Threads.watchNone();
    }

    private void watch() throws Exception {
        begun.clear();
        Thread thread = on(Thread::currentThread);
        Threads.watch(thread, what -> {
            StackTraceElement[] stack = new Throwable().getStackTrace();
            String from = "";
            for (StackTraceElement frame : stack) {
                if (frame.getClassName().startsWith("org.cleanmarrow.desktop")) {
                    from = frame.toString();
                    break;
                }
            }
            begun.add(what + " from " + from);
        });
    }

    @Test
    public void nothingThatTakesTimeBeginsOnIt() throws Exception {
        watch();
        openDemo();
        for (Station station : STATIONS) {
            station(station);
            for (Act act : on(() -> window.stationActs())) {
                Button line = (Button) on(() -> scene.lookup("#act-" + act.id()));
                if (line != null && on(() -> line.getScene() != null)) {
                    on(() -> {
                        act.openProperty().set(true);
                        return null;
                    });
                }
            }
            quiet();
            on(() -> {
                desk.selection().choose(0, first(300));
                desk.selection().joint().set("neck");
                return null;
            });
            quiet();
        }
        for (String button : List.of("#smooth", "#convert", "#trim-ends", "#add-root")) {
            station(
                    button.equals("#smooth")
                            ? Station.SKIN
                            : button.equals("#convert") ? Station.SCALE_AND_AXES : Station.SKELETON);
            press(button);
            quiet();
        }
        station(Station.SKIN);
        click("#mend-all");
        quiet();
        hand.clickOn(new Point2D(
                screen(width() / 2, height() / 2).getX(),
                screen(0, height() / 2).getY()));
        quiet();
        on(() -> {
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(0.5);
            desk.target().set(Target.of(Conventions.GLTF));
            desk.preferences().unit().set("cm");
            desk.undo();
            desk.redo();
            return null;
        });
        quiet();
        on(() -> {
            desk.playback().seconds().set(0.75);
            return null;
        });
        hand.moveTo(screen(width() / 2, height() / 2));
        quiet();
        assertThat(on(() -> window.viewport().aimed()))
                .as("lit in the pose of that moment")
                .isPresent();
        Finding leak = finding("leak");
        on(() -> {
            desk.playback().seconds().set(0.25);
            desk.show(leak);
            return null;
        });
        quiet();
        Camera far = Camera.front();
        on(() -> {
            desk.playback().playing().set(true);
            window.viewport().setCamera(far);
            window.viewport().frameChoice();
            return null;
        });
        until("it comes near though the clip plays on", () -> window.viewport().camera() != far);
        on(() -> {
            desk.playback().playing().set(false);
            return null;
        });
        Path file = home.resolve("pilot.glb");
        Files.write(file, GltfWriter.glb(on(() -> desk.now())));
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
        on(() -> {
            desk.files().close();
            return null;
        });
        quiet();
        click("#welcome-recover");
        quiet();
        assertThat(on(() -> desk.history().done())).isNotEmpty();
        assertThat(begun).isEmpty();
    }

    /** The watch itself sees what begins on the thread: a step that is run there is reported. */
    @Test
    public void theWatchSees() throws Exception {
        watch();
        openDemo();
        on(() -> org.cleanmarrow.trial.TrialPoses.of(desk.now()));
        assertThat(begun).anyMatch(b -> b.startsWith("trial poses"));
    }

    private static BitSet first(int many) {
        BitSet out = new BitSet();
        out.set(0, many);
        return out;
    }
}
