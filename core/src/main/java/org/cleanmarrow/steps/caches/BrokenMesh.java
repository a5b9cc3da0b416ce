package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Cut;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.surface.Mixed;
import org.joml.Vector3d;

/** The pieces of a broken mesh as one mesh, each following the joint of its number. */
final class BrokenMesh {
    private BrokenMesh() {}

    /**
     * Those of the whole as they are now, and one more with the faces inside.
     *
     * @param painted material of the faces inside
     * @param metres  that a unit of the mesh is
     */
    static List<Primitive> primitives(Mesh whole, List<Cut> parts, int painted, double metres) {
        List<Primitive> out = new ArrayList<>();
        int firstTriangle = 0;
        int firstVertex = 0;
        for (Primitive p : whole.primitives()) {
            int many = p.triangleCorners().length / 3;
            Outside built = new Outside(firstVertex);
            for (int k = 0; k < parts.size(); k++) {
                built.add(parts.get(k), k, firstTriangle, firstTriangle + many);
            }
            Primitive outside = new Mixed(built.from(), built.share()).of(p, built.indices(), built.positions());
            out.add(outside.withInfluences(built.rows()));
            firstTriangle += many;
            firstVertex += p.vertexCount();
        }
        Caps caps = new Caps(metres);
        for (int k = 0; k < parts.size(); k++) {
            caps.add(parts.get(k), k);
        }
        out.add(caps.primitive(painted));
        return out;
    }

    /** Gathers vertices, each with the piece that it is of. */
    private static class Gathered {
        private final List<float[]> points = new ArrayList<>();
        private final List<Integer> pieces = new ArrayList<>();
        private int[] corners = new int[96];
        private int end;

        int add(float[] point, int piece) {
            points.add(point);
            pieces.add(piece);
            return points.size() - 1;
        }

        float[] point(int vertex) {
            return points.get(vertex);
        }

        /** A triangle, unless rounding to float32 left two of its corners on one place. */
        void triangle(int a, int b, int c) {
            if (Arrays.equals(point(a), point(b))
                    || Arrays.equals(point(b), point(c))
                    || Arrays.equals(point(c), point(a))) {
                return;
            }
            if (end + 3 > corners.length) {
                corners = Arrays.copyOf(corners, 2 * corners.length);
            }
            corners[end++] = a;
            corners[end++] = b;
            corners[end++] = c;
        }

        int[] indices() {
            return Arrays.copyOf(corners, end);
        }

        float[] positions() {
            float[] out = new float[3 * points.size()];
            for (int v = 0; v < points.size(); v++) {
                System.arraycopy(points.get(v), 0, out, 3 * v, 3);
            }
            return out;
        }

        Influences rows() {
            Influences.Builder rows = new Influences.Builder(pieces.size());
            for (int piece : pieces) {
                rows.add(piece, 1);
                rows.endRow();
            }
            return rows.build();
        }
    }

    /** What is left of one primitive of the whole. */
    private static final class Outside extends Gathered {
        private final int first;
        private final List<Cut> cutOf = new ArrayList<>();
        private final List<Integer> vertexOf = new ArrayList<>();

        Outside(int first) {
            this.first = first;
        }

        void add(Cut cut, int piece, int fromFace, int toFace) {
            Map<Integer, Integer> made = new HashMap<>();
            for (int t = 0; t < cut.triangles(); t++) {
                if (cut.face(t) >= fromFace && cut.face(t) < toFace) {
                    int[] corner = new int[3];
                    for (int c = 0; c < 3; c++) {
                        corner[c] = made.computeIfAbsent(cut.corner(3 * t + c), v -> vertex(cut, v, piece));
                    }
                    triangle(corner[0], corner[1], corner[2]);
                }
            }
        }

        private int vertex(Cut cut, int v, int piece) {
            cutOf.add(cut);
            vertexOf.add(v);
            return add(floats(cut.at(cut.placeOf(v))), piece);
        }

        int[] from() {
            return IntStream.range(0, 3 * cutOf.size())
                    .map(i -> cutOf.get(i / 3).from(vertexOf.get(i / 3), i % 3))
                    .map(v -> v < 0 ? v : v - first)
                    .toArray();
        }

        double[] share() {
            return IntStream.range(0, 3 * cutOf.size())
                    .mapToDouble(i -> cutOf.get(i / 3).share(vertexOf.get(i / 3), i % 3))
                    .toArray();
        }
    }

    private static float[] floats(Vector3d p) {
        return new float[] {(float) p.x, (float) p.y, (float) p.z};
    }

    /** The faces inside, flat each. */
    private static final class Caps extends Gathered {
        private final double metres;
        private final List<Vector3d> normals = new ArrayList<>();

        Caps(double metres) {
            this.metres = metres;
        }

        void add(Cut cut, int piece) {
            Map<Integer, Integer> made = new HashMap<>();
            for (int t = 0; t < cut.triangles(); t++) {
                if (cut.face(t) < 0) {
                    Vector3d normal = cut.normal(cut.face(t));
                    int[] corner = new int[3];
                    for (int c = 0; c < 3; c++) {
                        corner[c] = made.computeIfAbsent(cut.corner(3 * t + c), v -> {
                            normals.add(normal);
                            return add(floats(cut.at(cut.placeOf(v))), piece);
                        });
                    }
                    triangle(corner[0], corner[1], corner[2]);
                }
            }
        }

        Primitive primitive(int material) {
            float[] n = new float[3 * normals.size()];
            float[] uv = new float[2 * normals.size()];
            for (int v = 0; v < normals.size(); v++) {
                Vector3d normal = normals.get(v);
                System.arraycopy(floats(normal), 0, n, 3 * v, 3);
                Vector3d across = new Vector3d().setComponent(normal.minComponent(), 1);
                normal.cross(across, across).normalize();
                Vector3d up = normal.cross(across, new Vector3d());
                float[] p = point(v);
                uv[2 * v] = (float) (metres * across.dot(p[0], p[1], p[2]));
                uv[2 * v + 1] = (float) (metres * up.dot(p[0], p[1], p[2]));
            }
            return Primitive.triangles(indices(), positions(), n, material)
                    .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)))
                    .withInfluences(rows());
        }
    }
}
