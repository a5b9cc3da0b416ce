package org.cleanmarrow.cloth;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.PaintStray;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.steps.caches.SimulateCloth;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Cloth by steps: what is said of it, what is pinned, and the cache that comes of it. */
public class ClothStepsTest {
    private static final int MANY = 9;

    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    /** A level sheet of a metre, a ball below it that rises; all free. */
    private static Asset sheet() {
        return ClothTest.asset(
                ClothTest.grid(MANY, MANY, (c, r) -> new Vector3d(c / 8.0, 0, r / 8.0)),
                v -> 1,
                1,
                new Collider("ball", 1, Frame.at(new Vector3d(0.5, -0.6, 0.6)), new Shape.Sphere(0.2)));
    }

    private static VertexSet row(Asset asset) {
        BitSet first = new BitSet();
        first.set(0, MANY);
        return VertexSet.chosen(asset.meshes().getFirst(), first);
    }

    private static float[] at(Asset asset, int clip, double seconds) {
        Deformer deformer = new Deformer(asset);
        return deformer.positions(
                deformer.places().getFirst(), new Rig(asset).at(asset.clips().get(clip), seconds));
    }

    @Test
    public void aStrayFadesOverRingsOfEdges() throws Exception {
        Asset asset = done(sheet(), new SetStray("sheet", row(sheet()), 0, 3));
        float[] strays = Strays.of(asset.meshes().getFirst());
        for (int r = 0; r < MANY; r++) {
            assertThat(strays[r * MANY + 4]).as("row " + r).isCloseTo(Math.min(1, r / 4f), within(1e-6f));
        }
        // Of what is there already the share that is left is kept.
        Asset again = done(asset, new SetStray("sheet", VertexSet.ALL, 0.5, 0));
        assertThat(Strays.of(again.meshes().getFirst())).containsOnly(0.5f);
    }

    @Test
    public void aStrokeOfTheBrushGoesItsShareOfTheWay() throws Exception {
        Asset asset = done(sheet(), new SetStray("sheet", VertexSet.ALL, 0.8, 0));
        float[] amounts = new float[MANY * MANY];
        amounts[4] = 1;
        amounts[5] = 0.25f;
        Mesh mesh = asset.meshes().getFirst();
        PaintStray stroke = new PaintStray("sheet", 0.4, VertexAmounts.of(mesh, amounts));
        float[] strays = Strays.of(done(asset, stroke).meshes().getFirst());
        assertThat(strays[4]).isEqualTo(0.4f);
        assertThat(strays[5]).isCloseTo(0.7f, within(1e-6f));
        assertThat(strays[6]).isEqualTo(0.8f);
        assertThat(stroke.apply(asset, Work.QUIET).counts()).containsValue(2L);
        // What is shown while it is drawn is what is recorded.
        assertThat(Strays.of(PaintStray.painted(mesh, amounts, 0.4))).containsExactly(strays);
        assertThatThrownBy(() -> done(asset, new PaintStray("sheet", 1.5, stroke.amounts())))
                .isInstanceOf(Refused.class);
    }

    @Test
    public void theCachePlaysBesideTheClipAndKeepsPinsAndReach() throws Exception {
        Asset set = done(sheet(), new SetCloth("sheet", 0.3, 5, 0, 1e-3, 0.5, 0.4, 1, 20, true, true));
        Asset pinned = done(set, new SetStray("sheet", row(set), 0, 3));
        Asset played = done(pinned, new SimulateCloth("sheet", "clip", "", 0));
        Clip made = played.clips().get(1);
        assertThat(made.name()).isEqualTo("clip_cloth");
        assertThat(made.lastFrame()).isEqualTo(60);
        assertThat(made.channels()).extracting(Channel::path).contains(Channel.Path.TRANSLATION, Channel.Path.VERTICES);
        assertThat(CacheUse.all(played)).hasSize(1);
        float[] rest = at(pinned, 0, 0);
        float[] end = at(played, 1, 1);
        float[] strays = Strays.of(pinned.meshes().getFirst());
        double lowest = 0;
        for (int v = 0; v < rest.length / 3; v++) {
            double away = new Vector3d(end[3 * v], end[3 * v + 1], end[3 * v + 2])
                    .distance(rest[3 * v], rest[3 * v + 1], rest[3 * v + 2]);
            if (strays[v] < 1) {
                assertThat(away).isLessThanOrEqualTo(0.3 * strays[v] + 1e-6);
            }
            lowest = Math.min(lowest, end[3 * v + 1]);
            assertThat(new Vector3d(0.5, -0.6, 0.6).distance(end[3 * v], end[3 * v + 1], end[3 * v + 2]))
                    .isGreaterThan(0.205 - 1e-5);
        }
        assertThat(lowest).isLessThan(-0.3);
    }

    /** In centimetres, with Z up and mirrored, all falls the same way; triangles that turn the other way are held in another order. */
    @Test
    public void unitAndAxesDoNotMatter() throws Exception {
        Asset pinned = done(done(sheet(), new SetCloth("sheet")), new SetStray("sheet", row(sheet()), 0, 0));
        Asset turned = done(pinned, new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), true));
        float[] one = at(done(pinned, new SimulateCloth("sheet", "clip", "", 0)), 1, 0.3);
        float[] other = at(done(turned, new SimulateCloth("sheet", "clip", "", 0)), 1, 0.3);
        var back = org.cleanmarrow.convention.Conversion.between(turned.conventions(), pinned.conventions())
                .matrix();
        for (int v = 0; v < one.length / 3; v++) {
            Vector3d p = back.transformPosition(new Vector3d(other[3 * v], other[3 * v + 1], other[3 * v + 2]));
            assertThat(p.distance(one[3 * v], one[3 * v + 1], one[3 * v + 2])).isLessThan(5e-3);
        }
    }

    /** What it bumps into moves: a ball that rises lifts the sheet. */
    @Test
    public void aColliderThatMovesPushes() throws Exception {
        Asset asset = done(sheet(), new SetCloth("sheet", 0.5, 5, 0, 1e-3, 0.5, 0.4, 0, 20, false, true));
        Sampler rises = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {0, 1},
                new float[] {0, 0, 0, 0, 0.8f, 0},
                3,
                org.cleanmarrow.model.Storage.FLOAT);
        Clip clip = asset.clips().getFirst();
        Asset moving = asset.withClips(
                List.of(clip.withChannels(List.of(clip.channels().getFirst().withTrack(rises)))));
        float[] end = at(done(moving, new SimulateCloth("sheet", "clip", "", 0)), 1, 1);
        double highest = 0;
        for (int v = 0; v < end.length / 3; v++) {
            highest = Math.max(highest, end[3 * v + 1]);
            assertThat(new Vector3d(0.5, 0.2, 0.6).distance(end[3 * v], end[3 * v + 1], end[3 * v + 2]))
                    .isGreaterThan(0.205 - 1e-5);
        }
        // Its top stands at 0.4 m then.
        assertThat(highest).isGreaterThan(0.35);
    }

    @Test
    public void whatMakesNoSenseIsRefused() throws Exception {
        Asset asset = sheet();
        assertThatThrownBy(() -> done(asset, new SimulateCloth("sheet", "clip")))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("sheet");
        assertThatThrownBy(() -> done(asset, new SetStray("sheet", VertexSet.numbers(new BitSet()), 0, 0)))
                .hasMessageContaining("selected");
        assertThatThrownBy(() -> done(asset, new SetCloth("sheet", 0.5, 5, 0, 1e-3, 0.5, 0.4, 1, 0, false, true)))
                .hasMessageContaining("200");
        assertThatThrownBy(() -> done(asset, new SetStray("sheet", VertexSet.ALL, Double.NaN, 0)))
                .isInstanceOf(Refused.class);
        assertThatThrownBy(() -> done(RandomAssets.of(3), new SetCloth("nothing")))
                .isInstanceOf(Refused.class);
        Asset set = done(asset, new SetCloth("sheet"));
        assertThat(ClothSection.all(set)).extracting(ClothSection::node).containsExactly(0);
        Asset taken = done(set, new SetCloth("sheet", 0.5, 5, 0, 1e-3, 0.5, 0.4, 1, 40, false, false));
        assertThat(ClothSection.all(taken)).isEmpty();
    }
}
