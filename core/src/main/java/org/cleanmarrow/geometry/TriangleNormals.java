package org.cleanmarrow.geometry;

/** Normals of triangles, as long as twice their area. */
public final class TriangleNormals {
    private TriangleNormals() {}

    /**
     * The normal of the triangle whose corners begin at {@code t}.
     *
     * @param corners   three vertex numbers a triangle
     * @param positions 3 a vertex
     * @param out       gets three numbers at {@code at}
     */
    public static void put(int[] corners, int t, float[] positions, float[] out, int at) {
        int a = corners[t] * 3;
        int b = corners[t + 1] * 3;
        int c = corners[t + 2] * 3;
        float ux = positions[b] - positions[a];
        float uy = positions[b + 1] - positions[a + 1];
        float uz = positions[b + 2] - positions[a + 2];
        float vx = positions[c] - positions[a];
        float vy = positions[c + 1] - positions[a + 1];
        float vz = positions[c + 2] - positions[a + 2];
        out[at] = uy * vz - uz * vy;
        out[at + 1] = uz * vx - ux * vz;
        out[at + 2] = ux * vy - uy * vx;
    }
}
