package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.formats.file.ClipFiles;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.text.TextOut;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Strands;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Writes the text form of USD: nodes as Xform with their keys, meshes with subsets by material, one Skeleton of all joints with its
 * SkelAnimation, vertex caches as samples of points, lines as linear BasisCurves. A scene has one time line, so several clips are files of
 * their own, each with the whole asset. Joints that hang below one another do so in the Skeleton; what hangs on a joint and has no
 * skin becomes wholly its joint's, for a scene hangs nothing on joints. {@link UsdShape} makes that of an asset beforehand.
 */
public final class UsdWriter {
    /** A scale that is off by more than this is told of. */
    private static final double NOTABLE = 1e-6;

    private final Asset asset;
    private final UsdShape shape;
    private final @Nullable Clip clip;
    private final double rate;
    private final TextOut out = new TextOut();
    private final Rig rig;
    private final Map<Integer, String> materialPaths = new HashMap<>();
    private String root = "";
    private String skeletonPath = "";
    private int depth;
    /** By how much a scale is off at most, as a share of it. */
    private double scaleOff;

    private UsdWriter(UsdShape shape, @Nullable Clip clip) {
        this.shape = shape;
        this.asset = shape.asset();
        this.clip = clip;
        rate = clip == null ? 24 : clip.rate();
        rig = new Rig(asset);
    }

    /** @throws Refused where a skin cannot be written, or nodes are nested too deeply */
    public static Written write(Asset given, String base, Work work) throws Refused {
        List<String> notes = new ArrayList<>();
        if (given.clips().isEmpty()) {
            return new Written(List.of(piece(given, given.name(), base, notes, work)), List.of());
        }
        List<String> names = ClipFiles.names(base, given.clips());
        List<Written.Piece> pieces = new ArrayList<>();
        for (int c = 0; c < names.size(); c++) {
            work.stopIfCancelled();
            work.at(c / (double) names.size(), "writing " + base);
            Asset own = given.withClips(List.of(given.clips().get(c)));
            pieces.add(piece(own, given.name(), names.get(c), notes, work));
        }
        return new Written(pieces, notes);
    }

    private static Written.Piece piece(Asset own, String scene, String file, List<String> notes, Work work)
            throws Refused {
        UsdShape shape = UsdShape.of(own, work);
        Clip clip =
                shape.asset().clips().isEmpty() ? null : shape.asset().clips().getFirst();
        UsdWriter writer = new UsdWriter(shape, clip);
        Written.Piece piece = new Written.Piece(file + ".usda", writer.text(scene), shape.asset());
        if (clip != null && writer.scaleOff > NOTABLE) {
            notes.add(String.format(
                    Locale.ROOT,
                    "%s: USD keeps the scale of joints in half precision, here off by %.3f %% at most.",
                    clip.name(),
                    100 * writer.scaleOff));
        }
        return piece;
    }

    private byte[] text(String name) {
        root = "/" + identifier(name, new HashSet<>());
        out.put("#usda 1.0\n(\n");
        out.put("    customLayerData = {\n        string conventions = ")
                .put(quoted(asset.conventions().code()))
                .line();
        if (clip != null) {
            out.put("        string clip = ").put(quoted(clip.name())).line();
        }
        out.put("    }\n    defaultPrim = ").put(quoted(root.substring(1))).line();
        out.put("    metersPerUnit = ")
                .put(Double.toString(asset.conventions().metresPerUnit()))
                .line();
        out.put("    upAxis = ")
                .put(quoted(asset.conventions().up().code().toUpperCase(Locale.ROOT)))
                .line();
        out.put("    timeCodesPerSecond = ").put(Double.toString(rate)).line();
        out.put("    framesPerSecond = ").put(Double.toString(rate)).line();
        if (clip != null && !clip.channels().isEmpty()) {
            out.put("    startTimeCode = ")
                    .put(Double.toString(code(clip.start())))
                    .line();
            out.put("    endTimeCode = ").put(Double.toString(code(clip.end()))).line();
        }
        out.put(")\n\n");
        open("def SkelRoot " + quoted(root.substring(1)), List.of("prepend apiSchemas = [\"SkelBindingAPI\"]"));
        materials();
        int[] parents = asset.parents();
        Set<String> taken = new HashSet<>(Set.of("Looks"));
        Map<Integer, String> paths = new HashMap<>();
        if (shape.above() < 0) {
            skeleton(root, taken);
        }
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0 && !shape.inSkeleton().get(n)) {
                node(n, root, taken, paths);
            }
        }
        close();
        return out.bytes();
    }

    private double code(double seconds) {
        return Math.rint(seconds * rate * 1e6) / 1e6;
    }

    private void open(String line, List<String> metadata) {
        pad().put(line);
        if (!metadata.isEmpty()) {
            out.put(" (\n");
            metadata.forEach(m -> pad().put("    ").put(m).line());
            pad().put(")");
        }
        out.line();
        pad().put("{\n");
        depth++;
    }

    private void close() {
        depth--;
        pad().put("}\n");
    }

    private TextOut pad() {
        return out.put("    ".repeat(depth));
    }

    static String quoted(String text) {
        return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"").replaceAll("\\p{Cntrl}", " ") + "\"";
    }

    /** A name that a prim may have, not yet taken. */
    static String identifier(String name, Set<String> taken) {
        String plain = name.replaceAll("[^A-Za-z0-9_]", "_");
        plain = plain.isEmpty() || Character.isDigit(plain.charAt(0)) ? "_" + plain : plain;
        return NewNodes.free(taken, plain);
    }

    private void node(int n, String parent, Set<String> taken, Map<Integer, String> paths) {
        Node node = asset.nodes().get(n);
        String own = identifier(node.name(), taken);
        String path = parent + "/" + own;
        paths.put(n, path);
        Mesh mesh = node.mesh() < 0 ? null : asset.meshes().get(node.mesh());
        boolean lines =
                mesh != null && mesh.triangleCount() == 0 && !Strands.of(mesh).isEmpty();
        String type = mesh == null ? "Xform" : lines ? "BasisCurves" : "Mesh";
        List<String> metadata = new ArrayList<>();
        List<String> schemas = new ArrayList<>();
        if (node.skin() >= 0) {
            schemas.add("\"SkelBindingAPI\"");
        }
        if (mesh != null && mesh.primitives().stream().anyMatch(p -> p.material() >= 0)) {
            schemas.add("\"MaterialBindingAPI\"");
        }
        if (!schemas.isEmpty()) {
            metadata.add("prepend apiSchemas = [" + String.join(", ", schemas) + "]");
        }
        if (!own.equals(node.name())) {
            metadata.add("displayName = " + quoted(node.name()));
        }
        if (mesh != null && !mesh.name().equals(node.name())) {
            metadata.add("customData = {\n" + "    ".repeat(depth + 2) + "string mesh = " + quoted(mesh.name()) + "\n"
                    + "    ".repeat(depth + 1) + "}");
        }
        open("def " + type + " " + quoted(own), metadata);
        transform(n, node);
        if (mesh != null && lines) {
            curves(mesh);
        } else if (mesh != null) {
            mesh(n, node, mesh);
        }
        Set<String> below = new HashSet<>();
        if (shape.above() == n) {
            skeleton(path, below);
        }
        for (int child : node.children()) {
            if (!shape.inSkeleton().get(child)) {
                node(child, path, below, paths);
            }
        }
        close();
    }

    private void transform(int n, Node node) {
        Local local = node.local();
        if (local.matrix() != null) {
            pad().put("matrix4d xformOp:transform = ");
            matrix(local.toMatrix());
            out.line();
            pad().put("uniform token[] xformOpOrder = [\"xformOp:transform\"]\n");
            return;
        }
        List<String> order = new ArrayList<>();
        op(
                n,
                Channel.Path.TRANSLATION,
                "double3 xformOp:translate",
                local.translation(),
                Local.IDENTITY.translation(),
                order);
        op(n, Channel.Path.ROTATION, "quatd xformOp:orient", local.rotation(), Local.IDENTITY.rotation(), order);
        op(n, Channel.Path.SCALE, "double3 xformOp:scale", local.scale(), Local.IDENTITY.scale(), order);
        if (!order.isEmpty()) {
            pad().put("uniform token[] xformOpOrder = [")
                    .put(String.join(", ", order))
                    .put("]\n");
        }
    }

    private void op(int n, Channel.Path path, String typed, float[] rest, float[] none, List<String> order) {
        Channel channel = clip == null
                ? null
                : clip.channels().stream()
                        .filter(c -> c.node() == n && c.path() == path && c.track() instanceof Sampler)
                        .findFirst()
                        .orElse(null);
        if (channel == null && Arrays.equals(rest, none)) {
            return;
        }
        String name = typed.substring(typed.indexOf(' ') + 1);
        order.add("\"" + name + "\"");
        pad().put(typed).put(" = ");
        tuple(rest);
        out.line();
        if (channel == null || clip == null) {
            return;
        }
        pad().put(typed).put(".timeSamples = {\n");
        for (double t : times(List.of(channel))) {
            Local at = Baker.parts(rig.at(clip, t).local(n));
            float[] value = path == Channel.Path.TRANSLATION
                    ? at.translation()
                    : path == Channel.Path.ROTATION ? at.rotation() : at.scale();
            pad().put("    ").put(Double.toString(code(t))).put(": ");
            tuple(value);
            out.put(",\n");
        }
        pad().put("}\n");
    }

    /** Four numbers are a turn, whose real part comes first here. */
    private void tuple(float[] v) {
        float[] ordered = v.length == 4 ? new float[] {v[3], v[0], v[1], v[2]} : v;
        out.put("(");
        for (int i = 0; i < ordered.length; i++) {
            out.put(i == 0 ? "" : ", ").put(ordered[i]);
        }
        out.put(")");
    }

    private void matrix(Matrix4d m) {
        double[] all = m.get(new double[16]);
        out.put("( ");
        for (int row = 0; row < 4; row++) {
            out.put(row == 0 ? "(" : ", (");
            for (int i = 0; i < 4; i++) {
                out.put(i == 0 ? "" : ", ").put(Double.toString(all[4 * row + i]));
            }
            out.put(")");
        }
        out.put(" )");
    }

    private static TreeSet<Double> times(List<Channel> channels) {
        TreeSet<Double> out = new TreeSet<>();
        for (Channel c : channels) {
            for (float t : c.track().times()) {
                out.add((double) t);
            }
        }
        return out;
    }

    private void mesh(int n, Node node, Mesh mesh) {
        pad().put("uniform token subdivisionScheme = \"none\"\n");
        if (mesh.primitives().stream()
                .anyMatch(p ->
                        p.material() >= 0 && asset.materials().get(p.material()).doubleSided())) {
            pad().put("uniform bool doubleSided = true\n");
        }
        float[] points = MeshTopology.restPositions(mesh);
        extent(points);
        faces(mesh);
        pad().put("point3f[] points = ");
        vectors(points, 3, false);
        out.line();
        cache(n, points);
        if (mesh.primitives().stream().allMatch(p -> p.normals() != null)) {
            pad().put("normal3f[] normals = ");
            vectors(all(mesh, p -> p.normals(), 3), 3, false);
            out.put(" (\n");
            pad().put("    interpolation = \"vertex\"\n");
            pad().put(")\n");
        }
        for (int set = 0; set < 8; set++) {
            String named = "TEXCOORD_" + set;
            if (!mesh.primitives().stream().allMatch(p -> has(p, named))) {
                break;
            }
            pad().put("texCoord2f[] primvars:st")
                    .put(set == 0 ? "" : Integer.toString(set))
                    .put(" = ");
            vectors(all(mesh, p -> p.attribute(named).orElseThrow().values(), 2), 2, true);
            out.put(" (\n");
            pad().put("    interpolation = \"vertex\"\n");
            pad().put(")\n");
        }
        if (node.skin() >= 0) {
            skinned(node, mesh);
        }
        subsets(mesh);
    }

    private static boolean has(Primitive p, String named) {
        return p.attribute(named).filter(a -> a.width() == 2).isPresent();
    }

    private void extent(float[] p) {
        Box box = Box.empty();
        box.grow(p);
        Vector3d a = box.isEmpty() ? new Vector3d() : box.min();
        Vector3d b = box.isEmpty() ? new Vector3d() : box.max();
        pad().put("float3[] extent = [");
        tuple(new float[] {(float) a.x, (float) a.y, (float) a.z});
        out.put(", ");
        tuple(new float[] {(float) b.x, (float) b.y, (float) b.z});
        out.put("]\n");
    }

    private interface Numbers {
        float @Nullable [] of(Primitive p);
    }

    private static float[] all(Mesh mesh, Numbers numbers, int width) {
        float[] out = new float[width * mesh.vertexCount()];
        int at = 0;
        for (Primitive p : mesh.primitives()) {
            float[] own = numbers.of(p);
            if (own != null) {
                System.arraycopy(own, 0, out, at, own.length);
            }
            at += width * p.vertexCount();
        }
        return out;
    }

    /** @param turned whether the second number of each is counted from the other end */
    private void vectors(float[] v, int width, boolean turned) {
        out.put("[");
        for (int i = 0; i < v.length; i++) {
            out.put(i % width == 0 ? i == 0 ? "(" : ", (" : ", ");
            if (turned && i % width == 1) {
                out.putFromOne(v[i]);
            } else {
                out.put(v[i]);
            }
            out.put(i % width == width - 1 ? ")" : "");
        }
        out.put("]");
    }

    private void wholes(String typed, int[] v) {
        pad().put(typed).put(" = [");
        for (int i = 0; i < v.length; i++) {
            out.put(i == 0 ? "" : ", ").put(v[i]);
        }
        out.put("]");
    }

    private void faces(Mesh mesh) {
        List<Integer> counts = new ArrayList<>();
        List<Integer> corners = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Faces faces = p.layout().faces();
            if (faces == null) {
                for (int c : p.triangleCorners()) {
                    corners.add(first + c);
                }
                for (int t = 0; t < p.triangleCorners().length / 3; t++) {
                    counts.add(3);
                }
            } else {
                for (int c : faces.corners()) {
                    corners.add(first + c);
                }
                for (int f = 0; f < faces.count(); f++) {
                    counts.add(faces.starts()[f + 1] - faces.starts()[f]);
                }
            }
            first += p.vertexCount();
        }
        wholes("int[] faceVertexCounts", counts.stream().mapToInt(i -> i).toArray());
        out.line();
        wholes("int[] faceVertexIndices", corners.stream().mapToInt(i -> i).toArray());
        out.line();
    }

    private static int faceCount(Primitive p) {
        Faces faces = p.layout().faces();
        return faces == null ? p.triangleCorners().length / 3 : faces.count();
    }

    private void cache(int n, float[] rest) {
        Channel plays = clip == null
                ? null
                : clip.channels().stream()
                        .filter(c -> c.node() == n && c.movesVertices())
                        .findFirst()
                        .orElse(null);
        if (plays == null || !(plays.track() instanceof VertexTrack track) || 3 * track.vertices() != rest.length) {
            return;
        }
        pad().put("point3f[] points.timeSamples = {\n");
        float[] at = new float[track.width()];
        for (int k = 0; k < track.times().length; k++) {
            track.at(k, at);
            pad().put("    ").put(Double.toString(code(track.times()[k]))).put(": ");
            vectors(at, 3, false);
            out.put(",\n");
        }
        pad().put("}\n");
    }

    private void skinned(Node node, Mesh mesh) {
        int width = Math.max(
                1,
                mesh.primitives().stream()
                        .mapToInt(
                                p -> p.influences() == null ? 0 : p.influences().longestRow())
                        .max()
                        .orElse(1));
        int[] joints = new int[width * mesh.vertexCount()];
        float[] weights = new float[joints.length];
        int[] list = Arrays.stream(asset.skins().get(node.skin()).joints())
                .map(shape::position)
                .toArray();
        int v = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int i = 0; i < p.vertexCount(); i++, v++) {
                for (int e = 0; rows != null && e < rows.rowLength(i); e++) {
                    int at = rows.offsets()[i] + e;
                    joints[v * width + e] = list[rows.joints()[at]];
                    weights[v * width + e] = rows.weights()[at];
                }
            }
        }
        String each = " (\n" + "    ".repeat(depth + 1) + "elementSize = " + width + "\n" + "    ".repeat(depth + 1)
                + "interpolation = \"vertex\"\n" + "    ".repeat(depth) + ")\n";
        wholes("int[] primvars:skel:jointIndices", joints);
        out.put(each);
        pad().put("float[] primvars:skel:jointWeights = [");
        for (int i = 0; i < weights.length; i++) {
            out.put(i == 0 ? "" : ", ").put(weights[i]);
        }
        out.put("]").put(each);
        pad().put("matrix4d primvars:skel:geomBindTransform = ");
        matrix(shape.geometryBind(node.skin()));
        out.line();
        pad().put("rel skel:skeleton = <").put(skeletonPath).put(">\n");
    }

    private void subsets(Mesh mesh) {
        List<Primitive> all = mesh.primitives();
        int painted = all.getFirst().material();
        if (all.size() == 1) {
            if (painted >= 0) {
                pad().put("rel material:binding = <")
                        .put(materialPaths.getOrDefault(painted, ""))
                        .put(">\n");
            }
            return;
        }
        pad().put("uniform token subsetFamily:materialBind:familyType = \"partition\"\n");
        int first = 0;
        Set<String> taken = new HashSet<>();
        for (int p = 0; p < all.size(); p++) {
            int many = faceCount(all.get(p));
            int material = all.get(p).material();
            open(
                    "def GeomSubset " + quoted(identifier("piece_" + p, taken)),
                    material < 0 ? List.of() : List.of("prepend apiSchemas = [\"MaterialBindingAPI\"]"));
            pad().put("uniform token elementType = \"face\"\n");
            pad().put("uniform token familyName = \"materialBind\"\n");
            int[] own = new int[many];
            int from = first;
            Arrays.setAll(own, i -> from + i);
            wholes("int[] indices", own);
            out.line();
            if (material >= 0) {
                pad().put("rel material:binding = <")
                        .put(materialPaths.getOrDefault(material, ""))
                        .put(">\n");
            }
            close();
            first += many;
        }
    }

    private void curves(Mesh mesh) {
        List<Strands.Strand> strands = Strands.of(mesh);
        pad().put("uniform token type = \"linear\"\n");
        pad().put("uniform token wrap = \"nonperiodic\"\n");
        wholes(
                "int[] curveVertexCounts",
                strands.stream().mapToInt(s -> s.vertices().length).toArray());
        out.line();
        int total = strands.stream().mapToInt(s -> s.vertices().length).sum();
        float[] points = new float[3 * total];
        int at = 0;
        for (Strands.Strand s : strands) {
            float[] p = mesh.primitives().get(s.primitive()).positions();
            for (int v : s.vertices()) {
                System.arraycopy(p, 3 * v, points, at, 3);
                at += 3;
            }
        }
        extent(points);
        pad().put("point3f[] points = ");
        vectors(points, 3, false);
        out.line();
        pad().put("float[] widths = [0.001] (\n");
        pad().put("    interpolation = \"constant\"\n");
        pad().put(")\n");
        int material = mesh.primitives().getFirst().material();
        if (material >= 0) {
            pad().put("rel material:binding = <")
                    .put(materialPaths.getOrDefault(material, ""))
                    .put(">\n");
        }
    }

    private void materials() {
        if (asset.materials().isEmpty()) {
            return;
        }
        open("def Scope \"Looks\"", List.of());
        Set<String> taken = new HashSet<>();
        for (int m = 0; m < asset.materials().size(); m++) {
            Material material = asset.materials().get(m);
            String own = identifier(material.name(), taken);
            String path = root + "/Looks/" + own;
            materialPaths.put(m, path);
            open(
                    "def Material " + quoted(own),
                    own.equals(material.name()) ? List.of() : List.of("displayName = " + quoted(material.name())));
            pad().put("token outputs:surface.connect = <").put(path).put("/surface.outputs:surface>\n");
            open("def Shader \"surface\"", List.of());
            pad().put("uniform token info:id = \"UsdPreviewSurface\"\n");
            float[] c = material.baseColour();
            pad().put("color3f inputs:diffuseColor = ");
            tuple(new float[] {c[0], c[1], c[2]});
            out.line();
            pad().put("float inputs:opacity = ").put(c[3]).line();
            pad().put("token outputs:surface\n");
            close();
            close();
        }
        close();
    }

    private void skeleton(String parent, Set<String> taken) {
        int[] joints = shape.joints();
        if (joints.length == 0) {
            return;
        }
        String own = identifier("skeleton", taken);
        skeletonPath = parent + "/" + own;
        String[] tokens = tokens(joints);
        String animation = identifier("motion", taken);
        boolean moves = clip != null && clip.channels().stream().anyMatch(c -> moves(c));
        open("def Skeleton " + quoted(own), List.of("prepend apiSchemas = [\"SkelBindingAPI\"]"));
        strings("uniform token[] joints", tokens);
        strings(
                "uniform token[] jointNames",
                Arrays.stream(joints).mapToObj(j -> asset.nodes().get(j).name()).toArray(String[]::new));
        Matrix4d[] binds = shape.binds();
        pad().put("uniform matrix4d[] bindTransforms = [");
        for (int j = 0; j < binds.length; j++) {
            out.put(j == 0 ? "" : ", ");
            matrix(binds[j]);
        }
        out.put("]\n");
        pad().put("uniform matrix4d[] restTransforms = [");
        for (int j = 0; j < joints.length; j++) {
            out.put(j == 0 ? "" : ", ");
            matrix(asset.nodes().get(joints[j]).local().toMatrix());
        }
        out.put("]\n");
        if (moves) {
            pad().put("rel skel:animationSource = <")
                    .put(parent + "/" + animation)
                    .put(">\n");
        }
        close();
        if (moves && clip != null) {
            animation(animation, joints, tokens, clip);
        }
    }

    private boolean moves(Channel c) {
        return c.node() >= 0 && shape.inSkeleton().get(c.node()) && c.track() instanceof Sampler && !c.shapes();
    }

    private void animation(String name, int[] joints, String[] tokens, Clip played) {
        List<Channel> channels = played.channels().stream().filter(this::moves).toList();
        BitSet moved = new BitSet();
        channels.forEach(c -> moved.set(c.node()));
        int[] own = Arrays.stream(joints).filter(moved::get).toArray();
        String[] names = new String[own.length];
        for (int i = 0, j = 0; j < joints.length; j++) {
            if (moved.get(joints[j])) {
                names[i++] = tokens[j];
            }
        }
        open("def SkelAnimation " + quoted(name), List.of());
        strings("uniform token[] joints", names);
        Map<Double, Pose> poses = new TreeMap<>();
        times(channels).forEach(t -> poses.put(t, rig.at(played, t)));
        for (Channel.Path path : List.of(Channel.Path.TRANSLATION, Channel.Path.ROTATION, Channel.Path.SCALE)) {
            pad().put(
                            switch (path) {
                                case TRANSLATION -> "float3[] translations";
                                case ROTATION -> "quatf[] rotations";
                                default -> "half3[] scales";
                            })
                    .put(".timeSamples = {\n");
            for (double t : poses.keySet()) {
                Pose pose = Objects.requireNonNull(poses.get(t));
                pad().put("    ").put(Double.toString(code(t))).put(": [");
                for (int i = 0; i < own.length; i++) {
                    Local at = Baker.parts(pose.local(own[i]));
                    out.put(i == 0 ? "" : ", ");
                    Quaterniond q = pose.rotation(own[i]);
                    boolean plain = asset.nodes().get(own[i]).local().matrix() == null;
                    tuple(
                            switch (path) {
                                case TRANSLATION -> at.translation();
                                case ROTATION ->
                                    plain
                                            ? new float[] {(float) q.x, (float) q.y, (float) q.z, (float) q.w}
                                            : at.rotation();
                                default -> {
                                    scaleOff = Math.max(scaleOff, offInHalf(at.scale()));
                                    yield at.scale();
                                }
                            });
                }
                out.put("],\n");
            }
            pad().put("}\n");
        }
        close();
    }

    /** How far scales are off in half precision, as a share of them. */
    private static double offInHalf(float[] scale) {
        double off = 0;
        for (float s : scale) {
            if (s != 0) {
                off = Math.max(off, Math.abs(Float.float16ToFloat(Float.floatToFloat16(s)) / s - 1));
            }
        }
        return off;
    }

    /** Paths of joints within the skeleton. */
    private String[] tokens(int[] joints) {
        int[] parents = asset.parents();
        Map<Integer, String> path = new HashMap<>();
        Map<String, Set<String>> taken = new HashMap<>();
        String[] out = new String[joints.length];
        for (int j = 0; j < joints.length; j++) {
            String above = path.getOrDefault(parents[joints[j]], "");
            String own =
                    identifier(asset.nodes().get(joints[j]).name(), taken.computeIfAbsent(above, a -> new HashSet<>()));
            out[j] = above.isEmpty() ? own : above + "/" + own;
            path.put(joints[j], out[j]);
        }
        return out;
    }

    private void strings(String typed, String[] all) {
        pad().put(typed).put(" = [");
        for (int i = 0; i < all.length; i++) {
            out.put(i == 0 ? "" : ", ").put(quoted(all[i]));
        }
        out.put("]\n");
    }
}
