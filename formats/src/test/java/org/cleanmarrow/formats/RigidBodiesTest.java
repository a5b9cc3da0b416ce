package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Colliders and bodies in glTF: {@code KHR_implicit_shapes} and {@code KHR_physics_rigid_bodies}. Names, units and defaults are
 * those of their drafts, from memory; no reader of others was at hand.
 */
public class RigidBodiesTest {
    private static Asset read(String json) throws ReadFailed {
        return GltfReader.read(json.getBytes(StandardCharsets.UTF_8), "scene.gltf", null, Work.QUIET);
    }

    private static JsonNode json(byte[] glb) {
        int length = java.nio.ByteBuffer.wrap(glb)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                .getInt(12);
        return JsonMapper.shared().readTree(new String(glb, 20, length, StandardCharsets.UTF_8));
    }

    private static final String SCENE = """
            {"asset":{"version":"2.0"},"extensionsUsed":["KHR_implicit_shapes","KHR_physics_rigid_bodies"],
             "extensionsRequired":["KHR_physics_rigid_bodies"],
             "extensions":{
              "KHR_implicit_shapes":{"shapes":[
               {"type":"box","box":{"size":[1,2,3]}},{"type":"sphere"},
               {"type":"capsule","capsule":{"height":2,"radiusBottom":0.5,"radiusTop":0.25}},
               {"type":"cylinder","cylinder":{"radiusTop":0.75}}]},
              "KHR_physics_rigid_bodies":{
               "physicsMaterials":[{"staticFriction":0.9,"restitution":0.3,"restitutionCombine":"maximum"}],
               "collisionFilters":[{"collisionSystems":["boat"],"notCollideWithSystems":["water"]}],
               "physicsJoints":[{"limits":[{"linearAxes":[0,1,2],"min":0,"max":0},
                 {"angularAxes":[1],"min":-0.5,"max":0.25,"stiffness":8,"damping":2}],
                "drives":[{"type":"angular","axis":1,"stiffness":3,"damping":1,"maxForce":40}]}]}},
             "scene":0,"scenes":[{"nodes":[0,4]}],
             "nodes":[
              {"name":"hull","children":[1,2,3],"extensions":{"KHR_physics_rigid_bodies":{"motion":
                {"mass":20,"centerOfMass":[0,1,0],"inertiaDiagonal":[1,2,3],"gravityFactor":0.5}}}},
              {"name":"deck","translation":[0,2,0],"rotation":[0,0,0.6,0.8],
               "extensions":{"KHR_physics_rigid_bodies":{"collider":
                {"geometry":{"shape":0},"physicsMaterial":0,"collisionFilter":0}}}},
              {"name":"hold","extensions":{"KHR_physics_rigid_bodies":{"trigger":{"geometry":{"shape":3}}}}},
              {"name":"rope","translation":[0,0,4],"extensions":{"KHR_physics_rigid_bodies":{"joint":
                {"connectedNode":5,"joint":0,"enableCollision":true}}}},
              {"name":"buoy","children":[5],"extensions":{"KHR_physics_rigid_bodies":{"motion":{"isKinematic":true},
                "collider":{"geometry":{"shape":2}}}}},
              {"translation":[0,1,0]}]}
            """;

    @Test
    public void aSceneIsReadAsItIsMeant() throws Exception {
        Asset asset = read(SCENE);
        assertThat(asset.nodes()).extracting(n -> n.name()).containsExactly("hull", "buoy");
        assertThat(asset.carried().hasExtensions()).isFalse();
        Collider deck = Bodies.colliders(asset).getFirst();
        assertThat(deck.name()).isEqualTo("deck");
        assertThat(deck.node()).isZero();
        assertThat(deck.shape()).isEqualTo(new Shape.Box(1, 2, 3));
        assertThat(deck.at().origin().y()).isEqualTo(2);
        // A turn of 73.74 degrees about z, as the quaternion (0, 0, 0.6, 0.8) has it: x goes to (0.28, 0.96).
        assertThat(deck.at().axis(0).distance(0.28, 0.96, 0)).isLessThan(1e-6);
        assertThat(deck.surface()).isEqualTo(new Surface(0.9, 0.6, 0.3, "average", "maximum"));
        assertThat(deck.filter()).isEqualTo(new Filter(List.of("boat"), List.of(), List.of("water")));
        assertThat(Bodies.colliders(asset).get(1).role()).isEqualTo(Collider.Role.TRIGGER);
        assertThat(Bodies.colliders(asset).get(1).shape()).isEqualTo(new Shape.Cylinder(0.25, 0.75, 0.5));
        assertThat(Bodies.colliders(asset).get(2).shape()).isEqualTo(new Shape.Capsule(0.5, 0.25, 2));
        RigidBody hull = Bodies.all(asset).getFirst();
        assertThat(hull.kind()).isEqualTo(RigidBody.Kind.FREE);
        assertThat(hull.mass().kilograms()).isEqualTo(20);
        assertThat(hull.mass().inertia()).isEqualTo(new Vector3d(1, 2, 3));
        assertThat(hull.damping().gravity()).isEqualTo(0.5);
        assertThat(Bodies.all(asset).get(1).kind()).isEqualTo(RigidBody.Kind.KEYFRAMED);
        RigidJoint rope = Bodies.joints(asset).getFirst();
        assertThat(rope.node()).isZero();
        assertThat(rope.other()).isEqualTo(1);
        assertThat(rope.meet()).isTrue();
        assertThat(rope.limits().get(1)).isEqualTo(new RigidJoint.Limit(true, 2, -0.5, 0.25, 8, 2));
        assertThat(rope.drives().getFirst().force()).isEqualTo(40);
    }

    @Test
    public void whatIsReadIsWrittenAgainToTheByte() throws Exception {
        Asset asset = read(SCENE);
        byte[] glb = GltfWriter.glb(asset);
        Asset again = GltfReader.read(glb, "scene.glb", null, Work.QUIET);
        assertThat(json(GltfWriter.glb(again)).toPrettyString())
                .isEqualTo(json(glb).toPrettyString());
        assertThat(GltfWriter.glb(again)).isEqualTo(glb);
        assertThat(again.attached()).isEqualTo(asset.attached());
        // The Khronos validator does not know these extensions; around them it finds nothing.
        Path file = Files.write(Files.createTempDirectory("bodies").resolve("scene.glb"), glb);
        JsonNode verdict = Witness.validated(file);
        assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
        JsonNode json = json(glb);
        assertThat(json.path("extensionsUsed").valueStream().map(JsonNode::stringValue))
                .containsExactlyInAnyOrder("KHR_implicit_shapes", "KHR_physics_rigid_bodies");
        assertThat(json.at("/extensions/KHR_implicit_shapes/shapes/1").toString())
                .isEqualTo("{\"type\":\"box\",\"box\":{\"size\":[1.0,2.0,3.0]}}");
    }

    @DataProvider
    public Object[][] seeds() {
        return java.util.stream.LongStream.range(0, 8)
                .mapToObj(s -> new Object[] {s})
                .toArray(Object[][]::new);
    }

    /**
     * Mirrored boxes and round shapes are the same ones: a delivery of a converted asset that has some is sound. Turned or longer they
     * are not.
     */
    @Test
    public void formsThatAreMirroredLandAsTheyWereMeantAndOnesThatAreTurnedDoNot() throws Exception {
        Asset asset = RandomAssets.of(3);
        Frame at = Frame.at(new Vector3d(0.25, -0.5, 1), new Quaterniond(0.1, 0.7, -0.2, 0.5).normalize());
        Frame turned = Frame.at(at.origin(), new Quaterniond(at.turn()).rotateZ(0.3));
        List<Shape> shapes = List.of(
                new Shape.Box(1, 0.5, 0.25),
                new Shape.Sphere(0.3),
                new Shape.Capsule(0.2, 0.1, 0.5),
                new Shape.Cylinder(0.2, 0.15, 0.5));
        for (Shape shape : shapes) {
            Asset furnished = asset.withAttached(List.of(new Collider("form", 0, at, shape)));
            Asset converted = new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), false)
                    .apply(furnished, Work.QUIET)
                    .asset();
            assertThat(Bodies.colliders(converted).getFirst().at().mirrored()).isTrue();
            Path folder = Files.createTempDirectory("marrow");
            assertThat(Delivery.deliver(converted, folder, "glb", Work.QUIET).differences())
                    .as(shape.toString())
                    .isEmpty();
            Asset other = asset.withAttached(List.of(new Collider("form", 0, turned, shape)));
            assertThat(MotionProbe.compare(furnished, other, Work.QUIET).sound())
                    .as(shape + " turned")
                    .isFalse();
        }
        Asset box = asset.withAttached(List.of(new Collider("form", 0, at, shapes.getFirst())));
        Asset longer = asset.withAttached(List.of(new Collider("form", 0, at, new Shape.Box(1, 0.5, 0.26))));
        assertThat(MotionProbe.compare(box, longer, Work.QUIET).sound()).isFalse();
    }

    /** Everything that may be there, some of it mirrored, through a file: nothing is lost, and nothing moves. */
    @Test(dataProvider = "seeds")
    public void everyKindComesBackInItsPlace(long seed) throws Exception {
        Asset asset = RandomAssets.of(seed);
        Quaterniond turn = new Quaterniond(0.1, 0.7, -0.2, 0.5).normalize();
        Frame plain = Frame.at(new Vector3d(0.25, -0.5, 1), turn);
        Frame mirrored = new Frame(plain.origin(), turn, true);
        List<Attached> all = new ArrayList<>();
        List<Shape> shapes = List.of(
                new Shape.Box(1, 0.5, 0.25),
                new Shape.Sphere(0.3),
                new Shape.Capsule(0.2, 0.1, 0.5),
                new Shape.Cylinder(0.2, 0.2, 0.5));
        for (int i = 0; i < 8; i++) {
            all.add(new Collider("shape " + i, i % 4, i < 4 ? plain : mirrored, shapes.get(i % 4)));
        }
        all.add(new Collider(
                "",
                1,
                Frame.NONE,
                new Shape.Solid(
                        new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1},
                        new int[] {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3},
                        true),
                Collider.Role.QUERY,
                Surface.PLAIN,
                Filter.ALL));
        all.add(new RigidBody(1, RigidBody.Kind.STILL, 0));
        all.add(new RigidBody(2, RigidBody.Kind.FREE, 4));
        all.add(new RigidJoint(
                "pin",
                2,
                mirrored,
                1,
                List.of(new RigidJoint.Limit(false, 1, -0.5, 2), new RigidJoint.Limit(true, 6, 0, 1)),
                List.of(),
                false));
        Asset furnished = asset.withAttached(all);
        byte[] glb = GltfWriter.glb(furnished);
        Asset again = GltfReader.read(glb, asset.name() + ".glb", null, Work.QUIET);
        assertThat(again.nodes()).hasSameSizeAs(asset.nodes());
        assertThat(again.meshes()).hasSameSizeAs(asset.meshes());
        assertThat(again.attached()).hasSameSizeAs(all);
        assertThat(json(GltfWriter.glb(again)).toPrettyString())
                .isEqualTo(json(glb).toPrettyString());
        assertThat(GltfWriter.glb(again)).isEqualTo(glb);
        List<Collider> back = Bodies.colliders(again);
        for (Collider one : Bodies.colliders(furnished)) {
            Collider twin = back.stream()
                    .filter(c -> c.name().equals(one.name()))
                    .findFirst()
                    .orElseThrow();
            assertThat(twin.node()).isEqualTo(one.node());
            assertThat(twin.role()).isEqualTo(one.role());
            assertThat(twin.shape().volume()).isCloseTo(one.shape().volume(), within(1e-9));
            // What it covers is the same: its symmetric corners, in any order.
            assertThat(sorted(twin))
                    .usingElementComparator((p, q) -> p.distance(q) < 1e-5 ? 0 : 1)
                    .containsExactlyInAnyOrderElementsOf(sorted(one));
        }
        RigidJoint pin = Bodies.joints(again).getFirst();
        // Along axes that point the other way the bounds change places.
        assertThat(pin.limits().getFirst()).isEqualTo(new RigidJoint.Limit(false, 1, -2, 0.5));
        assertThat(new Vector3d(pin.at().axis(0)).distance(mirrored.axis(0).negate()))
                .isLessThan(1e-6);
        Motion motion = MotionProbe.compare(asset.withAttached(List.of()), again.withAttached(List.of()), Work.QUIET);
        assertThat(motion.largestMetres()).isZero();
    }

    private static List<Vector3d> sorted(Collider c) {
        List<Vector3d> out = new ArrayList<>();
        float[] p = c.points();
        for (int i = 0; i < p.length; i += 3) {
            out.add(new Vector3d(p[i], p[i + 1], p[i + 2]));
        }
        return out;
    }

    /** The earlier spelling: geometry by the node that has the mesh. */
    @Test
    public void aMeshMayBeNamedByItsNode() throws Exception {
        String buffer = java.util.Base64.getEncoder()
                .encodeToString(java.nio.ByteBuffer.allocate(36)
                        .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                        .putFloat(0)
                        .putFloat(0)
                        .putFloat(0)
                        .putFloat(1)
                        .putFloat(0)
                        .putFloat(0)
                        .putFloat(0)
                        .putFloat(1)
                        .putFloat(0)
                        .array());
        Asset asset = read(
                "{\"asset\":{\"version\":\"2.0\"},\"buffers\":[{\"byteLength\":36,\"uri\":\"data:application/octet-stream;base64,"
                        + buffer
                        + "\"}],\"bufferViews\":[{\"buffer\":0,\"byteLength\":36}],\"accessors\":[{\"bufferView\":0,\"componentType\":5126,"
                        + "\"count\":3,\"type\":\"VEC3\",\"min\":[0,0,0],\"max\":[1,1,0]}],"
                        + "\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0}}]}],\"nodes\":["
                        + "{\"mesh\":0,\"extensions\":{\"KHR_physics_rigid_bodies\":{\"collider\":{\"geometry\":{\"node\":0}}}}},"
                        + "{\"extensions\":{\"KHR_physics_rigid_bodies\":{\"collider\":{\"geometry\":{\"mesh\":0,\"convexHull\":true}}}}}]}");
        assertThat(Bodies.colliders(asset).getFirst().shape()).isEqualTo(new Shape.Drawn(false));
        assertThat(Bodies.colliders(asset).get(1).shape())
                .isInstanceOfSatisfying(
                        Shape.Solid.class, s -> assertThat(s.points()).hasSize(9));
        assertThat(asset.meshes()).hasSize(1);
    }

    @DataProvider
    public Object[][] broken() {
        return new Object[][] {
            {"\"size\":[1,2,3]", "\"size\":[1,0,3]", "above 0"},
            {"\"size\":[1,2,3]", "\"size\":[1,2]", "expected 3 numbers"},
            {"\"type\":\"sphere\"", "\"type\":\"torus\"", "expected box, sphere, capsule or cylinder"},
            {"\"radiusBottom\":0.5", "\"radiusBottom\":-1", "at least 0"},
            {"{\"shape\":0}", "{\"shape\":9}", "there are 4 shapes"},
            {"\"connectedNode\":5", "\"connectedNode\":77", "there are 6 nodes"},
            {"\"physicsMaterial\":0", "\"physicsMaterial\":3", "there are 1 physics materials"},
            {"\"mass\":20", "\"mass\":\"heavy\"", "expected a number"},
            {"\"maximum\"", "\"most\"", "average, minimum, maximum or multiply"},
            {"\"min\":-0.5", "\"min\":0.5", "expected at most 0.25"},
            {"[\"boat\"]", "[7]", "expected texts"},
        };
    }

    @Test(dataProvider = "broken")
    public void whatIsBrokenIsSaidWithItsPlace(String whole, String broken, String said) {
        assertThat(SCENE).contains(whole);
        assertThatThrownBy(() -> read(SCENE.replace(whole, broken)))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("extensions")
                .hasMessageContaining(said);
    }

    @Test
    public void aThingMirroredTwiceIsItself() {
        Collider c = new Collider(
                "",
                0,
                Frame.at(new Vector3d(1, 2, 3), new Quaterniond(0.1, 0.2, 0.3, 0.9).normalize()),
                new Shape.Box(1, 2, 3));
        Matrix4d mirror = new Matrix4d().scaling(-1, 1, 1);
        Collider back = c.moved(mirror).moved(mirror);
        assertThat(back.at().matrix().equals(c.at().matrix(), 1e-12)).isTrue();
    }
}
