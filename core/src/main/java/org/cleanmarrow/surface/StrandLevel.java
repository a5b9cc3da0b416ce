package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.List;
import org.joml.Vector3d;

/**
 * How strands are built at a level: level 1 is lines and is not built; level 2 is ribbons of four pieces, level 3 tubes of three sides,
 * and every further one has three times as many triangles as the one before: the pieces thrice as many, then the sides.
 *
 * @param pieces along a strand
 * @param sides  round it; 1 is a ribbon
 */
public record StrandLevel(int pieces, int sides) {
    public static final int LEAST = 2;
    public static final int MOST = 6;
    private static final int FEWEST = 4;

    /** @param level {@link #LEAST} to {@link #MOST} */
    public static StrandLevel of(int level) {
        int pieces = FEWEST;
        int sides = 1;
        for (int l = LEAST; l < level; l++) {
            // Ribbon to tube, then pieces and sides by turns.
            if (sides == 1 || l % 2 == 0 && sides < 9) {
                sides *= 3;
            } else {
                pieces *= 3;
            }
        }
        return new StrandLevel(pieces, sides);
    }

    /** Triangles of one strand. */
    public int triangles() {
        return 2 * pieces * sides;
    }

    /** Vertices of one strand: the seam of a tube has two. */
    public int vertices() {
        return (pieces + 1) * (sides + 1);
    }

    /**
     * One strand built.
     *
     * @param positions 3 a vertex, ring after ring from the root
     * @param normals   outwards, unit length
     * @param uvs       2 a vertex: round or across, and along from 0 at the root to 1 at the tip
     * @param corners   three vertex numbers a triangle, seen from outside counter-clockwise
     */
    public record Built(float[] positions, float[] normals, float[] uvs, int[] corners) {}

    /**
     * @param points from the root on, at least two, not all on one place
     * @param out    which way a ribbon faces at its root, as far as it can
     * @param root   width there
     * @param tip    width at the end
     */
    public Built build(List<Vector3d> points, Vector3d out, double root, double tip) {
        List<Vector3d> along = resampled(points);
        Vector3d[] tangents = tangents(along);
        Vector3d normal = upright(new Vector3d(out), tangents[0]);
        int around = sides + 1;
        float[] positions = new float[3 * vertices()];
        float[] normals = new float[positions.length];
        float[] uvs = new float[2 * vertices()];
        for (int k = 0; k <= pieces; k++) {
            normal = k == 0 ? normal : carried(along.get(k - 1), along.get(k), tangents[k - 1], tangents[k], normal);
            Vector3d side = tangents[k].cross(normal, new Vector3d());
            double half = (root + (tip - root) * k / pieces) / 2;
            for (int s = 0; s < around; s++) {
                int v = k * around + s;
                Vector3d away;
                Vector3d faces;
                if (sides == 1) {
                    away = new Vector3d(side).mul(s == 0 ? -half : half);
                    faces = normal;
                } else {
                    double angle = 2 * Math.PI * (s % sides) / sides;
                    faces = new Vector3d(normal).mul(Math.cos(angle)).fma(Math.sin(angle), side);
                    away = new Vector3d(faces).mul(half);
                }
                Vector3d at = new Vector3d(along.get(k)).add(away);
                for (int i = 0; i < 3; i++) {
                    positions[3 * v + i] = (float) at.get(i);
                    normals[3 * v + i] = (float) faces.get(i);
                }
                uvs[2 * v] = (float) s / sides;
                uvs[2 * v + 1] = (float) k / pieces;
            }
        }
        return new Built(positions, normals, uvs, corners());
    }

    private int[] corners() {
        int around = sides + 1;
        int[] out = new int[3 * triangles()];
        int at = 0;
        for (int k = 0; k < pieces; k++) {
            for (int s = 0; s < sides; s++) {
                int a = k * around + s;
                int b = a + 1;
                int c = a + around;
                int d = c + 1;
                int[] two = {a, b, d, a, d, c};
                System.arraycopy(two, 0, out, at, 6);
                at += 6;
            }
        }
        return out;
    }

    /** As many points as rings, evenly along the length. */
    private List<Vector3d> resampled(List<Vector3d> points) {
        double[] until = new double[points.size()];
        for (int i = 1; i < until.length; i++) {
            until[i] = until[i - 1] + points.get(i).distance(points.get(i - 1));
        }
        List<Vector3d> out = new ArrayList<>();
        int i = 1;
        for (int k = 0; k <= pieces; k++) {
            double wanted = until[until.length - 1] * k / pieces;
            while (i < until.length - 1 && until[i] < wanted) {
                i++;
            }
            double piece = until[i] - until[i - 1];
            double share = piece > 0 ? Math.clamp((wanted - until[i - 1]) / piece, 0, 1) : 0;
            out.add(new Vector3d(points.get(i - 1)).lerp(points.get(i), share));
        }
        return out;
    }

    private static Vector3d[] tangents(List<Vector3d> p) {
        Vector3d[] out = new Vector3d[p.size()];
        Vector3d last = new Vector3d(0, 1, 0);
        for (int k = 0; k < out.length; k++) {
            Vector3d t = new Vector3d(p.get(Math.min(k + 1, out.length - 1))).sub(p.get(Math.max(0, k - 1)));
            out[k] = t.length() > 0 ? t.normalize() : new Vector3d(last);
            last = out[k];
        }
        return out;
    }

    private static Vector3d upright(Vector3d wanted, Vector3d tangent) {
        Vector3d n = wanted.fma(-wanted.dot(tangent), tangent);
        if (n.length() < 1e-9) {
            n = Math.abs(tangent.x) < 0.9 ? new Vector3d(1, 0, 0) : new Vector3d(0, 1, 0);
            n.fma(-n.dot(tangent), tangent);
        }
        return n.normalize();
    }

    /** The normal brought along without twist (Wang, Jüttler, Zheng and Liu 2008, double reflection). */
    private static Vector3d carried(Vector3d from, Vector3d to, Vector3d t0, Vector3d t1, Vector3d normal) {
        Vector3d step = new Vector3d(to).sub(from);
        double c1 = step.lengthSquared();
        if (!(c1 > 0)) {
            return upright(new Vector3d(normal), t1);
        }
        Vector3d n = new Vector3d(normal).fma(-2 / c1 * step.dot(normal), step);
        Vector3d t = new Vector3d(t0).fma(-2 / c1 * step.dot(t0), step);
        Vector3d w = new Vector3d(t1).sub(t);
        double c2 = w.lengthSquared();
        return upright(c2 > 0 ? n.fma(-2 / c2 * w.dot(n), w) : n, t1);
    }
}
