package org.cleanmarrow.weights;

import java.util.HashMap;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Primitive;

/** How much of each vertex's weight follows other joints than before. */
public final class WeightChange {
    private WeightChange() {}

    /**
     * Half the sum of what weights differ by, one a vertex, 0 to 1; joints are the same where their names are. All zero where
     * the two have not as many vertices, or one has no weights.
     */
    public static float[] of(Asset before, Primitive was, Asset after, Primitive is) {
        float[] out = new float[is.vertexCount()];
        if (was.influences() == null || is.influences() == null || was.vertexCount() != is.vertexCount()) {
            return out;
        }
        int[] twins = twins(before, was, after, is);
        Row then = new Row();
        Row now = new Row();
        for (int v = 0; v < out.length; v++) {
            then.clear();
            for (int i = was.influences().offsets()[v]; i < was.influences().offsets()[v + 1]; i++) {
                then.add(twins[was.influences().joints()[i]], was.influences().weights()[i]);
            }
            now.clear();
            now.load(is.influences(), v);
            double sum = 0;
            for (int i = 0; i < now.size(); i++) {
                sum += Math.abs(now.weight(i) - then.of(now.joint(i)));
            }
            for (int i = 0; i < then.size(); i++) {
                sum += now.indexOf(then.joint(i)) < 0 ? then.weight(i) : 0;
            }
            out[v] = sum < 2e-6 ? 0 : (float) Math.min(1, sum / 2);
        }
        return out;
    }

    /** Joint numbers after for those before; numbers of their own for joints that are gone. */
    private static int[] twins(Asset before, Primitive was, Asset after, Primitive is) {
        int[] old = joints(before, was);
        int[] now = joints(after, is);
        Map<String, Integer> byName = new HashMap<>();
        for (int j = 0; j < now.length; j++) {
            byName.put(after.nodes().get(now[j]).name(), j);
        }
        int[] out = new int[old.length];
        for (int j = 0; j < out.length; j++) {
            out[j] = byName.getOrDefault(before.nodes().get(old[j]).name(), -1 - j);
        }
        return out;
    }

    private static int[] joints(Asset asset, Primitive primitive) {
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (asset.meshes().get(m).primitives().contains(primitive) && asset.skinOfMesh(m) >= 0) {
                return asset.skins().get(asset.skinOfMesh(m)).joints();
            }
        }
        return new int[0];
    }
}
