package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;

/** Strands of hair or feather: the lines of a mesh, each from its root to its tip. */
public final class Strands {
    private Strands() {}

    /**
     * One strand.
     *
     * @param primitive whose line it is
     * @param vertices  numbers in the primitive, at least two, from the root on
     */
    public record Strand(int primitive, int[] vertices) {}

    /** All strands of a mesh, in the order of their first vertices' lines. */
    public static List<Strand> of(Mesh mesh) {
        List<Strand> out = new ArrayList<>();
        for (int p = 0; p < mesh.primitives().size(); p++) {
            of(mesh.primitives().get(p), p, out);
        }
        return out;
    }

    private static void of(Primitive p, int number, List<Strand> out) {
        if (p.mode() == Primitive.Mode.POINTS || p.mode().ordinal() >= Primitive.Mode.TRIANGLES.ordinal()) {
            return;
        }
        int[] indices = p.indices();
        if (indices == null) {
            indices = new int[p.vertexCount()];
            Arrays.setAll(indices, i -> i);
        }
        switch (p.mode()) {
            case LINE_STRIP -> whole(number, indices, out);
            case LINE_LOOP -> {
                int[] round = Arrays.copyOf(indices, indices.length + 1);
                if (indices.length > 1) {
                    round[indices.length] = indices[0];
                    whole(number, round, out);
                }
            }
            case LINES -> chained(number, indices, p.vertexCount(), out);
            default -> {}
        }
    }

    private static void whole(int primitive, int[] vertices, List<Strand> out) {
        if (vertices.length > 1) {
            out.add(new Strand(primitive, vertices));
        }
    }

    /** Pieces that follow each other are one strand; where more than two meet, each begins anew. */
    private static void chained(int primitive, int[] pairs, int vertices, List<Strand> out) {
        int[] from = new int[vertices];
        int[] to = new int[vertices];
        int[] next = new int[vertices];
        for (int i = 0; i + 1 < pairs.length; i += 2) {
            from[pairs[i]]++;
            to[pairs[i + 1]]++;
            next[pairs[i]] = i;
        }
        boolean[] done = new boolean[pairs.length];
        // Those that nothing leads to begin strands; what is left then runs round.
        for (int pass = 0; pass < 2; pass++) {
            for (int i = 0; i + 1 < pairs.length; i += 2) {
                boolean begins = to[pairs[i]] != 1 || from[pairs[i]] != 1;
                if (done[i] || pass == 0 && !begins) {
                    continue;
                }
                List<Integer> strand = new ArrayList<>(List.of(pairs[i]));
                int at = i;
                while (true) {
                    done[at] = true;
                    int v = pairs[at + 1];
                    strand.add(v);
                    if (from[v] != 1 || to[v] != 1 || done[next[v]]) {
                        break;
                    }
                    at = next[v];
                }
                out.add(new Strand(
                        primitive, strand.stream().mapToInt(Integer::intValue).toArray()));
            }
        }
    }

    /**
     * Strands of one part.
     *
     * @param points together
     */
    public record Count(int node, int curves, int points) {}

    /** The parts of an asset that have strands, in node order. */
    public static List<Count> counts(Asset asset) {
        List<Count> out = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0) {
                List<Strand> own = of(asset.meshes().get(node.mesh()));
                if (!own.isEmpty()) {
                    out.add(new Count(
                            n,
                            own.size(),
                            own.stream().mapToInt(s -> s.vertices.length).sum()));
                }
            }
        }
        return out;
    }
}
