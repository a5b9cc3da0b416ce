package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/**
 * The fixes of an asset in an order in which they fit, which is the order of the findings: each on what the one before
 * left, examined anew after every one. What nobody but a person can decide is left and named. A fix that leaves more findings than
 * there were, or moves more than it may, is taken back.
 *
 * @param done   the steps that would be recorded, each with what it moves
 * @param left   findings that remain: without a fix, or whose fix was refused, taken back or did not help
 * @param passed fixes that are not among those done, and why
 * @param before findings there were at the start
 */
public record MendPlan(List<Replay.Done> done, List<Finding> left, Map<Step, Message> passed, int before) {
    /** No asset has more to mend than this; beyond it fixes would be undoing one another. */
    private static final int MOST = 200;

    /** A plan of which a fix may move whatever it moves: what lies wrong may lie anywhere. */
    public static MendPlan of(
            Asset asset, Optional<Station> only, BiFunction<Asset, Work, List<Finding>> examine, Work work) {
        return of(asset, only, examine, Double.POSITIVE_INFINITY, work);
    }

    /**
     * Finds the plan. Costs one examination a fix.
     *
     * @param only       a station, empty for all
     * @param examine    the findings of an asset in the order in which their fixes fit, such as those of all checks
     * @param mostMetres how far any fix may move what is seen
     */
    public static MendPlan of(
            Asset asset,
            Optional<Station> only,
            BiFunction<Asset, Work, List<Finding>> examine,
            double mostMetres,
            Work work) {
        List<Replay.Done> done = new ArrayList<>();
        Set<Step> tried = new HashSet<>();
        Map<Step, Message> passed = new HashMap<>();
        Asset now = asset;
        List<Finding> open = findings(now, only, examine, work);
        int before = open.size();
        while (done.size() < MOST) {
            work.stopIfCancelled();
            work.at(before == 0 ? 1 : 1 - open.size() / (double) Math.max(before, open.size()), "");
            Optional<Step> next = next(open, tried);
            if (next.isEmpty()) {
                break;
            }
            tried.add(next.get());
            Replay.Done one = Replay.one(now, next.get(), true, work);
            if (one.outcome().isEmpty()) {
                one.refusal().ifPresent(why -> passed.put(one.step(), why));
                continue;
            }
            double moved = one.motion().map(Motion::largestMetres).orElse(0.0);
            if (moved > mostMetres) {
                passed.put(one.step(), Message.of("mend.moved", new Length(moved), new Length(mostMetres)));
                continue;
            }
            List<Finding> after = findings(one.asset(), only, examine, work);
            if (after.size() > open.size() || blockers(after) > blockers(open)) {
                passed.put(one.step(), Message.of("mend.raised", after.size(), open.size()));
                continue;
            }
            done.add(one);
            now = one.asset();
            open = after;
        }
        return new MendPlan(List.copyOf(done), open, Map.copyOf(passed), before);
    }

    private static long blockers(List<Finding> findings) {
        return findings.stream().filter(f -> f.severity() == Severity.BLOCKER).count();
    }

    private static List<Finding> findings(
            Asset asset, Optional<Station> only, BiFunction<Asset, Work, List<Finding>> examine, Work work) {
        return examine.apply(asset, work).stream()
                .filter(f -> only.isEmpty() || f.station() == only.get())
                .toList();
    }

    /** The first fix that was not tried yet: one that is offered again did not help. */
    private static Optional<Step> next(List<Finding> open, Set<Step> tried) {
        return open.stream()
                .flatMap(f -> f.fix().stream())
                .filter(step -> !tried.contains(step))
                .findFirst();
    }

    public List<Step> steps() {
        return done.stream().map(Replay.Done::step).toList();
    }

    /** Why a finding is left. */
    public Message why(Finding finding) {
        return finding.fix()
                .map(step -> passed.getOrDefault(step, Message.of("mend.still")))
                .orElse(Message.of("mend.decision"));
    }
}
