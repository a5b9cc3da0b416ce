package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.query.Movers;
import org.cleanmarrow.work.Refused;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * The node that carries a part and nothing else, so that its keys move that part alone: the part's own node or joint, or a
 * new one in the same place below it.
 *
 * @param node  in {@code asset}
 * @param added whether it was made
 */
public record Carrier(Asset asset, int node, boolean added) {
    private static final String MADE = "_shown";

    /**
     * Finds or makes it.
     *
     * @param named node of a mesh, or a joint; or what one was made for before
     * @param usual whether a node may be taken as it is, if it carries nothing else
     * @throws Refused where nothing hangs on the node, or its skin follows several joints
     */
    public static Carrier of(Asset asset, int named, Fits usual) throws Refused {
        int part = carried(asset, named);
        Node node = asset.nodes().get(part);
        if (node.mesh() >= 0 && node.skin() < 0) {
            return usual.at(part) && node.children().length == 0 && node.local().matrix() == null
                    ? new Carrier(asset, part, false)
                    : ofMesh(asset, part);
        }
        int joint = node.mesh() >= 0 ? onlyJoint(asset, part) : part;
        List<Integer> moved = movedBy(asset, joint);
        if (moved.isEmpty()) {
            throw new Refused("carrier.nothing", asset.nodeRef(joint));
        }
        List<Integer> meshes = node.mesh() >= 0 ? List.of(node.mesh()) : moved;
        Node own = asset.nodes().get(joint);
        boolean alone =
                own.mesh() < 0 && own.children().length == 0 && own.local().matrix() == null;
        return alone && usual.at(joint) && moved.equals(meshes)
                ? new Carrier(asset, joint, false)
                : ofJoint(asset, joint, meshes);
    }

    /** The node that was made earlier for one that carries nothing any more; otherwise that one. */
    private static int carried(Asset asset, int named) {
        Node node = asset.nodes().get(named);
        int made = asset.findNode(node.name() + MADE);
        boolean below = made >= 0 && asset.parents()[made] == named;
        return below && node.mesh() < 0 && movedBy(asset, named).isEmpty() ? made : named;
    }

    /** Whether what is there already leaves room for the keys that are to come. */
    public interface Fits {
        boolean at(int node);
    }

    private static Carrier ofMesh(Asset asset, int part) throws Refused {
        Node node = asset.nodes().get(part);
        Asset placed = below(asset, part, node.mesh(), node.weights());
        int made = placed.nodes().size() - 1;
        List<Node> nodes = new ArrayList<>(placed.nodes());
        nodes.set(part, bare(nodes.get(part)));
        return new Carrier(
                placed.withNodes(nodes)
                        .mapClips(clip -> clip.withChannels(clip.channels().stream()
                                .map(c -> c.node() == part && c.shapes() ? c.withNode(made) : c)
                                .toList())),
                made,
                true);
    }

    private static Node bare(Node n) {
        return new Node(n.name(), n.local(), n.children(), -1, -1, n.camera(), null, n.ships(), n.carried());
    }

    private static Asset below(Asset asset, int parent, int mesh, float @Nullable [] weights) throws Refused {
        Node above = asset.nodes().get(parent);
        String name = above.name() + MADE;
        if (asset.nodes().stream().anyMatch(n -> n.name().equals(name))) {
            throw new Refused("name.taken", name);
        }
        Node made = new Node(name, Local.IDENTITY, new int[0], mesh, -1, -1, weights, above.ships(), Passthrough.NONE);
        return NewNodes.under(asset, parent, made);
    }

    private static Carrier ofJoint(Asset asset, int joint, List<Integer> meshes) throws Refused {
        Asset placed = below(asset, joint, -1, null);
        int made = placed.nodes().size() - 1;
        List<Skin> skins = new ArrayList<>(placed.skins());
        List<Mesh> changed = new ArrayList<>(placed.meshes());
        for (int m : meshes) {
            int s = asset.skinOfMesh(m);
            int own = skins.get(s).indexOfNode(joint);
            if (skins.get(s).indexOfNode(made) < 0) {
                Matrix4d bind = skins.get(s).inverseBind(own);
                skins.set(s, skins.get(s).plus(List.of(made), List.of(bind)));
            }
            int[] positions = new int[skins.get(s).joints().length];
            for (int j = 0; j < positions.length; j++) {
                positions[j] = j == own ? skins.get(s).indexOfNode(made) : j;
            }
            changed.set(m, changed.get(m).withJoints(positions));
        }
        return new Carrier(placed.withSkins(skins).withMeshes(changed), made, true);
    }

    /** The node of the one joint that moves a skinned part whole. */
    private static int onlyJoint(Asset asset, int part) throws Refused {
        Node node = asset.nodes().get(part);
        BitSet moves = Movers.positions(asset.meshes().get(node.mesh()));
        if (moves.cardinality() != 1) {
            throw new Refused("carrier.joints", asset.nodeRef(part), moves.cardinality());
        }
        return asset.skins().get(node.skin()).joints()[moves.nextSetBit(0)];
    }

    /** Numbers of the meshes that a joint has a share in. */
    private static List<Integer> movedBy(Asset asset, int joint) {
        List<Integer> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            int s = asset.skinOfMesh(m);
            int own = s < 0 ? -1 : asset.skins().get(s).indexOfNode(joint);
            if (own >= 0 && Movers.positions(asset.meshes().get(m)).get(own)) {
                out.add(m);
            }
        }
        return out;
    }
}
