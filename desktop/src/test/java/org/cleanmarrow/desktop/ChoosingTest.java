package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.List;
import javafx.geometry.Point2D;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.viewport.Picker;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Every way of choosing, held against going through all vertices one by one. */
public class ChoosingTest extends DeskWindow {
    @BeforeMethod(dependsOnMethods = "begin")
    public void openSkin() throws Exception {
        openDemo();
        station(Station.SKIN);
        on(() -> {
            desk.seeing().joints().set(false);
            return null;
        });
        quiet();
    }

    private BitSet chosen() throws Exception {
        return (BitSet) on(() -> desk.selection().chosen().get().vertices()).clone();
    }

    private void drag(double x0, double y0, double x1, double y1) throws Exception {
        Point2D from = screen(x0, y0);
        Point2D to = screen(x1, y1);
        hand.drag(from, to);
        quiet();
    }

    /** Positions of a mesh in the view's space at rest, by plain evaluation. */
    private float[] positions(int mesh) throws Exception {
        Asset asset = on(() -> desk.now());
        Deformer deformer = new Deformer(asset);
        Pose rest = new Rig(asset).rest();
        Matrix4d view =
                Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == mesh)
                .findFirst()
                .orElseThrow();
        float[] out = new float[deformer.vertexCount(place) * 3];
        deformer.deform(place, rest, rest.world(), view, out, null, false);
        return out;
    }

    private BitSet inside(float[] p, double x0, double y0, double x1, double y1) throws Exception {
        Camera camera = camera();
        double w = width();
        double h = height();
        BitSet out = new BitSet();
        for (int v = 0; v < p.length / 3; v++) {
            Vector3d at = camera.toPicture(new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]), w, h);
            // Half a pixel of play: the robot moves in whole ones.
            if (at.x >= x0 && at.x <= x1 && at.y >= y0 && at.y <= y1) {
                out.set(v);
            }
        }
        return out;
    }

    @Test
    public void aBoxTakesAllVerticesInsideIt() throws Exception {
        press("#tool-vertex");
        press("#drag-box");
        double cx = width() / 2;
        double cy = height() / 2;
        drag(cx - 60, cy - 90, cx + 60, cy + 20);
        BitSet expected = inside(positions(0), cx - 60, cy - 90, cx + 60, cy + 20);
        BitSet different = chosen();
        different.xor(expected);
        assertThat(expected.cardinality()).isGreaterThan(500);
        // The robot moves in whole pixels, so only what lies within one of the edge may differ.
        BitSet wide = inside(positions(0), cx - 61, cy - 91, cx + 61, cy + 21);
        wide.andNot(inside(positions(0), cx - 59, cy - 89, cx + 59, cy + 19));
        different.andNot(wide);
        assertThat(different.cardinality()).isZero();
    }

    @Test
    public void seenOnlyLeavesOutWhatLiesBehind() throws Exception {
        press("#tool-vertex");
        press("#drag-box");
        press("#seen-only");
        double cx = width() / 2;
        double cy = height() / 2;
        drag(cx - 40, cy - 80, cx + 40, cy - 30);
        BitSet seen = chosen();
        float[] p = positions(0);
        BitSet all = inside(p, cx - 40, cy - 80, cx + 40, cy - 30);
        assertThat(seen.cardinality()).isBetween(20, all.cardinality() * 3 / 4);
        // Going through all triangles: nothing lies clearly before a vertex that was taken.
        Vector3d eye = camera().eye();
        int[] corners =
                MeshTopology.of(on(() -> desk.now().meshes().getFirst())).corners();
        int tried = 0;
        for (int v = seen.nextSetBit(0); v >= 0 && tried < 12; v = seen.nextSetBit(v + 7), tried++) {
            Vector3d at = new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
            assertThat(nearest(corners, p, eye, at)).as("vertex %d", v).isGreaterThan(1 - 2e-3);
        }
        assertThat(tried).isGreaterThan(5);
    }

    /** Share of the way from the eye to a point at which the first triangle is met; 1 when none is before it. */
    private static double nearest(int[] corners, float[] p, Vector3d eye, Vector3d at) {
        Vector3d d = new Vector3d(at).sub(eye);
        double best = 1;
        for (int t = 0; t < corners.length; t += 3) {
            Vector3d a = point(p, corners[t]);
            Vector3d e1 = point(p, corners[t + 1]).sub(a);
            Vector3d e2 = point(p, corners[t + 2]).sub(a);
            org.joml.Matrix3d m = new org.joml.Matrix3d(e1, e2, new Vector3d(d).negate());
            if (Math.abs(m.determinant()) < 1e-14) {
                continue;
            }
            Vector3d s = m.invert().transform(new Vector3d(eye).sub(a));
            if (s.x > 1e-6 && s.y > 1e-6 && s.x + s.y < 1 - 1e-6 && s.z > 0) {
                best = Math.min(best, s.z);
            }
        }
        return best;
    }

    private static Vector3d point(float[] p, int v) {
        return new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }

    @Test
    public void shiftAddsAndControlTakesAway() throws Exception {
        MeshTopology topology = MeshTopology.of(on(() -> desk.now().meshes().getFirst()));
        BitSet boot = islandOfPart(topology, 0.05, 0.2);
        BitSet head = islandOfPart(topology, 1.60, 1.63);
        click("#tool-island");
        hand.clickOn(pointOn(0, boot));
        quiet();
        BitSet first = chosen();
        assertThat(first).isEqualTo(topology.islandsOf(first));
        clickWith(pointOn(0, head), true, false);
        quiet();
        BitSet both = chosen();
        assertThat(both.cardinality()).isGreaterThan(first.cardinality());
        BitSet common = (BitSet) both.clone();
        common.and(first);
        assertThat(common).isEqualTo(first);
        clickWith(pointOn(0, first), false, true);
        quiet();
        both.andNot(first);
        assertThat(chosen()).isEqualTo(both);
    }

    /** The offscreen robot does not join held keys to clicks, so the window is sent the joined event itself. */
    private void clickWith(Point2D at, boolean shift, boolean control) throws Exception {
        on(() -> {
            var view = window.viewport();
            // An event without a source holds scene coordinates until it reaches a node.
            Point2D p = view.localToScene(view.screenToLocal(at));
            for (var type : List.of(MouseEvent.MOUSE_PRESSED, MouseEvent.MOUSE_RELEASED)) {
                view.fireEvent(new MouseEvent(
                        type,
                        p.getX(),
                        p.getY(),
                        at.getX(),
                        at.getY(),
                        MouseButton.PRIMARY,
                        1,
                        shift,
                        control,
                        false,
                        false,
                        type == MouseEvent.MOUSE_PRESSED,
                        false,
                        false,
                        true,
                        false,
                        true,
                        null));
            }
            return null;
        });
    }

    /** All vertices of the body between two heights. */
    private BitSet islandOfPart(MeshTopology topology, double low, double high) throws Exception {
        float[] p = positions(0);
        BitSet out = new BitSet();
        for (int v = 0; v < topology.vertexCount(); v++) {
            if (p[v * 3 + 1] > low && p[v * 3 + 1] < high) {
                out.set(v);
            }
        }
        return out;
    }

    @Test
    public void growShrinkWholeShellAndNone() throws Exception {
        MeshTopology topology = MeshTopology.of(on(() -> desk.now().meshes().getFirst()));
        BitSet start = new BitSet();
        start.set(0, 40);
        on(() -> {
            desk.selection().choose(0, start);
            return null;
        });
        quiet();
        press("#grow");
        quiet();
        assertThat(chosen()).isEqualTo(topology.grown(start));
        press("#shrink");
        quiet();
        assertThat(chosen()).isEqualTo(topology.shrunk(topology.grown(start)));
        press("#whole-island");
        quiet();
        assertThat(chosen()).isEqualTo(topology.islandsOf(topology.shrunk(topology.grown(start))));
        press("#choose-none");
        quiet();
        assertThat(chosen().isEmpty()).isTrue();
    }

    /** Each from what the one before came to; but what is chosen by hand meanwhile is not taken away. */
    @Test
    public void keysPressedQuicklyAllCountAndAHandComesFirst() throws Exception {
        MeshTopology topology = topology();
        BitSet start = new BitSet();
        start.set(0, 3);
        on(() -> {
            desk.selection().choose(0, start);
            window.act("grow");
            window.act("grow");
            window.act("grow");
            window.act("shrink");
            return null;
        });
        quiet();
        assertThat(chosen()).isEqualTo(topology.shrunk(topology.grown(topology.grown(topology.grown(start)))));
        on(() -> {
            window.act("grow");
            desk.selection().choose(0, start);
            return null;
        });
        quiet();
        assertThat(chosen()).isEqualTo(start);
        on(() -> {
            window.act("grow");
            return null;
        });
        quiet();
        assertThat(chosen()).isEqualTo(topology.grown(start));
    }

    @Test
    public void aJointIsChosenInTheViewByItsRing() throws Exception {
        station(Station.SKELETON);
        on(() -> {
            desk.seeing().joints().set(true);
            return null;
        });
        Asset asset = on(() -> desk.now());
        Matrix4d view =
                Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        int node = asset.findNode("right_forearm");
        Vector3d at = view.transformPosition(new Rig(asset).rest().world()[node].getTranslation(new Vector3d()));
        Vector3d picture = camera().toPicture(at, width(), height());
        hand.clickOn(screen(picture.x + 2, picture.y - 2));
        quiet();
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("right_forearm");
    }

    @Test
    public void settingAWeightTakesTheNumberInTheField() throws Exception {
        BitSet some = new BitSet();
        some.set(10, 30);
        on(() -> {
            desk.selection().choose(0, some);
            desk.selection().joint().set("head");
            return null;
        });
        quiet();
        type("#weight", "0,25");
        press("#set-weight");
        quiet();
        Asset now = on(() -> desk.now());
        int head = now.skins().getFirst().indexOfNode(now.findNode("head"));
        var rows = now.meshes().getFirst().primitives().getFirst().influences();
        assertThat(rows.weight(12, head)).isEqualTo(0.25f);
        type("#weight", "plenty");
        press("#set-weight");
        quiet();
        assertThat(text("#preview")).contains("plenty").contains("0 to 1");
        assertThat(on(() -> desk.history().done())).hasSize(1);
    }

    private MeshTopology topology() throws Exception {
        return MeshTopology.of(on(() -> desk.now().meshes().getFirst()));
    }

    private void choose(BitSet vertices) throws Exception {
        on(() -> {
            desk.selection().choose(0, vertices);
            return null;
        });
        quiet();
    }

    @Test
    public void anOutlineTakesWhatItGoesRound() throws Exception {
        press("#tool-vertex");
        press("#drag-outline");
        double cx = width() / 2;
        double cy = height() / 2;
        double[][] line = {{cx - 60, cy - 80}, {cx + 60, cy - 80}, {cx, cy + 60}};
        hand.moveTo(screen(line[0][0], line[0][1])).press(MouseButton.PRIMARY);
        for (double[] point : line) {
            hand.moveTo(screen(point[0], point[1]));
        }
        hand.release(MouseButton.PRIMARY);
        quiet();
        float[] p = positions(0);
        Camera camera = camera();
        BitSet expected = new BitSet();
        int near = 0;
        for (int v = 0; v < p.length / 3; v++) {
            Vector3d at = camera.toPicture(new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]), width(), height());
            // Inside a triangle: on the same side of all three edges.
            double least = Double.POSITIVE_INFINITY;
            for (int i = 0; i < 3; i++) {
                double[] a = line[i];
                double[] b = line[(i + 1) % 3];
                double side = (b[0] - a[0]) * (at.y - a[1]) - (b[1] - a[1]) * (at.x - a[0]);
                least = Math.min(least, side / Math.hypot(b[0] - a[0], b[1] - a[1]));
            }
            near += Math.abs(least) < 1.5 ? 1 : 0;
            if (least > 0) {
                expected.set(v);
            }
        }
        BitSet different = chosen();
        different.xor(expected);
        assertThat(expected.cardinality()).isGreaterThan(200);
        assertThat(different.cardinality())
                .as("only vertices within a pixel of the line may differ")
                .isLessThanOrEqualTo(near);
    }

    @Test
    public void aBrushTakesWhatIsWithinItsReachAlongTheStroke() throws Exception {
        press("#tool-vertex");
        press("#drag-brush");
        double x = Math.rint(width() / 2 - 6);
        double y = Math.rint(height() / 2 - 40);
        Point2D from = screen(x, y);
        hand.moveTo(from).press(MouseButton.PRIMARY).release(MouseButton.PRIMARY);
        quiet();
        BitSet touched = chosen();
        Camera camera = camera();
        Picker picker = new Picker();
        picker.pose(on(() -> desk.now()), null, 0);
        Picker.Hit hit = picker.pick(camera.ray(x, y, width(), height()));
        double radius = on(() -> window.viewport().chooser().brush().get())
                * camera.metresPerPixel(height())
                * hit.distance()
                / camera.reach();
        float[] p = positions(0);
        for (int v = 0; v < p.length / 3; v++) {
            double d = hit.point().distance(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
            if (Math.abs(d / radius - 1) > 1e-3) {
                assertThat(touched.get(v))
                        .as("vertex %d, %f of the radius", v, d / radius)
                        .isEqualTo(d < radius);
            }
        }
        assertThat(touched.cardinality()).isGreaterThan(10);
        // A longer stroke takes more, and all that the first touch took.
        hand.moveTo(from).press(MouseButton.PRIMARY).moveBy(0, 20).moveBy(0, 20).release(MouseButton.PRIMARY);
        quiet();
        BitSet stroke = chosen();
        assertThat(stroke.cardinality()).isGreaterThan(touched.cardinality());
        touched.andNot(stroke);
        assertThat(touched.isEmpty()).isTrue();
    }

    @Test
    public void aPickReachesAFaceOrAPart() throws Exception {
        BitSet jumper = islandOfPart(topology(), 1.1, 1.2);
        Point2D at = pointOn(0, jumper);
        press("#tool-face");
        hand.clickOn(at);
        quiet();
        BitSet face = chosen();
        assertThat(face.cardinality()).isEqualTo(3);
        int[] corners = topology().corners();
        boolean found = false;
        for (int t = 0; t < corners.length && !found; t += 3) {
            found = face.get(corners[t]) && face.get(corners[t + 1]) && face.get(corners[t + 2]);
        }
        assertThat(found).as("the three are one triangle").isTrue();
        press("#tool-part");
        hand.clickOn(at);
        quiet();
        assertThat(chosen().cardinality()).isEqualTo(topology().vertexCount());
    }

    @Test
    public void invertMirrorAndWhatAJointMoves() throws Exception {
        float[] p = positions(0);
        BitSet left = islandOfPart(topology(), 0.05, 0.2);
        left.stream().filter(v -> p[v * 3] < 0.02).forEach(left::clear);
        choose(left);
        press("#invert");
        quiet();
        BitSet both = chosen();
        assertThat(both.intersects(left)).isFalse();
        both.or(left);
        assertThat(both.cardinality()).isEqualTo(topology().vertexCount());
        choose(left);
        press("#mirror-choice");
        quiet();
        BitSet right = chosen();
        assertThat(right.isEmpty()).isFalse();
        assertThat(right.stream().allMatch(v -> p[v * 3] < 0))
                .as("the boots' mirror images lie on the other side")
                .isTrue();
        on(() -> {
            desk.selection().joint().set("left_hand");
            return null;
        });
        quiet();
        type("#over", "0.25 + 0.25");
        press("#choose-moved");
        quiet();
        Asset asset = on(() -> desk.now());
        int hand = asset.skins().getFirst().indexOfNode(asset.findNode("left_hand"));
        var rows = asset.meshes().getFirst().primitives().getFirst().influences();
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(chosen().get(v)).isEqualTo(rows.weight(v, hand) > 0.5f);
        }
    }

    @Test
    public void aKeptChoiceOutlivesStepsAndIsSavedWithThem() throws Exception {
        BitSet strap = topology().islandsOf(finding("leak").place().vertices());
        choose(strap);
        type("#keep-as", "strap");
        press("#keep-choice");
        press("#choose-none");
        fix("weight-sums");
        on(() -> {
            desk.apply(
                    new org.cleanmarrow.steps.scale.Convert(desk.target().get().conventions(), true));
            return null;
        });
        quiet();
        press("#choice-strap");
        quiet();
        assertThat(chosen()).isEqualTo(strap);
        assertThat(on(() -> desk.history().ledger().toJson())).contains("\"name\" : \"strap\"");
    }
}
