package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.surface.Reframed;
import org.joml.Matrix4d;

/** Changes of nodes and of the meshes at them that are collected and then made together, keys and all. */
public final class NodeEdits {
    private final Asset asset;
    private final NodeMap[] maps;
    private final List<Node> nodes;
    private final Matrix4d[] shapes;

    public NodeEdits(Asset asset) {
        this.asset = asset;
        maps = new NodeMap[asset.nodes().size()];
        nodes = new ArrayList<>(asset.nodes());
        shapes = new Matrix4d[maps.length];
    }

    /** Changes a node's transform at rest and in every key. */
    public void map(int n, NodeMap map) {
        maps[n] = map;
        Local local = nodes.get(n).local();
        if (local.matrix() == null) {
            nodes.set(n, nodes.get(n).withLocal(map.apply(local)));
        } else {
            // Such a node is not animated; scale maps are for nodes in three parts.
            Matrix4d before = new Matrix4d().translation(map.offset()).mul(new Matrix4d().set3x3(map.translation()));
            nodes.set(n, nodes.get(n).withLocal(Local.ofMatrix(before.mul(local.toMatrix()))));
        }
    }

    public void local(int n, Local local) {
        nodes.set(n, nodes.get(n).withLocal(local));
    }

    /** Moves what stands at a node within its axes: the data of its mesh, and what is attached. */
    public void shape(int n, Matrix4d by) {
        shapes[n] = by;
    }

    public Asset done() {
        return Reframed.of(asset.withNodes(nodes).withClips(Channels.rewritten(asset, maps)), shapes, shapes);
    }
}
