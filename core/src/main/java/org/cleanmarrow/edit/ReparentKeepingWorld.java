package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.DoubleFunction;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.Reframed;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Changes a hierarchy without moving anything: nodes may hang elsewhere, and may have other axes of their own. With C the
 * constant change of a node's frame its new world transform is W C at every moment, its inverse binds become C^-1 B, its
 * mesh C^-1 v. Where only a constant stands before or behind a node's keys they are rewritten as they are, whatever their
 * interpolation; otherwise they are baked.
 */
public final class ReparentKeepingWorld {
    private static final double SHEAR = 1e-4;
    private static final double NEAR = 4e-6;

    private final Asset asset;
    private final int[] was;
    private final int[] parents;
    private final Matrix4d[] frames;
    private final Matrix4d[] world;

    public ReparentKeepingWorld(Asset asset) {
        this.asset = asset;
        was = asset.parents();
        parents = was.clone();
        frames = new Matrix4d[was.length];
        world = new Rig(asset).rest().world();
    }

    /** Hangs a node below another, or at the top for -1. */
    public void hang(int node, int parent) {
        parents[node] = parent;
    }

    /** Gives a node other axes: its world transform is multiplied by this from the right. */
    public void frame(int node, Matrix4d change) {
        frames[node] = new Matrix4d(change);
    }

    int parent(int node) {
        return parents[node];
    }

    private Matrix4d frame(int node) {
        return node < 0 || frames[node] == null ? new Matrix4d() : new Matrix4d(frames[node]);
    }

    private boolean changed(int node) {
        return parents[node] != was[node]
                || frames[node] != null
                || parents[node] >= 0 && frames[parents[node]] != null;
    }

    /** @throws Refused where a node would have to shear, or hang below itself; nothing is changed then */
    public Asset done(Work work) throws Refused {
        refuseLoops();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (int n = 0; n < was.length; n++) {
            if (frames[n] != null && nodes.get(n).camera() >= 0) {
                throw new Refused("part.camera", asset.nodeRef(n));
            }
            if (changed(n)) {
                nodes.set(n, nodes.get(n).withLocal(rest(n)));
            }
        }
        List<Clip> clips = new ArrayList<>();
        double size = size();
        for (Clip clip : asset.clips()) {
            work.stopIfCancelled();
            clips.add(clip(clip, nodes, size));
        }
        for (int n = 0; n < was.length; n++) {
            nodes.set(n, nodes.get(n).withChildren(children(n)));
        }
        Asset out = asset.withNodes(nodes).withClips(clips).withSkins(skins()).withScenes(scenes());
        return shapes(out);
    }

    private void refuseLoops() throws Refused {
        for (int n = 0; n < parents.length; n++) {
            int up = parents[n];
            for (int guard = 0; up >= 0; guard++) {
                if (up == n || guard > parents.length) {
                    throw new Refused("rehang.loop", asset.nodeRef(n));
                }
                up = parents[up];
            }
        }
    }

    private double size() {
        Box box = Box.empty();
        for (Matrix4d w : world) {
            Vector3d at = w.getTranslation(new Vector3d());
            box.grow(at.x, at.y, at.z);
        }
        return Math.max(box.isEmpty() ? 0 : box.diagonal(), 1e-6);
    }

    /** The children it had and still has in their order, then those that came. */
    private int[] children(int node) {
        List<Integer> out = new ArrayList<>();
        for (int child : asset.nodes().get(node).children()) {
            if (parents[child] == node) {
                out.add(child);
            }
        }
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] == node && was[n] != node) {
                out.add(n);
            }
        }
        return out.stream().mapToInt(Integer::intValue).toArray();
    }

    private Matrix4d relative(int n, Matrix4d[] at) {
        Matrix4d above = parents[n] < 0 ? new Matrix4d() : new Matrix4d(at[parents[n]]);
        return above.mul(frame(parents[n])).invert().mul(at[n]).mul(frame(n));
    }

    private Local rest(int n) throws Refused {
        Matrix4d m = relative(n, world);
        double shear = Baker.shear(m);
        if (!(shear <= SHEAR)) {
            throw new Refused("rehang.shear", asset.nodeRef(n), String.format(java.util.Locale.ROOT, "%.3g", shear));
        }
        return Baker.parts(m);
    }

    private Clip clip(Clip clip, List<Node> nodes, double size) throws Refused {
        NodeMotion motion = new NodeMotion(asset, clip);
        List<Channel> channels = new ArrayList<>();
        BitSet redone = new BitSet();
        IntStream.range(0, was.length).filter(this::changed).forEach(redone::set);
        List<Channel> made = new ArrayList<>();
        List<Redone> all = redone.stream()
                .parallel()
                .mapToObj(n -> {
                    try {
                        return new Redone(redone(n, motion, nodes.get(n).local(), size), null);
                    } catch (Refused e) {
                        return new Redone(List.of(), e);
                    }
                })
                .toList();
        for (Redone one : all) {
            if (one.refused != null) {
                throw one.refused;
            }
            made.addAll(one.channels);
        }
        for (Channel channel : clip.channels()) {
            boolean spatial = channel.path().ordinal() <= Channel.Path.SCALE.ordinal();
            if (channel.node() < 0 || !spatial || !redone.get(channel.node())) {
                channels.add(channel);
            }
        }
        channels.addAll(made);
        return redone.isEmpty() ? clip : clip.withChannels(asLong(clip, channels, nodes, redone));
    }

    /** @param refused null where it went well */
    private record Redone(List<Channel> channels, @Nullable Refused refused) {}

    /** Channels of a node that hangs elsewhere or has other axes; none where nothing moves it. */
    private List<Channel> redone(int n, NodeMotion motion, Local rest, double size) throws Refused {
        Set<Integer> moving = new LinkedHashSet<>();
        chain(n).stream().filter(motion::leavesRest).forEach(moving::add);
        List<Integer> side = parents[n] < 0 ? List.of() : chain(parents[n], common(n));
        side.stream().filter(motion::leavesRest).forEach(moving::add);
        if (moving.isEmpty()) {
            return List.of();
        }
        NodeMap map = moving.equals(Set.of(n)) ? constant(n) : null;
        if (map == null) {
            return baked(n, motion, moving, rest, size);
        }
        return motion.channels(n).stream()
                .map(c -> c.withTrack(map.apply(c.sampler(), c.path())))
                .toList();
    }

    /** The channels, with one that holds a node still where what was left out would make the clip shorter, or empty. */
    private static List<Channel> asLong(Clip before, List<Channel> channels, List<Node> nodes, BitSet redone) {
        Clip now = before.withChannels(channels);
        boolean same = !channels.isEmpty() && now.start() == before.start() && now.end() == before.end();
        if (same || before.channels().isEmpty()) {
            return channels;
        }
        BitSet turning = new BitSet();
        channels.stream()
                .filter(c -> c.path() == Channel.Path.ROTATION && c.node() >= 0)
                .forEach(c -> turning.set(c.node()));
        int holder = redone.stream()
                .filter(n -> !turning.get(n) && nodes.get(n).local().matrix() == null)
                .findFirst()
                .orElse(-1);
        if (holder < 0) {
            return channels;
        }
        List<Channel> longer = new ArrayList<>(channels);
        longer.add(held(holder, nodes.get(holder).local(), before));
        return longer;
    }

    private static Channel held(int node, Local rest, Clip clip) {
        float start = (float) clip.start();
        float end = (float) clip.end();
        float[] times = end > start ? new float[] {start, end} : new float[] {start};
        float[] values = new float[times.length * 4];
        for (int k = 0; k < times.length; k++) {
            System.arraycopy(rest.rotation(), 0, values, k * 4, 4);
        }
        Sampler still = new Sampler(Sampler.Interpolation.LINEAR, times, values, 4, Storage.FLOAT);
        return new Channel(node, Channel.Path.ROTATION, still, "", Passthrough.NONE);
    }

    /** The node that stands above both a node and its new parent, or -1. */
    private int common(int n) {
        BitSet above = new BitSet();
        for (int up = was[n]; up >= 0; up = was[up]) {
            above.set(up);
        }
        int up = parents[n];
        while (up >= 0 && !above.get(up)) {
            up = was[up];
        }
        return up;
    }

    /** The node and what stood above it, up to but without what it and its new parent have in common. */
    private List<Integer> chain(int n) {
        return chain(n, parents[n] < 0 ? -1 : common(n));
    }

    private List<Integer> chain(int from, int end) {
        List<Integer> out = new ArrayList<>();
        for (int up = from; up >= 0 && up != end; up = was[up]) {
            out.add(up);
        }
        return out;
    }

    /** The change of a node's keys where nothing else moves between it and its new parent; null where there is none. */
    private @Nullable NodeMap constant(int n) {
        Matrix4d own = asset.nodes().get(n).local().toMatrix();
        // Relative = before x own x behind, at rest and so always.
        Matrix4d behind = frame(n);
        Matrix4d before = relative(n, world).mul(behind.invert(new Matrix4d())).mul(own.invert(new Matrix4d()));
        Matrix3d linear = new Matrix3d(before);
        double factor = Math.cbrt(linear.determinant());
        boolean similar = factor > 0
                && new Matrix3d(linear)
                        .mul(linear.transpose(new Matrix3d()))
                        .scale(1 / (factor * factor))
                        .equals(new Matrix3d(), 1e-6);
        Matrix3d turn = new Matrix3d(behind);
        boolean turned =
                turn.mul(turn.transpose(new Matrix3d()), new Matrix3d()).equals(new Matrix3d(), 1e-6)
                        && behind.getTranslation(new Vector3d()).length() < 1e-9 * size();
        Vector3d size = asset.nodes().get(n).local().scaleVector();
        boolean even = Math.abs(size.x - size.y) < 1e-6 * Math.abs(size.x)
                && Math.abs(size.x - size.z) < 1e-6 * Math.abs(size.x)
                && asset.clips().stream()
                        .flatMap(c -> c.channels().stream())
                        .noneMatch(c -> c.node() == n
                                && c.path() == Channel.Path.SCALE
                                && !Keys.holds(
                                        c.sampler(),
                                        asset.nodes().get(n).local().scale()));
        boolean plain = turn.equals(new Matrix3d(), 1e-9);
        if (!similar || !turned || !even && !plain) {
            return null;
        }
        return new NodeMap(
                linear,
                before.getTranslation(new Vector3d()),
                NodeMap.properPart(linear),
                NodeMap.properPart(turn),
                new Matrix3d().scaling(factor));
    }

    private List<Channel> baked(int n, NodeMotion motion, Set<Integer> moving, Local rest, double size) throws Refused {
        List<Channel> movers =
                moving.stream().flatMap(m -> motion.channels(m).stream()).toList();
        List<Integer> up = chain(n);
        List<Integer> side = parents[n] < 0 ? List.of() : chain(parents[n], common(n));
        Matrix4d frame = frame(n);
        Matrix4d back = frame(parents[n]).invert();
        DoubleFunction<Matrix4d> way = t -> {
            Matrix4d own = new Matrix4d();
            up.forEach(u -> own.mulLocal(motion.local(u, t)));
            Matrix4d other = new Matrix4d();
            side.forEach(u -> other.mulLocal(motion.local(u, t)));
            return new Matrix4d(back).mul(other.invert()).mul(own).mul(frame);
        };
        DoubleFunction<Local> parts = t -> Baker.parts(way.apply(t));
        // Lengths here are the new parent's, which may be scaled against the world.
        double unit = parents[n] < 0 ? 1 : Math.cbrt(Math.abs(world[parents[n]].determinant3x3()));
        double own = unit > 0 ? size / unit : size;
        float[] times = Baker.times(movers, parts, NEAR * own, own);
        boolean even = isEven(up, motion) && isEven(side, motion);
        for (int k = 0; !even && k < times.length; k++) {
            double shear = Baker.shear(way.apply(times[k]));
            if (!(shear <= SHEAR)) {
                throw new Refused(
                        "rehang.shear", asset.nodeRef(n), String.format(java.util.Locale.ROOT, "%.3g", shear));
            }
        }
        return Baker.channels(n, times, Baker.stepped(movers), parts, rest);
    }

    /** Where no node scales unevenly there is no shear to be looked for. */
    private boolean isEven(List<Integer> chain, NodeMotion motion) {
        for (int n : chain) {
            float[] size = asset.nodes().get(n).local().scale();
            boolean even = Math.abs(size[0] - size[1]) < 1e-6 && Math.abs(size[0] - size[2]) < 1e-6;
            boolean scales = motion.channels(n).stream().anyMatch(c -> c.path() == Channel.Path.SCALE);
            if (!even || scales || asset.nodes().get(n).local().matrix() != null) {
                return false;
            }
        }
        return true;
    }

    private List<Skin> skins() {
        return asset.skins().stream()
                .map(skin -> Arrays.stream(skin.joints()).allMatch(j -> frames[j] == null)
                        ? skin
                        : skin.bound(j -> frame(skin.joints()[j]).invert().mul(skin.inverseBind(j))))
                .toList();
    }

    /** What stands at nodes with other axes keeps its place: its data are seen from the new ones. */
    private Asset shapes(Asset out) {
        Matrix4d[] meshes = new Matrix4d[was.length];
        Matrix4d[] things = new Matrix4d[was.length];
        for (int n = 0; n < was.length; n++) {
            things[n] = frames[n] == null ? null : frame(n).invert();
            meshes[n] = out.nodes().get(n).skin() >= 0 ? null : things[n];
        }
        return Reframed.of(out, meshes, things);
    }

    private List<Scene> scenes() {
        boolean same = true;
        for (int n = 0; n < was.length; n++) {
            same &= (was[n] < 0) == (parents[n] < 0);
        }
        if (same || asset.scenes().isEmpty()) {
            return asset.scenes();
        }
        int shown = Math.max(0, asset.scene());
        List<Scene> out = new ArrayList<>();
        for (int s = 0; s < asset.scenes().size(); s++) {
            Scene scene = asset.scenes().get(s);
            List<Integer> roots = new ArrayList<>();
            Arrays.stream(scene.roots()).filter(r -> parents[r] < 0).forEach(roots::add);
            for (int n = 0; s == shown && n < was.length; n++) {
                if (parents[n] < 0 && was[n] >= 0) {
                    roots.add(n);
                }
            }
            out.add(new Scene(
                    scene.name(), roots.stream().mapToInt(Integer::intValue).toArray(), scene.carried()));
        }
        return out;
    }
}
