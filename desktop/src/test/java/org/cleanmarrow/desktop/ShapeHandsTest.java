package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.stream.IntStream;
import javafx.geometry.Point2D;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.MouseButton;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.PlaceShape;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Shapes moved, sized and turned in the view, and bodies drawn at while they are let go. */
public class ShapeHandsTest extends DeskWindow {
    private static final String LINK = "link_3";

    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    private Collider link() throws Exception {
        Asset asset = now();
        return Bodies.at(asset, asset.findNode(LINK), LINK + "_shape").orElseThrow();
    }

    /** The chain with its third link in hand. */
    private void takeLink() throws Exception {
        click("#demo-bell-chain");
        quiet();
        station(Station.COLLISION);
        TableView<?> table = (TableView<?>) find("#colliders");
        on(() -> {
            table.getSelectionModel().select(2);
            return null;
        });
        quiet();
        assertThat(((TextField) find("#shape-name")).getText()).isEqualTo(LINK + "_shape");
    }

    /** Where a place of the link's shape, in its own frame, lies in the view. */
    private Point2D seen(Vector3d own) throws Exception {
        Asset asset = now();
        Collider c = link();
        Matrix4d at = Conversion.between(asset.conventions(), Conventions.GLTF)
                .matrix()
                .mul(new Rig(asset).rest().world()[c.node()])
                .mul(c.at().matrix());
        Vector3d p = camera().toPicture(at.transformPosition(own), width(), height());
        return new Point2D(p.x, p.y);
    }

    private void drag(Point2D from, Point2D to) throws Exception {
        hand.drag(screen(from.getX(), from.getY()), screen(to.getX(), to.getY()));
        quiet();
    }

    /** What was taken hold of lies under the pointer when it is let go, and the other end where it was. */
    @Test
    public void aShapeIsMovedSizedAndTurnedByItsHandles() throws Exception {
        takeLink();
        Point2D middle = seen(new Vector3d());
        drag(middle, middle.add(60, -20));
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(PlaceShape.class);
        assertThat(seen(new Vector3d()).distance(middle.add(60, -20))).isLessThan(1.5);
        Shape.Capsule was = (Shape.Capsule) link().shape();
        double end = was.height() / 2 + was.top();
        Point2D top = seen(new Vector3d(0, end, 0));
        Point2D bottom = seen(new Vector3d(0, -end, 0));
        drag(top, top.add(0, -50));
        Shape.Capsule longer = (Shape.Capsule) link().shape();
        double longerEnd = longer.height() / 2 + longer.top();
        assertThat(longer.top()).isCloseTo(was.top(), within(1e-4));
        assertThat(seen(new Vector3d(0, longerEnd, 0)).getY()).isCloseTo(top.getY() - 50, within(3.0));
        assertThat(seen(new Vector3d(0, -longerEnd, 0)).distance(bottom)).isLessThan(1.5);
        // A quarter turn of the handle beside it lays the upright capsule down.
        Point2D centre = seen(new Vector3d());
        Point2D knob = centre.add(58, -29);
        drag(knob, centre.add(29, 58));
        Point2D along = seen(new Vector3d(0, longerEnd, 0)).subtract(seen(new Vector3d()));
        assertThat(Math.abs(along.getX())).isGreaterThan(5 * Math.abs(along.getY()));
        assertThat(on(() -> desk.history().done())).hasSize(3);
        assertThat(on(() -> desk.selection().chosen().get().isEmpty()))
                .as("a handle selects nothing")
                .isTrue();
    }

    @Test
    public void aShapeIsPlacedByNumbersAndRemoved() throws Exception {
        takeLink();
        type("#shape-size-x", "0.08");
        type("#shape-middle-y", "-0.06");
        press("#place-shape");
        quiet();
        assertThat(((Shape.Capsule) link().shape()).top()).isCloseTo(0.04, within(1e-6));
        assertThat(link().at().origin().y()).isCloseTo(-0.06, within(1e-6));
        type("#shape-size-x", "wide");
        press("#place-shape");
        assertThat(text("#shape-preview")).contains("wide");
        type("#shape-size-x", "0.08");
        choose("#shape-role", org.cleanmarrow.steps.collision.SetShapes.Use.TRIGGER);
        press("#set-shapes");
        quiet();
        assertThat(link().role()).isEqualTo(Collider.Role.TRIGGER);
        press("#remove-shape");
        quiet();
        assertThat(Bodies.colliders(now())).hasSize(4);
    }

    /** Drawn aside by hand; what is kept ends where what was watched ended, to the bit. */
    @Test
    public void bodiesAreDrawnAtAndWhatTheyDidIsKept() throws Exception {
        click("#demo-bell-chain");
        quiet();
        station(Station.COLLISION);
        fix("still-root");
        fix("body-shape");
        Asset asset = now();
        int bell = asset.findNode("link_4");
        press("#try-bodies");
        until("some frames passed", () -> desk.letGo().frames().get() > 3);
        Point2D at = bellInView();
        hand.moveTo(screen(at.getX(), at.getY())).press(MouseButton.PRIMARY);
        hand.moveTo(screen(at.getX() + 70, at.getY() - 30)).moveBy(10, 0);
        int taken = on(() -> desk.letGo().frames().get());
        until("it was drawn at for a while", () -> desk.letGo().frames().get() > taken + 20);
        hand.release(MouseButton.PRIMARY);
        int free = on(() -> desk.letGo().frames().get());
        until("it swung", () -> desk.letGo().frames().get() > free + 5);
        press("#try-stop");
        until("it stands", () -> !desk.letGo().running().get());
        pulses(3);
        Clip watched = on(() -> desk.playedClip().orElseThrow());
        double end = on(() -> desk.playback().seconds().get());
        assertThat(text("#try-said"))
                .contains(String.valueOf(on(() -> desk.letGo().frames().get())));
        // A clip that is picked is shown in its place; what was tried can still be kept.
        on(() -> {
            desk.playback().clip().set("toll");
            return null;
        });
        assertThat(on(() -> desk.playedClip().orElseThrow().name())).isEqualTo("toll");
        press("#try-keep");
        quiet();
        SimulateBodies step =
                (SimulateBodies) on(() -> desk.history().done().getLast().step());
        assertThat(step.pulls().list())
                .hasSizeGreaterThan(15)
                .allMatch(p -> p.node().startsWith("link_"));
        Asset kept = now();
        Clip clip = kept.clips().getLast();
        assertThat(clip.end()).isCloseTo(end, within(1e-4));
        Matrix4d there = new Rig(kept).at(clip, clip.end()).world()[bell];
        Matrix4d seen = new Rig(asset).at(watched, end).world()[bell];
        assertThat(there).isEqualTo(seen);
        assertThat(farthest(kept, clip, bell)).isGreaterThan(0.01);
    }

    /** How far a node gets from where it rests: where it is at the end depends on when bodies were stopped. */
    private static double farthest(Asset asset, Clip clip, int node) {
        Rig rig = new Rig(asset);
        Vector3d rest = rig.rest().world()[node].getTranslation(new Vector3d());
        return IntStream.rangeClosed(0, 100)
                .mapToDouble(i -> rig.at(clip, clip.end() * i / 100)
                        .world()[node]
                        .getTranslation(new Vector3d())
                        .distance(rest))
                .max()
                .orElseThrow();
    }

    private Point2D bellInView() throws Exception {
        Asset asset = now();
        Matrix4d at = Conversion.between(asset.conventions(), Conventions.GLTF)
                .matrix()
                .mul(new Rig(asset).rest().world()[asset.findNode("link_4")]);
        Vector3d p = camera().toPicture(at.transformPosition(new Vector3d(0, -0.25, 0)), width(), height());
        return new Point2D(p.x, p.y);
    }
}
