package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import java.util.Locale;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Binds a mesh by itself: every vertex follows the joints that are near through the volume of the mesh, not through air, so
 * that an arm beside the body leaves it alone. Open, many-shelled and self-touching meshes are taken as they are. A part
 * without a skin is bound to that of another mesh.
 */
@StepInfo(
        name = "bind-volume",
        says = "Binds a mesh to joints by how near they are through its volume; works on open and touching islands.")
public record BindVolume(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "vertices that get weights", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "joints to bind to, with * and commas between", fallback = "\"*\"")
        String joints,

        @Parameter(says = "joints to leave out, with * and commas between", fallback = "\"\"")
        String without,

        @Parameter(
                says = "heat: flows over the surface from the nearest joint; distance: by the way to every joint",
                fallback = "\"heat\"")
        VolumeBind.How how,

        @Parameter(says = "how far joints reach into each other", fallback = "0.5", least = 0, most = 1)
        double softness,

        @Parameter(says = "joints a vertex at most", fallback = "4", least = 1, most = 255)
        int most)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(softness >= 0 && softness <= 1)) {
            throw new Refused("bind.softness", softness);
        }
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        int number = Names.mesh(asset, mesh);
        Asset bound = Binding.withSkin(asset, number);
        Skin skin = WeightRows.skin(bound, number);
        BitSet chosen = WeightRows.locked(bound, skin, joints);
        chosen.andNot(WeightRows.locked(bound, skin, without));
        for (int j = 0; j < skin.joints().length; j++) {
            if (Skeletons.isNamedEnd(bound.nodes().get(skin.joints()[j]).name())) {
                chosen.clear(j);
            }
        }
        if (chosen.isEmpty()) {
            throw new Refused("bind.no.joints", joints);
        }
        WeldedSurface surface = RestSurface.of(bound, number);
        VolumeBind.Result result =
                VolumeBind.run(surface, Bones.of(bound, skin), chosen, skin.joints().length, how, softness, most, work);
        if (result == null) {
            throw new Refused("bind.outside", mesh);
        }
        Mesh old = bound.meshes().get(number);
        long[] changed = {0};
        BitSet which = vertices.on(old);
        Mesh done = WeightRows.edit(
                old,
                which,
                (row, v) -> {
                    row.clear();
                    row.load(result.rows(), surface.weldedOf(v));
                    return true;
                },
                changed);
        long apart = which.stream()
                .filter(v -> result.apart().get(surface.weldedOf(v)))
                .count();
        Change change = Change.of(bound.withMesh(number, done))
                .count("vertices.changed", changed[0])
                .count(
                        "joints.bound.to",
                        chosen.cardinality() - result.unreached().cardinality())
                .note(
                        "bind.cells",
                        result.cells(),
                        String.format(
                                Locale.ROOT,
                                "%.1f",
                                result.cell() * asset.conventions().metresPerUnit() * 1000));
        return apart == 0 ? change : change.note("bind.apart", apart);
    }
}
