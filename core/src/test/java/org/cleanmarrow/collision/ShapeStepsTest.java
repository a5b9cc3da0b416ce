package org.cleanmarrow.collision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.LongStream;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.steps.collision.MirrorShapes;
import org.cleanmarrow.steps.collision.PlaceShape;
import org.cleanmarrow.steps.collision.RemoveCollision;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.SetShapes;
import org.cleanmarrow.steps.collision.ShapesFromParts;
import org.cleanmarrow.steps.collision.ShapesToParts;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Shapes by hand and by name: placed, mirrored, set, removed, made of parts and parts of them. */
public class ShapeStepsTest {
    private static Asset done(Asset asset, Step... steps) throws Refused {
        Asset out = asset;
        for (Step step : steps) {
            out = step.apply(out, Work.QUIET).asset();
        }
        return out;
    }

    private static Asset nodes(Node... nodes) {
        return Asset.of("shed", Conventions.GLTF, List.of(nodes), List.of(), List.of(), List.of());
    }

    private static Collider only(Asset asset) {
        assertThat(Bodies.colliders(asset)).hasSize(1);
        return Bodies.colliders(asset).getFirst();
    }

    private static ShapeNumbers numbers(double... x) {
        return new ShapeNumbers(
                new Vector3d(x[0], x[1], x[2]), new Vector3d(x[3], x[4], x[5]), new Vector3d(x[6], x[7], x[8]));
    }

    private static ShapeNumbers read(Asset asset, Collider c) {
        return ShapeNumbers.of(c.moved(Bodies.toMetres(asset, c.node())));
    }

    @DataProvider
    public Object[][] kinds() {
        return new Object[][] {
            {PlaceShape.Kind.BOX, 0.2, 0.5, 0.3},
            {PlaceShape.Kind.SPHERE, 0.4, 0.4, 0.4},
            {PlaceShape.Kind.CAPSULE, 0.2, 0.7, 0.2},
            {PlaceShape.Kind.CYLINDER, 0.3, 0.6, 0.3}
        };
    }

    /** In any unit and hand, at a turned and scaled node, the numbers that are read are those that were typed. */
    @Test(dataProvider = "kinds")
    public void aShapeStandsWhereItsNumbersSay(PlaceShape.Kind kind, double x, double y, double z) throws Refused {
        Local at = Local.of(new Vector3d(1, 2, 3), new Quaterniond().rotateXYZ(0.3, 0.5, 0.7), new Vector3d(2));
        for (Conventions own : List.of(Conventions.GLTF, new Conventions(0.01, Axis.Z, Axis.X, Handedness.LEFT))) {
            Asset asset = nodes(Node.group("crate", at)).withConventions(own);
            ShapeNumbers typed = numbers(0.1, -0.2, 0.3, 20, -30, 40, x, y, z);
            Asset placed = done(asset, new PlaceShape("crate", "edge", kind, typed));
            ShapeNumbers said = read(placed, only(placed));
            assertThat(said.middle().distance(typed.middle())).isLessThan(1e-9);
            assertThat(said.degrees().distance(typed.degrees())).isLessThan(1e-6);
            assertThat(said.size().distance(typed.size())).isLessThan(1e-9);
            // By hand: the node's own turn and place, its scale left out, in the asset's unit.
            Vector3d there = new Quaterniond()
                    .rotateXYZ(0.3, 0.5, 0.7)
                    .transform(new Vector3d(typed.middle()).div(own.metresPerUnit()))
                    .add(1, 2, 3);
            Vector3d middle = new Rig(placed)
                    .rest()
                    .world()[0]
                    .transformPosition(new Vector3d(only(placed).at().origin()));
            assertThat(middle.distance(there)).isLessThan(1e-5 * there.length());
            Vector3d metres = Bodies.sizeMetres(placed, new Rig(placed).rest().world(), only(placed));
            assertThat(metres.distance(typed.size())).isLessThan(1e-9);
            // A second time it is the same shape, moved; sizes that are not said stay.
            Asset moved = done(
                    placed,
                    new PlaceShape("crate", "edge", PlaceShape.Kind.AS_IS, numbers(1, 1, 1, 0, 90, 0, 0, 2 * y, 0)));
            ShapeNumbers then = read(moved, only(moved));
            assertThat(then.middle().distance(1, 1, 1)).isLessThan(1e-9);
            assertThat(then.size().x).isCloseTo(x, within(1e-9));
            boolean ball = kind == PlaceShape.Kind.SPHERE;
            assertThat(then.size().y).isCloseTo(ball ? y : 2 * y, within(1e-9));
        }
    }

    /** A hull is stretched and moved as a whole, its corners by the same map. */
    @Test
    public void aHullIsSizedAboutItsMiddle() throws Refused {
        Shape.Solid tetra = new Shape.Solid(
                new float[] {0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, 2}, new int[] {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3}, true);
        Asset asset = nodes(Node.group("crate", Local.IDENTITY))
                .withAttached(List.of(new Collider("", 0, Frame.NONE, tetra)));
        Asset made =
                done(asset, new PlaceShape("crate", "", PlaceShape.Kind.AS_IS, numbers(5, 1, 1, 0, 0, 90, 4, 2, 2)));
        Shape.Solid now = (Shape.Solid) only(made).shape();
        // (0, 0, 0) lies (-1, -1, -1) from the middle: twice as long in x, turned about z, moved to (5, 1, 1).
        assertThat(now.point(0).distance(6, -1, 0)).isLessThan(1e-6);
        assertThat(now.volume()).isCloseTo(2 * tetra.volume(), within(1e-6));
    }

    @Test
    public void whatCannotBePlacedIsSaid() {
        Asset asset = nodes(Node.group("crate", Local.IDENTITY));
        Asset drawn = asset.withAttached(List.of(new Collider("", 0, Frame.NONE, new Shape.Drawn(false))));
        ShapeNumbers unit = numbers(0, 0, 0, 0, 0, 0, 1, 1, 1);
        assertThatThrownBy(() -> done(asset, new PlaceShape("crate", "", PlaceShape.Kind.AS_IS, unit)))
                .hasMessageContaining("crate");
        assertThatThrownBy(() -> done(drawn, new PlaceShape("crate", "", PlaceShape.Kind.BOX, unit)))
                .hasMessageContaining("as it is drawn");
        assertThatThrownBy(() -> done(
                        asset,
                        new PlaceShape("crate", "", PlaceShape.Kind.CAPSULE, numbers(0, 0, 0, 0, 0, 0, 1, 0, 0))))
                .hasMessageContaining("sizes");
        Asset flat = nodes(Node.group("crate", Local.of(new Vector3d(), new Quaterniond(), new Vector3d(1, 0, 1))));
        assertThatThrownBy(() -> done(flat, new PlaceShape("crate", "", PlaceShape.Kind.BOX, unit)))
                .hasMessageContaining("flattened");
        assertThatThrownBy(() -> done(asset, new MirrorShapes("*"))).hasMessageContaining("other side");
        assertThatThrownBy(() -> done(asset, new SetShapes("crate", SetShapes.Use.QUERY)))
                .hasMessageContaining("crate");
        assertThatThrownBy(() -> done(asset, new RemoveCollision("*", RemoveCollision.What.ALL)))
                .hasMessageContaining("nothing was removed");
        assertThatThrownBy(() -> done(drawn, new ShapesToParts("*", "collision", false)))
                .hasMessageContaining("name rule");
        // All that is drawn would be gone.
        assertThatThrownBy(() -> done(shed(), new ShapesFromParts("*", ShapesFromParts.Kind.HULL, Collider.Role.SOLID)))
                .hasMessageContaining("name rule");
    }

    /** Every mark of a shape lies across the plane from one of the other side's, wherever the nodes stand and however they turn. */
    @Test
    public void theOtherSideIsAMirrorImage() throws Refused {
        Random random = new Random(5);
        Quaterniond turn = new Quaterniond().rotateXYZ(0.4, 1.1, -0.3);
        Node left = Node.group("arm_L", Local.of(new Vector3d(0.5, 1, 0.2), turn, new Vector3d(1)));
        Node right = Node.group(
                "arm_R", Local.of(new Vector3d(-0.5, 1, 0.2), new Quaterniond().rotateY(2), new Vector3d(3)));
        float[] cloud = new float[36];
        for (int i = 0; i < cloud.length; i++) {
            cloud[i] = random.nextFloat();
        }
        Frame at = Frame.at(new Vector3d(0.1, 0.2, 0.3), new Quaterniond().rotateXYZ(0.2, 0.3, 0.4));
        List<Attached> shapes = List.of(
                new Collider("box", 0, at, new Shape.Box(0.1, 0.2, 0.3)),
                new Collider("end_L", 0, at, new Shape.Capsule(0.1, 0.2, 0.5)),
                new Collider(
                        "hull",
                        0,
                        Frame.NONE,
                        Hull.of(doubles(cloud)).orElseThrow().shape()));
        Asset asset = nodes(left, right).withAttached(shapes);
        Asset both = done(asset, new MirrorShapes("arm_L"), new MirrorShapes("arm_L"));
        assertThat(Bodies.colliders(both))
                .extracting(Collider::name)
                .containsExactly("box", "end_L", "hull", "box", "end_R", "hull");
        for (int i = 0; i < 3; i++) {
            List<Vector3d> here = marks(both, i);
            List<Vector3d> there = marks(both, 3 + i);
            for (Vector3d p : here) {
                assertThat(there).anyMatch(q -> q.distance(-p.x, p.y, p.z) < 1e-5);
            }
        }
    }

    private static double[] doubles(float[] x) {
        double[] out = new double[x.length];
        for (int i = 0; i < x.length; i++) {
            out[i] = x[i];
        }
        return out;
    }

    private static List<Vector3d> marks(Asset asset, int collider) {
        Collider c = Bodies.colliders(asset).get(collider);
        Matrix4d at = new Rig(asset).rest().world()[c.node()].mul(c.at().matrix(), new Matrix4d());
        return c.shape().marks().stream()
                .map(p -> at.transformPosition(new Vector3d(p)))
                .toList();
    }

    @Test
    public void rolesAndSurfacesAreSetAndThingsRemoved() throws Refused {
        Asset asset = done(
                nodes(Node.group("post", Local.IDENTITY), Node.group("rail", Local.IDENTITY)),
                new PlaceShape("post", "foot", PlaceShape.Kind.BOX, numbers(0, 0, 0, 0, 0, 0, 1, 1, 1)),
                new PlaceShape("rail", "", PlaceShape.Kind.BOX, numbers(0, 0, 0, 0, 0, 0, 1, 1, 1)),
                new SetBody("*", org.cleanmarrow.collision.RigidBody.Kind.FREE, 2),
                new SetShapes("foot", SetShapes.Use.TRIGGER, 0.25, 0.75));
        Collider foot = Bodies.colliders(asset).getFirst();
        assertThat(foot.role()).isEqualTo(Collider.Role.TRIGGER);
        assertThat(foot.surface().staticFriction()).isEqualTo(0.25);
        assertThat(foot.surface().restitution()).isEqualTo(0.75);
        assertThat(Bodies.colliders(asset).get(1).role()).isEqualTo(Collider.Role.SOLID);
        Asset fewer = done(asset, new RemoveCollision("post", RemoveCollision.What.SHAPES));
        assertThat(Bodies.colliders(fewer)).extracting(Collider::node).containsExactly(1);
        assertThat(Bodies.all(fewer)).hasSize(2);
        assertThat(done(fewer, new RemoveCollision("*", RemoveCollision.What.ALL))
                        .attached())
                .isEmpty();
    }

    private static Asset shed() {
        Solids.Solid crate = Solids.box(0, 0, 0, 2, 1, 1);
        Solids.Solid rough = Solids.box(-0.1, -0.1, -0.1, 2.1, 1.1, 1.1);
        Node oar = Node.group("oar", Local.of(new Vector3d(1, 0, 0), new Quaterniond().rotateY(1), new Vector3d(1)), 1)
                .withMesh(0, -1);
        Node stand = Node.group("oar_collision", Local.at(0.5, 0, 0)).withMesh(1, -1);
        Node beside = Node.group("bin_collision", Local.at(4, 0, 0)).withMesh(1, -1);
        return Asset.of(
                "shed",
                Conventions.GLTF,
                List.of(oar, stand, beside),
                List.of(mesh("oar", crate), mesh("rough", rough)),
                List.of(),
                List.of());
    }

    private static Mesh mesh(String name, Solids.Solid solid) {
        return Mesh.of(name, Primitive.triangles(solid.corners(), solid.positions(), null, -1));
    }

    /** A part stands for the one it is named after, is drawn no more, and stands where it stood; and back again. */
    @Test
    public void aNameRuleMakesPartsShapesAndShapesParts() throws Refused {
        Asset asset = shed();
        Asset made = done(asset, new ShapesFromParts("*_collision", ShapesFromParts.Kind.HULL, Collider.Role.SOLID));
        assertThat(made.nodes()).extracting(Node::name).containsExactly("oar", "bin_collision");
        assertThat(made.meshes()).extracting(Mesh::name).containsExactly("oar");
        assertThat(Bodies.colliders(made)).extracting(Collider::node).containsExactly(0, 1);
        assertThat(Bodies.colliders(made)).extracting(Collider::name).containsExactly("oar_collision", "bin_collision");
        Matrix4d was = new Rig(asset).rest().world()[1];
        Solids.Solid rough = Solids.box(-0.1, -0.1, -0.1, 2.1, 1.1, 1.1);
        List<Vector3d> marks = marks(made, 0);
        for (int v = 0; v < 8; v++) {
            Vector3d p = was.transformPosition(Solids.point(rough.positions(), v));
            assertThat(marks).anyMatch(q -> q.distance(p) < 1e-5);
        }
        Asset back = done(made, new ShapesToParts("*", "*_collision", false));
        assertThat(back.attached()).isEmpty();
        assertThat(back.nodes())
                .extracting(Node::name)
                .containsExactly("oar", "bin_collision", "oar_collision", "bin_collision_collision");
        Matrix4d stands = new Rig(back).rest().world()[2];
        float[] drawn = back.meshes()
                .get(back.nodes().get(2).mesh())
                .primitives()
                .getFirst()
                .positions();
        for (int v = 0; v < drawn.length / 3; v++) {
            Vector3d p = stands.transformPosition(Solids.point(drawn, v));
            assertThat(marks).anyMatch(q -> q.distance(p) < 1e-5);
        }
    }

    @DataProvider
    public Object[][] facets() {
        return new Object[][] {
            {new Shape.Sphere(0.7)},
            {new Shape.Capsule(0.3, 0.3, 1)},
            {new Shape.Capsule(0.2, 0.5, 0.9)},
            {new Shape.Capsule(0.5, 0.2, 0.1)},
            {new Shape.Cylinder(0.4, 0.1, 1)},
            {new Shape.Box(1, 2, 3)}
        };
    }

    /** Facets are closed, lie within the shape and nearly fill it: its volume is the formula's. */
    @Test(dataProvider = "facets")
    public void facetsNearlyFillTheShape(Shape shape) {
        ShapeMesh mesh = ShapeMesh.of(shape);
        Hull solid = new Hull(doubles(mesh.points()), mesh.triangles());
        assertThat(solid.volume()).isBetween(0.9 * shape.volume(), shape.volume() * (1 + 1e-6));
        List<Integer> edges = new ArrayList<>();
        for (int i = 0; i < mesh.triangles().length; i++) {
            int next = i % 3 == 2 ? i - 2 : i + 1;
            edges.add(1000 * mesh.triangles()[i] + mesh.triangles()[next]);
        }
        assertThat(edges).doesNotHaveDuplicates().allMatch(e -> edges.contains(e % 1000 * 1000 + e / 1000));
    }

    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 6).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    /** Nothing that is drawn or moves changes by any of it. */
    @Test(dataProvider = "seeds")
    public void nothingElseMoves(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed, 5, 200);
        Asset made = done(
                asset,
                new FitShapes(),
                new StandIn("crate*", StandIn.Kind.PARTS),
                new ShapesToParts("*", "*_collision", true));
        Motion motion = MotionProbe.compare(asset, made, Work.QUIET);
        assertThat(motion.largestMetres()).isLessThanOrEqualTo(2 * motion.toleranceMetres());
        assertThat(motion.jointsMetres()).isLessThanOrEqualTo(2 * motion.toleranceMetres());
        Replay.Done back = Replay.one(
                made,
                new ShapesFromParts("*_collision", ShapesFromParts.Kind.HULL, Collider.Role.SOLID),
                false,
                Work.QUIET);
        assertThat(back.reason()).isEmpty();
        assertThat(back.asset().nodes()).hasSameSizeAs(asset.nodes());
        assertThat(back.asset().meshes()).hasSameSizeAs(asset.meshes());
    }

    /** A gate that turns about a post beside it, by keys of its own middle: the post is found, and how far it turns. */
    @Test
    public void theHingeOfAClipIsFound() throws Refused {
        Vector3d axis = new Vector3d(0.2, 1, 0.1).normalize();
        Vector3d post = new Vector3d(3, 0, 1);
        Vector3d middle = new Vector3d(4, 1, 1);
        int count = 20;
        float[] times = new float[count];
        float[] places = new float[3 * count];
        float[] turns = new float[4 * count];
        for (int k = 0; k < count; k++) {
            times[k] = k;
            Quaterniond q = new Quaterniond().rotationAxis(Math.toRadians(4 * k - 10), axis.x, axis.y, axis.z);
            Vector3d p = q.transform(new Vector3d(middle).sub(post)).add(post);
            for (int i = 0; i < 3; i++) {
                places[3 * k + i] = (float) p.get(i);
            }
            turns[4 * k] = (float) q.x;
            turns[4 * k + 1] = (float) q.y;
            turns[4 * k + 2] = (float) q.z;
            turns[4 * k + 3] = (float) q.w;
        }
        Clip swings = new Clip(
                "swings",
                List.of(
                        channel(Channel.Path.TRANSLATION, times, places, 3),
                        channel(Channel.Path.ROTATION, times, turns, 4)),
                1,
                false,
                true,
                Passthrough.NONE);
        Asset asset = nodes(Node.group("yard", Local.IDENTITY), Node.group("gate", Local.at(4, 1, 1)))
                .withClips(List.of(swings));
        ClipHinge hinge = ClipHinge.of(asset, 1, 0).orElseThrow();
        assertThat(Math.toDegrees(hinge.least())).isCloseTo(-10, within(0.01));
        assertThat(Math.toDegrees(hinge.most())).isCloseTo(66, within(0.01));
        Vector3d along = hinge.at().axis(0);
        assertThat(along.angle(axis)).isLessThan(1e-4);
        Vector3d off = new Vector3d(hinge.at().origin()).add(middle).sub(post);
        assertThat(off.cross(axis, new Vector3d()).length()).as("on the axis").isLessThan(1e-4);
        RigidJoint joint = Bodies.joints(
                        done(asset, new JoinBodies("yard, gate", JoinBodies.Range.HINGE, 45, 20, 0, 0, false)))
                .getFirst();
        assertThat(joint.limits().getLast().most()).isCloseTo(Math.toRadians(66), within(1e-4));
        // What shifts as well hangs on no hinge.
        float[] shifted = places.clone();
        shifted[3 * count - 1] += 1;
        Clip slides = swings.withChannels(List.of(
                channel(Channel.Path.TRANSLATION, times, shifted, 3),
                swings.channels().get(1)));
        assertThat(ClipHinge.of(asset.withClips(List.of(slides)), 1, 0)).isEmpty();
    }

    private static Channel channel(Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(1, path, sampler, "", Passthrough.NONE);
    }

    /** A row of joints that hangs from a person is a chain, her own limbs are not; parts that nothing deforms are loose. */
    @Test
    public void chainsAndLoosePartsAreSets() throws Refused {
        Asset person = StickFigure.of(1.8);
        assertThatThrownBy(() -> done(person, new FitShapes("*", ShapeFit.Kind.BEST, 0.98, 24, FitShapes.Set.CHAINS)))
                .hasMessageContaining("three or more");
        Asset random = RandomAssets.of(3, 6, 400);
        Asset loose = done(random, new FitShapes("*", ShapeFit.Kind.BOX, 1, 24, FitShapes.Set.LOOSE));
        assertThat(Bodies.colliders(loose)).isNotEmpty().allMatch(c -> {
            Node node = loose.nodes().get(c.node());
            return node.mesh() >= 0 && node.skin() < 0;
        });
        long parts = random.nodes().stream()
                .filter(n -> n.mesh() >= 0 && n.skin() < 0)
                .count();
        assertThat(Bodies.colliders(loose)).hasSize((int) parts);
    }
}
