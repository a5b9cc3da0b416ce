package org.cleanmarrow.desktop.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import javafx.beans.property.ObjectProperty;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.motion.TrimClip;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** What lies on the desk as one value: that its parts never tell of two states at once, and what stays in hand where it changes. */
public class DeskStateTest {
    private final Asset pilot = Demo.pilot().asset().get();
    private final DeskState opened = DeskState.FIRST.opened(Piece.of(new History(pilot), "here", List.of()));

    /** Two numbers of which the second is twice the first. */
    private record Pair(int one, int two) {
        static Pair of(int one) {
            return new Pair(one, 2 * one);
        }
    }

    @Test
    public void whoHearsOfOnePartFindsTheOthersAsTheyAre() {
        List<String> heard = new ArrayList<>();
        Whole<Pair> whole = new Whole<>(Pair.of(1), () -> heard.add("all"));
        ObjectProperty<Integer> one = whole.part(Pair::one, (p, n) -> Pair.of(n));
        ObjectProperty<Integer> two = whole.part(Pair::two, (p, n) -> Pair.of(n / 2));
        one.addListener((o, was, is) -> heard.add("one " + was + " " + is + " with " + two.get()));
        two.addListener((o, was, is) -> heard.add("two " + was + " " + is + " with " + one.get()));
        whole.become(Pair.of(5));
        assertThat(heard).containsExactly("one 1 5 with 10", "two 2 10 with 5", "all");
        heard.clear();
        two.set(14);
        assertThat(heard).containsExactly("one 5 7 with 14", "two 10 14 with 7", "all");
        heard.clear();
        one.set(7);
        whole.become(whole.now());
        assertThat(heard).as("nothing is told of what stays as it is").isEmpty();
        whole.become(Pair.of(7));
        assertThat(heard).containsExactly("all");
    }

    @Test
    public void aChangeThatAChangeMakesIsToldOnceAndLast() {
        List<String> heard = new ArrayList<>();
        Whole<Pair> whole = new Whole<>(Pair.of(1), () -> {});
        ObjectProperty<Integer> one = whole.part(Pair::one, (p, n) -> Pair.of(n));
        ObjectProperty<Integer> two = whole.part(Pair::two, (p, n) -> Pair.of(n / 2));
        one.addListener((o, was, is) -> {
            if (is > 9) {
                one.set(9);
            }
        });
        two.addListener((o, was, is) -> heard.add("two " + is));
        one.set(20);
        assertThat(whole.now()).isEqualTo(Pair.of(9));
        assertThat(heard).containsExactly("two 18");
    }

    @Test
    public void whatIsInHandStaysWhereItIsStillThere() {
        String joint = pilot.nodeRef(pilot.skins().getFirst().joints()[3]);
        int mesh = pilot.meshes().size() - 1;
        BitSet some = new BitSet();
        some.set(1, 5);
        Selection.Chosen chosen = new Selection.Chosen(mesh, some);
        DeskState holding = opened.with(opened.held().withJoint(joint).with(chosen));

        DeskState same = after(holding, new NormaliseWeights(""));
        assertThat(same.held()).isEqualTo(holding.held());
        assertThat(same.piece().looking()).isEqualTo(1);

        DeskState renamed = after(holding, new RenameMany(Rename.Kind.NODE, Map.of(joint, "another_name")));
        assertThat(renamed.held().joint()).isEqualTo("another_name");
        assertThat(renamed.with(renamed.piece().lookingAt(0)).held().joint())
                .as("looked back at, it has its name of then")
                .isEqualTo(joint);

        DeskState fewer = holding.with(holding.piece().to(new History(without(pilot, mesh))));
        assertThat(fewer.held().chosen()).isEqualTo(Selection.Chosen.NONE);
        assertThat(fewer.held().joint()).isEqualTo(joint);
        assertThat(holding.opened(opened.piece()).held()).isEqualTo(Held.NOTHING);
    }

    private static Asset without(Asset asset, int mesh) {
        return asset.withNodes(asset.nodes().stream()
                        .map(n -> n.mesh() == mesh ? n.withMesh(-1, -1) : n)
                        .collect(Collectors.toList()))
                .withMeshes(asset.meshes().subList(0, mesh));
    }

    private static DeskState after(DeskState state, Step step) {
        History history = state.piece().history();
        Replay.Done done = Replay.one(history.latest(), step, false, Work.QUIET);
        assertThat(done.outcome()).as(done.reason()).isPresent();
        return state.with(history.with(done));
    }

    @Test
    public void framesOfAClipAreInHandAsLongAsItHasThem() {
        Clip clip = pilot.clips().getFirst();
        Playback.Frames range = new Playback.Frames(clip.firstFrame() + 2, clip.firstFrame() + 5);
        DeskState playing = opened.with(Played.NOTHING.withClip(clip.name()).withRange(range));
        assertThat(after(playing, new NormaliseWeights("")).played()).isEqualTo(playing.played());
        DeskState shorter = after(playing, new TrimClip(clip.name(), clip.firstFrame() + 4, clip.lastFrame(), false));
        assertThat(shorter.played().clip()).isEqualTo(clip.name());
        assertThat(shorter.played().range()).as("frames that were cut off").isNull();
        DeskState none = playing.with(playing.piece()
                .to(new History(
                        pilot.withClips(pilot.clips().subList(1, pilot.clips().size())))));
        assertThat(none.played()).isEqualTo(Played.NOTHING);
        assertThat(playing.played()
                        .withAlong(List.of("b"))
                        .withClip(clip.name())
                        .along())
                .as("the same clip again changes nothing")
                .containsExactly("b");
    }

    @Test
    public void aWayBackIsSharedAndChangesNothingOfWhatItCameFrom() {
        DeskState once = after(opened, new NormaliseWeights(""));
        DeskState twice = after(once, new NormaliseWeights(""));
        assertThat(twice.piece().history().undone().done())
                .isEqualTo(once.piece().history().done());
        assertThat(once.piece().history().canRedo()).isFalse();
        assertThat(twice.piece().history().isOf(opened.piece().history())).isTrue();
        assertThat(new History(pilot).isOf(opened.piece().history()))
                .as("the same asset opened once more is other work")
                .isFalse();
        assertThat(opened.asset()).isEqualTo(Optional.of(pilot));
        assertThat(DeskState.FIRST.asset()).isEmpty();
        assertThat(twice.at(Station.SKIN).piece()).isSameAs(twice.piece());
    }
}
