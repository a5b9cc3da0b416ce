package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.withPrecision;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.function.DoubleFunction;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.skeleton.Rebind;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Keys made of a known way follow it; and what is asked node by node is what the whole pose has. */
public class BakerTest {
    private static Channel mover(Sampler.Interpolation kind, float... times) {
        int width = kind == Sampler.Interpolation.CUBICSPLINE ? 9 : 3;
        return new Channel(
                0,
                Channel.Path.TRANSLATION,
                new Sampler(kind, times, new float[times.length * width], 3, Storage.FLOAT),
                "",
                Passthrough.NONE);
    }

    private static double worst(List<Channel> keys, DoubleFunction<Local> way, double to, boolean turns) {
        double worst = 0;
        double[] value = new double[4];
        for (double t = 0; t <= to; t += to / 997) {
            Local wanted = way.apply(t);
            for (Channel channel : keys) {
                if (channel.path() == Channel.Path.TRANSLATION && !turns) {
                    Keys.sample(channel.sampler(), t, value);
                    worst = Math.max(worst, wanted.translationVector().distance(value[0], value[1], value[2]));
                } else if (channel.path() == Channel.Path.ROTATION && turns) {
                    Keys.sampleRotation(channel.sampler(), t, value);
                    Quaterniond is = new Quaterniond(value[0], value[1], value[2], value[3]);
                    Quaterniond off = is.conjugate().mul(wanted.rotationQuaternion());
                    worst = Math.max(worst, 2 * new Vector3d(off.x, off.y, off.z).length());
                }
            }
        }
        return worst;
    }

    /** A point on a circle between two keys: a chord of angle a is off by r (1 - cos(a / 2)), so keys must be added. */
    @Test
    public void aCircleIsFollowedWithinItsTolerance() {
        DoubleFunction<Local> way = t -> Local.of(
                new Vector3d(Math.cos(2 * t), Math.sin(2 * t), 0.3 * t),
                new Quaterniond().rotationZ(2 * t),
                new Vector3d(1));
        List<Channel> movers = List.of(mover(Sampler.Interpolation.LINEAR, 0, 3));
        int before = 2;
        for (double tolerance : new double[] {1e-2, 1e-3, 1e-4}) {
            float[] times = Baker.times(movers, way, tolerance, 1);
            assertThat(times.length).isGreaterThan(before);
            before = times.length;
            List<Channel> keys = Baker.channels(0, times, false, way, Local.IDENTITY);
            assertThat(keys).extracting(Channel::path).containsExactly(Channel.Path.TRANSLATION, Channel.Path.ROTATION);
            assertThat(worst(keys, way, 3, false)).isLessThan(1.5 * tolerance);
            assertThat(worst(keys, way, 3, true)).isLessThan(1.5 * tolerance);
        }
        // Twenty-five times finer takes about five times as many keys: the error of a chord goes with its square.
        assertThat(before).isBetween(100, 900);
    }

    @Test
    public void whatGoesStraightNeedsNoFurtherKeys() {
        DoubleFunction<Local> way = t -> Local.at(t, 2 * t, -t);
        float[] times = Baker.times(List.of(mover(Sampler.Interpolation.LINEAR, 0, 1, 4)), way, 1e-6, 1);
        assertThat(times).containsExactly(0, 1, 4);
        List<Channel> still = Baker.channels(0, times, false, t -> Local.at(7, 8, 9), Local.at(7, 8, 9));
        assertThat(still).as("what stays at rest is not keyed").isEmpty();
    }

    @Test
    public void stepsStayStepsAndAreHeldBesideWhatGoesOn() {
        List<Channel> steps = List.of(mover(Sampler.Interpolation.STEP, 0, 1, 2));
        DoubleFunction<Local> way = t -> Local.at(t >= 2 ? 5 : t >= 1 ? 3 : 0, 0, 0);
        float[] times = Baker.times(steps, way, 1e-4, 1);
        assertThat(times).containsExactly(0, 1, 2);
        assertThat(Baker.stepped(steps)).isTrue();
        List<Channel> both = List.of(steps.getFirst(), mover(Sampler.Interpolation.LINEAR, 0, 2));
        float[] held = Baker.times(both, way, 1e-4, 1);
        assertThat(held).contains(0, 1, 2, Math.nextDown(1f), Math.nextDown(2f));
        List<Channel> keys = Baker.channels(0, held, false, way, Local.IDENTITY);
        assertThat(worst(keys, way, 1.99, false)).isLessThan(1e-4);
    }

    @Test
    public void partsOfAMatrixGiveItBackAndShearIsMeasured() {
        Matrix4d m = new Matrix4d()
                .translationRotateScale(
                        new Vector3d(1, 2, 3), new Quaterniond().rotationXYZ(0.3, -1, 2), new Vector3d(2, 0.5, -1.5));
        assertThat(Baker.parts(m).toMatrix().equals(m, 1e-5)).isTrue();
        assertThat(Baker.shear(m)).isLessThan(1e-12);
        // A shear of one in the plane: axes at 45 degrees, whose cosine is 0.7071.
        Matrix4d sheared = new Matrix4d();
        sheared.m10(1);
        assertThat(Baker.shear(sheared)).isCloseTo(Math.sqrt(0.5), within(1e-9));
        assertThat(Double.isNaN(Baker.shear(new Matrix4d().scaling(1, 0, 1)))).isTrue();
    }

    @Test
    public void neighbouringKeysLieOnOneSide() {
        float[] turns = {0, 0, 0, 1, 0, 0, -0.1f, -0.995f, 0, 0, 0.2f, 0.98f};
        Baker.alongTheShorterWay(turns);
        float[] wanted = {0, 0, 0, 1, 0, 0, 0.1f, 0.995f, 0, 0, 0.2f, 0.98f};
        assertThat(turns).containsExactly(wanted, withPrecision(0f));
    }

    @Test
    public void nodeByNodeIsWhatTheWholePoseHas() {
        for (int seed = 1; seed < 6; seed++) {
            Asset asset = RandomAssets.of(seed);
            Rig rig = new Rig(asset);
            for (Clip clip : asset.clips()) {
                NodeMotion motion = new NodeMotion(asset, clip);
                for (double share : new double[] {-0.1, 0, 0.37, 0.8, 1, 1.2}) {
                    double t = clip.start() + clip.seconds() * share;
                    Pose pose = rig.at(clip, t);
                    Matrix4d[] world = pose.world();
                    for (int n = 0; n < world.length; n++) {
                        assertThat(motion.local(n, t).equals(pose.local(n), 1e-12))
                                .isTrue();
                        double reach =
                                1 + world[n].getTranslation(new Vector3d()).length();
                        assertThat(motion.world(n, t).equals(world[n], 1e-9 * reach))
                                .isTrue();
                    }
                }
                long moved = clip.channels().stream()
                        .filter(c -> c.path() != Channel.Path.WEIGHTS)
                        .map(Channel::node)
                        .distinct()
                        .count();
                long said = java.util.stream.IntStream.range(0, asset.nodes().size())
                        .filter(motion::moves)
                        .count();
                assertThat(said).isEqualTo(moved);
            }
        }
    }

    @Test
    public void restAndBindDifferByWhatAJointWasMoved() throws Exception {
        Asset asset = new Rebind().apply(RandomAssets.of(4), Work.QUIET).asset();
        int joint = asset.findNode("joint_1");
        var nodes = new java.util.ArrayList<>(asset.nodes());
        int before = RestAndBind.of(asset).size();
        assertThat(before).isZero();
        Local was = nodes.get(joint).local();
        nodes.set(
                joint,
                nodes.get(joint)
                        .withLocal(Local.of(
                                was.translationVector(),
                                was.rotationQuaternion().rotateX(Math.toRadians(10)),
                                was.scaleVector())));
        List<RestAndBind.Row> rows = RestAndBind.of(asset.withNodes(nodes));
        assertThat(rows.size()).isGreaterThan(before);
        assertThat(rows).anySatisfy(r -> {
            assertThat(r.node()).isEqualTo(joint);
            assertThat(r.degrees()).isCloseTo(10, within(0.01));
            assertThat(r.metres()).isLessThan(1e-5);
        });
    }
}
