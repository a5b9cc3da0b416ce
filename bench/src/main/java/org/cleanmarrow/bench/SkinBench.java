package org.cleanmarrow.bench;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.pose.Strain;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/** Binding, transfer and the brush. */
final class SkinBench {
    private SkinBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Brush, 100,000 vertices, 200 joints: one touch, seen");
        for (Stroke.Mode mode : new Stroke.Mode[] {Stroke.Mode.ADD, Stroke.Mode.SMOOTH}) {
            brush(report, big, mode);
        }
        Asset half = BigAsset.make(1, 125, 60);
        report.title("Finding weights, 50,000 vertices, 60 joints");
        report.within(
                "bind by volume, heat",
                Timing.of(
                        1,
                        3,
                        () -> new BindVolume("tube", VertexSet.ALL, "*", "", VolumeBind.How.HEAT, 0.5, 4, false)
                                .apply(half, Work.QUIET)),
                8000);
        report.within(
                "bind by volume, distance",
                Timing.of(
                        1,
                        3,
                        () -> new BindVolume("tube", VertexSet.ALL, "*", "", VolumeBind.How.DISTANCE, 0.5, 4, false)
                                .apply(half, Work.QUIET)),
                8000);
        Asset two = withBareCopy(half);
        report.within(
                "take weights from 50,000 to 50,000 vertices",
                Timing.of(
                        1,
                        5,
                        () -> new TransferWeights("tube", "bare", VertexSet.ALL, 1, 60, false, "*", 8)
                                .apply(two, Work.QUIET)),
                2000);
        Asset dressed = Finer.mesh(Finer.mesh(VestedPilot.asset(), "float_vest"), "pilot");
        report.within(
                "dress 34,000 vertices from 50,000, with the repair over 14 poses",
                Timing.of(2, 4, () -> new TransferWeights("pilot", "float_vest").apply(dressed, Work.QUIET)),
                5000);
        BitSet part = new BitSet();
        part.set(10_000, 35_000);
        VertexSet chosen = VertexSet.chosen(half.meshes().getFirst(), part);
        report.within(
                "smooth 25,000 vertices, 4 rounds",
                Timing.of(2, 8, () -> new SmoothWeights("tube", chosen, 0.5, 4, "").apply(half, Work.QUIET)),
                1000);
    }

    private static void brush(Report report, Asset big, Stroke.Mode mode) throws Exception {
        Mesh mesh = big.meshes().getFirst();
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        Influences places = WeldedWeights.of(mesh, surface);
        float[] amounts = new float[mesh.vertexCount()];
        BitSet touched = new BitSet();
        touched.set(50_000, 52_000);
        touched.stream().forEach(v -> amounts[v] = 0.3f);
        report.within(
                "what a touch over 2,000 vertices does: " + mode,
                Timing.of(30, 100, () -> {
                    Stroke stroke = new Stroke(mode, surface, () -> places, 100, 1, new BitSet(), amounts);
                    PaintWeights.live(mesh, stroke, touched);
                }),
                Report.FRAME);
        Stroke stroke = new Stroke(mode, surface, () -> places, 100, 1, new BitSet(), amounts);
        Rig rig = new Rig(big);
        Pose pose = rig.at(big.clips().getFirst(), 1);
        Matrix4d[] world = pose.world();
        float[] out = new float[mesh.vertexCount() * 3];
        float[] normals = new float[out.length];
        report.within(
                "the same with the surface posed anew: " + mode,
                Timing.of(30, 100, () -> {
                    Asset live = big.withMesh(0, PaintWeights.live(mesh, stroke, touched));
                    Deformer deformer = new Deformer(live);
                    MeshPlace place = deformer.places().getFirst();
                    deformer.deform(place, pose, world, new Matrix4d(), out, normals, true);
                }),
                Report.FRAME);
        if (mode == Stroke.Mode.ADD) {
            float[] rest = MeshTopology.restPositions(mesh);
            int[] corners = MeshTopology.of(mesh).corners();
            report.within("strain of 200,000 triangles", Timing.of(20, 60, () -> Strain.of(corners, rest, out)), 50);
        }
    }

    private static Asset withBareCopy(Asset asset) {
        Mesh was = asset.meshes().getFirst();
        float[] moved = was.primitives().getFirst().positions().clone();
        java.util.Random random = new java.util.Random(2);
        for (int i = 0; i < moved.length; i++) {
            moved[i] += (float) (1e-5 * random.nextGaussian());
        }
        var primitive = org.cleanmarrow.model.Primitive.triangles(
                        was.primitives().getFirst().indices(), moved, null, -1)
                .withInfluences(new Influences(new int[was.vertexCount() + 1], new int[0], new float[0]));
        List<Mesh> meshes = new java.util.ArrayList<>(asset.meshes());
        meshes.add(Mesh.of("bare", primitive));
        List<Node> nodes = new java.util.ArrayList<>(asset.nodes());
        nodes.add(Node.group("bare", org.cleanmarrow.model.Local.IDENTITY).withMesh(meshes.size() - 1, 0));
        return asset.withNodes(nodes).withMeshes(meshes);
    }
}
