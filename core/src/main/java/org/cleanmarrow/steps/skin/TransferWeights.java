package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.InfluenceChoice;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Transfer;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.weights.Worn;
import org.cleanmarrow.weights.WornRepair;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Gives a mesh the weights of others that it lies on, such as a vest those of the body. Unless an angle is given everything
 * is found from the shapes ({@link Worn}): the regions of the body it is worn on, how far is near, linings, the layers of a
 * thick part; and the weights are then repaired over trial poses, where the surface is stretched and where it goes through
 * the body. With an angle weights are taken where the surfaces are near and face alike, and filled in elsewhere
 * (Abdrashitov et al. 2023), with nothing done after. A part that has no skin yet is bound to the skeleton of the first
 * source, where it stands.
 */
@StepInfo(
        name = "transfer-weights",
        says = "Gives a mesh the weights of those it lies on, found from the shapes and repaired over trial poses.")
public record TransferWeights(
        @Parameter(says = "names of the meshes to take from, with * and commas between")
        String from,

        @Parameter(says = "name of the mesh that gets them") String to,

        @Parameter(says = "vertices that get them", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(
                says = "how far the nearest point may be to be taken; 0: found from the distances, or with an"
                        + " angle a twentieth of the size of the mesh that gets them",
                fallback = "0.0",
                unit = "mm",
                least = 0)
        double reachMillimetres,

        @Parameter(
                says = "how far normals may differ there; 0: found from the shapes, with all the rest",
                fallback = "0.0",
                unit = "degrees",
                least = 0,
                most = 180)
        double degrees,

        @Parameter(
                says = "with an angle: count opposite normals as alike, for linings and inner layers",
                fallback = "false")
        boolean eitherSide,

        @Parameter(says = "joints whose weights come along, with * and commas between", fallback = "\"*\"")
        String joints,

        @Parameter(says = "joints a vertex at most", fallback = "8", least = 1, most = 255)
        int most,

        @Parameter(
                says = "vertices of the one mesh taken from that count, so that a strap on a body may be left out",
                fallback = "\"all\"")
        VertexSet fromVertices,

        @Parameter(
                says = "regions of the body that it is worn on, such as torso or left-foot, with commas between;"
                        + " nothing: found from what it covers",
                fallback = "\"\"")
        String on,

        @Parameter(says = "repair the weights over trial poses", fallback = "true")
        boolean repair,

        @Parameter(
                says =
                        "what the repair does where it cannot do both: 0 keeps the surface even, 1 keeps it off the skin",
                fallback = "0.5",
                least = 0,
                most = 1)
        double trade)
        implements Step {
    private static final double TRADE = 0.5;

    /** With everything found. */
    public TransferWeights(String from, String to) {
        this(from, to, VertexSet.ALL, 0, 0, false, "*", 8);
    }

    /** From whole meshes. */
    public TransferWeights(
            String from,
            String to,
            VertexSet vertices,
            double reachMillimetres,
            double degrees,
            boolean eitherSide,
            String joints,
            int most) {
        this(from, to, vertices, reachMillimetres, degrees, eitherSide, joints, most, VertexSet.ALL);
    }

    /** From where it is worn, as that is found. */
    public TransferWeights(
            String from,
            String to,
            VertexSet vertices,
            double reachMillimetres,
            double degrees,
            boolean eitherSide,
            String joints,
            int most,
            VertexSet fromVertices) {
        this(from, to, vertices, reachMillimetres, degrees, eitherSide, joints, most, fromVertices, "", true, TRADE);
    }

    private static final double USUAL_REACH = 0.05;
    /** Weights that nobody sees; a smooth fill leaves many. */
    private static final double LEAST = 2e-3;

    /** What the surfaces gave, before anything is changed. */
    private record Found(
            Asset bound,
            int receiver,
            WeldedSurface surface,
            Transfer.Result result,
            BitSet chosen,
            Worn.@Nullable Begun begun,
            Worn.@Nullable Result worn) {
        Found with(Worn.Result other) {
            return new Found(bound, receiver, surface, other.taken(), chosen, begun, other);
        }
    }

    /**
     * What one trade comes to, over all trial poses.
     *
     * @param stretched share of edges stretched by half or more
     * @param deep      vertices a pose in the skin that are not so at rest
     */
    public record Tried(double trade, Asset asset, double stretched, double deep) {}

    /** The transfer with each of some trades in place of its own; costs as much as all of them. */
    public List<Tried> tried(Asset asset, double[] trades, Work work) throws Refused {
        double share = (1 - Worn.BEGIN) / trades.length;
        Found found = find(asset, repair, work.part(0, Worn.BEGIN + share));
        List<Tried> out = new ArrayList<>();
        for (int i = 0; i < trades.length; i++) {
            double from = Worn.BEGIN + i * share;
            Found other = found.begun == null || trades[i] == trade
                    ? found
                    : found.with(found.begun.repaired(trades[i], work.part(from, from + share)));
            WornRepair.Result repaired = other.worn == null ? null : other.worn.repair();
            if (repaired == null) {
                throw new Refused("transfer.no.trade");
            }
            out.add(new Tried(
                    trades[i],
                    changed(other).asset(),
                    repaired.after().stretched(),
                    repaired.after().deep()));
        }
        return out;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return changed(find(asset, repair, work));
    }

    private Change changed(Found found) throws Refused {
        Mesh mesh = found.bound.meshes().get(found.receiver);
        WeldedSurface surface = found.surface;
        Transfer.Result result = found.result;
        BitSet which = vertices.on(mesh);
        long[] changed = {0};
        BitSet others = new BitSet();
        others.set(0, WeightRows.skin(found.bound, found.receiver).joints().length);
        others.andNot(found.chosen);
        // What was repaired over poses is cut by what it does in poses: by size it would tear again.
        InfluenceChoice choice = found.worn == null ? null : new InfluenceChoice(found.bound, found.receiver);
        float[] at = MeshTopology.restPositions(mesh);
        Mesh done = WeightRows.edit(
                mesh,
                which,
                (row, v) -> {
                    if (!given(row, result.rows(), surface.weldedOf(v), found.chosen, others)) {
                        return false;
                    }
                    row.dropBelow(LEAST);
                    if (choice == null) {
                        row.keepSmoothly(most);
                    } else {
                        choice.cut(row, at[v * 3], at[v * 3 + 1], at[v * 3 + 2], most);
                    }
                    return row.normalise();
                },
                changed);
        Change change = Change.of(found.bound.withMesh(found.receiver, done))
                .count("vertices.changed", changed[0])
                .count("matched", which(which, surface, result.matched()).cardinality())
                .count("filled.in", which(which, surface, result.filled()).cardinality());
        long rigid = which(which, surface, result.rigid()).cardinality();
        change = rigid == 0 ? change : change.note("transfer.rigid", rigid);
        if (3 * result.matched().cardinality() < surface.size()) {
            change = change.note("transfer.little", 100.0 * result.matched().cardinality() / surface.size());
        }
        return found.worn == null ? change : said(change, found.worn);
    }

    private static Change said(Change change, Worn.Result worn) {
        Change out = change;
        if (!worn.on().isEmpty()) {
            String regions = worn.on().stream().map(BodyRegion::code).collect(Collectors.joining(", "));
            out = out.note("transfer.on", regions);
        }
        if (worn.repair() == null) {
            return out;
        }
        WornRepair.Figures before = worn.repair().before();
        WornRepair.Figures after = worn.repair().after();
        return out.note(
                "transfer.repaired",
                worn.poses(),
                100 * before.stretched(),
                100 * after.stretched(),
                before.deep(),
                after.deep());
    }

    private Set<BodyRegion> regions() throws Refused {
        Set<BodyRegion> out = EnumSet.noneOf(BodyRegion.class);
        for (String one : on.split(",")) {
            if (!one.isBlank()) {
                out.add(BodyRegion.of(one.strip())
                        .orElseThrow(() -> new Refused("region.unknown", one.strip(), BodyRegion.codes())));
            }
        }
        return out;
    }

    /**
     * Where the weights come from, by vertex of the receiver.
     *
     * @param from   by the mesh they are taken from, in order
     * @param filled those that nothing near matches, filled in over the surface
     * @param rigid  those of pieces with nothing matched, which move as the nearest that is
     * @param on     regions of the body that it is worn on; empty where joints have no roles, or with an angle of one's own
     */
    public record Origin(SortedMap<String, BitSet> from, BitSet filled, BitSet rigid, Set<BodyRegion> on) {}

    /** Where the weights would come from; the repair is left out, it moves them a little all over. */
    public Origin origin(Asset asset, Work work) throws Refused {
        Found found = find(asset, false, work);
        BitSet asked = vertices.on(found.bound.meshes().get(found.receiver));
        Transfer.Result result = found.result;
        SortedMap<String, BitSet> from = new TreeMap<>();
        List<Integer> givers = givers(asset, found.receiver);
        for (int g = 0; g < givers.size(); g++) {
            BitSet places = new BitSet();
            int giver = g;
            result.matched().stream().filter(p -> result.source()[p] == giver).forEach(places::set);
            from.put(asset.meshRef(givers.get(g)), which(asked, found.surface, places));
        }
        return new Origin(
                from,
                which(asked, found.surface, result.filled()),
                which(asked, found.surface, result.rigid()),
                found.worn == null ? Set.of() : found.worn.on());
    }

    private Found find(Asset asset, boolean repaired, Work work) throws Refused {
        if (!(reachMillimetres >= 0) || !(degrees >= 0 && degrees <= 180)) {
            throw new Refused("transfer.range", reachMillimetres, degrees);
        }
        if (!(trade >= 0 && trade <= 1)) {
            throw new Refused("transfer.trade", trade);
        }
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        int receiver = Names.mesh(asset, to);
        List<Integer> givers = givers(asset, receiver);
        if (givers.size() > 1 && !fromVertices.everything()) {
            throw new Refused("transfer.one.source", from);
        }
        Asset bound = asset;
        if (asset.skinOfMesh(receiver) < 0 || !asset.meshes().get(receiver).skinned()) {
            bound = Binding.toSkin(asset, receiver, asset.skinOfMesh(givers.getFirst()));
        }
        bound = withJoints(bound, receiver, givers);
        Skin skin = WeightRows.skin(bound, receiver);
        BitSet chosen = WeightRows.locked(bound, skin, joints);
        List<Transfer.Source> sources = new ArrayList<>();
        for (int giver : givers) {
            sources.add(source(bound, giver, skin, chosen));
        }
        WeldedSurface surface = RestSurface.of(bound, receiver);
        Box box = Box.empty();
        box.grow(surface.positions());
        double reach = reachMillimetres > 0
                ? reachMillimetres / 1000 / asset.conventions().metresPerUnit()
                : degrees > 0 ? USUAL_REACH * box.diagonal() : 0;
        Worn.Begun begun = null;
        Worn.Result worn = null;
        Transfer.Result result;
        if (degrees > 0) {
            result = Transfer.run(surface, sources, reach, degrees, eitherSide, skin.joints().length, work);
        } else {
            // Where only some joints come along, what the others do is not known to the repair.
            boolean whole = chosen.cardinality() == skin.joints().length;
            Worn.Wish wish = new Worn.Wish(
                    bound, receiver, surface, givers, sources, regions(), reach, repaired && whole ? trade : -1);
            begun = Worn.begin(wish, work.part(0, Worn.BEGIN));
            worn = begun == null ? null : begun.repaired(wish.trade(), work.part(Worn.BEGIN, 1));
            result = worn == null ? null : worn.taken();
        }
        if (result == null && reach == 0) {
            throw new Refused("transfer.nothing.there", to, from);
        }
        if (result == null) {
            throw new Refused(
                    "transfer.nothing", to, reach * asset.conventions().metresPerUnit() * 1000);
        }
        return new Found(bound, receiver, surface, result, chosen, begun, worn);
    }

    /** Puts the weights of the chosen joints in place of those a vertex had of them; the other joints share the rest. */
    private boolean given(Row row, Influences rows, int place, BitSet chosen, BitSet others) {
        if (rows.rowLength(place) == 0) {
            return false;
        }
        if (others.isEmpty() || row.size() == 0) {
            row.clear();
            row.load(rows, place);
            return true;
        }
        Row now = new Row();
        now.load(rows, place);
        for (int i = row.size() - 1; i >= 0; i--) {
            if (chosen.get(row.joint(i))) {
                row.remove(i);
            }
        }
        double room = Math.max(0, 1 - now.sum());
        double held = row.sum();
        row.scale(held > 0 ? room / held : 0);
        row.add(now, 1);
        return true;
    }

    private static BitSet which(BitSet vertices, WeldedSurface surface, BitSet places) {
        BitSet out = new BitSet();
        vertices.stream().filter(v -> places.get(surface.weldedOf(v))).forEach(out::set);
        return out;
    }

    private List<Integer> givers(Asset asset, int receiver) throws Refused {
        List<Integer> out = Names.meshes(asset, from);
        out.removeIf(m -> m == receiver || asset.skinOfMesh(m) < 0);
        if (out.isEmpty()) {
            throw new Refused("transfer.no.source", from);
        }
        return out;
    }

    /** The skin of the receiver with all joints of the givers' skins in it. */
    private static Asset withJoints(Asset asset, int receiver, List<Integer> givers) throws Refused {
        int s = asset.skinOfMesh(receiver);
        Skin skin = asset.skins().get(s);
        List<Integer> missing = new ArrayList<>();
        for (int giver : givers) {
            for (int node : asset.skins().get(asset.skinOfMesh(giver)).joints()) {
                if (skin.indexOfNode(node) < 0 && !missing.contains(node)) {
                    missing.add(node);
                }
            }
        }
        if (missing.isEmpty()) {
            return asset;
        }
        List<Skin> skins = new ArrayList<>(asset.skins());
        skins.set(s, Binding.longer(asset, skin, missing));
        return asset.withSkins(skins);
    }

    private Transfer.Source source(Asset asset, int giver, Skin skin, BitSet chosen) throws Refused {
        Skin own = asset.skins().get(asset.skinOfMesh(giver));
        int[] number = Arrays.stream(own.joints()).map(skin::indexOfNode).toArray();
        for (int j = 0; j < number.length; j++) {
            number[j] = chosen.get(number[j]) ? number[j] : -1;
        }
        Mesh mesh = asset.meshes().get(giver);
        WeldedSurface surface = RestSurface.of(asset, giver);
        BitSet counts = WeldedWeights.places(fromVertices.on(mesh), surface);
        return new Transfer.Source(surface, WeldedWeights.of(mesh, surface).renumbered(number), counts);
    }
}
