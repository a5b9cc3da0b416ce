package org.cleanmarrow.surface;

import java.nio.ByteBuffer;
import java.nio.FloatBuffer;
import java.nio.IntBuffer;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;

/**
 * Fewer triangles for the same shape, by meshoptimizer's edge collapse (Garland and Heckbert 1997, with attributes after
 * Hoppe 1999). Vertices are only left out, never moved or mixed, so that what is kept has the weights, normals and
 * texture coordinates it had. All pieces of a mesh are simplified together: seams between them, and seams of texture
 * coordinates and hard edges, stay closed.
 */
public final class Simplifier {
    /** How many joints' weights can be watched at once; meshoptimizer takes 32 numbers a vertex, five go elsewhere. */
    private static final int MOST_JOINTS = 27;

    /** Where surfaces come to touch it is done again with what lies there held, this often at most. */
    private static final int ATTEMPTS = 6;

    private static final float NORMAL = 0.3f;
    private static final float UV = 0.5f;

    private Simplifier() {}

    /** A simplified mesh, and which vertices of the other it kept. */
    public record Coarse(Mesh mesh, VertexMap vertices) {}

    /**
     * A mesh of about so many triangles; it keeps more where the shape allows no fewer. Lines and points stay.
     *
     * @param triangles wanted, at least 1
     * @param weights   how much a difference of a joint's weight counts beside one of shape, 0 for not at all; 1 counts a
     *     full weight as much as the whole size of the mesh
     */
    public static Coarse simplified(Mesh mesh, int triangles, double weights) {
        List<Primitive> solid = mesh.primitives().stream()
                .filter(p -> p.triangleCorners().length > 0)
                .toList();
        int vertices = solid.stream().mapToInt(Primitive::vertexCount).sum();
        int corners = solid.stream().mapToInt(p -> p.triangleCorners().length).sum();
        if (corners / 3 <= triangles) {
            return new Coarse(mesh, whole(mesh));
        }
        int[] joints = weights > 0 ? busiest(solid) : new int[0];
        int width = 5 + joints.length;
        FloatBuffer positions = MemoryUtil.memAllocFloat(vertices * 3);
        FloatBuffer attributes = MemoryUtil.memCallocFloat(vertices * width);
        FloatBuffer importance = MemoryUtil.memAllocFloat(width);
        IntBuffer indices = MemoryUtil.memAllocInt(corners);
        IntBuffer result = MemoryUtil.memAllocInt(corners);
        ByteBuffer locked = MemoryUtil.memCalloc(vertices);
        try {
            int first = 0;
            for (Primitive p : solid) {
                positions.put(p.positions());
                fill(attributes, p, first, width, joints);
                for (int corner : p.triangleCorners()) {
                    indices.put(first + corner);
                }
                first += p.vertexCount();
            }
            positions.flip();
            indices.flip();
            for (int i = 0; i < width; i++) {
                importance.put(i, i < 3 ? NORMAL : i < 5 ? UV : (float) weights);
            }
            float[] places = new float[vertices * 3];
            positions.get(0, places);
            int[] welded = MeshTopology.weld(places);
            int[] source = new int[corners];
            indices.get(0, source);
            Set<Long> pinchedBefore = pinched(source, welded);
            int[] best = null;
            int fewest = Integer.MAX_VALUE;
            for (int attempt = 0; attempt < ATTEMPTS && fewest > 0; attempt++) {
                long count = MeshOptimizer.meshopt_simplifyWithAttributes(
                        result,
                        indices,
                        positions,
                        vertices,
                        3L * Float.BYTES,
                        attributes,
                        (long) width * Float.BYTES,
                        importance,
                        locked,
                        3L * triangles,
                        Float.MAX_VALUE,
                        0,
                        null);
                int[] left = new int[(int) count];
                result.get(0, left);
                left = single(left, welded);
                Set<Long> pinched = pinched(left, welded);
                pinched.removeAll(pinchedBefore);
                if (pinched.size() < fewest && (best == null || left.length <= 3.15 * triangles)) {
                    best = left;
                    fewest = pinched.size();
                }
                lockAround(pinched, source, welded, locked);
            }
            return rebuilt(mesh, solid, Objects.requireNonNull(best));
        } finally {
            MemoryUtil.memFree(positions);
            MemoryUtil.memFree(attributes);
            MemoryUtil.memFree(importance);
            MemoryUtil.memFree(indices);
            MemoryUtil.memFree(result);
            MemoryUtil.memFree(locked);
        }
    }

    /**
     * The triangles without those that strong reduction folds onto each other: of two that face the same way one stays, two
     * that face each other enclose nothing and go both; what has lost its area goes too.
     */
    private static int[] single(int[] corners, int[] welded) {
        Map<List<Integer>, int[]> known = new HashMap<>();
        boolean[] gone = new boolean[corners.length / 3];
        for (int t = 0; t < gone.length; t++) {
            int a = welded[corners[t * 3]];
            int b = welded[corners[t * 3 + 1]];
            int c = welded[corners[t * 3 + 2]];
            if (a == b || b == c || a == c) {
                gone[t] = true;
                continue;
            }
            int least = Math.min(a, Math.min(b, c));
            int most = Math.max(a, Math.max(b, c));
            int middle = a + b + c - least - most;
            boolean even = a == least ? b == middle : b == least ? c == middle : a == middle;
            int[] other = known.putIfAbsent(List.of(least, middle, most), new int[] {t, even ? 1 : 0});
            if (other != null) {
                gone[t] = true;
                gone[other[0]] |= other[1] != (even ? 1 : 0);
            }
        }
        int[] out = new int[corners.length];
        int many = 0;
        for (int t = 0; t < gone.length; t++) {
            if (!gone[t]) {
                System.arraycopy(corners, t * 3, out, many, 3);
                many += 3;
            }
        }
        return java.util.Arrays.copyOf(out, many);
    }

    /** Edges of the welded surface with more than two triangles, as the pair of their places. */
    private static Set<Long> pinched(int[] corners, int[] welded) {
        Map<Long, Integer> faces = new HashMap<>();
        for (int t = 0; t + 2 < corners.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                long a = welded[corners[t + i]];
                long b = welded[corners[t + (i + 1) % 3]];
                faces.merge(Math.min(a, b) << 32 | Math.max(a, b), 1, Integer::sum);
            }
        }
        faces.values().removeIf(many -> many <= 2);
        return new HashSet<>(faces.keySet());
    }

    /** Keeps what lies at some edges, and what lay beside that in the source, where it is. */
    private static void lockAround(Set<Long> edges, int[] source, int[] welded, ByteBuffer locked) {
        BitSet at = new BitSet();
        edges.forEach(e -> {
            at.set((int) (e >>> 32));
            at.set((int) (long) e);
        });
        for (int t = 0; t + 2 < source.length; t += 3) {
            if (at.get(welded[source[t]]) || at.get(welded[source[t + 1]]) || at.get(welded[source[t + 2]])) {
                for (int i = 0; i < 3; i++) {
                    locked.put(source[t + i], (byte) 1);
                }
            }
        }
    }

    private static void fill(FloatBuffer out, Primitive p, int first, int width, int[] joints) {
        Attribute uv = p.attribute("TEXCOORD_0").filter(a -> a.width() == 2).orElse(null);
        Influences rows = p.influences();
        for (int v = 0; v < p.vertexCount(); v++) {
            int at = (first + v) * width;
            for (int i = 0; p.normals() != null && i < 3; i++) {
                out.put(at + i, p.normals()[v * 3 + i]);
            }
            for (int i = 0; uv != null && i < 2; i++) {
                out.put(at + 3 + i, uv.values()[v * 2 + i]);
            }
            for (int j = 0; rows != null && j < joints.length; j++) {
                out.put(at + 5 + j, rows.weight(v, joints[j]));
            }
        }
    }

    /** The joints whose weights differ most over the mesh: those are the ones that a careless collapse would tear. */
    private static int[] busiest(List<Primitive> solid) {
        int most = -1;
        for (Primitive p : solid) {
            for (int i = 0; p.influences() != null && i < p.influences().joints().length; i++) {
                most = Math.max(most, p.influences().joints()[i]);
            }
        }
        double[] spread = new double[most + 1];
        for (Primitive p : solid) {
            Influences rows = p.influences();
            for (int i = 0; rows != null && i < rows.joints().length; i++) {
                double w = rows.weights()[i];
                spread[rows.joints()[i]] += w * (1 - Math.min(1, Math.abs(w))) + 1e-9;
            }
        }
        return java.util.stream.IntStream.range(0, spread.length)
                .filter(j -> spread[j] > 0)
                .boxed()
                .sorted((a, b) -> Double.compare(spread[b], spread[a]))
                .limit(MOST_JOINTS)
                .mapToInt(Integer::intValue)
                .toArray();
    }

    private static Coarse rebuilt(Mesh mesh, List<Primitive> solid, int[] corners) {
        int[] owner = new int[solid.stream().mapToInt(Primitive::vertexCount).sum()];
        int[] firsts = new int[solid.size()];
        int first = 0;
        for (int p = 0; p < firsts.length; p++) {
            firsts[p] = first;
            java.util.Arrays.fill(owner, first, first + solid.get(p).vertexCount(), p);
            first += solid.get(p).vertexCount();
        }
        List<List<Integer>> own = new ArrayList<>();
        solid.forEach(p -> own.add(new ArrayList<>()));
        for (int t = 0; t + 2 < corners.length; t += 3) {
            int p = owner[corners[t]];
            for (int c = 0; c < 3; c++) {
                own.get(p).add(corners[t + c] - firsts[p]);
            }
        }
        List<Primitive> out = new ArrayList<>();
        List<VertexMap.Piece> pieces = new ArrayList<>();
        int start = 0;
        for (Primitive p : mesh.primitives()) {
            int number = identity(solid, p);
            if (number < 0) {
                out.add(p);
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), null));
            } else if (!own.get(number).isEmpty()) {
                int[] left =
                        own.get(number).stream().mapToInt(Integer::intValue).toArray();
                out.add(Subset.ofTriangles(p, left));
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), Subset.used(left)));
            }
            start += p.vertexCount();
        }
        return new Coarse(mesh.withPrimitives(out), VertexMap.of(pieces));
    }

    private static VertexMap whole(Mesh mesh) {
        return VertexMap.of(List.of(new VertexMap.Piece(0, mesh.vertexCount(), null)));
    }

    private static int identity(List<Primitive> list, Primitive p) {
        for (int i = 0; i < list.size(); i++) {
            if (list.get(i) == p) {
                return i;
            }
        }
        return -1;
    }
}
