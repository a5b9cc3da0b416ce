package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javafx.geometry.Bounds;
import javafx.scene.Node;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ComboBox;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextInputControl;
import javafx.scene.control.TreeView;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.work.VertexSet;
import org.testng.annotations.Test;

/** Nothing moves under the hand: controls of an open station stay where they are, and the keyboard stays where it was. */
public class StaysPutTest extends DeskWindow {
    private static final int ACTS = 200;
    private static final Random RANDOM = new Random(14);

    /** Where every control is that has an id and is not a row of a list. */
    private Map<String, Bounds> controls() throws Exception {
        return on(() -> {
            Map<String, Bounds> out = new LinkedHashMap<>();
            List<Node> open = new ArrayList<>(List.of(scene.getRoot()));
            for (int i = 0; i < open.size(); i++) {
                Node node = open.get(i);
                boolean list = node instanceof ListView || node instanceof TableView || node instanceof TreeView;
                boolean control = list
                        || node instanceof ButtonBase
                        || node instanceof ComboBox
                        || node instanceof TextInputControl;
                boolean chip = node.getStyleClass().contains("chip");
                if (!node.isVisible()) {
                    continue;
                }
                if (control && node.getId() != null && !chip) {
                    out.put(node.getId(), node.localToScene(node.getLayoutBounds()));
                }
                if (!list && node instanceof javafx.scene.Parent parent) {
                    open.addAll(parent.getChildrenUnmodifiable());
                }
            }
            return out;
        });
    }

    private void act() throws Exception {
        on(() -> {
            Mesh mesh = desk.now().meshes().getFirst();
            BitSet some = new BitSet();
            int from = RANDOM.nextInt(mesh.vertexCount() - 300);
            some.set(from, from + 1 + RANDOM.nextInt(300));
            switch (RANDOM.nextInt(8)) {
                case 0, 1 -> desk.selection().choose(0, some);
                case 2 -> desk.selection().choose(-1, new BitSet());
                case 3, 4 -> {
                    int[] joints = desk.now().skins().getFirst().joints();
                    desk.selection().joint().set(desk.now().nodeRef(joints[RANDOM.nextInt(joints.length)]));
                }
                case 5 -> desk.apply(new SmoothWeights("pilot", VertexSet.chosen(mesh, some), 0.5, 1, ""));
                case 6 ->
                    desk.apply(
                            RANDOM.nextBoolean()
                                    ? new NormaliseWeights("")
                                    : new AssignUnweighted("", java.util.Optional.empty()));
                default -> {
                    if (RANDOM.nextBoolean()) {
                        desk.undo();
                    } else {
                        desk.redo();
                    }
                }
            }
            return null;
        });
    }

    @Test
    public void noControlOfAnOpenStationMoves() throws Exception {
        openDemo();
        station(Station.SKIN);
        find("#amount");
        find("#give-strays");
        quiet();
        Map<String, Bounds> before = controls();
        assertThat(before.size()).isGreaterThan(60);
        for (int i = 0; i < ACTS; i++) {
            act();
            if (i % 20 == 19) {
                quiet();
                Map<String, Bounds> after = controls();
                before.forEach((id, was) -> assertThat(after.get(id)).as(id).isEqualTo(was));
            }
        }
    }

    @Test
    public void theKeyboardStaysWhereItWas() throws Exception {
        openDemo();
        station(Station.SKIN);
        on(() -> {
            BitSet some = new BitSet();
            some.set(0, 40);
            desk.selection().choose(0, some);
            desk.selection().joint().set("neck");
            return null;
        });
        quiet();
        for (String id : List.of("#set-weight", "#take-off", "#normalise", "#smooth")) {
            press(id);
            quiet();
            assertThat(on(() -> scene.getFocusOwner())).as(id).isSameAs(on(() -> scene.lookup(id)));
        }
    }
}
