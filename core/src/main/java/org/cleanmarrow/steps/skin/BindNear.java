package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * Binds vertices to the joints whose bones are within a radius in a straight line, the nearer the more; those that no bone
 * is so near to follow the nearest one alone. With one joint named, everything follows it rigidly. A part without a skin is
 * bound to that of another mesh.
 */
@StepInfo(
        name = "bind-near",
        says = "Binds vertices to the joints within a radius in a straight line, or to one joint.")
public record BindNear(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "vertices that get weights", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "joints to bind to, with * and commas between", fallback = "\"*\"")
        String joints,

        @Parameter(says = "joints to leave out, with * and commas between", fallback = "\"\"")
        String without,

        @Parameter(says = "radius around a bone; 0: the nearest joint alone", fallback = "0.0", unit = "mm", least = 0)
        double radiusMillimetres,

        @Parameter(says = "joints a vertex at most", fallback = "4", least = 1, most = 255)
        int most)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(radiusMillimetres >= 0)) {
            throw new Refused("mirror.tolerance", radiusMillimetres);
        }
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        int number = Names.mesh(asset, mesh);
        Asset bound = Binding.withSkin(asset, number);
        Skin skin = WeightRows.skin(bound, number);
        BitSet chosen = WeightRows.locked(bound, skin, joints);
        chosen.andNot(WeightRows.locked(bound, skin, without));
        if (chosen.isEmpty()) {
            throw new Refused("bind.no.joints", joints);
        }
        Bones bones = Bones.of(bound, skin);
        WeldedSurface surface = RestSurface.of(bound, number);
        double radius = radiusMillimetres / 1000 / asset.conventions().metresPerUnit();
        int[] list = chosen.stream().toArray();
        Mesh old = bound.meshes().get(number);
        long[] changed = {0};
        long[] alone = {0};
        Mesh done = WeightRows.edit(
                old,
                vertices.on(old),
                (row, v) -> {
                    alone[0] += near(row, surface, surface.weldedOf(v), bones, list, radius) ? 0 : 1;
                    row.keep(most);
                    return row.normalise();
                },
                changed);
        Change change = Change.of(bound.withMesh(number, done)).count("vertices.changed", changed[0]);
        return radius == 0 || alone[0] == 0
                ? change
                : change.count("out.of.reach.given.to.the.nearest.joint", alone[0]);
    }

    /** False where no bone is within the radius. */
    private static boolean near(Row row, WeldedSurface surface, int place, Bones bones, int[] joints, double radius) {
        float[] p = surface.positions();
        Vector3d at = new Vector3d(p[place * 3], p[place * 3 + 1], p[place * 3 + 2]);
        row.clear();
        int nearest = -1;
        double best = Double.POSITIVE_INFINITY;
        for (int j : joints) {
            double d = bones.distance(j, at);
            if (d < best) {
                best = d;
                nearest = j;
            }
            if (d < radius) {
                double share = 1 - d / radius;
                row.append(j, share * share);
            }
        }
        if (row.size() == 0) {
            row.append(nearest, 1);
            return false;
        }
        return true;
    }
}
