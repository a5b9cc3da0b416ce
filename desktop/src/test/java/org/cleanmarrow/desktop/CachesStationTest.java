package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import javafx.geometry.Point2D;
import javafx.scene.control.TableView;
import javafx.scene.input.MouseButton;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Shrinking;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.PaintStray;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.testng.annotations.Test;

/** What no engine plays, turned by hand into what it does, all in the real window. */
public class CachesStationTest extends DeskWindow {
    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    private void open(String demo) throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.named(demo).orElseThrow());
            return null;
        });
        quiet();
    }

    /**
     * The pennant: found to be in millimetres and lying down, laid on its mesh, made joints of. Then the ice, whose floes get joints and
     * shrink from the middle; and the crest, whose triangles are counted before they are built.
     */
    @Test
    public void clothIceAndCrestBecomeWhatAnEnginePlays() throws Exception {
        click("#demo-mooring-pennant");
        quiet();
        station(Station.CACHES);
        assertThat(text("#station-facts")).isEqualTo("1 cache · no strands");
        assertThat(((TableView<?>) find("#caches")).getItems()).hasSize(1);
        fix("cache-unit");
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(FitCache.class);
        assertThat(on(() -> desk.findingsAt(Station.CACHES))).isEmpty();
        type("#joints-mesh", "pennant");
        type("#joints-most", "8");
        press("#cache-to-joints");
        quiet();
        assertThat(CacheUse.all(now())).isEmpty();
        assertThat(now().skins().getLast().joints()).hasSize(8);
        assertThat(text("#station-facts")).isEqualTo("no caches · no strands");

        open("river-ice");
        station(Station.CACHES);
        type("#joints-mesh", "ice");
        type("#joints-most", "60");
        press("#cache-to-joints");
        quiet();
        assertThat(now().skins().getLast().joints()).hasSize(60);
        type("#shrink-part", "ice");
        type("#shrink-first", "24");
        type("#shrink-last", "72");
        choose("#shrink-order", Shrinking.Order.DISTANCE);
        press("#shrink-pieces");
        quiet();
        Clip clip = now().clips().getFirst();
        assertThat(clip.lastFrame()).isEqualTo(72);
        assertThat(clip.channels().stream().filter(c -> c.path() == Channel.Path.SCALE))
                .hasSize(60);

        open("heron-crest");
        station(Station.CACHES);
        type("#strands-part", "crest");
        // 240 strands of 8, 24, 72 and 216 triangles.
        assertThat(text("#strands-counts"))
                .contains("240 strands")
                .contains("1,920")
                .contains("5,760")
                .contains("17,280")
                .contains("51,840");
        press("#strands-to-mesh");
        quiet();
        assertThat(now().meshes().get(now().findMesh("crest")).triangleCount()).isEqualTo(1920);
        assertThat(on(() -> desk.findingsAt(Station.CACHES))).isEmpty();
        type("#shrink-part", "");
        press("#shrink-pieces");
        assertThat(text("#shrink-preview")).contains("Name the mesh");
    }

    /** How far it may stray is painted with the brush, seen while it is, and one step. */
    private void painted(int cape, BitSet all) throws Exception {
        press("#stray-use");
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.STRAY);
        type("#stray-strength", "1");
        type("#stray-goal", "0.25");
        BitSet jumper = new BitSet();
        jumper.set(0, now().meshes().getFirst().vertexCount());
        Asset before = now();
        Point2D at = pointOn(cape, all);
        hand.moveTo(at);
        hand.press(MouseButton.PRIMARY);
        hand.moveTo(at.add(12, 4));
        assertThat(now()).as("nothing is recorded while the stroke is drawn").isSameAs(before);
        hand.release(MouseButton.PRIMARY);
        quiet();
        PaintStray stroke =
                (PaintStray) on(() -> desk.history().done().getLast().step());
        assertThat(stroke.stray()).isEqualTo(0.25);
        float[] was = Strays.of(before.meshes().get(cape));
        float[] is = Strays.of(now().meshes().get(cape));
        int nearer = 0;
        for (int v = 0; v < is.length; v++) {
            if (is[v] != was[v]) {
                nearer++;
                assertThat(Math.abs(is[v] - 0.25f)).isLessThan(Math.abs(was[v] - 0.25f));
            }
        }
        assertThat(nearer).isPositive();
        // What is no cloth is not painted, and the message says what to do.
        hand.moveTo(pointOn(0, jumper));
        hand.press(MouseButton.PRIMARY);
        hand.release(MouseButton.PRIMARY);
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("Make this part cloth first");
        click("#drag-box");
        on(() -> {
            desk.seeing().paint().set(ShadingMode.COLOURS);
            return null;
        });
    }

    /** The pilot's cape: made cloth, pinned where it was clicked, and let hang over a clip. */
    @Test
    public void theCapeHangsFromWhereItIsPinned() throws Exception {
        openDemo();
        station(Station.CACHES);
        type("#cloth-mesh", "cape");
        type("#cloth-substeps", "10");
        press("#set-cloth");
        quiet();
        assertThat(ClothSection.all(now())).hasSize(1);
        press("#set-stray");
        assertThat(text("#stray-preview")).contains("Select vertices");
        int cape = now().findMesh("cape");
        BitSet all = new BitSet();
        all.set(0, now().meshes().get(cape).vertexCount());
        click("#tool-vertex");
        hand.clickOn(pointOn(cape, all));
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().mesh())).isEqualTo(cape);
        press("#set-stray");
        quiet();
        float[] strays = Strays.of(now().meshes().get(cape));
        assertThat(strays).contains(0f, 1f);
        painted(cape, all);
        type("#cloth-clip", "hail");
        press("#simulate-cloth");
        quiet();
        // Seven of its vertices follow no joint.
        assertThat(text("#message")).contains("7 vertices of cape follow no joint");
        fix("strays");
        station(Station.CACHES);
        press("#simulate-cloth");
        quiet();
        assertThat(CacheUse.all(now())).hasSize(1);
        assertThat(now().clips()).extracting(Clip::name).contains("hail", "hail_cloth");
        assertThat(text("#station-facts")).isEqualTo("1 cache · no strands");
    }

    /** A pier of the bridge broken where it was clicked, its pieces let go onto a floor. */
    @Test
    public void aPierBreaksAndFalls() throws Exception {
        open("lift-bridge");
        station(Station.CACHES);
        press("#shatter");
        assertThat(text("#shatter-preview")).contains("Name the mesh");
        int pier = now().findMesh("shape_5");
        BitSet all = new BitSet();
        all.set(0, now().meshes().get(pier).vertexCount());
        click("#tool-vertex");
        hand.clickOn(pointOn(pier, all));
        quiet();
        type("#shatter-mesh", "shape_5");
        type("#shatter-pieces", "1");
        press("#shatter");
        quiet();
        assertThat(text("#message")).contains("Expected 2 to 500 pieces");
        type("#shatter-pieces", "14");
        type("#shatter-speed", "3");
        press("#shatter");
        quiet();
        assertThat(on(() -> desk.history().done().getLast().step()))
                .isInstanceOfSatisfying(Shatter.class, s -> assertThat(s.hit()).isEqualTo(Shatter.Hit.POINT));
        // It is two blocks; what breaks across both is two pieces.
        assertThat(Bodies.all(now()).size()).isBetween(14, 28);
        station(Station.COLLISION);
        type("#let-seconds", "0.5");
        choose("#let-floor", SimulateBodies.Floor.ZERO);
        press("#simulate-bodies");
        quiet();
        assertThat(now().clips()).extracting(Clip::name).contains("bodies");
    }
}
