package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * Makes every vertex normal one long (glTF 2.0, 3.7.2.1). One of no length, which says nothing, becomes that of the
 * triangles around it by their area, or points up where there are none; numbers that are not finite stay for their own
 * check. No vertex moves.
 */
@StepInfo(name = "unit-normals", says = "Normalises every vertex normal; those of no length are computed again.")
public record UnitNormals() implements Step {
    /** How far from one a length may be: what the validator of the standard allows for whole numbers too. */
    private static final double NEAR = 0.005;

    @Override
    public Change apply(Asset asset, Work work) {
        long changed = 0;
        Map<float[], float[]> done = new IdentityHashMap<>();
        List<Mesh> meshes = new ArrayList<>();
        for (Mesh mesh : asset.meshes()) {
            work.stopIfCancelled();
            List<Primitive> primitives = new ArrayList<>();
            for (Primitive p : mesh.primitives()) {
                int wrong = p.normals() == null ? 0 : wrong(p.normals());
                changed += wrong;
                primitives.add(
                        wrong == 0
                                ? p
                                : p.withShape(
                                        p.positions(),
                                        done.computeIfAbsent(p.normals(), n -> unit(p)),
                                        p.tangents(),
                                        p.targets()));
            }
            meshes.add(mesh.withPrimitives(primitives));
        }
        return Change.of(changed == 0 ? asset : asset.withMeshes(meshes)).count("normals.made.one.long", changed);
    }

    /** How many of some normals are finite and not one long. */
    public static int wrong(float[] normals) {
        int out = 0;
        for (int v = 0; v + 2 < normals.length; v += 3) {
            out += isWrong(normals, v) ? 1 : 0;
        }
        return out;
    }

    private static boolean isWrong(float[] normals, int at) {
        double square = square(normals, at);
        return Double.isFinite(square) && Math.abs(Math.sqrt(square) - 1) > NEAR;
    }

    private static double square(float[] n, int at) {
        return (double) n[at] * n[at] + (double) n[at + 1] * n[at + 1] + (double) n[at + 2] * n[at + 2];
    }

    private static float[] unit(Primitive p) {
        float[] out = Objects.requireNonNull(p.normals()).clone();
        double[] around = null;
        for (int v = 0; v + 2 < out.length; v += 3) {
            if (!isWrong(out, v)) {
                continue;
            }
            double length = Math.sqrt(square(out, v));
            Vector3d n = new Vector3d(out[v], out[v + 1], out[v + 2]);
            if (length < 1e-20) {
                around = around == null ? around(p) : around;
                n.set(around[v], around[v + 1], around[v + 2]);
                length = n.length();
            }
            if (length > 1e-30) {
                n.div(length);
            } else {
                n.set(0, 1, 0);
            }
            out[v] = (float) n.x;
            out[v + 1] = (float) n.y;
            out[v + 2] = (float) n.z;
        }
        return out;
    }

    /** Sums of the normals of the triangles at each vertex, as long as these are large. */
    private static double[] around(Primitive p) {
        double[] out = new double[p.positions().length];
        int[] corners = p.triangleCorners();
        for (int t = 0; t + 2 < corners.length; t += 3) {
            Vector3d a = at(p.positions(), corners[t]);
            Vector3d n = at(p.positions(), corners[t + 1])
                    .sub(a)
                    .cross(at(p.positions(), corners[t + 2]).sub(a));
            for (int i = 0; i < 3 && n.isFinite(); i++) {
                out[corners[t + i] * 3] += n.x;
                out[corners[t + i] * 3 + 1] += n.y;
                out[corners[t + i] * 3 + 2] += n.z;
            }
        }
        return out;
    }

    private static Vector3d at(float[] p, int v) {
        return new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }
}
