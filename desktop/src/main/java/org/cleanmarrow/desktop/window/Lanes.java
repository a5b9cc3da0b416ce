package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import javafx.scene.AccessibleRole;
import javafx.scene.Cursor;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.paint.Color;
import javafx.scene.shape.ArcType;
import javafx.scene.text.TextAlignment;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Playback;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.model.Clip;

/**
 * Clips as lanes, with inclusive frame numbers at both ends; a click picks one, a drag goes through it. An end that is dragged
 * takes frames in hand, and theirs are dragged on.
 */
final class Lanes extends Canvas {
    static final double LANE = 24;
    /** A canvas cannot be arbitrarily high; clips beyond are found by name. */
    private static final int MOST = 160;

    /** How near to the end of a bar it is held by it. */
    private static final double END = 5;

    private static final double LEFT = 92;
    private static final double RIGHT = 28;

    private final Desk desk;
    private final IntConsumer step;
    private final Consumer<Clip> choose;
    private boolean inSeconds;
    /** The frame from which frames are taken in hand; -1 where a drag takes none. */
    private int anchor = -1;

    /**
     * @param step   goes on by so many frames
     * @param choose takes a clip in hand, at its start
     */
    Lanes(Desk desk, IntConsumer step, Consumer<Clip> choose) {
        super(100, 40);
        this.desk = desk;
        this.step = step;
        this.choose = choose;
        setId("clip-lanes");
        setFocusTraversable(true);
        setAccessibleRole(AccessibleRole.LIST_VIEW);
        setAccessibleText(Labels.of("time.lanes.accessible"));
        addEventHandler(KeyEvent.KEY_PRESSED, this::key);
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::scrub);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::scrub);
        addEventHandler(MouseEvent.MOUSE_MOVED, this::hover);
        addEventHandler(MouseEvent.MOUSE_EXITED, this::hover);
    }

    private List<Clip> clips() {
        return desk.isOpen() ? desk.now().clips() : List.of();
    }

    /** Shows what there is, its ends as frames or as seconds. */
    void refresh(boolean seconds) {
        inSeconds = seconds;
        setHeight(Math.min(MOST, clips().size()) * LANE + 8);
        draw();
    }

    private void key(KeyEvent e) {
        int by = e.getCode() == KeyCode.LEFT ? -1 : e.getCode() == KeyCode.RIGHT ? 1 : 0;
        int lane = e.getCode() == KeyCode.UP ? -1 : e.getCode() == KeyCode.DOWN ? 1 : 0;
        if (by != 0 && desk.playedClip().isPresent()) {
            Clip clip = desk.playedClip().get();
            if (desk.playback().range().get() == null || !e.isShiftDown() || anchor < 0) {
                anchor = frame(clip);
            }
            step.accept(by);
            if (e.isShiftDown()) {
                desk.playback().take(anchor, frame(clip));
            }
            e.consume();
        } else if (e.getCode() == KeyCode.ESCAPE && desk.playback().range().get() != null) {
            desk.playback().range().set(null);
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
            choose.accept(clips().get(to));
            e.consume();
        }
    }

    private double last() {
        return clips().stream().mapToDouble(Clip::end).max().orElse(1);
    }

    private double first() {
        return Math.min(0, clips().stream().mapToDouble(Clip::start).min().orElse(0));
    }

    private double toX(double seconds) {
        double wide = Math.max(10, getWidth() - LEFT - RIGHT);
        return LEFT + (seconds - first()) / Math.max(1e-6, last() - first()) * wide;
    }

    private int frame(Clip clip) {
        return (int) Math.round(desk.playback().seconds().get() * clip.rate());
    }

    private int lane(MouseEvent e) {
        int lane = (int) ((e.getY() - 4) / LANE);
        return lane >= 0 && lane < clips().size() ? lane : -1;
    }

    /** The frame that stays where an end of a clip, or of the frames in hand, is dragged; -1 away from ends. */
    private int otherEnd(MouseEvent e) {
        int lane = lane(e);
        if (lane < 0) {
            return -1;
        }
        Clip clip = clips().get(lane);
        Playback.Frames frames = desk.playback().range().get();
        boolean picked = clip.name().equals(desk.playback().clip().get());
        int inHand = frames == null || !picked ? -1 : otherEnd(e, clip, frames.first(), frames.last());
        return inHand >= 0 ? inHand : otherEnd(e, clip, clip.firstFrame(), clip.lastFrame());
    }

    private int otherEnd(MouseEvent e, Clip clip, int first, int last) {
        double toFirst = Math.abs(e.getX() - toX(first / clip.rate()));
        double toLast = Math.abs(e.getX() - toX(last / clip.rate()));
        return Math.min(toFirst, toLast) > END || first == last ? -1 : toFirst < toLast ? last : first;
    }

    private void hover(MouseEvent e) {
        boolean end = e.getEventType() == MouseEvent.MOUSE_MOVED && otherEnd(e) >= 0;
        setCursor(end ? Cursor.H_RESIZE : Cursor.DEFAULT);
    }

    private void scrub(MouseEvent e) {
        boolean pressed = e.getEventType() == MouseEvent.MOUSE_PRESSED;
        int lane = lane(e);
        if (pressed && e.isControlDown() && lane >= 0) {
            playAlong(clips().get(lane).name());
            return;
        }
        int end = pressed ? otherEnd(e) : -1;
        if (pressed && lane >= 0) {
            desk.playback().clip().set(clips().get(lane).name());
            desk.playback().range().set(null);
            if (e.getX() < LEFT - 10) {
                desk.playback().seconds().set(clips().get(lane).start());
            }
        }
        desk.playedClip().ifPresent(clip -> {
            if (e.getX() >= LEFT - 10) {
                desk.playback().playing().set(false);
                double wide = Math.max(10, getWidth() - LEFT - RIGHT);
                double t = first() + (e.getX() - LEFT) / wide * (last() - first());
                double frame = Math.rint(t * clip.rate());
                desk.playback().seconds().set(Math.clamp(frame / clip.rate(), clip.start(), clip.end()));
                if (pressed) {
                    anchor = end;
                } else if (anchor >= 0) {
                    desk.playback().take(anchor, frame(clip));
                }
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

    void draw() {
        GraphicsContext g = getGraphicsContext2D();
        g.clearRect(0, 0, getWidth(), getHeight());
        TimeInk ink = TimeInk.of(desk.preferences().dark().get());
        List<Clip> all = clips();
        for (int lane = 0; lane < Math.min(MOST, all.size()); lane++) {
            lane(g, ink, all.get(lane), 4 + lane * LANE);
        }
        desk.playedClip()
                .filter(clip -> desk.playback().trial().get() == null)
                .ifPresent(clip -> ink.moment(g, toX(desk.playback().seconds().get()), getHeight()));
    }

    private void lane(GraphicsContext g, TimeInk ink, Clip clip, double y) {
        boolean along = desk.playback().along().get().contains(clip.name());
        boolean played = along || clip.name().equals(desk.playback().clip().get());
        double x0 = toX(clip.start());
        double x1 = Math.max(x0 + 4, toX(clip.end()));
        double middle = y + LANE / 2;
        String name = shortened((along ? "+ " : "") + clip.name());
        TimeInk.text(g, name, 4, middle, played ? ink.ink() : ink.quiet(), TextAlignment.LEFT);
        g.setFill(played ? ink.played() : ink.bar());
        g.fillRoundRect(x0, y + 3, x1 - x0, LANE - 7, 5, 5);
        g.setStroke(played ? ink.marrow() : ink.line());
        g.setLineWidth(1);
        g.strokeRoundRect(x0 + 0.5, y + 3.5, x1 - x0 - 1, LANE - 8, 5, 5);
        Playback.Frames frames = desk.playback().range().get();
        if (frames != null && clip.name().equals(desk.playback().clip().get())) {
            double from = toX(frames.first() / clip.rate());
            double to = toX(frames.last() / clip.rate());
            g.setFill(ink.marrow().deriveColor(0, 1, 1, 0.35));
            g.fillRoundRect(from - 1, y + 3, to - from + 2, LANE - 7, 5, 5);
        }
        if (x1 - x0 > 54) {
            String first = mark(clip.firstFrame(), clip.start());
            String last = mark(clip.lastFrame(), clip.end());
            TimeInk.text(g, first, x0 + 7, middle - 0.5, ink.ink(), TextAlignment.LEFT);
            TimeInk.text(g, last, x1 - 7, middle - 0.5, ink.ink(), TextAlignment.RIGHT);
        }
        if (clip.loop()) {
            loopMark(g, x1 + 10, middle - 0.5, ink.quiet());
        }
    }

    /** A place on the time line as frame or second. */
    private String mark(int frame, double seconds) {
        return inSeconds ? String.format(Locale.ROOT, "%.2f s", seconds) : Integer.toString(frame);
    }

    /** An open ring with an arrow head: the bar plays round. */
    private static void loopMark(GraphicsContext g, double x, double y, Color colour) {
        g.setStroke(colour);
        g.setLineWidth(1.4);
        g.strokeArc(x - 4, y - 4, 8, 8, 60, 290, ArcType.OPEN);
        g.setFill(colour);
        g.fillPolygon(new double[] {x + 0.5, x + 5.5, x + 4.5}, new double[] {y - 4.5, y - 5, y - 0.5}, 3);
    }

    private static String shortened(String name) {
        return name.length() <= 13 ? name : name.substring(0, 12) + "…";
    }
}
