package org.cleanmarrow.formats.collada;

import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
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
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Reads COLLADA 1.4.1: unit and up axis, geometry with its polygons, materials, skins with any number of influences and
 * their bind shape matrix (folded into the inverse binds), morphs, nodes with any transforms, cameras, lights,
 * animations and animation clips. Cameras, lights and pictures that a file names and does not have cost a note, not
 * the file.
 */
public final class ColladaReader {
    private static final int MOST_NODES = 200_000;
    private static final int DEEPEST = 1000;

    private final XmlNode root;
    private final Map<String, XmlNode> ids;
    private final Work work;
    /** Inputs side by side in one list; files have two to a dozen. */
    private static final int MOST_INPUTS = 1000;

    private final List<String> notes = new ArrayList<>();
    private final DaeMaterials materials;
    private final List<Node> nodes = new ArrayList<>();
    private final List<List<Integer>> children = new ArrayList<>();
    /** The element that each node was made from; null for nodes of our own. */
    private final List<XmlNode> elements = new ArrayList<>();

    private final List<DaeTransform> transforms = new ArrayList<>();
    private final Map<XmlNode, Integer> placeOf = new HashMap<>();
    private final List<Mesh> meshes = new ArrayList<>();
    private final Map<List<Object>, Integer> meshOf = new HashMap<>();
    private final Map<XmlNode, DaeGeometry> geometries = new HashMap<>();
    private final List<Passthrough> cameras = new ArrayList<>();
    private final Map<String, Integer> cameraOf = new HashMap<>();
    private final ArrayNode lights = JsonMapper.shared().createArrayNode();
    private final Map<String, Integer> lightOf = new HashMap<>();
    private final List<Bound> bound = new ArrayList<>();
    private final Map<Integer, XmlNode> morphOf = new HashMap<>();
    private final Set<String> missing = new HashSet<>();

    /** A node whose mesh a skin controller moves, to be given its skin when all nodes are there. */
    private record Bound(int node, XmlNode skin, XmlNode instance) {}

    private ColladaReader(XmlNode root, @Nullable Path folder, Work work) {
        this.root = root;
        this.work = work;
        ids = root.byId();
        materials = new DaeMaterials(ids, folder, notes);
    }

    /** Reads bytes; {@code folder} is where pictures lie, or null. */
    public static Asset read(byte[] bytes, String file, @Nullable Path folder, Work work) throws ReadFailed {
        work.at(-1, "reading " + file);
        XmlNode root = XmlNode.parse(bytes, file);
        if (!root.name().equals("COLLADA")) {
            throw root.wrong("expected COLLADA, found " + root.name());
        }
        return new ColladaReader(root, folder, work).asset(file.replaceFirst("\\.[^.]*$", ""));
    }

    private Asset asset(String name) throws ReadFailed {
        for (XmlNode library : root.all("library_materials")) {
            for (XmlNode material : library.all("material")) {
                materials.number(material.get("id"));
            }
        }
        XmlNode scene = scene();
        List<Integer> tops = new ArrayList<>();
        if (scene != null) {
            for (XmlNode child : scene.all("node")) {
                tops.add(node(child, 0));
            }
        } else {
            looseGeometry(tops);
        }
        List<Skin> skins = skins();
        for (int n = 0; n < nodes.size(); n++) {
            nodes.set(
                    n,
                    nodes.get(n)
                            .withChildren(children.get(n).stream()
                                    .mapToInt(Integer::intValue)
                                    .toArray()));
        }
        List<Clip> clips = clips(name);
        inFileOrder();
        if (!missing.isEmpty()) {
            notes.add("Named and not in the file: "
                    + String.join(", ", missing.stream().sorted().toList()) + ".");
        }
        int[] roots = tops.stream().mapToInt(Integer::intValue).toArray();
        Asset out = Asset.of(name, conventions(), nodes, meshes, skins, clips)
                .withPictures(materials.materials, materials.textures, materials.images)
                .withCameras(cameras)
                .withScenes(List.of(new Scene("", roots, Passthrough.NONE)))
                .withCarried(lightsCarried())
                .withNotes(notes);
        return withLooseJoints(out);
    }

    /** Meshes as the file lists their geometries, not as the scene happens to use them. */
    private void inFileOrder() {
        Map<XmlNode, Integer> listed = new HashMap<>();
        for (XmlNode library : root.all("library_geometries")) {
            library.all("geometry").forEach(g -> listed.put(g, listed.size()));
        }
        Integer[] order = new Integer[meshes.size()];
        int[] rank = new int[order.length];
        meshOf.forEach((key, mesh) -> rank[mesh] = listed.getOrDefault((XmlNode) key.getFirst(), Integer.MAX_VALUE));
        Arrays.setAll(order, m -> m);
        Arrays.sort(order, Comparator.comparingInt(m -> rank[m]));
        List<Mesh> sorted = new ArrayList<>();
        int[] number = new int[order.length];
        for (int m : order) {
            number[m] = sorted.size();
            sorted.add(meshes.get(m));
        }
        meshes.clear();
        meshes.addAll(sorted);
        nodes.replaceAll(n -> n.mesh() < 0 ? n : n.withMesh(number[n.mesh()], n.skin()));
    }

    private Passthrough lightsCarried() {
        if (lights.isEmpty()) {
            return Passthrough.NONE;
        }
        ObjectNode out = JsonMapper.shared().createObjectNode();
        out.putArray("extensionsUsed").add("KHR_lights_punctual");
        out.putObject("extensions").putObject("KHR_lights_punctual").set("lights", lights);
        return new Passthrough(out.toString());
    }

    /** COLLADA 1.4.1, asset: the unit is a metre and Y is up where the file does not say otherwise. */
    private Conventions conventions() throws ReadFailed {
        double metres = 1;
        Optional<XmlNode> unit = root.find("asset", "unit");
        if (unit.isPresent() && !unit.get().get("meter").isEmpty()) {
            try {
                metres = Double.parseDouble(unit.get().get("meter"));
            } catch (NumberFormatException e) {
                metres = Double.NaN;
            }
            if (!(metres > 0 && metres < 1e12)) {
                throw unit.get()
                        .wrong("expected metres above zero, found \""
                                + unit.get().get("meter") + "\"");
            }
        }
        String up = root.find("asset", "up_axis").map(XmlNode::text).orElse("Y_UP");
        return of(metres, up);
    }

    /** What an up axis means (COLLADA 1.4.1, up_axis): right-handed, the front towards the viewer. */
    static Conventions of(double metres, String up) {
        return switch (up) {
            case "X_UP" -> new Conventions(metres, Axis.X, Axis.Z, Handedness.RIGHT);
            case "Z_UP" -> new Conventions(metres, Axis.Z, Axis.MINUS_Y, Handedness.RIGHT);
            default -> new Conventions(metres, Axis.Y, Axis.Z, Handedness.RIGHT);
        };
    }

    @Nullable
    private XmlNode scene() throws ReadFailed {
        Optional<XmlNode> instance = root.find("scene", "instance_visual_scene");
        if (instance.isPresent()) {
            XmlNode found = ids.get(instance.get().get("url").replaceFirst("^#", ""));
            if (found != null) {
                return found;
            }
        }
        return root.find("library_visual_scenes", "visual_scene").orElse(null);
    }

    /** A file of geometry without a scene shows all of it. */
    private void looseGeometry(List<Integer> tops) throws ReadFailed {
        for (XmlNode library : root.all("library_geometries")) {
            for (XmlNode geometry : library.all("geometry")) {
                int mesh = mesh(geometry, null, null, Map.of());
                if (mesh >= 0) {
                    int n = add(meshes.get(mesh).name(), Local.IDENTITY, null, new DaeTransform());
                    nodes.set(n, nodes.get(n).withMesh(mesh, -1));
                    tops.add(n);
                }
            }
        }
        if (tops.isEmpty()) {
            throw root.wrong("expected a visual_scene or geometry, found neither");
        }
    }

    private int add(String name, Local local, @Nullable XmlNode element, DaeTransform transform) throws ReadFailed {
        if (nodes.size() >= MOST_NODES) {
            throw root.wrong("more than " + MOST_NODES + " nodes, counting instances");
        }
        nodes.add(Node.group(name, local));
        children.add(new ArrayList<>());
        elements.add(element);
        transforms.add(transform);
        return nodes.size() - 1;
    }

    private int node(XmlNode element, int depth) throws ReadFailed {
        work.stopIfCancelled();
        if (depth > DEEPEST) {
            throw element.wrong("nodes are nested deeper than " + DEEPEST + ", or hold themselves");
        }
        DaeTransform transform = DaeTransform.read(element);
        String name = called(element);
        int n = add(name, DaeTransform.local(transform.matrix(transform.values())), element, transform);
        placeOf.putIfAbsent(element, n);
        for (XmlNode child : element.children()) {
            switch (child.name()) {
                case "node" -> children.get(n).add(node(child, depth + 1));
                case "instance_node" -> {
                    XmlNode target = known(child, "node");
                    if (target != null) {
                        children.get(n).add(node(target, depth + 1));
                    }
                }
                case "instance_geometry", "instance_controller" -> instance(n, child);
                case "instance_camera" -> camera(n, child);
                case "instance_light" -> light(n, child);
                default -> {
                    // Transforms were read; what else there is moves and shows nothing.
                }
            }
        }
        return n;
    }

    /** The element that an instance names; null, and remembered, where the file does not have it. */
    @Nullable
    private XmlNode known(XmlNode instance, String kind) {
        XmlNode found = ids.get(instance.get("url").replaceFirst("^#", ""));
        if (found == null || !found.name().equals(kind)) {
            missing.add(kind + " " + instance.get("url"));
            return null;
        }
        return found;
    }

    private void instance(int n, XmlNode instance) throws ReadFailed {
        boolean controlled = instance.name().equals("instance_controller");
        XmlNode target = known(instance, controlled ? "controller" : "geometry");
        if (target == null) {
            return;
        }
        XmlNode skin = null;
        XmlNode morph = null;
        // A skin may move a morph, or the other way round.
        for (int guard = 0; target.name().equals("controller"); guard++) {
            XmlNode own = target.find("skin").or(findMorph(target)).orElse(null);
            if (own == null || guard > 4) {
                throw target.wrong("expected a skin or a morph");
            }
            skin = own.name().equals("skin") ? own : skin;
            morph = own.name().equals("morph") ? own : morph;
            target = DaeSource.target(own, "source", ids);
        }
        if (!target.name().equals("geometry")) {
            throw instance.wrong("leads to " + target.name() + ", expected a geometry");
        }
        int mesh = mesh(target, skin, morph, bindings(instance));
        if (mesh < 0) {
            return;
        }
        int at = n;
        if (nodes.get(n).mesh() >= 0) {
            at = add(nodes.get(n).name() + "_" + mesh, Local.IDENTITY, null, new DaeTransform());
            children.get(n).add(at);
        }
        nodes.set(at, nodes.get(at).withMesh(mesh, -1));
        if (skin != null) {
            bound.add(new Bound(at, skin, instance));
        }
        if (morph != null) {
            morphOf.put(at, morph);
        }
    }

    private static java.util.function.Supplier<Optional<? extends XmlNode>> findMorph(XmlNode controller) {
        return () -> controller.find("morph");
    }

    private Map<String, Integer> bindings(XmlNode instance) throws ReadFailed {
        Map<String, Integer> out = new LinkedHashMap<>();
        XmlNode common = instance.find("bind_material", "technique_common").orElse(null);
        for (XmlNode bind : common == null ? List.<XmlNode>of() : common.all("instance_material")) {
            out.put(bind.get("symbol"), materials.number(bind.get("target").replaceFirst("^#", "")));
        }
        return out;
    }

    /** What to call an element: its true name where our writer left one, its name, or its id. */
    static String called(XmlNode element) {
        for (XmlNode extra : element.all("extra")) {
            Optional<XmlNode> name = extra.find("technique", "name");
            if (name.isPresent()) {
                return name.get().text();
            }
        }
        return element.get("name").isEmpty() ? element.get("id") : element.get("name");
    }

    private DaeGeometry geometry(XmlNode element) throws ReadFailed {
        DaeGeometry there = geometries.get(element);
        if (there == null) {
            there = DaeGeometry.read(element, ids);
            geometries.put(element, there);
        }
        return there;
    }

    /** The mesh of a geometry under controllers and bindings, or -1 where it has nothing to draw. */
    private int mesh(XmlNode element, @Nullable XmlNode skin, @Nullable XmlNode morph, Map<String, Integer> bindings)
            throws ReadFailed {
        List<Object> key = Arrays.asList(element, skin, morph, bindings);
        Integer known = meshOf.get(key);
        if (known != null) {
            return known;
        }
        DaeGeometry geometry = geometry(element);
        if (geometry.pieces().isEmpty()) {
            return -1;
        }
        Influences all = skin == null ? null : influences(skin, geometry.points().length / 3);
        List<XmlNode> targets = morph == null ? List.of() : targets(morph);
        List<Primitive> primitives = new ArrayList<>();
        for (DaeGeometry.Piece piece : geometry.pieces()) {
            Primitive p = piece.primitive();
            p = p.withMaterial(bindings.getOrDefault(piece.symbol(), materials.number(piece.symbol())));
            if (all != null) {
                Influences.Builder rows = new Influences.Builder(p.vertexCount());
                for (int point : piece.points()) {
                    rows.copyRows(all, point, point + 1);
                }
                p = p.withInfluences(rows.build());
            }
            if (!targets.isEmpty()) {
                p = p.withShape(p.positions(), p.normals(), p.tangents(), shapes(morph, targets, geometry, piece));
            }
            primitives.add(p);
        }
        String name = called(element);
        List<String> targetNames = targets.stream().map(ColladaReader::called).toList();
        float[] weights = morph == null ? null : Arrays.copyOf(weights(morph), targets.size());
        meshes.add(new Mesh(name, primitives, weights, targetNames, Passthrough.NONE));
        meshOf.put(key, meshes.size() - 1);
        return meshes.size() - 1;
    }

    private XmlNode input(XmlNode holder, String inside, String semantic) throws ReadFailed {
        for (XmlNode input : holder.find(inside).orElse(holder).all("input")) {
            if (input.get("semantic").equals(semantic)) {
                return input;
            }
        }
        throw holder.wrong("expected an input " + semantic + " in " + inside);
    }

    private List<XmlNode> targets(XmlNode morph) throws ReadFailed {
        List<XmlNode> out = new ArrayList<>();
        XmlNode input = input(morph, "targets", "MORPH_TARGET");
        String[] names = DaeSource.of(input, ids).names();
        if (names == null) {
            throw input.wrong("expected names of geometries, found numbers");
        }
        for (String id : names) {
            XmlNode found = ids.get(id);
            if (found == null || !found.name().equals("geometry")) {
                throw input.wrong("names the target " + id + ", and no geometry of this file has that id");
            }
            out.add(found);
        }
        return out;
    }

    private float[] weights(XmlNode morph) throws ReadFailed {
        XmlNode input = input(morph, "targets", "MORPH_WEIGHT");
        float[] values = DaeSource.of(input, ids).values();
        if (values == null) {
            throw input.wrong("expected numbers for weights, found names");
        }
        return values;
    }

    /** Differences to the base; what a RELATIVE morph holds are differences already. */
    private List<MorphTarget> shapes(
            @Nullable XmlNode morph, List<XmlNode> targets, DaeGeometry base, DaeGeometry.Piece piece)
            throws ReadFailed {
        boolean relative = morph != null && morph.get("method").equals("RELATIVE");
        List<MorphTarget> out = new ArrayList<>();
        for (XmlNode target : targets) {
            DaeGeometry shape = geometry(target);
            if (shape.points().length != base.points().length) {
                throw target.wrong("has " + shape.points().length / 3 + " positions, and the shape that it changes has "
                        + base.points().length / 3);
            }
            float[] moved = new float[piece.points().length * 3];
            for (int v = 0; v < piece.points().length; v++) {
                for (int i = 0; i < 3; i++) {
                    int at = piece.points()[v] * 3 + i;
                    moved[v * 3 + i] = relative ? shape.points()[at] : shape.points()[at] - base.points()[at];
                }
            }
            out.add(new MorphTarget(moved, null, null, List.of()));
        }
        return out;
    }

    private Influences influences(XmlNode skin, int points) throws ReadFailed {
        XmlNode weights = skin.find("vertex_weights").orElseThrow(() -> skin.wrong("expected vertex_weights"));
        XmlNode jointInput = input(skin, "vertex_weights", "JOINT");
        XmlNode weightInput = input(skin, "vertex_weights", "WEIGHT");
        int joints = DaeSource.of(jointInput, ids).count();
        DaeSource values = DaeSource.of(weightInput, ids);
        if (values.values() == null) {
            throw weightInput.wrong("expected numbers for weights, found names");
        }
        int jointAt = jointInput.count("offset");
        int weightAt = weightInput.count("offset");
        if (jointAt > MOST_INPUTS || weightAt > MOST_INPUTS) {
            throw weights.wrong("expected offsets up to " + MOST_INPUTS + ", found " + Math.max(jointAt, weightAt));
        }
        int stride = Math.max(jointAt, weightAt) + 1;
        int[] counts = weights.find("vcount").map(XmlNode::text).orElse("").isEmpty()
                ? new int[0]
                : weights.find("vcount").orElseThrow().wholes();
        XmlNode list = weights.find("v").orElse(weights);
        int[] v = list == weights ? new int[0] : list.wholes();
        if (counts.length != points) {
            throw weights.wrong("gives influences to " + counts.length + " vertices, and the mesh has " + points);
        }
        Influences.Builder rows = new Influences.Builder(points);
        int at = 0;
        for (int count : counts) {
            for (int i = 0; i < count; i++, at += stride) {
                if (at + stride > v.length) {
                    throw weights.wrong("the list v ends before the influences that vcount announces");
                }
                int joint = v[at + jointAt];
                int weight = v[at + weightAt];
                if (joint >= joints || weight < 0 || weight >= values.count()) {
                    throw list.wrong("names joint " + joint + " of " + joints + " and weight " + weight + " of "
                            + values.count());
                }
                // Joint -1 means the bind shape, which no joint moves.
                if (joint >= 0) {
                    rows.add(joint, values.values()[weight]);
                }
            }
            rows.endRow();
        }
        return rows.build();
    }

    private List<Skin> skins() throws ReadFailed {
        List<Skin> skins = new ArrayList<>();
        Map<List<Object>, Integer> known = new HashMap<>();
        for (Bound use : bound) {
            XmlNode joints = input(use.skin, "joints", "JOINT");
            String[] names = DaeSource.of(joints, ids).names();
            if (names == null) {
                throw joints.wrong("expected names of joints");
            }
            DaeSource binds = DaeSource.of(input(use.skin, "joints", "INV_BIND_MATRIX"), ids);
            if (binds.values() == null || binds.values().length < names.length * 16) {
                throw joints.wrong("expected an inverse bind matrix for each of " + names.length + " joints");
            }
            int[] places = jointPlaces(use, names, joints);
            List<Object> key = new ArrayList<>(List.of(use.skin));
            Arrays.stream(places).forEach(key::add);
            Integer there = known.get(key);
            if (there == null) {
                there = skins.size();
                known.put(key, there);
                skins.add(new Skin(name(use.skin), places, binds(use.skin, binds, names.length), -1, Passthrough.NONE));
            }
            nodes.set(use.node, nodes.get(use.node).withMesh(nodes.get(use.node).mesh(), there));
        }
        return skins;
    }

    private String name(XmlNode skin) {
        return ids.values().stream()
                .filter(c -> c.name().equals("controller") && c.children().contains(skin))
                .map(ColladaReader::called)
                .findFirst()
                .orElse("");
    }

    private static float[] binds(XmlNode skin, DaeSource binds, int count) throws ReadFailed {
        Optional<XmlNode> shape = skin.find("bind_shape_matrix");
        float[] numbers = shape.isPresent() ? shape.get().floats() : null;
        if (numbers != null && numbers.length != 16) {
            throw shape.get().wrong("expected 16 numbers, found " + numbers.length);
        }
        Matrix4d shapeMatrix = numbers == null ? new Matrix4d() : DaeTransform.rows(numbers);
        Matrix4d[] out = new Matrix4d[count];
        for (int j = 0; j < count; j++) {
            out[j] = DaeTransform.rows(Arrays.copyOfRange(binds.values(), j * 16, j * 16 + 16))
                    .mul(shapeMatrix);
        }
        return Skin.pack(out);
    }

    /** Nodes of joint names: by sid below the skeletons that the instance names, then anywhere, then by id and name. */
    private int[] jointPlaces(Bound use, String[] names, XmlNode at) throws ReadFailed {
        Map<String, Integer> bySid = new HashMap<>();
        for (XmlNode skeleton : use.instance.all("skeleton")) {
            XmlNode top = ids.get(skeleton.text().replaceFirst("^#", ""));
            Integer place = top == null ? null : placeOf.get(top);
            if (place != null) {
                Deque<Integer> left = new ArrayDeque<>(List.of(place));
                while (!left.isEmpty()) {
                    int n = left.pop();
                    if (elements.get(n) != null) {
                        bySid.putIfAbsent(elements.get(n).get("sid"), n);
                    }
                    children.get(n).forEach(left::push);
                }
            }
        }
        Map<String, Integer> rest = new HashMap<>();
        for (String attribute : List.of("sid", "id", "name")) {
            for (int n = 0; n < elements.size(); n++) {
                if (elements.get(n) != null) {
                    rest.putIfAbsent(elements.get(n).get(attribute), n);
                }
            }
        }
        int[] places = new int[names.length];
        for (int j = 0; j < places.length; j++) {
            Integer found = bySid.getOrDefault(names[j], rest.get(names[j]));
            if (found == null) {
                throw at.wrong("names the joint " + names[j] + ", and no node of the scene is called so");
            }
            places[j] = found;
        }
        return places;
    }

    /** Nodes that say they are joints and no skin uses are a skeleton all the same, as in a file of motion alone. */
    private Asset withLooseJoints(Asset asset) {
        boolean[] joint = asset.jointFlags();
        List<Integer> loose = new ArrayList<>();
        for (int n = 0; n < joint.length; n++) {
            if (elements.get(n) != null && elements.get(n).get("type").equals("JOINT")) {
                if (joint[n]) {
                    // Part of a skeleton that is in use; its further joints are found by their place in it.
                    return asset;
                }
                loose.add(n);
            }
        }
        if (loose.isEmpty()) {
            return asset;
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        int[] joints = loose.stream().mapToInt(Integer::intValue).toArray();
        Matrix4d[] binds = new Matrix4d[joints.length];
        for (int j = 0; j < joints.length; j++) {
            binds[j] = world[joints[j]].invert(new Matrix4d());
            if (!binds[j].isFinite()) {
                binds[j].identity();
            }
        }
        List<Skin> skins = new ArrayList<>(asset.skins());
        skins.add(new Skin(asset.name(), joints, Skin.pack(binds), joints[0], Passthrough.NONE));
        return asset.withSkins(skins);
    }

    private void camera(int n, XmlNode instance) throws ReadFailed {
        XmlNode camera = known(instance, "camera");
        if (camera == null) {
            return;
        }
        Integer number = cameraOf.get(camera.get("id"));
        if (number == null) {
            ObjectNode json = lens(camera);
            if (json == null) {
                notes.add("Camera " + camera.get("id") + " has no lens that can be read; its node is kept.");
                return;
            }
            cameras.add(new Passthrough(json.toString()));
            number = cameras.size() - 1;
            cameraOf.put(camera.get("id"), number);
        }
        Node node = nodes.get(n);
        nodes.set(
                n,
                new Node(
                        node.name(),
                        node.local(),
                        node.children(),
                        node.mesh(),
                        node.skin(),
                        number,
                        node.weights(),
                        node.ships(),
                        node.carried()));
    }

    @Nullable
    private static ObjectNode lens(XmlNode camera) throws ReadFailed {
        XmlNode common = camera.find("optics", "technique_common").orElse(null);
        if (common == null || common.children().isEmpty()) {
            return null;
        }
        XmlNode kind = common.children().getFirst();
        ObjectNode out = JsonMapper.shared().createObjectNode();
        out.put("name", called(camera));
        double aspect = number(kind, "aspect_ratio", 0);
        double near = Math.max(1e-6, number(kind, "znear", 0.1));
        double far = Math.max(near * 2, number(kind, "zfar", 1000));
        if (kind.name().equals("perspective")) {
            double wide = Math.toRadians(number(kind, "xfov", 0));
            double high = Math.toRadians(number(kind, "yfov", 0));
            // One of the two with the ratio gives the other.
            if (high <= 0 && wide > 0) {
                high = 2 * Math.atan(Math.tan(wide / 2) / (aspect > 0 ? aspect : 1));
            }
            if (!(high > 0 && high < Math.PI)) {
                return null;
            }
            ObjectNode lens = out.put("type", "perspective").putObject("perspective");
            lens.put("yfov", high).put("znear", near).put("zfar", far);
            if (aspect > 0) {
                lens.put("aspectRatio", aspect);
            }
            return out;
        }
        double xmag = number(kind, "xmag", 0);
        double ymag = number(kind, "ymag", 0);
        xmag = xmag > 0 ? xmag : ymag * (aspect > 0 ? aspect : 1);
        ymag = ymag > 0 ? ymag : xmag / (aspect > 0 ? aspect : 1);
        if (!(xmag > 0 && ymag > 0)) {
            return null;
        }
        ObjectNode lens = out.put("type", "orthographic").putObject("orthographic");
        lens.put("xmag", xmag).put("ymag", ymag).put("znear", near).put("zfar", far);
        return out;
    }

    private static double number(XmlNode holder, String name, double otherwise) throws ReadFailed {
        Optional<XmlNode> said = holder.find(name);
        float[] numbers = said.isPresent() ? said.get().floats() : new float[0];
        return numbers.length == 0 ? otherwise : numbers[0];
    }

    private void light(int n, XmlNode instance) throws ReadFailed {
        XmlNode light = known(instance, "light");
        XmlNode common = light == null ? null : light.find("technique_common").orElse(null);
        if (light == null || common == null || common.children().isEmpty()) {
            return;
        }
        XmlNode kind = common.children().getFirst();
        // Light from everywhere has no place in a scene (KHR_lights_punctual).
        if (kind.name().equals("ambient")) {
            return;
        }
        Integer number = lightOf.get(light.get("id"));
        if (number == null) {
            ObjectNode json = lights.addObject();
            json.put("name", called(light));
            json.put(
                    "type",
                    kind.name().equals("directional")
                            ? "directional"
                            : kind.name().equals("spot") ? "spot" : "point");
            if (kind.name().equals("spot")) {
                double angle = Math.toRadians(number(kind, "falloff_angle", 180)) / 2;
                json.putObject("spot").put("outerConeAngle", Math.clamp(angle, 0.01, Math.PI / 2));
            }
            float[] colour = kind.find("color").isPresent()
                    ? kind.find("color").orElseThrow().floats()
                    : new float[0];
            if (colour.length >= 3) {
                float most = Math.max(1e-6f, Math.max(colour[0], Math.max(colour[1], colour[2])));
                ArrayNode rgb = json.putArray("color");
                for (int i = 0; i < 3; i++) {
                    rgb.add(Math.clamp(colour[i] / Math.max(1, most), 0, 1));
                }
                json.put("intensity", Math.max(1, most));
            }
            number = lights.size() - 1;
            lightOf.put(light.get("id"), number);
        }
        ObjectNode extension = JsonMapper.shared().createObjectNode();
        extension.putObject("extensions").putObject("KHR_lights_punctual").put("light", number);
        nodes.set(n, nodes.get(n).withCarried(new Passthrough(extension.toString())));
    }

    private List<Clip> clips(String name) throws ReadFailed {
        List<Clip> out = new ArrayList<>();
        List<XmlNode> named = new ArrayList<>();
        root.all("library_animation_clips").forEach(l -> named.addAll(l.all("animation_clip")));
        Map<XmlNode, DaeCurve> curves = new HashMap<>();
        for (XmlNode clip : named) {
            List<XmlNode> animations = new ArrayList<>();
            for (XmlNode instance : clip.all("instance_animation")) {
                XmlNode animation = known(instance, "animation");
                if (animation != null) {
                    animations.add(animation);
                }
            }
            String called = called(clip);
            double from = bound(clip, "start", Double.NEGATIVE_INFINITY);
            double to = bound(clip, "end", Double.POSITIVE_INFINITY);
            if (from > to) {
                throw clip.wrong("ends at " + to + " before it starts at " + from);
            }
            clip(called, animations, from, to, curves).ifPresent(out::add);
        }
        if (out.isEmpty()) {
            List<XmlNode> all = new ArrayList<>();
            root.all("library_animations").forEach(l -> all.addAll(l.all("animation")));
            clip(name, all, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY, curves)
                    .ifPresent(out::add);
        }
        return out;
    }

    private static double bound(XmlNode clip, String attribute, double otherwise) throws ReadFailed {
        if (clip.get(attribute).isBlank()) {
            return otherwise;
        }
        try {
            double value = Double.parseDouble(clip.get(attribute).strip());
            if (Double.isFinite(value)) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw clip.wrong("expected seconds in " + attribute + ", found \"" + clip.get(attribute) + "\"");
    }

    private Optional<Clip> clip(
            String name, List<XmlNode> animations, double from, double to, Map<XmlNode, DaeCurve> curves)
            throws ReadFailed {
        Map<Integer, DaeMotion> motions = new LinkedHashMap<>();
        Map<Integer, Map<Integer, DaeCurve>> shapes = new LinkedHashMap<>();
        Deque<XmlNode> left = new ArrayDeque<>(animations);
        while (!left.isEmpty()) {
            XmlNode animation = left.pop();
            work.stopIfCancelled();
            List<XmlNode> nested = animation.all("animation");
            for (int i = nested.size() - 1; i >= 0; i--) {
                left.push(nested.get(i));
            }
            for (XmlNode channel : animation.all("channel")) {
                XmlNode sampler = DaeSource.target(channel, "source", ids);
                DaeCurve curve = curves.get(sampler);
                if (curve == null) {
                    curve = DaeCurve.read(sampler, ids);
                    curves.put(sampler, curve);
                }
                if (!aim(channel, curve, motions, shapes)) {
                    missing.add("target " + channel.get("target"));
                }
            }
        }
        List<Channel> channels = new ArrayList<>();
        motions.forEach((n, motion) -> channels.addAll(motion.channels(n, from, to)));
        if (motions.values().stream().anyMatch(DaeMotion::straightened)) {
            notes.add("Curves of " + (name.isEmpty() ? "a clip" : name)
                    + " were made straight lines between many keys, as near as a hundred thousandth.");
        }
        shapes.forEach((n, byTarget) -> channels.add(shapeChannel(n, byTarget, from, to)));
        // Where the transform of a node is a matrix no keys can move it.
        motions.keySet().stream()
                .filter(n -> nodes.get(n).local().matrix() != null)
                .forEach(n -> nodes.set(n, nodes.get(n).withLocal(firstKey(n, channels))));
        return channels.isEmpty()
                ? Optional.empty()
                : Optional.of(new Clip(name, channels, 0, false, true, Passthrough.NONE));
    }

    private static Local firstKey(int node, List<Channel> channels) {
        float[][] parts = {{0, 0, 0}, {0, 0, 0, 1}, {1, 1, 1}};
        for (Channel channel : channels) {
            int part = channel.path().ordinal();
            if (channel.node() == node && part < 3) {
                parts[part] = Arrays.copyOf(channel.sampler().values(), parts[part].length);
            }
        }
        return new Local(parts[0], parts[1], parts[2], null);
    }

    /** Hands a curve to what its channel names; false where the scene has nothing of that name. */
    private boolean aim(
            XmlNode channel,
            DaeCurve curve,
            Map<Integer, DaeMotion> motions,
            Map<Integer, Map<Integer, DaeCurve>> shapes)
            throws ReadFailed {
        String target = channel.get("target");
        int slash = target.indexOf('/');
        if (slash < 0) {
            return aimAtShape(target, curve, shapes);
        }
        XmlNode element = ids.get(target.substring(0, slash));
        boolean any = false;
        for (int n = 0; element != null && n < elements.size(); n++) {
            if (elements.get(n) == element) {
                int number = n;
                DaeMotion motion = motions.computeIfAbsent(n, k -> new DaeMotion(transforms.get(number)));
                any |= motion.add(target.substring(slash + 1), curve, channel);
            }
        }
        return any || element != null && !element.name().equals("node");
    }

    /** Targets of the form {@code id(3)}, where the id is that of the weights of a morph. */
    private boolean aimAtShape(String target, DaeCurve curve, Map<Integer, Map<Integer, DaeCurve>> shapes) {
        int open = target.indexOf('(');
        if (open < 0 || !target.matches(".*\\(\\d{1,4}\\)$")) {
            return false;
        }
        String id = target.substring(0, open);
        int number = Integer.parseInt(target.substring(open + 1, target.length() - 1));
        boolean any = false;
        for (var use : morphOf.entrySet()) {
            boolean own = use.getValue().all("source").stream()
                    .anyMatch(s -> s.get("id").equals(id)
                            || s.children().stream().anyMatch(a -> a.get("id").equals(id)));
            if (own && number < meshes.get(nodes.get(use.getKey()).mesh()).targetCount()) {
                shapes.computeIfAbsent(use.getKey(), k -> new LinkedHashMap<>()).put(number, curve);
                any = true;
            }
        }
        return any;
    }

    private Channel shapeChannel(int node, Map<Integer, DaeCurve> curves, double from, double to) {
        Mesh mesh = meshes.get(nodes.get(node).mesh());
        int count = mesh.targetCount();
        java.util.TreeSet<Float> keys = new java.util.TreeSet<>();
        for (DaeCurve curve : curves.values()) {
            for (float t : curve.times()) {
                keys.add((float) Math.clamp(t, from, to));
            }
        }
        float[] times = new float[keys.size()];
        float[] values = new float[times.length * count];
        int k = 0;
        for (float t : keys) {
            times[k] = t;
            for (int i = 0; i < count; i++) {
                DaeCurve curve = curves.get(i);
                values[k * count + i] =
                        curve != null ? (float) curve.at(t, 0) : Objects.requireNonNull(mesh.weights())[i];
            }
            k++;
        }
        boolean stepped = curves.values().stream().allMatch(DaeCurve::isStepped);
        Sampler sampler = new Sampler(
                stepped ? Sampler.Interpolation.STEP : Sampler.Interpolation.LINEAR,
                times,
                values,
                count,
                Storage.FLOAT);
        return new Channel(node, Channel.Path.WEIGHTS, sampler, "", Passthrough.NONE);
    }
}
