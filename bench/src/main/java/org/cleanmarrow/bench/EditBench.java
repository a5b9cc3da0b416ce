package org.cleanmarrow.bench;

import java.util.BitSet;
import java.util.Optional;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** What the skin loop does many times a minute, on the computation's side. */
final class EditBench {
    private EditBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Editing weights, 100,000 vertices, 200 joints");
        Mesh mesh = big.meshes().getFirst();
        BitSet some = new BitSet();
        some.set(40_000, 42_000);
        BitSet half = new BitSet();
        half.set(20_000, 70_000);
        VertexSet few = VertexSet.chosen(mesh, some);
        VertexSet many = VertexSet.chosen(mesh, half);
        report.within(
                "set a weight on 2,000 vertices",
                Timing.of(40, 100, () -> new SetWeight("tube", "joint_90", few, 0.5).apply(big, Work.QUIET)),
                Report.FRAME);
        report.within(
                "set a weight on 50,000 vertices",
                Timing.of(40, 100, () -> new SetWeight("tube", "joint_90", many, 0.5).apply(big, Work.QUIET)),
                Report.FRAME);
        report.within(
                "take a joint off 50,000 vertices",
                Timing.of(
                        40,
                        100,
                        () -> new RemoveInfluence("tube", "joint_90", many, Optional.empty()).apply(big, Work.QUIET)),
                Report.FRAME);
        Asset edited = new RemoveInfluence("tube", "joint_82", few, Optional.empty())
                .apply(big, Work.QUIET)
                .asset();
        report.within(
                "say how far 2,000 edited vertices moved, over 10 clips",
                Timing.of(2, 8, () -> MotionProbe.compare(big, edited, Work.QUIET)),
                1000);
        MeshTopology topology = MeshTopology.of(mesh);
        report.within("grow a choice of 50,000", Timing.of(20, 60, () -> topology.grown(half)), Report.FRAME);
        report.within("choose the shell of a vertex", Timing.of(20, 60, () -> topology.islandsOf(some)), Report.FRAME);
    }
}
