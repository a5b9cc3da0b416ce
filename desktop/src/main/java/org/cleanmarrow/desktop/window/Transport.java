package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Slider;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Pane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.TextAlignment;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Clip;

/**
 * One line to play by: clip, frame, and a bar to drag; above it, where they are wanted, clips as lanes with inclusive frame
 * numbers at both ends.
 */
final class Transport extends VBox {
    private static final double LANE = 24;
    private static final int SEEN_LANES = 5;
    /** A canvas cannot be arbitrarily high; clips beyond are found by name. */
    private static final int MOST_LANES = 160;

    private static final double LEFT = 92;
    private static final double RIGHT = 28;

    private final Desk desk;
    private final Canvas canvas = new Canvas(100, 40);
    private final Button play = new Button();
    private final Label what = new Label();
    private final Label loops = new Label();
    private final ToggleButton round = new ToggleButton(Labels.of("time.round"));
    private final ToggleButton inSeconds = new ToggleButton(Labels.of("time.seconds"));
    private final ToggleButton lanesShown = new ToggleButton(Labels.of("time.lanes"));
    private final ComboBox<String> clips = new ComboBox<>();
    private final ComboBox<Double> speed = new ComboBox<>();
    private final ComboBox<Integer> neighbours = new ComboBox<>();
    private final Slider scrub = new Slider(0, 1, 0);
    private final ScrollPane scroll;
    private final VBox above;
    private boolean following;
    private long lastTick;

    Transport(Desk desk) {
        this.desk = desk;
        getStyleClass().add("time");
        play.setId("play");
        play.setAccessibleText(Labels.of("time.play.accessible"));
        play.setMinWidth(62);
        play.setOnAction(e -> toggle());
        what.setId("time-what");
        loops.getStyleClass().add("ink-2");
        what.setMinWidth(USE_PREF_SIZE);
        clips.setId("clip");
        clips.setAccessibleText(Labels.of("time.clip"));
        clips.setPromptText(Labels.of("time.clip"));
        clips.setMinWidth(70);
        clips.setPrefWidth(112);
        clips.setOnAction(e -> {
            if (!following && clips.getValue() != null) {
                clips().stream()
                        .filter(c -> c.name().equals(clips.getValue()))
                        .findFirst()
                        .ifPresent(this::choose);
            }
        });
        scrub.setId("scrub");
        scrub.setAccessibleText(Labels.of("time.scrub"));
        scrub.setMinWidth(40);
        scrub.setBlockIncrement(1);
        HBox.setHgrow(scrub, Priority.ALWAYS);
        scrub.valueProperty().addListener((o, a, b) -> scrubbed(b.doubleValue()));
        what.setTooltip(new Tooltip());
        lanesShown.setId("lanes");
        HBox bar = new HBox(
                4,
                step("first-frame", "|◀", "time.first", () -> jump(false)),
                step("frame-back", "◀", "time.back", () -> step(-1)),
                play,
                step("frame-on", "▶", "time.on", () -> step(1)),
                step("last-frame", "▶|", "time.last", () -> jump(true)),
                clips,
                scrub,
                what,
                option(round, "play-round", true),
                option(lanesShown, "lanes", false));
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.getStyleClass().add("transport");
        lanesShown.selectedProperty().addListener((o, a, b) -> refresh());
        desk.station().addListener((o, a, b) -> refresh());
        Pane lanes = new Pane(canvas);
        lanes.minHeightProperty().bind(canvas.heightProperty());
        scroll = new ScrollPane(lanes);
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setMinWidth(100);
        scroll.setFocusTraversable(false);
        setMinWidth(0);
        setMinHeight(USE_PREF_SIZE);
        scroll.viewportBoundsProperty().addListener((o, a, b) -> {
            canvas.setWidth(b.getWidth());
            draw();
        });
        inSeconds.selectedProperty().addListener((o, a, b) -> refresh());
        desk.preferences().dark().addListener((o, a, b) -> Platform.runLater(this::draw));
        choices(speed, "time-speed", v -> Labels.of("time.speed.times", v), 0.25, 0.5, 1.0, 2.0);
        speed.setValue(1.0);
        speed.valueProperty().addListener((o, a, b) -> desk.playback().speed().set(b));
        choices(
                neighbours,
                "time-neighbours",
                v -> v == 0 ? Labels.of("time.neighbours.none") : Labels.of("time.neighbours.every", v),
                0,
                1,
                2,
                5,
                10);
        neighbours.setValue(0);
        neighbours
                .valueProperty()
                .addListener((o, a, b) -> desk.seeing().neighbours().set(b));
        loops.setMinWidth(0);
        HBox more = new HBox(8, loops, Widgets.spring(), speed, neighbours, option(inSeconds, "time-seconds", false));
        more.setAlignment(Pos.CENTER_LEFT);
        above = new VBox(scroll, more);
        above.getStyleClass().add("lanes");
        getChildren().addAll(above, bar);
        canvas.setId("clip-lanes");
        canvas.setFocusTraversable(true);
        canvas.setAccessibleRole(AccessibleRole.LIST_VIEW);
        canvas.setAccessibleText(Labels.of("time.lanes.accessible"));
        canvas.addEventHandler(KeyEvent.KEY_PRESSED, this::key);
        canvas.addEventHandler(MouseEvent.MOUSE_PRESSED, this::scrub);
        canvas.addEventHandler(MouseEvent.MOUSE_DRAGGED, this::scrub);
        desk.revision().addListener((o, a, b) -> refresh());
        desk.playback().clip().addListener((o, a, b) -> refresh());
        desk.playback().trial().addListener((o, a, b) -> refresh());
        desk.playback().along().addListener((o, a, b) -> refresh());
        desk.playback().seconds().addListener((o, a, b) -> refresh());
        desk.playback().playing().addListener((o, a, b) -> {
            lastTick = 0;
            if (b) {
                timer.start();
            } else {
                timer.stop();
            }
            refresh();
        });
        refresh();
    }

    @SafeVarargs
    private static <T> void choices(ComboBox<T> box, String id, Function<T, String> says, T... values) {
        box.setId(id);
        box.setAccessibleText(Labels.of("time." + id.substring("time-".length()) + ".accessible"));
        box.setTooltip(new Tooltip(box.getAccessibleText()));
        box.getItems().setAll(values);
        box.setMinWidth(USE_PREF_SIZE);
        box.setConverter(Widgets.shown(says));
    }

    private static Button step(String id, String sign, String key, Runnable act) {
        Button button = new Button(sign);
        button.setId(id);
        button.getStyleClass().add("quiet");
        button.setAccessibleText(Labels.of(key));
        button.setTooltip(new Tooltip(Labels.of(key)));
        button.setOnAction(e -> act.run());
        button.setMinWidth(USE_PREF_SIZE);
        return button;
    }

    private static ToggleButton option(ToggleButton button, String id, boolean on) {
        button.setId(id);
        button.setSelected(on);
        button.getStyleClass().add("quiet");
        button.setMinWidth(USE_PREF_SIZE);
        return button;
    }

    private final AnimationTimer timer = new AnimationTimer() {
        @Override
        public void handle(long now) {
            double passed = lastTick == 0 ? 0 : (now - lastTick) / 1e9;
            lastTick = now;
            if (desk.playback().playing().get()) {
                desk.playedClip().ifPresent(clip -> advance(clip, passed));
            }
        }
    };

    /** Frames are dropped, never slowed: time moves on by what has really passed. */
    private void advance(Clip clip, double passed) {
        double next = desk.playback().seconds().get()
                + passed * desk.playback().speed().get();
        double length = clip.seconds();
        if (next > clip.end() && !round.isSelected()) {
            next = clip.end();
            desk.playback().playing().set(false);
        } else if (next > clip.end()) {
            next = length > 0 ? clip.start() + (next - clip.start()) % length : clip.start();
        }
        desk.playback().seconds().set(next);
    }

    void toggle() {
        if (desk.isOpen() && desk.playedClip().isEmpty() && !desk.now().clips().isEmpty()) {
            choose(desk.now().clips().getFirst());
        }
        desk.playedClip()
                .filter(c -> !round.isSelected() && desk.playback().seconds().get() >= c.end())
                .ifPresent(c -> desk.playback().seconds().set(c.start()));
        desk.playback()
                .playing()
                .set(!desk.playback().playing().get() && desk.playedClip().isPresent());
    }

    private void choose(Clip clip) {
        desk.playback().clip().set(clip.name());
        desk.playback().seconds().set(clip.start());
    }

    /** To the first or last frame. */
    void jump(boolean last) {
        desk.playedClip().ifPresent(clip -> desk.playback().seconds().set(last ? clip.end() : clip.start()));
    }

    /** Steps by whole frames. */
    void step(int frames) {
        desk.playedClip().ifPresent(clip -> {
            double frame = Math.rint(desk.playback().seconds().get() * clip.rate()) + frames;
            desk.playback().seconds().set(Math.clamp(frame / clip.rate(), clip.start(), clip.end()));
        });
    }

    private List<Clip> clips() {
        return desk.isOpen() ? desk.now().clips() : List.of();
    }

    private void refresh() {
        boolean any = !clips().isEmpty();
        setDisable(!any);
        following = true;
        List<String> names = clips().stream().map(Clip::name).toList();
        if (!names.equals(clips.getItems())) {
            clips.getItems().setAll(names);
        }
        String now = desk.playback().clip().get();
        clips.setValue(now.isEmpty() ? null : now);
        play.setText(Labels.of(desk.playback().playing().get() ? "time.pause" : "time.play"));
        scrub.setDisable(desk.playedClip().isEmpty());
        desk.playedClip().ifPresentOrElse(this::describe, () -> {
            what.setText(Labels.of("time.rest"));
            loops.setText("");
            scrub.setValue(0);
        });
        what.getTooltip().setText(what.getText());
        following = false;
        boolean lanes = any && (lanesShown.isSelected() || desk.station().get() == Station.MOTION);
        above.setVisible(lanes);
        above.setManaged(lanes);
        if (lanes) {
            canvas.setHeight(Math.min(MOST_LANES, clips().size()) * LANE + 8);
            double shown = Math.min(SEEN_LANES, clips().size()) * LANE + 10;
            scroll.setMinHeight(shown);
            scroll.setPrefHeight(shown);
            draw();
        }
    }

    /** A frame that was dragged to, or reached by key. */
    private void scrubbed(double value) {
        if (following) {
            return;
        }
        desk.playedClip().ifPresent(clip -> {
            desk.playback().playing().set(false);
            boolean trial = desk.playback().trial().get() != null;
            double at = trial ? value : Math.rint(value) / clip.rate();
            desk.playback().seconds().set(Math.clamp(at, clip.start(), clip.end()));
        });
    }

    private void key(KeyEvent e) {
        int by = e.getCode() == KeyCode.LEFT ? -1 : e.getCode() == KeyCode.RIGHT ? 1 : 0;
        int lane = e.getCode() == KeyCode.UP ? -1 : e.getCode() == KeyCode.DOWN ? 1 : 0;
        if (by != 0) {
            step(by);
            e.consume();
        } else if (lane != 0 && e.isShiftDown() && !clips().isEmpty()) {
            List<String> names = clips().stream().map(Clip::name).toList();
            int other = names.indexOf(desk.playback().clip().get()) + lane;
            if (other >= 0 && other < names.size()) {
                playAlong(names.get(other));
            }
            e.consume();
        } else if (lane != 0 && !clips().isEmpty()) {
            List<String> names = clips().stream().map(Clip::name).toList();
            int to = Math.clamp(names.indexOf(desk.playback().clip().get()) + lane, 0, names.size() - 1);
            choose(clips().get(to));
            e.consume();
        }
    }

    private void describe(Clip clip) {
        boolean trial = desk.playback().trial().get() != null;
        scrub.setMin(trial ? clip.start() : clip.firstFrame());
        scrub.setMax(Math.max(scrub.getMin() + 1e-6, trial ? clip.end() : clip.lastFrame()));
        scrub.setBlockIncrement(trial ? 0.1 : 1);
        scrub.setValue(
                trial
                        ? desk.playback().seconds().get()
                        : desk.playback().seconds().get() * clip.rate());
        if (trial) {
            what.setText(Labels.of(
                    "time.trial",
                    clip.name(),
                    Math.round(desk.playback().seconds().get() * 100)));
            loops.setText("");
            return;
        }
        long frame = Math.round(desk.playback().seconds().get() * clip.rate());
        what.setText(Labels.of(
                "time.what",
                clip.name(),
                frame,
                clip.firstFrame(),
                clip.lastFrame(),
                rate(clip.rate()),
                String.format(Locale.ROOT, "%.3f", desk.playback().seconds().get())));
        loops.setText(Labels.of(clip.loop() ? "time.loop.on" : "time.loop.off"));
    }

    private static String rate(double rate) {
        return rate == Math.rint(rate) ? Long.toString((long) rate) : String.format(Locale.ROOT, "%.2f", rate);
    }

    private double last() {
        return clips().stream().mapToDouble(Clip::end).max().orElse(1);
    }

    private double first() {
        return Math.min(0, clips().stream().mapToDouble(Clip::start).min().orElse(0));
    }

    private double toX(double seconds) {
        double wide = Math.max(10, canvas.getWidth() - LEFT - RIGHT);
        return LEFT + (seconds - first()) / Math.max(1e-6, last() - first()) * wide;
    }

    private void scrub(MouseEvent e) {
        int lane = (int) ((e.getY() - 4) / LANE);
        if (e.getEventType() == MouseEvent.MOUSE_PRESSED && e.isControlDown() && lane >= 0 && lane < clips().size()) {
            playAlong(clips().get(lane).name());
            return;
        }
        if (e.getEventType() == MouseEvent.MOUSE_PRESSED && lane >= 0 && lane < clips().size()) {
            desk.playback().clip().set(clips().get(lane).name());
            if (e.getX() < LEFT - 10) {
                desk.playback().seconds().set(clips().get(lane).start());
            }
        }
        desk.playedClip().ifPresent(clip -> {
            if (e.getX() >= LEFT - 10) {
                desk.playback().playing().set(false);
                double wide = Math.max(10, canvas.getWidth() - LEFT - RIGHT);
                double t = first() + (e.getX() - LEFT) / wide * (last() - first());
                double frame = Math.rint(t * clip.rate());
                desk.playback().seconds().set(Math.clamp(frame / clip.rate(), clip.start(), clip.end()));
            }
        });
    }

    /** Lets a clip play along with the picked one, or no longer. */
    private void playAlong(String name) {
        List<String> names = new ArrayList<>(desk.playback().along().get());
        if (!name.equals(desk.playback().clip().get()) && !names.remove(name)) {
            names.add(name);
        }
        desk.playback().along().set(List.copyOf(names));
    }

    private void draw() {
        GraphicsContext g = canvas.getGraphicsContext2D();
        g.clearRect(0, 0, canvas.getWidth(), canvas.getHeight());
        boolean dark = desk.preferences().dark().get();
        Color ink = Color.web(dark ? "#EFE8DC" : "#23201D");
        Color quiet = Color.web(dark ? "#A89F92" : "#6A6259");
        Color marrow = Color.web(dark ? "#E0746B" : "#9C2F2A");
        int lane = 0;
        for (Clip clip : clips()) {
            if (lane >= MOST_LANES) {
                break;
            }
            boolean along = desk.playback().along().get().contains(clip.name());
            boolean played = along || clip.name().equals(desk.playback().clip().get());
            double y = 4 + lane * LANE;
            double x0 = toX(clip.start());
            double x1 = Math.max(x0 + 4, toX(clip.end()));
            text(
                    g,
                    shortened((along ? "+ " : "") + clip.name()),
                    4,
                    y + LANE / 2,
                    played ? ink : quiet,
                    TextAlignment.LEFT);
            g.setFill(Color.web(dark ? (played ? "#4A2C2A" : "#37322D") : played ? "#EBCFC9" : "#E6DDCB"));
            g.fillRoundRect(x0, y + 3, x1 - x0, LANE - 7, 5, 5);
            g.setStroke(played ? marrow : Color.web(dark ? "#423D38" : "#D0C4AE"));
            g.setLineWidth(1);
            g.strokeRoundRect(x0 + 0.5, y + 3.5, x1 - x0 - 1, LANE - 8, 5, 5);
            if (x1 - x0 > 54) {
                text(g, mark(clip.firstFrame(), clip.start()), x0 + 7, y + LANE / 2 - 0.5, ink, TextAlignment.LEFT);
                text(g, mark(clip.lastFrame(), clip.end()), x1 - 7, y + LANE / 2 - 0.5, ink, TextAlignment.RIGHT);
            }
            if (clip.loop()) {
                loopMark(g, x1 + 10, y + LANE / 2 - 0.5, quiet);
            }
            lane++;
        }
        desk.playedClip().filter(clip -> desk.playback().trial().get() == null).ifPresent(clip -> {
            double x = toX(desk.playback().seconds().get());
            g.setStroke(marrow);
            g.setLineWidth(1.5);
            g.strokeLine(x, 2, x, canvas.getHeight());
            g.setFill(marrow);
            g.fillPolygon(new double[] {x - 5, x + 5, x}, new double[] {0, 0, 7}, 3);
        });
    }

    /** A place on the time line as frame or second. */
    private String mark(int frame, double seconds) {
        return inSeconds.isSelected() ? String.format(Locale.ROOT, "%.2f s", seconds) : Integer.toString(frame);
    }

    /** An open ring with an arrow head: the bar plays round. */
    private static void loopMark(GraphicsContext g, double x, double y, Color colour) {
        g.setStroke(colour);
        g.setLineWidth(1.4);
        g.strokeArc(x - 4, y - 4, 8, 8, 60, 290, javafx.scene.shape.ArcType.OPEN);
        g.setFill(colour);
        g.fillPolygon(new double[] {x + 0.5, x + 5.5, x + 4.5}, new double[] {y - 4.5, y - 5, y - 0.5}, 3);
    }

    private static String shortened(String name) {
        return name.length() <= 13 ? name : name.substring(0, 12) + "…";
    }

    private static void text(GraphicsContext g, String text, double x, double y, Color c, TextAlignment a) {
        g.setFont(Font.font("Lato", 12));
        g.setTextAlign(a);
        g.setTextBaseline(VPos.CENTER);
        g.setFill(c);
        g.fillText(text, x, y);
    }
}
