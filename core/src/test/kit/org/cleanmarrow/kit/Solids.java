package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.geometry.Cut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.joml.Vector3d;

/** Closed surfaces. */
public final class Solids {
    private Solids() {}

    /** Its corners, each a place. */
    public record Solid(float[] positions, int[] corners) {
        public Cut cut() {
            return Cut.of(corners, IntStream.range(0, positions.length / 3).toArray(), positions);
        }

        public Solid plus(Solid other) {
            float[] p = Arrays.copyOf(positions, positions.length + other.positions.length);
            System.arraycopy(other.positions, 0, p, positions.length, other.positions.length);
            int first = positions.length / 3;
            int[] c = IntStream.concat(
                            Arrays.stream(corners), Arrays.stream(other.corners).map(i -> first + i))
                    .toArray();
            return new Solid(p, c);
        }

        public Solid insideOut() {
            int[] c = corners.clone();
            for (int t = 0; t < c.length; t += 3) {
                int was = c[t];
                c[t] = c[t + 1];
                c[t + 1] = was;
            }
            return new Solid(positions, c);
        }
    }

    public static Solid box(double x0, double y0, double z0, double x1, double y1, double z1) {
        float[] p = new float[24];
        for (int i = 0; i < 8; i++) {
            p[3 * i] = (float) ((i & 1) == 0 ? x0 : x1);
            p[3 * i + 1] = (float) ((i & 2) == 0 ? y0 : y1);
            p[3 * i + 2] = (float) ((i & 4) == 0 ? z0 : z1);
        }
        int[] quads = {0, 4, 6, 2, 1, 3, 7, 5, 0, 1, 5, 4, 2, 6, 7, 3, 0, 2, 3, 1, 4, 5, 7, 6};
        return new Solid(p, triangles(quads));
    }

    private static int[] triangles(int[] quads) {
        return IntStream.range(0, quads.length / 4)
                .map(q -> 4 * q)
                .flatMap(q -> IntStream.of(quads[q], quads[q + 1], quads[q + 2], quads[q], quads[q + 2], quads[q + 3]))
                .toArray();
    }

    /** A ring of so many segments around and across. */
    public static Solid torus(double large, double small, int around, int across) {
        float[] p = new float[3 * around * across];
        List<Integer> quads = new ArrayList<>();
        for (int i = 0; i < around; i++) {
            for (int j = 0; j < across; j++) {
                double a = 2 * Math.PI * i / around;
                double b = 2 * Math.PI * j / across;
                double r = large + small * Math.cos(b);
                int v = i * across + j;
                p[3 * v] = (float) (r * Math.cos(a));
                p[3 * v + 1] = (float) (small * Math.sin(b));
                p[3 * v + 2] = (float) (-r * Math.sin(a));
                int next = (i + 1) % around * across;
                int up = (j + 1) % across;
                quads.addAll(List.of(v, next + j, next + up, i * across + up));
            }
        }
        return new Solid(p, triangles(quads.stream().mapToInt(q -> q).toArray()));
    }

    /** Where texture coordinates are, straight in space. */
    public static Vector3d painted(Vector3d p) {
        return new Vector3d(0.3 * p.x + 0.1 * p.y, 0.2 * p.z - 0.4 * p.y, 0);
    }

    /** A solid with corners of its own for every triangle, normals of its faces, and coordinates that are straight in space. */
    public static Primitive faceted(Solid solid) {
        int n = solid.corners.length;
        float[] positions = new float[3 * n];
        float[] normals = new float[3 * n];
        float[] uv = new float[2 * n];
        for (int i = 0; i < n; i++) {
            System.arraycopy(solid.positions, 3 * solid.corners[i], positions, 3 * i, 3);
        }
        for (int i = 0; i < n; i++) {
            int t = i / 3 * 3;
            Vector3d a = point(positions, t);
            Vector3d normal = point(positions, t + 1)
                    .sub(a)
                    .cross(point(positions, t + 2).sub(a))
                    .normalize();
            Vector3d at = painted(point(positions, i));
            for (int d = 0; d < 3; d++) {
                normals[3 * i + d] = (float) normal.get(d);
            }
            uv[2 * i] = (float) at.x;
            uv[2 * i + 1] = (float) at.y;
        }
        return Primitive.triangles(IntStream.range(0, n).toArray(), positions, normals, -1)
                .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)));
    }

    /** A point of three numbers each. */
    public static Vector3d point(float[] p, int i) {
        return new Vector3d(p[3 * i], p[3 * i + 1], p[3 * i + 2]);
    }

    /** A part called crate. */
    public static Asset crate(Local place, Primitive... primitives) {
        Node node = Node.group("crate", place).withMesh(0, -1);
        return Asset.of(
                "crate", Conventions.GLTF, List.of(node), List.of(Mesh.of("crate", primitives)), List.of(), List.of());
    }
}
