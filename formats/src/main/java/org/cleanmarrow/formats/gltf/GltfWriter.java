package org.cleanmarrow.formats.gltf;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.cloth.ClothFile;
import org.cleanmarrow.formats.file.PictureFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.json.ConventionsJson;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.query.Extensions;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.util.DefaultIndenter;
import tools.jackson.core.util.DefaultPrettyPrinter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectWriter;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Writes glTF 2.0. The same asset always gives the same bytes. Vertices are written in their order and number;
 * conventions other than the standard's are stated in {@code asset.extras}, because the data then are in them.
 */
public final class GltfWriter {
    private static final JsonNodeFactory MAKE = JsonNodeFactory.instance;
    /** The same bytes on every system. */
    private static final ObjectWriter TEXT = JsonMapper.shared()
            .writer()
            .with(new DefaultPrettyPrinter().withObjectIndenter(new DefaultIndenter("  ", "\n")));

    private final Asset asset;
    /** Files of their own for the pictures; null: they are embedded. */
    private final PictureFiles.@Nullable Names pictures;

    private final ObjectNode root = MAKE.objectNode();
    private final BufferWriter buffer = new BufferWriter();
    private final Map<Influences, List<int[]>> influenceAccessors = new HashMap<>();

    private GltfWriter(Asset asset, PictureFiles.@Nullable Names pictures) {
        this.asset = RigidBodiesWriter.spelled(CacheMorphs.spelled(ClothFile.spelled(asset)));
        this.pictures = pictures;
    }

    /** The asset as one GLB. Pictures are put inside; those whose file is missing stay named. */
    public static byte[] glb(Asset asset) {
        return new GltfWriter(asset, null).glb();
    }

    /**
     * The asset as a GLB, with its pictures where they are wanted; those whose file is missing stay named.
     *
     * @param base name of the GLB without ending
     */
    public static Written write(Asset asset, String base, Pictures pictures) {
        PictureFiles.Names names = new PictureFiles.Names(asset, pictures);
        byte[] glb = new GltfWriter(asset, apart(names, pictures)).glb();
        List<Written.Piece> pieces = new ArrayList<>(List.of(new Written.Piece(base + ".glb", glb, asset)));
        pieces.addAll(names.pieces());
        return new Written(pieces, List.of());
    }

    private static PictureFiles.@Nullable Names apart(PictureFiles.Names names, Pictures pictures) {
        return pictures.place() == Pictures.Place.EMBEDDED ? null : names;
    }

    private byte[] glb() {
        document(null);
        return container(root.toString().getBytes(StandardCharsets.UTF_8), buffer.bytes());
    }

    /**
     * The asset as a {@code .gltf} that people can read, with its buffer in {@code base.bin} and its pictures where they are wanted:
     * those that are embedded lie in the buffer. There is no buffer where nothing needs one.
     *
     * @param base name of both without ending
     */
    public static Written separate(Asset asset, String base, Pictures pictures) {
        PictureFiles.Names names = new PictureFiles.Names(asset, pictures);
        GltfWriter writer = new GltfWriter(asset, apart(names, pictures));
        writer.document(base + ".bin");
        byte[] text = TEXT.writeValueAsString(writer.root).getBytes(StandardCharsets.UTF_8);
        List<Written.Piece> pieces = new ArrayList<>(List.of(new Written.Piece(base + ".gltf", text, asset)));
        byte[] bytes = writer.buffer.bytes();
        if (bytes.length > 0) {
            pieces.add(new Written.Piece(base + ".bin", bytes, null));
        }
        pieces.addAll(names.pieces());
        return new Written(pieces, List.of());
    }

    private static byte[] container(byte[] json, byte[] binary) {
        int jsonLength = json.length + 3 & ~3;
        int binaryLength = binary.length + 3 & ~3;
        int total = 12 + 8 + jsonLength + (binary.length == 0 ? 0 : 8 + binaryLength);
        ByteBuffer out = ByteBuffer.allocate(total).order(ByteOrder.LITTLE_ENDIAN);
        out.putInt(0x46546C67).putInt(2).putInt(total);
        out.putInt(jsonLength).putInt(0x4E4F534A).put(json);
        while (out.position() < 20 + jsonLength) {
            out.put((byte) ' ');
        }
        if (binary.length > 0) {
            out.putInt(binaryLength).putInt(0x004E4942).put(binary);
        }
        return out.array();
    }

    /** An object that starts with what was carried for it. */
    static ObjectNode carried(Passthrough carried) {
        return carried.isEmpty()
                ? MAKE.objectNode()
                : (ObjectNode) JsonMapper.shared().readTree(carried.json());
    }

    static void name(ObjectNode out, String name) {
        if (!name.isEmpty()) {
            out.put("name", name);
        }
    }

    private void document(@Nullable String bufferUri) {
        ObjectNode carried = carried(asset.carried());
        root.set("asset", assetInfo(carried));
        for (String key : List.of("extensionsUsed", "extensionsRequired")) {
            extensionList(carried, key);
        }
        if (asset.scene() >= 0 && asset.scene() < asset.scenes().size()) {
            root.put("scene", asset.scene());
        }
        list("scenes", asset.scenes().stream().map(GltfWriter::scene).toList());
        list("nodes", asset.nodes().stream().map(GltfWriter::node).toList());
        list("meshes", asset.meshes().stream().map(this::mesh).toList());
        list("skins", asset.skins().stream().map(this::skin).toList());
        list("animations", asset.clips().stream().map(this::clip).toList());
        list("materials", asset.materials().stream().map(MaterialJson::write).toList());
        List<Passthrough> samplers = new ArrayList<>();
        list(
                "textures",
                asset.textures().stream()
                        .map(t -> MaterialJson.write(t, samplers))
                        .toList());
        list("samplers", samplers.stream().map(GltfWriter::carried).toList());
        list(
                "images",
                IntStream.range(0, asset.images().size()).mapToObj(this::image).toList());
        list("cameras", asset.cameras().stream().map(GltfWriter::carried).toList());
        carried.properties().forEach(e -> root.set(e.getKey(), e.getValue()));
        nameExtensions();
        if (!buffer.accessors().isEmpty()) {
            root.set("accessors", buffer.accessors());
        }
        if (!buffer.views().isEmpty()) {
            root.set("bufferViews", buffer.views());
            ObjectNode only = root.putArray("buffers").addObject();
            if (bufferUri != null) {
                only.put("uri", encode(bufferUri));
            }
            only.put("byteLength", buffer.bytes().length);
        }
    }

    private void list(String key, List<ObjectNode> objects) {
        if (!objects.isEmpty()) {
            ArrayNode array = root.putArray(key);
            objects.forEach(array::add);
        }
    }

    private ObjectNode assetInfo(ObjectNode carried) {
        ObjectNode info = carried.remove("asset") instanceof ObjectNode given ? given : MAKE.objectNode();
        info.put("version", "2.0");
        info.put("generator", "Clean Marrow");
        ObjectNode extras = info.get("extras") instanceof ObjectNode given ? given : MAKE.objectNode();
        extras.remove("cleanMarrow");
        if (!asset.conventions().equals(Conventions.GLTF)) {
            extras.putObject("cleanMarrow").set("conventions", ConventionsJson.write(asset.conventions()));
        }
        boolean replaced = info.get("extras") != null && !info.get("extras").isObject();
        if (!extras.isEmpty()) {
            info.set("extras", extras);
        } else if (!replaced) {
            info.remove("extras");
        }
        return info;
    }

    /** Quantised and compressed data are written plain, so their extensions are no longer used. */
    private void extensionList(ObjectNode carried, String key) {
        if (!(carried.remove(key) instanceof ArrayNode names)) {
            return;
        }
        ArrayNode kept = MAKE.arrayNode();
        for (JsonNode name : names) {
            String text = name.asString("");
            if (!text.equals("KHR_mesh_quantization")
                    && !text.equals("KHR_draco_mesh_compression")
                    && !text.equals("EXT_meshopt_compression")) {
                kept.add(name);
            }
        }
        if (!kept.isEmpty()) {
            root.set(key, kept);
        }
    }

    /** All that are used are named at the top (glTF 2.0, 3.12), those of joined files too. */
    private void nameExtensions() {
        Set<String> used = Extensions.in(root);
        root.path("extensionsUsed").forEach(named -> used.remove(named.asString("")));
        if (!used.isEmpty()) {
            ArrayNode names =
                    root.get("extensionsUsed") instanceof ArrayNode there ? there : root.putArray("extensionsUsed");
            used.forEach(names::add);
        }
    }

    private static ObjectNode scene(Scene scene) {
        ObjectNode out = carried(scene.carried());
        name(out, scene.name());
        if (scene.roots().length > 0) {
            numbers(out, "nodes", scene.roots());
        }
        return out;
    }

    private static ObjectNode node(Node node) {
        ObjectNode out = carried(node.carried());
        name(out, node.name());
        Local local = node.local();
        if (local.matrix() != null) {
            numbers(out, "matrix", local.matrix());
        } else {
            unlessDefault(out, "translation", local.translation(), Local.IDENTITY.translation());
            unlessDefault(out, "rotation", local.rotation(), Local.IDENTITY.rotation());
            unlessDefault(out, "scale", local.scale(), Local.IDENTITY.scale());
        }
        index(out, "mesh", node.mesh());
        index(out, "skin", node.skin());
        index(out, "camera", node.camera());
        if (node.weights() != null) {
            numbers(out, "weights", node.weights());
        }
        if (node.children().length > 0) {
            numbers(out, "children", node.children());
        }
        return out;
    }

    static void unlessDefault(ObjectNode out, String key, float[] values, float[] none) {
        if (!Arrays.equals(values, none)) {
            numbers(out, key, values);
        }
    }

    private static void numbers(ObjectNode out, String key, float[] values) {
        ArrayNode array = out.putArray(key);
        for (float value : values) {
            array.add(value + 0f);
        }
    }

    private static void numbers(ObjectNode out, String key, int[] values) {
        ArrayNode array = out.putArray(key);
        for (int value : values) {
            array.add(value);
        }
    }

    static void index(ObjectNode out, String key, int value) {
        if (value >= 0) {
            out.put(key, value);
        }
    }

    private ObjectNode mesh(Mesh mesh) {
        ObjectNode out = carried(mesh.carried());
        name(out, mesh.name());
        ArrayNode primitives = out.putArray("primitives");
        mesh.primitives().forEach(p -> primitives.add(primitive(p)));
        if (mesh.weights() != null) {
            numbers(out, "weights", mesh.weights());
        }
        if (!mesh.targetNames().isEmpty()) {
            ObjectNode extras = out.get("extras") instanceof ObjectNode given ? given : out.putObject("extras");
            ArrayNode names = extras.putArray("targetNames");
            mesh.targetNames().forEach(names::add);
        }
        return out;
    }

    private ObjectNode primitive(Primitive p) {
        ObjectNode out = carried(p.carried());
        ObjectNode attributes = MAKE.objectNode();
        attributes.put("POSITION", buffer.floats(p.positions(), 3, Storage.FLOAT, BufferWriter.Use.BOUNDED_VERTEX));
        if (p.normals() != null) {
            attributes.put("NORMAL", vertex(p.normals(), 3));
        }
        if (p.tangents() != null) {
            attributes.put("TANGENT", vertex(p.tangents(), 4));
        }
        for (Attribute attribute : p.attributes()) {
            attributes.put(attribute.name(), attribute(attribute));
        }
        if (p.influences() != null) {
            influences(p, attributes);
        }
        out.set("attributes", attributes);
        if (p.indices() != null) {
            out.put("indices", indices(p));
        }
        if (p.mode() != Primitive.Mode.TRIANGLES) {
            out.put("mode", p.mode().ordinal());
        }
        index(out, "material", p.material());
        if (!p.targets().isEmpty()) {
            ArrayNode targets = out.putArray("targets");
            p.targets().forEach(t -> targets.add(target(t)));
        }
        return out;
    }

    private int vertex(float[] values, int width) {
        return buffer.floats(values, width, Storage.FLOAT, BufferWriter.Use.VERTEX);
    }

    private int attribute(Attribute a) {
        boolean custom = a.name().startsWith("_");
        boolean allowed = a.storage() == Storage.UNSIGNED_BYTE_NORMALISED
                || a.storage() == Storage.UNSIGNED_SHORT_NORMALISED
                || custom && a.storage() != Storage.UNSIGNED_INT;
        return buffer.floats(a.values(), a.width(), allowed ? a.storage() : Storage.FLOAT, BufferWriter.Use.VERTEX);
    }

    private ObjectNode target(MorphTarget target) {
        ObjectNode out = MAKE.objectNode();
        if (target.positions() != null) {
            out.put("POSITION", buffer.floats(target.positions(), 3, Storage.FLOAT, BufferWriter.Use.BOUNDED_VERTEX));
        }
        if (target.normals() != null) {
            out.put("NORMAL", vertex(target.normals(), 3));
        }
        if (target.tangents() != null) {
            out.put("TANGENT", vertex(target.tangents(), 3));
        }
        target.attributes().forEach(a -> out.put(a.name(), vertex(a.values(), a.width())));
        return out;
    }

    private int indices(Primitive p) {
        int[] indices = Objects.requireNonNull(p.indices());
        int most = Arrays.stream(indices).max().orElse(0);
        Storage storage = p.layout().indices();
        // The largest number of each type restarts primitives and may not be used (glTF 2.0, 3.7.2.1).
        if (storage == null
                || storage == Storage.UNSIGNED_BYTE && most >= 255
                || storage == Storage.UNSIGNED_SHORT && most >= 65535) {
            storage = most < 65535 ? Storage.UNSIGNED_SHORT : Storage.UNSIGNED_INT;
        }
        return buffer.wholes(indices, indices, 1, storage, BufferWriter.Use.INDEX);
    }

    private void influences(Primitive p, ObjectNode attributes) {
        List<int[]> sets = influenceAccessors.computeIfAbsent(p.influences(), k -> writeInfluences(p));
        for (int s = 0; s < sets.size(); s++) {
            attributes.put("JOINTS_" + s, sets.get(s)[0]);
            attributes.put("WEIGHTS_" + s, sets.get(s)[1]);
        }
    }

    private List<int[]> writeInfluences(Primitive p) {
        Influences rows = Objects.requireNonNull(p.influences());
        int sets = Math.max(Math.max(1, p.layout().sets()), (rows.longestRow() + 3) / 4);
        int most = Arrays.stream(rows.joints()).max().orElse(0);
        boolean small = most < 256 && p.layout().joints() != Storage.UNSIGNED_SHORT;
        Storage weightStorage = switch (p.layout().weights()) {
            case UNSIGNED_BYTE_NORMALISED, UNSIGNED_SHORT_NORMALISED ->
                p.layout().weights();
            default -> Storage.FLOAT;
        };
        List<int[]> out = new ArrayList<>();
        for (int s = 0; s < sets; s++) {
            int[] joints = new int[rows.vertexCount() * 4];
            float[] weights = new float[joints.length];
            for (int v = 0; v < rows.vertexCount(); v++) {
                int from = rows.offsets()[v] + 4 * s;
                for (int i = from; i < Math.min(from + 4, rows.offsets()[v + 1]); i++) {
                    joints[v * 4 + i - from] = rows.joints()[i];
                    weights[v * 4 + i - from] = rows.weights()[i];
                }
            }
            Storage jointStorage = small ? Storage.UNSIGNED_BYTE : Storage.UNSIGNED_SHORT;
            out.add(new int[] {
                buffer.wholes(joints, joints, 4, jointStorage, BufferWriter.Use.VERTEX),
                buffer.floats(weights, 4, weightStorage, BufferWriter.Use.VERTEX)
            });
        }
        return out;
    }

    private ObjectNode skin(Skin skin) {
        ObjectNode out = carried(skin.carried());
        name(out, skin.name());
        if (skin.inverseBinds() != null) {
            out.put(
                    "inverseBindMatrices",
                    buffer.floats(skin.inverseBinds(), 16, Storage.FLOAT, BufferWriter.Use.PLAIN));
        }
        index(out, "skeleton", skin.skeleton());
        numbers(out, "joints", skin.joints());
        return out;
    }

    private ObjectNode clip(Clip clip) {
        ObjectNode out = carried(clip.carried());
        name(out, clip.name());
        ArrayNode channels = out.putArray("channels");
        ArrayNode samplers = out.putArray("samplers");
        Map<Sampler, Integer> numbers = new IdentityHashMap<>();
        List<Channel> keyed =
                clip.channels().stream().filter(c -> !c.movesVertices()).toList();
        for (Channel channel : keyed.isEmpty() ? standIn() : keyed) {
            Integer number = numbers.get(channel.sampler());
            if (number == null) {
                number = samplers.size();
                numbers.put(channel.sampler(), number);
                samplers.add(sampler(channel.sampler(), channel.path()));
            }
            channels.add(channel(channel, number));
        }
        if (clip.framesPerSecond() > 0 || clip.loop() || !clip.tags().isEmpty()) {
            ObjectNode extras = out.get("extras") instanceof ObjectNode given ? given : out.putObject("extras");
            if (clip.framesPerSecond() > 0) {
                extras.put("framesPerSecond", clip.framesPerSecond());
            }
            if (clip.loop()) {
                extras.put("loop", true);
            }
            if (!clip.tags().isEmpty()) {
                ArrayNode tags = extras.putArray("tags");
                clip.tags().forEach(tags::add);
            }
        }
        return out;
    }

    /** glTF 2.0, 5.4.1 asks for a channel at least: a clip that moves nothing holds the first node where it is. */
    private List<Channel> standIn() {
        int n = 0;
        while (n < asset.nodes().size() && asset.nodes().get(n).local().matrix() != null) {
            n++;
        }
        float[] rotation =
                n < asset.nodes().size() ? asset.nodes().get(n).local().rotation() : new float[] {0, 0, 0, 1};
        Sampler still = new Sampler(Sampler.Interpolation.STEP, new float[] {0}, rotation, 4, Storage.FLOAT);
        return List.of(
                new Channel(n < asset.nodes().size() ? n : -1, Channel.Path.ROTATION, still, "", Passthrough.NONE));
    }

    private static ObjectNode channel(Channel channel, int sampler) {
        ObjectNode out = carried(channel.carried());
        ObjectNode target = out.get("target") instanceof ObjectNode given ? given : MAKE.objectNode();
        target.remove("node");
        index(target, "node", channel.node());
        target.put("path", channel.path().name().toLowerCase(Locale.ROOT));
        if (channel.node() < 0 && !channel.target().isEmpty()) {
            ObjectNode extras = target.get("extras") instanceof ObjectNode given ? given : target.putObject("extras");
            extras.put("node", channel.target());
        }
        out.put("sampler", sampler);
        out.set("target", target);
        return out;
    }

    private ObjectNode sampler(Sampler sampler, Channel.Path path) {
        ObjectNode out = MAKE.objectNode();
        out.put("input", buffer.floats(sampler.times(), 1, Storage.FLOAT, BufferWriter.Use.KEYS));
        if (sampler.interpolation() != Sampler.Interpolation.LINEAR) {
            out.put("interpolation", sampler.interpolation().name());
        }
        // Weights are stored one number at a time, whatever a key holds.
        int width = path == Channel.Path.WEIGHTS || sampler.width() > 4 ? 1 : sampler.width();
        boolean whole = path == Channel.Path.ROTATION || path == Channel.Path.WEIGHTS || path == Channel.Path.POINTER;
        Storage storage = whole && sampler.storage().normalised() ? sampler.storage() : Storage.FLOAT;
        out.put("output", buffer.floats(sampler.values(), width, storage, BufferWriter.Use.PLAIN));
        return out;
    }

    private ObjectNode image(int number) {
        Image image = asset.images().get(number);
        ObjectNode out = carried(image.carried());
        name(out, image.name());
        byte[] bytes = image.bytes();
        if (bytes != null && pictures == null) {
            out.put("mimeType", image.mimeType().isEmpty() ? sniff(bytes) : image.mimeType());
            out.put("bufferView", buffer.view(bytes, 0, 0));
            return out;
        }
        out.put("uri", bytes != null && pictures != null ? encode(pictures.file(number)) : image.uri());
        if (!image.mimeType().isEmpty()) {
            out.put("mimeType", image.mimeType());
        }
        return out;
    }

    private static String sniff(byte[] picture) {
        return picture.length > 2 && (picture[0] & 255) == 0xFF && (picture[1] & 255) == 0xD8
                ? "image/jpeg"
                : "image/png";
    }

    private static String encode(String file) {
        StringBuilder out = new StringBuilder();
        for (byte b : file.getBytes(StandardCharsets.UTF_8)) {
            char c = (char) (b & 255);
            boolean plain = c < 128 && (Character.isLetterOrDigit(c) || "-._~()/".indexOf(c) >= 0);
            out.append(plain ? String.valueOf(c) : String.format("%%%02X", (int) c));
        }
        return out.toString();
    }
}
