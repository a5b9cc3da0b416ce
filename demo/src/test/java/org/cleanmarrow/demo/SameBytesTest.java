package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ForkJoinPool;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** The same input gives the same bytes and the same figures on every run and any number of cores. */
public class SameBytesTest {
    /** What a ledger made, and what was measured of it. */
    private record Made(byte[] glb, List<Double> moved, List<String> findings) {}

    private static Made made() throws Exception {
        // One clip is played by all that measures as well as three.
        Asset whole = FerryPilot.asset();
        Asset pilot = whole.withClips(whole.clips().subList(0, 1));
        int cape = pilot.findMesh("cape");
        int node = java.util.stream.IntStream.range(0, pilot.nodes().size())
                .filter(n -> pilot.nodes().get(n).mesh() == cape)
                .findFirst()
                .orElseThrow();
        List<Step> steps = List.of(
                new FreezeNodes(),
                new BindVolume("cape", VertexSet.ALL, "cape_*", "", VolumeBind.How.HEAT, 0.5, 4, false),
                new SmoothWeights("pilot", VertexSet.ALL, 0.5, 2, ""),
                new LimitInfluences("", 4, 0, LimitInfluences.By.EFFECT),
                new TrimIdle(""),
                new Simplify(pilot.nodeRef(node), 900, 0, 1));
        Asset now = pilot;
        List<Double> moved = new ArrayList<>();
        for (Step step : steps) {
            Replay.Done done = Replay.one(now, step, false, Work.QUIET);
            assertThat(done.outcome()).as(step + ": " + done.reason()).isPresent();
            Motion motion = MotionProbe.compare(now, done.asset(), Work.QUIET);
            moved.add(motion.largestMetres());
            moved.add(motion.meanMetres());
            now = done.asset();
        }
        List<String> findings = Checks.run(now, Target.named("z-up-cm-lh").orElseThrow(), Work.QUIET).stream()
                .map(f -> f.check() + " " + f.message().toString() + " " + f.place())
                .toList();
        return new Made(GltfWriter.glb(now), moved, findings);
    }

    private static Made with(int threads) throws Exception {
        Callable<Made> work = SameBytesTest::made;
        try (ForkJoinPool pool = new ForkJoinPool(threads)) {
            return pool.submit(work).get();
        }
    }

    @Test
    public void oneTwoAndEightThreadsGiveTheSame() throws Exception {
        Made one = with(1);
        assertThat(one.glb).hasSizeGreaterThan(100_000);
        for (int threads : new int[] {2, 8}) {
            Made other = with(threads);
            assertThat(other.glb).isEqualTo(one.glb);
            assertThat(other.moved).isEqualTo(one.moved);
            assertThat(other.findings).isEqualTo(one.findings);
        }
    }
}
