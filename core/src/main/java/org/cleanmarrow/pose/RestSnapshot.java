package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.ShapeMap;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** An asset as it stands at rest, with nothing left that could move it. */
public final class RestSnapshot {
    private RestSnapshot() {}

    /**
     * Every use of a mesh as a part of its own at the origin, its vertices where the rest pose has them, in the same
     * order. Vertices that the rest pose does not move keep their numbers to the last bit. Skins, clips, morph targets
     * and cameras are left out.
     */
    public static Asset of(Asset asset) {
        Deformer deformer = new Deformer(asset);
        Pose rest = new Rig(asset).rest();
        Matrix4d[] world = rest.world();
        List<Node> nodes = new ArrayList<>();
        List<Mesh> meshes = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
            Node node = asset.nodes().get(place.node());
            String name =
                    node.name().isEmpty() ? asset.meshes().get(place.mesh()).name() : node.name();
            nodes.add(
                    Node.group(name, Local.IDENTITY).withMesh(meshes.size(), -1).withShips(node.ships()));
            meshes.add(still(asset, place, deformer, rest, world).withName(name));
        }
        Asset plain = Asset.of(asset.name(), asset.conventions(), nodes, meshes, List.of(), List.of());
        return plain.withPictures(asset.materials(), asset.textures(), asset.images());
    }

    private static Mesh still(Asset asset, MeshPlace place, Deformer deformer, Pose rest, Matrix4d[] world) {
        Mesh mesh = asset.meshes().get(place.mesh());
        double[] morph = rest.morph(place.node());
        boolean shaped = morph != null && java.util.Arrays.stream(morph).anyMatch(w -> w != 0);
        Matrix4d common = place.skin() < 0 ? world[place.node()] : commonBind(asset, place, world);
        if (common != null && !shaped) {
            Mesh bare = bare(mesh);
            return isUnit(common) ? bare : new ShapeMap(common).apply(bare);
        }
        float[] positions = new float[deformer.vertexCount(place) * 3];
        float[] normals = new float[positions.length];
        deformer.deform(place, rest, world, new Matrix4d(), positions, normals, true);
        List<Primitive> out = new ArrayList<>();
        int first = 0;
        for (Primitive p : bare(mesh).primitives()) {
            int length = p.vertexCount() * 3;
            float[] own = java.util.Arrays.copyOfRange(positions, first, first + length);
            float[] up = p.normals() == null
                    ? null
                    : ShapeMap.unitNormals(java.util.Arrays.copyOfRange(normals, first, first + length));
            // Tangents of a bent shape are not known; they can be found again from texture coordinates.
            out.add(p.withShape(own, up, null, List.of()));
            first += length;
        }
        return mesh.withPrimitives(out);
    }

    private static Mesh bare(Mesh mesh) {
        List<Primitive> out = mesh.primitives().stream()
                .map(p -> p.withInfluences(null).withShape(p.positions(), p.normals(), p.tangents(), List.of()))
                .toList();
        return new Mesh(mesh.name(), out, null, List.of(), mesh.carried());
    }

    /** What all joints of a skin do to the mesh at rest, where they agree; otherwise null. */
    private static @Nullable Matrix4d commonBind(Asset asset, MeshPlace place, Matrix4d[] world) {
        var skin = asset.skins().get(place.skin());
        Matrix4d common = null;
        for (int j = 0; j < skin.joints().length; j++) {
            Matrix4d here = new Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
            if (common == null) {
                common = here;
            } else if (!here.equals(common, 1e-5 * reach(common))) {
                return null;
            }
        }
        boolean whole = asset.meshes().get(place.mesh()).primitives().stream()
                .allMatch(p -> p.influences() != null && sumsAreOne(p));
        return whole ? common : null;
    }

    private static boolean sumsAreOne(Primitive p) {
        for (int v = 0; v < p.vertexCount(); v++) {
            if (Math.abs(Objects.requireNonNull(p.influences()).sum(v) - 1) > 1e-3) {
                return false;
            }
        }
        return true;
    }

    private static boolean isUnit(Matrix4d m) {
        return m.equals(new Matrix4d(), 1e-5 * reach(m));
    }

    private static double reach(Matrix4d m) {
        return Math.max(1, m.getTranslation(new Vector3d()).length());
    }
}
