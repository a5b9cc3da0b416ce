package org.cleanmarrow.weights;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Meshes as they stand at rest in the world. */
public final class RestSurface {
    private RestSurface() {}

    /** The surface of a mesh where it first stands; vertices that follow nothing lie where their joints would have them. */
    public static WeldedSurface of(Asset asset, int mesh) {
        return new WeldedSurface(MeshTopology.of(asset.meshes().get(mesh)), standing(asset, mesh));
    }

    /** The same, 3 numbers a vertex. */
    static float[] standing(Asset asset, int number) {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == number)
                .findFirst()
                .orElseThrow();
        Pose rest = new Rig(asset).rest();
        Matrix4d[] world = rest.world();
        float[] out = new float[deformer.vertexCount(place) * 3];
        deformer.deform(place, rest, world, new Matrix4d(), out, null, true);
        if (place.skin() < 0) {
            return out;
        }
        Skin skin = asset.skins().get(place.skin());
        Mesh mesh = asset.meshes().get(number);
        Matrix4d bound = world[skin.joints()[0]].mul(skin.inverseBind(0), new Matrix4d());
        float[] lie = MeshTopology.restPositions(mesh);
        var rows = WeldedWeights.rows(mesh);
        for (int v = 0; v < lie.length / 3; v++) {
            if (!(rows.apply(v).sum() > 0)) {
                Vector3d at = bound.transformPosition(new Vector3d(lie[v * 3], lie[v * 3 + 1], lie[v * 3 + 2]));
                out[v * 3] = (float) at.x;
                out[v * 3 + 1] = (float) at.y;
                out[v * 3 + 2] = (float) at.z;
            }
        }
        return out;
    }
}
