package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.FaultyAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Fixes in order, on assets with faults put in at random: they fit, they help, and what is left is named. */
public class MendPlanTest {
    private static final Target TARGET = Target.of(Conventions.GLTF);

    private static List<Finding> examine(Asset asset, Work work) {
        return Checks.run(asset, TARGET, work);
    }

    @Test
    public void afterThePlanNothingIsLeftThatAFixOfItWouldMend() {
        int done = 0;
        for (int seed = 0; seed < 12; seed++) {
            Asset asset = FaultyAssets.of(seed);
            MendPlan plan = MendPlan.of(asset, Optional.empty(), MendPlanTest::examine, Work.QUIET);
            done += plan.done().size();
            assertThat(plan.before()).isEqualTo(examine(asset, Work.QUIET).size());
            Asset after = plan.done().isEmpty() ? asset : plan.done().getLast().asset();
            List<Finding> left = examine(after, Work.QUIET);
            assertThat(plan.left()).as("seed %d", seed).isEqualTo(left);
            // Whatever still has a fix was tried and did not help, or was refused.
            for (Finding finding : left) {
                finding.fix()
                        .ifPresent(step -> assertThat(plan.done().stream()
                                                .map(Replay.Done::step)
                                                .anyMatch(step::equals)
                                        || Replay.one(after, step, false, Work.QUIET)
                                                .outcome()
                                                .isEmpty()
                                        || plan.passed().containsKey(step)
                                        || isTriedBefore(asset, plan, step))
                                .as("%s of seed is mended", finding.check())
                                .isTrue());
            }
            // The plan's steps, run by themselves from the source, give the very same asset's findings.
            Ledger ledger = Ledger.EMPTY;
            for (Step step : plan.steps()) {
                ledger = ledger.plus(step);
            }
            List<Replay.Done> again = Replay.all(asset, ledger, false, Work.QUIET);
            assertThat(again).allSatisfy(d -> assertThat(d.outcome()).isPresent());
        }
        assertThat(done).isGreaterThan(12);
    }

    /** A fix that was refused when it was its turn. */
    private static boolean isTriedBefore(Asset asset, MendPlan plan, Step step) {
        Asset now = asset;
        for (Replay.Done done : plan.done()) {
            if (Replay.one(now, step, false, Work.QUIET).outcome().isEmpty()) {
                return true;
            }
            now = done.asset();
        }
        return false;
    }

    @Test
    public void aFixThatMovesMoreThanItMayIsTakenBackAndSaysSo() {
        int taken = 0;
        for (int seed = 0; seed < 6; seed++) {
            Asset asset = FaultyAssets.of(seed);
            MendPlan free = MendPlan.of(asset, Optional.empty(), MendPlanTest::examine, Work.QUIET);
            MendPlan bound = MendPlan.of(asset, Optional.empty(), MendPlanTest::examine, 1e-5, Work.QUIET);
            assertThat(bound.done())
                    .allMatch(
                            d -> d.motion().map(m -> m.largestMetres() <= 1e-5).orElse(true));
            boolean moves = free.done().stream()
                    .anyMatch(d -> d.motion().map(m -> m.largestMetres() > 1e-5).orElse(false));
            taken += moves ? 1 : 0;
            assertThat(moves)
                    .as("seed %d", seed)
                    .isEqualTo(bound.left().stream()
                            .anyMatch(f -> bound.why(f).key().equals("mend.moved")));
        }
        assertThat(taken).isPositive();
    }

    /** A check that finds more after every step, whatever it does: nothing is done, and no fix is tried twice. */
    @Test
    public void aFixThatLeavesMoreFindingsIsTakenBackAndNotTriedAgain() {
        Asset asset = FaultyAssets.of(1);
        List<Finding> first = examine(asset, Work.QUIET);
        assertThat(first.stream().flatMap(f -> f.fix().stream()).distinct()).hasSizeGreaterThan(1);
        int[] asked = {0};
        MendPlan plan = MendPlan.of(
                asset,
                Optional.empty(),
                (a, work) -> {
                    asked[0]++;
                    List<Finding> more = new ArrayList<>(first);
                    more.addAll(a == asset ? List.of() : List.of(first.getFirst()));
                    return more;
                },
                Work.QUIET);
        assertThat(plan.done()).isEmpty();
        assertThat(plan.left()).isEqualTo(first);
        assertThat(plan.passed().values()).anyMatch(m -> m.key().equals("mend.raised"));
        assertThat(asked[0]).isLessThanOrEqualTo(1 + first.size());
        assertThat(plan.why(first.stream()
                                .filter(f -> f.fix().isPresent())
                                .findFirst()
                                .orElseThrow())
                        .toString())
                .isNotEmpty();
    }

    @Test
    public void aStationAloneIsMendedByItself() {
        Asset asset = FaultyAssets.of(3);
        for (Station station : Station.values()) {
            MendPlan plan = MendPlan.of(asset, Optional.of(station), MendPlanTest::examine, Work.QUIET);
            assertThat(plan.left()).allMatch(f -> f.station() == station);
        }
    }

    @Test
    public void stepsOfAPlanAreUndoneTogether() {
        Asset asset = FaultyAssets.of(0);
        MendPlan plan = MendPlan.of(asset, Optional.empty(), MendPlanTest::examine, Work.QUIET);
        History history = new History(asset);
        history = history.with(plan.done());
        assertThat(history.done()).hasSize(plan.done().size());
        assertThat(history.ledger().entries()).hasSize(plan.done().size());
        history = history.undone();
        assertThat(history.latest()).isSameAs(asset);
        assertThat(history.canUndo()).isFalse();
        history = history.redone();
        assertThat(history.latest()).isSameAs(plan.done().getLast().asset());
    }
}
