package org.cleanmarrow.desktop.desk;

import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.animation.PauseTransition;
import javafx.beans.property.ReadOnlyStringProperty;
import javafx.beans.property.ReadOnlyStringWrapper;
import javafx.scene.Node;
import javafx.util.Duration;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Step;

/**
 * Says what a step would do before it is done: for the button that the pointer or the keyboard rests on, for a fix, for
 * what is selected. One at a time; who asks last is answered.
 */
public final class Foreteller {
    private static final Duration REST = Duration.millis(220);

    private final Desk desk;
    private final WorkQueue queue = new WorkQueue("preview", p -> {});
    private final PauseTransition rest = new PauseTransition(REST);
    private final ReadOnlyStringWrapper said = new ReadOnlyStringWrapper("");
    private Runnable waiting = () -> {};
    private Known known;

    /** What a step does to an asset. */
    private record Known(Asset about, Replay.Done done) {}

    Foreteller(Desk desk) {
        this.desk = desk;
        rest.setOnFinished(e -> waiting.run());
    }

    WorkQueue queue() {
        return queue;
    }

    /** True while somebody waits for an answer. */
    boolean isBusy() {
        return rest.getStatus() == javafx.animation.Animation.Status.RUNNING || queue.isBusy();
    }

    /** What was foretold last where nobody has a place of its own for it. */
    public ReadOnlyStringProperty said() {
        return said.getReadOnlyProperty();
    }

    /** Says a sentence in the common place. */
    public void say(String text) {
        said.set(text);
    }

    /** Foretells in the common place while the pointer or the keyboard rests on a control. */
    public void on(Node control, Supplier<Optional<Step>> step) {
        on(control, step, this::say);
    }

    /** Foretells while the pointer or the keyboard rests on a control. */
    public void on(Node control, Supplier<Optional<Step>> step, Consumer<String> say) {
        control.hoverProperty().addListener((o, a, is) -> turn(is, control, step, say));
        control.focusedProperty().addListener((o, a, is) -> turn(is, control, step, say));
    }

    private void turn(boolean is, Node control, Supplier<Optional<Step>> step, Consumer<String> say) {
        if (is && !control.isDisabled()) {
            ask(step, say);
        } else if (!is) {
            rest.stop();
        }
    }

    /** Foretells a step once nobody has asked for anything else for a moment. */
    public void ask(Supplier<Optional<Step>> step, Consumer<String> say) {
        askFor(step, done -> say.accept(would(done)));
    }

    /** The same, for whoever puts what would be done into words of its own. */
    public void askFor(Supplier<Optional<Step>> step, Consumer<Replay.Done> then) {
        waiting = () -> {
            if (desk.isOpen() && desk.looking() == desk.history().done().size()) {
                step.get().ifPresent(s -> preview(s, then));
            }
        };
        rest.playFromStart();
    }

    private String would(Replay.Done done) {
        String sentence = desk.outcomes().sentence(done);
        return done.outcome().isEmpty() ? sentence : Labels.of("foretold.would", sentence);
    }

    /** Finds out what a step would do, without doing it; only the last one asked for is answered. */
    public void preview(Step step, Consumer<Replay.Done> then) {
        queue.cancel();
        Asset about = desk.history().latest();
        queue.run(
                w -> Replay.one(about, step, true, w),
                done -> {
                    known = new Known(about, done);
                    then.accept(done);
                },
                e -> say(e.getMessage() == null ? e.toString() : e.getMessage()));
    }

    /**
     * What was foretold last, with how far it moves what is seen, where it is this very step on this asset. What is still asked
     * ends: it is about an asset that will have changed.
     */
    Optional<Replay.Done> known(Asset about, Step step) {
        rest.stop();
        queue.cancel();
        return Optional.ofNullable(known)
                .filter(k -> k.about == about && k.done.step().equals(step))
                .map(Known::done);
    }

    /** Holds no asset any more. */
    void forget() {
        known = null;
    }
}
