package org.cleanmarrow.ledger;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.cleanmarrow.model.Asset;

/**
 * A source with its ledger and the state after every step, and the ways back and forth between ledgers. States share what
 * did not change; of those far back every eighth is kept whatever happens and the others as long as there is memory, and
 * going back is exact. Not safe for several threads.
 */
public final class History {
    /** A ledger and what each of its steps did. */
    public record Moment(Ledger ledger, List<Replay.Done> done) {}

    /** States behind the latest that are kept whatever happens: what people go back to. */
    private static final int LATEST = 8;

    /** Of those before, one in so many is kept, so that no state is more steps away than that. */
    private static final int ANCHOR = 8;

    private final Asset source;
    private final State start;
    private final Deque<Moment> back = new ArrayDeque<>();
    private final Deque<Moment> forth = new ArrayDeque<>();
    private Moment now = new Moment(Ledger.EMPTY, List.of());

    public History(Asset source) {
        this.source = source;
        start = new State(source);
    }

    public Asset source() {
        return source;
    }

    public Ledger ledger() {
        return now.ledger;
    }

    public List<Replay.Done> done() {
        return now.done;
    }

    /** The asset as all steps leave it. */
    public Asset latest() {
        return after(now.done.size());
    }

    /** The asset after the first steps; 0 gives the source. */
    public Asset after(int steps) {
        return steps == 0 ? source : now.done.get(steps - 1).asset();
    }

    /** Records a step that was run on the latest state. */
    public void record(Replay.Done done) {
        recordAll(List.of(done));
    }

    /** Records steps that were run one after the other from the latest state on; they are undone together. */
    public void recordAll(List<Replay.Done> done) {
        List<Replay.Done> more = new ArrayList<>(now.done);
        Ledger ledger = now.ledger;
        for (Replay.Done one : done) {
            more.add(one);
            ledger = ledger.plus(one.step());
        }
        become(new Moment(ledger, List.copyOf(more)));
    }

    /** Takes another ledger in place of this one; {@code done} is what its replay on the source gave. */
    public void replace(Ledger ledger, List<Replay.Done> done) {
        become(new Moment(ledger, List.copyOf(done)));
    }

    /** Puts what was found out later about a step in the place of what was known, wherever it stands. */
    public void amend(Replay.Done known, Replay.Done better) {
        now = amended(now, known, better);
        amendAll(back, known, better);
        amendAll(forth, known, better);
    }

    private static void amendAll(Deque<Moment> moments, Replay.Done known, Replay.Done better) {
        List<Moment> all = List.copyOf(moments);
        moments.clear();
        all.forEach(m -> moments.addLast(amended(m, known, better)));
    }

    private static Moment amended(Moment moment, Replay.Done known, Replay.Done better) {
        if (moment.done.stream().noneMatch(d -> d == known)) {
            return moment;
        }
        return new Moment(
                moment.ledger,
                moment.done.stream().map(d -> d == known ? better : d).toList());
    }

    private void become(Moment next) {
        back.push(now);
        forth.clear();
        now = next;
        State before = start;
        for (int i = 0; i < next.done.size(); i++) {
            Replay.Done done = next.done.get(i);
            boolean made = done.outcome().isPresent();
            done.state().follows(before, made ? done.step() : null);
            before = done.state();
            if (!made || i < next.done.size() - LATEST && i % ANCHOR != 0) {
                before.letGo();
            }
        }
    }

    public boolean canUndo() {
        return !back.isEmpty();
    }

    public boolean canRedo() {
        return !forth.isEmpty();
    }

    public void undo() {
        if (canUndo()) {
            forth.push(now);
            now = back.pop();
        }
    }

    public void redo() {
        if (canRedo()) {
            back.push(now);
            now = forth.pop();
        }
    }
}
