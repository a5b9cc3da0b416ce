package org.cleanmarrow.pose;

import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.joml.Matrix4d;

/** How much room an asset takes as it stands. */
public final class RestBox {
    private RestBox() {}

    /** Box around all meshes of an asset in its rest pose, in its own unit and axes; finite positions only. */
    public static Box of(Asset asset) {
        Deformer deformer = new Deformer(asset);
        Pose rest = new Rig(asset).rest();
        Matrix4d[] world = rest.world();
        Box box = Box.empty();
        float[] positions = new float[0];
        for (MeshPlace place : deformer.places()) {
            int numbers = deformer.vertexCount(place) * 3;
            positions = positions.length >= numbers ? positions : new float[numbers];
            deformer.deform(place, rest, world, new Matrix4d(), positions, null, true);
            box.grow(positions, numbers);
        }
        return box;
    }
}
