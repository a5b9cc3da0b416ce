package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.jspecify.annotations.Nullable;

/**
 * A source with its ledger and the state after every step, and the ways back and forth between ledgers. Immutable: what is
 * done or undone is another history, which shares all it has in common with the one before. States share what did not change;
 * of those far back every eighth is kept whatever happens and the others as long as there is memory, and going back is exact.
 * Cost of a step: the number of steps before it, and nothing of their size.
 */
public final class History {
    /** A ledger and what each of its steps did. */
    public record Moment(Ledger ledger, List<Replay.Done> done) {}

    /** A moment on top of others. */
    private record Pile(Moment top, @Nullable Pile below) {}

    /** States behind the latest that are kept whatever happens: what people go back to. */
    private static final int LATEST = 8;

    /** Of those before, one in so many is kept, so that no state is more steps away than that. */
    private static final int ANCHOR = 8;

    private final Asset source;
    private final State start;
    private final Moment now;
    private final @Nullable Pile back;
    private final @Nullable Pile forth;

    /** What was opened, with nothing done to it. */
    public History(Asset source) {
        this(source, new State(source), new Moment(Ledger.EMPTY, List.of()), null, null);
    }

    private History(Asset source, State start, Moment now, @Nullable Pile back, @Nullable Pile forth) {
        this.source = source;
        this.start = start;
        this.now = now;
        this.back = back;
        this.forth = forth;
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

    /** The same with a step that was run on the latest state. */
    public History with(Replay.Done done) {
        return with(List.of(done));
    }

    /** The same with steps that were run one after the other from the latest state on; they are undone together. */
    public History with(List<Replay.Done> done) {
        List<Replay.Done> more = new ArrayList<>(now.done);
        Ledger ledger = now.ledger;
        for (Replay.Done one : done) {
            more.add(one);
            ledger = ledger.plus(one.step());
        }
        return with(ledger, more);
    }

    /** The same with another ledger in place of this one; {@code done} is what its replay on the source gave. */
    public History with(Ledger ledger, List<Replay.Done> done) {
        Moment next = new Moment(ledger, List.copyOf(done));
        State before = start;
        for (int i = 0; i < next.done.size(); i++) {
            Replay.Done each = next.done.get(i);
            boolean made = each.outcome().isPresent();
            each.state().follows(before, made ? each.step() : null);
            before = each.state();
            if (!made || i < next.done.size() - LATEST && i % ANCHOR != 0) {
                before.letGo();
            }
        }
        return new History(source, start, next, new Pile(now, back), null);
    }

    /** The same with what was found out later about a step in the place of what was known, wherever it stands. */
    public History amended(Replay.Done known, Replay.Done better) {
        return new History(
                source,
                start,
                amended(now, known, better),
                amended(back, known, better),
                amended(forth, known, better));
    }

    /** Not by calling itself: a pile may be deeper than the stack. */
    private static @Nullable Pile amended(@Nullable Pile pile, Replay.Done known, Replay.Done better) {
        List<Moment> all = new ArrayList<>();
        for (Pile p = pile; p != null; p = p.below) {
            all.addFirst(p.top);
        }
        Pile out = null;
        for (Moment each : all) {
            out = new Pile(amended(each, known, better), out);
        }
        return out;
    }

    private static Moment amended(Moment moment, Replay.Done known, Replay.Done better) {
        if (moment.done.stream().noneMatch(d -> d == known)) {
            return moment;
        }
        return new Moment(
                moment.ledger,
                moment.done.stream().map(d -> d == known ? better : d).toList());
    }

    /** True where another is of the same opening: whatever was done since. */
    public boolean isOf(History other) {
        return start == other.start;
    }

    public boolean canUndo() {
        return back != null;
    }

    public boolean canRedo() {
        return forth != null;
    }

    /** As it was before the last change; the same where there is none. */
    public History undone() {
        return back == null ? this : new History(source, start, back.top, back.below, new Pile(now, forth));
    }

    /** As it was before it was undone; the same where nothing was. */
    public History redone() {
        return forth == null ? this : new History(source, start, forth.top, new Pile(now, back), forth.below);
    }
}
