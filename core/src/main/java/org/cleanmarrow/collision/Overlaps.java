package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Where solid shapes that could meet lie in each other, at rest and in clips. Looked at are neighbours (one stands next above
 * the other in the hierarchy, or both below the same) and whatever overlaps at rest; left out are shapes of one body or node,
 * those that pass through each other by their filters, and bodies that are joined and do not meet. What collides as it is
 * drawn is not looked at.
 */
public final class Overlaps {
    /** Less than this share of the smaller shape's size is rounding. */
    private static final double ROUNDING = 1e-6;

    private static final int MOST_TIMES = 20_000;

    private final Asset asset;
    private final List<Collider> colliders;
    private final Matrix4d[] rest;
    private final Convex[] own;

    /** Two shapes, by their numbers among {@link Bodies#colliders}. */
    public record Pair(int a, int b) {}

    /**
     * Two shapes at a moment.
     *
     * @param depth   in the asset's unit; of those that {@link #all} finds rough, and in the first's node's axes
     * @param clip    number, -1 at rest
     * @param between from the second's node into the first's
     */
    public record Overlap(Pair pair, double depth, int clip, double seconds, Matrix4d between) {
        /** When, in words. */
        public Message when(Asset asset) {
            return clip < 0
                    ? Message.of("moment.rest")
                    : Message.of("moment.clip", asset.clips().get(clip).name(), seconds);
        }
    }

    public Overlaps(Asset asset) {
        this.asset = asset;
        colliders = Bodies.colliders(asset);
        own = colliders.stream().map(Convex::of).toArray(Convex[]::new);
        rest = new Rig(asset).rest().world();
    }

    /** Those that could meet. Cost: their number squared, for what lies apart a distance each. */
    public List<Pair> pairs() {
        List<Pair> pairs = new ArrayList<>();
        BitSet bodies = Bodies.nodes(asset);
        int[] parents = asset.parents();
        BitSet bearing = new BitSet();
        colliders.forEach(c -> bearing.set(c.node()));
        int[] bearers = Bodies.bearers(asset, bodies);
        int[] above = new int[colliders.size()];
        int[] bearer = new int[above.length];
        for (int i = 0; i < above.length; i++) {
            int n = parents[colliders.get(i).node()];
            while (n >= 0 && !bearing.get(n)) {
                n = parents[n];
            }
            above[i] = n;
            bearer[i] = bearers[colliders.get(i).node()];
        }
        Set<Pair> joined = new HashSet<>();
        Bodies.joints(asset).stream().filter(j -> !j.meet()).forEach(j -> {
            joined.add(new Pair(j.node(), j.other()));
            joined.add(new Pair(j.other(), j.node()));
        });
        Balls balls = new Balls(rest);
        for (int i = 0; i < above.length; i++) {
            for (int j = i + 1; j < above.length; j++) {
                int a = colliders.get(i).node();
                int b = colliders.get(j).node();
                boolean neighbours = above[i] == b || above[j] == a || above[i] >= 0 && above[i] == above[j];
                if ((neighbours || balls.meet(i, j))
                        && canMeet(i, j, bearer, joined)
                        && (neighbours || gap(i, j, between(rest, i, j)) < -rounding(i, j))) {
                    pairs.add(new Pair(i, j));
                }
            }
        }
        return pairs;
    }

    /** Around every shape, in the world. */
    private final class Balls {
        private final Vector3d[] middles = new Vector3d[own.length];
        private final double[] reaches = new double[own.length];

        Balls(Matrix4d[] world) {
            for (int i = 0; i < own.length; i++) {
                Matrix4d at = world[colliders.get(i).node()];
                middles[i] = at.transformPosition(own[i].middle());
                Vector3d scale = at.getScale(new Vector3d());
                reaches[i] = own[i].reach() * scale.get(scale.maxComponent());
            }
        }

        boolean meet(int i, int j) {
            return middles[i].distance(middles[j]) <= reaches[i] + reaches[j];
        }
    }

    private boolean canMeet(int i, int j, int[] bearer, Set<Pair> joined) {
        Collider a = colliders.get(i);
        Collider b = colliders.get(j);
        boolean solid = a.role() == Collider.Role.SOLID && b.role() == Collider.Role.SOLID;
        boolean shaped = !(a.shape() instanceof Shape.Drawn) && !(b.shape() instanceof Shape.Drawn);
        return solid
                && shaped
                && a.node() != b.node()
                && bearer[i] != bearer[j]
                && !Filter.apart(a.filter(), b.filter())
                && !joined.contains(new Pair(bearer[i], bearer[j]));
    }

    private Matrix4d between(Matrix4d[] world, int i, int j) {
        return world[colliders.get(i).node()]
                .invert(new Matrix4d())
                .mul(world[colliders.get(j).node()]);
    }

    private double gap(int i, int j, Matrix4d between) {
        return Convex.gap(own[i], Convex.of(colliders.get(j), between));
    }

    private double rounding(int i, int j) {
        return ROUNDING * Math.min(own[i].reach(), own[j].reach());
    }

    /** The worst moment of every pair that overlaps at all, the deepest first. Cost: pairs times moments. */
    public List<Overlap> worst(int aFrame, Work work) {
        return worst(all(pairs(), aFrame, 1, work));
    }

    /** The same of what was found already. */
    List<Overlap> worst(Map<Pair, List<Overlap>> found) {
        return found.values().stream()
                .map(moments -> measured(moments.getFirst()))
                .filter(o -> o.depth > 0)
                .sorted((x, y) -> Double.compare(y.depth, x.depth))
                .toList();
    }

    private Overlap measured(Overlap o) {
        double scale = Math.cbrt(Math.abs(rest[colliders.get(o.pair.a).node()].determinant3x3()));
        return new Overlap(o.pair, -gap(o.pair.a, o.pair.b, o.between) * scale, o.clip, o.seconds, o.between);
    }

    /**
     * The deepest moments of pairs that overlap, deepest first. The same on any number of cores.
     *
     * @param looked  pairs that are looked at
     * @param aFrame how many moments a frame of a clip
     * @param most   moments of a pair that are kept
     */
    Map<Pair, List<Overlap>> all(Collection<Pair> looked, int aFrame, int most, Work work) {
        Map<Pair, List<Overlap>> out = new LinkedHashMap<>();
        Rig rig = new Rig(asset);
        keep(out, look(looked, rest, -1, 0), most);
        for (int c = 0; c < asset.clips().size(); c++) {
            int clip = c;
            double[] times = times(asset.clips().get(c), aFrame);
            work.at(c / (double) asset.clips().size(), "looking for overlaps");
            List<List<Overlap>> found = IntStream.range(0, looked.isEmpty() ? 0 : times.length)
                    .parallel()
                    .mapToObj(t -> {
                        work.stopIfCancelled();
                        Matrix4d[] world =
                                rig.at(asset.clips().get(clip), times[t]).world();
                        return look(looked, world, clip, times[t]);
                    })
                    .toList();
            found.forEach(f -> keep(out, f, most));
        }
        return out;
    }

    private static void keep(Map<Pair, List<Overlap>> out, List<Overlap> found, int most) {
        for (Overlap one : found) {
            List<Overlap> there = out.computeIfAbsent(one.pair, p -> new ArrayList<>());
            if (there.size() < most || there.getLast().depth < one.depth) {
                there.add(one);
                there.sort((p, q) -> Double.compare(q.depth, p.depth));
                if (there.size() > most) {
                    there.removeLast();
                }
            }
        }
    }

    /** Every frame of a clip and moments between them, both ends among them. */
    static double[] times(Clip clip, int aFrame) {
        if (clip.channels().isEmpty()) {
            return new double[0];
        }
        int count = (int) Math.min(MOST_TIMES, Math.ceil(clip.seconds() * clip.rate() * aFrame)) + 1;
        double[] out = new double[count];
        Arrays.setAll(out, i -> count == 1 ? clip.start() : clip.start() + clip.seconds() * i / (count - 1));
        return out;
    }

    private List<Overlap> look(Collection<Pair> looked, Matrix4d[] world, int clip, double seconds) {
        Balls balls = new Balls(world);
        List<Overlap> out = new ArrayList<>();
        for (Pair pair : looked) {
            if (!balls.meet(pair.a, pair.b)) {
                continue;
            }
            Matrix4d between = between(world, pair.a, pair.b);
            Convex other = Convex.of(colliders.get(pair.b), between);
            if (between.isFinite() && Convex.meet(own[pair.a], other)) {
                out.add(new Overlap(pair, Convex.depthAtMost(own[pair.a], other), clip, seconds, between));
            }
        }
        return out;
    }

    /** From the middle of a shape to that of another, in the first's node's axes. */
    static Vector3d towards(Collider a, Collider b, Matrix4d between) {
        return Convex.of(b, between).middle().sub(Convex.of(a).middle());
    }
}
