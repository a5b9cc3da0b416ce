package org.cleanmarrow.weights;

import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.WeldedSurface;
import org.jspecify.annotations.Nullable;

/** Which regions of a body a part is worn on: those it covers most of, against those it merely passes. */
public final class WornOn {
    /** How far beyond the skin a part is looked for, in its own size. */
    private static final double OUTWARD = 0.25;

    /** A region counts that has this share of what the most covered one has. */
    private static final double SHARE = 0.15;

    /** What a part lies beside on one side alone does not count, unless it lies on nothing else. */
    private static final double AROUND = 0.15;

    private static final double LEAST = 0.01;

    private WornOn() {}

    /** The region of every place of a skin, by the joints that move it most; null where nothing moves it. */
    public static @Nullable BodyRegion[] regions(Influences rows, BodyRegion[] ofJoint) {
        @Nullable BodyRegion[] out = new BodyRegion[rows.vertexCount()];
        double[] sums = new double[BodyRegion.values().length];
        for (int p = 0; p < out.length; p++) {
            java.util.Arrays.fill(sums, 0);
            for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                BodyRegion region = ofJoint[rows.joints()[i]];
                sums[region.ordinal()] += rows.weights()[i];
                if (out[p] == null || sums[region.ordinal()] > sums[out[p].ordinal()]) {
                    out[p] = region;
                }
            }
        }
        return out;
    }

    /**
     * How much of a region lies under a part.
     *
     * @param share  of its skin
     * @param around 0 where all of that faces one way, as an arm's that a vest stands beside, 1 where it faces all ways, as
     *               a shin's within a boot
     */
    public record Cover(double share, double around) {
        double weight() {
            return share * around;
        }
    }

    /** By region how much of it lies under the part. */
    public static Map<BodyRegion, Cover> covered(
            WeldedSurface worn, List<Transfer.Source> sources, List<@Nullable BodyRegion[]> regions) {
        TriangleTree tree = new TriangleTree(worn.triangles(), worn.positions());
        Box box = Box.empty();
        box.grow(worn.positions());
        float limit = (float) (OUTWARD * box.diagonal());
        double[] all = new double[BodyRegion.values().length];
        double[] under = new double[all.length];
        double[] facing = new double[all.length * 3];
        for (int s = 0; s < sources.size(); s++) {
            WeldedSurface skin = sources.get(s).surface();
            float[] normals = skin.normals();
            double[] areas = skin.areas();
            @Nullable BodyRegion[] of = regions.get(s);
            boolean[] hit = new boolean[skin.size()];
            IntStream.range(0, skin.size()).parallel().forEach(p -> {
                float[] o = {skin.positions()[p * 3], skin.positions()[p * 3 + 1], skin.positions()[p * 3 + 2]};
                float[] d = {normals[p * 3], normals[p * 3 + 1], normals[p * 3 + 2]};
                hit[p] = of[p] != null && tree.meetsBefore(o, d, limit);
            });
            for (int p = 0; p < skin.size(); p++) {
                if (of[p] != null) {
                    all[of[p].ordinal()] += areas[p];
                    under[of[p].ordinal()] += hit[p] ? areas[p] : 0;
                    for (int k = 0; k < 3 && hit[p]; k++) {
                        facing[of[p].ordinal() * 3 + k] += areas[p] * normals[p * 3 + k];
                    }
                }
            }
        }
        Map<BodyRegion, Cover> out = new EnumMap<>(BodyRegion.class);
        for (BodyRegion region : BodyRegion.values()) {
            int r = region.ordinal();
            if (all[r] > 0) {
                double one = Math.sqrt(facing[r * 3] * facing[r * 3]
                        + facing[r * 3 + 1] * facing[r * 3 + 1]
                        + facing[r * 3 + 2] * facing[r * 3 + 2]);
                out.put(region, new Cover(under[r] / all[r], under[r] > 0 ? 1 - one / under[r] : 0));
            }
        }
        return out;
    }

    /** The regions it is worn on; none where nothing lies under it. */
    public static Set<BodyRegion> guess(Map<BodyRegion, Cover> covered) {
        Set<BodyRegion> out = EnumSet.noneOf(BodyRegion.class);
        double most = covered.values().stream().mapToDouble(Cover::weight).max().orElse(0);
        covered.forEach((region, cover) -> {
            boolean lies = cover.weight() >= SHARE * most && cover.around() >= AROUND;
            if (cover.share() >= LEAST && (lies || cover.weight() == most)) {
                out.add(region);
            }
        });
        return out;
    }
}
