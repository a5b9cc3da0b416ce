package org.cleanmarrow.formats.mesh;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Faces;
import org.jspecify.annotations.Nullable;

/**
 * Corners of one piece of a part, each a triple of numbers of position, texture coordinate and normal (-1 for none);
 * equal triples are one vertex. Vertices come out in the order of their positions in the file, and where a position
 * has several, in the order they were first used.
 */
public final class Corners {
    private int[] triples = new int[3 * 64];
    private int vertices;
    private int[] corners = new int[128];
    private int count;
    private int[] table = new int[256];
    private @Nullable FaceList faces;
    private int[] place = {};

    public Corners() {
        Arrays.fill(table, -1);
    }

    public void add(int position, int uv, int normal) {
        if (count == corners.length) {
            corners = Arrays.copyOf(corners, count * 2);
        }
        corners[count++] = vertex(position, uv, normal);
    }

    /**
     * Adds a polygon whose triangles were just added: its corners as triples, in order.
     *
     * @param smoothing smoothing group, 0 for none
     * @param group     position in the file's list of groups, -1 where there are none
     */
    public void addFace(int[] polygonTriples, int size, int smoothing, int group) {
        if (faces == null && FaceList.isPlain(size, smoothing, group)) {
            return;
        }
        faces = faces == null ? new FaceList((count - 3 * (size - 2)) / 3, corners) : faces;
        int[] own = new int[size];
        for (int i = 0; i < size; i++) {
            own[i] = vertex(polygonTriples[3 * i], polygonTriples[3 * i + 1], polygonTriples[3 * i + 2]);
        }
        faces.add(own, size, smoothing, group);
    }

    private int vertex(int position, int uv, int normal) {
        int mask = table.length - 1;
        int slot = hash(position, uv, normal) & mask;
        while (table[slot] >= 0) {
            int t = table[slot] * 3;
            if (triples[t] == position && triples[t + 1] == uv && triples[t + 2] == normal) {
                return table[slot];
            }
            slot = slot + 1 & mask;
        }
        if (vertices * 3 == triples.length) {
            triples = Arrays.copyOf(triples, triples.length * 2);
        }
        triples[vertices * 3] = position;
        triples[vertices * 3 + 1] = uv;
        triples[vertices * 3 + 2] = normal;
        table[slot] = vertices++;
        if (vertices * 2 > table.length) {
            grow();
        }
        return vertices - 1;
    }

    private void grow() {
        table = new int[table.length * 4];
        Arrays.fill(table, -1);
        for (int v = 0; v < vertices; v++) {
            int slot = hash(triples[v * 3], triples[v * 3 + 1], triples[v * 3 + 2]) & table.length - 1;
            while (table[slot] >= 0) {
                slot = slot + 1 & table.length - 1;
            }
            table[slot] = v;
        }
    }

    private static int hash(int a, int b, int c) {
        int h = a * 0x9E3779B1 ^ b * 0x85EBCA77 ^ c * 0xC2B2AE3D;
        h ^= h >>> 15;
        return h * 0x2C1B3C6D ^ h >>> 13;
    }

    public boolean isEmpty() {
        return count == 0;
    }

    /** Vertices in their final order: numbers as they were first met. */
    private int[] order() {
        // Position in the high bits, first use in the low ones: sorting numbers is far quicker than sorting objects.
        long[] keys = new long[vertices];
        for (int v = 0; v < vertices; v++) {
            keys[v] = (long) triples[v * 3] << 32 | v;
        }
        Arrays.sort(keys);
        int[] order = new int[vertices];
        for (int v = 0; v < vertices; v++) {
            order[v] = (int) keys[v];
        }
        return order;
    }

    /** What the piece is made of. */
    public record Result(int[] indices, int[] positions, int[] uvs, int[] normals) {}

    public Result result() {
        int[] order = order();
        place = new int[vertices];
        int[][] numbers = new int[3][vertices];
        for (int v = 0; v < vertices; v++) {
            place[order[v]] = v;
            for (int k = 0; k < 3; k++) {
                numbers[k][v] = triples[order[v] * 3 + k];
            }
        }
        int[] indices = new int[count];
        for (int i = 0; i < count; i++) {
            indices[i] = place[corners[i]];
        }
        return new Result(indices, numbers[0], numbers[1], numbers[2]);
    }

    /**
     * The polygons of what {@link #result} gave, or null where they say no more than its triangles.
     *
     * @param made   that result
     * @param groups names of the file's groups
     * @param alone  true where no other piece may use the same positions
     */
    @Nullable
    public Faces faces(Result made, List<String> groups, boolean alone) {
        int[] points = alone && counts(made.positions) ? null : made.positions;
        if (faces != null) {
            return faces.result(place, points, groups);
        }
        if (points == null || count % 3 != 0) {
            return null;
        }
        int[] starts = new int[count / 3 + 1];
        for (int t = 0; t < starts.length; t++) {
            starts[t] = 3 * t;
        }
        return new Faces(starts, made.indices, points, null, null, List.of());
    }

    /** True where each number is one above that before it. */
    private static boolean counts(int[] numbers) {
        for (int i = 1; i < numbers.length; i++) {
            if (numbers[i] != numbers[i - 1] + 1) {
                return false;
            }
        }
        return true;
    }
}
