package org.cleanmarrow.desktop.desk;

import java.util.Locale;
import java.util.stream.Collectors;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.text.Messages;

/** Says in words what steps did, with lengths in the unit set up. */
public final class Outcomes {
    /** Movement below this is float32 rounding on anything a person could hold. */
    private static final double NOTHING = 5e-6;

    private final Preferences preferences;

    Outcomes(Preferences preferences) {
        this.preferences = preferences;
    }

    /** What a step is called on screen. */
    public static String name(Replay.Done done) {
        return Labels.of("step." + StepCodec.info(done.step().getClass()).name());
    }

    /** A message with its lengths in the unit set up. */
    public String words(Message message) {
        return Messages.say(message, preferences.unit().get());
    }

    /** A length in the unit set up; what is only rounding reads as zero. */
    public String length(double metres) {
        return metres < NOTHING ? String.format(Locale.ROOT, "%.3f mm", metres * 1000) : preferences.say(metres);
    }

    /** Counts and movement of a step that was done, or why it was not. */
    public String sentence(Replay.Done done) {
        if (done.outcome().isEmpty()) {
            return done.refusal().map(this::words).orElse("");
        }
        String counts = done.outcome().get().counts().entrySet().stream()
                .filter(e -> e.getValue() > 0)
                .map(e -> Labels.of("said.count", words(e.getKey()), e.getValue()))
                .collect(Collectors.joining(", "));
        String notes = done.outcome().get().notes().stream().map(this::words).collect(Collectors.joining(" "));
        String moved = done.motion().map(this::movement).orElse("");
        return java.util.stream.Stream.of(counts.isEmpty() ? "" : counts + ".", notes, moved)
                .filter(s -> !s.isEmpty())
                .collect(Collectors.joining(" "));
    }

    /** Largest movement, where and when. */
    public String movement(Motion motion) {
        if (motion.largestMetres() < NOTHING) {
            return Labels.of("said.moved.nothing", length(motion.largestMetres()));
        }
        return motion.clip().isEmpty()
                ? Labels.of("said.moved.rest", length(motion.largestMetres()))
                : Labels.of(
                        "said.moved.clip",
                        length(motion.largestMetres()),
                        motion.clip(),
                        String.format(Locale.ROOT, "%.2f", motion.seconds()));
    }
}
