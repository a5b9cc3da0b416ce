package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.linear.SparseCholesky;
import org.cleanmarrow.linear.SparseSymmetric;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Weights against those that SciPy found by itself: {@code tools/reference/weights.py}, kept in {@code solved.json}. */
public class SolvedWeightsTest {
    private JsonNode solved;

    @BeforeClass
    public void read() throws Exception {
        try (InputStream in = SolvedWeightsTest.class.getResourceAsStream("solved.json")) {
            solved = JsonMapper.shared().readTree(in.readAllBytes());
        }
    }

    private static float[] floats(JsonNode list) {
        float[] out = new float[list.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = list.get(i).floatValue();
        }
        return out;
    }

    private static int[] ints(JsonNode list) {
        int[] out = new int[list.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = list.get(i).intValue();
        }
        return out;
    }

    private static Mesh mesh(JsonNode json) {
        Primitive p = Primitive.triangles(ints(json.path("triangles")), floats(json.path("points")), null, -1);
        return new Mesh("shape", List.of(p), null, List.of(), Passthrough.NONE);
    }

    @Test
    public void aHoleIsFilledAsSciPyFillsIt() {
        JsonNode sheet = solved.path("sheet");
        Mesh mesh = mesh(sheet);
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        float[] rows = floats(sheet.path("rows"));
        float[] wanted = floats(sheet.path("solved"));
        BitSet known = new BitSet();
        for (int v : ints(sheet.path("known"))) {
            known.set(surface.weldedOf(v));
        }
        Influences.Builder given = new Influences.Builder(surface.size());
        for (int p = 0; p < surface.size(); p++) {
            for (int j = 0; j < 3; j++) {
                given.add(j, rows[surface.vertexOf(p) * 3 + j]);
            }
            given.endRow();
        }
        Influences filled = Inpainting.fill(surface, given.build(), known, 3, Work.QUIET);
        double mostOff = 0;
        double mostChanged = 0;
        for (int v = 0; v < wanted.length / 3; v++) {
            for (int j = 0; j < 3; j++) {
                mostOff = Math.max(mostOff, Math.abs(filled.weight(surface.weldedOf(v), j) - wanted[v * 3 + j]));
                mostChanged = Math.max(mostChanged, Math.abs(rows[v * 3 + j] - wanted[v * 3 + j]));
            }
        }
        assertThat(mostChanged).as("the hole makes a difference").isGreaterThan(0.01);
        // The fill drops weights under 1e-4, and SciPy's numbers have six digits.
        assertThat(mostOff).isLessThan(5e-4);
    }

    /** Three bones in a row and an end, in a capsule without weights. */
    private Asset capsule() {
        Mesh mesh = mesh(solved.path("capsule"));
        List<Node> nodes = new ArrayList<>();
        for (int j = 0; j < 4; j++) {
            int[] below = j == 3 ? new int[0] : new int[] {j + 1};
            nodes.add(Node.group("bone_" + j, Local.at(0, j == 0 ? 0 : 1, 0), below));
        }
        nodes.add(Node.group("capsule", Local.IDENTITY).withMesh(0, -1));
        Matrix4d[] binds = new Matrix4d[4];
        for (int j = 0; j < 4; j++) {
            binds[j] = new Matrix4d().translation(0, -j, 0);
        }
        Skin skin = new Skin("bones", new int[] {0, 1, 2, 3}, Skin.pack(binds), 0, Passthrough.NONE);
        return Asset.of("capsule", Conventions.GLTF, nodes, List.of(mesh), List.of(skin), List.of());
    }

    private double[] off(Asset bound, float[] wanted) {
        Influences rows = bound.meshes().getFirst().primitives().getFirst().influences();
        double sum = 0;
        double most = 0;
        for (int v = 0; v < rows.vertexCount(); v++) {
            for (int j = 0; j < 3; j++) {
                double d = Math.abs(rows.weight(v, j) - wanted[v * 3 + j]);
                sum += d;
                most = Math.max(most, d);
            }
            assertThat(rows.sum(v)).isCloseTo(1, within(1e-6));
        }
        return new double[] {sum / wanted.length, most};
    }

    @Test
    public void anUnskinnedCapsuleIsBoundAsHeatAndBoundedWeightsHaveIt() throws Exception {
        Change heat = new BindVolume("shape", VertexSet.ALL, "*", "bone_3", VolumeBind.How.HEAT, 0.5, 4, false)
                .apply(capsule(), Work.QUIET);
        assertThat(heat.counts()).containsEntry(Message.of("count.joints.bound.to"), 3L);
        double[] toHeat = off(heat.asset(), floats(solved.path("capsule").path("heat")));
        assertThat(toHeat[0]).as("mean against heat by SciPy").isLessThan(0.01);
        assertThat(toHeat[1]).as("largest against heat by SciPy").isLessThan(0.1);
        double[] toBounded = off(heat.asset(), floats(solved.path("capsule").path("bounded")));
        assertThat(toBounded[0]).as("mean against bounded biharmonic").isLessThan(0.06);
        Change distance = new BindVolume("shape", VertexSet.ALL, "*", "bone_3", VolumeBind.How.DISTANCE, 0.5, 4, false)
                .apply(capsule(), Work.QUIET);
        double[] far = off(distance.asset(), floats(solved.path("capsule").path("bounded")));
        assertThat(far[0]).as("mean of the way to every joint").isLessThan(0.04);
        System.out.printf(
                "capsule: heat %.4f mean %.3f largest off SciPy's heat, %.3f mean off bounded; distance %.3f mean off"
                        + " bounded%n",
                toHeat[0], toHeat[1], toBounded[0], far[0]);
    }

    @Test
    public void whatIsFactoredSolvesBackEvenInLongChainsAndLoosePieces() {
        for (int n : new int[] {1, 5, 20_000}) {
            SparseSymmetric chain = new SparseSymmetric(n);
            for (int i = 0; i < n; i++) {
                chain.add(i, i, 0.01);
                // Every third link is missing: pieces that do not hang together.
                if (i + 1 < n && i % 3 != 2) {
                    chain.add(i, i, 1);
                    chain.add(i + 1, i + 1, 1);
                    chain.add(i, i + 1, -1);
                }
            }
            SparseSymmetric.Rows rows = chain.rows();
            double[] x = new double[n];
            for (int i = 0; i < n; i++) {
                x[i] = Math.sin(i);
            }
            double[] found = SparseCholesky.of(rows).solve(rows.times(x));
            for (int i = 0; i < n; i++) {
                assertThat(found[i]).isCloseTo(x[i], within(1e-9));
            }
        }
        SparseSymmetric wrong = new SparseSymmetric(2);
        wrong.add(0, 0, 1);
        wrong.add(0, 1, 2);
        wrong.add(1, 1, 1);
        assertThat(SparseCholesky.of(wrong.rows())).isNull();
    }
}
