package org.cleanmarrow.pose;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/**
 * One use of a mesh by a node.
 *
 * @param skin index, or -1 where the node itself carries the mesh
 */
public record MeshPlace(int node, int mesh, int skin) {
    /** What to call this use: the node's name where it has one, otherwise the mesh's. */
    public String label(Asset asset) {
        String node = asset.nodes().get(this.node).name();
        Mesh used = asset.meshes().get(mesh);
        return used.name().isEmpty() ? (node.isEmpty() ? "#" + this.node : node) : used.name();
    }
}
