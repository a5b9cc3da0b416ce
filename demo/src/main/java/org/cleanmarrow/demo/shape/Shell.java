package org.cleanmarrow.demo.shape;

import java.util.ArrayList;
import java.util.List;
import org.joml.Vector3d;

/** A piece of surface while it is made: points, normals, and triangles that turn left seen from outside. */
public final class Shell {
    public final List<Vector3d> points = new ArrayList<>();
    public final List<Vector3d> normals = new ArrayList<>();
    public final List<int[]> triangles = new ArrayList<>();

    public int add(Vector3d point, Vector3d normal) {
        points.add(point);
        normals.add(normal);
        return points.size() - 1;
    }

    /** Two triangles, split along the shorter diagonal. */
    public void quad(int a, int b, int c, int d) {
        if (points.get(a).distanceSquared(points.get(c)) <= points.get(b).distanceSquared(points.get(d))) {
            triangles.add(new int[] {a, b, c});
            triangles.add(new int[] {a, c, d});
        } else {
            triangles.add(new int[] {a, b, d});
            triangles.add(new int[] {b, c, d});
        }
    }

    /** Normals as the mean of the triangles around each point, by area. */
    public Shell smoothNormals() {
        normals.forEach(n -> n.set(0));
        for (int[] t : triangles) {
            Vector3d a = points.get(t[0]);
            Vector3d n = new Vector3d(points.get(t[1])).sub(a).cross(new Vector3d(points.get(t[2])).sub(a));
            for (int corner : t) {
                normals.get(corner).add(n);
            }
        }
        normals.forEach(n -> {
            if (n.lengthSquared() == 0) {
                n.set(0, 1, 0);
            }
            n.normalize();
        });
        return this;
    }

    /** The same without points that no triangle uses. */
    public Shell withoutLoosePoints() {
        Shell out = new Shell();
        int[] number = new int[points.size()];
        java.util.Arrays.fill(number, -1);
        for (int[] t : triangles) {
            int[] renumbered = new int[3];
            for (int i = 0; i < 3; i++) {
                if (number[t[i]] < 0) {
                    number[t[i]] = out.add(points.get(t[i]), normals.get(t[i]));
                }
                renumbered[i] = number[t[i]];
            }
            out.triangles.add(renumbered);
        }
        return out;
    }

    /** A surface turned around the upright axis through a point: radius and height pairs from bottom to top. */
    public static Shell turned(Vector3d foot, int around, double... radiusAndHeight) {
        Shell shell = new Shell();
        int rings = radiusAndHeight.length / 2;
        for (int r = 0; r < rings; r++) {
            for (int i = 0; i < around; i++) {
                double angle = 2 * Math.PI * i / around;
                double radius = radiusAndHeight[2 * r];
                shell.add(
                        new Vector3d(
                                foot.x + radius * StrictMath.cos(angle),
                                foot.y + radiusAndHeight[2 * r + 1],
                                foot.z + radius * StrictMath.sin(angle)),
                        new Vector3d());
            }
        }
        for (int r = 0; r + 1 < rings; r++) {
            for (int i = 0; i < around; i++) {
                int j = (i + 1) % around;
                shell.quad(r * around + i, (r + 1) * around + i, (r + 1) * around + j, r * around + j);
            }
        }
        return shell.smoothNormals();
    }
}
