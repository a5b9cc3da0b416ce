package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.jspecify.annotations.Nullable;

/** Places where several vertices lie and do not follow the same joints alike. */
public final class Seams {
    private Seams() {}

    /** One vertex at a seam. */
    public record Corner(int mesh, int vertex) {}

    /**
     * Vertices on one place.
     *
     * @param mean   their mean weights, by node
     * @param spread the largest difference of one joint's weight among them
     */
    public record Seam(List<Corner> corners, Row mean, double spread) {}

    private record Key(int x, int y, int z) {}

    /**
     * Seams that are open by more than a weight. Parts count together where all joints that move the place are in the
     * skins of all its parts.
     */
    public static List<Seam> open(Asset asset, double over) {
        Map<Key, List<Corner>> byPlace = new HashMap<>();
        List<java.util.function.IntFunction<Row>> rows = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            rows.add(WeldedWeights.rows(mesh));
            if (asset.skinOfMesh(m) < 0 || !mesh.skinned()) {
                continue;
            }
            // As they are bound: parts of one skin lie in one space.
            float[] at = org.cleanmarrow.surface.MeshTopology.restPositions(mesh);
            for (int v = 0; v < at.length / 3; v++) {
                Key key = new Key(
                        Float.floatToIntBits(at[v * 3] + 0f),
                        Float.floatToIntBits(at[v * 3 + 1] + 0f),
                        Float.floatToIntBits(at[v * 3 + 2] + 0f));
                byPlace.computeIfAbsent(key, k -> new ArrayList<>(2)).add(new Corner(m, v));
            }
        }
        List<Seam> out = new ArrayList<>();
        for (List<Corner> corners : byPlace.values()) {
            if (corners.size() > 1) {
                Seam seam = seam(asset, corners, rows);
                if (seam != null && seam.spread > over) {
                    out.add(seam);
                }
            }
        }
        return out;
    }

    private static @Nullable Seam seam(
            Asset asset, List<Corner> corners, List<java.util.function.IntFunction<Row>> rows) {
        Row mean = new Row();
        Row least = new Row();
        Row most = new Row();
        int many = 0;
        for (Corner c : corners) {
            Skin skin = asset.skins().get(asset.skinOfMesh(c.mesh()));
            Row row = rows.get(c.mesh()).apply(c.vertex());
            for (int i = 0; i < row.size(); i++) {
                int node = skin.joints()[row.joint(i)];
                mean.add(node, row.weight(i));
                most.add(node, Math.max(0, row.weight(i) - most.of(node)));
            }
            for (int i = 0; i < mean.size(); i++) {
                int node = mean.joint(i);
                double own = row.of(skin.indexOfNode(node));
                if (least.indexOf(node) < 0) {
                    // A joint that those before did not have was zero there.
                    least.append(node, many == 0 ? own : 0);
                } else {
                    least.add(node, Math.min(0, own - least.of(node)));
                }
            }
            many++;
        }
        for (Corner c : corners) {
            Skin skin = asset.skins().get(asset.skinOfMesh(c.mesh()));
            for (int i = 0; i < mean.size(); i++) {
                if (skin.indexOfNode(mean.joint(i)) < 0) {
                    return null;
                }
            }
        }
        double spread = 0;
        for (int i = 0; i < most.size(); i++) {
            spread = Math.max(spread, most.weight(i) - least.of(most.joint(i)));
        }
        mean.scale(1.0 / corners.size());
        return new Seam(corners, mean, spread);
    }
}
