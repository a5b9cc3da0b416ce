package org.cleanmarrow.desktop.window;

import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.beans.property.ObjectProperty;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Slider;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Pane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Clip;

/**
 * One line to play by: clip, frame, and a bar to drag; above it, where they are wanted, clips as lanes with inclusive frame
 * numbers at both ends.
 */
final class Transport extends VBox {
    private static final int SEEN_LANES = 5;

    private final Desk desk;
    private final Lanes lanes;
    private final Curves curves;
    private final Button play = new Button();
    private final Label what = new Label();
    private final Label loops = new Label();
    private final ToggleButton round = new ToggleButton(Labels.of("time.round"));
    private final ToggleButton inSeconds = new ToggleButton(Labels.of("time.seconds"));
    private final ToggleButton curvesShown = new ToggleButton(Labels.of("time.curves"));
    private final ToggleButton lanesShown = new ToggleButton(Labels.of("time.lanes"));
    private final ComboBox<String> clips = new ComboBox<>();
    private final ComboBox<Double> speed = new ComboBox<>();
    private final ComboBox<Integer> neighbours = new ComboBox<>();
    private final ObjectProperty<Double> speedShown;
    private final ObjectProperty<Integer> neighboursShown;
    private final Slider scrub = new Slider(0, 1, 0);
    private final ScrollPane scroll;
    private final VBox above;
    private boolean following;
    private long lastTick;

    Transport(Desk desk) {
        this.desk = desk;
        speedShown = desk.playback().speed().asObject();
        neighboursShown = desk.seeing().neighbours().asObject();
        lanes = new Lanes(desk, this::step, this::choose);
        curves = new Curves(desk, this::step);
        atStart();
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
        Tips.say(what, what::getText);
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
                option(round, "play-round"),
                option(lanesShown, "lanes"));
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.getStyleClass().add("transport");
        lanesShown.selectedProperty().addListener((o, a, b) -> refresh());
        desk.station().addListener((o, a, b) -> refresh());
        Pane under = new Pane(lanes);
        under.minHeightProperty().bind(lanes.heightProperty());
        scroll = new ScrollPane(under);
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setMinWidth(100);
        scroll.setFocusTraversable(false);
        setMinWidth(0);
        setMinHeight(USE_PREF_SIZE);
        scroll.viewportBoundsProperty().addListener((o, a, b) -> {
            lanes.setWidth(b.getWidth());
            lanes.draw();
        });
        inSeconds.selectedProperty().addListener((o, a, b) -> refresh());
        desk.preferences().dark().addListener((o, a, b) -> Platform.runLater(this::refresh));
        curvesShown.selectedProperty().addListener((o, a, b) -> refresh());
        choices(speed, "time-speed", v -> Labels.of("time.speed.times", v), 0.25, 0.5, 1.0, 2.0);
        speed.valueProperty().bindBidirectional(speedShown);
        choices(
                neighbours,
                "time-neighbours",
                v -> v == 0 ? Labels.of("time.neighbours.none") : Labels.of("time.neighbours.every", v),
                0,
                1,
                2,
                5,
                10);
        neighbours.valueProperty().bindBidirectional(neighboursShown);
        loops.setMinWidth(0);
        HBox more = new HBox(
                8,
                loops,
                Widgets.spring(),
                speed,
                neighbours,
                option(inSeconds, "time-seconds"),
                option(curvesShown, "time-curves"));
        more.setAlignment(Pos.CENTER_LEFT);
        above = new VBox(scroll, curves, more);
        above.getStyleClass().add("lanes");
        getChildren().add(bar);
        desk.piece().addListener((o, a, b) -> {
            if (b == null) {
                atStart();
            }
            refresh();
        });
        desk.playback().clip().addListener((o, a, b) -> refresh());
        desk.playback().trial().addListener((o, a, b) -> refresh());
        desk.playback().along().addListener((o, a, b) -> refresh());
        desk.playback().range().addListener((o, a, b) -> refresh());
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
        Tips.say(box, box.getAccessibleText());
        box.getItems().setAll(values);
        box.setMinWidth(USE_PREF_SIZE);
        box.setConverter(Widgets.shown(says));
    }

    private static Button step(String id, String sign, String key, Runnable act) {
        Button button = new Button(sign);
        button.setId(id);
        button.getStyleClass().add("quiet");
        button.setAccessibleText(Labels.of(key));
        Tips.say(button, Labels.of(key));
        button.setOnAction(e -> act.run());
        button.setMinWidth(USE_PREF_SIZE);
        return button;
    }

    private void atStart() {
        round.setSelected(true);
        List.of(inSeconds, curvesShown, lanesShown).forEach(b -> b.setSelected(false));
    }

    private static ToggleButton option(ToggleButton button, String id) {
        button.setId(id);
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
        following = false;
        boolean unfolded = any && (lanesShown.isSelected() || desk.station().get() == Station.MOTION);
        // Only once it is wanted: it is a seventh of the window's controls, all of which would be styled before it
        // opens.
        if (unfolded && above.getParent() == null) {
            getChildren().addFirst(above);
        }
        above.setVisible(unfolded);
        above.setManaged(unfolded);
        curves.setVisible(unfolded && curvesShown.isSelected());
        curves.setManaged(curves.isVisible());
        scroll.setVisible(!curves.isVisible());
        scroll.setManaged(!curves.isVisible());
        if (curves.isVisible()) {
            curves.refresh();
        } else if (unfolded) {
            double shown = Math.min(SEEN_LANES, clips().size()) * Lanes.LANE + 10;
            scroll.setMinHeight(shown);
            scroll.setPrefHeight(shown);
            lanes.refresh(inSeconds.isSelected());
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
}
