package org.cleanmarrow.desktop.desk;

import java.util.Arrays;
import java.util.Optional;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.model.Asset;

/**
 * What is in hand of the asset that is looked at.
 *
 * @param joint    as the asset names it; empty for none
 * @param compared the joint that it is compared with; empty for none
 * @param locked   names of joints, with commas between
 * @param shape    null for none
 */
record Held(String joint, String compared, String locked, Selection.ShapeName shape, Selection.Chosen chosen) {
    static final Held NOTHING = new Held("", "", "", null, Selection.Chosen.NONE);

    Held withJoint(String name) {
        return new Held(name, compared, locked, shape, chosen);
    }

    Held comparedWith(String name) {
        return new Held(joint, name, locked, shape, chosen);
    }

    Held locking(String names) {
        return new Held(joint, compared, names, shape, chosen);
    }

    Held with(Selection.ShapeName name) {
        return new Held(joint, compared, locked, name, chosen);
    }

    Held with(Selection.Chosen vertices) {
        return new Held(joint, compared, locked, shape, vertices);
    }

    /** The collision shape in hand, as it is in an asset. */
    Optional<Collider> collider(Asset asset) {
        return shape == null ? Optional.empty() : Bodies.at(asset, asset.findNode(shape.node()), shape.name());
    }

    /** What of it still means something where another asset takes the place of the one that it was taken from. */
    Held on(Asset before, Asset now) {
        boolean gone = !joint.isEmpty() && now.findNode(joint) < 0;
        return new Held(
                gone ? renamed(before, now) : joint,
                compared,
                locked,
                collider(now).isPresent() ? shape : null,
                before == now ? chosen : chosenOn(before, now));
    }

    private Selection.Chosen chosenOn(Asset before, Asset now) {
        if (chosen.mesh() < 0 || chosen.mesh() >= before.meshes().size()) {
            return Selection.Chosen.NONE;
        }
        int mesh = now.findMesh(before.meshRef(chosen.mesh()));
        boolean same = mesh >= 0
                && now.meshes().get(mesh).vertexCount()
                        == before.meshes().get(chosen.mesh()).vertexCount();
        return same ? new Selection.Chosen(mesh, chosen.vertices()) : Selection.Chosen.NONE;
    }

    /** What the joint in hand is called now, where nothing but names changed; empty where it is gone. */
    private String renamed(Asset before, Asset now) {
        int node = before.findNode(joint);
        boolean same = node >= 0 && Arrays.equals(before.parents(), now.parents());
        return same ? now.nodeRef(node) : "";
    }
}
