package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Local;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Node;
import org.cleanmarrow.geometry.ShapeMap;
import org.joml.Matrix4d;

/** Changes of nodes and of the meshes at them that are collected and then made together, keys and all. */
final class NodeEdits {
    private final Asset asset;
    private final NodeMap[] maps;
    private final List<Node> nodes;
    private final List<Mesh> meshes;

    NodeEdits(Asset asset) {
        this.asset = asset;
        maps = new NodeMap[asset.nodes().size()];
        nodes = new ArrayList<>(asset.nodes());
        meshes = new ArrayList<>(asset.meshes());
    }

    /** Changes a node's transform at rest and in every key. */
    void map(int n, NodeMap map) {
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

    void local(int n, Local local) {
        nodes.set(n, nodes.get(n).withLocal(local));
    }

    /** Moves the data of the mesh at a node; a mesh that stands elsewhere too is copied first. */
    void shape(int n, Matrix4d by) {
        Node node = nodes.get(n);
        Mesh moved = new ShapeMap(by).apply(meshes.get(node.mesh()));
        boolean shared =
                nodes.stream().filter(other -> other.mesh() == node.mesh()).count() > 1;
        if (shared) {
            nodes.set(n, node.withMesh(meshes.size(), node.skin()));
            meshes.add(moved.withName(moved.name() + "_" + meshes.size()));
        } else {
            meshes.set(node.mesh(), moved);
        }
    }

    Asset done() {
        return asset.withNodes(nodes).withMeshes(meshes).withClips(Channels.rewritten(asset, maps));
    }
}
