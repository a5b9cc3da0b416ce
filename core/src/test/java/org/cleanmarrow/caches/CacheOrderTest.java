package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.lang.foreign.MemorySegment;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.OrderCache;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Caches whose vertices came back in another order, welded, turned and in another unit. */
public class CacheOrderTest {
    private static final int FRAMES = 4;

    @DataProvider
    public Object[][] seeds() {
        return LongStream.range(0, 40).mapToObj(s -> new Object[] {s}).toArray(Object[][]::new);
    }

    /** A bumpy ring, which is like no turn or mirror image of itself, each triangle with vertices of its own where it is faceted. */
    private static Solids.Solid ring() {
        Solids.Solid ring = Solids.torus(1, 0.3, 24, 10);
        float[] p = ring.positions().clone();
        for (int v = 0; v < p.length / 3; v++) {
            double bump = 1 + 0.2 * Math.sin(1.3 * v) * Math.cos(0.7 * v * v);
            for (int i = 0; i < 3; i++) {
                p[3 * v + i] *= (float) (bump * (1 + 0.15 * i));
            }
        }
        return new Solids.Solid(p, ring.corners());
    }

    /** Frames of places that sway along z from where they are in the first. */
    private static Asset cached(Primitive drawn, float[] places) {
        float[] all = new float[FRAMES * places.length];
        for (int k = 0; k < FRAMES; k++) {
            for (int i = 0; i < places.length; i++) {
                all[k * places.length + i] = places[i] + (i % 3 == 2 ? 0.1f * k * places[i - 2] : 0);
            }
        }
        VertexTrack track = VertexTrack.of(
                new float[] {0, 1, 2, 3}, new VertexFrames(MemorySegment.ofArray(all), places.length / 3));
        Channel plays = new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        return Solids.crate(Local.IDENTITY, drawn)
                .withClips(List.of(new Clip("sway", List.of(plays), 1, false, true, List.of(), Passthrough.NONE)));
    }

    private static float[] frame(Asset asset, int k) {
        VertexTrack track = CacheUse.all(asset).getFirst().track();
        float[] out = new float[track.width()];
        track.at(k, out);
        return out;
    }

    /** Shuffled, in another unit and turned: the very order is found, and with the unit told it lies on the mesh again. */
    @Test(dataProvider = "seeds")
    public void theOrderIsPutBack(long seed) throws Refused {
        Random random = new Random(seed);
        Solids.Solid ring = ring();
        int many = ring.positions().length / 3;
        List<Integer> shuffle = new ArrayList<>(IntStream.range(0, many).boxed().toList());
        Collections.shuffle(shuffle, random);
        Matrix3d turn =
                new Matrix3d().rotateX(Math.PI / 2 * random.nextInt(4)).rotateY(Math.PI / 2 * random.nextInt(4));
        double unit = Math.pow(10, random.nextInt(7) - 3);
        float[] came = new float[3 * many];
        for (int v = 0; v < many; v++) {
            Vector3d p = turn.transform(Solids.point(ring.positions(), v)).mul(unit);
            for (int i = 0; i < 3; i++) {
                came[3 * shuffle.get(v) + i] = (float) p.get(i);
            }
        }
        Primitive drawn = Primitive.triangles(ring.corners(), ring.positions(), null, -1);
        Asset asset = cached(drawn, came);
        Asset ordered = new OrderCache("crate", "").apply(asset, Work.QUIET).asset();
        int[] order = CacheUse.all(ordered).getFirst().track().order();
        for (int v = 0; v < many; v++) {
            assertThat(order[v]).isEqualTo(shuffle.get(v));
        }
        Asset laid = new FitCache("crate").apply(ordered, Work.QUIET).asset();
        float[] first = frame(laid, 0);
        for (int i = 0; i < first.length; i++) {
            assertThat(first[i]).isCloseTo(ring.positions()[i], org.assertj.core.api.Assertions.within(1e-4f));
        }
        Asset again = new OrderCache("crate", "").apply(ordered, Work.QUIET).asset();
        assertThat(frame(again, FRAMES - 1)).isEqualTo(frame(ordered, FRAMES - 1));
    }

    /** A mesh with vertices of its own for every triangle gets the cache of the welded one, every corner where it belongs. */
    @Test
    public void weldedSeamsAreSplitAgain() throws Refused {
        Solids.Solid ring = ring();
        Asset asset = cached(Solids.faceted(ring), ring.positions());
        assertThat(CacheUse.all(asset).getFirst().fits(asset)).isFalse();
        Asset ordered = new OrderCache("crate", "").apply(asset, Work.QUIET).asset();
        assertThat(CacheUse.all(ordered).getFirst().fits(ordered)).isTrue();
        float[] last = frame(ordered, FRAMES - 1);
        float[] welded = frame(asset, FRAMES - 1);
        for (int c = 0; c < ring.corners().length; c++) {
            for (int i = 0; i < 3; i++) {
                assertThat(last[3 * c + i]).isEqualTo(welded[3 * ring.corners()[c] + i]);
            }
        }
    }

    @Test
    public void theCacheOfSomethingElseIsRefused() {
        Solids.Solid ring = ring();
        Solids.Solid other = Solids.torus(1, 0.6, 30, 12);
        Asset asset = cached(Primitive.triangles(ring.corners(), ring.positions(), null, -1), other.positions());
        assertThatThrownBy(() -> new OrderCache("crate", "").apply(asset, Work.QUIET))
                .hasMessageContaining("no place close by");
        assertThatThrownBy(() -> new OrderCache("crate", "", 9).apply(asset, Work.QUIET))
                .hasMessageContaining("frame 9");
    }
}
