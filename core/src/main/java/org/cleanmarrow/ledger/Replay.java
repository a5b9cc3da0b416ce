package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Sheared;
import org.cleanmarrow.query.Finite;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Composite;
import org.cleanmarrow.work.Outcome;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;

/** Runs the steps of a ledger over an asset. A step that no longer fits is named and passed over; the rest runs. */
public final class Replay {
    private Replay() {}

    /**
     * What one step did.
     *
     * @param state   the asset after it; the one before where it was not done
     * @param outcome empty where it was not done
     * @param refusal why it was not done; empty where it was
     * @param motion  how far it moved what is seen; empty where that was not measured or has no answer
     */
    public record Done(
            Step step, State state, Optional<Outcome> outcome, Optional<Message> refusal, Optional<Motion> motion) {

        Done(Step step, Asset asset, Optional<Outcome> outcome, Optional<Message> refusal) {
            this(step, new State(asset), outcome, refusal, Optional.empty());
        }

        /** The asset after the step; the one before where it was not done. */
        public Asset asset() {
            return state.asset();
        }

        /** The refusal in words; empty where it was done. */
        public String reason() {
            return refusal.map(Message::toString).orElse("");
        }
    }

    /** Runs one step and measures what it moved. */
    public static Done one(Asset asset, Step step, boolean measure, Work work) {
        Threads.begins("a step");
        try {
            Change change = step.apply(asset, work);
            Optional<String> lost = Finite.lost(asset, change.asset());
            if (lost.isPresent()) {
                throw new Refused("not.finite", lost.get());
            }
            Done done = new Done(step, change.asset(), Optional.of(change.outcome()), Optional.empty());
            return measure ? measured(asset, done, work) : done;
        } catch (Refused e) {
            return new Done(step, asset, Optional.empty(), Optional.of(e.reason()));
        } catch (Sheared e) {
            return new Done(step, asset, Optional.empty(), Optional.of(Message.of("refused.sheared", e.name())));
        }
    }

    /**
     * The steps that one consists of, in its place: those that are made, which by themselves leave the same asset.
     *
     * @throws Refused where it cannot be told any more which they are
     */
    public static List<Done> opened(Asset before, Composite whole, Work work) throws Refused {
        List<Composite.Part> parts = whole.parts(before);
        List<Done> done = new ArrayList<>();
        Asset asset = before;
        for (int i = 0; i < parts.size(); i++) {
            Work own = work.part(i / (double) parts.size(), (i + 1.0) / parts.size());
            Done one = one(asset, parts.get(i).step(), true, own);
            if (one.outcome.isPresent()) {
                done.add(one);
                asset = one.asset();
            }
        }
        return done;
    }

    /** What is known of a step, with how far it moved what is seen. */
    public static Done measured(Asset before, Done done, Work work) {
        if (done.outcome.isEmpty() || done.step.reinterprets()) {
            return done;
        }
        Motion motion = MotionProbe.compare(before, done.asset(), work);
        return new Done(done.step, done.state, done.outcome, done.refusal, Optional.of(motion));
    }

    /** A step that is switched off. */
    static Done off(Asset asset, Step step) {
        return new Done(step, asset, Optional.empty(), Optional.of(Message.of("ledger.off")));
    }

    /** Runs all steps that are on, in order; one result an entry. */
    public static List<Done> all(Asset source, Ledger ledger, boolean measure, Work work) {
        List<Done> done = new ArrayList<>();
        Asset asset = source;
        int number = 0;
        for (Ledger.Entry entry : ledger.entries()) {
            work.stopIfCancelled();
            work.at(
                    number++ / (double) ledger.entries().size(),
                    StepCodec.info(entry.step().getClass()).name());
            Done result = entry.on() ? one(asset, entry.step(), measure, work) : off(asset, entry.step());
            asset = result.asset();
            done.add(result);
        }
        return done;
    }
}
