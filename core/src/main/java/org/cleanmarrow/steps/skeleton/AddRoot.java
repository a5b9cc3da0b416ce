package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.TreeSet;
import org.cleanmarrow.edit.Channels;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Puts one joint at the origin above every skeleton, without rotation, scale one, moving no vertex.
 *
 * <p>Tops hang directly below it where what stood above them is a still turn, shift and even scale, which goes
 * into their rest and keys. Otherwise the whole branch that holds them hangs below it unchanged.
 */
@StepInfo(name = "add-root", says = "Puts one root joint at the origin above every skeleton; nothing moves.")
public record AddRoot(
        @Parameter(says = "name of the new joint", fallback = "\"root\"")
        String name,

        @Parameter(
                says = "first freeze node rotation and scale, so that joints take none over from above",
                fallback = "false")
        boolean freeze)
        implements Step {

    public AddRoot(String name) {
        this(name, false);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<Integer> tops = Skeletons.tops(asset);
        if (tops.isEmpty()) {
            throw new Refused("root.no.skeleton");
        }
        if (hasCleanRoot(asset)) {
            return Change.of(asset).count("roots.added", 0).note("root.already", asset.nodeRef(tops.getFirst()));
        }
        if (name.isBlank() || asset.nodes().stream().anyMatch(n -> n.name().equals(name))) {
            throw new Refused("name.taken", name);
        }
        if (!freeze) {
            return new Rooting(asset, tops, name).run();
        }
        Change frozen = new FreezeNodes().apply(asset, work);
        return new AddRoot(name).apply(frozen.asset(), work).after(frozen);
    }

    /** True where one joint at the origin, unturned and of scale one, stands above all others. */
    public static boolean hasCleanRoot(Asset asset) {
        List<Integer> tops = Skeletons.tops(asset);
        if (tops.size() != 1) {
            return false;
        }
        Matrix4d world = new Rig(asset).rest().world()[tops.getFirst()];
        return world.equals(new Matrix4d(), 1e-6)
                && asset.nodes().get(tops.getFirst()).local().toMatrix().equals(new Matrix4d(), 1e-6);
    }

    private static final class Rooting {
        private final Asset asset;
        private final List<Integer> tops;
        private final String name;
        private final List<Node> nodes;
        private final NodeMap[] maps;
        private final Matrix4d[] world;
        private final int[] parents;
        private final BitSet animated;

        Rooting(Asset asset, List<Integer> tops, String name) {
            this.asset = asset;
            this.tops = tops;
            this.name = name;
            nodes = new ArrayList<>(asset.nodes());
            maps = new NodeMap[nodes.size()];
            world = new Rig(asset).rest().world();
            parents = asset.parents();
            animated = asset.animatedNodes();
        }

        Change run() {
            TreeSet<Integer> below = new TreeSet<>();
            long lifted = 0;
            for (int top : tops) {
                if (lift(top)) {
                    below.add(top);
                    lifted++;
                } else {
                    below.add(highest(top));
                }
            }
            int root = nodes.size();
            int[] children = below.stream().mapToInt(Integer::intValue).toArray();
            for (int child : children) {
                if (parents[child] >= 0) {
                    Node above = nodes.get(parents[child]);
                    nodes.set(
                            parents[child],
                            above.withChildren(Arrays.stream(above.children())
                                    .filter(c -> c != child)
                                    .toArray()));
                }
            }
            nodes.add(Node.group(name, Local.IDENTITY, children));
            Asset out = asset.withClips(Channels.rewritten(asset, maps))
                    .withNodes(nodes)
                    .withSkins(skins(root))
                    .withScenes(scenes(root, below));
            return Change.of(out)
                    .count("roots.added", 1)
                    .count("skeleton.tops.gathered", tops.size())
                    .count("hung.in.their.branch", tops.size() - lifted);
        }

        private int highest(int node) {
            int up = node;
            while (parents[up] >= 0) {
                up = parents[up];
            }
            return up;
        }

        /** Takes a top out of its group and puts the group's transform into it; false where that cannot be done. */
        private boolean lift(int top) {
            int parent = parents[top];
            if (parent < 0) {
                return true;
            }
            for (int up = parent; up >= 0; up = parents[up]) {
                if (animated.get(up)) {
                    return false;
                }
            }
            Matrix3d linear = new Matrix3d(world[parent]);
            double factor = Math.cbrt(linear.determinant());
            Matrix3d turn = new Matrix3d(linear).scale(1 / factor);
            boolean even = factor > 0
                    && new Matrix3d(turn).mul(turn.transpose(new Matrix3d())).equals(new Matrix3d(), 1e-5);
            Local local = asset.nodes().get(top).local();
            if (!even || local.matrix() != null && !world[parent].equals(new Matrix4d(), 1e-9)) {
                return false;
            }
            if (world[parent].equals(new Matrix4d(), 1e-9)) {
                return true;
            }
            maps[top] = new NodeMap(
                    linear,
                    world[parent].getTranslation(new Vector3d()),
                    NodeMap.properPart(linear),
                    new Quaterniond(),
                    new Matrix3d().scaling(factor));
            nodes.set(top, nodes.get(top).withLocal(maps[top].apply(local)));
            return true;
        }

        private List<Skin> skins(int root) {
            List<Skin> out = new ArrayList<>();
            for (Skin skin : asset.skins()) {
                // Where the mesh stands at rest, seen from an unturned joint at the origin.
                Matrix4d bind = skin.joints().length == 0
                        ? new Matrix4d()
                        : new Matrix4d(world[skin.joints()[0]]).mul(skin.inverseBind(0));
                Skin longer = skin.plus(List.of(root), List.of(bind));
                out.add(longer.with(longer.joints(), longer.inverseBinds(), root));
            }
            return out;
        }

        private List<Scene> scenes(int root, TreeSet<Integer> below) {
            List<Scene> out = new ArrayList<>();
            for (int s = 0; s < asset.scenes().size(); s++) {
                Scene scene = asset.scenes().get(s);
                boolean holds = asset.scenes().size() == 1
                        || Arrays.stream(scene.roots())
                                .anyMatch(r -> tops.stream().anyMatch(t -> highest(t) == r));
                List<Integer> roots = new ArrayList<>();
                Arrays.stream(scene.roots()).filter(r -> !below.contains(r)).forEach(roots::add);
                if (holds) {
                    roots.add(root);
                }
                out.add(new Scene(
                        scene.name(), roots.stream().mapToInt(Integer::intValue).toArray(), scene.carried()));
            }
            if (out.isEmpty()) {
                out.add(new Scene("", new int[] {root}, Passthrough.NONE));
            }
            return out;
        }
    }
}
