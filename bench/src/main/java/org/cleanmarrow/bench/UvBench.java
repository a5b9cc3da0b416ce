package org.cleanmarrow.bench;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.intake.RelaxUvs;
import org.cleanmarrow.uv.UvLayout;
import org.cleanmarrow.uv.UvOverlap;
import org.cleanmarrow.uv.UvStretch;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** How a mesh of 100,000 triangles lies in its picture, and is evened out there. */
final class UvBench {
    private static final int SIDE = 224;

    private UvBench() {}

    static void run(Report report) throws Exception {
        report.title("Texture coordinates");
        Asset asset = bump();
        Mesh mesh = asset.meshes().getFirst();
        UvLayout layout = UvLayout.of(mesh, 0).orElseThrow();
        report.within("islands of 100,000 triangles", Timing.of(1, 3, () -> UvLayout.of(mesh, 0)), 1000);
        report.within("what of them overlaps", Timing.of(1, 3, () -> UvOverlap.of(layout, Work.QUIET)), 1000);
        report.within("their stretch", Timing.of(1, 3, () -> UvStretch.of(mesh, layout)), 200);
        RelaxUvs relax = new RelaxUvs("bump", VertexSet.ALL, 0);
        report.within(
                "50,000 points of a jumbled bump evened out",
                Timing.of(0, 2, () -> relax.apply(asset, Work.QUIET)),
                10_000);
        report.note(relax.apply(asset, Work.QUIET).notes().getFirst().toString());
    }

    private static Asset bump() {
        int n = (SIDE + 1) * (SIDE + 1);
        Random random = new Random(46);
        float[] p = new float[3 * n];
        float[] uv = new float[2 * n];
        List<Integer> corners = new ArrayList<>();
        for (int v = 0; v < n; v++) {
            int r = v / (SIDE + 1);
            int c = v % (SIDE + 1);
            double x = (double) c / SIDE;
            double y = (double) r / SIDE;
            boolean inside = r > 0 && c > 0 && r < SIDE && c < SIDE;
            p[3 * v] = (float) x;
            p[3 * v + 1] = (float) -y;
            p[3 * v + 2] = (float) (0.4 * Math.sin(Math.PI * x) * Math.sin(Math.PI * y));
            uv[2 * v] = (float) (x + (inside ? 0.4 / SIDE * (random.nextDouble() - 0.5) : 0));
            uv[2 * v + 1] = (float) (y + (inside ? 0.4 / SIDE * (random.nextDouble() - 0.5) : 0));
            if (r < SIDE && c < SIDE) {
                int below = v + SIDE + 1;
                corners.addAll(List.of(v, below, v + 1, v + 1, below, below + 1));
            }
        }
        Primitive primitive = Primitive.triangles(
                        corners.stream().mapToInt(i -> i).toArray(), p, null, -1)
                .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)));
        Node node = Node.group("bump", Local.IDENTITY).withMesh(0, -1);
        return Asset.of(
                "bump", Conventions.GLTF, List.of(node), List.of(Mesh.of("bump", primitive)), List.of(), List.of());
    }
}
