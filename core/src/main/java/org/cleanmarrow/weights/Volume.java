package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * The space inside surfaces as cells: those that a surface passes through, and those that cannot be reached from outside
 * without passing one (Dionne and de Lasa, "Geodesic Voxel Binding for Production Character Meshes", SCA 2013, section 3).
 * So closed shells are filled, however they lie in each other, and open ones are as thick as a cell. Distances run through
 * these cells, never through air; between cells of two surfaces that face each other there is no way.
 */
public final class Volume {
    private static final int MOST_CELLS = 16_000_000;
    private static final int[] COST = {0, 10, 14, 17};
    private static final int BUCKETS = 18;
    /** Cosine between a surface's normal and the way across, for the way to be air. */
    private static final double FACING = 0.2;

    private static final byte OUTSIDE = 1;
    private static final byte SURFACE = 2;

    private final double cell;
    private final Vector3d low;
    private final int nx;
    private final int ny;
    private final int nz;
    /** Number of a solid cell, or -1. */
    private final int[] number;

    private final int[] cells;
    /** Mean outward normal of a solid cell's surface; zero inside. */
    private final float[] facing;

    /**
     * @param triangles 3 numbers of points a triangle
     * @param points    3 a point
     * @param wished    edge of a cell in the unit of the points; enlarged where there would be too many
     */
    public Volume(int[] triangles, float[] points, double wished, Work work) {
        Box box = Box.empty();
        for (int corner : triangles) {
            box.grow(points[corner * 3], points[corner * 3 + 1], points[corner * 3 + 2]);
        }
        Vector3d size = box.isEmpty() ? new Vector3d() : box.size();
        double edge = Math.max(wished, 1e-9 + size.get(size.maxComponent()) / 2000);
        while ((size.x / edge + 5) * (size.y / edge + 5) * (size.z / edge + 5) > MOST_CELLS) {
            edge *= 1.1;
        }
        cell = edge;
        low = box.isEmpty() ? new Vector3d() : new Vector3d(box.min()).sub(2 * cell, 2 * cell, 2 * cell);
        nx = (int) (size.x / cell) + 5;
        ny = (int) (size.y / cell) + 5;
        nz = (int) (size.z / cell) + 5;
        byte[] kind = new byte[nx * ny * nz];
        mark(triangles, points, kind, null);
        work.stopIfCancelled();
        flood(kind);
        number = new int[kind.length];
        int solid = 0;
        for (int c = 0; c < kind.length; c++) {
            number[c] = kind[c] == OUTSIDE ? -1 : solid++;
        }
        cells = new int[solid];
        for (int c = 0; c < kind.length; c++) {
            if (number[c] >= 0) {
                cells[number[c]] = c;
            }
        }
        facing = new float[solid * 3];
        work.stopIfCancelled();
        mark(triangles, points, kind, facing);
        for (int s = 0; s < solid; s++) {
            double length = Math.sqrt(facing[s * 3] * facing[s * 3]
                    + facing[s * 3 + 1] * facing[s * 3 + 1]
                    + facing[s * 3 + 2] * facing[s * 3 + 2]);
            for (int k = 0; k < 3 && length > 0; k++) {
                facing[s * 3 + k] /= (float) length;
            }
        }
    }

    /** Edge of a cell. */
    public double cell() {
        return cell;
    }

    /** How many cells are solid. */
    public int size() {
        return cells.length;
    }

    /** Marks the cells that triangles pass, or adds the triangles' normals up where they are asked for. */
    private void mark(int[] triangles, float[] p, byte[] kind, float @Nullable [] normals) {
        Vector3d a = new Vector3d();
        Vector3d ab = new Vector3d();
        Vector3d ac = new Vector3d();
        Vector3d at = new Vector3d();
        Vector3d n = new Vector3d();
        for (int t = 0; t + 2 < triangles.length; t += 3) {
            corner(p, triangles[t], a);
            corner(p, triangles[t + 1], ab).sub(a);
            corner(p, triangles[t + 2], ac).sub(a);
            double longest = Math.max(Math.max(ab.length(), ac.length()), ab.distance(ac));
            if (!(longest < 1e9 * cell)) {
                continue;
            }
            ab.cross(ac, n);
            int steps = (int) Math.ceil(longest / (0.45 * cell)) + 1;
            for (int i = 0; i <= steps; i++) {
                for (int k = 0; k <= steps - i; k++) {
                    at.set(a).fma(i / (double) steps, ab).fma(k / (double) steps, ac);
                    int c = cellAt(at.x, at.y, at.z);
                    if (c < 0) {
                        continue;
                    }
                    kind[c] = SURFACE;
                    if (normals != null) {
                        normals[number[c] * 3] += (float) n.x;
                        normals[number[c] * 3 + 1] += (float) n.y;
                        normals[number[c] * 3 + 2] += (float) n.z;
                    }
                }
            }
        }
    }

    private static Vector3d corner(float[] p, int v, Vector3d out) {
        return out.set(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }

    private void flood(byte[] kind) {
        int[] queue = new int[kind.length];
        int end = 0;
        queue[end++] = 0;
        kind[0] = OUTSIDE;
        int[] steps = {1, -1, nx, -nx, nx * ny, -nx * ny};
        for (int at = 0; at < end; at++) {
            int c = queue[at];
            int x = c % nx;
            int y = c / nx % ny;
            int z = c / (nx * ny);
            boolean[] inside = {x + 1 < nx, x > 0, y + 1 < ny, y > 0, z + 1 < nz, z > 0};
            for (int i = 0; i < 6; i++) {
                if (inside[i] && kind[c + steps[i]] == 0) {
                    kind[c + steps[i]] = OUTSIDE;
                    queue[end++] = c + steps[i];
                }
            }
        }
    }

    private int cellAt(double x, double y, double z) {
        int i = (int) Math.floor((x - low.x) / cell);
        int j = (int) Math.floor((y - low.y) / cell);
        int k = (int) Math.floor((z - low.z) / cell);
        return i < 0 || j < 0 || k < 0 || i >= nx || j >= ny || k >= nz ? -1 : (k * ny + j) * nx + i;
    }

    /** The solid cell at a point, or -1. */
    public int solidAt(Vector3d point) {
        int c = cellAt(point.x, point.y, point.z);
        return c < 0 ? -1 : number[c];
    }

    /** Adds the solid cells along a line. */
    public void along(Vector3d from, Vector3d to, BitSet into) {
        int steps = (int) Math.ceil(from.distance(to) / (0.5 * cell)) + 1;
        Vector3d at = new Vector3d();
        for (int i = 0; i <= steps; i++) {
            int s = solidAt(from.lerp(to, i / (double) steps, at));
            if (s >= 0) {
                into.set(s);
            }
        }
    }

    /** Distances from the nearest of several sets of cells, in tenths of a cell, and which set that is. */
    public record Nearest(int[] tenths, int[] set) {}

    /** @param seeds cells of each set; a cell in two sets belongs to the first */
    public Nearest nearest(BitSet[] seeds, Work work) {
        int[] set = new int[cells.length];
        Arrays.fill(set, -1);
        int[] tenths = run(seeds, Integer.MAX_VALUE, set, work);
        return new Nearest(tenths, set);
    }

    /**
     * Distances from a set of cells, in tenths of a cell; {@link Integer#MAX_VALUE} where there is no way, or none so short.
     *
     * @param most tenths that are gone at most
     */
    public int[] distances(BitSet seeds, int most, Work work) {
        return run(new BitSet[] {seeds}, most, null, work);
    }

    /** Shortest ways by integer costs (Dijkstra with buckets, Dial 1969). */
    private int[] run(BitSet[] seeds, int most, int @Nullable [] set, Work work) {
        int[] dist = new int[cells.length];
        Arrays.fill(dist, Integer.MAX_VALUE);
        int[][] buckets = new int[BUCKETS][256];
        int[] sizes = new int[BUCKETS];
        for (int s = 0; s < seeds.length; s++) {
            for (int c = seeds[s].nextSetBit(0); c >= 0; c = seeds[s].nextSetBit(c + 1)) {
                if (dist[c] == 0) {
                    continue;
                }
                dist[c] = 0;
                if (set != null) {
                    set[c] = s;
                }
                push(buckets, sizes, 0, c);
            }
        }
        int empty = 0;
        for (int now = 0; empty <= BUCKETS && now <= most; now++) {
            int b = now % BUCKETS;
            empty = sizes[b] == 0 ? empty + 1 : 0;
            for (int i = 0; i < sizes[b]; i++) {
                int s = buckets[b][i];
                if (dist[s] == now) {
                    relax(s, now, dist, set, buckets, sizes);
                }
            }
            sizes[b] = 0;
            if ((now & 31) == 0) {
                work.stopIfCancelled();
            }
        }
        return dist;
    }

    private static void push(int[][] buckets, int[] sizes, int at, int cell) {
        int b = at % BUCKETS;
        if (sizes[b] == buckets[b].length) {
            buckets[b] = Arrays.copyOf(buckets[b], sizes[b] * 2);
        }
        buckets[b][sizes[b]++] = cell;
    }

    private void relax(int s, int now, int[] dist, int @Nullable [] set, int[][] buckets, int[] sizes) {
        int c = cells[s];
        for (int dz = -1; dz <= 1; dz++) {
            for (int dy = -1; dy <= 1; dy++) {
                for (int dx = -1; dx <= 1; dx++) {
                    // Solid cells are never at the rim: two cells of air lie around them.
                    int next = number[c + (dz * ny + dy) * nx + dx];
                    if (next < 0) {
                        continue;
                    }
                    int cost = now + COST[Math.abs(dx) + Math.abs(dy) + Math.abs(dz)];
                    if (cost < dist[next] && !faced(s, next, dx, dy, dz)) {
                        dist[next] = cost;
                        if (set != null) {
                            set[next] = set[s];
                        }
                        push(buckets, sizes, cost, next);
                    }
                }
            }
        }
    }

    /** True where two cells' surfaces look at each other, so that the way between them is air. */
    private boolean faced(int a, int b, int dx, int dy, int dz) {
        double length = Math.sqrt(dx * dx + dy * dy + dz * dz);
        double from = (facing[a * 3] * dx + facing[a * 3 + 1] * dy + facing[a * 3 + 2] * dz) / length;
        double to = (facing[b * 3] * dx + facing[b * 3 + 1] * dy + facing[b * 3 + 2] * dz) / length;
        return from > FACING && to < -FACING;
    }

    /** Sets that cells around a point belong to, in no order; those across air from the point's own cell are left out. */
    public void around(float x, float y, float z, Nearest nearest, BitSet sets) {
        sets.clear();
        int i = (int) Math.floor((x - low.x) / cell);
        int j = (int) Math.floor((y - low.y) / cell);
        int k = (int) Math.floor((z - low.z) / cell);
        int own = cellAt(x, y, z) < 0 ? -1 : number[cellAt(x, y, z)];
        for (int dz = -1; dz <= 1; dz++) {
            for (int dy = -1; dy <= 1; dy++) {
                for (int dx = -1; dx <= 1; dx++) {
                    int s = solid(i + dx, j + dy, k + dz);
                    if (s >= 0 && nearest.set[s] >= 0 && !(own >= 0 && own != s && faced(own, s, dx, dy, dz))) {
                        sets.set(nearest.set[s]);
                    }
                }
            }
        }
    }

    private int solid(int i, int j, int k) {
        return i < 0 || j < 0 || k < 0 || i >= nx || j >= ny || k >= nz ? -1 : number[(k * ny + j) * nx + i];
    }

    /**
     * Distance of a point by the cells around it, in the unit of the points; infinite where none of them was reached. */
    public double at(float x, float y, float z, int[] tenths) {
        double best = Double.POSITIVE_INFINITY;
        int i = (int) Math.floor((x - low.x) / cell);
        int j = (int) Math.floor((y - low.y) / cell);
        int k = (int) Math.floor((z - low.z) / cell);
        int own = cellAt(x, y, z) < 0 ? -1 : number[cellAt(x, y, z)];
        for (int dz = -1; dz <= 1; dz++) {
            for (int dy = -1; dy <= 1; dy++) {
                for (int dx = -1; dx <= 1; dx++) {
                    int s = solid(i + dx, j + dy, k + dz);
                    if (s < 0 || tenths[s] == Integer.MAX_VALUE || own >= 0 && own != s && faced(own, s, dx, dy, dz)) {
                        continue;
                    }
                    double px = x - low.x - (i + dx + 0.5) * cell;
                    double py = y - low.y - (j + dy + 0.5) * cell;
                    double pz = z - low.z - (k + dz + 0.5) * cell;
                    double d = tenths[s] * cell / 10 + Math.sqrt(px * px + py * py + pz * pz);
                    best = Math.min(best, d);
                }
            }
        }
        return best;
    }
}
