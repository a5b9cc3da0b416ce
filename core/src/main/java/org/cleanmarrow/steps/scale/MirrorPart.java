package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.naming.SideWords;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Makes the other of a pair: a part seen in a mirror that stands at the world's origin, with side words in its name
 * swapped. A skinned part follows the joints of the other side with the same weights; a rigid one hangs on the twin of
 * what its model hangs on, and has its keys mirrored.
 */
@StepInfo(name = "mirror-part", says = "Makes the other of a pair across a plane, names, joints and weights swapped.")
public record MirrorPart(
        @Parameter(says = "node of the part") String part,

        @Parameter(
                says = "side: between left and right; up: between up and down; front: between front and back",
                fallback = "\"side\"")
        Across across)
        implements Step {
    /** The plane, by what lies on its two sides. */
    public enum Across {
        SIDE,
        UP,
        FRONT;

        public Matrix3d mirror(Conventions c) {
            Vector3d normal = this == SIDE
                    ? c.left()
                    : this == UP ? c.up().vector() : c.forward().vector();
            return new Matrix3d().scaling(normal.x != 0 ? -1 : 1, normal.y != 0 ? -1 : 1, normal.z != 0 ? -1 : 1);
        }
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, part);
        Node node = asset.nodes().get(n);
        if (node.mesh() < 0) {
            throw new Refused("part.no.mesh", asset.nodeRef(n));
        }
        String name = twinName(node.name());
        if (asset.nodes().stream().anyMatch(other -> other.name().equals(name))) {
            throw new Refused("name.taken", name);
        }
        if (node.skin() >= 0 && asset.cachedNodes().get(n)) {
            throw new Refused("mirror.cache", asset.nodeRef(n));
        }
        Matrix3d mirror = across.mirror(asset.conventions());
        return node.skin() >= 0 ? skinned(asset, n, name, mirror) : rigid(asset, n, name, mirror);
    }

    private static String twinName(String name) {
        return SideWords.swapped(name).orElse(name + "_mirrored");
    }

    private static Mesh named(Mesh mesh, Node node, String twin) {
        return mesh.withName(mesh.name().equals(node.name()) ? twin : twinName(mesh.name()));
    }

    private static Change skinned(Asset asset, int n, String name, Matrix3d mirror) throws Refused {
        Node node = asset.nodes().get(n);
        Skin skin = asset.skins().get(node.skin());
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d bound = Binding.bound(asset, skin, world);
        int[] twins = twins(asset, skin);
        List<Integer> added = Arrays.stream(twins)
                .filter(t -> skin.indexOfNode(t) < 0)
                .distinct()
                .boxed()
                .toList();
        Skin longer = added.isEmpty() ? skin : Binding.longer(asset, skin, added);
        int[] number = Arrays.stream(twins).map(longer::indexOfNode).toArray();
        Matrix4d data =
                bound.invert(new Matrix4d()).mul(new Matrix4d().set3x3(mirror)).mul(bound);
        Mesh mesh = new ShapeMap(data).apply(asset.meshes().get(node.mesh())).withJoints(number);
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(named(mesh, node, name));
        List<Skin> skins = new ArrayList<>(asset.skins());
        int own = node.skin();
        if (!added.isEmpty()) {
            skins.add(longer);
            own = skins.size() - 1;
        }
        Node twin = new Node(
                name,
                node.local(),
                new int[0],
                meshes.size() - 1,
                own,
                -1,
                node.weights(),
                node.ships(),
                Passthrough.NONE);
        Asset out = NewNodes.under(asset, asset.parents()[n], twin)
                .withMeshes(meshes)
                .withSkins(skins);
        long swapped = java.util.stream.IntStream.range(0, twins.length)
                .filter(j -> twins[j] != skin.joints()[j])
                .count();
        return Change.of(out).count("parts.mirrored", 1).count("joints.with.a.twin.on.the.other.side", swapped);
    }

    /** For each joint of a skin the node of the other side, or itself where its name says no side. */
    private static int[] twins(Asset asset, Skin skin) throws Refused {
        Map<String, Integer> byName = new HashMap<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            byName.putIfAbsent(asset.nodes().get(n).name(), n);
        }
        int[] out = new int[skin.joints().length];
        for (int j = 0; j < out.length; j++) {
            String name = asset.nodes().get(skin.joints()[j]).name();
            Optional<String> twin = SideWords.swapped(name);
            if (twin.isPresent() && !byName.containsKey(twin.get())) {
                throw new Refused("mirror.no.twin", name, twin.get());
            }
            out[j] = twin.isPresent() ? Objects.requireNonNull(byName.get(twin.get())) : skin.joints()[j];
        }
        return out;
    }

    /** The node of the other side by its name; itself where there is none, -1 for the top. */
    public static int otherSide(Asset asset, int node) {
        return node < 0
                ? -1
                : SideWords.swapped(asset.nodes().get(node).name())
                        .map(asset::findNode)
                        .filter(t -> t >= 0)
                        .orElse(node);
    }

    private static Change rigid(Asset asset, int n, String name, Matrix3d mirror) throws Refused {
        Node node = asset.nodes().get(n);
        int parent = asset.parents()[n];
        int twin = otherSide(asset, parent);
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d above = parent < 0 ? new Matrix4d() : world[parent];
        Matrix4d back = twin < 0 ? new Matrix4d() : world[twin].invert(new Matrix4d());
        Matrix4d through = new Matrix4d(back).mul(new Matrix4d().set3x3(mirror)).mul(above);
        Matrix3d linear = new Matrix3d(through);
        NodeMap map = new NodeMap(
                linear,
                through.getTranslation(new Vector3d()),
                NodeMap.properPart(linear),
                NodeMap.properPart(mirror),
                new Matrix3d().scaling(Math.cbrt(Math.abs(linear.determinant()))));
        if (node.local().matrix() != null) {
            throw new Refused("mirror.matrix", asset.nodeRef(n));
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        Mesh mesh =
                new ShapeMap(new Matrix4d().set3x3(mirror)).apply(asset.meshes().get(node.mesh()));
        meshes.add(named(mesh, node, name));
        Node added = new Node(
                name,
                map.apply(node.local()),
                new int[0],
                meshes.size() - 1,
                -1,
                -1,
                node.weights(),
                node.ships(),
                Passthrough.NONE);
        Asset placed = NewNodes.under(asset, twin, added).withMeshes(meshes);
        int number = placed.nodes().size() - 1;
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : placed.clips()) {
            List<Channel> all = new ArrayList<>(clip.channels());
            clip.channels().stream()
                    .filter(c -> c.node() == n)
                    .map(c -> c.withNode(number)
                            .withTrack(
                                    c.track() instanceof VertexTrack cache
                                            ? cache.moved(new Matrix4d().set3x3(mirror))
                                            : map.apply(c.sampler(), c.path())))
                    .forEach(all::add);
            clips.add(all.size() == clip.channels().size() ? clip : clip.withChannels(all));
        }
        Change change = Change.of(placed.withClips(clips)).count("parts.mirrored", 1);
        return node.children().length == 0 ? change : change.note("mirror.children", node.children().length);
    }
}
