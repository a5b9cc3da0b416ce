package org.cleanmarrow.collision;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;

/** Which collider belongs to which body. */
public final class Bodies {
    private Bodies() {}

    public static List<Collider> colliders(Asset asset) {
        return some(asset, Collider.class);
    }

    public static List<RigidBody> all(Asset asset) {
        return some(asset, RigidBody.class);
    }

    public static List<RigidJoint> joints(Asset asset) {
        return some(asset, RigidJoint.class);
    }

    private static <T extends Attached> List<T> some(Asset asset, Class<T> kind) {
        return asset.attached().stream()
                .filter(kind::isInstance)
                .map(kind::cast)
                .toList();
    }

    /** The body of a node, if it has one. */
    public static Optional<RigidBody> at(Asset asset, int node) {
        return all(asset).stream().filter(b -> b.node() == node).findFirst();
    }

    /** Nodes that have a body. */
    public static BitSet nodes(Asset asset) {
        BitSet out = new BitSet();
        all(asset).forEach(b -> out.set(b.node()));
        return out;
    }

    /**
     * The node of the body that something at a node belongs to: itself or the nearest above it.
     *
     * @param bodies nodes that have one, or are to have one
     * @return the node itself where none has
     */
    public static int bearer(Asset asset, int node, BitSet bodies) {
        int[] parents = asset.parents();
        for (int n = node; n >= 0; n = parents[n]) {
            if (bodies.get(n)) {
                return n;
            }
        }
        return node;
    }

    /** Cubic metres of the solid colliders of a body. @param more nodes that are to be bodies beside those that are */
    public static double volume(Asset asset, int node, BitSet more) {
        BitSet bodies = nodes(asset);
        bodies.or(more);
        double metres = asset.conventions().metresPerUnit();
        double sum = 0;
        for (Collider c : colliders(asset)) {
            if (c.role() == Collider.Role.SOLID && bearer(asset, c.node(), bodies) == node) {
                sum += c.shape().volume();
            }
        }
        return sum * metres * metres * metres;
    }
}
