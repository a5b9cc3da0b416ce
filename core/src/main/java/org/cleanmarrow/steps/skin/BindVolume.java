package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.weights.BodySurface;
import org.cleanmarrow.weights.Bones;
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
 * that an arm beside the body leaves it alone. Open, many-shelled and self-touching meshes are taken as they are. A body may come in
 * several meshes: all that one skeleton moves count as one, and a joint reaches what it lies in and what hangs together with that. A
 * part without a skin is bound to that of another mesh. Cost: the body's volume once, and once more that of a mesh of which the body
 * reaches not all.
 */
@StepInfo(
        name = "bind-volume",
        says = "Binds a mesh to joints by how near they are through its volume; works on open and touching islands.")
public record BindVolume(
        @Parameter(says = "name of the mesh, or of several, with * and commas between")
        String mesh,

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
        int most,

        @Parameter(
                says = "by its own volume; otherwise all meshes that the skeleton moves count as one body",
                fallback = "false")
        boolean alone)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(softness >= 0 && softness <= 1)) {
            throw new Refused("bind.softness", softness);
        }
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        List<Integer> meshes = Names.oneOrSeveral(asset, mesh);
        if (meshes.size() > 1 && !vertices.everything()) {
            throw new Refused("bind.several", mesh);
        }
        Asset bound = asset;
        for (int number : meshes) {
            bound = Binding.withSkin(bound, number);
        }
        List<Integer> around = alone ? meshes : BodySurface.around(bound, meshes);
        Tally tally = new Tally();
        // Meshes of one skeleton may have skins of their own; each is given its own joints.
        Map<Integer, List<Integer>> bySkin = new LinkedHashMap<>();
        for (int number : meshes) {
            bySkin.computeIfAbsent(bound.skinOfMesh(number), k -> new ArrayList<>())
                    .add(number);
        }
        BodySurface body = BodySurface.of(bound, around);
        for (List<Integer> own : bySkin.values()) {
            bound = bound(bound, own, around, body, tally, work);
        }
        Change change = Change.of(bound)
                .count("vertices.changed", tally.changed[0])
                .count("joints.bound.to", tally.joints)
                .note(
                        "bind.cells",
                        tally.cells,
                        String.format(
                                Locale.ROOT,
                                "%.1f",
                                tally.cell * asset.conventions().metresPerUnit() * 1000));
        return tally.apart == 0 ? change : change.note("bind.apart", tally.apart);
    }

    /** What there was to do, over all skins. */
    private static final class Tally {
        private final long[] changed = {0};
        private int joints;
        private int cells;
        private double cell;
        private long apart;
    }

    private Asset bound(
            Asset asset, List<Integer> meshes, List<Integer> around, BodySurface body, Tally tally, Work work)
            throws Refused {
        Skin skin = WeightRows.skin(asset, meshes.getFirst());
        BitSet chosen = WeightRows.locked(asset, skin, joints);
        chosen.andNot(WeightRows.locked(asset, skin, without));
        for (int j = 0; j < skin.joints().length; j++) {
            if (Skeletons.isNamedEnd(asset.nodes().get(skin.joints()[j]).name())) {
                chosen.clear(j);
            }
        }
        if (chosen.isEmpty()) {
            throw new Refused("bind.no.joints", joints);
        }
        Bones bones = Bones.of(asset, skin);
        int count = skin.joints().length;
        VolumeBind.Result whole = VolumeBind.run(body.surface(), bones, chosen, count, how, softness, most, work);
        Asset out = asset;
        for (int number : meshes) {
            Mesh old = asset.meshes().get(number);
            BitSet which = vertices.on(old);
            // What the body does not reach may yet have joints of its own, such as a thing that hangs from it.
            boolean reached =
                    whole != null && which.stream().noneMatch(v -> whole.apart().get(body.placeOf(number, v)));
            BodySurface single = reached || around.size() == 1 ? body : BodySurface.of(asset, List.of(number));
            VolumeBind.Result own = single == body
                    ? whole
                    : VolumeBind.run(single.surface(), bones, chosen, count, how, softness, most, work);
            if (whole == null && own == null) {
                throw new Refused("bind.outside", asset.meshRef(number));
            }
            BitSet left = new BitSet();
            Mesh done = WeightRows.edit(
                    old,
                    which,
                    (row, v) -> {
                        int place = body.placeOf(number, v);
                        boolean here = whole != null && !whole.apart().get(place);
                        VolumeBind.Result by = here || own == null ? whole : own;
                        int at = by == whole ? place : single.placeOf(number, v);
                        left.set(v, Objects.requireNonNull(by).apart().get(at));
                        row.clear();
                        row.load(by.rows(), at);
                        return true;
                    },
                    tally.changed);
            tally.apart += left.cardinality();
            out = out.withMesh(number, done);
            VolumeBind.Result told = Objects.requireNonNull(whole == null ? own : whole);
            tally.cells = told.cells();
            tally.cell = told.cell();
            tally.joints = Math.max(
                    tally.joints, chosen.cardinality() - told.unreached().cardinality());
        }
        return out;
    }
}
