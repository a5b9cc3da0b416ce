package org.cleanmarrow.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.checks.caches.CacheThrough;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.NestedBalls;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.skin.MendPokeThrough;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/**
 * A ball in a ball that slides aside: straight inwards from a place u of the unit ball the other of radius R about (d, 0, 0) is met after
 * 1 - (u.d + sqrt((u.d)^2 + R^2 - d^2)), by the quadratic formula; where that is above nothing the place stands out by it.
 */
public class PokeThroughTest {
    private static final double SLIDE = 0.05;
    private static final double COAT = 1.02;
    /** Facets lie inside of the ball that they stand for by no more. */
    private static final double FACET = 1.5e-3;

    private static double depth(float[] at, int v, double radius) {
        double along = at[v * 3] * SLIDE;
        return 1 - (along + Math.sqrt(along * along + radius * radius - SLIDE * SLIDE));
    }

    @Test
    public void whatStandsOutIsWhatTheFormulaSaysAndByAsMuch() {
        Asset asset = NestedBalls.of(SLIDE, COAT);
        Map<Integer, Double> found = new HashMap<>();
        PokeThrough through = PokeThrough.of(
                        asset, 0, 1, 2, (v, depth, corners) -> found.merge(v, depth, Math::max), Work.QUIET)
                .orElseThrow();
        float[] at = MeshTopology.restPositions(asset.meshes().getFirst());
        int standing = 0;
        for (int v = 0; v < at.length / 3; v++) {
            double meant = depth(at, v, COAT);
            if (meant > PokeThrough.TOLERANCE_METRES + FACET) {
                assertThat(found).as("vertex %d", v).containsKey(v);
                assertThat(found.get(v)).isCloseTo(meant, within(FACET));
                standing++;
            } else if (meant < PokeThrough.TOLERANCE_METRES - FACET) {
                assertThat(found).as("vertex %d", v).doesNotContainKey(v);
            }
        }
        assertThat(standing).isGreaterThan(500);
        // At its end alone, of its two frames; at rest and in trial poses nothing moves against another.
        assertThat(through.moments()).hasSize(1);
        PokeThrough.Moment moment = through.moments().getFirst();
        assertThat(moment.clip()).isZero();
        assertThat(moment.seconds()).isEqualTo(1);
        assertThat(moment.deepest()).isCloseTo(SLIDE - (COAT - 1), within(FACET));
        assertThat(moment.vertices().cardinality()).isEqualTo(found.size());
    }

    @Test
    public void ofAllPairsTheOneIsFoundThatCoversAndNotTheOtherWayRound() {
        Asset asset = NestedBalls.of(SLIDE, COAT);
        List<PokeThrough> all = PokeThrough.all(asset, 2, Work.QUIET);
        assertThat(all).hasSize(1);
        assertThat(all.getFirst().body()).isZero();
        assertThat(all.getFirst().worn()).isEqualTo(1);
        assertThat(all.getFirst().covered()).isEqualTo(asset.meshes().getFirst().vertexCount());
        assertThat(PokeThrough.all(asset, 0, Work.QUIET))
                .as("nothing moves in trial poses")
                .isEmpty();
        assertThat(PokeThrough.of(asset, 1, 0, 2, (v, d, c) -> {}, Work.QUIET)).isEmpty();
    }

    /** The inner of two layers may be passed: nobody sees what lies between them. */
    @Test
    public void aThickCoatCoversWithItsOutermostLayer() {
        assertThat(PokeThrough.all(NestedBalls.of(SLIDE, 1.02, 1.06), 2, Work.QUIET))
                .isEmpty();
        PokeThrough through = PokeThrough.all(NestedBalls.of(SLIDE, 1.01, 1.03), 2, Work.QUIET)
                .getFirst();
        assertThat(through.moments().getFirst().deepest()).isCloseTo(SLIDE - 0.03, within(FACET));
    }

    @Test
    public void theCheckSaysWhoShowsThroughWhatAndInWhichTrialPose() {
        Asset asset = NestedBalls.hung(0.12, COAT);
        Target target = Target.named("y-up-m-rh").orElseThrow().with(Budget.POKE_MILLIMETRES, 2.5);
        List<Finding> found = Checks.run(asset, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("poke-through"))
                .toList();
        assertThat(found).hasSize(1);
        PokeThrough.Moment worst =
                PokeThrough.all(asset, 0, Work.QUIET).getFirst().moments().getFirst();
        assertThat(found.getFirst().message().toString())
                .startsWith("skin shows through coat in ")
                .endsWith("deepest in " + worst.pose().orElseThrow().name());
        assertThat(found.getFirst().place().vertices()).isEqualTo(worst.vertices());
        assertThat(found.getFirst().fix()).isEmpty();
        assertThat(Checks.run(asset, Target.named("y-up-m-rh").orElseThrow(), Work.QUIET))
                .as("a target that does not ask")
                .noneMatch(f -> f.check().equals("poke-through"));
        // What was found is kept for what it was found in, and a unit is part of that: a hundredth of it is no
        // millimetre.
        Asset small = asset.withConventions(new Conventions(
                0.01, Conventions.GLTF.up(), Conventions.GLTF.forward(), Conventions.GLTF.handedness()));
        assertThat(Checks.run(small, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("poke-through"));
        // A wider coat, and one that moves with what is below it.
        assertThat(Checks.run(NestedBalls.hung(0.12, 1.3), target, Work.QUIET))
                .noneMatch(f -> f.check().equals("poke-through"));
        assertThat(Checks.run(NestedBalls.of(0, 1.001), target, Work.QUIET))
                .noneMatch(f -> f.check().equals("poke-through"));
    }

    /** The coat's slide as a cache: by as much as the formula says, at the frame where it has slid the farthest, and else nowhere. */
    @Test
    public void aCacheThatGoesThroughTheBodyIsFound() throws Exception {
        Asset slid = NestedBalls.of(SLIDE, COAT);
        Asset baked = new BakeCache("coat", "slide").apply(slid, Work.QUIET).asset();
        Asset asset = baked.withClips(baked.clips().stream()
                .filter(c -> c.name().equals("slide_cache"))
                .toList());
        Target target = Target.named("y-up-m-rh").orElseThrow().with(Budget.POKE_MILLIMETRES, 2.5);
        List<Finding> found = new CacheThrough().run(new Examination(asset, target));
        assertThat(found).hasSize(1);
        double deepest = 1000 * (SLIDE - (COAT - 1));
        assertThat(found.getFirst().message().toString())
                .startsWith("coat goes through skin in ")
                .contains("of slide_cache, by up to ")
                .endsWith("at frame 24");
        PokeThrough through = PokeThrough.inClip(asset, 0, 1, 0, 24, Work.QUIET).orElseThrow();
        assertThat(through.moments().getFirst().deepest() * 1000).isCloseTo(deepest, within(1000 * FACET));
        // In the first third it has slid by less than the coat lies off.
        assertThat(through.moments()).allMatch(m -> m.seconds() > (COAT - 1) / SLIDE - 1.0 / 24);
        assertThat(new CacheThrough().run(new Examination(asset, target.with(Budget.POKE_MILLIMETRES, deepest + 2))))
                .isEmpty();
        assertThat(new CacheThrough().run(new Examination(slid, target)))
                .as("no cache")
                .isEmpty();
    }

    @DataProvider
    public Object[][] ways() {
        double[] thin = {COAT};
        double[] thick = {1.01, 1.03};
        return new Object[][] {
            {MendPokeThrough.Way.BODY, thin}, {MendPokeThrough.Way.WORN, thick}, {MendPokeThrough.Way.BOTH, thick}
        };
    }

    private static double furthest(Asset before, Asset after, int mesh) {
        float[] was = MeshTopology.restPositions(before.meshes().get(mesh));
        float[] is = MeshTopology.restPositions(after.meshes().get(mesh));
        double most = 0;
        for (int i = 0; i < was.length; i += 3) {
            most = Math.max(
                    most,
                    Math.sqrt(Math.pow(is[i] - was[i], 2)
                            + Math.pow(is[i + 1] - was[i + 1], 2)
                            + Math.pow(is[i + 2] - was[i + 2], 2)));
        }
        return most;
    }

    @Test(dataProvider = "ways")
    public void whatGivesWayMovesNoFurtherThanNeededAndNothingIsSeenAfter(MendPokeThrough.Way way, double[] coat)
            throws Exception {
        Asset asset = NestedBalls.of(SLIDE, coat);
        double out = SLIDE - (coat[coat.length - 1] - 1);
        Change change = new MendPokeThrough("skin", "coat", way, 60, 2).apply(asset, Work.QUIET);
        Asset mended = change.asset();
        assertThat(PokeThrough.all(mended, 2, Work.QUIET)).isEmpty();
        assertThat(change.notes()).hasSize(2).last().asString().contains("Nothing shows through any more");
        for (int mesh = 0; mesh < 2; mesh++) {
            boolean moves = way == MendPokeThrough.Way.BOTH || (way == MendPokeThrough.Way.BODY) == (mesh == 0);
            double most = way == MendPokeThrough.Way.BOTH ? out : 1.6 * out;
            assertThat(furthest(asset, mended, mesh))
                    .as("mesh " + mesh)
                    .isBetween(moves ? out / 4 : 0.0, moves ? most + 0.004 : 0.0);
        }
        // Half of the ball is nowhere near, and stays.
        BitSet far = new BitSet();
        float[] was = MeshTopology.restPositions(asset.meshes().getFirst());
        float[] is = MeshTopology.restPositions(mended.meshes().getFirst());
        for (int v = 0; v < was.length / 3; v++) {
            if (was[v * 3] > 0.2) {
                far.set(v);
                assertThat(is[v * 3]).isEqualTo(was[v * 3]);
            }
        }
        assertThat(far.cardinality()).isGreaterThan(1000);
    }

    @Test
    public void theLimitHoldsInAnyUnitAndWhatIsLeftIsSaid() throws Exception {
        Asset asset = NestedBalls.of(SLIDE, COAT);
        Asset inches = new Convert(
                        new Conventions(
                                0.0254,
                                Conventions.GLTF.up(),
                                Conventions.GLTF.forward(),
                                Conventions.GLTF.handedness()),
                        true)
                .apply(asset, Work.QUIET)
                .asset();
        for (Asset one : List.of(asset, inches)) {
            Change change = new MendPokeThrough("skin", "coat", MendPokeThrough.Way.BODY, 12, 2).apply(one, Work.QUIET);
            double metres = one.conventions().metresPerUnit();
            assertThat(furthest(one, change.asset(), 0) * metres).isBetween(0.0119, 0.0121);
            assertThat(change.notes()).last().asString().contains("in 1 moment of");
            Optional<PokeThrough> left = PokeThrough.of(change.asset(), 0, 1, 2, (v, d, c) -> {}, Work.QUIET);
            // What stands out further is let be: a dent would not help it.
            PokeThrough.Moment moment = left.orElseThrow().moments().getFirst();
            assertThat(moment.deepest()).isCloseTo(SLIDE - (COAT - 1), within(FACET));
            float[] at = MeshTopology.restPositions(asset.meshes().getFirst());
            moment.vertices().stream()
                    .forEach(v -> assertThat(depth(at, v, COAT)).isGreaterThan(0.012 - 0.001 - FACET));
        }
        assertThatThrownBy(() ->
                        new MendPokeThrough("skin", "coat", MendPokeThrough.Way.BODY, 12, 0).apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("does not show through");
        assertThatThrownBy(() ->
                        new MendPokeThrough("coat", "skin", MendPokeThrough.Way.BODY, 12, 2).apply(asset, Work.QUIET))
                .hasMessageContaining("does not cover");
        assertThatThrownBy(() ->
                        new MendPokeThrough("skin", "skin", MendPokeThrough.Way.BODY, 12, 2).apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class);
    }
}
