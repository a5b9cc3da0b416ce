package org.cleanmarrow.surface;

import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Moves the data of meshes by one transform: positions, normals (by the cofactor matrix), tangents with their
 * sign, morph targets; winding is turned round where the transform mirrors. Arrays that primitives share stay
 * shared.
 */
public final class ShapeMap {
    private final Matrix4d matrix;
    private final Matrix3d linear;
    private final Matrix3d normal;
    private final boolean mirrors;
    private final Map<Object, Object> moved = new IdentityHashMap<>();

    public ShapeMap(Matrix4d matrix) {
        this.matrix = matrix;
        linear = new Matrix3d(matrix);
        double det = linear.determinant();
        mirrors = det < 0;
        normal = linear.cofactor(new Matrix3d());
        if (mirrors) {
            normal.scale(-1);
        }
        double size = Math.cbrt(det * det);
        if (size > 0) {
            normal.scale(1 / size);
        }
    }

    public Mesh apply(Mesh mesh) {
        return mesh.withPrimitives(mesh.primitives().stream().map(this::apply).toList());
    }

    public Primitive apply(Primitive p) {
        List<MorphTarget> targets = p.targets().stream()
                .map(t -> new MorphTarget(
                        vectors(t.positions(), linear),
                        differences(t.normals(), p.normals(), 3, normal),
                        differences(t.tangents(), p.tangents(), 4, linear),
                        t.attributes()))
                .toList();
        Primitive out = p.withShape(points(p.positions()), directions(p.normals()), tangents(p.tangents()), targets);
        return mirrors ? turnedRound(out) : out;
    }

    private Primitive turnedRound(Primitive p) {
        int[] corners = p.triangleCorners();
        if (corners.length == 0) {
            return p;
        }
        Object key = p.indices() == null ? p : p.indices();
        int[] turned = (int[]) moved.computeIfAbsent(key, k -> {
            int[] out = corners.clone();
            for (int t = 0; t + 2 < out.length; t += 3) {
                out[t + 1] = corners[t + 2];
                out[t + 2] = corners[t + 1];
            }
            return out;
        });
        Primitive out = p.withIndices(Primitive.Mode.TRIANGLES, turned);
        Faces faces = p.layout().faces();
        Primitive.Layout layout =
                p.mode() == Primitive.Mode.TRIANGLES && p.indices() != null ? p.layout() : out.layout();
        return out.withLayout(layout.withFaces(faces == null ? null : faces.turnedRound()));
    }

    private float[] points(float[] in) {
        return (float[]) moved.computeIfAbsent(in, k -> {
            float[] out = new float[in.length];
            Vector3d v = new Vector3d();
            for (int i = 0; i + 2 < in.length; i += 3) {
                matrix.transformPosition(v.set(in[i], in[i + 1], in[i + 2]));
                put(v, out, i);
            }
            return out;
        });
    }

    private float @Nullable [] vectors(float @Nullable [] in, Matrix3d by) {
        if (in == null) {
            return null;
        }
        return (float[]) moved.computeIfAbsent(in, k -> {
            float[] out = new float[in.length];
            Vector3d v = new Vector3d();
            for (int i = 0; i + 2 < in.length; i += 3) {
                by.transform(v.set(in[i], in[i + 1], in[i + 2]));
                put(v, out, i);
            }
            return out;
        });
    }

    /**
     * What morph targets add to directions. A base direction is brought back to its length after the map, so what is added
     * to it is scaled by as much: then base and difference together still point where the map has them.
     */
    private float @Nullable [] differences(float @Nullable [] in, float @Nullable [] base, int stride, Matrix3d by) {
        if (in == null || base == null) {
            return vectors(in, by);
        }
        return (float[]) moved.computeIfAbsent(in, k -> {
            float[] out = new float[in.length];
            Vector3d v = new Vector3d();
            for (int i = 0, b = 0; i + 2 < in.length; i += 3, b += stride) {
                double before = v.set(base[b], base[b + 1], base[b + 2]).length();
                double now = by.transform(v).length();
                by.transform(v.set(in[i], in[i + 1], in[i + 2]));
                put(now > 0 ? v.mul(before / now) : v, out, i);
            }
            return out;
        });
    }

    private float @Nullable [] directions(float @Nullable [] in) {
        if (in == null) {
            return null;
        }
        return (float[]) moved.computeIfAbsent(in, k -> {
            float[] out = new float[in.length];
            Vector3d v = new Vector3d();
            for (int i = 0; i + 2 < in.length; i += 3) {
                double before = v.set(in[i], in[i + 1], in[i + 2]).length();
                unit(normal.transform(v), before);
                put(v, out, i);
            }
            return out;
        });
    }

    private float @Nullable [] tangents(float @Nullable [] in) {
        if (in == null) {
            return null;
        }
        return (float[]) moved.computeIfAbsent(in, k -> {
            float[] out = new float[in.length];
            Vector3d v = new Vector3d();
            for (int i = 0; i + 3 < in.length; i += 4) {
                double before = v.set(in[i], in[i + 1], in[i + 2]).length();
                unit(linear.transform(v), before);
                put(v, out, i);
                out[i + 3] = mirrors ? -in[i + 3] : in[i + 3];
            }
            return out;
        });
    }

    /** Gives a turned direction the length it had before, so that a zero normal stays zero and is still found. */
    private static void unit(Vector3d v, double length) {
        double now = v.length();
        if (now > 0) {
            v.mul(length / now);
        }
    }

    /** Gives normals unit length, in place; those of no length stay. */
    public static float @Nullable [] unitNormals(float @Nullable [] normals) {
        if (normals == null) {
            return null;
        }
        for (int i = 0; i + 2 < normals.length; i += 3) {
            Vector3d n = new Vector3d(normals[i], normals[i + 1], normals[i + 2]);
            double length = n.length();
            // What is of length one but for rounding keeps its numbers.
            if (length > 0 && Double.isFinite(length) && Math.abs(length - 1) > 1e-4) {
                put(n.div(length), normals, i);
            }
        }
        return normals;
    }

    private static void put(Vector3d v, float[] out, int at) {
        out[at] = (float) (v.x + 0.0);
        out[at + 1] = (float) (v.y + 0.0);
        out[at + 2] = (float) (v.z + 0.0);
    }
}
