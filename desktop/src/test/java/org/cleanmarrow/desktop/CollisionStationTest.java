package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import javafx.scene.SnapshotParameters;
import javafx.scene.control.TableView;
import javafx.scene.image.WritableImage;
import javafx.scene.paint.Color;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** The bell chain set up by hand, and shapes fitted to a joint, all in the real window. */
public class CollisionStationTest extends DeskWindow {
    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    /** From the demo to four hanging links under a still bracket with masses, damping and limits, without an overlap. */
    @Test
    public void theBellChainIsSetUp() throws Exception {
        click("#demo-bell-chain");
        quiet();
        station(Station.COLLISION);
        assertThat(((TableView<?>) find("#colliders")).getItems()).hasSize(5);
        assertThat(text("#station-facts")).isEqualTo("5 shapes · 5 bodies");
        fix("still-root");
        fix("body-shape");
        type("#body-nodes", "link_*");
        type("#body-density", "7800");
        type("#body-damping", "0.2");
        press("#set-body");
        quiet();
        type("#join-chain", "bracket, link_*");
        type("#join-swing", "30");
        press("#join-bodies");
        quiet();
        Asset asset = now();
        assertThat(on(() -> desk.findingsAt(Station.COLLISION)).stream()
                        .filter(f -> !f.check().equals("body-mass")))
                .isEmpty();
        assertThat(Bodies.at(asset, asset.findNode("bracket")).orElseThrow().kind())
                .isEqualTo(RigidBody.Kind.STILL);
        RigidBody link = Bodies.at(asset, asset.findNode("link_1")).orElseThrow();
        // A capsule 3 cm thick and 8 cm between its middles, of iron: by its volume.
        double volume = Math.PI * 0.03 * 0.03 * 0.08 + 4 * Math.PI / 3 * 0.03 * 0.03 * 0.03;
        assertThat(link.mass().kilograms()).isCloseTo(7800 * volume, within(1e-6));
        assertThat(link.damping().linear()).isEqualTo(0.2);
        assertThat(Bodies.joints(asset)).hasSize(4).allMatch(j -> j.limits().size() == 3);
        assertThat(new Overlaps(asset).worst(4, Work.QUIET)).isEmpty();
        assertThat(on(() -> desk.history().done())).hasSize(4);
        // It hangs straight, so let go it hangs as it did.
        type("#let-seconds", "1");
        press("#simulate-bodies");
        quiet();
        Asset let = now();
        Clip clip = let.clips().getLast();
        assertThat(clip.name()).isEqualTo("bodies");
        assertThat(clip.lastFrame()).isEqualTo(30);
        int bell = let.findNode("link_4");
        Rig rig = new Rig(let);
        assertThat(rig.at(clip, 1)
                        .world()[bell]
                        .getTranslation(new Vector3d())
                        .distance(rig.rest().world()[bell].getTranslation(new Vector3d())))
                .isLessThan(0.01);
    }

    /** The double bridge from the demo: shapes, piers that stand, leaves that hang on the hinges that its clips show; five acts. */
    @Test
    public void theDoubleBridgeIsSetUp() throws Exception {
        click("#demo-lift-bridge");
        quiet();
        station(Station.COLLISION);
        type("#stand-parts", "*_leaf, *_rail, *_pier, winch_house_LOD0");
        press("#stand-in");
        quiet();
        type("#body-nodes", "*_pier, winch_house_LOD0");
        choose("#body-kind", RigidBody.Kind.STILL);
        press("#set-body");
        quiet();
        type("#body-nodes", "*_leaf");
        choose("#body-kind", RigidBody.Kind.FREE);
        type("#body-density", "700");
        type("#body-damping", "0.2");
        press("#set-body");
        quiet();
        for (String side : List.of("west", "east")) {
            type("#join-chain", side + "_pier, " + side + "_leaf");
            choose("#join-range", JoinBodies.Range.HINGE);
            press("#join-bodies");
            quiet();
        }
        Asset asset = now();
        assertThat(on(() -> desk.history().done())).hasSize(5);
        assertThat(on(() -> desk.findingsAt(Station.COLLISION))).isEmpty();
        assertThat(new Overlaps(asset).worst(4, Work.QUIET)).isEmpty();
        assertThat(Bodies.joints(asset)).hasSize(2).allSatisfy(j -> {
            assertThat(Math.toDegrees(
                            j.limits().getLast().most() - j.limits().getLast().least()))
                    .isCloseTo(68, within(0.1));
            Vector3d hinge = new Rig(asset)
                    .rest()
                    .world()[j.node()]
                    .mul(j.at().matrix(), new Matrix4d())
                    .getTranslation(new Vector3d());
            assertThat(Math.abs(hinge.x)).as("at the pier").isCloseTo(4.2, within(1e-3));
        });
        // Lifted, it falls back onto its stops, and no farther.
        type("#let-clip", "open");
        press("#simulate-bodies");
        quiet();
        Asset let = now();
        Rig rig = new Rig(let);
        Matrix4d[] end =
                rig.at(let.clips().getLast(), let.clips().getLast().end()).world();
        for (String leaf : List.of("west_leaf", "east_leaf")) {
            int n = let.findNode(leaf);
            assertThat(end[n].getTranslation(new Vector3d())
                            .distance(rig.rest().world()[n].getTranslation(new Vector3d())))
                    .isLessThan(0.02);
        }
    }

    @Test
    public void shapesAreFittedToAJointDrawnAndHidden() throws Exception {
        openDemo();
        station(Station.COLLISION);
        type("#fit-joints", "left_upper_arm");
        choose("#fit-kind", ShapeFit.Kind.CAPSULE);
        type("#fit-share", "95");
        WritableImage before = picture();
        press("#fit-shapes");
        quiet();
        assertThat(on(() -> desk.history().done().getLast().step()))
                .isEqualTo(new FitShapes("left_upper_arm", ShapeFit.Kind.CAPSULE, 0.95, 24));
        assertThat(Bodies.colliders(now()))
                .singleElement()
                .satisfies(c -> assertThat(c.shape().kind()).isEqualTo("capsule"));
        int drawn = differing(before, picture());
        assertThat(drawn).isGreaterThan(200);
        click("#tray-shapes");
        quiet();
        assertThat(differing(before, picture())).isLessThan(drawn / 10);
        type("#fit-share", "many");
        press("#fit-shapes");
        assertThat(text("#fit-preview")).contains("many");
        assertThat(on(() -> desk.history().done())).hasSize(1);
    }

    private WritableImage picture() throws Exception {
        quiet();
        return on(() -> window.viewport().snapshot(new SnapshotParameters(), null));
    }

    private static int differing(WritableImage a, WritableImage b) {
        int many = 0;
        for (int y = 0; y < a.getHeight(); y += 2) {
            for (int x = 0; x < a.getWidth(); x += 2) {
                Color p = a.getPixelReader().getColor(x, y);
                Color q = b.getPixelReader().getColor(x, y);
                many += Math.abs(p.getRed() - q.getRed()) + Math.abs(p.getBlue() - q.getBlue()) > 0.05 ? 1 : 0;
            }
        }
        return many;
    }
}
