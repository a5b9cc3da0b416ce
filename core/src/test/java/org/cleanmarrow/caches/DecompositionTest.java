package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.geometry.RigidFit;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Caches become joints that move as they did. */
public class DecompositionTest {

    /** {@code rigid.json}: SciPy's {@code Rotation.align_vectors} of 24 sets, some flat, some mirrored (tools/reference/rigid.py). */
    @Test
    public void aRigidFitIsAnotherLibrarys() throws Exception {
        JsonNode all;
        try (var in = DecompositionTest.class.getResourceAsStream("rigid.json")) {
            all = JsonMapper.shared().readTree(in);
        }
        assertThat(all.path("cases").size()).isEqualTo(24);
        for (JsonNode one : all.path("cases")) {
            JsonNode p = one.path("p");
            JsonNode q = one.path("q");
            RigidFit.Sums sums = new RigidFit.Sums();
            for (int i = 0; i < one.path("w").size(); i++) {
                // Of both sides alike: the square root of SciPy's weight, and the point as heavy.
                double a = Math.sqrt(one.path("w").path(i).doubleValue());
                sums.add(
                        p.path(3 * i).doubleValue(),
                        p.path(3 * i + 1).doubleValue(),
                        p.path(3 * i + 2).doubleValue(),
                        a * q.path(3 * i).doubleValue(),
                        a * q.path(3 * i + 1).doubleValue(),
                        a * q.path(3 * i + 2).doubleValue(),
                        a);
            }
            RigidFit fit = sums.fit();
            assertThat(fit.turn().determinant()).isCloseTo(1, within(1e-9));
            for (int row = 0; row < 3; row++) {
                for (int column = 0; column < 3; column++) {
                    assertThat(fit.turn().get(column, row))
                            .isCloseTo(one.path("turn").path(3 * row + column).doubleValue(), within(1e-6));
                }
            }
        }
    }

    /** Each of 20 boxes tumbles and flies by itself. */
    private static Asset flying(int boxes, int frames, Local local, int kinds) {
        Random random = new Random(3);
        List<Vector3d> middles = new ArrayList<>();
        Vector3d[] axes = new Vector3d[boxes];
        Vector3d[] speeds = new Vector3d[boxes];
        for (int b = 0; b < boxes; b++) {
            middles.add(new Vector3d(b % 5, b / 5, 0.3 * (b % 3)));
            axes[b] = b >= kinds
                    ? axes[b % kinds]
                    : new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
            speeds[b] = b >= kinds
                    ? speeds[b % kinds]
                    : new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).mul(0.1);
        }
        Primitive p = Cached.boxes(middles, 0.2);
        return Cached.of(p, local, frames, (k, out) -> {
            for (int v = 0; v < p.vertexCount(); v++) {
                int b = v / 8;
                Vector3d about = kinds < boxes ? new Vector3d() : middles.get(b);
                Vector3d at = new Vector3d(p.positions()[3 * v], p.positions()[3 * v + 1], p.positions()[3 * v + 2]);
                new Matrix4d()
                        .translate(new Vector3d(speeds[b]).mul(k))
                        .translate(about)
                        .rotate(0.2 * k, axes[b])
                        .translate(-about.x, -about.y, -about.z)
                        .transformPosition(at);
                out[3 * v] = (float) at.x;
                out[3 * v + 1] = (float) at.y;
                out[3 * v + 2] = (float) at.z;
            }
        });
    }

    @Test
    public void rigidPiecesComeBackWithinRounding() throws Refused {
        Local turned = Local.of(new Vector3d(1, -2, 3), new Quaterniond().rotateXYZ(0.3, 1.1, -0.6), new Vector3d(0.5));
        for (Local local : List.of(Local.IDENTITY, turned)) {
            Asset cached = flying(20, 30, local, 20);
            Change change = new CacheToJoints("part", 100).apply(cached, Work.QUIET);
            Asset jointed = change.asset();
            assertThat(jointed.cachedNodes().isEmpty()).isTrue();
            assertThat(jointed.skins().getLast().joints()).hasSize(20);
            List<float[]> before = Cached.places(cached, 0);
            List<float[]> after = Cached.places(jointed, 0);
            assertThat(after).hasSameSizeAs(before);
            for (int k = 0; k < before.size(); k++) {
                assertThat(Cached.off(before.get(k), after.get(k)))
                        .as("frame " + k)
                        .isLessThan(2e-5);
            }
            assertThat(change.notes().toString()).contains("mm");
        }
    }

    /** Four motions among twenty boxes: four joints are enough, three are not, and the distance is said. */
    @Test
    public void piecesThatMoveAlikeShareAJointWhereThereAreTooMany() throws Refused {
        Asset cached = flying(20, 24, Local.IDENTITY, 4);
        Asset four = new CacheToJoints("part", 4).apply(cached, Work.QUIET).asset();
        assertThat(four.skins().getLast().joints()).hasSize(4);
        List<float[]> before = Cached.places(cached, 0);
        List<float[]> after = Cached.places(four, 0);
        for (int k = 0; k < before.size(); k++) {
            assertThat(Cached.off(before.get(k), after.get(k))).isLessThan(2e-5);
        }
        List<float[]> three = Cached.places(
                new CacheToJoints("part", 3).apply(cached, Work.QUIET).asset(), 0);
        double worst = 0;
        for (int k = 0; k < before.size(); k++) {
            worst = Math.max(worst, Cached.off(before.get(k), three.get(k)));
        }
        assertThat(worst).isGreaterThan(0.05);
    }

    /** Boxes that hang on each other by hinges in a tree: the joints hang as the boxes do, and nothing moves by it. */
    @Test
    public void jointsHangAsWhatTheyMoveDoes() throws Refused {
        int boxes = 11;
        List<Vector3d> middles = new ArrayList<>();
        Random random = new Random(8);
        Vector3d[] axes = new Vector3d[boxes];
        for (int b = 0; b < boxes; b++) {
            int level = 31 - Integer.numberOfLeadingZeros(b + 1);
            middles.add(new Vector3d(4.0 / (1 << level) * (b + 1 - (1 << level) + 0.5), -level, 0.1 * b));
            axes[b] = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
        }
        Primitive p = Cached.boxes(middles, 0.15);
        Asset cached = Cached.of(p, Local.at(1, 2, 3), 20, (k, out) -> {
            Matrix4d[] at = new Matrix4d[boxes];
            for (int b = 0; b < boxes; b++) {
                Vector3d pin = b == 0
                        ? middles.getFirst()
                        : new Vector3d(middles.get(b))
                                .add(middles.get((b - 1) / 2))
                                .mul(0.5);
                at[b] = (b == 0 ? new Matrix4d() : new Matrix4d(at[(b - 1) / 2]))
                        .translate(pin)
                        .rotate(0.5 * Math.sin(0.4 * k + b), axes[b])
                        .translate(-pin.x, -pin.y, -pin.z);
            }
            for (int v = 0; v < p.vertexCount(); v++) {
                Vector3d q = at[v / 8].transformPosition(
                        new Vector3d(p.positions()[3 * v], p.positions()[3 * v + 1], p.positions()[3 * v + 2]));
                out[3 * v] = (float) q.x;
                out[3 * v + 1] = (float) q.y;
                out[3 * v + 2] = (float) q.z;
            }
        });
        Asset tree = new CacheToJoints("part", 100, 4, 0, CacheToJoints.Hierarchy.MOTION)
                .apply(cached, Work.QUIET)
                .asset();
        int[] joints = tree.skins().getLast().joints();
        assertThat(joints).hasSize(boxes);
        int[] parents = tree.parents();
        int tops = 0;
        for (int b = 0; b < boxes; b++) {
            int on = java.util.stream.IntStream.of(joints).boxed().toList().indexOf(parents[joints[b]]);
            tops += on < 0 ? 1 : 0;
            assertThat(on < 0 || on == (b - 1) / 2 || b == (on - 1) / 2)
                    .as("%d hangs on %d", b, on)
                    .isTrue();
        }
        assertThat(tops).isEqualTo(1);
        List<float[]> before = Cached.places(cached, 0);
        List<float[]> after = Cached.places(tree, 0);
        for (int k = 0; k < before.size(); k++) {
            assertThat(Cached.off(before.get(k), after.get(k))).as("frame " + k).isLessThan(2e-5);
        }
    }

    /** A strip that four joints bend, with smooth weights. */
    private static Asset bent(int frames) {
        int rows = 60;
        float[] p = new float[3 * 3 * rows];
        double[][] weights = new double[rows][4];
        for (int r = 0; r < rows; r++) {
            for (int c = 0; c < 3; c++) {
                int v = 3 * r + c;
                p[3 * v] = (float) (r / 15.0);
                p[3 * v + 1] = (float) (c * 0.2);
                p[3 * v + 2] = (float) (0.05 * c * c);
            }
            double place = r / 15.0 - 0.5;
            double sum = 0;
            for (int j = 0; j < 4; j++) {
                weights[r][j] = Math.max(0, 1 - Math.abs(place - j));
                sum += weights[r][j];
            }
            for (int j = 0; j < 4; j++) {
                weights[r][j] /= sum;
            }
        }
        int[] corners = new int[12 * (rows - 1)];
        int end = 0;
        for (int r = 0; r < rows - 1; r++) {
            for (int c = 0; c < 2; c++) {
                int a = 3 * r + c;
                for (int x : new int[] {a, a + 3, a + 1, a + 1, a + 3, a + 4}) {
                    corners[end++] = x;
                }
            }
        }
        Random random = new Random(8);
        Vector3d[] axes = new Vector3d[4];
        double[] phases = new double[4];
        for (int j = 0; j < 4; j++) {
            axes[j] = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
            phases[j] = random.nextDouble() * 6;
        }
        Primitive strip = Primitive.triangles(corners, p, null, -1);
        return Cached.of(strip, Local.IDENTITY, frames, (k, out) -> {
            Matrix4d[] bones = new Matrix4d[4];
            for (int j = 0; j < 4; j++) {
                Vector3d about = new Vector3d(j + 0.5, 0.2, 0);
                double phase = phases[j] + 0.25 * k;
                bones[j] = new Matrix4d()
                        .translate(0, 0.2 * Math.sin(phase), 0.1 * j * Math.cos(phase))
                        .translate(about)
                        .rotate(0.7 * Math.sin(phase + j), axes[j])
                        .translate(-about.x, -about.y, -about.z);
            }
            for (int v = 0; v < strip.vertexCount(); v++) {
                Vector3d at = new Vector3d();
                for (int j = 0; j < 4; j++) {
                    Vector3d q = new Vector3d(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
                    at.fma(weights[v / 3][j], bones[j].transformPosition(q));
                }
                out[3 * v] = (float) at.x;
                out[3 * v + 1] = (float) at.y;
                out[3 * v + 2] = (float) at.z;
            }
        });
    }

    /** Skinned by four joints and known weights, baked, and taken apart again: within a thousandth of its size. */
    @Test
    public void aSkinsMotionIsFoundBack() throws Refused {
        Asset cached = bent(48);
        Asset jointed = new CacheToJoints("part", 4).apply(cached, Work.QUIET).asset();
        assertThat(jointed.skins().getLast().joints()).hasSize(4);
        List<float[]> before = Cached.places(cached, 0);
        List<float[]> after = Cached.places(jointed, 0);
        double sum = 0;
        double worst = 0;
        for (int k = 0; k < before.size(); k++) {
            for (int i = 0; i < before.get(k).length; i++) {
                double d = before.get(k)[i] - after.get(k)[i];
                sum += d * d;
            }
            worst = Math.max(worst, Cached.off(before.get(k), after.get(k)));
        }
        double rms = Math.sqrt(sum / (before.size() * before.getFirst().length / 3.0));
        System.out.printf("decomposition of four joints: rms %.2e, worst %.2e of 4 m%n", rms, worst);
        assertThat(rms).isLessThan(0.001 * 4);
        Influences rows = jointed.meshes().getFirst().primitives().getFirst().influences();
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(rows.rowLength(v)).isLessThanOrEqualTo(4);
            assertThat(rows.sumsToOne(v)).isTrue();
        }
        for (float w : rows.weights()) {
            assertThat(w).isPositive();
        }
    }

    /** More joints are never much worse, and better by far than none that bend. */
    @Test
    public void theDistanceFallsWithJoints() throws Refused {
        Asset cached = bent(24);
        List<float[]> before = Cached.places(cached, 0);
        List<Double> off = new ArrayList<>();
        for (int joints : new int[] {1, 2, 4}) {
            List<float[]> after = Cached.places(
                    new CacheToJoints("part", joints).apply(cached, Work.QUIET).asset(), 0);
            double worst = 0;
            for (int k = 0; k < before.size(); k++) {
                worst = Math.max(worst, Cached.off(before.get(k), after.get(k)));
            }
            off.add(worst);
        }
        assertThat(off.get(1)).isLessThan(off.get(0));
        assertThat(off.get(2)).isLessThan(0.5 * off.get(1));
    }

    @Test
    public void theSameInputGivesTheSameBits() throws Refused {
        Asset a = new CacheToJoints("part", 3).apply(bent(12), Work.QUIET).asset();
        Asset b = new CacheToJoints("part", 3).apply(bent(12), Work.QUIET).asset();
        List<float[]> one = Cached.places(a, 0);
        List<float[]> two = Cached.places(b, 0);
        for (int k = 0; k < one.size(); k++) {
            assertThat(Arrays.equals(one.get(k), two.get(k))).isTrue();
        }
    }

    /** Joints, baked and made joints of again, are what they were. */
    @Test
    public void aClipOfJointsIsBakedAndBecomesJointsAgain() throws Refused {
        Asset cached = flying(6, 10, Local.at(0, 1, 0), 6);
        Asset jointed = new CacheToJoints("part", 6).apply(cached, Work.QUIET).asset();
        Asset baked = new BakeCache("part", "sim").apply(jointed, Work.QUIET).asset();
        List<float[]> joints = Cached.places(baked, 0);
        List<float[]> again = Cached.places(baked, 1);
        for (int k = 0; k < joints.size(); k++) {
            assertThat(Cached.off(joints.get(k), again.get(k))).isLessThan(1e-6);
        }
        Asset led = new BakeCache("part", "sim", "led", 12, true)
                .apply(jointed, Work.QUIET)
                .asset();
        List<float[]> lead = Cached.places(led, 1);
        assertThat(lead).hasSize(22);
        assertThat(Cached.off(lead.get(12), joints.get(0))).isLessThan(1e-6);
        float[] rest =
                jointed.meshes().getFirst().primitives().getFirst().positions().clone();
        for (int v = 1; v < rest.length; v += 3) {
            rest[v] += 1;
        }
        assertThat(Cached.off(lead.get(0), rest)).isLessThan(1e-5);
    }

    @Test
    public void whatCannotBeDoneIsRefused() {
        Asset cached = flying(2, 4, Local.IDENTITY, 2);
        assertThatThrownBy(() -> new CacheToJoints("part", 0).apply(cached, Work.QUIET))
                .hasMessageContaining("1 to 1000");
        assertThatThrownBy(() -> new CacheToJoints("part", 2).apply(cached.withClips(List.of()), Work.QUIET))
                .hasMessageContaining("no vertex cache");
        assertThatThrownBy(() -> new BakeCache("part", "sim", "sim", 0, false).apply(cached, Work.QUIET))
                .hasMessageContaining("sim");
    }
}
