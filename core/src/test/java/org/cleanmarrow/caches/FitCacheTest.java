package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Caches that come back in another unit, other axes and late are found out, or said to be undecided. */
public class FitCacheTest {
    private static final double[] FACTORS = {1, 0.001, 0.01, 0.1, 10, 100, 1000, 0.0254, 1 / 0.0254, 0.3048};

    /** Boxes that joints move, and the same baked. */
    private static Asset baked(Random random, Local local, int frames) throws Refused {
        List<Vector3d> middles = new ArrayList<>();
        Vector3d[] axes = new Vector3d[5];
        for (int b = 0; b < axes.length; b++) {
            middles.add(new Vector3d(random.nextGaussian(), 2 * random.nextDouble(), random.nextGaussian()));
            axes[b] = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
        }
        Primitive p = Cached.boxes(middles, 0.15);
        Asset flying = Cached.of(p, local, frames, (k, out) -> {
            for (int v = 0; v < p.vertexCount(); v++) {
                Vector3d about = middles.get(v / 8);
                Vector3d at = new Vector3d(p.positions()[3 * v], p.positions()[3 * v + 1], p.positions()[3 * v + 2]);
                new Matrix4d()
                        .translate(new Vector3d(axes[v / 8]).mul(0.3 * Math.sin(0.4 * k + v / 8)))
                        .translate(about)
                        .rotate(0.15 * k, axes[v / 8])
                        .translate(-about.x, -about.y, -about.z)
                        .transformPosition(at);
                out[3 * v] = (float) at.x;
                out[3 * v + 1] = (float) at.y;
                out[3 * v + 2] = (float) at.z;
            }
        });
        Asset jointed = new CacheToJoints("part", 5).apply(flying, Work.QUIET).asset();
        return new BakeCache("part", "sim").apply(jointed, Work.QUIET).asset();
    }

    private static Matrix3d turn(Random random, boolean mirrored) {
        List<Matrix3d> all = new ArrayList<>();
        int[][] orders = {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}};
        for (int[] order : orders) {
            for (int signs = 0; signs < 8; signs++) {
                Matrix3d m = new Matrix3d().zero();
                for (int c = 0; c < 3; c++) {
                    m.set(c, order[c], (signs >> c & 1) == 0 ? 1 : -1);
                }
                if (mirrored || m.determinant() > 0) {
                    all.add(m);
                }
            }
        }
        return all.get(random.nextInt(all.size()));
    }

    /** The cache as another program hands it back: numbers divided by the factor, turned back, so many frames later. */
    private static Asset spoilt(Asset baked, double factor, Matrix3d turn, int late, double noise, Random random) {
        Clip clip = baked.clips().get(1);
        Channel channel = clip.channels().getFirst();
        VertexTrack track = (VertexTrack) channel.track();
        Matrix4d back = new Matrix4d().scale(1 / factor).mul(new Matrix4d().set3x3(turn.transpose(new Matrix3d())));
        int lead = Math.max(0, late);
        float[] times = new float[track.times().length + lead];
        for (int k = 0; k < times.length; k++) {
            times[k] = (float) (k / Cached.RATE);
        }
        VertexTrack came =
                VertexTrack.of(times, CacheBake.frames(track.vertices(), times.length, Work.QUIET, (k, out) -> {
                    track.at(Math.max(0, k - lead), out);
                    for (int i = 0; i < out.length; i += 3) {
                        Vector3d p = new Vector3d(out[i], out[i + 1], out[i + 2])
                                .add(
                                        noise * random.nextGaussian(),
                                        noise * random.nextGaussian(),
                                        noise * random.nextGaussian());
                        back.transformPosition(p);
                        out[i] = (float) p.x;
                        out[i + 1] = (float) p.y;
                        out[i + 2] = (float) p.z;
                    }
                }));
        Clip returned = new Clip(
                "returned", List.of(channel.withTrack(came)), Cached.RATE, false, true, List.of(), Passthrough.NONE);
        return baked.withClips(List.of(baked.clips().getFirst(), returned));
    }

    @Test
    public void twoHundredAtRandomAreFoundOrUndecided() throws Refused {
        Random random = new Random(23);
        int found = 0;
        int undecided = 0;
        for (int i = 0; i < 200; i++) {
            Local local = i % 3 == 0 ? Local.IDENTITY : Local.of(new Vector3d(), new Quaterniond(), new Vector3d(0.01));
            Asset baked = baked(random, local, 16);
            double factor = FACTORS[random.nextInt(FACTORS.length)];
            Matrix3d turn = turn(random, i % 2 == 0);
            int late = random.nextInt(20);
            double scale = local == Local.IDENTITY ? 1 : 0.01;
            double noise = i % 4 == 3 ? 0.02 * scale : 0;
            Asset came = spoilt(baked, factor, turn, late, noise, random);
            Change change;
            try {
                change = new FitCache("part").apply(came, Work.QUIET);
            } catch (Refused e) {
                assertThat(e).hasMessageContaining("about as well");
                undecided++;
                continue;
            }
            found++;
            Clip fitted = change.asset().clips().get(1);
            assertThat(fitted.firstFrame()).as("start of " + i).isZero();
            assertThat(fitted.lastFrame())
                    .as(i + ": x" + factor + " " + turn + " late " + late + change.notes())
                    .isEqualTo(15);
            List<float[]> meant = Cached.places(baked, 1);
            List<float[]> is = Cached.places(change.asset(), 1);
            for (int k = 0; k < meant.size(); k++) {
                assertThat(Cached.off(meant.get(k), is.get(k)))
                        .as(i + ": x" + factor + " " + turn + " late " + late)
                        .isLessThan(1e-5 * scale + 6 * noise);
            }
            assertThat(change.notes().toString()).contains("axes").contains("Next best");
        }
        System.out.println("fit-cache: " + found + " of 200 found, " + undecided + " undecided");
        assertThat(found).isGreaterThanOrEqualTo(198);
    }

    /** Numbers of the mesh itself, at a node that stands elsewhere and is turned: the change is about the node, and is found there. */
    @Test
    public void aCacheInTheAxesOfItsNodeIsFoundThere() throws Refused {
        List<Vector3d> middles =
                List.of(new Vector3d(0.1, 0.2, 0), new Vector3d(0.9, 0, 0.4), new Vector3d(0, 1.3, 0.2));
        Primitive p = Cached.boxes(middles, 0.15);
        Local far = Local.of(new Vector3d(3, 5, -2), new Quaterniond().rotateXYZ(0.4, 0.3, 1), new Vector3d(2));
        Asset cached = Cached.of(p, far, 3, (k, out) -> {
            for (int i = 0; i < out.length; i += 3) {
                out[i] = 1000 * p.positions()[i];
                out[i + 1] = -1000 * p.positions()[i + 2];
                out[i + 2] = 1000 * p.positions()[i + 1];
            }
        });
        Change change = new FitCache("part").apply(cached, Work.QUIET);
        assertThat(change.notes().toString()).contains("0.001").contains("x,-z,y");
        float[] at = Cached.places(change.asset(), 0).get(2);
        float[] rest = Cached.places(
                        cached.withClips(List.of(
                                new Clip("still", List.of(), Cached.RATE, false, true, List.of(), Passthrough.NONE))),
                        0)
                .getFirst();
        assertThat(Cached.off(at, rest)).isLessThan(1e-5);
    }

    /** Where nothing moves, every shift fits as well: that is said, with both, and nothing is changed until it is told. */
    @Test
    public void whatNothingTellsApartIsUndecidedUntilToldWhich() throws Refused {
        Random random = new Random(4);
        Asset baked = baked(random, Local.IDENTITY, 16);
        Asset came = spoilt(baked, 0.001, new Matrix3d(), 12, 0, random);
        Asset held = came.withClips(List.of(came.clips().get(1)));
        // By rest alone: the first frame lies on it, so the unit is found; the clip stays where it is.
        Change change = new FitCache("part").apply(held, Work.QUIET);
        assertThat(change.notes().toString()).contains("0.001").contains("0 frames late");
        Clip constant = came.clips()
                .getFirst()
                .withChannels(came.clips().getFirst().channels().stream()
                        .map(c -> c.withTrack(still(c)))
                        .toList());
        Asset frozen = spoilt(
                new BakeCache("part", "sim")
                        .apply(came.withClips(List.of(constant)), Work.QUIET)
                        .asset(),
                0.001,
                new Matrix3d(),
                12,
                0,
                random);
        assertThatThrownBy(() -> new FitCache("part", "returned", "sim", 0, "", "").apply(frozen, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("about as well")
                .hasMessageContaining("frames late");
        Change told = new FitCache("part", "returned", "sim", 0, "", "12").apply(frozen, Work.QUIET);
        assertThat(told.asset().clips().get(1).firstFrame()).isZero();
        assertThatThrownBy(() -> new FitCache("part", "returned", "sim", 0, "x,x,y", "12").apply(frozen, Work.QUIET))
                .hasMessageContaining("x,z,-y");
        assertThatThrownBy(() -> new FitCache("part", "returned", "sim", 0, "", "soon").apply(frozen, Work.QUIET))
                .hasMessageContaining("12");
    }

    private static Sampler still(Channel channel) {
        Sampler s = channel.sampler();
        float[] values = s.values().clone();
        for (int i = s.width(); i < values.length; i++) {
            values[i] = values[i % s.width()];
        }
        return s.withValues(values);
    }
}
