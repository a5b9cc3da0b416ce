package org.cleanmarrow.desktop.window;

import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntConsumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.geometry.Pos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Button;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Pane;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.ledger.EarlierClip;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.ErrorOverTime;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.ChannelCurve;
import org.cleanmarrow.steps.motion.RemoveKeys;

/**
 * What the clip in hand does to the joint in hand, over time: keys, the way between them, behind it the way before the last step
 * that changed the clip, and below how far the skin is off from there. A drag or Shift with the arrows takes a range of frames in
 * hand, Delete takes the keys in it out.
 */
final class Curves extends VBox {
    private static final double TALL = 158;
    private static final double LEFT = 92;
    private static final double RIGHT = 28;
    private static final double TOP = 8;
    private static final double BELOW = 36;
    private static final int SAMPLES = 600;
    /** Numbers that are named at the side; a mesh may have a hundred weights. */
    private static final int NAMED = 6;

    private static final String[] AXES = {"x", "y", "z"};

    private final Desk desk;
    private final IntConsumer step;
    /** Below, what time does not change; above it time itself. */
    private final Canvas still = new Canvas(100, TALL);

    private final Canvas canvas = new Canvas(100, TALL);
    private final ObjectProperty<CurveProperty> property = new SimpleObjectProperty<>(CurveProperty.ROTATION);
    private final Button worst = new Button();
    private int anchor;
    private Still drawn;
    /** Of the curves that were drawn last. */
    private final Map<ChannelCurve, CurveWay> ways = new IdentityHashMap<>();

    /** All that the picture below depends on; curves and errors are the same where their arrays are. */
    private record Still(
            Optional<ChannelCurve> shown,
            Optional<ChannelCurve> before,
            Optional<ErrorOverTime> error,
            List<Double> measures,
            Optional<Playback.Frames> range,
            List<Object> words) {}

    /** @param step goes on by so many frames */
    Curves(Desk desk, IntConsumer step) {
        super(2);
        this.desk = desk;
        this.step = step;
        HBox choices = Widgets.choices("curve", "curves", CurveProperty.values(), property);
        choices.setMinWidth(USE_PREF_SIZE);
        worst.setId("error-worst");
        worst.getStyleClass().add("quiet");
        worst.setMinWidth(0);
        Tips.say(worst, Labels.of("curves.worst.tip"));
        worst.setOnAction(e -> error().ifPresent(off -> at(off.seconds()[off.worst()])));
        HBox row = new HBox(8, choices, Widgets.spring(), worst);
        row.setAlignment(Pos.CENTER_LEFT);
        Pane under = new Pane(still, canvas);
        still.setMouseTransparent(true);
        under.setMinHeight(TALL);
        under.setMinWidth(0);
        still.widthProperty().bind(under.widthProperty());
        canvas.widthProperty().bind(under.widthProperty());
        getChildren().addAll(row, under);
        canvas.setId("curves-picture");
        canvas.setFocusTraversable(true);
        canvas.setAccessibleRole(AccessibleRole.TEXT);
        canvas.addEventHandler(KeyEvent.KEY_PRESSED, this::key);
        canvas.addEventHandler(MouseEvent.MOUSE_PRESSED, this::mouse);
        canvas.addEventHandler(MouseEvent.MOUSE_DRAGGED, this::mouse);
        canvas.widthProperty().addListener((o, a, b) -> refresh());
        canvas.focusedProperty().addListener((o, a, b) -> refresh());
        property.addListener((o, a, b) -> refresh());
        desk.onAnyChange(this::refresh);
    }

    // ---- what there is to show

    private Optional<Clip> clip() {
        return desk.isOpen() ? desk.playback().picked(desk.now()) : Optional.empty();
    }

    private Optional<ChannelCurve> curve(String fact, Asset asset, Clip clip) {
        String joint = desk.selection().joint().get();
        Channel.Path path = property.get().path();
        int node = asset.findNode(joint);
        return node < 0
                ? Optional.empty()
                : desk.facts()
                        .of(
                                fact,
                                asset,
                                List.of(clip.name(), joint, path),
                                w -> ChannelCurve.of(asset, clip, node, path, SAMPLES))
                        .flatMap(found -> found);
    }

    private Optional<EarlierClip> earlier() {
        if (clip().isEmpty()) {
            return Optional.empty();
        }
        Asset source = desk.received();
        List<Replay.Done> done = desk.history().done().subList(0, desk.looking());
        String name = clip().get().name();
        return desk.facts()
                .of("earlier clip", desk.now(), name, w -> EarlierClip.of(source, done, name))
                .flatMap(found -> found);
    }

    /** How far the skin is off from where it was before the last step that changed the clip. */
    private Optional<ErrorOverTime> error() {
        Optional<Clip> is = clip();
        return earlier().flatMap(was -> {
            Asset asset = desk.now();
            Clip now = is.orElseThrow();
            return desk.figures().of("clip error", now, was.clip(), w -> ErrorOverTime.of(asset, was.clip(), now, w));
        });
    }

    // ---- drawing

    /** Draws what there is, where it is seen. */
    void refresh() {
        if (!isVisible() || canvas.getWidth() <= LEFT + RIGHT) {
            return;
        }
        GraphicsContext g = canvas.getGraphicsContext2D();
        g.clearRect(0, 0, canvas.getWidth(), TALL);
        TimeInk ink = TimeInk.of(desk.preferences().dark().get());
        worst.setDisable(true);
        worst.setText(Labels.of("curves.worst.none"));
        if (clip().isEmpty() || desk.selection().jointNode() < 0) {
            still.getGraphicsContext2D().clearRect(0, 0, still.getWidth(), TALL);
            drawn = null;
            say(g, ink, Labels.of(clip().isEmpty() ? "motion.pick" : "curves.pick"));
            return;
        }
        Clip clip = clip().get();
        Asset asset = desk.now();
        Optional<ErrorOverTime> error = error();
        error.ifPresent(off -> {
            worst.setDisable(false);
            worst.setText(Labels.of(
                    "curves.worst",
                    desk.outcomes().length(off.largest()),
                    frame(off.seconds()[off.worst()] * clip.rate())));
        });
        Optional<ChannelCurve> shown = curve("curve", asset, clip);
        Optional<ChannelCurve> before = earlier().flatMap(was -> curve("earlier curve", was.asset(), was.clip()));
        drawStill(ink, clip, shown, before, error);
        shown.ifPresent(curve -> legend(g, ink, curve));
        ink.moment(g, toX(clip, desk.playback().seconds().get()), TALL);
        if (canvas.isFocused()) {
            g.setStroke(ink.marrow());
            g.setLineWidth(1);
            g.strokeRect(LEFT - 0.5, 0.5, canvas.getWidth() - LEFT - RIGHT + 1, TALL - 1);
        }
        canvas.setAccessibleText(said(clip, shown));
    }

    /** What stays as it is while time goes on is drawn when it changes: a take's curves cost more than a picture's time. */
    private void drawStill(
            TimeInk ink,
            Clip clip,
            Optional<ChannelCurve> shown,
            Optional<ChannelCurve> before,
            Optional<ErrorOverTime> error) {
        Still now = new Still(
                shown,
                before,
                error,
                List.of(clip.start(), clip.seconds(), clip.rate(), still.getWidth()),
                Optional.ofNullable(desk.playback().range().get()),
                List.of(ink.ink(), desk.outcomes().length(1), none(clip)));
        if (now.equals(drawn)) {
            return;
        }
        drawn = now;
        GraphicsContext g = still.getGraphicsContext2D();
        g.clearRect(0, 0, still.getWidth(), TALL);
        range(g, ink, clip);
        if (shown.isEmpty()) {
            say(g, ink, none(clip));
        } else {
            double[] span = span(clip, shown.get(), before);
            frame(g, ink, span);
            before.ifPresent(curve -> draw(g, ink, curve, clip, span, false));
            draw(g, ink, shown.get(), clip, span, true);
        }
        error.ifPresent(off -> drawError(g, ink, off, clip));
    }

    private static String frame(double frame) {
        boolean whole = Math.abs(frame - Math.rint(frame)) < 1e-3;
        return whole ? Long.toString(Math.round(frame)) : String.format(Locale.ROOT, "%.2f", frame);
    }

    private String id() {
        return property.get().name().toLowerCase(Locale.ROOT);
    }

    private String joint() {
        return Widgets.shortened(desk.selection().joint().get());
    }

    private void say(GraphicsContext g, TimeInk ink, String text) {
        TimeInk.text(g, text, LEFT + 10, TALL / 2, ink.quiet(), TextAlignment.LEFT);
        canvas.setAccessibleText(text);
    }

    private double toX(Clip clip, double seconds) {
        double wide = Math.max(10, canvas.getWidth() - LEFT - RIGHT);
        return LEFT + (seconds - clip.start()) / Math.max(1e-6, clip.seconds()) * wide;
    }

    private static double toY(double value, double[] span) {
        return TOP + (span[1] - value) / (span[1] - span[0]) * (TALL - BELOW - TOP);
    }

    private double[] span(Clip clip, ChannelCurve curve, Optional<ChannelCurve> before) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (ChannelCurve c : before.map(b -> List.of(curve, b)).orElse(List.of(curve))) {
            for (double[] row : way(clip, c).values()) {
                low = Math.min(low, Arrays.stream(row).min().orElse(0));
                high = Math.max(high, Arrays.stream(row).max().orElse(0));
            }
        }
        double lacks = Math.max(0, property.get().least() - (high - low)) / 2;
        return new double[] {low - lacks, high + lacks};
    }

    private void range(GraphicsContext g, TimeInk ink, Clip clip) {
        Playback.Frames frames = desk.playback().range().get();
        if (frames != null) {
            double x0 = toX(clip, (frames.first() - 0.5) / clip.rate());
            double x1 = toX(clip, (frames.last() + 0.5) / clip.rate());
            g.setFill(ink.played());
            double from = Math.max(LEFT, x0);
            g.fillRect(from, TOP, Math.min(canvas.getWidth() - RIGHT, x1) - from, TALL - TOP);
        }
    }

    /** Top, bottom and nought, with the values they stand for. */
    private void frame(GraphicsContext g, TimeInk ink, double[] span) {
        g.setLineWidth(1);
        g.setStroke(ink.line());
        for (double at : new double[] {span[1], span[0], 0}) {
            if (at >= span[0] && at <= span[1]) {
                double y = Math.rint(toY(at, span)) + 0.5;
                g.strokeLine(LEFT, y, canvas.getWidth() - RIGHT, y);
            }
        }
        TimeInk.text(g, value(span[1]), LEFT - 6, toY(span[1], span), ink.quiet(), TextAlignment.RIGHT);
        TimeInk.text(g, value(span[0]), LEFT - 6, toY(span[0], span), ink.quiet(), TextAlignment.RIGHT);
    }

    private Color colour(TimeInk ink, int number) {
        return ink.axes()[number % ink.axes().length];
    }

    private void draw(GraphicsContext g, TimeInk ink, ChannelCurve curve, Clip clip, double[] span, boolean now) {
        for (int i = 0; i < curve.values().length; i++) {
            Color colour = colour(ink, i);
            g.setStroke(now ? colour : colour.deriveColor(0, 0.7, 1, 0.35));
            g.setLineWidth(now ? 1.4 : 4);
            way(g, way(clip, curve), i, span);
            boolean apart = curve.keys().length * 5L < canvas.getWidth();
            for (int k = 0; now && apart && k < curve.keys().length; k++) {
                g.setFill(colour);
                g.fillRect(toX(clip, curve.keys()[k]) - 2, toY(curve.atKeys()[i][k], span) - 2, 4, 4);
            }
        }
    }

    private static void way(GraphicsContext g, CurveWay way, int row, double[] span) {
        g.beginPath();
        for (int i = 0; i < way.x()[row].length; i++) {
            g.lineTo(LEFT + way.x()[row][i], toY(way.values()[row][i], span));
        }
        g.stroke();
    }

    /** Kept, because a take has more keys than can be gone through at every picture. */
    private CurveWay way(Clip clip, ChannelCurve curve) {
        double wide = Math.max(10, canvas.getWidth() - LEFT - RIGHT);
        CurveWay kept = ways.get(curve);
        if (kept != null && kept.is(clip, wide)) {
            return kept;
        }
        if (ways.size() > 3) {
            ways.clear();
        }
        CurveWay made = CurveWay.of(curve, clip, wide);
        ways.put(curve, made);
        return made;
    }

    private void legend(GraphicsContext g, TimeInk ink, ChannelCurve curve) {
        double[] at = now(curve);
        for (int i = 0; i < Math.min(NAMED, at.length); i++) {
            double y = TOP + 20 + i * 16;
            if (y < TALL - BELOW - 12) {
                TimeInk.text(g, name(i), 4, y, colour(ink, i), TextAlignment.LEFT);
                TimeInk.text(g, value(at[i]), LEFT - 14, y, ink.ink(), TextAlignment.RIGHT);
            }
        }
    }

    private String name(int number) {
        return property.get() == CurveProperty.WEIGHTS ? Integer.toString(number) : AXES[number];
    }

    /** The values at the moment that is shown, straight between those that were looked at. */
    private double[] now(ChannelCurve curve) {
        double seconds = desk.playback().seconds().get();
        double[] all = curve.seconds();
        int found = Arrays.binarySearch(all, seconds);
        int after = Math.clamp(found >= 0 ? found : -found - 1, 0, all.length - 1);
        int before = found >= 0 || after == 0 || seconds > all[after] ? after : after - 1;
        double share = after == before ? 0 : (seconds - all[before]) / (all[after] - all[before]);
        return Arrays.stream(curve.values())
                .mapToDouble(row -> row[before] + share * (row[after] - row[before]))
                .toArray();
    }

    private String value(double value) {
        return switch (property.get()) {
            case ROTATION -> Labels.of("curves.degrees", String.format(Locale.ROOT, "%.1f", value + 0.0));
            case TRANSLATION -> (value < 0 ? "-" : "") + desk.outcomes().length(Math.abs(value));
            case SCALE, WEIGHTS -> String.format(Locale.ROOT, "%.3f", value);
        };
    }

    private void drawError(GraphicsContext g, TimeInk ink, ErrorOverTime off, Clip clip) {
        double top = TALL - BELOW + 10;
        double[] span = {0, Math.max(1e-6, off.largest())};
        double tall = TALL - 2 - top;
        g.setFill(ink.marrow().deriveColor(0, 1, 1, 0.45));
        g.beginPath();
        g.moveTo(toX(clip, off.seconds()[0]), top + tall);
        for (int i = 0; i < off.seconds().length; i++) {
            g.lineTo(toX(clip, off.seconds()[i]), top + tall * (1 - off.metres()[i] / span[1]));
        }
        g.lineTo(toX(clip, off.seconds()[off.seconds().length - 1]), top + tall);
        g.fill();
        TimeInk.text(g, desk.outcomes().length(off.largest()), LEFT - 6, top + 3, ink.quiet(), TextAlignment.RIGHT);
        TimeInk.text(g, Labels.of("curves.off"), 4, top + tall - 8, ink.quiet(), TextAlignment.LEFT);
    }

    private String none(Clip clip) {
        return Labels.of("curves.none", Widgets.shortened(clip.name()), id(), joint());
    }

    private String said(Clip clip, Optional<ChannelCurve> curve) {
        long frame = Math.round(desk.playback().seconds().get() * clip.rate());
        String values = curve.map(c -> {
                    double[] at = now(c);
                    return IntStream.range(0, Math.min(NAMED, at.length))
                            .mapToObj(i -> name(i) + " " + value(at[i]))
                            .collect(Collectors.joining(", "));
                })
                .orElse(none(clip));
        Playback.Frames frames = desk.playback().range().get();
        String range = frames == null ? "" : Labels.of("curves.range", frames.first(), frames.last());
        boolean key = curve.map(c -> isKey(c.keys(), clip.rate(), frame)).orElse(false);
        return Labels.of(
                "curves.accessible",
                joint(),
                Labels.of("curves." + id()),
                frame,
                values,
                Labels.of(key ? "curves.key" : "curves.no.key"),
                range);
    }

    private static boolean isKey(double[] keys, double rate, long frame) {
        int after = Arrays.binarySearch(keys, (frame - 0.01) / rate);
        int key = after < 0 ? -after - 1 : after;
        return key < keys.length && Math.abs(keys[key] * rate - frame) <= 0.01;
    }

    // ---- the hand

    private void at(double seconds) {
        clip().ifPresent(clip -> {
            desk.playback().playing().set(false);
            desk.playback().seconds().set(Math.clamp(seconds, clip.start(), clip.end()));
        });
    }

    private int frame(Clip clip) {
        return (int) Math.round(desk.playback().seconds().get() * clip.rate());
    }

    private void mouse(MouseEvent e) {
        canvas.requestFocus();
        clip().ifPresent(clip -> {
            double wide = Math.max(10, canvas.getWidth() - LEFT - RIGHT);
            double t = clip.start() + (e.getX() - LEFT) / wide * clip.seconds();
            at(Math.rint(t * clip.rate()) / clip.rate());
            if (e.getEventType() == MouseEvent.MOUSE_PRESSED) {
                anchor = frame(clip);
                desk.playback().range().set(null);
            } else {
                span(frame(clip));
            }
        });
    }

    /** Takes the frames from where the hand began to another in hand. */
    private void span(int frame) {
        desk.playback().take(anchor, frame);
    }

    private void key(KeyEvent e) {
        int by = e.getCode() == KeyCode.LEFT ? -1 : e.getCode() == KeyCode.RIGHT ? 1 : 0;
        if (clip().isEmpty()) {
            return;
        }
        Clip clip = clip().get();
        if (by != 0 && e.isControlDown()) {
            nextKey(clip, by);
        } else if (by != 0) {
            if (desk.playback().range().get() == null || !e.isShiftDown()) {
                anchor = frame(clip);
            }
            step.accept(by);
            if (e.isShiftDown()) {
                span(frame(clip));
            }
        } else if (e.getCode() == KeyCode.DELETE || e.getCode() == KeyCode.BACK_SPACE) {
            removeKeys(clip);
        } else if (e.getCode() == KeyCode.ESCAPE && desk.playback().range().get() != null) {
            desk.playback().range().set(null);
        } else {
            return;
        }
        e.consume();
    }

    private void nextKey(Clip clip, int by) {
        double now = desk.playback().seconds().get();
        double near = 1e-3 / clip.rate();
        curve("curve", desk.now(), clip)
                .map(ChannelCurve::keys)
                .flatMap(keys -> Arrays.stream(keys)
                        .filter(k -> by > 0 ? k > now + near : k < now - near)
                        .boxed()
                        .reduce((one, other) -> by > 0 ? one : other))
                .ifPresent(this::at);
    }

    private void removeKeys(Clip clip) {
        if (desk.selection().jointNode() < 0) {
            return;
        }
        Playback.Frames frames = Optional.ofNullable(desk.playback().range().get())
                .orElse(new Playback.Frames(frame(clip), frame(clip)));
        desk.apply(new RemoveKeys(
                clip.name(),
                desk.selection().joint().get(),
                RemoveKeys.What.valueOf(property.get().name()),
                frames.first(),
                frames.last()));
    }
}
