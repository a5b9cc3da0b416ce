package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;

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
        history.recordAll(plan.done());
        assertThat(history.done()).hasSize(plan.done().size());
        assertThat(history.ledger().entries()).hasSize(plan.done().size());
        history.undo();
        assertThat(history.latest()).isSameAs(asset);
        assertThat(history.canUndo()).isFalse();
        history.redo();
        assertThat(history.latest()).isSameAs(plan.done().getLast().asset());
    }
}
