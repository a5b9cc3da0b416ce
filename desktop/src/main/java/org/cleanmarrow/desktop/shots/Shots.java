package org.cleanmarrow.desktop.shots;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.MenuButton;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.stage.Stage;
import javax.imageio.ImageIO;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.demo.DemoFiles;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.uv.UvPaint;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.skeleton.TPose;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.VertexSet;

/**
 * Takes a picture of every main view from the demo data, with no display: {@code ./marrow shots DIR [LAST]}. The environment may ask
 * for another size and for lamplight: {@code MARROW_SHOTS="1920x1080 lamplight"}.
 */
public final class Shots {
    private static final Pattern ASKED = Pattern.compile("(\\d{3,4})x(\\d{3,4})( lamplight)?");

    private static final long PATIENCE_SECONDS = 60;

    private final int width;
    private final int height;
    private final boolean dark;
    private final Path folder;
    /** The view after which nothing more is wanted; empty where all are. */
    private final String last;

    private Path home;
    private Desk desk;
    private MainWindow window;
    private Scene scene;

    private Shots(Path folder, String last, String asked) {
        Matcher size = ASKED.matcher(asked);
        if (!size.matches()) {
            throw new IllegalArgumentException(
                    "MARROW_SHOTS is \"" + asked + "\"; expected a size such as 1920x1080, or 1920x1080 lamplight");
        }
        this.folder = folder;
        this.last = last;
        width = Integer.parseInt(size.group(1));
        height = Integer.parseInt(size.group(2));
        dark = size.group(3) != null;
    }

    public static void main(String[] arguments) throws Exception {
        Thread.setDefaultUncaughtExceptionHandler((thread, e) -> {
            // The screen of the offscreen platform has one size; pictures are taken of the scene, whatever its size.
            boolean beyond = e instanceof IndexOutOfBoundsException
                    && Arrays.stream(e.getStackTrace())
                            .anyMatch(f -> f.getClassName().endsWith("HeadlessWindow"));
            if (!beyond) {
                e.printStackTrace();
            }
        });
        CountDownLatch started = new CountDownLatch(1);
        Platform.startup(started::countDown);
        started.await();
        try {
            String last = arguments.length > 1 ? arguments[1] : "";
            String asked = Optional.ofNullable(System.getenv("MARROW_SHOTS")).orElse("1280x800");
            new Shots(Path.of(arguments[0]), last, asked).run();
            if (!last.isEmpty()) {
                throw new IllegalArgumentException("there is no view named " + last);
            }
            System.exit(0);
        } catch (Exception e) {
            System.err.println("The pictures cannot be taken: " + e);
            System.exit(2);
        }
    }

    private void run() throws Exception {
        Files.createDirectories(folder);
        home = Files.createTempDirectory("marrow-shots");
        on(() -> {
            desk = new Desk(new AppFolder(home));
            window = new MainWindow(desk);
            desk.preferences().dark().set(dark);
            scene = window.scene(width, height);
            Stage stage = new Stage();
            stage.setScene(scene);
            stage.show();
        });
        take("01-welcome");
        on(desk.files()::openDemo);
        take("02-intake");
        on(() -> {
            desk.station().set(Station.SCALE_AND_AXES);
            desk.seeing().box().set(true);
            desk.seeing().figure().set(true);
            window.viewport().frameAll();
        });
        take("03-scale-and-axes");
        on(() -> {
            desk.seeing().box().set(false);
            desk.seeing().figure().set(false);
            desk.seeing().paint().set(ShadingMode.JOINTS);
            desk.seeing().names().set(true);
            window.viewport().setCamera(window.viewport().camera().withParallel(true));
            window.viewport().lookFrom(0, 0);
        });
        on(() -> desk.station().set(Station.SKELETON));
        take("04-skeleton");
        on(() -> {
            desk.seeing().names().set(false);
            window.viewport().setCamera(window.viewport().camera().withParallel(false));
            desk.station().set(Station.SKIN);
            Finding leak = desk.findings().stream()
                    .filter(f -> f.check().equals("leak"))
                    .findFirst()
                    .orElseThrow();
            desk.show(leak);
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(22 / 24.0);
            window.viewport().frameAll();
        });
        quiet();
        on(() -> window.viewport().setCamera(window.viewport().camera().turned(18, 6)));
        take("05-skin-leak");
        mendAll();
        fixAll();
        on(() -> {
            desk.selection().choose(-1, new BitSet());
            desk.seeing().divider().set(0.5);
        });
        take("06-skin-received-and-now");
        on(() -> {
            desk.seeing().divider().set(0);
            desk.seeing().paint().set(ShadingMode.COLOURS);
            desk.station().set(Station.MOTION);
            window.unfold("motion-keys");
            desk.playback().clip().set("punt");
            desk.playback().seconds().set(20 / 24.0);
            desk.selection().joint().set("right_upper_arm");
            ((ToggleButton) scene.lookup("#time-curves")).fire();
            desk.apply(new ReduceKeys("punt", 1, ReduceKeys.Between.CUBIC));
        });
        take("07-motion");
        on(() -> {
            desk.station().set(Station.DELIVERY);
            desk.playback().clip().set("");
            desk.files().deliver(home.resolve("deliveries"), Recipe.of("glb", false));
        });
        quiet();
        // Where the pictures are taken is nobody's business.
        on(() -> ((TextField) scene.lookup("#delivery-folder")).setText("deliveries"));
        take("08-delivery");
        on(() -> {
            desk.station().set(Station.MOTION);
            ((ToggleButton) scene.lookup("#time-curves")).fire();
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(22 / 24.0);
            desk.seeing().neighbours().set(5);
            desk.preferences().dark().set(true);
        });
        take("09-lamplight");
        on(() -> {
            desk.seeing().neighbours().set(0);
            desk.selection().joint().set("");
            desk.preferences().dark().set(dark);
            TextField find = (TextField) scene.lookup("#find");
            find.requestFocus();
            find.setText("arm");
        });
        take("10-find");
        press(KeyCode.ESCAPE);
        press(KeyCode.F1);
        take("11-settings");
        on(() -> ((Button) scene.lookup("#settings-close")).fire());
        on(() -> {
            desk.files().openDemo(Demo.named("mooring-pennant").orElseThrow());
            desk.station().set(Station.INTAKE);
            desk.seeing().uvs().set(true);
        });
        quiet();
        on(() -> window.unfold("intake-material"));
        quiet();
        on(() -> {
            desk.selection().choose(desk.now().findMesh("pennant"), first(27 * 11));
            ((MenuButton) scene.lookup("#uv-paint"))
                    .getItems()
                    .get(UvPaint.ANGLES.ordinal())
                    .fire();
            window.viewport().frameChoice();
        });
        take("12-uvs");
        on(() -> desk.seeing().uvs().set(false));
        others();
        on(() -> {
            window.close();
            desk.close();
        });
    }

    /** Stations with the other assets of the ferry. */
    private void others() throws Exception {
        on(() -> {
            desk.seeing().paint().set(ShadingMode.COLOURS);
            desk.files().openDemo(Demo.named("mooring-pennant").orElseThrow());
            desk.station().set(Station.CACHES);
        });
        quiet();
        on(() -> desk.apply(desk.findingsAt(Station.CACHES).getFirst().fix().orElseThrow()));
        quiet();
        on(() -> {
            ((TextField) scene.lookup("#fit-mesh")).setText("pennant");
            desk.playback().clip().set("flutter");
            desk.playback().seconds().set(40 / 24.0);
            window.viewport().setCamera(Camera.front().turned(24, 8));
            window.viewport().frameAll();
        });
        take("13-caches");
        on(() -> {
            desk.files().openDemo(Demo.named("bell-chain").orElseThrow());
            desk.station().set(Station.COLLISION);
        });
        quiet();
        on(() -> {
            desk.playback().clip().set("toll");
            desk.playback().seconds().set(12 / 24.0);
            desk.selection().shape().set(new Selection.ShapeName("bell", "bell_shape"));
            window.unfold("collision-shape");
            window.viewport().setCamera(Camera.front().turned(24, 8));
            window.viewport().frameAll();
        });
        take("15-collision");
        on(() -> {
            desk.files().openDemo();
            desk.station().set(Station.SKELETON);
        });
        quiet();
        on(() -> window.unfold("skeleton-roles"));
        quiet();
        on(() -> ((Button) scene.lookup("#guess-roles")).fire());
        quiet();
        on(() -> desk.apply(new Convert(desk.target().get().conventions(), true)));
        quiet();
        on(() -> desk.apply(new TPose(0)));
        quiet();
        on(() -> {
            desk.selection().joint().set("left_upper_arm");
            window.viewport().setCamera(Camera.front().turned(14, 6));
            window.viewport().frameAll();
        });
        take("16-roles");
        DemoFiles.write(home);
        on(() -> desk.files().openReference(home.resolve("punting-take.bvh")));
        quiet();
        on(() -> {
            ((Act) scene.lookup("#act-skeleton-roles").getParent())
                    .openProperty()
                    .set(false);
            window.unfold("skeleton-reference");
        });
        take("17-reference");
        dressed();
    }

    /** The vest is given the weights of the body, and tried. */
    private void dressed() throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.named("vested-pilot").orElseThrow());
            desk.station().set(Station.SKIN);
        });
        quiet();
        on(() -> desk.apply(
                new TransferWeights("pilot", "float_vest", VertexSet.ALL, 0, 0, false, "*", 4, VertexSet.ALL)));
        quiet();
        on(() -> {
            desk.selection().joint().set("ribs_upper");
            desk.seeing().paint().set(ShadingMode.INFLUENCE);
            desk.selection().choose(desk.now().findMesh("float_vest"), first(400));
            desk.playback().hold(null);
            window.viewport().setCamera(Camera.front().turned(20, 8));
            window.viewport().frameAll();
        });
        on(() -> window.unfold("skin-transfer"));
        take("18-transfer");
        on(() -> {
            desk.selection().choose(-1, new BitSet());
            desk.playback().hold(TrialPoses.of(desk.now()).getFirst());
            desk.seeing().paint().set(ShadingMode.STRAIN);
            desk.seeing().joints().set(false);
            ((Act) scene.lookup("#act-skin-transfer").getParent())
                    .openProperty()
                    .set(false);
            window.unfold("skin-trial");
            ((Button) scene.lookup("#trial-find")).fire();
        });
        quiet();
        on(() -> {
            window.viewport().frameAll();
        });
        take("19-strain");
    }

    private static BitSet first(int many) {
        BitSet out = new BitSet();
        out.set(0, many);
        return out;
    }

    private void press(KeyCode code) throws Exception {
        on(() -> {
            Node target = scene.getFocusOwner() == null ? scene.getRoot() : scene.getFocusOwner();
            target.fireEvent(new KeyEvent(KeyEvent.KEY_PRESSED, "", "", code, false, false, false, false));
        });
    }

    /** The fixes of the station as they are proposed, before they are done one by one. */
    private void mendAll() throws Exception {
        on(() -> ((javafx.scene.control.Hyperlink) scene.lookup("#mend-all")).fire());
        take("14-mend-all");
        on(() -> ((Button) scene.lookup("#mend-close")).fire());
    }

    /** Presses Fix on the first finding that has one, until none is left. */
    private void fixAll() throws Exception {
        String[] order = {
            "root",
            "axes",
            "end-joints",
            "roles",
            "roles",
            "leak",
            "leak",
            "strays",
            "weight-sums",
            "influences",
            "lost-channels"
        };
        for (String check : order) {
            quiet();
            on(() -> desk.findings().stream()
                    .filter(f -> f.check().equals(check))
                    .findFirst()
                    .flatMap(Finding::fix)
                    .ifPresent(desk::apply));
        }
        quiet();
    }

    private void take(String name) throws Exception {
        quiet();
        CompletableFuture<BufferedImage> picture = new CompletableFuture<>();
        Platform.runLater(() -> picture.complete(copy(scene.snapshot(null))));
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        ImageIO.write(picture.get(PATIENCE_SECONDS, TimeUnit.SECONDS), "png", bytes);
        SafeFiles.replace(folder.resolve(name + ".png"), bytes.toByteArray());
        System.err.println(folder.resolve(name + ".png"));
        if (name.equals(last)) {
            System.exit(0);
        }
    }

    private static BufferedImage copy(WritableImage from) {
        int w = (int) from.getWidth();
        int h = (int) from.getHeight();
        BufferedImage to = new BufferedImage(w, h, BufferedImage.TYPE_INT_RGB);
        int[] row = new int[w];
        for (int y = 0; y < h; y++) {
            from.getPixelReader().getPixels(0, y, w, 1, PixelFormat.getIntArgbInstance(), row, 0, w);
            to.setRGB(0, y, w, 1, row, 0, w);
        }
        return to;
    }

    /** Waits until nothing is computed, drawn or on its way, three times in a row. */
    private void quiet() throws Exception {
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
        for (int calm = 0; calm < 4; ) {
            if (System.nanoTime() > end) {
                throw new IllegalStateException("the window did not come to rest");
            }
            Thread.sleep(60);
            calm = ask(() -> desk.isQuiet() && !window.isBusy()) ? calm + 1 : 0;
        }
        Thread.sleep(250);
    }

    private static boolean ask(BooleanSupplier question) throws Exception {
        CompletableFuture<Boolean> answer = new CompletableFuture<>();
        Platform.runLater(() -> answer.complete(question.getAsBoolean()));
        return answer.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
    }

    private static void on(Runnable act) throws Exception {
        CompletableFuture<Void> done = new CompletableFuture<>();
        Platform.runLater(() -> {
            try {
                act.run();
                done.complete(null);
            } catch (RuntimeException e) {
                done.completeExceptionally(e);
            }
        });
        done.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
    }
}
