package org.cleanmarrow.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;

/**
 * All that is on the desk, as an immutable value. Lists and arrays are never changed after it is built; a
 * changed copy shares everything that stayed the same.
 *
 * @param name       what the source is called, without folder and ending
 * @param scene      index of the scene that is shown, or -1 when the file has none
 * @param cameras    carried word for word
 * @param attached   things of further kinds that stand at nodes
 * @param carried    what the document says beyond this model
 * @param notes      what reading had to leave out or guess, one sentence each
 */
public record Asset(
        String name,
        Conventions conventions,
        List<Node> nodes,
        List<Mesh> meshes,
        List<Skin> skins,
        List<Material> materials,
        List<Texture> textures,
        List<Image> images,
        List<Passthrough> cameras,
        List<Clip> clips,
        List<Scene> scenes,
        int scene,
        List<Attached> attached,
        Passthrough carried,
        List<String> notes) {

    public Asset {
        nodes = List.copyOf(nodes);
        meshes = List.copyOf(meshes);
        skins = List.copyOf(skins);
        materials = List.copyOf(materials);
        textures = List.copyOf(textures);
        images = List.copyOf(images);
        cameras = List.copyOf(cameras);
        clips = List.copyOf(clips);
        scenes = List.copyOf(scenes);
        attached = List.copyOf(attached);
        notes = List.copyOf(notes);
    }

    /** An asset of nodes, meshes, skins and clips; every node without a parent becomes a root of its one scene. */
    public static Asset of(
            String name,
            Conventions conventions,
            List<Node> nodes,
            List<Mesh> meshes,
            List<Skin> skins,
            List<Clip> clips) {
        int[] parents = parentsOf(nodes);
        int[] roots =
                IntStream.range(0, nodes.size()).filter(i -> parents[i] < 0).toArray();
        return new Asset(
                name,
                conventions,
                nodes,
                meshes,
                skins,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                clips,
                List.of(new Scene("", roots, Passthrough.NONE)),
                0,
                List.of(),
                Passthrough.NONE,
                List.of());
    }

    /** Parent of every node, -1 for those at the top. */
    public int[] parents() {
        return parentsOf(nodes);
    }

    private static int[] parentsOf(List<Node> nodes) {
        int[] parents = new int[nodes.size()];
        Arrays.fill(parents, -1);
        for (int n = 0; n < nodes.size(); n++) {
            for (int child : nodes.get(n).children()) {
                parents[child] = n;
            }
        }
        return parents;
    }

    /** Node numbers, every parent before its children. */
    public int[] topDown() {
        int[] parents = parents();
        int[] order = new int[nodes.size()];
        int end = 0;
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                order[end++] = n;
            }
        }
        for (int at = 0; at < end; at++) {
            for (int child : nodes.get(order[at]).children()) {
                order[end++] = child;
            }
        }
        return order;
    }

    /** True for every node that any skin names as a joint. */
    public boolean[] jointFlags() {
        boolean[] flags = new boolean[nodes.size()];
        for (Skin skin : skins) {
            for (int joint : skin.joints()) {
                flags[joint] = true;
            }
        }
        return flags;
    }

    /** Nodes that any clip moves. */
    public BitSet animatedNodes() {
        BitSet animated = new BitSet();
        for (Clip clip : clips) {
            for (Channel channel : clip.channels()) {
                if (channel.node() >= 0) {
                    animated.set(channel.node());
                }
            }
        }
        return animated;
    }

    /** What to call a node on screen and in ledgers: its name where it is the only one of that name, otherwise {@code #number}. */
    public String nodeRef(int node) {
        String name = nodes.get(node).name();
        return name.isEmpty()
                        || nodes.stream().filter(n -> n.name().equals(name)).count() > 1
                ? "#" + node
                : name;
    }

    /** {@link #nodeRef} of every node, found together. */
    public String[] nodeRefs() {
        Map<String, Integer> counts = new HashMap<>();
        nodes.forEach(n -> counts.merge(n.name(), 1, Integer::sum));
        String[] refs = new String[nodes.size()];
        for (int n = 0; n < refs.length; n++) {
            String own = nodes.get(n).name();
            refs[n] = own.isEmpty() || Objects.requireNonNull(counts.get(own)) > 1 ? "#" + n : own;
        }
        return refs;
    }

    /** The node that {@link #nodeRef} names, or -1. */
    public int findNode(String ref) {
        return find(ref, nodes, Node::name);
    }

    /** What to call a mesh: its name where unique, otherwise {@code #number}. */
    public String meshRef(int mesh) {
        String name = meshes.get(mesh).name();
        return name.isEmpty()
                        || meshes.stream().filter(m -> m.name().equals(name)).count() > 1
                ? "#" + mesh
                : name;
    }

    /** The mesh that {@link #meshRef} names, or -1. */
    public int findMesh(String ref) {
        return find(ref, meshes, Mesh::name);
    }

    /** The clip of that name (or {@code #number}), or -1. */
    public int findClip(String ref) {
        return find(ref, clips, Clip::name);
    }

    private static <T> int find(String ref, List<T> all, Function<T, String> name) {
        int first = -1;
        int count = 0;
        for (int i = 0; i < all.size() && count < 2 && !ref.isEmpty(); i++) {
            if (name.apply(all.get(i)).equals(ref)) {
                first = i;
                count++;
            }
        }
        if (count == 1) {
            return first;
        }
        if (ref.startsWith("#")) {
            try {
                int number = Integer.parseInt(ref.substring(1));
                return number >= 0 && number < all.size() ? number : -1;
            } catch (NumberFormatException e) {
                return -1;
            }
        }
        return -1;
    }

    /** Index of the skin that moves a mesh where it first stands with one, or -1. */
    public int skinOfMesh(int mesh) {
        return nodes.stream()
                .filter(n -> n.mesh() == mesh && n.skin() >= 0)
                .mapToInt(Node::skin)
                .findFirst()
                .orElse(-1);
    }

    public Asset withNodes(List<Node> changed) {
        return with(p -> p.nodes = changed);
    }

    public Asset withMeshes(List<Mesh> changed) {
        return with(p -> p.meshes = changed);
    }

    public Asset withMesh(int index, Mesh changed) {
        List<Mesh> list = new ArrayList<>(meshes);
        list.set(index, changed);
        return withMeshes(list);
    }

    /** A mesh with its vertices in another order, some of them gone or there several times; its caches follow. */
    public Asset withMesh(int index, Mesh changed, VertexMap map) {
        return withMesh(index, changed)
                .mapCaches((node, track) -> nodes.get(node).mesh() == index
                                && track.vertices() == meshes.get(index).vertexCount()
                        ? track.ordered(map)
                        : track);
    }

    /** Nodes at which a vertex cache of any clip plays. */
    public BitSet cachedNodes() {
        BitSet cached = new BitSet();
        for (Clip clip : clips) {
            for (Channel channel : clip.channels()) {
                if (channel.movesVertices() && channel.node() >= 0) {
                    cached.set(channel.node());
                }
            }
        }
        return cached;
    }

    /** With a change made to the vertex caches of all clips. */
    public Asset mapCaches(BiFunction<Integer, VertexTrack, VertexTrack> change) {
        return cachedNodes().isEmpty()
                ? this
                : mapClips(clip -> clip.withChannels(clip.channels().stream()
                        .map(c -> c.track() instanceof VertexTrack t && c.node() >= 0
                                ? c.withTrack(change.apply(c.node(), t))
                                : c)
                        .toList()));
    }

    public Asset withSkins(List<Skin> changed) {
        return with(p -> p.skins = changed);
    }

    public Asset withMaterials(List<Material> changed) {
        return with(p -> p.materials = changed);
    }

    public Asset withPictures(List<Material> m, List<Texture> t, List<Image> i) {
        return with(p -> {
            p.materials = m;
            p.textures = t;
            p.images = i;
        });
    }

    public Asset withClips(List<Clip> changed) {
        return with(p -> p.clips = changed);
    }

    public Asset mapClips(UnaryOperator<Clip> change) {
        return withClips(clips.stream().map(change).toList());
    }

    public Asset withScenes(List<Scene> changed) {
        return with(p -> p.scenes = changed);
    }

    /** The attached things of one kind, in their order. */
    public <T extends Attached> List<T> attached(Class<T> kind) {
        return attached.stream().filter(kind::isInstance).map(kind::cast).toList();
    }

    public Asset withAttached(List<Attached> changed) {
        return with(p -> p.attached = changed);
    }

    public Asset mapAttached(UnaryOperator<Attached> change) {
        return attached.isEmpty()
                ? this
                : withAttached(attached.stream().map(change).toList());
    }

    public Asset withCameras(List<Passthrough> changed) {
        return with(p -> p.cameras = changed);
    }

    /** @param shown index of the scene that is shown, or -1 */
    public Asset withScenes(List<Scene> changed, int shown) {
        return with(p -> {
            p.scenes = changed;
            p.scene = shown;
        });
    }

    public Asset withConventions(Conventions changed) {
        return with(p -> p.conventions = changed);
    }

    public Asset withName(String changed) {
        return with(p -> p.name = changed);
    }

    public Asset withCarried(Passthrough changed) {
        return with(p -> p.carried = changed);
    }

    public Asset withNotes(List<String> changed) {
        return with(p -> p.notes = changed);
    }

    /** The asset without some nodes, and without their channels. They must bear no weight and have no children that stay. */
    public Asset without(BitSet gone) {
        BitSet kept = new BitSet();
        kept.set(0, nodes.size());
        kept.andNot(gone);
        return renumbered(Renumbering.NONE.keeping(Renumbering.Kind.NODE, kept, nodes.size()));
    }

    /** All that is listed under new numbers, with all that refers to it: the only place that follows references. */
    public Asset renumbered(Renumbering numbers) {
        Asset listed = listed(numbers.without(Renumbering.Kind.NODE));
        Renumbering nodesAlone = numbers.only(Renumbering.Kind.NODE);
        // Last, because a mesh may become two when joints go.
        return nodesAlone == Renumbering.NONE
                ? listed
                : listed.withJointPositions(nodesAlone).listed(nodesAlone);
    }

    private Asset listed(Renumbering numbers) {
        boolean placed = numbers.changes(Renumbering.Kind.NODE);
        return with(p -> {
            boolean nodesChange = placed
                    || numbers.changes(Renumbering.Kind.MESH)
                    || numbers.changes(Renumbering.Kind.SKIN)
                    || numbers.changes(Renumbering.Kind.CAMERA);
            p.nodes = all(numbers, Renumbering.Kind.NODE, p.nodes, nodesChange);
            p.skins = all(numbers, Renumbering.Kind.SKIN, p.skins, placed);
            p.meshes = all(numbers, Renumbering.Kind.MESH, p.meshes, numbers.changes(Renumbering.Kind.MATERIAL));
            boolean texturesChange = numbers.changes(Renumbering.Kind.TEXTURE);
            p.materials = all(numbers, Renumbering.Kind.MATERIAL, materials, texturesChange);
            p.textures = all(numbers, Renumbering.Kind.TEXTURE, textures, numbers.changes(Renumbering.Kind.IMAGE));
            p.images = numbers.list(Renumbering.Kind.IMAGE, images);
            p.cameras = numbers.list(Renumbering.Kind.CAMERA, cameras);
            if (nodesChange || numbers.changes(Renumbering.Kind.MATERIAL)) {
                p.clips = clips.stream().map(c -> c.renumbered(numbers)).toList();
            }
            if (placed) {
                p.scenes = scenes.stream().map(s -> s.renumbered(numbers)).toList();
            }
            // With its node a thing goes too.
            p.attached = attached.stream()
                    .filter(a -> numbers.of(Renumbering.Kind.NODE, a.node()) >= 0)
                    .map(a -> a.renumbered(numbers))
                    .toList();
        });
    }

    private static <T extends Refers<T>> List<T> all(
            Renumbering numbers, Renumbering.Kind kind, List<T> things, boolean change) {
        List<T> kept = numbers.list(kind, things);
        return change ? kept.stream().map(t -> t.renumbered(numbers)).toList() : kept;
    }

    /**
     * Influences follow the joints that stay in their skin. A mesh that two skins move, which do not lose the same, becomes
     * two.
     */
    private Asset withJointPositions(Renumbering numbers) {
        List<Mesh> changed = new ArrayList<>(meshes);
        List<Node> standing = new ArrayList<>(nodes);
        Map<Integer, Map<List<Integer>, Integer>> done = new HashMap<>();
        for (int n = 0; n < standing.size(); n++) {
            Node node = standing.get(n);
            if (node.mesh() < 0 || node.skin() < 0 || !meshes.get(node.mesh()).skinned()) {
                continue;
            }
            int[] positions = skins.get(node.skin()).positions(numbers);
            Map<List<Integer>, Integer> ofMesh = done.computeIfAbsent(node.mesh(), m -> new HashMap<>());
            List<Integer> key = Arrays.stream(positions).boxed().toList();
            Integer there = ofMesh.get(key);
            if (there == null) {
                Mesh mesh = meshes.get(node.mesh());
                Mesh moved = Renumbering.isCounting(positions) ? mesh : mesh.withJoints(positions);
                there = ofMesh.isEmpty() ? node.mesh() : changed.size();
                if (there == changed.size()) {
                    changed.add(moved.withName(moved.name() + "_" + there));
                } else {
                    changed.set(there, moved);
                }
                ofMesh.put(key, there);
            }
            if (there != node.mesh()) {
                standing.set(n, node.withMesh(there, node.skin()));
            }
        }
        return withMeshes(changed).withNodes(standing);
    }

    private Asset with(Consumer<Parts> change) {
        Parts parts = new Parts(this);
        change.accept(parts);
        return parts.asset();
    }

    /** What an asset is made of while a copy is made. */
    private static final class Parts {
        private String name;
        private Conventions conventions;
        private List<Node> nodes;
        private List<Mesh> meshes;
        private List<Skin> skins;
        private List<Material> materials;
        private List<Texture> textures;
        private List<Image> images;
        private List<Passthrough> cameras;
        private List<Clip> clips;
        private List<Scene> scenes;
        private int scene;
        private List<Attached> attached;
        private Passthrough carried;
        private List<String> notes;

        Parts(Asset of) {
            name = of.name;
            conventions = of.conventions;
            nodes = of.nodes;
            meshes = of.meshes;
            skins = of.skins;
            materials = of.materials;
            textures = of.textures;
            images = of.images;
            cameras = of.cameras;
            clips = of.clips;
            scenes = of.scenes;
            scene = of.scene;
            attached = of.attached;
            carried = of.carried;
            notes = of.notes;
        }

        Asset asset() {
            return new Asset(
                    name,
                    conventions,
                    nodes,
                    meshes,
                    skins,
                    materials,
                    textures,
                    images,
                    cameras,
                    clips,
                    scenes,
                    scene,
                    attached,
                    carried,
                    notes);
        }
    }
}
