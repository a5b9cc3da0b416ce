package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import javafx.geometry.Point2D;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.Pane;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.intake.RelaxUvs;
import org.cleanmarrow.uv.UvLayout;
import org.cleanmarrow.work.Threads;
import org.testng.annotations.Test;

/** The pennant of the mooring: 297 vertices and 520 triangles on either side, each side an island. */
public class UvViewTest extends DeskWindow {
    private static final int PENNANT = 1;
    private static final int SIDE = 27 * 11;

    private void open() throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.named("mooring-pennant").orElseThrow());
            desk.station().set(Station.INTAKE);
            return null;
        });
        quiet();
        click("#view-uvs");
        quiet();
    }

    private String said() throws Exception {
        return on(() -> ((Label) scene.lookup("#uv-said")).getText());
    }

    private Point2D place(int vertex) throws Exception {
        return on(() -> scene.lookup("#uv-stage")
                .localToScreen(window.uvs().placeOf(vertex).orElseThrow()));
    }

    private Point2D between(int a, int b) throws Exception {
        return place(a).midpoint(place(b));
    }

    private Selection.Chosen chosen() throws Exception {
        return on(() -> desk.selection().chosen().get());
    }

    @Test
    public void anIslandPickedInItIsSelectedOnTheMeshAndTakesItsOwnMaterial() throws Exception {
        open();
        assertThat(said())
                .startsWith("2 islands, 1,040 triangles, stretch 1.1")
                .contains("None lies over another")
                .endsWith("As received.");
        click("#tool-island");
        int above = 4 * 11 + 5;
        Point2D inside = between(above, above + 12);
        hand.moveTo(inside);
        quiet();
        int lit = colourAt(inside);
        hand.click();
        quiet();
        assertThat(chosen().mesh()).isEqualTo(PENNANT);
        BitSet front = new BitSet();
        front.set(0, SIDE);
        assertThat(chosen().vertices()).isEqualTo(front);
        hand.moveTo(inside.add(0, 300));
        quiet();
        assertThat(colourAt(inside)).as("what a click would take is lit before").isNotEqualTo(lit);
        type("#material-name", "signal_front");
        press("#own-material");
        quiet();
        Mesh split = on(() -> desk.now().meshes().get(PENNANT));
        assertThat(split.primitives()).hasSize(2);
        assertThat(split.primitives())
                .allSatisfy(p -> assertThat(p.vertexCount()).isEqualTo(SIDE));
        assertThat(on(() -> desk.now()
                        .materials()
                        .get(split.primitives().get(1).material())
                        .name()))
                .isEqualTo("signal_front");
    }

    @Test
    public void aBoxAndAVertexAreSelectedAndEvenedOutIsSaid() throws Exception {
        open();
        click("#tool-vertex");
        hand.clickOn(place(40));
        quiet();
        assertThat(chosen().vertices().stream().toArray()).containsExactly(40);
        // From outside the corner of the upper island to the middle of its fourth column.
        Point2D corner = place(0).subtract(6, 6);
        hand.drag(corner, between(3 * 11 + 10, 4 * 11 + 10).add(0, 4));
        quiet();
        assertThat(chosen().vertices().stream().toArray())
                .isEqualTo(IntStream.range(0, 4 * 11).toArray());
        click("#tool-face");
        hand.clickOn(between(40, 52));
        quiet();
        assertThat(chosen().vertices().cardinality()).isEqualTo(3);
        click("#tool-part");
        hand.clickOn(between(40, 52));
        quiet();
        assertThat(chosen().vertices().cardinality()).isEqualTo(2 * SIDE);
        press("#relax-uvs");
        quiet();
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(RelaxUvs.class);
        Mesh mesh = on(() -> desk.now().meshes().get(PENNANT));
        float[] before = UvLayout.of(on(() -> desk.received().meshes().get(PENNANT)), 0)
                .orElseThrow()
                .uv();
        float[] now = UvLayout.of(mesh, 0).orElseThrow().uv();
        long corners = IntStream.of(UvLayout.of(mesh, 0).orElseThrow().corners())
                .filter(v -> before[2 * v] != now[2 * v] || before[2 * v + 1] != now[2 * v + 1])
                .count();
        assertThat(corners).isGreaterThan(500);
        assertThat(said()).contains(String.format("%,d corners on 2 islands lie elsewhere", corners));
    }

    @Test
    public void itIsOpenedByAKeyPaintsFourWaysAndComputesElsewhere() throws Exception {
        open();
        click("#view-uvs");
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        begun.clear();
        Threads.watch(on(Thread::currentThread), begun::add);
        hand.push(KeyCode.Y);
        quiet();
        assertThat(on(() -> window.uvs().isVisible())).isTrue();
        int[] seen = new int[4];
        for (int i = 0; i < 4; i++) {
            int item = i;
            on(() -> {
                ((MenuButton) scene.lookup("#uv-paint")).getItems().get(item).fire();
                return null;
            });
            quiet();
            // Near the point the cloth is narrow, so that the picture has more texels there.
            seen[i] = colourAt(between(25 * 11 + 5, 26 * 11 + 6));
        }
        assertThat(seen).doesNotHaveDuplicates();
        Threads.watchNone();
        assertThat(begun).isEmpty();
        on(() -> {
            desk.files().openDemo();
            return null;
        });
        quiet();
        assertThat(said()).startsWith("27 spots of the picture for 25,024 triangles");
        on(() -> {
            desk.selection().choose(desk.now().findMesh("cape"), BitSet.valueOf(new long[] {7}));
            return null;
        });
        quiet();
        assertThat(on(() -> ((MenuButton) scene.lookup("#uv-mesh")).getText())).isEqualTo("cape");
    }

    private final Set<String> begun = ConcurrentHashMap.newKeySet();

    private int colourAt(Point2D onScreen) throws Exception {
        return on(() -> {
            Pane stage = (Pane) scene.lookup("#uv-stage");
            Image image = ((ImageView) stage.getChildren().getFirst()).getImage();
            Point2D at = stage.screenToLocal(onScreen);
            return image.getPixelReader().getArgb((int) at.getX(), (int) at.getY());
        });
    }
}
