package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Ledgers that are edited, and histories that learn later how far a step moved things. */
public class LedgerEditsTest {
    private static final List<Step> STEPS =
            List.of(new FreezeNodes(), new AddRoot("root"), new TrimEnds(), new NormaliseWeights(""));

    private static Ledger ledger() {
        return new Ledger(STEPS.stream().map(s -> new Ledger.Entry(s, true)).toList());
    }

    private static List<Step> steps(Ledger ledger) {
        return ledger.entries().stream().map(Ledger.Entry::step).toList();
    }

    @Test
    public void movingThereAndBackIsTheSameLedger() {
        for (int from = 0; from < 4; from++) {
            for (int to = 0; to < 4; to++) {
                Ledger moved = ledger().moved(from, to);
                assertThat(steps(moved).get(to)).isEqualTo(STEPS.get(from));
                assertThat(moved.moved(to, from)).isEqualTo(ledger());
            }
        }
    }

    @Test
    public void replacingKeepsWhetherAStepIsOn() {
        Ledger off = ledger().switched(1, false).replaced(1, new AddRoot("ground"));
        assertThat(off.entries().get(1)).isEqualTo(new Ledger.Entry(new AddRoot("ground"), false));
        assertThat(steps(off.without(1))).containsExactly(STEPS.get(0), STEPS.get(2), STEPS.get(3));
        assertThat(steps(ledger().first(2))).isEqualTo(STEPS.subList(0, 2));
    }

    @Test
    public void namedChoicesSurviveTheirTextAndStepsAreNotTouchedByThem() throws Exception {
        BitSet some = new BitSet();
        some.set(4, 19);
        Asset asset = RandomAssets.of(2);
        VertexSet set = VertexSet.chosen(asset.meshes().getFirst(), some);
        Ledger kept = ledger().keeping(new Ledger.Choice("strap", "figure", set));
        Ledger read = Ledger.parse(kept.toJson());
        assertThat(read.toJson()).isEqualTo(kept.toJson());
        assertThat(read.choices()).hasSize(1);
        assertThat(read.choices().getFirst().vertices().on(asset.meshes().getFirst()))
                .isEqualTo(some);
        assertThat(steps(read)).isEqualTo(STEPS);
        Ledger again = read.keeping(new Ledger.Choice("strap", "crate", VertexSet.ALL));
        assertThat(again.choices())
                .hasSize(1)
                .first()
                .extracting(Ledger.Choice::mesh)
                .isEqualTo("crate");
        assertThat(again.forgetting("strap").choices()).isEmpty();
        assertThat(again.plus(new TrimEnds()).choices()).hasSize(1);
        assertThat(Ledger.EMPTY.isEmpty()).isTrue();
        assertThat(Ledger.EMPTY
                        .keeping(new Ledger.Choice("a", "b", VertexSet.ALL))
                        .isEmpty())
                .isFalse();
    }

    @Test
    public void whatADeliveryConsistsOfStaysWithAllThatChanges() throws Exception {
        Ledger said = ledger().delivering("{\"recipe\": 1, \"notes\": \"30 frames\"}");
        Ledger read = Ledger.parse(said.toJson());
        assertThat(read.delivery()).isEqualTo("{\"recipe\":1,\"notes\":\"30 frames\"}");
        List<Ledger> all = List.of(
                read.plus(new TrimEnds()),
                read.without(0),
                read.keeping(new Ledger.Choice("a", "b", VertexSet.ALL)),
                read.forgetting("a"),
                read.first(1));
        assertThat(all).allMatch(l -> l.delivery().equals(read.delivery()));
        assertThat(Ledger.EMPTY.delivering("{}").isEmpty()).isFalse();
        assertThatThrownBy(() -> Ledger.parse("{\"ledger\": 1, \"steps\": [], \"delivery\": \"all\"}"))
                .isInstanceOf(BadJson.class)
                .hasMessageContaining("\"delivery\"");
    }

    @DataProvider
    public Object[][] badChoices() {
        return new Object[][] {
            {"{\"name\": \"\", \"mesh\": \"m\", \"vertices\": \"all\"}"},
            {"{\"name\": \"a\", \"vertices\": \"all\"}"},
            {"{\"name\": \"a\", \"mesh\": \"m\"}"},
            {"{\"name\": \"a\", \"mesh\": \"m\", \"vertices\": {\"numbers\": \"9-1\"}}"},
            {"7"},
        };
    }

    @Test(dataProvider = "badChoices")
    public void badChoicesAreSaidWithTheirPlace(String choice) {
        assertThatThrownBy(() -> Ledger.parse("{\"ledger\": 1, \"steps\": [], \"choices\": [" + choice + "]}"))
                .isInstanceOf(BadJson.class)
                .hasMessageContaining("choice 1");
    }

    @Test
    public void whatIsMeasuredLaterStandsWhereverTheStepStands() {
        History history = new History(RandomAssets.of(3));
        Replay.Done first = Replay.one(history.latest(), new FreezeNodes(), false, Work.QUIET);
        history = history.with(first);
        Replay.Done second = Replay.one(history.latest(), new NormaliseWeights(""), false, Work.QUIET);
        history = history.with(second);
        history = history.undone();
        assertThat(first.motion()).isEmpty();
        Replay.Done measured = Replay.measured(history.source(), first, Work.QUIET);
        assertThat(measured.motion()).isPresent();
        assertThat(measured.asset()).isSameAs(first.asset());
        history = history.amended(first, measured);
        assertThat(history.done()).containsExactly(measured);
        history = history.redone();
        assertThat(history.done()).containsExactly(measured, second);
        history = history.undone();
        history = history.undone();
        assertThat(history.done()).isEmpty();
        history = history.redone();
        assertThat(history.done().getFirst().motion().map(Motion::sameTopology)).isEqualTo(Optional.of(true));
        Asset before = history.latest();
        history = history.amended(first, measured);
        assertThat(history.latest())
                .as("a step that is known no more changes nothing")
                .isSameAs(before);
    }

    @Test
    public void aRefusedStepHasNothingToMeasure() {
        Asset asset = RandomAssets.of(3);
        Replay.Done refused = Replay.one(asset, new AddRoot(""), true, Work.QUIET);
        assertThat(refused.outcome()).isEmpty();
        assertThat(refused.reason()).isNotBlank();
        assertThat(Replay.measured(asset, refused, Work.QUIET)).isSameAs(refused);
    }
}
