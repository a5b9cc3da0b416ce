package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.surface.CornerNormals;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Computes the normals of meshes anew from their triangles. No vertex moves or goes; one that lies on a hard edge and had one
 * normal for both sides becomes two, the second behind the last of its primitive, and weights, morph targets, caches and all other
 * attributes go with it. Normals of morph targets are computed alike, tangents are laid at right angles to what is new. Caches
 * are drawn with normals of their own frames, hard where these are.
 */
@StepInfo(
        name = "recompute-normals",
        says = "Computes normals anew from the triangles, by area and corner angle, with hard edges over an angle.")
public record RecomputeNormals(
        @Parameter(says = "names of the meshes, with commas between and * for any run of characters")
        String mesh,

        @Parameter(
                says = "triangles that turn from each other by more make a hard edge; 180: all is smooth",
                fallback = "60",
                unit = "degrees",
                least = 0,
                most = 180)
        double hardDegrees,

        @Parameter(says = "whether edges that are hard stay so, whatever their angle", fallback = "false")
        boolean keepHard,

        @Parameter(
                says = "what a triangle counts for at a corner: its area, the angle of the corner, or both",
                fallback = "\"both\"")
        CornerNormals.Weighting weighting)
        implements Step {

    public RecomputeNormals(String mesh, double hardDegrees) {
        this(mesh, hardDegrees, false, CornerNormals.Weighting.BOTH);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(hardDegrees >= 0 && hardDegrees <= 180)) {
            throw new Refused("normals.range", hardDegrees);
        }
        List<Integer> chosen = Names.meshes(asset, mesh);
        chosen.removeIf(m -> asset.meshes().get(m).triangleCount() == 0);
        if (chosen.isEmpty()) {
            throw new Refused("normals.none", mesh);
        }
        Asset out = asset;
        Counts counts = new Counts();
        for (int i = 0; i < chosen.size(); i++) {
            work.stopIfCancelled();
            int m = chosen.get(i);
            work.at(i / (double) chosen.size(), asset.meshRef(m));
            out = one(out, m, counts);
        }
        return Change.of(out)
                .count("normals.computed", counts.normals)
                .count("vertices.split", counts.split)
                .count("normals.without.area", counts.flat);
    }

    private static final class Counts {
        long normals;
        long split;
        long flat;
    }

    private Asset one(Asset asset, int m, Counts counts) throws Refused {
        Mesh mesh = asset.meshes().get(m);
        float[] positions = MeshTopology.restPositions(mesh);
        for (float x : positions) {
            if (!Float.isFinite(x)) {
                throw new Refused("normals.not.finite", asset.meshRef(m));
            }
        }
        boolean had = mesh.primitives().stream().allMatch(p -> p.normals() != null);
        CornerNormals found = CornerNormals.of(
                MeshTopology.of(mesh), positions, hardDegrees, polygons(mesh), keepHard && had ? normals(mesh) : null);
        float[] base = found.of(positions, weighting);
        List<float[]> shaped = new ArrayList<>();
        for (int t = 0; t < mesh.targetCount(); t++) {
            shaped.add(found.of(shaped(mesh, positions, t), weighting));
        }
        List<Primitive> primitives = new ArrayList<>();
        List<VertexMap.Piece> pieces = new ArrayList<>();
        int corner = 0;
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Split split = Split.of(p, found, corner);
            counts.split += split.kept.length - p.vertexCount();
            counts.normals += split.indices.length == 0 ? 0 : split.kept.length;
            primitives.add(split.normalled(base, shaped, counts));
            pieces.add(new VertexMap.Piece(first, p.vertexCount(), split.kept));
            corner += p.triangleCorners().length;
            first += p.vertexCount();
        }
        return asset.withMesh(m, mesh.withPrimitives(primitives), VertexMap.of(pieces));
    }

    private static float[] normals(Mesh mesh) {
        float[] out = new float[3 * mesh.vertexCount()];
        int at = 0;
        for (Primitive p : mesh.primitives()) {
            float[] n = p.normals();
            System.arraycopy(n == null ? new float[p.positions().length] : n, 0, out, at, p.positions().length);
            at += p.positions().length;
        }
        return out;
    }

    private static float[] shaped(Mesh mesh, float[] positions, int target) {
        float[] out = positions.clone();
        int at = 0;
        for (Primitive p : mesh.primitives()) {
            float[] delta =
                    target < p.targets().size() ? p.targets().get(target).positions() : null;
            for (int i = 0; delta != null && i < delta.length; i++) {
                out[at + i] += delta[i];
            }
            at += p.positions().length;
        }
        return out;
    }

    /** Of each triangle of a mesh a number that all of its polygon share. */
    private static int[] polygons(Mesh mesh) {
        int[] out = new int[mesh.triangleCount()];
        int at = 0;
        int next = 0;
        for (Primitive p : mesh.primitives()) {
            int many = p.triangleCorners().length / 3;
            int[] own = ofPolygons(p);
            for (int t = 0; t < many; t++) {
                out[at++] = next + (own == null ? t : own[t]);
            }
            next += many;
        }
        return out;
    }

    /** Polygon of each triangle; null where polygons are none, or triangles do not stand in their order. */
    private static int @Nullable [] ofPolygons(Primitive p) {
        Faces faces = p.layout().faces();
        int[] corners = p.triangleCorners();
        if (faces == null) {
            return null;
        }
        int[] out = new int[corners.length / 3];
        int t = 0;
        for (int f = 0; f < faces.count(); f++) {
            int[] own = Arrays.copyOfRange(faces.corners(), faces.starts()[f], faces.starts()[f + 1]);
            Arrays.sort(own);
            for (int i = 2; i < own.length; i++, t++) {
                for (int c = 0; c < 3; c++) {
                    if (t >= out.length || Arrays.binarySearch(own, corners[3 * t + c]) < 0) {
                        return null;
                    }
                }
                out[t] = f;
            }
        }
        return t == out.length ? out : null;
    }

    /**
     * A primitive whose vertices have one fan each.
     *
     * @param kept for each new vertex the one it was
     * @param fan  of each new vertex, -1 where no triangle uses it
     */
    private record Split(Primitive p, int[] kept, int[] fan, int[] indices, boolean moved) {
        static Split of(Primitive p, CornerNormals found, int firstCorner) {
            int[] corners = p.triangleCorners();
            int[] indices = corners.clone();
            int count = p.vertexCount();
            int[] kept = Arrays.copyOf(counting(count), count + corners.length);
            int[] fan = new int[kept.length];
            int[] next = new int[kept.length];
            Arrays.fill(fan, -1);
            Arrays.fill(next, -1);
            int end = count;
            for (int c = 0; c < corners.length; c++) {
                int own = found.fanOf(firstCorner + c);
                int v = corners[c];
                while (fan[v] >= 0 && fan[v] != own && next[v] >= 0) {
                    v = next[v];
                }
                if (fan[v] >= 0 && fan[v] != own) {
                    next[v] = end;
                    kept[end] = corners[c];
                    v = end++;
                }
                fan[v] = own;
                indices[c] = v;
            }
            return new Split(p, Arrays.copyOf(kept, end), Arrays.copyOf(fan, end), indices, end > count);
        }

        private static int[] counting(int n) {
            int[] out = new int[n];
            Arrays.setAll(out, i -> i);
            return out;
        }

        Primitive normalled(float[] base, List<float[]> shaped, Counts counts) {
            if (indices.length == 0) {
                return p;
            }
            Primitive all = moved
                    ? Subset.ofVertices(p, kept, indices).withLayout(p.layout().withFaces(faces()))
                    : p;
            float[] had = all.normals();
            float[] normals = had == null ? new float[3 * kept.length] : had.clone();
            for (int v = 0; v < kept.length; v++) {
                boolean known = fan[v] >= 0 && put(base, fan[v], normals, v);
                counts.flat += known || fan[v] < 0 ? 0 : 1;
                if (!known && had == null) {
                    normals[3 * v + 1] = 1;
                }
            }
            List<MorphTarget> targets = new ArrayList<>();
            for (int t = 0; t < all.targets().size(); t++) {
                MorphTarget target = all.targets().get(t);
                targets.add(
                        target.normals() == null
                                ? target
                                : new MorphTarget(
                                        target.positions(),
                                        turned(normals, shaped.get(t)),
                                        target.tangents(),
                                        target.attributes()));
            }
            return all.withShape(all.positions(), normals, upright(all.tangents(), normals), targets);
        }

        private static boolean put(float[] fans, int fan, float[] out, int v) {
            if (fans[3 * fan] == 0 && fans[3 * fan + 1] == 0 && fans[3 * fan + 2] == 0) {
                return false;
            }
            System.arraycopy(fans, 3 * fan, out, 3 * v, 3);
            return true;
        }

        /** Differences from the normals at rest to those of a shape. */
        private float[] turned(float[] normals, float[] shape) {
            float[] out = normals.clone();
            for (int v = 0; v < kept.length; v++) {
                if (fan[v] >= 0) {
                    put(shape, fan[v], out, v);
                }
                for (int k = 0; k < 3; k++) {
                    out[3 * v + k] -= normals[3 * v + k];
                }
            }
            return out;
        }

        /** Tangents at right angles to the normals; as they were where they lie along them. */
        private static float @Nullable [] upright(float @Nullable [] tangents, float[] normals) {
            float[] out = tangents == null ? null : tangents.clone();
            for (int v = 0; out != null && 3 * v < normals.length; v++) {
                Vector3d n = new Vector3d(normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]);
                Vector3d t = new Vector3d(out[4 * v], out[4 * v + 1], out[4 * v + 2]);
                t.fma(-t.dot(n), n);
                if (t.length() > 1e-6) {
                    t.normalize();
                    out[4 * v] = (float) t.x;
                    out[4 * v + 1] = (float) t.y;
                    out[4 * v + 2] = (float) t.z;
                }
            }
            return out;
        }

        /** The polygons by the new vertices; null where triangles are not theirs in order. */
        private @Nullable Faces faces() {
            Faces had = p.layout().faces();
            int[] polygon = ofPolygons(p);
            if (had == null || polygon == null) {
                return null;
            }
            int[] corners = had.corners().clone();
            for (int t = 0; t < polygon.length; t++) {
                for (int i = had.starts()[polygon[t]]; i < had.starts()[polygon[t] + 1]; i++) {
                    for (int c = 3 * t; c < 3 * t + 3; c++) {
                        corners[i] = kept[indices[c]] == had.corners()[i] ? indices[c] : corners[i];
                    }
                }
            }
            int[] points = had.points() == null ? null : had.points();
            int[] more = new int[kept.length];
            for (int v = 0; v < more.length; v++) {
                more[v] = points == null ? kept[v] : points[kept[v]];
            }
            return new Faces(had.starts(), corners, more, had.smoothing(), had.groups(), had.groupNames());
        }
    }
}
