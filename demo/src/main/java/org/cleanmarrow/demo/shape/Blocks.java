package org.cleanmarrow.demo.shape;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Primitive;
import org.joml.Vector3d;

/** Boxes with flat sides, put together into one primitive. */
public final class Blocks {
    private static final int[][] SIDES = {{0, 1}, {0, -1}, {1, 1}, {1, -1}, {2, 1}, {2, -1}};

    private final List<Float> positions = new ArrayList<>();
    private final List<Float> normals = new ArrayList<>();
    private final List<Integer> corners = new ArrayList<>();

    /** Adds a box by its middle and its half edges. */
    public Blocks box(double x, double y, double z, double hx, double hy, double hz) {
        double[] half = {hx, hy, hz};
        for (int[] side : SIDES) {
            int first = positions.size() / 3;
            int u = (side[0] + 1) % 3;
            int v = (side[0] + 2) % 3;
            for (int corner = 0; corner < 4; corner++) {
                double[] p = {x, y, z};
                p[side[0]] += side[1] * half[side[0]];
                p[u] += (corner == 1 || corner == 2 ? 1 : -1) * side[1] * half[u];
                p[v] += (corner >= 2 ? 1 : -1) * half[v];
                for (int d = 0; d < 3; d++) {
                    positions.add((float) p[d]);
                    normals.add(d == side[0] ? (float) side[1] : 0f);
                }
            }
            corners.addAll(List.of(first, first + 1, first + 2, first, first + 2, first + 3));
        }
        return this;
    }

    /** Adds a surface. */
    public Blocks shell(Shell shell) {
        int first = positions.size() / 3;
        for (int v = 0; v < shell.points.size(); v++) {
            Vector3d p = shell.points.get(v);
            positions.addAll(List.of((float) p.x, (float) p.y, (float) p.z));
            Vector3d n = shell.normals.get(v);
            normals.addAll(List.of((float) n.x, (float) n.y, (float) n.z));
        }
        shell.triangles.forEach(t -> Arrays.stream(t).forEach(c -> corners.add(first + c)));
        return this;
    }

    public Primitive primitive(int material) {
        return Primitive.triangles(
                corners.stream().mapToInt(Integer::intValue).toArray(), floats(positions), floats(normals), material);
    }

    private static float[] floats(List<Float> list) {
        float[] out = new float[list.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = list.get(i);
        }
        return out;
    }
}
