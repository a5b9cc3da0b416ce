package org.cleanmarrow.demo.shape;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;
import org.joml.Vector3d;

/**
 * Turns an implicit surface into triangles: one point in each cell of a grid that the surface passes through
 * (surface nets, Gibson 1998), then drawn onto the surface along its slope.
 */
public final class SurfaceNets {
    /** How much a field may rise over a distance, as a share of it. */
    private static final double STEEPEST = 2;

    private final Field field;
    private final Vector3d min;
    private final double cell;
    private final int nx;
    private final int ny;
    private final int nz;
    private final float[] values;
    private final Map<Integer, Integer> pointOf = new HashMap<>();
    private final Shell shell = new Shell();

    private SurfaceNets(Field field, Vector3d min, Vector3d max, double cell) {
        this.field = field;
        this.min = min;
        this.cell = cell;
        nx = (int) Math.ceil((max.x - min.x) / cell) + 1;
        ny = (int) Math.ceil((max.y - min.y) / cell) + 1;
        nz = (int) Math.ceil((max.z - min.z) / cell) + 1;
        values = new float[nx * ny * nz];
    }

    /**
     * @param min  corner of a box that holds the whole surface
     * @param cell edge of a grid cell in metres
     */
    public static Shell of(Field field, Vector3d min, Vector3d max, double cell) {
        return new SurfaceNets(field, min, max, cell).run();
    }

    private Shell run() {
        IntStream.range(0, nz).parallel().forEach(k -> {
            for (int j = 0; j < ny; j++) {
                fill(j, k);
            }
        });
        for (int k = 0; k + 1 < nz; k++) {
            for (int j = 0; j + 1 < ny; j++) {
                for (int i = 0; i + 1 < nx; i++) {
                    point(i, j, k);
                }
            }
        }
        for (int k = 1; k + 1 < nz; k++) {
            for (int j = 1; j + 1 < ny; j++) {
                for (int i = 1; i + 1 < nx; i++) {
                    faces(i, j, k);
                }
            }
        }
        drawOntoSurface();
        return shell.withoutLoosePoints();
    }

    /** A row of the grid. Where a value is large the surface is far, and of what lies between only the sign is asked. */
    private void fill(int j, int k) {
        for (int i = 0; i < nx; ) {
            float value = (float) field.at(min.x + i * cell, min.y + j * cell, min.z + k * cell);
            int alike = Math.max(1, (int) (Math.abs(value) / (STEEPEST * cell)));
            int end = Math.min(nx, i + alike);
            Arrays.fill(values, index(i, j, k), index(end, j, k), value);
            i = end;
        }
    }

    private int index(int i, int j, int k) {
        return (k * ny + j) * nx + i;
    }

    private void point(int i, int j, int k) {
        double x = 0;
        double y = 0;
        double z = 0;
        int crossings = 0;
        for (int edge = 0; edge < 12; edge++) {
            int axis = edge / 4;
            int u = edge & 1;
            int v = edge >> 1 & 1;
            int ax = axis == 0 ? 0 : u;
            int ay = axis == 1 ? 0 : axis == 0 ? u : v;
            int az = axis == 2 ? 0 : v;
            float a = values[index(i + ax, j + ay, k + az)];
            float b = values[
                    index(i + ax + (axis == 0 ? 1 : 0), j + ay + (axis == 1 ? 1 : 0), k + az + (axis == 2 ? 1 : 0))];
            if (a < 0 == b < 0) {
                continue;
            }
            double t = a / (double) (a - b);
            x += ax + (axis == 0 ? t : 0);
            y += ay + (axis == 1 ? t : 0);
            z += az + (axis == 2 ? t : 0);
            crossings++;
        }
        if (crossings > 0) {
            Vector3d p = new Vector3d(
                    min.x + (i + x / crossings) * cell,
                    min.y + (j + y / crossings) * cell,
                    min.z + (k + z / crossings) * cell);
            pointOf.put(index(i, j, k), shell.add(p, new Vector3d()));
        }
    }

    private void faces(int i, int j, int k) {
        boolean inside = values[index(i, j, k)] < 0;
        if (inside != values[index(i + 1, j, k)] < 0) {
            face(inside, index(i, j - 1, k - 1), index(i, j, k - 1), index(i, j, k), index(i, j - 1, k));
        }
        if (inside != values[index(i, j + 1, k)] < 0) {
            face(inside, index(i - 1, j, k - 1), index(i - 1, j, k), index(i, j, k), index(i, j, k - 1));
        }
        if (inside != values[index(i, j, k + 1)] < 0) {
            face(inside, index(i - 1, j - 1, k), index(i, j - 1, k), index(i, j, k), index(i - 1, j, k));
        }
    }

    private void face(boolean inside, int a, int b, int c, int d) {
        int p = pointOf.get(a);
        int q = pointOf.get(b);
        int r = pointOf.get(c);
        int s = pointOf.get(d);
        if (inside) {
            shell.quad(p, q, r, s);
        } else {
            shell.quad(p, s, r, q);
        }
    }

    private void drawOntoSurface() {
        IntStream.range(0, shell.points.size()).parallel().forEach(p -> {
            Vector3d at = shell.points.get(p);
            for (int i = 0; i < 3; i++) {
                double value = field.at(at.x, at.y, at.z);
                // A field is only roughly a distance, so a step is kept shorter than the cell.
                double step = Math.clamp(value, -cell * 0.4, cell * 0.4);
                at.fma(-step, field.slope(at.x, at.y, at.z));
            }
            shell.normals.get(p).set(field.slope(at.x, at.y, at.z));
        });
    }
}
