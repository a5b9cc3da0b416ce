package org.cleanmarrow.formats.gltf;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.formats.cloth.ClothFile;
import org.cleanmarrow.formats.file.FileBytes;
import org.cleanmarrow.formats.file.Neighbours;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.json.ConventionsJson;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Reads glTF 2.0 and GLB. Vertex order and count stay as they are in the file; what the asset does not model is
 * carried along word for word. Safe on files from anywhere: see {@link Accessors} and {@link Uris}.
 */
public final class GltfReader {
    /** Extensions that may be required: their data is decoded here, or carried without loss. */
    private static final long MOST_BYTES = Integer.MAX_VALUE - 16;

    private static final Set<String> UNDERSTOOD = Set.of(
            "KHR_mesh_quantization",
            "KHR_texture_transform",
            "KHR_lights_punctual",
            "KHR_materials_variants",
            "KHR_animation_pointer",
            "KHR_xmp_json_ld",
            RigidBodiesWriter.SHAPES,
            RigidBodiesWriter.BODIES);

    private static final JsonMapper JSON = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(200)
                            .maxStringLength(Integer.MAX_VALUE)
                            .maxNumberLength(200)
                            .build())
                    .build())
            .build();

    private final String file;
    private final @Nullable Path folder;
    private final Work work;
    private final Container container;
    private final List<String> notes = new ArrayList<>();
    private final JsonCursor root;
    private final Accessors accessors;
    private final List<ByteBuffer> buffers = new ArrayList<>();
    private final Map<List<Integer>, Influences> influencesOf = new HashMap<>();
    private final Map<MorphTarget, CacheMorphs.Frame> frames = new IdentityHashMap<>();

    private GltfReader(ByteBuffer bytes, String file, @Nullable Path folder, Work work) throws ReadFailed {
        this.file = file;
        this.folder = folder;
        this.work = work;
        work.at(0, "reading " + file);
        container = Container.of(bytes, file);
        root = new JsonCursor(document(), "", file);
        checkVersion();
        checkExtensions();
        long size = bytes.limit();
        for (JsonCursor buffer : root.objects("buffers")) {
            buffers.add(buffer(buffer, buffers.isEmpty()));
            size += buffers.getLast().limit();
        }
        // One byte can become one float; views may overlap, but only within reason.
        long budget = 2 * size + 1_000_000;
        accessors = new Accessors(root.objects("accessors"), root.objects("bufferViews"), buffers, budget);
    }

    /**
     * Reads bytes.
     *
     * @param folder where files that the document names lie; null: it must stand alone
     */
    public static Asset read(byte[] bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
        return read(ByteBuffer.wrap(bytes), name, folder, work);
    }

    /** The same; frames of caches are looked up in these bytes, which must not change any more. */
    public static Asset read(ByteBuffer bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
        return new GltfReader(bytes, name, folder, work).asset();
    }

    private JsonNode document() throws ReadFailed {
        try {
            JsonNode json = JSON.readTree(container.json());
            if (json == null || !json.isObject()) {
                throw new ReadFailed(file, "", "expected a glTF 2.0 document: a JSON object or a GLB");
            }
            return json;
        } catch (JacksonException e) {
            throw new ReadFailed(file, "JSON", "is not well formed: " + firstLine(e.getOriginalMessage()));
        }
    }

    private static String firstLine(String text) {
        String line = text.lines().findFirst().orElse("");
        return line.length() <= 160 ? line : line.substring(0, 157) + "...";
    }

    private void checkVersion() throws ReadFailed {
        JsonCursor asset = root.at("asset");
        String version = asset.text("version", "");
        String least = asset.text("minVersion", "2.0");
        if (!version.startsWith("2.") || !least.equals("2.0")) {
            throw asset.wrong(
                    "version", "expected 2.0, found \"" + (version.startsWith("2.") ? least : version) + "\"");
        }
    }

    private void checkExtensions() throws ReadFailed {
        for (JsonNode name : root.json().path("extensionsRequired")) {
            String extension = name.asString("");
            if (!UNDERSTOOD.contains(extension) && !extension.startsWith("KHR_materials_")) {
                throw root.wrong(
                        "extensionsRequired",
                        "the file cannot be read without " + extension + ", which is not supported");
            }
        }
    }

    private ByteBuffer buffer(JsonCursor at, boolean first) throws ReadFailed {
        int length = at.number("byteLength", 0, 1, Integer.MAX_VALUE);
        ByteBuffer bytes;
        if (!at.has("uri")) {
            if (!first || container.binary() == null) {
                throw at.wrong("uri", "is missing, and there is no binary chunk to stand for it");
            }
            bytes = container.binary();
        } else {
            String uri = at.text("uri", "");
            bytes = Uris.isData(uri) ? ByteBuffer.wrap(Uris.data(at, uri)) : fileBytes(at, uri, length);
        }
        if (bytes.limit() < length) {
            throw at.wrong("byteLength", "says " + length + " bytes, there are " + bytes.limit());
        }
        return bytes.slice(0, length).order(ByteOrder.LITTLE_ENDIAN);
    }

    private ByteBuffer fileBytes(JsonCursor at, String uri, long most) throws ReadFailed {
        Path path = Uris.file(at, folder, uri);
        if (path == null) {
            throw at.wrong("uri", "the file \"" + uri + "\" is missing");
        }
        try {
            return FileBytes.of(path, Math.min(most, MOST_BYTES), work);
        } catch (IOException e) {
            throw at.wrong("uri", "the file \"" + uri + "\" cannot be read");
        }
    }

    private Asset asset() throws ReadFailed {
        List<Mesh> meshes = new ArrayList<>();
        List<JsonCursor> meshJson = root.objects("meshes");
        for (JsonCursor mesh : meshJson) {
            work.stopIfCancelled();
            work.at(meshes.size() / (double) meshJson.size(), "reading meshes");
            meshes.add(mesh(mesh));
        }
        List<Skin> skins = new ArrayList<>();
        for (JsonCursor skin : root.objects("skins")) {
            skins.add(skin(skin));
        }
        List<Node> nodes = nodes(meshes, skins);
        List<Scene> scenes = scenes(nodes);
        List<Clip> clips = clips(nodes, meshes);
        List<Passthrough> cameras = new ArrayList<>();
        for (JsonCursor camera : root.objects("cameras")) {
            cameras.add(carried(camera, Set.of()));
        }
        Asset plain = Asset.of(baseName(), conventions(), nodes, meshes, skins, clips)
                .withPictures(materials(), textures(), images())
                .withCameras(cameras)
                .withScenes(scenes, root.index("scene", scenes.size(), "scenes"))
                .withCarried(documentCarried());
        Asset played = RigidBodiesReader.read(CacheMorphs.read(plain, frames, work), root, notes);
        return ClothFile.read(played, notes).withNotes(notes);
    }

    private String baseName() {
        int dot = file.lastIndexOf('.');
        return dot > 0 ? file.substring(0, dot) : file;
    }

    private Conventions conventions() {
        JsonNode said =
                root.json().path("asset").path("extras").path("cleanMarrow").path("conventions");
        return ConventionsJson.read(said).orElse(Conventions.GLTF);
    }

    /**
     * What is left of an object after the modelled keys. Extensions whose data lies in buffers cannot be carried
     * as text; they are left behind and noted.
     */
    private Passthrough carried(JsonCursor at, Set<String> modelled) {
        Passthrough rest = at.carried(modelled);
        if (rest.isEmpty()) {
            return rest;
        }
        ObjectNode object = (ObjectNode) JSON.readTree(rest.json());
        if (!(object.get("extensions") instanceof ObjectNode extensions)) {
            return rest;
        }
        for (String name : new TreeSet<>(extensions.propertyNames())) {
            if (name.startsWith("KHR_draco") || pointsIntoBuffers(extensions.get(name))) {
                extensions.remove(name);
                notes.add(at.path() + ": " + name + " keeps data in buffers of its own and was left behind");
            }
        }
        if (extensions.isEmpty()) {
            object.remove("extensions");
        }
        return object.isEmpty() ? Passthrough.NONE : new Passthrough(object.toString());
    }

    private static boolean pointsIntoBuffers(JsonNode json) {
        return json.findValue("bufferView") != null
                || json.findValue("accessor") != null
                || json.findValue("bufferViews") != null
                || json.path("attributes").isObject();
    }

    private Passthrough documentCarried() {
        return carried(
                root,
                Set.of(
                        "accessors",
                        "samplers",
                        "bufferViews",
                        "buffers",
                        "meshes",
                        "skins",
                        "nodes",
                        "scenes",
                        "scene",
                        "animations",
                        "materials",
                        "textures",
                        "images",
                        "cameras"));
    }

    private Mesh mesh(JsonCursor at) throws ReadFailed {
        List<Primitive> primitives = new ArrayList<>();
        int firstFrame = CacheMorphs.firstFrame(at.json());
        for (JsonCursor primitive : at.objects("primitives")) {
            primitives.add(primitive(primitive, firstFrame));
        }
        if (primitives.isEmpty()) {
            throw at.wrong("primitives", "expected at least one");
        }
        List<String> names = new ArrayList<>();
        JsonNode named = at.json().path("extras").path("targetNames");
        if (named.isArray() && named.size() == primitives.getFirst().targets().size()) {
            named.forEach(n -> names.add(n.asString("")));
        }
        Passthrough rest = carried(at, Set.of("name", "primitives", "weights"));
        if (!names.isEmpty()) {
            rest = withoutExtra(rest, "targetNames");
        }
        return new Mesh(at.text("name", ""), primitives, at.floatsIfAny("weights", -1), names, rest);
    }

    private static Passthrough withoutExtra(Passthrough carried, String... keys) {
        ObjectNode object = (ObjectNode) JSON.readTree(carried.json());
        if (object.get("extras") instanceof ObjectNode extras) {
            extras.remove(List.of(keys));
            if (extras.isEmpty()) {
                object.remove("extras");
            }
        }
        return object.isEmpty() ? Passthrough.NONE : new Passthrough(object.toString());
    }

    /** @param firstFrame the first target that is a frame of a cache */
    private Primitive primitive(JsonCursor at, int firstFrame) throws ReadFailed {
        JsonCursor named = at.at("attributes");
        if (!named.has("POSITION")) {
            throw at.wrong("attributes", "expected a POSITION");
        }
        float[] positions = vertexFloats(named, "POSITION", 3, -1);
        int count = positions.length / 3;
        List<Attribute> others = new ArrayList<>();
        int sets = 0;
        for (String name : named.json().propertyNames()) {
            if (name.startsWith("JOINTS_")) {
                sets++;
            } else if (!Set.of("POSITION", "NORMAL", "TANGENT").contains(name) && !name.startsWith("WEIGHTS_")) {
                int accessor = named.required(name, accessors.size(), "accessors");
                int width = accessors.width(accessor);
                if (width > 4) {
                    notes.add(named.path() + "." + name + ": matrices are not kept as attributes");
                    continue;
                }
                others.add(new Attribute(
                        name, width, vertexFloats(named, name, width, count), accessors.storage(accessor)));
            }
        }
        Influences influences = sets == 0 ? null : influences(named, sets, count);
        Storage indexStorage = null;
        int[] indices = null;
        int index = at.index("indices", accessors.size(), "accessors");
        if (index >= 0) {
            indices = accessors.wholes(index, count, "vertices");
            indexStorage = accessors.storage(index);
        }
        Storage joints = null;
        Storage weights = Storage.FLOAT;
        if (sets > 0) {
            joints = accessors.storage(named.required("JOINTS_0", accessors.size(), "accessors"));
            weights = accessors.storage(named.required("WEIGHTS_0", accessors.size(), "accessors"));
        }
        List<MorphTarget> targets = new ArrayList<>();
        for (JsonCursor target : at.objects("targets")) {
            targets.add(targets.size() < firstFrame ? target(target, count) : frame(target, count));
        }
        return new Primitive(
                Primitive.Mode.values()[at.number("mode", 4, 0, 6)],
                indices,
                positions,
                named.has("NORMAL") ? vertexFloats(named, "NORMAL", 3, count) : null,
                named.has("TANGENT") ? vertexFloats(named, "TANGENT", 4, count) : null,
                List.copyOf(others),
                influences,
                List.copyOf(targets),
                at.index("material", root.json().path("materials").size(), "materials"),
                new Primitive.Layout(indexStorage, joints, weights, sets, null),
                carried(at, Set.of("attributes", "indices", "mode", "material", "targets")));
    }

    private float[] vertexFloats(JsonCursor attributes, String name, int width, int count) throws ReadFailed {
        return accessors.floats(checked(attributes, name, width, count));
    }

    /** Which accessor an attribute has; it has so many numbers a vertex for so many vertices. */
    private int checked(JsonCursor attributes, String name, int width, int count) throws ReadFailed {
        int accessor = attributes.required(name, accessors.size(), "accessors");
        if (accessors.width(accessor) != width) {
            throw attributes.wrong(name, "expected " + width + " numbers a vertex, found " + accessors.width(accessor));
        }
        if (count >= 0 && accessors.count(accessor) != count) {
            throw attributes.wrong(
                    name, "expected " + count + " vertices as POSITION has, found " + accessors.count(accessor));
        }
        return accessor;
    }

    /** A target that is a frame stays in the file's bytes until it is known to be played as one. */
    private MorphTarget frame(JsonCursor at, int count) throws ReadFailed {
        if (at.json().size() != 1 || !at.has("POSITION")) {
            return target(at, count);
        }
        int accessor = checked(at, "POSITION", 3, count);
        ByteBuffer bytes = accessors.straight(accessor);
        if (bytes == null) {
            return target(at, count);
        }
        MorphTarget out = new MorphTarget(null, null, null, List.of());
        frames.put(out, new CacheMorphs.Frame(bytes, () -> accessors.floats(accessor)));
        return out;
    }

    private MorphTarget target(JsonCursor at, int count) throws ReadFailed {
        List<Attribute> others = new ArrayList<>();
        for (String name : at.json().propertyNames()) {
            if (name.startsWith("TEXCOORD_") || name.startsWith("COLOR_")) {
                int accessor = at.required(name, accessors.size(), "accessors");
                int width = accessors.width(accessor);
                others.add(
                        new Attribute(name, width, vertexFloats(at, name, width, count), accessors.storage(accessor)));
            }
        }
        return new MorphTarget(
                at.has("POSITION") ? vertexFloats(at, "POSITION", 3, count) : null,
                at.has("NORMAL") ? vertexFloats(at, "NORMAL", 3, count) : null,
                at.has("TANGENT") ? vertexFloats(at, "TANGENT", 3, count) : null,
                List.copyOf(others));
    }

    private Influences influences(JsonCursor named, int sets, int count) throws ReadFailed {
        List<Integer> key = new ArrayList<>();
        for (int s = 0; s < sets; s++) {
            key.add(named.required("JOINTS_" + s, accessors.size(), "accessors"));
            key.add(named.required("WEIGHTS_" + s, accessors.size(), "accessors"));
        }
        Influences known = influencesOf.get(key);
        if (known != null && known.vertexCount() == count) {
            return known;
        }
        int[][] joints = new int[sets][];
        float[][] weights = new float[sets][];
        for (int s = 0; s < sets; s++) {
            joints[s] = accessors.wholes(key.get(2 * s), 65536, "joints at most");
            weights[s] = vertexFloats(named, "WEIGHTS_" + s, 4, count);
            if (joints[s].length != count * 4) {
                throw named.wrong("JOINTS_" + s, "expected 4 joints for each of " + count + " vertices");
            }
        }
        Influences.Builder builder = new Influences.Builder(count);
        for (int v = 0; v < count; v++) {
            for (int s = 0; s < sets; s++) {
                for (int i = v * 4; i < v * 4 + 4; i++) {
                    builder.add(joints[s][i], weights[s][i]);
                }
            }
            builder.endRow();
        }
        Influences made = builder.build();
        influencesOf.put(key, made);
        return made;
    }

    private Skin skin(JsonCursor at) throws ReadFailed {
        int nodeCount = root.json().path("nodes").size();
        int[] joints = at.indices("joints", nodeCount, "nodes");
        if (joints.length == 0) {
            throw at.wrong("joints", "expected at least one");
        }
        float[] binds = null;
        int accessor = at.index("inverseBindMatrices", accessors.size(), "accessors");
        if (accessor >= 0) {
            binds = accessors.floats(accessor);
            if (accessors.width(accessor) != 16 || binds.length < joints.length * 16) {
                throw at.wrong("inverseBindMatrices", "expected " + joints.length + " matrices of 16 numbers");
            }
        }
        return new Skin(
                at.text("name", ""),
                joints,
                binds,
                at.index("skeleton", nodeCount, "nodes"),
                carried(at, Set.of("name", "joints", "inverseBindMatrices", "skeleton")));
    }

    private List<Node> nodes(List<Mesh> meshes, List<Skin> skins) throws ReadFailed {
        List<Node> nodes = new ArrayList<>();
        List<JsonCursor> json = root.objects("nodes");
        int[] parent = new int[json.size()];
        java.util.Arrays.fill(parent, -1);
        for (JsonCursor at : json) {
            int[] children = at.indices("children", json.size(), "nodes");
            for (int child : children) {
                if (parent[child] >= 0) {
                    throw at.wrong("children", "node " + child + " is below node " + parent[child] + " already");
                }
                parent[child] = nodes.size();
            }
            nodes.add(node(at, children, meshes, skins));
        }
        refuseCycles(parent);
        return nodes;
    }

    private void refuseCycles(int[] parent) throws ReadFailed {
        int[] seen = new int[parent.length];
        for (int start = 0; start < parent.length; start++) {
            int n = start;
            while (n >= 0 && seen[n] == 0) {
                seen[n] = start + 1;
                n = parent[n];
            }
            if (n >= 0 && seen[n] == start + 1) {
                throw root.wrong("nodes[" + n + "]", "is below itself; nodes must form trees");
            }
        }
    }

    private Node node(JsonCursor at, int[] children, List<Mesh> meshes, List<Skin> skins) throws ReadFailed {
        Local none = Local.IDENTITY;
        Local local = new Local(
                at.floats("translation", 3, none.translation()),
                at.floats("rotation", 4, none.rotation()),
                at.floats("scale", 3, none.scale()),
                at.floatsIfAny("matrix", 16));
        int mesh = at.index("mesh", meshes.size(), "meshes");
        int skin = at.index("skin", skins.size(), "skins");
        if (mesh >= 0 && skin >= 0) {
            checkJoints(at, meshes.get(mesh), skins.get(skin));
        }
        return new Node(
                at.text("name", ""),
                local,
                children,
                mesh,
                skin,
                at.index("camera", root.json().path("cameras").size(), "cameras"),
                at.floatsIfAny("weights", -1),
                true,
                carried(
                        at,
                        Set.of(
                                "name",
                                "children",
                                "translation",
                                "rotation",
                                "scale",
                                "matrix",
                                "mesh",
                                "skin",
                                "camera",
                                "weights")));
    }

    private static void checkJoints(JsonCursor at, Mesh mesh, Skin skin) throws ReadFailed {
        for (Primitive primitive : mesh.primitives()) {
            if (primitive.influences() == null) {
                continue;
            }
            for (int joint : primitive.influences().joints()) {
                if (joint >= skin.joints().length) {
                    throw at.wrong(
                            "mesh",
                            "its vertices follow joint number " + joint + ", and the skin has " + skin.joints().length);
                }
            }
        }
    }

    private List<Scene> scenes(List<Node> nodes) throws ReadFailed {
        List<Scene> scenes = new ArrayList<>();
        for (JsonCursor at : root.objects("scenes")) {
            scenes.add(new Scene(
                    at.text("name", ""),
                    at.indices("nodes", nodes.size(), "nodes"),
                    carried(at, Set.of("name", "nodes"))));
        }
        return scenes;
    }

    private List<Material> materials() throws ReadFailed {
        List<Material> materials = new ArrayList<>();
        int textures = root.json().path("textures").size();
        for (JsonCursor at : root.objects("materials")) {
            materials.add(MaterialJson.read(at, carried(at, Set.of("name")), textures));
        }
        return materials;
    }

    private List<Texture> textures() throws ReadFailed {
        List<Texture> textures = new ArrayList<>();
        int images = root.json().path("images").size();
        List<JsonCursor> samplers = root.objects("samplers");
        for (JsonCursor at : root.objects("textures")) {
            int sampler = at.index("sampler", samplers.size(), "samplers");
            Passthrough filtered =
                    sampler < 0 ? Passthrough.NONE : samplers.get(sampler).carried(Set.of());
            Passthrough rest = carried(at, Set.of("name", "source", "sampler"));
            textures.add(MaterialJson.readTexture(at, rest, filtered, images));
        }
        return textures;
    }

    private List<Image> images() throws ReadFailed {
        List<Image> images = new ArrayList<>();
        for (JsonCursor at : root.objects("images")) {
            String type = at.text("mimeType", "");
            String uri = at.text("uri", "");
            byte[] bytes;
            if (Uris.isData(uri)) {
                bytes = Uris.data(at, uri);
                type = type.isEmpty() ? Uris.mediaType(uri) : type;
                uri = "";
            } else if (!uri.isEmpty()) {
                Path path = Uris.file(at, folder, uri);
                Optional<Path> other = path == null ? Neighbours.below(folder, Uris.plain(uri)) : Optional.empty();
                if (other.isPresent()) {
                    String found = Uris.of(Objects.requireNonNull(folder).relativize(other.get()));
                    notes.add("the picture " + uri + " is missing beside the file; " + found + " was taken");
                    uri = found;
                    path = other.get();
                }
                if (path == null) {
                    notes.add("the picture " + uri + " is missing beside the file, and none of its name is below");
                    bytes = null;
                } else {
                    bytes = FileBytes.array(fileBytes(at, uri, MOST_BYTES));
                }
            } else {
                bytes = viewBytes(at);
            }
            images.add(new Image(
                    at.text("name", ""),
                    type,
                    uri,
                    bytes,
                    carried(at, Set.of("name", "uri", "mimeType", "bufferView"))));
        }
        return images;
    }

    private byte[] viewBytes(JsonCursor at) throws ReadFailed {
        List<JsonCursor> views = root.objects("bufferViews");
        JsonCursor view = views.get(at.required("bufferView", views.size(), "buffer views"));
        ByteBuffer buffer = buffers.get(view.required("buffer", buffers.size(), "buffers"));
        int from = view.number("byteOffset", 0, 0, Integer.MAX_VALUE);
        int length = view.number("byteLength", 0, 1, Integer.MAX_VALUE);
        if ((long) from + length > buffer.limit()) {
            throw view.wrong("byteLength", "reaches beyond its buffer of " + buffer.limit() + " bytes");
        }
        byte[] out = new byte[length];
        buffer.get(from, out);
        return out;
    }

    private List<Clip> clips(List<Node> nodes, List<Mesh> meshes) throws ReadFailed {
        List<Clip> clips = new ArrayList<>();
        for (JsonCursor at : root.objects("animations")) {
            work.stopIfCancelled();
            List<JsonCursor> samplerJson = at.objects("samplers");
            Map<List<Integer>, Sampler> samplers = new HashMap<>();
            List<Channel> channels = new ArrayList<>();
            for (JsonCursor channel : at.objects("channels")) {
                channels.add(channel(channel, samplerJson, samplers, nodes, meshes));
            }
            if (channels.isEmpty()) {
                throw at.wrong("channels", "expected at least one");
            }
            JsonNode extras = at.json().path("extras");
            double rate = extras.path("framesPerSecond").isNumber()
                    ? extras.path("framesPerSecond").doubleValue()
                    : 0;
            boolean stated = rate > 0 && rate <= 100_000;
            boolean loop = extras.path("loop").asBoolean(false);
            Passthrough rest = carried(at, Set.of("name", "samplers", "channels"));
            List<String> tags = tags(extras.path("tags"));
            if (stated || loop) {
                rest = withoutExtra(rest, "framesPerSecond", "loop");
            }
            if (!tags.isEmpty()) {
                rest = withoutExtra(rest, "tags");
            }
            clips.add(new Clip(at.text("name", ""), channels, stated ? rate : 0, loop, true, tags, rest));
        }
        return clips;
    }

    /** Words, each once; empty where anything else is among them, which is carried then. */
    private static List<String> tags(JsonNode given) {
        Set<String> out = new LinkedHashSet<>();
        for (JsonNode tag : given) {
            if (!tag.isString() || !Clips.isTag(tag.stringValue())) {
                return List.of();
            }
            out.add(tag.stringValue());
        }
        return given.isArray() ? List.copyOf(out) : List.of();
    }

    private Channel channel(
            JsonCursor at,
            List<JsonCursor> samplerJson,
            Map<List<Integer>, Sampler> samplers,
            List<Node> nodes,
            List<Mesh> meshes)
            throws ReadFailed {
        JsonCursor target = at.at("target");
        int node = target.index("node", nodes.size(), "nodes");
        String name = target.text("path", "");
        Channel.Path path = switch (name) {
            case "translation" -> Channel.Path.TRANSLATION;
            case "rotation" -> Channel.Path.ROTATION;
            case "scale" -> Channel.Path.SCALE;
            case "weights" -> Channel.Path.WEIGHTS;
            case "pointer" -> Channel.Path.POINTER;
            default ->
                throw target.wrong("path", "expected translation, rotation, scale or weights, found \"" + name + "\"");
        };
        int number = at.required("sampler", samplerJson.size(), "samplers");
        int width = switch (path) {
            case TRANSLATION, SCALE -> 3;
            case ROTATION -> 4;
            case WEIGHTS ->
                node >= 0 && nodes.get(node).mesh() >= 0
                        ? meshes.get(nodes.get(node).mesh()).targetCount()
                        : 0;
            case POINTER, VERTICES -> 0;
        };
        List<Integer> key = List.of(number, width);
        Sampler sampler = samplers.get(key);
        if (sampler == null) {
            sampler = sampler(samplerJson.get(number), width);
            samplers.put(key, sampler);
        }
        String gone = node < 0 ? target.json().path("extras").path("node").asString("") : "";
        Passthrough rest = at.carried(Set.of("sampler"));
        // A target that is nothing but node and path is written from the model.
        if (target.carried(Set.of("node", "path")).isEmpty()) {
            rest = at.carried(Set.of("sampler", "target"));
        }
        return new Channel(node, path, sampler, gone, rest);
    }

    /** @param width numbers a value; 0: whatever the counts give */
    private Sampler sampler(JsonCursor at, int width) throws ReadFailed {
        int input = at.required("input", accessors.size(), "accessors");
        int output = at.required("output", accessors.size(), "accessors");
        String name = at.text("interpolation", "LINEAR");
        Sampler.Interpolation interpolation;
        try {
            interpolation = Sampler.Interpolation.valueOf(name);
        } catch (IllegalArgumentException e) {
            throw at.wrong("interpolation", "expected LINEAR, STEP or CUBICSPLINE, found \"" + name + "\"");
        }
        float[] times = accessors.floats(input);
        float[] values = accessors.floats(output);
        if (accessors.width(input) != 1) {
            throw at.wrong("input", "expected one number a key");
        }
        for (int i = 0; i < times.length; i++) {
            if (!Float.isFinite(times[i]) || i > 0 && !(times[i] > times[i - 1])) {
                throw at.wrong("input", "expected rising times, found " + times[i] + " at key " + i);
            }
        }
        int parts = interpolation == Sampler.Interpolation.CUBICSPLINE ? 3 : 1;
        int each = width > 0 ? width : values.length / Math.max(1, times.length * parts);
        if (each < 1 || values.length != (long) times.length * parts * each) {
            throw at.wrong(
                    "output",
                    "expected " + (long) times.length * parts * Math.max(1, each) + " numbers for " + times.length
                            + " keys, found " + values.length);
        }
        return new Sampler(interpolation, times, values, each, accessors.storage(output));
    }
}
