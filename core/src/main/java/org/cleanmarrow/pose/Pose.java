package org.cleanmarrow.pose;

import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.VertexTrack;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.jspecify.annotations.Nullable;

/** Where every node stands at one moment. Made by {@link Rig}; may be changed by its owner before it is used. */
public final class Pose {
    private final Rig rig;
    final double[] translations;
    final double[] rotations;
    final double[] scales;
    final double[][] morphs;
    final VertexTrack[] caches;
    double seconds;

    Pose(Rig rig, int nodes) {
        this.rig = rig;
        translations = new double[nodes * 3];
        rotations = new double[nodes * 4];
        scales = new double[nodes * 3];
        morphs = new double[nodes][];
        caches = new VertexTrack[nodes];
    }

    /** A copy that may be changed by itself. */
    Pose(Pose of) {
        rig = of.rig;
        translations = of.translations.clone();
        rotations = of.rotations.clone();
        scales = of.scales.clone();
        morphs = of.morphs.clone();
        for (int n = 0; n < morphs.length; n++) {
            morphs[n] = morphs[n] == null ? null : morphs[n].clone();
        }
        caches = of.caches.clone();
        seconds = of.seconds;
    }

    /** Turns a node by a further rotation in its own axes, before its children follow. */
    public Pose turn(int node, Quaterniond by) {
        Quaterniond q = rotation(node).mul(by).normalize();
        rotations[node * 4] = q.x;
        rotations[node * 4 + 1] = q.y;
        rotations[node * 4 + 2] = q.z;
        rotations[node * 4 + 3] = q.w;
        return this;
    }

    public Quaterniond rotation(int node) {
        return new Quaterniond(
                        rotations[node * 4], rotations[node * 4 + 1], rotations[node * 4 + 2], rotations[node * 4 + 3])
                .normalize();
    }

    /** Morph weights in force at a node; null where its mesh has no targets. */
    public double[] morph(int node) {
        return morphs[node];
    }

    /** Positions of the vertices of the mesh at a node as a cache has them; null where none plays. */
    public float @Nullable [] vertices(int node) {
        return caches[node] == null ? null : caches[node].positions(seconds);
    }

    /** Transform of a node against its parent. */
    public Matrix4d local(int node) {
        Local rest = rig.asset().nodes().get(node).local();
        if (rest.matrix() != null) {
            return rest.toMatrix();
        }
        return new Matrix4d()
                .translationRotateScale(
                        translations[node * 3],
                        translations[node * 3 + 1],
                        translations[node * 3 + 2],
                        rotations[node * 4],
                        rotations[node * 4 + 1],
                        rotations[node * 4 + 2],
                        rotations[node * 4 + 3],
                        scales[node * 3],
                        scales[node * 3 + 1],
                        scales[node * 3 + 2]);
    }

    /** Transform of every node in the world, in the asset's own unit and axes. */
    public Matrix4d[] world() {
        Matrix4d[] world = new Matrix4d[morphs.length];
        for (int n : rig.order()) {
            Matrix4d local = local(n);
            int parent = rig.parents()[n];
            world[n] = parent < 0 ? local : local.mulLocal(world[parent]);
        }
        return world;
    }
}
