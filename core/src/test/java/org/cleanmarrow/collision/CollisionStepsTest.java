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
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Shapes, bodies and what joins them: made by steps, carried by others, parted. */
public class CollisionStepsTest {
    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 12).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    private static Asset done(Asset asset, Step... steps) throws Refused {
        Asset out = asset;
        for (Step step : steps) {
            out = step.apply(out, Work.QUIET).asset();
        }
        return out;
    }

    private static Asset furnished(long seed) throws Refused {
        return done(
                RandomAssets.of(seed, 4 + (int) seed % 5, 300),
                new FitShapes("*", ShapeFit.Kind.values()[(int) (seed % 5)], 0.9, 16),
                new StandIn("crate*", StandIn.Kind.HULL),
                new SetBody("joint_*", RigidBody.Kind.FREE, 3),
                new JoinBodies("joint_*"));
    }

    /** Mirrored, turned and in another unit everything stands where it stood, and comes back. */
    @Test(dataProvider = "seeds")
    public void conversionKeepsEverythingInItsPlace(long seed) throws Refused {
        Asset asset = furnished(seed);
        assertThat(Bodies.colliders(asset)).isNotEmpty();
        assertThat(Bodies.joints(asset)).isNotEmpty();
        Asset there = done(asset, new Convert(new Conventions(0.01, Axis.Z, Axis.X, Handedness.LEFT), true));
        Asset back = done(there, new Convert(asset.conventions(), true));
        for (Asset other : List.of(there, back)) {
            Motion motion = MotionProbe.compare(asset, other, Work.QUIET);
            assertThat(motion.unmatched()).isEmpty();
            assertThat(motion.jointsMetres()).isLessThanOrEqualTo(2 * motion.toleranceMetres());
        }
        for (int i = 0; i < Bodies.colliders(asset).size(); i++) {
            double was = cubicMetres(asset, i);
            assertThat(cubicMetres(there, i)).isCloseTo(was, within(1e-4 * was));
        }
    }

    private static double cubicMetres(Asset asset, int collider) {
        return Bodies.cubicMetres(
                asset, new Rig(asset).rest().world(), Bodies.colliders(asset).get(collider));
    }

    private static Collider at(int node, Shape shape) {
        return new Collider("c" + node, node, Frame.NONE, shape);
    }

    private static Asset nodes(Node... nodes) {
        return Asset.of("chain", Conventions.GLTF, List.of(nodes), List.of(), List.of(), List.of());
    }

    @Test
    public void whatIsRoundRefusesAScaleThatDiffersByDirection() throws Refused {
        Node flat = Node.group("flat", Local.of(new Vector3d(), new Quaterniond(), new Vector3d(2, 1, 1)));
        Asset round = nodes(flat).withAttached(List.of(at(0, new Shape.Capsule(1, 1, 2))));
        Replay.Done refused = Replay.one(round, new FreezeNodes(), false, Work.QUIET);
        assertThat(refused.reason()).contains("c0").contains("cannot follow");
        assertThat(refused.asset()).isSameAs(round);
        Asset box = nodes(flat).withAttached(List.of(at(0, new Shape.Box(1, 3, 4))));
        assertThat(Bodies.colliders(done(box, new FreezeNodes())).getFirst().shape())
                .isEqualTo(new Shape.Box(2, 3, 4));
    }

    /** A chain of three that bends by a right angle and twists. */
    private static Asset chain(Shape... shapes) {
        float s = (float) Math.sin(Math.PI / 4);
        Asset asset = nodes(
                Node.group("root", Local.IDENTITY, 1),
                Node.group("link_1", Local.at(0, -1, 0), 2),
                Node.group("link_2", Local.at(0, -1, 0)));
        float[] turns = {0, 0, 0, 1, 0, 0, s, s, 0, 0.2588190f, 0, 0.9659258f};
        Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, new float[] {0, 1, 2}, turns, 4, Storage.FLOAT);
        Clip clip = new Clip(
                "bend",
                List.of(new Channel(2, Channel.Path.ROTATION, keys, "", Passthrough.NONE)),
                24,
                false,
                true,
                List.of(),
                Passthrough.NONE);
        List<Attached> all = new ArrayList<>();
        for (int i = 0; i < shapes.length; i++) {
            all.add(new Collider("c" + i, i, Frame.at(new Vector3d(0, -0.5, 0)), shapes[i]));
        }
        return asset.withClips(List.of(clip)).withAttached(all);
    }

    @DataProvider
    public Object[][] chains() {
        Shape capsule = new Shape.Capsule(0.2, 0.2, 0.9);
        Shape box = new Shape.Box(0.5, 1.2, 0.4);
        Shape ball = new Shape.Sphere(0.6);
        return new Object[][] {
            {capsule, capsule, capsule}, {box, capsule, box}, {ball, ball, ball}, {capsule, box, ball}
        };
    }

    /** Held to by points strewn through one shape, none of which may lie in the other: no distance of ours is asked. */
    @Test(dataProvider = "chains")
    public void partedShapesMeetAtNoMoment(Shape a, Shape b, Shape c) throws Refused {
        Asset asset = chain(a, b, c);
        assertThat(strewnInBoth(asset)).isPositive();
        Asset apart = done(asset, new ShapesApart());
        assertThat(strewnInBoth(apart)).isZero();
        assertThat(new Overlaps(apart).worst(16, Work.QUIET)).isEmpty();
        double was = Bodies.colliders(asset).stream()
                .mapToDouble(x -> x.shape().volume())
                .sum();
        double is = Bodies.colliders(apart).stream()
                .mapToDouble(x -> x.shape().volume())
                .sum();
        assertThat(is / was).isBetween(0.2, 0.999);
        assertThatThrownBy(() -> new ShapesApart().apply(apart, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("No collision shapes");
        Asset passing = done(asset, new ShapesApart(ShapesApart.By.IGNORE));
        assertThat(new Overlaps(passing).worst(4, Work.QUIET)).isEmpty();
        assertThat(Bodies.colliders(passing).stream().map(Collider::shape)).containsExactly(a, b, c);
    }

    private static int strewnInBoth(Asset asset) {
        Rig rig = new Rig(asset);
        Clip clip = asset.clips().getFirst();
        List<Collider> all = Bodies.colliders(asset);
        Random random = new Random(3);
        int many = 0;
        for (int frame = 0; frame <= 192; frame += 6) {
            Matrix4d[] world = rig.at(clip, frame / 96.0).world();
            for (int i = 0; i < all.size(); i++) {
                for (int k = 0; k < 400; k++) {
                    Vector3d p = new Vector3d(random.nextDouble(), random.nextDouble(), random.nextDouble())
                            .sub(0.5, 0.5, 0.5);
                    p.mul(all.get(i).shape().size());
                    boolean in = inside(all.get(i).shape(), p);
                    world(world, all.get(i)).transformPosition(p);
                    for (int j = 0; in && j < all.size(); j++) {
                        Vector3d q = world(world, all.get(j)).invert().transformPosition(new Vector3d(p));
                        many += i != j && inside(all.get(j).shape(), q) ? 1 : 0;
                    }
                }
            }
        }
        return many;
    }

    private static Matrix4d world(Matrix4d[] world, Collider c) {
        return new Matrix4d(world[c.node()]).mul(c.at().matrix());
    }

    private static boolean inside(Shape shape, Vector3d p) {
        return switch (shape) {
            case Shape.Box b -> Math.abs(p.x) < b.x() / 2 && Math.abs(p.y) < b.y() / 2 && Math.abs(p.z) < b.z() / 2;
            case Shape.Sphere s -> p.length() < s.radius();
            case Shape.Capsule k -> p.distance(0, Math.clamp(p.y, -k.height() / 2, k.height() / 2), 0) < k.bottom();
            default -> throw new AssertionError(shape);
        };
    }

    @Test
    public void limitsComeFromClipsFromTheSwingOrFromTheAngles() throws Refused {
        Asset asset = chain();
        Asset joined = done(asset, new JoinBodies("root, link_*"));
        assertThat(Bodies.all(joined))
                .extracting(RigidBody::kind)
                .containsExactly(RigidBody.Kind.STILL, RigidBody.Kind.FREE, RigidBody.Kind.FREE);
        RigidJoint second = Bodies.joints(joined).get(1);
        assertThat(second.other()).isEqualTo(1);
        // A lean of 90 degrees to one side, and a twist of 30 about the link's length, which is its y.
        assertThat(second.limits().get(1).most()).isCloseTo(Math.PI / 2, within(1e-5));
        assertThat(second.limits().get(1).axes()).isEqualTo(5);
        assertThat(second.limits().get(2).most()).isCloseTo(Math.PI / 6, within(1e-5));
        assertThat(second.limits().get(2).axes()).isEqualTo(2);
        RigidJoint first = Bodies.joints(joined).getFirst();
        assertThat(first.limits().get(1).most()).isCloseTo(Math.toRadians(45), within(1e-12));
        List<Node> swung = new ArrayList<>(asset.nodes());
        swung.set(1, new Swing(0, -10, 68).on(swung.get(1)));
        RigidJoint hinge =
                Bodies.joints(done(asset.withNodes(swung), new JoinBodies("*"))).getFirst();
        assertThat(hinge.limits().get(2))
                .isEqualTo(new RigidJoint.Limit(true, 1, Math.toRadians(-10), Math.toRadians(68)));
        assertThat(hinge.limits().get(1)).isEqualTo(new RigidJoint.Limit(true, 6, 0, 0));
    }

    /** Water in a box of 2 by 3 by 5 centimetres weighs 30 grams, whatever the unit of the asset. */
    @Test
    public void massComesFromVolumeAndDensity() throws Refused {
        Conventions centimetres = new Conventions(0.01, Axis.Y, Axis.Z, Handedness.RIGHT);
        Asset asset = Asset.of(
                        "box", centimetres, List.of(Node.group("box", Local.IDENTITY)), List.of(), List.of(), List.of())
                .withAttached(List.of(at(0, new Shape.Box(2, 3, 5))));
        Asset set = done(asset, new SetBody("box", RigidBody.Kind.FREE, 0, 1000, 0.1, 0.2, 1, 0.5, 0.25));
        assertThat(Bodies.all(set).getFirst().mass().kilograms()).isCloseTo(0.03, within(1e-12));
        assertThat(Bodies.colliders(set).getFirst().surface())
                .isEqualTo(new Surface(0.5, 0.5, 0.25, "average", "average"));
        // The same box in a node that is twice as large weighs eight times as much.
        Node twice = Node.group("box", Local.of(new Vector3d(), new Quaterniond(), new Vector3d(2)));
        Asset large =
                done(set.withNodes(List.of(twice)), new SetBody("box", RigidBody.Kind.FREE, 0, 1000, 0, 0, 1, -1, -1));
        assertThat(Bodies.all(large).getFirst().mass().kilograms()).isCloseTo(0.24, within(1e-12));
        Matrix4d[] world = new Rig(large).rest().world();
        assertThat(Bodies.sizeMetres(large, world, Bodies.colliders(large).getFirst())
                        .distance(0.04, 0.06, 0.1))
                .isLessThan(1e-12);
        Asset again = done(set, new SetBody("box", RigidBody.Kind.KEYFRAMED, 2));
        assertThat(Bodies.all(again)).hasSize(1);
        assertThat(Bodies.colliders(again).getFirst().surface().restitution()).isEqualTo(0.25);
    }

    @Test
    public void refusalsSayWhatToDo() {
        Asset asset = RandomAssets.of(8);
        List<Step> wrong = List.of(
                new FitShapes("nobody", ShapeFit.Kind.BEST, 0.9, 24),
                new FitShapes("*", ShapeFit.Kind.BEST, 0.2, 24),
                new StandIn("nobody", StandIn.Kind.BOX),
                new StandIn("figure", StandIn.Kind.BOX),
                new ShapesApart(),
                new SetBody("nobody", RigidBody.Kind.FREE, 1),
                new SetBody("*", RigidBody.Kind.FREE, -1),
                new JoinBodies("joint_1"));
        for (Step step : wrong) {
            Replay.Done done = Replay.one(asset, step, false, Work.QUIET);
            assertThat(done.reason()).as(step.toString()).isNotEmpty();
            assertThat(done.asset()).isSameAs(asset);
        }
    }
}
