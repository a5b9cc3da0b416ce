package org.cleanmarrow.examination;

import java.util.BitSet;
import java.util.Optional;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Step;

/**
 * One place that breaks a rule.
 *
 * @param check   id of the check
 * @param message what is wrong, with the numbers
 * @param subject name of the node, mesh or clip it is about; empty for the asset as a whole
 * @param count   how many vertices, joints, channels … are concerned
 * @param place   where to look
 * @param fix     a step that mends it
 */
public record Finding(
        String check,
        Severity severity,
        Station station,
        Message message,
        String subject,
        long count,
        Place place,
        Optional<Step> fix) {

    /**
     * Where to look; what does not apply is -1 or empty.
     *
     * @param vertices numbers in the mesh
     */
    public record Place(int node, int mesh, BitSet vertices, int clip) {
        public static final Place NONE = new Place(-1, -1, new BitSet(), -1);

        public static Place node(int node) {
            return new Place(node, -1, new BitSet(), -1);
        }

        public static Place mesh(int mesh, BitSet vertices) {
            return new Place(-1, mesh, vertices, -1);
        }

        public static Place clip(int clip) {
            return new Place(-1, -1, new BitSet(), clip);
        }

        public Place withNode(int other) {
            return new Place(other, mesh, vertices, clip);
        }
    }

    /** A finding whose sentence is the check's own, {@code check.<id>}, or a variant {@code check.<id>.<variant>}. */
    public static Finding of(
            Check check, Severity severity, String variant, String subject, long count, Object... facts) {
        String key = "check." + check.id() + (variant.isEmpty() ? "" : "." + variant);
        return new Finding(
                check.id(),
                severity,
                check.station(),
                Message.of(key, facts),
                subject,
                count,
                Place.NONE,
                Optional.empty());
    }

    public Finding at(Place where) {
        return new Finding(check, severity, station, message, subject, count, where, fix);
    }

    public Finding as(Severity other) {
        return new Finding(check, other, station, message, subject, count, place, fix);
    }

    /** The same with another sentence. */
    public Finding saying(Message sentence) {
        return new Finding(check, severity, station, sentence, subject, count, place, fix);
    }

    public Finding fixedBy(Step step) {
        return new Finding(check, severity, station, message, subject, count, place, Optional.of(step));
    }
}
