package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * The weights of a worn part from the body below it, all found from the shapes: the regions it is worn on, the transfer from
 * these, sides kept apart, and the repair over trial poses.
 */
public final class Worn {
    /** Half the width of the middle where both sides may share (common practice). */
    private static final double BAND_METRES = 0.03;
    /** What all but the repair takes of the time. */
    public static final double BEGIN = 0.3;
    /** What is no farther from the skin than this lies on it. */
    private static final double LIES_METRES = 0.0005;
    /** Where so much of a part lies on the skin it is a copy of it, and what lies there keeps the skin's own weights. */
    private static final double COPY = 0.8;

    /**
     * What is asked for.
     *
     * @param asset  with the part on a skin, at rest as it is bound
     * @param worn   number of the part's mesh
     * @param surface of it, where it stands at rest
     * @param givers numbers of the meshes below it
     * @param sources by giver, their rows under the numbers of the part's joints
     * @param on     regions to take from; empty to find them
     * @param reach  how far a point may be to be taken, in the asset's unit; 0 to find it
     * @param trade  0 for an even surface, 1 for one that keeps off the skin; below 0 for no repair
     */
    public record Wish(
            Asset asset,
            int worn,
            WeldedSurface surface,
            List<Integer> givers,
            List<Transfer.Source> sources,
            Set<BodyRegion> on,
            double reach,
            double trade) {}

    /**
     * What came of it.
     *
     * @param on     regions that were taken from; empty where the body's joints have no roles
     * @param repair null where there was none, rows are then those of the transfer
     */
    public record Result(Transfer.Result taken, Set<BodyRegion> on, WornRepair.@Nullable Result repair, int poses) {}

    private Worn() {}

    /** What a wish comes to before the repair, which may be done with one trade after the other. */
    public static final class Begun {
        private final Wish wish;
        private final Sides sides;
        private final Set<BodyRegion> on;
        private final WornTransfer.Result given;
        private final Transfer.Result taken;
        private final BitSet lies;
        private final double band;
        private final @Nullable PosedSkins skins;
        private final int poses;

        private Begun(Wish wish, Sides sides, Set<BodyRegion> on, WornTransfer.Result given, Skin skin) {
            this.wish = wish;
            this.sides = sides;
            this.on = on;
            this.given = given;
            Asset asset = wish.asset;
            double metresPerUnit = asset.conventions().metresPerUnit();
            band = BAND_METRES / metresPerUnit;
            lies = lying(sides.surface(), given.taken().nearest(), LIES_METRES / metresPerUnit);
            taken = given.taken().withRows(cleaned(given.taken().rows(), sides, band, lies));
            List<Pose> posed = new ArrayList<>();
            if (wish.trade >= 0) {
                Rig rig = new Rig(asset);
                TrialPoses.of(asset).forEach(pose -> posed.add(rig.at(pose.clip(asset), 1)));
            }
            poses = posed.size();
            List<WeldedSurface> below =
                    wish.sources.stream().map(Transfer.Source::surface).toList();
            skins = posed.isEmpty() ? null : new PosedSkins(asset, wish.givers, below, skin, posed);
        }

        /** @param trade as a wish has it */
        public Result repaired(double trade, Work work) {
            if (skins == null) {
                return new Result(taken, on, null, 0);
            }
            WornRepair.Candidates candidates = (place, joint) -> Math.abs(sides.leftward(place)) <= band / 2
                    || sides.sideOfJoint(joint) * sides.leftward(place) >= 0;
            double metresPerUnit = wish.asset.conventions().metresPerUnit();
            WornRepair.Result repaired = new WornRepair(
                            sides.surface(), given.below(), lies, skins, candidates, metresPerUnit, trade)
                    .run(taken.rows(), work);
            return new Result(taken.withRows(repaired.rows()), on, repaired, poses);
        }
    }

    /** @return null where nothing matches */
    public static @Nullable Begun begin(Wish wish, Work work) {
        Skin skin = wish.asset.skins().get(wish.asset.skinOfMesh(wish.worn));
        Sides sides = Sides.of(wish.asset, wish.worn, wish.surface);
        Set<BodyRegion> on = EnumSet.noneOf(BodyRegion.class);
        List<Transfer.Source> sources = worn(wish, skin, sides, on);
        WornTransfer.Result given = WornTransfer.run(sides.surface(), sources, wish.reach, skin.joints().length, work);
        return given == null ? null : new Begun(wish, sides, on, given, skin);
    }

    /** The sources with only those places that count which lie in the regions that the part is worn on. */
    private static List<Transfer.Source> worn(Wish wish, Skin skin, Sides sides, Set<BodyRegion> on) {
        BodyRegion[] ofJoints = regionsOfJoints(wish.asset, skin);
        if (ofJoints.length == 0) {
            return wish.sources;
        }
        List<@Nullable BodyRegion[]> regions = wish.sources.stream()
                .map(s -> WornOn.regions(s.rows(), ofJoints))
                .toList();
        on.addAll(wish.on.isEmpty() ? WornOn.guess(WornOn.covered(sides.surface(), wish.sources, regions)) : wish.on);
        if (on.isEmpty()) {
            return wish.sources;
        }
        List<Transfer.Source> out = new ArrayList<>();
        for (int s = 0; s < wish.sources.size(); s++) {
            Transfer.Source source = wish.sources.get(s);
            BitSet counts = (BitSet) source.counts().clone();
            for (int p = counts.nextSetBit(0); p >= 0; p = counts.nextSetBit(p + 1)) {
                BodyRegion region = regions.get(s)[p];
                counts.set(p, region != null && on.contains(region));
            }
            out.add(new Transfer.Source(source.surface(), source.rows(), counts));
        }
        return out;
    }

    /** The region of each joint of a skin; empty where no joint of the asset is known to have a role. */
    public static BodyRegion[] regionsOfJoints(Asset asset, Skin skin) {
        BodyRegion[] ofNodes = BodyRegion.ofNodes(asset);
        return ofNodes.length == 0
                ? ofNodes
                : IntStream.of(skin.joints()).mapToObj(j -> ofNodes[j]).toArray(BodyRegion[]::new);
    }

    /** For every place of a surface the weights at the nearest point of a skin. */
    public static Influences nearest(WeldedSurface to, WeldedSurface skin, Influences rows, Work work) {
        BitSet all = new BitSet();
        all.set(0, skin.size());
        NearestSkin nearest = NearestSkin.of(to, List.of(new Transfer.Source(skin, rows, all)), work);
        Influences.Builder out = new Influences.Builder(to.size());
        Row row = new Row();
        for (int p = 0; p < to.size(); p++) {
            nearest.weights(p, row);
            row.to(out);
        }
        return out.build();
    }

    /** Places that lie on the skin with all around them, of a part that does so nearly everywhere; none of any other part. */
    private static BitSet lying(WeldedSurface surface, float[] far, double near) {
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        BitSet out = new BitSet(far.length);
        for (int p = 0; p < far.length; p++) {
            boolean lies = far[p] <= near;
            for (int e = starts[p]; e < starts[p + 1] && lies; e++) {
                lies = far[neighbours[e]] <= near;
            }
            out.set(p, lies);
        }
        return out.cardinality() < COPY * far.length ? new BitSet() : out;
    }

    private static Influences cleaned(Influences rows, Sides sides, double band, BitSet lies) {
        Influences.Builder out = new Influences.Builder(rows.vertexCount());
        Row row = new Row();
        BitSet locked = new BitSet();
        for (int p = 0; p < rows.vertexCount(); p++) {
            row.clear();
            row.load(rows, p);
            if (!lies.get(p)) {
                sides.clean(row, p, band, locked);
            }
            row.to(out);
        }
        return out.build();
    }
}
