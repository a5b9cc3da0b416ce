package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** One of two assets that are compared, seen in metres and glTF's axes. */
final class Side {
    final Asset asset;
    final Rig rig;
    final Deformer deformer;
    final Matrix4d view;
    final Matrix4d[] rest;
    /** Nodes at which vertex caches play. */
    final BitSet cached;

    Side(Asset asset) {
        this.asset = asset;
        rig = new Rig(asset);
        deformer = new Deformer(asset);
        view = Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        rest = rig.rest().world();
        cached = asset.cachedNodes();
    }

    float[] positions(MeshPlace place, Pose pose, Matrix4d[] world, int[] some) {
        float[] out = new float[some.length * 3];
        if (some.length * 2 < deformer.vertexCount(place)) {
            deformer.deformSome(place, pose, world, view, some, out);
            return out;
        }
        float[] all = new float[deformer.vertexCount(place) * 3];
        deformer.deform(place, pose, world, view, all, null, false);
        if (some.length * 3 == all.length && isCounting(some)) {
            return all;
        }
        for (int i = 0; i < some.length; i++) {
            System.arraycopy(all, some[i] * 3, out, i * 3, 3);
        }
        return out;
    }

    private static boolean isCounting(int[] numbers) {
        for (int i = 0; i < numbers.length; i++) {
            if (numbers[i] != i) {
                return false;
            }
        }
        return true;
    }

    Pose pose(@Nullable Clip clip, double seconds, int target) {
        Pose pose = clip == null ? rig.rest() : rig.at(clip, seconds);
        for (int n = 0; target >= 0 && n < asset.nodes().size(); n++) {
            double[] morph = pose.morph(n);
            if (morph != null) {
                Arrays.fill(morph, 0);
                if (target < morph.length) {
                    morph[target] = 1;
                }
            }
        }
        return pose;
    }

    /** The farthest that anything lies from the origin at rest, in metres; at least the size of what is there. */
    double reach() {
        double far = 0;
        Box box = RestBox.of(asset);
        if (!box.isEmpty()) {
            Vector3d most = new Vector3d(box.min()).absolute().max(new Vector3d(box.max()).absolute());
            far = most.length();
        }
        for (Matrix4d m : rest) {
            double at = m.getTranslation(new Vector3d()).length();
            far = Double.isFinite(at) ? Math.max(far, at) : far;
        }
        return far * asset.conventions().metresPerUnit();
    }

    int depth() {
        int[] parents = asset.parents();
        int[] depth = new int[parents.length];
        int most = 0;
        for (int n : asset.topDown()) {
            depth[n] = parents[n] < 0 ? 1 : depth[parents[n]] + 1;
            most = Math.max(most, depth[n]);
        }
        return most;
    }
}
