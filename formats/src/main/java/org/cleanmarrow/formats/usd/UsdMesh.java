package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.geometry.Polygons;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * What a Mesh or BasisCurves prim draws. Points are vertices in their order where nothing is said by corner of a face; otherwise a vertex is
 * a point with one texture coordinate and normal. Subsets by material are primitives of their own.
 *
 * @param points of each vertex of the mesh the point that it is
 */
record UsdMesh(Mesh mesh, int[] points, UsdPrim prim, String file, int mostJoint, List<String> notes) {

    /** Numbers by vertex, corner or face of what a face's corner shows. */
    private record Primvar(double[] values, int[] indices, String interpolation, int width) {
        int at(int point, int corner, int face) {
            int element = switch (interpolation) {
                case "faceVarying" -> corner;
                case "uniform" -> face;
                case "constant" -> 0;
                default -> point;
            };
            return indices.length == 0 ? element : indices[element];
        }

        boolean byPoint() {
            return !interpolation.equals("faceVarying") && !interpolation.equals("uniform");
        }
    }

    boolean skinned() {
        return mostJoint >= 0;
    }

    /** Without its weights. */
    Mesh bare() {
        return mesh.withPrimitives(
                mesh.primitives().stream().map(p -> p.withInfluences(null)).toList());
    }

    static UsdMesh of(UsdPrim prim, String file, Map<String, Integer> materials) throws ReadFailed {
        return new Reading(prim, file, materials).mesh();
    }

    private static final class Reading {
        private final UsdPrim prim;
        private final String file;
        private final Map<String, Integer> materials;
        private final double[] points;
        private final int[] counts;
        private final int[] corners;
        private int mostJoint = -1;

        Reading(UsdPrim prim, String file, Map<String, Integer> materials) throws ReadFailed {
            this.prim = prim;
            this.file = file;
            this.materials = materials;
            points = prim.numbers("points");
            counts = wholes("faceVertexCounts", Integer.MAX_VALUE);
            if (points.length % 3 != 0) {
                throw wrong("points", "has " + points.length + " numbers, which are not whole points");
            }
            corners = wholes("faceVertexIndices", points.length / 3 - 1);
            long all = 0;
            for (int c : counts) {
                all += c;
            }
            if (all != corners.length) {
                throw wrong("faceVertexCounts", "ask for " + all + " corners; there are " + corners.length);
            }
        }

        private ReadFailed wrong(String property, String what) {
            return new ReadFailed(file, prim.path + "." + property, what);
        }

        private int[] wholes(String property, int most) throws ReadFailed {
            return wholes(property, prim.numbers(property), most);
        }

        private int[] wholes(String property, double[] values, int most) throws ReadFailed {
            int[] out = new int[values.length];
            for (int i = 0; i < out.length; i++) {
                if (values[i] != Math.rint(values[i]) || values[i] < 0 || values[i] > most) {
                    throw wrong(property, "expected whole numbers from 0 to " + most + ", found " + values[i]);
                }
                out[i] = (int) values[i];
            }
            return out;
        }

        private @Nullable Primvar primvar(String name, int width, String otherwise) throws ReadFailed {
            UsdPrim.Property p = prim.properties.get(name);
            if (p == null || p.numbers().length == 0) {
                return null;
            }
            double[] values = p.numbers();
            String interpolation = p.interpolation().isEmpty() ? otherwise : p.interpolation();
            int elements = switch (interpolation) {
                case "faceVarying" -> corners.length;
                case "uniform" -> counts.length;
                case "constant" -> 1;
                default -> points.length / 3;
            };
            int[] indices = wholes(name + ":indices", Math.max(0, values.length / width - 1));
            int has = indices.length > 0 ? indices.length : values.length / width;
            if (values.length % width != 0 || has != elements) {
                throw wrong(name, "has " + has + " values; " + interpolation + " ones here are " + elements);
            }
            return new Primvar(values, indices, interpolation, width);
        }

        UsdMesh mesh() throws ReadFailed {
            Primvar normals = primvar("normals", 3, "vertex");
            normals = normals == null ? primvar("primvars:normals", 3, "vertex") : normals;
            List<Primvar> uvs = new ArrayList<>();
            for (Map.Entry<String, UsdPrim.Property> e : prim.properties.entrySet()) {
                boolean uv = e.getKey().startsWith("primvars:")
                        && (e.getValue().type.startsWith("texCoord2")
                                || e.getKey().equals("primvars:st")
                                        && e.getValue().type.startsWith("float2"));
                Primvar one = uv ? primvar(e.getKey(), 2, "constant") : null;
                if (one != null) {
                    uvs.add(one);
                }
            }
            List<Primvar> all = new ArrayList<>(uvs);
            if (normals != null) {
                all.add(normals);
            }
            int[] vertexOf = new int[corners.length];
            int[] pointOf;
            int[][] shown;
            if (all.stream().allMatch(Primvar::byPoint)) {
                pointOf = IntStream.range(0, points.length / 3).toArray();
                System.arraycopy(corners, 0, vertexOf, 0, corners.length);
                shown = new int[all.size()][];
                for (int a = 0; a < shown.length; a++) {
                    Primvar by = all.get(a);
                    shown[a] = Arrays.stream(pointOf).map(p -> by.at(p, 0, 0)).toArray();
                }
            } else {
                List<int[]> made = new ArrayList<>();
                Map<List<Integer>, Integer> known = new HashMap<>();
                int corner = 0;
                for (int f = 0; f < counts.length; f++) {
                    for (int i = 0; i < counts[f]; i++, corner++) {
                        int[] key = new int[1 + all.size()];
                        key[0] = corners[corner];
                        for (int a = 0; a < all.size(); a++) {
                            key[a + 1] = all.get(a).at(key[0], corner, f);
                        }
                        List<Integer> boxed = Arrays.stream(key).boxed().toList();
                        Integer there = known.putIfAbsent(boxed, made.size());
                        vertexOf[corner] = there == null ? made.size() : there;
                        if (there == null) {
                            made.add(key);
                        }
                    }
                }
                pointOf = made.stream().mapToInt(k -> k[0]).toArray();
                shown = new int[all.size()][];
                for (int a = 0; a < shown.length; a++) {
                    int at = a + 1;
                    shown[a] = made.stream().mapToInt(k -> k[at]).toArray();
                }
            }
            return built(pointOf, vertexOf, uvs, normals, shown);
        }

        private UsdMesh built(
                int[] pointOf, int[] vertexOf, List<Primvar> uvs, @Nullable Primvar normals, int[][] shown)
                throws ReadFailed {
            float[] p = new float[3 * pointOf.length];
            for (int v = 0; v < pointOf.length; v++) {
                for (int k = 0; k < 3; k++) {
                    p[3 * v + k] = (float) points[3 * pointOf[v] + k];
                }
            }
            List<Attribute> attributes = new ArrayList<>();
            for (int u = 0; u < uvs.size(); u++) {
                float[] values = gathered(uvs.get(u), shown[u]);
                for (int i = 1; i < values.length; i += 2) {
                    // Counted from the lower edge there, from the upper one here.
                    values[i] = (float) (1 - uvs.get(u).values()[2 * shown[u][i / 2] + 1]);
                }
                attributes.add(new Attribute("TEXCOORD_" + u, 2, values, Storage.FLOAT));
            }
            boolean left = prim.word("orientation", "rightHanded").equals("leftHanded");
            Influences weights = weights(pointOf);
            List<Integer> indices = new ArrayList<>();
            int[] faceOf = triangles(p, vertexOf, left, indices);
            Primitive whole = new Primitive(
                    Primitive.Mode.TRIANGLES,
                    indices.stream().mapToInt(i -> i).toArray(),
                    p,
                    normals == null ? null : gathered(normals, shown[shown.length - 1]),
                    null,
                    attributes,
                    weights,
                    List.of(),
                    material(prim),
                    Primitive.Layout.PLAIN.withFaces(polygons(vertexOf, left)),
                    Passthrough.NONE);
            return subsets(whole, faceOf, pointOf);
        }

        private static float[] gathered(Primvar of, int[] shown) {
            float[] out = new float[of.width() * shown.length];
            for (int v = 0; v < shown.length; v++) {
                for (int k = 0; k < of.width(); k++) {
                    out[of.width() * v + k] = (float) of.values()[of.width() * shown[v] + k];
                }
            }
            return out;
        }

        /** Triangles of all faces; gives the face of each. */
        private int[] triangles(float[] p, int[] vertexOf, boolean left, List<Integer> indices) {
            List<Integer> faceOf = new ArrayList<>();
            int first = 0;
            for (int f = 0; f < counts.length; f++) {
                int face = f;
                int[] round = Arrays.copyOfRange(vertexOf, first, first + counts[f]);
                first += counts[f];
                if (round.length < 3) {
                    continue;
                }
                Polygons.triangulate(p, round, round.length, (a, b, c) -> {
                    indices.add(round[a]);
                    indices.add(round[left ? c : b]);
                    indices.add(round[left ? b : c]);
                    faceOf.add(face);
                });
            }
            return faceOf.stream().mapToInt(i -> i).toArray();
        }

        private @Nullable Faces polygons(int[] vertexOf, boolean left) {
            if (Arrays.stream(counts).allMatch(c -> c == 3)) {
                return null;
            }
            int[] starts = new int[counts.length + 1];
            for (int f = 0; f < counts.length; f++) {
                starts[f + 1] = starts[f] + counts[f];
            }
            Faces faces = new Faces(starts, vertexOf.clone(), null, null, null, List.of());
            return left ? faces.turnedRound() : faces;
        }

        private int material(UsdPrim of) {
            return of.target("material:binding")
                    .map(t -> materials.getOrDefault(t, -1))
                    .orElse(-1);
        }

        private UsdMesh subsets(Primitive whole, int[] faceOf, int[] pointOf) throws ReadFailed {
            List<UsdPrim> subsets = prim.children.stream()
                    .filter(c -> c.type.equals("GeomSubset") && c.active())
                    .filter(c -> c.word("elementType", "face").equals("face"))
                    .filter(c -> c.word("familyName", "materialBind").equals("materialBind"))
                    .toList();
            if (subsets.isEmpty()) {
                return new UsdMesh(Mesh.of(prim.label(), whole), pointOf, prim, file, mostJoint, List.of());
            }
            int[] subsetOf = new int[counts.length];
            Arrays.fill(subsetOf, subsets.size());
            for (int s = 0; s < subsets.size(); s++) {
                for (int f : wholes(
                        subsets.get(s).name + ".indices", subsets.get(s).numbers("indices"), counts.length - 1)) {
                    subsetOf[f] = s;
                }
            }
            List<Primitive> out = new ArrayList<>();
            List<Integer> points = new ArrayList<>();
            int[] corners = whole.triangleCorners();
            for (int s = 0; s <= subsets.size(); s++) {
                int number = s;
                int[] own = IntStream.range(0, faceOf.length)
                        .filter(t -> subsetOf[faceOf[t]] == number)
                        .flatMap(t -> IntStream.of(corners[3 * t], corners[3 * t + 1], corners[3 * t + 2]))
                        .toArray();
                if (own.length > 0) {
                    int material = s < subsets.size() ? material(subsets.get(s)) : whole.material();
                    out.add(Subset.ofTriangles(whole, own).withMaterial(material));
                    Arrays.stream(Subset.used(own)).forEach(v -> points.add(pointOf[v]));
                }
            }
            int[] all = points.stream().mapToInt(i -> i).toArray();
            return new UsdMesh(
                    Mesh.of(prim.label(), out.toArray(Primitive[]::new)), all, prim, file, mostJoint, List.of());
        }

        private @Nullable Influences weights(int[] pointOf) throws ReadFailed {
            UsdPrim.Property indices = prim.properties.get("primvars:skel:jointIndices");
            double[] weights = prim.numbers("primvars:skel:jointWeights");
            if (indices == null || weights.length == 0) {
                return null;
            }
            int[] joints = wholes("primvars:skel:jointIndices", Integer.MAX_VALUE);
            int width = indices.metadata.get("elementSize") instanceof Double d && d >= 1 ? (int) (double) d : 1;
            boolean constant = indices.interpolation().equals("constant");
            int rows = constant ? 1 : points.length / 3;
            if (joints.length != weights.length || joints.length != (long) rows * width) {
                throw wrong(
                        "primvars:skel:jointIndices",
                        "has " + joints.length + " numbers and " + weights.length + " weights; expected "
                                + (long) rows * width);
            }
            Influences.Builder out = new Influences.Builder(pointOf.length);
            for (int point : pointOf) {
                int from = constant ? 0 : width * point;
                for (int e = from; e < from + width; e++) {
                    if (weights[e] != 0) {
                        out.add(joints[e], (float) weights[e]);
                        mostJoint = Math.max(mostJoint, joints[e]);
                    }
                }
                out.endRow();
            }
            return out.build();
        }
    }

    /** Curves as lines between their points. */
    static UsdMesh curves(UsdPrim prim, String file, Map<String, Integer> materials) throws ReadFailed {
        double[] points = prim.numbers("points");
        double[] counts = prim.numbers("curveVertexCounts");
        boolean round = prim.word("wrap", "nonperiodic").equals("periodic");
        List<Integer> pairs = new ArrayList<>();
        long first = 0;
        for (double c : counts) {
            if (c != Math.rint(c) || c < 0 || first + c > points.length / 3) {
                throw new ReadFailed(
                        file, prim.path + ".curveVertexCounts", "do not fit the " + points.length / 3 + " points");
            }
            for (long i = first; i + 1 < first + c; i++) {
                pairs.add((int) i);
                pairs.add((int) i + 1);
            }
            if (round && c > 2) {
                pairs.add((int) (first + c - 1));
                pairs.add((int) first);
            }
            first += (long) c;
        }
        if (first != points.length / 3 || points.length % 3 != 0) {
            throw new ReadFailed(
                    file,
                    prim.path + ".curveVertexCounts",
                    "ask for " + first + " points; there are " + points.length / 3.0);
        }
        float[] p = new float[points.length];
        for (int i = 0; i < p.length; i++) {
            p[i] = (float) points[i];
        }
        int material = prim.target("material:binding")
                .map(t -> materials.getOrDefault(t, -1))
                .orElse(-1);
        Primitive lines = Primitive.triangles(new int[0], p, null, material)
                .withIndices(
                        Primitive.Mode.LINES, pairs.stream().mapToInt(i -> i).toArray());
        List<String> notes = prim.word("type", "cubic").equals("linear")
                ? List.of()
                : List.of(prim.path + " has curved curves; they were read as lines between their points.");
        int[] each = IntStream.range(0, p.length / 3).toArray();
        return new UsdMesh(Mesh.of(prim.label(), lines), each, prim, file, -1, notes);
    }

    /** The samples of its points over time. */
    Optional<Channel> cache(int node, double rate) throws ReadFailed {
        UsdPrim.Property p = prim.property("points").orElseGet(UsdPrim.Property::new);
        int count = UsdPrim.count(p.first());
        if (p.samples.size() < 2 && (p.value == null || p.samples.isEmpty()) || count == 0) {
            return Optional.empty();
        }
        List<@Nullable Object> rows = new ArrayList<>();
        for (Map.Entry<Double, @Nullable Object> sample : p.samples.entrySet()) {
            int there = UsdPrim.count(sample.getValue());
            if (there != count) {
                throw new ReadFailed(
                        file,
                        prim.path + ".points",
                        "has " + there / 3 + " points at " + sample.getKey() + " and " + count / 3 + " before");
            }
            rows.add(sample.getValue());
        }
        VertexTrack track = VertexTrack.of(
                UsdXform.seconds(new TreeSet<>(p.samples.keySet()), rate),
                CacheBake.frames(count / 3, rows.size(), Work.QUIET, (k, out) -> {
                    double[] row = UsdPrim.numbers(rows.get(k));
                    for (int i = 0; i < out.length; i++) {
                        out[i] = (float) row[i];
                    }
                }));
        boolean plain =
                points.length == count / 3 && IntStream.range(0, points.length).allMatch(i -> points[i] == i);
        VertexTrack own = plain ? track : new VertexTrack(track.times(), track.frames(), new Matrix4d(), points);
        return Optional.of(new Channel(node, Channel.Path.VERTICES, own, "", Passthrough.NONE));
    }
}
