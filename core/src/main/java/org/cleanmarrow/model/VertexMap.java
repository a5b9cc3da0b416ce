package org.cleanmarrow.model;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Which vertex of a mesh became which: whoever changes their order or number says so by one, and {@link Asset#withMesh(int,
 * Mesh, VertexMap)} carries all along that is kept by vertex outside the mesh.
 *
 * @param from for each vertex of the new mesh its number in the old one
 */
public record VertexMap(int[] from) {

    /** Of a mesh whose pieces are each some vertices of an old piece. */
    public static VertexMap of(List<Piece> pieces) {
        int[] out = new int
                [pieces.stream()
                        .mapToInt(p -> p.kept == null ? p.count : p.kept.length)
                        .sum()];
        int at = 0;
        for (Piece piece : pieces) {
            int many = piece.kept == null ? piece.count : piece.kept.length;
            for (int v = 0; v < many; v++) {
                out[at++] = piece.first + (piece.kept == null ? v : piece.kept[v]);
            }
        }
        return new VertexMap(out);
    }

    /**
     * Vertices of one piece of a mesh.
     *
     * @param first number in the old mesh of the piece's first vertex
     * @param count how many the piece had
     * @param kept  numbers within it in their new order; null: all, as they were
     */
    public record Piece(int first, int count, int @Nullable [] kept) {}
}
