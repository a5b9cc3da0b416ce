package org.cleanmarrow.kit;

import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Renumbering;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** A kind of thing that exists in tests alone: points in the axes of a node. */
public record Marker(String name, int node, float[] points) implements Attached {
    @Override
    public Marker renumbered(Renumbering numbers) {
        return withNode(numbers.of(Renumbering.Kind.NODE, node));
    }

    @Override
    public Marker withNode(int changed) {
        return new Marker(name, changed, points);
    }

    @Override
    public Marker moved(Matrix4d by) {
        float[] out = new float[points.length];
        for (int i = 0; i < points.length; i += 3) {
            Vector3d p = by.transformPosition(new Vector3d(points[i], points[i + 1], points[i + 2]));
            out[i] = (float) p.x;
            out[i + 1] = (float) p.y;
            out[i + 2] = (float) p.z;
        }
        return new Marker(name, node, out);
    }
}
