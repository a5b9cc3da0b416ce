package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.formats.file.Neighbours;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * Reads USD text: Xform, Mesh with subsets, linear BasisCurves, Skeleton, SkelAnimation, preview materials, and samples of transforms
 * and points over time. Plain sublayers from the file's own folder are read too; references, payloads, inherits and variants are named as
 * not understood. What a scene does not say has the standard's fallbacks: centimetres, Y up, 24 time codes a second.
 */
public final class UsdReader {
    private static final int MOST_LAYERS = 64;
    private static final long MOST_BYTES = 1 << 30;
    private static final double CENTIMETRE = 0.01;
    private static final double RATE = 24;

    private final String file;
    private final UsdLayer layer;
    private final Map<String, UsdPrim> prims;
    private final double rate;
    private final List<Node> nodes = new ArrayList<>();
    private final List<List<Integer>> children = new ArrayList<>();
    private final List<Mesh> meshes = new ArrayList<>();
    private final List<Skin> skins = new ArrayList<>();
    private final List<Material> materials = new ArrayList<>();
    private final Map<String, Integer> materialAt = new HashMap<>();
    private final Map<String, int[]> jointsOf = new HashMap<>();
    private final Map<String, Integer> skinAt = new HashMap<>();
    private final List<Channel> channels = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();
    private final List<Unbound> unbound = new ArrayList<>();

    /** A mesh with weights whose skeleton is not looked up yet. */
    private record Unbound(UsdPrim prim, int node, int mesh, UsdMesh read) {}

    private UsdReader(UsdLayer layer, String file) {
        this.layer = layer;
        this.file = file;
        prims = layer.byPath();
        rate = layer.number("timeCodesPerSecond", layer.number("framesPerSecond", RATE));
    }

    /** Reads the text form or the binary one, whatever the file is called; sublayers may be of the other. */
    public static Asset read(byte[] bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
        List<String> missing = new ArrayList<>();
        try {
            UsdLayer layer = layers(bytes, name, folder, work, new HashSet<>(), missing);
            UsdReader reader = new UsdReader(layer, name);
            reader.notes.addAll(missing);
            return reader.asset();
        } catch (UsdcArray.Broken e) {
            throw new ReadFailed(name, "", "is a broken binary scene: " + e.getMessage());
        }
    }

    /** Whether it is the binary form. */
    public static boolean isBinary(byte[] bytes) {
        return new String(bytes, 0, Math.min(8, bytes.length), StandardCharsets.US_ASCII).equals("PXR-USDC");
    }

    private static UsdLayer layers(
            byte[] bytes, String name, @Nullable Path folder, Work work, Set<String> seen, List<String> missing)
            throws ReadFailed {
        UsdLayer out = isBinary(bytes) ? UsdcParser.parse(bytes, name, work) : UsdaParser.parse(bytes, name, work);
        for (String below : UsdPrim.words(out.metadata.get("subLayers"))) {
            if (!seen.add(below) || seen.size() > MOST_LAYERS) {
                continue;
            }
            Optional<Path> path = Neighbours.find(folder, below);
            if (path.isEmpty()) {
                missing.add("The sublayer " + below + " is missing beside the file, or lies outside of its folder.");
                continue;
            }
            try {
                if (Files.size(path.get()) > MOST_BYTES) {
                    throw new ReadFailed(name, "subLayers", "the file \"" + below + "\" is too large to be read");
                }
                UsdLayer weaker = layers(Files.readAllBytes(path.get()), below, folder, work, seen, missing);
                UsdPrim.under(out.roots, weaker.roots);
                out.arcs.addAll(weaker.arcs);
            } catch (IOException e) {
                throw new ReadFailed(name, "subLayers", "the file \"" + below + "\" cannot be read");
            }
        }
        return out;
    }

    private Asset asset() throws ReadFailed {
        for (UsdPrim prim : prims.values()) {
            if (prim.type.equals("Material") && prim.active()) {
                materialAt.put(prim.path, materials.size());
                materials.add(material(prim));
            }
        }
        for (UsdPrim root : layer.roots) {
            visit(root, -1);
        }
        for (Unbound one : unbound) {
            bind(one.prim, one.node, one.mesh, one.read);
        }
        skeletonsAlone();
        for (UsdPrim prim : prims.values()) {
            if (prim.type.equals("Skeleton")) {
                animate(prim);
            }
        }
        for (int n = 0; n < nodes.size(); n++) {
            nodes.set(
                    n,
                    nodes.get(n)
                            .withChildren(
                                    children.get(n).stream().mapToInt(i -> i).toArray()));
        }
        layer.arcs.stream().distinct().limit(8).forEach(a -> notes.add("Not understood and left out: " + a + "."));
        String base = file.contains(".") ? file.substring(0, file.lastIndexOf('.')) : file;
        String called = layer.custom("clip", "motion");
        List<Clip> clips = channels.isEmpty()
                ? List.of()
                : List.of(new Clip(called, channels, rate, false, true, List.of(), Passthrough.NONE));
        return Asset.of(base, conventions(), nodes, meshes, skins, clips)
                .withMaterials(materials)
                .withNotes(notes);
    }

    private Conventions conventions() throws ReadFailed {
        double metres = layer.number("metersPerUnit", CENTIMETRE);
        Axis up = layer.word("upAxis", "Y").equalsIgnoreCase("Z") ? Axis.Z : Axis.Y;
        Conventions plain = new Conventions(metres, up, up == Axis.Z ? Axis.MINUS_Y : Axis.Z, Handedness.RIGHT);
        return Conventions.parse(layer.custom("conventions", ""))
                .filter(c -> c.up() == up
                        && c.handedness() == Handedness.RIGHT
                        && Math.abs(c.metresPerUnit() / metres - 1) < 1e-9)
                .orElse(plain);
    }

    private Material material(UsdPrim prim) {
        float[] colour = {0.18f, 0.18f, 0.18f, 1};
        for (UsdPrim shader : prim.children) {
            if (shader.word("info:id", "").equals("UsdPreviewSurface")) {
                double[] c = shader.numbers("inputs:diffuseColor");
                double[] a = shader.numbers("inputs:opacity");
                for (int i = 0; i < 3 && c.length == 3; i++) {
                    colour[i] = (float) Math.clamp(c[i], 0, 1);
                }
                colour[3] = a.length == 1 ? (float) Math.clamp(a[0], 0, 1) : 1;
            }
        }
        return new Material(prim.label(), colour, -1, false, Passthrough.NONE);
    }

    private void visit(UsdPrim prim, int parent) throws ReadFailed {
        if (!prim.active() || !prim.specifier.equals("def")) {
            return;
        }
        switch (prim.type) {
            case "Material", "Shader", "GeomSubset", "SkelAnimation", "NodeGraph" -> {}
            case "Skeleton" -> skeleton(prim, parent);
            case "Mesh", "BasisCurves" -> {
                int node = node(prim, parent);
                UsdMesh read = prim.type.equals("Mesh")
                        ? UsdMesh.of(prim, file, materialAt)
                        : UsdMesh.curves(prim, file, materialAt);
                place(prim, node, read);
                below(prim, node);
            }
            default -> {
                boolean says = prim.properties.containsKey("xformOpOrder");
                boolean gathers = prim.type.equals("Scope") || prim.type.equals("SkelRoot");
                below(prim, gathers && !says ? parent : node(prim, parent));
            }
        }
    }

    private void below(UsdPrim prim, int parent) throws ReadFailed {
        for (UsdPrim child : prim.children) {
            visit(child, parent);
        }
    }

    private int add(Node node, int parent) {
        nodes.add(node);
        children.add(new ArrayList<>());
        int number = nodes.size() - 1;
        if (parent >= 0) {
            children.get(parent).add(number);
        }
        return number;
    }

    private int node(UsdPrim prim, int parent) throws ReadFailed {
        UsdXform xform = UsdXform.of(prim, file);
        int number = add(Node.group(prim.label(), xform.rest()), parent);
        xform.note().ifPresent(notes::add);
        channels.addAll(xform.channels(number, rate));
        return number;
    }

    private void place(UsdPrim prim, int node, UsdMesh read) throws ReadFailed {
        String called = prim.metadata.get("customData") instanceof Map<?, ?> own && own.get("mesh") instanceof String s
                ? s
                : prim.label();
        meshes.add(read.mesh().withName(called));
        int mesh = meshes.size() - 1;
        nodes.set(node, nodes.get(node).withMesh(mesh, -1));
        read.cache(node, rate).ifPresent(channels::add);
        notes.addAll(read.notes());
        if (read.skinned()) {
            // The skeleton may come later.
            unbound.add(new Unbound(prim, node, mesh, read));
        }
    }

    /** A binding holds for all below where it is said. */
    private Optional<String> inherited(UsdPrim prim, String relation) {
        for (String path = prim.path; !path.isEmpty(); path = path.substring(0, path.lastIndexOf('/'))) {
            UsdPrim at = prims.get(path);
            Optional<String> found = at == null ? Optional.empty() : at.target(relation);
            if (found.isPresent()) {
                return found;
            }
        }
        return Optional.empty();
    }

    private void bind(UsdPrim prim, int node, int mesh, UsdMesh read) throws ReadFailed {
        String path = inherited(prim, "skel:skeleton").orElse("");
        UsdPrim skeleton = prims.get(path);
        int[] joints = jointsOf.get(path);
        if (skeleton == null || joints == null) {
            notes.add(prim.path + " has weights and no skeleton, and was read without a skin.");
            meshes.set(mesh, read.bare().withName(meshes.get(mesh).name()));
            return;
        }
        List<String> own = prim.words("skel:joints");
        List<String> all = skeleton.words("joints");
        int[] order = new int[own.isEmpty() ? joints.length : own.size()];
        for (int j = 0; j < order.length; j++) {
            order[j] = own.isEmpty() ? j : all.indexOf(own.get(j));
            if (order[j] < 0) {
                throw new ReadFailed(
                        file, prim.path + ".skel:joints", "names " + own.get(j) + ", which is no joint of " + path);
            }
        }
        if (read.mostJoint() >= order.length) {
            throw new ReadFailed(
                    file,
                    prim.path + ".primvars:skel:jointIndices",
                    "names joint " + read.mostJoint() + "; there are " + order.length);
        }
        double[] g = prim.numbers("primvars:skel:geomBindTransform");
        Matrix4d geometry = g.length == 16 ? new Matrix4d().set(g) : new Matrix4d();
        String key = path + Arrays.toString(order) + Arrays.toString(geometry.get(new double[16]));
        Integer known = skinAt.get(key);
        if (known == null) {
            double[] binds = skeleton.numbers("bindTransforms");
            int[] list = new int[order.length];
            Matrix4d[] inverse = new Matrix4d[order.length];
            for (int j = 0; j < order.length; j++) {
                list[j] = joints[order[j]];
                Matrix4d bind = new Matrix4d().set(Arrays.copyOfRange(binds, 16 * order[j], 16 * order[j] + 16));
                inverse[j] = bind.invert().mul(geometry);
            }
            known = skins.size();
            skinAt.put(key, known);
            skins.add(new Skin(skeleton.label(), list, Skin.pack(inverse), -1, Passthrough.NONE));
        }
        nodes.set(node, nodes.get(node).withMesh(mesh, known));
    }

    /** A skeleton with no mesh on it, as a file of a clip alone has, is one all the same. */
    private void skeletonsAlone() {
        jointsOf.forEach((path, joints) -> {
            List<Integer> all = Arrays.stream(joints).boxed().toList();
            boolean bound =
                    skins.stream().anyMatch(s -> Arrays.stream(s.joints()).anyMatch(all::contains));
            if (!bound && joints.length > 0) {
                UsdPrim skeleton = Objects.requireNonNull(prims.get(path));
                double[] binds = skeleton.numbers("bindTransforms");
                Matrix4d[] inverse = new Matrix4d[joints.length];
                for (int j = 0; j < joints.length; j++) {
                    inverse[j] = new Matrix4d()
                            .set(Arrays.copyOfRange(binds, 16 * j, 16 * j + 16))
                            .invert();
                }
                skins.add(new Skin(skeleton.label(), joints, Skin.pack(inverse), -1, Passthrough.NONE));
            }
        });
    }

    private void skeleton(UsdPrim prim, int parent) throws ReadFailed {
        List<String> tokens = prim.words("joints");
        List<String> names = prim.words("jointNames");
        double[] rest = prim.numbers("restTransforms");
        double[] bind = prim.numbers("bindTransforms");
        if (bind.length != 16 * tokens.size()) {
            throw new ReadFailed(
                    file,
                    prim.path + ".bindTransforms",
                    "has " + bind.length / 16.0 + " matrices for " + tokens.size() + " joints");
        }
        int above = prim.properties.containsKey("xformOpOrder") ? node(prim, parent) : parent;
        Map<String, Integer> known = new LinkedHashMap<>();
        int[] joints = new int[tokens.size()];
        for (int j = 0; j < joints.length; j++) {
            String token = tokens.get(j);
            int cut = token.lastIndexOf('/');
            Integer up = null;
            for (String way = cut < 0 ? "" : token.substring(0, cut); up == null && !way.isEmpty(); ) {
                up = known.get(way);
                way = way.contains("/") ? way.substring(0, way.lastIndexOf('/')) : "";
            }
            if (known.containsKey(token)) {
                throw new ReadFailed(file, prim.path + ".joints", "names " + token + " twice");
            }
            Matrix4d local;
            if (rest.length == bind.length) {
                local = new Matrix4d().set(Arrays.copyOfRange(rest, 16 * j, 16 * j + 16));
            } else {
                local = new Matrix4d().set(Arrays.copyOfRange(bind, 16 * j, 16 * j + 16));
                if (up != null) {
                    int p = tokens.indexOf(pathOf(known, up));
                    local = new Matrix4d()
                            .set(Arrays.copyOfRange(bind, 16 * p, 16 * p + 16))
                            .invert()
                            .mul(local);
                }
            }
            String called = names.size() == tokens.size() ? names.get(j) : token.substring(cut + 1);
            joints[j] = add(Node.group(called, UsdXform.local(local)), up == null ? above : up);
            known.put(token, joints[j]);
        }
        jointsOf.put(prim.path, joints);
    }

    private static String pathOf(Map<String, Integer> known, int node) {
        return known.entrySet().stream()
                .filter(e -> e.getValue() == node)
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse("");
    }

    private void animate(UsdPrim skeleton) throws ReadFailed {
        int[] joints = jointsOf.get(skeleton.path);
        String path = inherited(skeleton, "skel:animationSource").orElse("");
        UsdPrim animation = prims.get(path);
        if (joints == null || animation == null) {
            return;
        }
        List<String> all = skeleton.words("joints");
        List<String> moved = animation.words("joints");
        keys(animation, "translations", Channel.Path.TRANSLATION, all, moved, joints);
        keys(animation, "rotations", Channel.Path.ROTATION, all, moved, joints);
        keys(animation, "scales", Channel.Path.SCALE, all, moved, joints);
    }

    private void keys(
            UsdPrim animation, String name, Channel.Path path, List<String> all, List<String> moved, int[] joints)
            throws ReadFailed {
        UsdPrim.Property p = animation.properties.get(name);
        int width = path == Channel.Path.ROTATION ? 4 : 3;
        if (p == null || p.samples.isEmpty() && p.value == null) {
            return;
        }
        TreeSet<Double> codes = new TreeSet<>(p.samples.keySet());
        boolean still = codes.isEmpty();
        float[] times = UsdXform.seconds(still ? new TreeSet<>(List.of(0.0)) : codes, rate);
        float[][] values = new float[moved.size()][width * times.length];
        int k = 0;
        for (Object sample : still ? List.of(p.numbers()) : p.samples.values()) {
            double[] row = UsdPrim.numbers(sample);
            if (row.length != width * moved.size()) {
                throw new ReadFailed(
                        file,
                        animation.path + "." + name,
                        "has " + row.length + " numbers for " + moved.size() + " joints; expected "
                                + width * moved.size());
            }
            for (int j = 0; j < moved.size(); j++) {
                for (int i = 0; i < width; i++) {
                    // The real part comes first there and last here.
                    values[j][width * k + (width == 4 ? (i + 3) % 4 : i)] = (float) row[width * j + i];
                }
            }
            k++;
        }
        for (int j = 0; j < moved.size(); j++) {
            int at = all.indexOf(moved.get(j));
            if (at < 0) {
                continue;
            }
            if (width == 4) {
                Baker.alongTheShorterWay(values[j]);
            }
            Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values[j], width, Storage.FLOAT);
            channels.add(new Channel(joints[at], path, keys, "", Passthrough.NONE));
        }
    }
}
