package org.cleanmarrow.model;

import org.jspecify.annotations.Nullable;

/**
 * One place in the hierarchy: a joint, a mesh's place, a camera or a plain group.
 *
 * @param name     as in the file; may be empty
 * @param local    transform against the parent
 * @param children indices of the nodes below; every node has at most one parent
 * @param mesh     index of the mesh that stands here, or -1
 * @param skin     index of the skin that moves the mesh, or -1
 * @param camera   index of the camera that stands here, or -1
 * @param weights  morph weights of this use of the mesh; null: those of the mesh
 * @param ships    false where it is left behind when the asset is delivered
 */
public record Node(
        String name,
        Local local,
        int[] children,
        int mesh,
        int skin,
        int camera,
        float @Nullable [] weights,
        boolean ships,
        Passthrough carried)
        implements Refers<Node> {

    /** A plain node without mesh, skin or camera. */
    public static Node group(String name, Local local, int... children) {
        return new Node(name, local, children, -1, -1, -1, null, true, Passthrough.NONE);
    }

    @Override
    public Node renumbered(Renumbering numbers) {
        int stands = numbers.of(Renumbering.Kind.MESH, mesh);
        boolean bare = mesh >= 0 && stands < 0;
        return new Node(
                name,
                local,
                numbers.of(Renumbering.Kind.NODE, children),
                stands,
                bare ? -1 : numbers.of(Renumbering.Kind.SKIN, skin),
                numbers.of(Renumbering.Kind.CAMERA, camera),
                bare ? null : weights,
                ships,
                carried);
    }

    public Node withName(String newName) {
        return new Node(newName, local, children, mesh, skin, camera, weights, ships, carried);
    }

    public Node withLocal(Local newLocal) {
        return new Node(name, newLocal, children, mesh, skin, camera, weights, ships, carried);
    }

    public Node withChildren(int... newChildren) {
        return new Node(name, local, newChildren, mesh, skin, camera, weights, ships, carried);
    }

    public Node withMesh(int newMesh, int newSkin) {
        return new Node(name, local, children, newMesh, newSkin, camera, weights, ships, carried);
    }

    public Node withShips(boolean changed) {
        return new Node(name, local, children, mesh, skin, camera, weights, changed, carried);
    }

    public Node withCarried(Passthrough changed) {
        return new Node(name, local, children, mesh, skin, camera, weights, ships, changed);
    }
}
