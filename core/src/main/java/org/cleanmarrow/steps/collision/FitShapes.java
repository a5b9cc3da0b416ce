package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Gives joints a collision shape each, around the vertices that they move more than any other joint does, in the pose that
 * is rest. The highest joint of a skeleton that moves vertices gets a box where the best kind is asked for. Shapes that this
 * step gave before are replaced.
 */
@StepInfo(name = "fit-shapes", says = "Fits a collision shape to each joint, around the vertices that it moves most.")
public record FitShapes(
        @Parameter(says = "names of joints, with commas between and * for any run of characters", fallback = "\"*\"")
        String joints,

        @Parameter(
                says = "capsule along the bone, box, sphere, hull, or whichever has the least volume outside the skin",
                fallback = "\"best\"")
        ShapeFit.Kind kind,

        @Parameter(
                says = "share of its vertices that a shape holds; those that lie farthest out are left out",
                fallback = "0.98",
                least = 0.5,
                most = 1)
        double share,

        @Parameter(says = "corners of a hull at most", fallback = "24", least = 4, most = 255)
        int corners,

        @Parameter(
                says =
                        "every joint; body: of a person the sixteen that are usual, with fingers in the hand and toes in the"
                                + " foot, and what hangs from it; chains: joints in rows of three or more without a branch,"
                                + " and of a person only what hangs from it; loose: parts that no joint deforms",
                fallback = "\"joints\"")
        Set set)
        implements Step {
    /** Which joints bear a shape of their own. */
    public enum Set {
        JOINTS,
        BODY,
        CHAINS,
        LOOSE
    }

    /** What the name of a fitted shape adds to that of its node. */
    public static final String ENDING = "_shape";

    /** The best for all joints. */
    public FitShapes() {
        this("*", ShapeFit.Kind.BEST, 0.98, 24);
    }

    /** Each joint its own. */
    public FitShapes(String joints, ShapeFit.Kind kind, double share, int corners) {
        this(joints, kind, share, corners, Set.JOINTS);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(share >= 0.5 && share <= 1) || corners < 4 || corners > 255) {
            throw new Refused("shapes.range", share, corners);
        }
        List<Integer> chosen = Names.nodes(asset, joints);
        Map<Integer, double[]> moved =
                set == Set.LOOSE ? MovedPoints.ofParts(asset) : MovedPoints.of(asset, owners(asset), work);
        chosen.removeIf(n -> !moved.containsKey(n));
        if (set == Set.CHAINS) {
            BitSet rows = ChainSet.of(asset);
            chosen.removeIf(n -> !rows.get(n));
        }
        if (chosen.isEmpty()) {
            throw new Refused(
                    set == Set.CHAINS ? "shapes.no.chains" : set == Set.LOOSE ? "shapes.no.parts" : "shapes.no.joints",
                    joints);
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        int[] parents = asset.parents();
        boolean[] joint = asset.jointFlags();
        List<Attached> all = new ArrayList<>(asset.attached());
        Map<String, Long> kinds = new TreeMap<>();
        List<String> flat = new ArrayList<>();
        double least = 1;
        AtomicInteger done = new AtomicInteger();
        // Each by itself, so that any number of cores finds the same.
        List<Optional<ShapeFit>> fits = chosen.parallelStream()
                .map(n -> {
                    work.stopIfCancelled();
                    work.at(done.getAndIncrement() / (double) chosen.size(), "fitting shapes");
                    boolean root =
                            set != Set.LOOSE && kind == ShapeFit.Kind.BEST && isHighest(asset, parents, n, moved);
                    return ShapeFit.of(
                            Objects.requireNonNull(moved.get(n)),
                            root ? ShapeFit.Kind.BOX : kind,
                            bone(asset, joint, world, n),
                            share,
                            corners);
                })
                .toList();
        for (int i = 0; i < fits.size(); i++) {
            int n = chosen.get(i);
            Optional<ShapeFit> fit = fits.get(i);
            if (fit.isEmpty()) {
                flat.add(asset.nodeRef(n));
                continue;
            }
            String name = asset.nodes().get(n).name() + ENDING;
            all.removeIf(
                    a -> a instanceof Collider c && c.node() == n && c.name().equals(name));
            all.add(new Collider(name, n, fit.get().frame(), fit.get().shape()));
            kinds.merge(fit.get().shape().kind(), 1L, Long::sum);
            least = Math.min(least, fit.get().share());
        }
        if (kinds.isEmpty()) {
            throw new Refused("shapes.flat", String.join(", ", flat));
        }
        Change change = Change.of(asset.withAttached(all))
                .count(
                        "shapes.fitted",
                        kinds.values().stream().mapToLong(k -> k).sum())
                .note("shapes.kinds", said(kinds), Math.floor(1000 * least) / 10);
        return flat.isEmpty() ? change : change.note("shapes.flat", String.join(", ", flat));
    }

    /** For each node that whose shape holds what it moves. */
    private int[] owners(Asset asset) throws Refused {
        return set == Set.BODY
                ? BodySet.of(asset)
                        .orElseThrow(() -> new Refused("shapes.nobody"))
                        .owners()
                : IntStream.range(0, asset.nodes().size()).toArray();
    }

    static String said(Map<String, Long> kinds) {
        return kinds.entrySet().stream()
                .map(e -> e.getKey() + " " + e.getValue())
                .collect(Collectors.joining(", "));
    }

    private static boolean isHighest(Asset asset, int[] parents, int node, Map<Integer, double[]> moved) {
        for (int n = parents[node]; n >= 0; n = parents[n]) {
            if (moved.containsKey(n)) {
                return false;
            }
        }
        return Arrays.stream(asset.nodes().get(node).children()).anyMatch(moved::containsKey);
    }

    /** From a joint to the one that it leads to, in its axes; null where it leads to none, or to several. */
    private static @Nullable Vector3d bone(Asset asset, boolean[] joint, Matrix4d[] world, int node) {
        Matrix4d into = world[node].invert(new Matrix4d());
        Vector3d out = null;
        for (int child : asset.nodes().get(node).children()) {
            Vector3d to = into.transformPosition(world[child].getTranslation(new Vector3d()));
            if (joint[child] && to.length() > 0) {
                if (out != null && out.angle(to) > 0.5) {
                    return null;
                }
                out = out == null || to.length() > out.length() ? to : out;
            }
        }
        return out;
    }
}
