package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.surface.MeshTopology;
import org.testng.annotations.Test;

/** The strap that follows the arm: taken off it in few clicks of the mouse, each of which lands on what was lit before. */
public class StrapTest extends DeskWindow {
    private int clicks;

    private void press(Point2D at) throws Exception {
        hand.clickOn(at);
        clicks++;
        quiet();
    }

    private void pressNode(String id) throws Exception {
        Node node = on(() -> scene.lookup(id));
        assertThat(node).as(id).isNotNull();
        press(on(() -> {
            assertThat(node.isDisabled()).isFalse();
            var b = node.localToScreen(node.getBoundsInLocal());
            return new Point2D(b.getCenterX(), b.getCenterY());
        }));
    }

    private void theArmIsOff(BitSet vertices) throws Exception {
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(RemoveInfluence.class);
        Asset after = on(() -> desk.now());
        int arm = after.skins().getFirst().indexOfNode(after.findNode("left_upper_arm"));
        var rows = after.meshes().getFirst().primitives().getFirst().influences();
        assertThat(vertices.stream().filter(v -> rows.weight(v, arm) > 0).count())
                .isZero();
    }

    /** From a fresh start, without a zoom: demo, station, strap, joint, remove. */
    @Test
    public void theStrapIsTakenOffTheArmInFiveClicks() throws Exception {
        clicks = 0;
        pressNode("#welcome-demo");
        pressNode("#station-skin");
        BitSet leak = finding("leak").place().vertices();
        BitSet strap = MeshTopology.of(on(() -> desk.now().meshes().getFirst())).islandsOf(leak);
        Point2D at = pointOn(0, leak);
        hand.moveTo(at);
        BitSet lit = on(() -> window.viewport().aimed().orElseThrow().vertices());
        assertThat(lit).as("lit before it is clicked").isEqualTo(strap);
        press(at);
        assertThat(on(() -> desk.selection().chosen().get().vertices())).isEqualTo(lit);
        pressNode("#mover-left_upper_arm");
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("left_upper_arm");
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.INFLUENCE);
        pressNode("#take-off");
        assertThat(clicks).isLessThanOrEqualTo(6);
        theArmIsOff(strap);
    }

    @Test
    public void fromTheFindingItTakesTwo() throws Exception {
        openDemo();
        station(Station.SKIN);
        var leak = finding("leak");
        int index = on(() -> desk.findingsAt(Station.SKIN).indexOf(leak));
        reveal(index);
        clicks = 0;
        pressNode("#show-leak-" + index);
        assertThat(on(() -> desk.selection().chosen().get().vertices()))
                .isEqualTo(leak.place().vertices());
        pressNode("#take-off");
        assertThat(clicks).isEqualTo(2);
        theArmIsOff(leak.place().vertices());
    }

    /** While vertices are the aim joints do not catch a click, unless Alt is held; where joints are the aim they do. */
    @Test
    public void jointsCatchClicksOnlyWhereTheyAreTheAim() throws Exception {
        openDemo();
        station(Station.SKIN);
        Point2D ring = ringOf("ribs_upper");
        hand.moveTo(ring);
        pulses(1);
        assertThat(on(() -> window.viewport().aimedJoint())).isEqualTo(-1);
        assertThat(on(() -> window.viewport().aimed())).isPresent();
        press(ring);
        assertThat(on(() -> desk.selection().joint().get())).isEmpty();
        assertThat(on(() -> desk.selection().chosen().get().isEmpty())).isFalse();
        station(Station.SKELETON);
        hand.moveTo(ring.add(40, 0));
        hand.moveTo(ring);
        int node = on(() -> desk.now().findNode("ribs_upper"));
        assertThat(on(() -> window.viewport().aimedJoint())).isEqualTo(node);
        press(ring);
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("ribs_upper");
    }

    private Point2D ringOf(String joint) throws Exception {
        Asset asset = on(() -> desk.now());
        var picker = new org.cleanmarrow.desktop.viewport.Picker();
        picker.pose(asset, null, 0);
        var at = camera().toPicture(picker.nodePlace(asset.findNode(joint)), width(), height());
        return screen(Math.rint(at.x), Math.rint(at.y));
    }
}
