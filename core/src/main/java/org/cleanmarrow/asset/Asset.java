package org.cleanmarrow.asset;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
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
        List<Carried> cameras,
        List<Clip> clips,
        List<Scene> scenes,
        int scene,
        Carried carried,
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
                List.of(new Scene("", roots, Carried.NONE)),
                0,
                Carried.NONE,
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
            refs[n] = own.isEmpty() || counts.get(own) > 1 ? "#" + n : own;
        }
        return refs;
    }

    /** The node that {@link #nodeRef} names, or -1. */
    public int findNode(String ref) {
        return find(ref, nodes.stream().map(Node::name).toList());
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
        return find(ref, meshes.stream().map(Mesh::name).toList());
    }

    /** The clip of that name (or {@code #number}), or -1. */
    public int findClip(String ref) {
        return find(ref, clips.stream().map(Clip::name).toList());
    }

    private static int find(String ref, List<String> names) {
        int first = names.indexOf(ref);
        if (first >= 0 && !ref.isEmpty() && names.lastIndexOf(ref) == first) {
            return first;
        }
        if (ref.startsWith("#")) {
            try {
                int number = Integer.parseInt(ref.substring(1));
                return number >= 0 && number < names.size() ? number : -1;
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

    public Asset withConventions(Conventions changed) {
        return with(p -> p.conventions = changed);
    }

    public Asset withName(String changed) {
        return with(p -> p.name = changed);
    }

    public Asset withCarried(Carried changed) {
        return with(p -> p.carried = changed);
    }

    public Asset withNotes(List<String> changed) {
        return with(p -> p.notes = changed);
    }

    private Asset with(Consumer<Parts> change) {
        Parts parts = new Parts(this);
        change.accept(parts);
        return parts.asset();
    }

    /** What an asset is made of while a copy is made. */
    private static final class Parts {
        private final Asset of;
        private String name;
        private Conventions conventions;
        private List<Node> nodes;
        private List<Mesh> meshes;
        private List<Skin> skins;
        private List<Material> materials;
        private List<Texture> textures;
        private List<Image> images;
        private List<Clip> clips;
        private List<Scene> scenes;
        private Carried carried;
        private List<String> notes;

        Parts(Asset of) {
            this.of = of;
            name = of.name;
            conventions = of.conventions;
            nodes = of.nodes;
            meshes = of.meshes;
            skins = of.skins;
            materials = of.materials;
            textures = of.textures;
            images = of.images;
            clips = of.clips;
            scenes = of.scenes;
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
                    of.cameras,
                    clips,
                    scenes,
                    of.scene,
                    carried,
                    notes);
        }
    }
}
