package org.cleanmarrow.bench;

import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.LinearSkinning;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Linear skinning of positions and normals against a plain copy of the same arrays, and against three.js in Node. */
final class SkinningBench {
    private SkinningBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Linear skinning, 100,000 vertices, four influences");
        Primitive p = big.meshes().getFirst().primitives().getFirst();
        LinearSkinning skinning = new LinearSkinning(p.influences());
        Clip clip = big.clips().getFirst();
        Matrix4d[] world = new Rig(big).at(clip, 3).world();
        float[] matrices = Deformer.jointMatrices(big.skins().getFirst(), world, new Matrix4d());
        float[] outP = new float[p.positions().length];
        float[] outN = new float[outP.length];
        int count = p.vertexCount();
        Timing[] turns = Timing.inTurn(
                300,
                400,
                () -> {
                    System.arraycopy(p.positions(), 0, outP, 0, outP.length);
                    System.arraycopy(p.normals(), 0, outN, 0, outN.length);
                },
                () -> skinning.skin(p.positions(), p.normals(), matrices, 0, count, outP, outN),
                () -> skinning.skin(p.positions(), null, matrices, 0, count, outP, null));
        report.against("positions and normals, one core", turns[1], "plain copy", turns[0], 8);
        report.against("positions alone, one core", turns[2], "plain copy", turns[0], 8);
        Deformer deformer = new Deformer(big);
        MeshPlace place = deformer.places().getFirst();
        var pose = new Rig(big).at(clip, 3);
        Timing all = Timing.of(200, 200, () -> deformer.deform(place, pose, world, new Matrix4d(), outP, outN, true));
        report.within("positions and normals, all cores", all, Report.FRAME);
        againstNode(report, big, turns[1], turns[2]);
    }

    private static void againstNode(Report report, Asset big, Timing both, Timing positions) throws Exception {
        String out = NodeScript.said(
                "skinning-speed.mjs", GltfWriter.glb(big.withClips(big.clips().subList(0, 1))));
        if (out.isEmpty()) {
            report.note("three.js could not be asked: run tools/prepare.sh first");
            return;
        }
        JsonNode json = JsonMapper.shared().readTree(out);
        Timing theirs =
                Timing.sorted(new double[] {json.path("medianMilliseconds").asDouble()});
        // The goal is for positions and normals, though the other side finds positions alone.
        report.against("positions and normals, one core", both, "three.js, positions alone", theirs, 0.1);
        report.against("positions alone, one core", positions, "three.js, the same", theirs, 0.1);
    }
}
