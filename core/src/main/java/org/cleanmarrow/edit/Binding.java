package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Refused;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Skins as they stand at rest, and meshes brought onto them there. */
public final class Binding {
    private Binding() {}

    /** A skin with further joints that, at rest, do to a mesh what its others do. */
    public static Skin longer(Asset asset, Skin skin, List<Integer> nodes) throws Refused {
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d bound = bound(asset, skin, world);
        return skin.plus(
                nodes,
                nodes.stream()
                        .map(n -> world[n].invert(new Matrix4d()).mul(bound))
                        .toList());
    }

    /** What the joints do to a mesh at rest, which must be one and the same for all of them. */
    public static Matrix4d bound(Asset asset, Skin skin, Matrix4d[] world) throws Refused {
        Matrix4d bound = null;
        for (int j = 0; j < skin.joints().length; j++) {
            Matrix4d here = new Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
            // What float32 holds of a place grows with how far it is from the origin.
            double reach =
                    1 + world[skin.joints()[j]].getTranslation(new Vector3d()).length();
            if (bound != null && !bound.equals(here, 1e-4 * reach)) {
                throw new Refused("binding.not.at.bind", asset.nodeRef(skin.joints()[j]));
            }
            bound = bound == null ? here : bound;
        }
        return bound == null ? new Matrix4d() : bound;
    }

    /** A part that was not skinned brought onto a skin where it stands, as yet without weights. */
    public static Asset toSkin(Asset asset, int mesh, int skin) throws Refused {
        int node = -1;
        for (int n = 0; n < asset.nodes().size(); n++) {
            if (asset.nodes().get(n).mesh() == mesh) {
                if (node >= 0) {
                    throw new Refused("binding.twice", asset.meshRef(mesh));
                }
                node = n;
            }
        }
        if (node < 0) {
            throw new Refused("part.no.mesh", asset.meshRef(mesh));
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d into = bound(asset, asset.skins().get(skin), world).invert().mul(world[node]);
        Mesh shaped = asset.skinOfMesh(mesh) >= 0
                ? asset.meshes().get(mesh)
                : new ShapeMap(into).apply(asset.meshes().get(mesh));
        Mesh bare = shaped.withPrimitives(shaped.primitives().stream()
                .map(p -> p.influences() == null ? p.withInfluences(empty(p)) : p)
                .toList());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(node, nodes.get(node).withMesh(mesh, asset.skinOfMesh(mesh) >= 0 ? asset.skinOfMesh(mesh) : skin));
        return asset.withNodes(nodes).withMesh(mesh, bare);
    }

    /** The asset with a mesh on a skin: its own, or the first there is. */
    public static Asset withSkin(Asset asset, int mesh) throws Refused {
        int own = asset.skinOfMesh(mesh);
        if (own >= 0 && asset.meshes().get(mesh).skinned()) {
            return asset;
        }
        if (asset.skins().isEmpty()) {
            throw new Refused("binding.no.skin", asset.meshRef(mesh));
        }
        return toSkin(asset, mesh, own >= 0 ? own : 0);
    }

    private static Influences empty(Primitive p) {
        return new Influences(new int[p.vertexCount() + 1], new int[0], new float[0]);
    }
}
