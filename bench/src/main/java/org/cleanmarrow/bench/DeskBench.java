package org.cleanmarrow.bench;

import static org.cleanmarrow.bench.BenchedWindow.on;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.work.VertexSet;

/**
 * A scripted session at the desk, on a real window: how long the interface thread was ever busy at a stretch, and
 * whether memory stays where it is over many undos and over many openings.
 */
final class DeskBench {
    private static final List<Station> STATIONS = List.of(
            Station.INTAKE, Station.SCALE_AND_AXES, Station.SKELETON, Station.SKIN, Station.MOTION, Station.DELIVERY);

    private final Random random = new Random(42);
    private final BenchedWindow on;
    private final Desk desk;
    private final MainWindow window;

    static void run(Report report, double minutes) throws Exception {
        new DeskBench(new BenchedWindow()).session(report, minutes);
    }

    private DeskBench(BenchedWindow on) {
        this.on = on;
        desk = on.desk;
        window = on.window;
    }

    private void session(Report report, double minutes) throws Exception {
        on.open(BigAsset.make(2), "big.glb");
        for (Station station : STATIONS) {
            // Every card is laid out once before anything is timed: classes load then.
            on(() -> {
                desk.station().set(station);
                return null;
            });
            on.quiet();
        }
        on.listens();
        long end = System.nanoTime() + (long) (minutes * 60e9);
        int acts = 0;
        while (System.nanoTime() < end) {
            act();
            acts++;
            Thread.sleep(40 + random.nextInt(260));
        }
        on(() -> {
            desk.playback().playing().set(false);
            return null;
        });
        on.quiet();
        on.heard(
                report,
                String.format(
                        Locale.ROOT,
                        "Interface thread over %.1f minutes, %d acts, 100,000 vertices on the desk",
                        minutes,
                        acts));
        memory(report);
        on.close();
    }

    private void act() throws Exception {
        int kind = random.nextInt(13);
        on(() -> {
            Asset now = desk.now();
            switch (kind) {
                case 0 -> desk.selection().joint().set("joint_" + random.nextInt(200));
                case 1 -> desk.selection().choose(0, some(2000));
                case 2 -> desk.selection().choose(0, some(50_000));
                case 3 ->
                    desk.apply(new SetWeight(
                            "tube",
                            "joint_" + random.nextInt(200),
                            VertexSet.chosen(now.meshes().getFirst(), some(2000)),
                            0.5));
                case 4 -> window.act("undo");
                case 5 -> desk.station().set(random.nextBoolean() ? Station.SKIN : Station.SCALE_AND_AXES);
                case 6 -> {
                    desk.playback().clip().set("clip_1");
                    desk.playback().seconds().set(random.nextDouble() * 9);
                }
                case 7 -> window.viewport().setCamera(window.viewport().camera().orbited(random.nextInt(90) - 45, 4));
                case 8 -> desk.seeing().paint().set(ShadingMode.values()[random.nextInt(ShadingMode.values().length)]);
                case 9 -> window.act("play");
                case 10 -> window.act("grow");
                case 11 -> point();
                default ->
                    desk.apply(new RemoveInfluence(
                            "tube",
                            "joint_" + (1 + random.nextInt(198)),
                            VertexSet.chosen(now.meshes().getFirst(), some(2000)),
                            Optional.empty()));
            }
            return null;
        });
    }

    /** The pointer comes to rest somewhere over the view. */
    private void point() {
        ViewportPane view = window.viewport();
        double x = view.getWidth() * (0.3 + 0.4 * random.nextDouble());
        double y = view.getHeight() * random.nextDouble();
        view.fireEvent(new MouseEvent(
                MouseEvent.MOUSE_MOVED,
                x,
                y,
                x,
                y,
                MouseButton.NONE,
                0,
                false,
                false,
                false,
                false,
                false,
                false,
                false,
                false,
                false,
                true,
                null));
    }

    private BitSet some(int count) {
        BitSet out = new BitSet();
        int from = random.nextInt(100_000 - count);
        out.set(from, from + count);
        return out;
    }

    private void memory(Report report) throws Exception {
        report.title("Memory in use after collection, MB");
        on(() -> {
            desk.playback().playing().set(false);
            desk.station().set(Station.SKIN);
            desk.files().openDemo();
            return null;
        });
        on.quiet();
        for (int i = 0; i < 20; i++) {
            on(() -> {
                desk.apply(new SetWeight(
                        "pilot",
                        "head",
                        VertexSet.chosen(desk.now().meshes().getFirst(), firsts(500)),
                        random.nextDouble()));
                return null;
            });
            on.quiet();
        }
        StringBuilder undos = new StringBuilder("over 500 undos and redos:");
        for (int i = 0; i <= 500; i++) {
            boolean back = i / 15 % 2 == 0;
            on(() -> {
                window.act(back ? "undo" : "redo");
                return null;
            });
            if (i % 100 == 0) {
                on.quiet();
                undos.append(' ').append(BenchedWindow.used());
            }
        }
        report.note(undos.toString());
        StringBuilder openings = new StringBuilder("over 200 openings:");
        Path file = on.home.resolve("pilot.glb");
        Files.write(file, GltfWriter.glb(org.cleanmarrow.demo.pilot.FerryPilot.asset()));
        for (int i = 0; i <= 200; i++) {
            on(() -> {
                desk.files().open(file);
                return null;
            });
            on.quiet();
            if (i % 40 == 0) {
                openings.append(' ').append(BenchedWindow.used());
            }
        }
        report.note(openings.toString());
        report.most("heap after 200 openings, MB", BenchedWindow.used(), 400);
    }

    private static BitSet firsts(int count) {
        BitSet out = new BitSet();
        out.set(0, count);
        return out;
    }
}
