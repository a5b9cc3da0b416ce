package org.cleanmarrow.collision;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Which collider belongs to which body. */
public final class Bodies {
    private Bodies() {}

    public static List<Collider> colliders(Asset asset) {
        return asset.attached(Collider.class);
    }

    public static List<RigidBody> all(Asset asset) {
        return asset.attached(RigidBody.class);
    }

    public static List<RigidJoint> joints(Asset asset) {
        return asset.attached(RigidJoint.class);
    }

    /** What to call a collider: its own name, or its node's. */
    public static String name(Asset asset, Collider collider) {
        return collider.name().isEmpty() ? asset.nodeRef(collider.node()) : collider.name();
    }

    /** Colliders that a pattern names by their own names or those of their nodes, in their order; none may fit. */
    public static List<Collider> named(Asset asset, String pattern) {
        NamePattern names = new NamePattern(pattern);
        String[] refs = asset.nodeRefs();
        return colliders(asset).stream()
                .filter(c -> names.fits(c.name())
                        || names.fits(refs[c.node()])
                        || names.fits(asset.nodes().get(c.node()).name()))
                .toList();
    }

    /** The collider of a name at a node, the first of several. */
    public static Optional<Collider> at(Asset asset, int node, String name) {
        return colliders(asset).stream()
                .filter(c -> c.node() == node && c.name().equals(name))
                .findFirst();
    }

    /** From a node's axes into the same ones without the node's scale, right-handed, in metres. */
    public static Matrix4d toMetres(Asset asset, int node) {
        return toMetres(asset, new Rig(asset).rest().world()[node]);
    }

    /** The same where the node stands as {@code world} says. */
    public static Matrix4d toMetres(Asset asset, Matrix4d world) {
        double metres = asset.conventions().metresPerUnit();
        Vector3d scale = world.getScale(new Vector3d()).mul(metres);
        return new Matrix4d().scaling(world.determinant3x3() < 0 ? -scale.x : scale.x, scale.y, scale.z);
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
     * For every node the node of the body that what stands at it belongs to: itself or the nearest above it, or itself where none
     * has one.
     *
     * @param bodies nodes that have one, or are to have one
     */
    public static int[] bearers(Asset asset, BitSet bodies) {
        int[] parents = asset.parents();
        int[] above = new int[parents.length];
        for (int n : asset.topDown()) {
            above[n] = bodies.get(n) ? n : parents[n] < 0 ? -1 : above[parents[n]];
        }
        int[] out = new int[parents.length];
        Arrays.setAll(out, n -> above[n] < 0 ? n : above[n]);
        return out;
    }

    /** The bodies by their nodes; of two at one node the first. */
    public static Map<Integer, RigidBody> byNode(Asset asset) {
        Map<Integer, RigidBody> out = new HashMap<>();
        all(asset).forEach(body -> out.putIfAbsent(body.node(), body));
        return out;
    }

    /** Cubic metres of the solid colliders of a body. @param more nodes that are to be bodies beside those that are */
    public static double volume(Asset asset, int node, BitSet more) {
        BitSet bodies = nodes(asset);
        bodies.or(more);
        int[] bearers = bearers(asset, bodies);
        Matrix4d[] world = new Rig(asset).rest().world();
        double sum = 0;
        for (Collider c : colliders(asset)) {
            if (c.role() == Collider.Role.SOLID && bearers[c.node()] == node) {
                sum += cubicMetres(asset, world, c);
            }
        }
        return sum;
    }

    /** How much room a collider takes, its node's scale included; 0 where it collides as it is drawn. */
    public static double cubicMetres(Asset asset, Matrix4d[] world, Collider collider) {
        double metres = asset.conventions().metresPerUnit();
        return collider.shape().volume() * Math.abs(world[collider.node()].determinant3x3()) * metres * metres * metres;
    }

    /** Full extents of a collider along its own axes in metres, its node's scale included. */
    public static Vector3d sizeMetres(Asset asset, Matrix4d[] world, Collider collider) {
        Matrix4d at = new Matrix4d(world[collider.node()]).mul(collider.at().matrix());
        return collider.shape()
                .size()
                .mul(at.getScale(new Vector3d()))
                .mul(asset.conventions().metresPerUnit());
    }
}
