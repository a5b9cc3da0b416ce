package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.FloatBuffer;
import java.nio.IntBuffer;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.measure.Simplified;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.surface.Simplifier;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Work;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;
import org.testng.annotations.Test;

/** Half the triangles of pilot and cape, beside what meshoptimizer makes of the bare shape in the same run. */
public class SimplifiedPilotTest {
    private static int node(Asset asset, String name) {
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0 && asset.meshes().get(node.mesh()).name().equals(name)) {
                return n;
            }
        }
        throw new AssertionError(name);
    }

    /** meshoptimizer without weights, normals or texture coordinates. */
    private static Mesh plain(Mesh mesh, int triangles) {
        Primitive p = mesh.primitives().getFirst();
        int[] corners = p.triangleCorners();
        IntBuffer result = MemoryUtil.memAllocInt(corners.length);
        IntBuffer indices = MemoryUtil.memAllocInt(corners.length).put(corners).flip();
        FloatBuffer positions = MemoryUtil.memAllocFloat(p.positions().length)
                .put(p.positions())
                .flip();
        try {
            long count = MeshOptimizer.meshopt_simplify(
                    result, indices, positions, p.vertexCount(), 12, 3L * triangles, Float.MAX_VALUE, 0, null);
            int[] left = new int[(int) count];
            result.get(0, left);
            return mesh.withPrimitives(List.of(Subset.ofTriangles(p, left)));
        } finally {
            MemoryUtil.memFree(result);
            MemoryUtil.memFree(indices);
            MemoryUtil.memFree(positions);
        }
    }

    /** Edges with one triangle alone, corners at one place counted as one. */
    private static long openEdges(Mesh mesh) {
        return edges(mesh).values().stream().filter(n -> n == 1).count();
    }

    private static Map<List<List<Float>>, Integer> edges(Mesh mesh) {
        Map<List<List<Float>>, Integer> edges = new HashMap<>();
        for (Primitive p : mesh.primitives()) {
            int[] c = p.triangleCorners();
            for (int t = 0; t < c.length; t += 3) {
                for (int i = 0; i < 3; i++) {
                    List<List<Float>> edge = new ArrayList<>(List.of(place(p, c[t + i]), place(p, c[t + (i + 1) % 3])));
                    edge.sort(java.util.Comparator.comparing(List::toString));
                    edges.merge(edge, 1, Integer::sum);
                }
            }
        }
        return edges;
    }

    private static List<Float> place(Primitive p, int v) {
        return List.of(p.positions()[v * 3], p.positions()[v * 3 + 1], p.positions()[v * 3 + 2]);
    }

    private static long strays(Mesh mesh) {
        return mesh.primitives().stream()
                .flatMapToInt(p -> java.util.stream.IntStream.range(0, p.vertexCount())
                        .map(v -> p.influences().rowLength(v)))
                .filter(length -> length == 0)
                .count();
    }

    private static Simplified price(Asset asset, int n, Mesh coarse) {
        Node node = asset.nodes().get(n);
        MeshPlace place = new MeshPlace(n, node.mesh(), node.skin());
        return Simplified.measure(asset, place, asset.withMesh(node.mesh(), coarse), place, Work.QUIET);
    }

    @Test
    public void halfTheTrianglesKeepSeamsAndMoveAsTheWholeDid() throws Exception {
        Asset asset = FerryPilot.asset();
        for (String name : List.of("pilot", "cape")) {
            int n = node(asset, name);
            Mesh mesh = asset.meshes().get(asset.nodes().get(n).mesh());
            int half = mesh.triangleCount() / 2;
            Change change = new Simplify(asset.nodeRef(n), half, 0, 1).apply(asset, Work.QUIET);
            Mesh coarse = change.asset().meshes().get(asset.nodes().get(n).mesh());
            assertThat(coarse.triangleCount()).isBetween(half - half / 20, half + half / 20);
            // No seam opens: a closed surface stays closed, and the border of an open one only grows shorter.
            assertThat(openEdges(coarse)).as(name).isLessThanOrEqualTo(openEdges(mesh));
            assertThat(strays(coarse)).isLessThanOrEqualTo(strays(mesh));
            Simplified ours = price(asset, n, coarse);
            Simplified bare = price(asset, n, plain(mesh, half));
            System.out.printf(
                    "half of %s: %d triangles, rest %.2f mm, clips %.2f mm; bare meshoptimizer rest %.2f, clips %.2f mm%n",
                    name,
                    coarse.triangleCount(),
                    1000 * ours.restMetres(),
                    1000 * ours.clipsMetres(),
                    1000 * bare.restMetres(),
                    1000 * bare.clipsMetres());
            assertThat(ours.clipsMetres()).isLessThan(bare.clipsMetres());
            assertThat(ours.clipsMetres()).isLessThan(0.012);
            assertThat(change.notes()).anyMatch(s -> s.toString().contains("frames of the clips"));
        }
    }

    /** Edges with more than two triangles, corners at one place counted as one. */
    private static long pinched(Mesh mesh) {
        return edges(mesh).values().stream().filter(n -> n > 2).count();
    }

    /** The bare collapse pinches 13 edges here. */
    @Test
    public void surfacesThatComeToTouchAreKeptApart() {
        Asset asset = FerryPilot.asset();
        Mesh mesh = asset.meshes().get(asset.findMesh("pilot"));
        Mesh coarse = Simplifier.simplified(mesh, mesh.triangleCount() / 4, 1).mesh();
        assertThat(coarse.triangleCount()).isLessThanOrEqualTo(mesh.triangleCount() / 4);
        assertThat(pinched(coarse)).isLessThanOrEqualTo(4);
    }

    /** Strong reduction folds surfaces onto themselves; no triangle may be there twice, and the figure is to the surface. */
    @Test
    public void strongReductionLeavesNoTriangleTwice() throws Exception {
        Asset whole = FerryPilot.asset();
        // One clip tells: the figure is to the surface in every pose alike.
        Asset asset = whole.withClips(List.of(whole.clips().get(whole.findClip("punt"))));
        int n = node(asset, "pilot");
        Change change = new Simplify(asset.nodeRef(n), 1500, 0, 1).apply(asset, Work.QUIET);
        Mesh coarse = change.asset().meshes().get(asset.nodes().get(n).mesh());
        var topology = org.cleanmarrow.surface.MeshTopology.of(coarse);
        java.util.Set<java.util.Set<Integer>> seen = new java.util.HashSet<>();
        for (int t = 0; t + 2 < topology.corners().length; t += 3) {
            java.util.Set<Integer> triangle = new java.util.HashSet<>();
            for (int i = 0; i < 3; i++) {
                triangle.add(topology.weldedOf(topology.corners()[t + i]));
            }
            assertThat(triangle).hasSize(3);
            assertThat(seen.add(triangle)).isTrue();
        }
        // The probe measures to the surface too: nearest vertices alone lie centimetres apart by now.
        var motion = org.cleanmarrow.measure.MotionProbe.compare(asset, change.asset(), Work.QUIET);
        Simplified price = price(asset, n, coarse);
        assertThat(motion.topology().toString()).contains("nearest point of the surface");
        assertThat(motion.largestMetres()).isLessThan(3 * price.clipsMetres() + 0.02);
    }
}
