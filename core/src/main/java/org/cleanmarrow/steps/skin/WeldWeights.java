package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Seams;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Gives vertices that lie on one place the same weights, their mean: those that a UV seam or hard edge parted, and those
 * of neighbouring parts with the same joints. Otherwise a seam gapes when the pose moves.
 */
@StepInfo(
        name = "weld-weights",
        says = "Gives vertices that lie on one place the same weights, across seams and parts.")
public record WeldWeights(
        @Parameter(says = "joints a vertex at most", fallback = "8", least = 1, most = 255)
        int most) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        Map<Integer, Map<Integer, Row>> rows = new HashMap<>();
        List<Seams.Seam> open = Seams.open(asset, 0);
        for (Seams.Seam seam : open) {
            Row mean = seam.mean();
            mean.keep(most);
            if (!mean.normalise()) {
                continue;
            }
            mean.sort();
            for (Seams.Corner corner : seam.corners()) {
                Row own = new Row();
                for (int i = 0; i < mean.size(); i++) {
                    own.append(
                            asset.skins().get(asset.skinOfMesh(corner.mesh())).indexOfNode(mean.joint(i)),
                            mean.weight(i));
                }
                rows.computeIfAbsent(corner.mesh(), k -> new HashMap<>()).put(corner.vertex(), own);
            }
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        long[] changed = {0};
        for (var entry : rows.entrySet()) {
            Mesh mesh = meshes.get(entry.getKey());
            java.util.BitSet which = new java.util.BitSet();
            entry.getValue().keySet().forEach(which::set);
            long[] here = {0};
            meshes.set(
                    entry.getKey(),
                    WeightRows.edit(
                            mesh,
                            which,
                            (row, v) -> {
                                row.clear();
                                row.add(Objects.requireNonNull(entry.getValue().get(v)), 1);
                                return true;
                            },
                            here));
            changed[0] += here[0];
        }
        return Change.of(changed[0] == 0 ? asset : asset.withMeshes(meshes))
                .count("seams.closed", open.size())
                .count("vertices.changed", changed[0]);
    }
}
