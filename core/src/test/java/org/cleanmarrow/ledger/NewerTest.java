package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

public class NewerTest {
    private static final List<String> JOINTS = List.of(
            "hips",
            "waist",
            "chest",
            "neck",
            "head",
            "left_collar",
            "left_upper_arm",
            "left_forearm",
            "left_hand",
            "right_collar",
            "right_upper_arm",
            "right_forearm",
            "right_hand",
            "left_thigh",
            "left_shin",
            "left_foot",
            "right_thigh",
            "right_shin",
            "right_foot",
            "tail");

    /** A figure whose nodes have the names of joints, in some order. */
    private static Asset figure(double height) {
        Asset plain = StickFigure.of(height);
        return plain.withNodes(IntStream.range(0, plain.nodes().size())
                .mapToObj(n -> plain.nodes().get(n).withName(JOINTS.get(n)))
                .toList());
    }

    private static Asset renamed(Asset asset, Map<String, String> names) {
        return asset.withNodes(asset.nodes().stream()
                .map(n -> n.withName(names.getOrDefault(n.name(), n.name())))
                .toList());
    }

    private static Set<String> names(Asset asset) {
        return asset.nodes().stream().map(Node::name).collect(Collectors.toSet());
    }

    @Test
    public void namesThatChangedAreGuessedWhereOneFits() {
        Asset before = figure(1.8);
        Map<String, String> all = before.nodes().stream()
                .map(Node::name)
                .collect(Collectors.toMap(n -> n, n -> "chr_" + n.replace('_', '-') + "_01", (a, b) -> a));
        Map<String, String> some = Map.of("head", "Head_jnt", "left_hand", "l_hand", "right_hand", "r_hand");
        assertThat(names(before)).containsAll(some.keySet());
        assertThat(NewNames.between(before, renamed(before, some)).names()).containsExactlyInAnyOrderEntriesOf(some);
        // What was called so and is gone for good has no heir.
        assertThat(NewNames.between(before, renamed(before, Map.of("head", "zzz_unlike")))
                        .names())
                .satisfiesAnyOf(
                        n -> assertThat(n).isEmpty(),
                        n -> assertThat(n).containsExactlyInAnyOrderEntriesOf(Map.of("head", "zzz_unlike")));
        assertThat(NewNames.between(before, before).names()).isEmpty();
        // All of them at once: never a wrong pair.
        assertThat(NewNames.between(before, renamed(before, all)).names())
                .allSatisfy((old, now) -> assertThat(now).isEqualTo(all.get(old)));
    }

    /** Levenshtein's distance of the textbook pair is 3: two letters changed, one more. */
    @Test
    public void likenessIsByEditsOverTheLongerName() {
        assertThat(NewNames.likeness("kitten", "Sitting")).isCloseTo(1 - 3 / 7.0, within(1e-12));
        assertThat(NewNames.likeness("left_arm", "LeftArm")).isEqualTo(1);
        assertThat(NewNames.likeness("hand_left", "leftHand")).isEqualTo(1);
        assertThat(NewNames.likeness("", "_")).isZero();
    }

    @Test
    public void stepsFollowTheNewNames() throws BadJson {
        Asset before = figure(1.8);
        Ledger ledger = Ledger.EMPTY
                .plus(new CorrectUnit(2))
                .plus(new Rename(Rename.Kind.NODE, "left_hand", "hand_of_the_left"))
                .plus(new Rename(Rename.Kind.NODE, "head", "crown"));
        assertThat(Replay.all(before, ledger, false, Work.QUIET))
                .allSatisfy(d -> assertThat(d.outcome()).as(d.reason()).isPresent());
        Asset source = renamed(before, Map.of("left_hand", "l_hand"));
        Newer newer = Newer.of(before, source, ledger, Work.QUIET);
        assertThat(newer.plain().lost()).isEqualTo(1);
        assertThat(newer.plain().isLost(1)).isTrue();
        assertThat(newer.motion().largestMetres()).isZero();
        assertThat(newer.gone())
                .hasSize(1)
                .allSatisfy(m -> assertThat(m.toString()).contains("left_hand"));
        assertThat(newer.come())
                .hasSize(1)
                .allSatisfy(m -> assertThat(m.toString()).contains("l_hand"));
        Newer.Renamed renamed = newer.renamed().orElseThrow();
        assertThat(renamed.names().names()).isEqualTo(Map.of("left_hand", "l_hand"));
        assertThat(renamed.replayed().lost()).isZero();
        assertThat(renamed.replayed().ledger().entries().get(1).step())
                .isEqualTo(new Rename(Rename.Kind.NODE, "l_hand", "hand_of_the_left"));
        assertThat(renamed.replayed().ledger().entries().get(2).step())
                .isEqualTo(ledger.entries().get(2).step());
        assertThat(names(renamed.replayed().done().getLast().asset())).contains("hand_of_the_left", "crown");
        // Left as it is, what does not fit can be switched off.
        Newer.Replayed off = newer.plain().withoutLost();
        assertThat(off.lost()).isZero();
        assertThat(off.ledger().entries().stream().map(Ledger.Entry::on)).containsExactly(true, false, true);
    }

    @Test
    public void namesInListsKeptVerticesAndPosesFollowToo() throws BadJson {
        NewNames names = new NewNames(new TreeMap<>(Map.of("left_hand", "l_hand", "figure", "body")));
        Ledger ledger = Ledger.parse("""
                {"ledger": 1, "steps": [
                  {"step": "smooth-weights", "mesh": "figure", "vertices": "all", "strength": 0.5, "rounds": 1,
                   "locked": "head, left_hand ,left_hand_2"}],
                 "poses": [{"name": "left_hand", "joints": {"left_hand": [0, 0, 0, 1], "head": [0, 0, 0, 1]}}]}
                """);
        List<Ledger.Entry> entries =
                List.of(new Ledger.Entry(names.in(ledger.entries().getFirst().step()), true));
        String text = names.kept(
                        ledger, entries, figure(1.8).without(set(figure(1.8).findNode("left_hand"))))
                .toJson();
        assertThat(text)
                .contains("\"mesh\" : \"body\"")
                .contains("\"head, l_hand ,left_hand_2\"")
                .contains("\"l_hand\" : [");
        assertThat(List.of(text.split("\n"))).noneMatch(l -> l.contains("\"left_hand\" : ["));
        // A joint that is still there keeps its name in poses.
        assertThat(names.kept(ledger, entries, figure(1.8)).toJson()).contains("\"left_hand\" : [");
    }

    private static BitSet set(int bit) {
        BitSet out = new BitSet();
        out.set(bit);
        return out;
    }

    /** A mesh keeps the name that its node had: only the step that means the node is changed. */
    @Test
    public void stepsThatFitStayAsTheyAre() {
        Asset before = Solids.crate(Local.IDENTITY, Solids.faceted(Solids.box(0, 0, 0, 1, 1, 1)));
        Asset source = renamed(before, Map.of("crate", "crate_grp"));
        Ledger ledger = Ledger.EMPTY
                .plus(new RecomputeNormals("crate", 40))
                .plus(new Rename(Rename.Kind.NODE, "crate", "box"))
                .plus(new Rename(Rename.Kind.MESH, "crate", "box"));
        Newer newer = Newer.of(before, source, ledger, Work.QUIET);
        assertThat(newer.plain().isLost(1)).isTrue();
        Newer.Replayed renamed = newer.renamed().orElseThrow().replayed();
        assertThat(renamed.lost()).isZero();
        assertThat(renamed.ledger().entries().stream().map(Ledger.Entry::step))
                .containsExactly(
                        new RecomputeNormals("crate", 40),
                        new Rename(Rename.Kind.NODE, "crate_grp", "box"),
                        new Rename(Rename.Kind.MESH, "crate", "box"));
        assertThat(names(renamed.done().getLast().asset())).containsExactly("box");
    }

    /** What is off keeps the asset as the steps before it left it, also behind a step that took a new name. */
    @Test
    public void aStepThatIsOffStaysOffAndLosesNothing() {
        Asset before = figure(1.8);
        Ledger ledger = Ledger.EMPTY
                .plus(new Rename(Rename.Kind.NODE, "left_hand", "hand_of_the_left"))
                .plus(new CorrectUnit(2))
                .switched(1, false);
        Newer newer = Newer.of(before, renamed(before, Map.of("left_hand", "hand_left")), ledger, Work.QUIET);
        Newer.Replayed renamed = newer.renamed().orElseThrow().replayed();
        assertThat(renamed.lost()).isZero();
        assertThat(renamed.ledger().entries().get(1).on()).isFalse();
        assertThat(names(renamed.done().getLast().asset())).contains("hand_of_the_left");
    }

    @Test
    public void aNewerSourceWithNothingElseChangesNothing() {
        Asset before = figure(1.8);
        Ledger ledger = Ledger.EMPTY.plus(new CorrectUnit(2));
        Newer same = Newer.of(before, figure(1.8), ledger, Work.QUIET);
        assertThat(same.gone()).isEmpty();
        assertThat(same.come()).isEmpty();
        assertThat(same.motion().largestMetres()).isZero();
        assertThat(same.renamed()).isEmpty();
        assertThat(same.plain().lost()).isZero();
        Newer taller = Newer.of(before, figure(2), ledger, Work.QUIET);
        // The crown of the head goes up by the difference.
        assertThat(taller.motion().largestMetres()).isBetween(0.15, 0.25);
    }
}
