package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.function.DoubleFunction;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Moves travel over the ground, and heading if wanted, from the joint below the root to the root; in the world nothing
 * changes. Or the other way: what the root does goes into the joint below, and the root stays at rest.
 */
@StepInfo(
        name = "root-motion",
        says = "Moves travel and heading from the hips to the root, or back; the world sees no change.")
public record RootMotion(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "to root: hips to root; back: root to hips", fallback = "\"to_root\"")
        Way way,

        @Parameter(says = "also the heading about the up axis", fallback = "true")
        boolean heading,

        @Parameter(says = "also the height", fallback = "false")
        boolean height,

        @Parameter(
                says = "time over which the root's way is smoothed; 0 for not at all",
                fallback = "0",
                unit = "seconds",
                least = 0,
                most = 60)
        double smooth)
        implements Step {
    private static final double NEAR = 2e-6;

    /** Which way. */
    public enum Way {
        TO_ROOT,
        BACK
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(smooth >= 0 && smooth <= 60)) {
            throw new Refused("root.motion.smooth", smooth);
        }
        List<Integer> tops = Skeletons.tops(asset);
        if (tops.size() != 1 || !AddRoot.hasCleanRoot(asset)) {
            throw new Refused("root.motion.no.root");
        }
        int root = tops.getFirst();
        boolean[] joint = asset.jointFlags();
        int hips = -1;
        for (int child : asset.nodes().get(root).children()) {
            hips = joint[child] && hips < 0 ? child : hips;
        }
        if (hips < 0) {
            throw new Refused("root.motion.no.hips", asset.nodeRef(root));
        }
        BitSet chosen = Clips.chosen(asset, clips);
        List<Clip> out = new ArrayList<>();
        long many = 0;
        double travel = 0;
        for (int c = 0; c < asset.clips().size(); c++) {
            work.stopIfCancelled();
            Clip clip = asset.clips().get(c);
            Moved moved = chosen.get(c) ? new Moved(asset, clip, root, hips) : null;
            if (moved == null || moved.movers.isEmpty()) {
                out.add(clip);
                continue;
            }
            out.add(moved.run());
            travel = Math.max(travel, moved.travel);
            many++;
        }
        return Change.of(asset.withClips(out))
                .count("clips.changed", many)
                .note(
                        way == Way.TO_ROOT ? "root.motion.travel" : "root.motion.back",
                        new Length(travel * asset.conventions().metresPerUnit()));
    }

    /** One clip. */
    private final class Moved {
        private final Asset asset;
        private final Clip clip;
        private final int root;
        private final int hips;
        private final NodeMotion motion;
        private final List<Channel> movers;
        private final Vector3d up;
        private final Matrix4d restHips;
        private final Matrix4d above;
        private double travel;
        private double[] knots = {};
        private double[] angles = {};

        Moved(Asset asset, Clip clip, int root, int hips) {
            this.asset = asset;
            this.clip = clip;
            this.root = root;
            this.hips = hips;
            motion = new NodeMotion(asset, clip);
            List<Channel> all = new ArrayList<>(motion.channels(root));
            all.addAll(motion.channels(hips));
            movers = all;
            up = asset.conventions().up().vector();
            Matrix4d[] rest = new Rig(asset).rest().world();
            restHips = rest[hips];
            int parent = asset.parents()[root];
            above = parent < 0 ? new Matrix4d() : rest[parent];
        }

        Clip run() {
            double size = Math.max(1e-6, RestBox.of(asset).diagonal());
            double reach = restHips.getTranslation(new Vector3d()).length();
            size = Math.max(size, reach);
            if (way == Way.TO_ROOT && heading) {
                unwind();
            }
            DoubleFunction<Matrix4d> rootWay = way == Way.BACK
                    ? t -> asset.nodes().get(root).local().toMatrix()
                    : t -> smooth > 0 ? smoothed(t) : rootAt(t);
            // Keys are in what stands above the root, which may be scaled against the world.
            double unit = Math.cbrt(Math.abs(above.determinant3x3()));
            size = unit > 0 ? size / unit : size;
            double near = NEAR * size;
            DoubleFunction<Local> rootParts = t -> Baker.parts(rootWay.apply(t));
            float[] rootTimes = Baker.times(movers, rootParts, near, size);
            for (float t : rootTimes) {
                Vector3d at =
                        (way == Way.BACK ? motion.local(root, t) : rootWay.apply(t)).getTranslation(new Vector3d());
                travel = Math.max(travel, at.length());
            }
            List<Channel> made = new ArrayList<>(Baker.channels(
                    root,
                    rootTimes,
                    Baker.stepped(movers),
                    rootParts,
                    asset.nodes().get(root).local()));
            DoubleFunction<Matrix4d> landed = landed(made, root);
            BitSet redone = new BitSet();
            redone.set(root);
            // Whatever hangs on the root must not go along with it, and makes up for the root as it was keyed.
            for (int child : asset.nodes().get(root).children()) {
                redone.set(child);
                List<Channel> own = new ArrayList<>(made);
                own.addAll(movers);
                own.addAll(motion.channels(child));
                DoubleFunction<Local> parts = t -> Baker.parts(
                        landed.apply(t).invert().mul(motion.local(root, t)).mul(motion.local(child, t)));
                float[] times = Baker.times(own, parts, near, size);
                made.addAll(Baker.channels(
                        child,
                        times,
                        Baker.stepped(own),
                        parts,
                        asset.nodes().get(child).local()));
            }
            List<Channel> channels = new ArrayList<>(clip.channels());
            channels.removeIf(
                    c -> c.node() >= 0 && redone.get(c.node()) && c.path().ordinal() <= Channel.Path.SCALE.ordinal());
            channels.addAll(made);
            return clip.withChannels(channels);
        }

        /** The root as its new keys have it, in between too. */
        private DoubleFunction<Matrix4d> landed(List<Channel> keys, int node) {
            NodeMotion now = new NodeMotion(asset, clip.withChannels(List.copyOf(keys)));
            return t -> now.local(node, t);
        }

        private Matrix4d hipsWorld(double t) {
            return new Matrix4d(above).mul(motion.local(root, t)).mul(motion.local(hips, t));
        }

        /** Angle of the hips about the up axis against rest, between -pi and pi: the twist of a swing and twist. */
        private double twist(double t) {
            Matrix3d now = new Matrix3d(hipsWorld(t));
            Matrix3d rest = new Matrix3d(restHips);
            Quaterniond turn =
                    NodeMap.properPart(now).mul(NodeMap.properPart(rest).conjugate());
            double along = turn.x * up.x + turn.y * up.y + turn.z * up.z;
            double angle = 2 * Math.atan2(along, turn.w);
            return angle > Math.PI ? angle - 2 * Math.PI : angle < -Math.PI ? angle + 2 * Math.PI : angle;
        }

        /** The heading at closely laid moments, without jumps where it passes half a turn. */
        private void unwind() {
            double start = clip.start();
            double seconds = clip.seconds();
            int count = (int) Math.clamp(Math.ceil(seconds * Math.max(clip.rate(), 30) * 4), 2, 400_000);
            knots = new double[count + 1];
            angles = new double[count + 1];
            for (int i = 0; i <= count; i++) {
                knots[i] = start + seconds * i / count;
                double angle = twist(knots[i]);
                double before = i == 0 ? 0 : angles[i - 1];
                angles[i] = angle + 2 * Math.PI * Math.rint((before - angle) / (2 * Math.PI));
            }
        }

        private double angleAt(double t) {
            if (!heading) {
                return 0;
            }
            double angle = twist(t);
            int i = java.util.Arrays.binarySearch(knots, t);
            int near = Math.clamp(i >= 0 ? i : -i - 1, 0, angles.length - 1);
            return angle + 2 * Math.PI * Math.rint((angles[near] - angle) / (2 * Math.PI));
        }

        private Matrix4d rootAt(double t) {
            Quaterniond turn = new Quaterniond().fromAxisAngleRad(up, angleAt(t));
            Vector3d rest = flat(restHips.getTranslation(new Vector3d()));
            Vector3d at = flat(hipsWorld(t).getTranslation(new Vector3d()));
            // Where the hips stand at rest stays below them, seen from the turned root.
            Vector3d place = at.sub(turn.transform(rest));
            return new Matrix4d(above).invert().mul(new Matrix4d().translationRotate(place.x, place.y, place.z, turn));
        }

        private Vector3d flat(Vector3d v) {
            return height ? v : v.fma(-v.dot(up), up);
        }

        private Matrix4d smoothed(double t) {
            int pieces = 16;
            Vector3d place = new Vector3d();
            double angle = 0;
            double from = clip.start();
            double to = clip.end();
            for (int i = 0; i <= pieces; i++) {
                double s = Math.clamp(t + smooth * (i / (double) pieces - 0.5), from, to);
                place.add(rootAt(s).getTranslation(new Vector3d()));
                angle += angleAt(s);
            }
            place.div(pieces + 1);
            Quaterniond turn = new Quaterniond().fromAxisAngleRad(up, angle / (pieces + 1));
            return new Matrix4d().translationRotate(place.x, place.y, place.z, turn);
        }
    }
}
