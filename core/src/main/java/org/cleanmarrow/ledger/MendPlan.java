package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
    /** A fix that helped may be needed once more after another; one that did not help is not tried again. */
    private static final int AGAIN = 2;

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
        Map<Step, Integer> tried = new HashMap<>();
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
            tried.merge(next.get(), 1, Integer::sum);
            Replay.Done one = Replay.one(now, next.get(), true, work);
            if (one.outcome().isEmpty()) {
                tried.put(one.step(), AGAIN);
                one.refusal().ifPresent(why -> passed.put(one.step(), why));
                continue;
            }
            double moved = one.motion().map(Motion::largestMetres).orElse(0.0);
            if (moved > mostMetres) {
                tried.put(one.step(), AGAIN);
                passed.put(one.step(), Message.of("mend.moved", new Length(moved), new Length(mostMetres)));
                continue;
            }
            List<Finding> after = findings(one.asset(), only, examine, work);
            if (after.size() > open.size() || blockers(after) > blockers(open)) {
                tried.put(one.step(), AGAIN);
                passed.put(one.step(), Message.of("mend.raised", after.size(), open.size()));
                continue;
            }
            if (offers(after, one.step())) {
                tried.put(one.step(), AGAIN);
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

    private static boolean offers(List<Finding> findings, Step step) {
        return findings.stream().anyMatch(f -> f.fix().filter(step::equals).isPresent());
    }

    /** The first fix that may be tried. */
    private static Optional<Step> next(List<Finding> open, Map<Step, Integer> tried) {
        return open.stream()
                .flatMap(f -> f.fix().stream())
                .filter(step -> tried.getOrDefault(step, 0) < AGAIN)
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
