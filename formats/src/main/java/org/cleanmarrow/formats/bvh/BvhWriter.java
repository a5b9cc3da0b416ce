package org.cleanmarrow.formats.bvh;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.text.TextOut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Writes BVH, one file a clip, in centimetres with Y up and Z forward.
 *
 * <p>The format's rest has no rotations, only offsets: so each joint's rotation is written as the difference to how it
 * stands at rest. World positions of joints are the asset's at every frame, and the rest figure stands as it does here.
 * Joints whose distance to their parent changes get position channels of their own. Scale is in the distances; it
 * reaches nothing else.
 */
public final class BvhWriter {
    /** Digits behind the point of centimetres and degrees. */
    private static final int EXACT = 9;

    private final Asset asset;
    private final Rig rig;
    private final List<Integer> joints = new ArrayList<>();
    private final int[] parent;
    private final boolean[] end;
    private final Matrix4d[] rest;
    private final Quaterniond[] restTurn;

    private BvhWriter(Asset asset) throws Refused {
        this.asset = asset;
        rig = new Rig(asset);
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        int[] place = new int[joint.length];
        List<Integer> above = new ArrayList<>();
        // Children right after their parents, as the format nests them.
        for (int n = 0; n < joint.length; n++) {
            if (parents[n] < 0) {
                collect(n, -1, joint, place, above);
            }
        }
        parent = above.stream().mapToInt(Integer::intValue).toArray();
        long tops = Arrays.stream(parent).filter(p -> p < 0).count();
        if (tops != 1) {
            throw new Refused("bvh.tops", tops);
        }
        rest = rig.rest().world();
        restTurn = new Quaterniond[parent.length];
        end = new boolean[parent.length];
        boolean[] hasChild = new boolean[parent.length];
        for (int j = 1; j < parent.length; j++) {
            hasChild[parent[j]] = true;
        }
        var moved = asset.animatedNodes();
        for (int j = 0; j < parent.length; j++) {
            restTurn[j] = turn(rest[joints.get(j)]);
            boolean named = j > 0 && name(j).equals(name(parent[j]) + "_end");
            end[j] = named && !hasChild[j] && !moved.get(joints.get(j));
        }
    }

    private void collect(int top, int aboveTop, boolean[] joint, int[] place, List<Integer> above) {
        java.util.ArrayDeque<int[]> stack = new java.util.ArrayDeque<>();
        stack.push(new int[] {top, aboveTop});
        while (!stack.isEmpty()) {
            int[] next = stack.pop();
            int under = next[1];
            if (joint[next[0]]) {
                place[next[0]] = joints.size();
                under = joints.size();
                joints.add(next[0]);
                above.add(next[1]);
            }
            int[] children = asset.nodes().get(next[0]).children();
            for (int i = children.length - 1; i >= 0; i--) {
                stack.push(new int[] {children[i], under});
            }
        }
    }

    private String name(int joint) {
        String name = TextOut.oneLine(asset.nodeRef(joints.get(joint)));
        return name.endsWith("{") ? name + "_" : name;
    }

    /**
     * The files of an asset, one for each clip, or one frame of rest where there is none.
     *
     * @throws Refused where it does not have exactly one top joint
     */
    public static Written write(Asset given, String base, Work work) throws Refused {
        Conventions usual = BvhReader.AS_IS_USUAL;
        Asset asset = new Convert(usual, false).apply(given, work).asset();
        BvhWriter writer = new BvhWriter(asset);
        List<Written.Piece> pieces = new ArrayList<>();
        for (Clip clip : asset.clips()) {
            work.stopIfCancelled();
            String name = asset.clips().size() == 1 ? base : base + "_" + fileName(clip, pieces.size());
            boolean taken = pieces.stream().anyMatch(p -> p.name().equals(name + ".bvh"));
            pieces.add(writer.piece(taken ? name + "_" + pieces.size() : name, clip));
        }
        if (pieces.isEmpty()) {
            pieces.add(writer.piece(base, new Clip("rest", List.of(), 30, false, true, Passthrough.NONE)));
        }
        return new Written(pieces, List.of());
    }

    private static String fileName(Clip clip, int number) {
        String plain = clip.name().replaceAll("[^\\p{L}\\p{N}_-]", "_");
        return plain.isEmpty() ? "clip_" + number : plain;
    }

    /** Joints times frames that are held at once; at seven doubles each about a gigabyte. */
    private static final double MOST_NUMBERS = 20e6;

    /** Motion of all joints, each against its parent. */
    private static final class Motion {
        final float[] times;
        final double[][] turns;
        final double[][] places;

        Motion(int joints, int frames) {
            times = new float[frames];
            turns = new double[joints][frames * 4];
            places = new double[joints][frames * 3];
        }
    }

    private Written.Piece piece(String name, Clip clip) throws Refused {
        double rate = clip.rate();
        double start = clip.start();
        double many = 1 + Math.rint(clip.seconds() * rate);
        double most = Math.max(1, MOST_NUMBERS / Math.max(1, parent.length));
        if (many > most) {
            throw new Refused("write.too.long", clip.name(), many, most);
        }
        int frames = (int) many;
        Motion motion = new Motion(parent.length, frames);
        for (int f = 0; f < frames; f++) {
            motion.times[f] = (float) (f / rate);
            frame(
                    f,
                    clip.channels().isEmpty()
                            ? rest
                            : rig.at(clip, start + f / rate).world(),
                    motion);
        }
        Vector3d[] offsets = new Vector3d[parent.length];
        boolean[] travels = new boolean[parent.length];
        double size = 1e-9;
        for (int j = 0; j < offsets.length; j++) {
            offsets[j] = offset(j);
            size = Math.max(size, offsets[j].length());
        }
        for (int j = 0; j < offsets.length; j++) {
            travels[j] = j == 0 || !end[j] && leaves(motion.places[j], offsets[j], 1e-6 * size);
        }
        return new Written.Piece(
                name + ".bvh", text(motion, offsets, travels, rate), meant(name, motion, offsets, travels, rate));
    }

    private static boolean leaves(double[] places, Vector3d offset, double tolerance) {
        for (int i = 0; i < places.length; i++) {
            if (Math.abs(places[i] - offset.get(i % 3)) > tolerance) {
                return true;
            }
        }
        return false;
    }

    /** From the parent to the joint at rest, in world axes. */
    private Vector3d offset(int j) {
        Vector3d at = rest[joints.get(j)].getTranslation(new Vector3d());
        return parent[j] < 0 ? at : at.sub(rest[joints.get(parent[j])].getTranslation(new Vector3d()));
    }

    private void frame(int f, Matrix4d[] world, Motion motion) {
        Quaterniond[] moved = new Quaterniond[parent.length];
        for (int j = 0; j < parent.length; j++) {
            Matrix4d here = world[joints.get(j)];
            moved[j] = turn(here).mul(restTurn[j].conjugate(new Quaterniond()));
            Quaterniond above = parent[j] < 0 ? new Quaterniond() : moved[parent[j]].conjugate(new Quaterniond());
            Quaterniond own = new Quaterniond(above).mul(moved[j]).normalize();
            Vector3d at = here.getTranslation(new Vector3d());
            if (parent[j] >= 0) {
                at.sub(world[joints.get(parent[j])].getTranslation(new Vector3d()));
                above.transform(at);
            }
            double[] q = motion.turns[j];
            q[f * 4] = own.x;
            q[f * 4 + 1] = own.y;
            q[f * 4 + 2] = own.z;
            q[f * 4 + 3] = own.w;
            for (int i = 0; i < 3; i++) {
                motion.places[j][f * 3 + i] = at.get(i);
            }
        }
    }

    private static Quaterniond turn(Matrix4d m) {
        Matrix3d linear = new Matrix3d(m);
        if (linear.determinant() < 0) {
            linear.scale(-1, 1, 1);
        }
        return new Quaterniond().setFromUnnormalized(linear).normalize();
    }

    private byte[] text(Motion motion, Vector3d[] offsets, boolean[] travels, double rate) {
        TextOut out = new TextOut().put("HIERARCHY\n");
        hierarchy(out, offsets, travels);
        int frames = motion.times.length;
        out.put("MOTION\nFrames: ")
                .put(frames)
                .put("\nFrame Time: ")
                .put(1 / rate, 8)
                .line();
        for (int f = 0; f < frames; f++) {
            for (int j = 0; j < parent.length; j++) {
                if (end[j]) {
                    continue;
                }
                for (int i = 0; travels[j] && i < 3; i++) {
                    out.put(motion.places[j][f * 3 + i] - offsets[j].get(i), EXACT)
                            .put(" ");
                }
                double[] q = motion.turns[j];
                double[] zxy = zxy(new Quaterniond(q[f * 4], q[f * 4 + 1], q[f * 4 + 2], q[f * 4 + 3]));
                for (double angle : zxy) {
                    out.put(Math.toDegrees(angle), EXACT).put(" ");
                }
            }
            out.line();
        }
        return out.bytes();
    }

    private void hierarchy(TextOut out, Vector3d[] offsets, boolean[] travels) {
        int[] depth = new int[parent.length];
        for (int j = 0; j < parent.length; j++) {
            depth[j] = parent[j] < 0 ? 0 : depth[parent[j]] + 1;
            String in = "\t".repeat(depth[j]);
            String kind = j == 0 ? "ROOT " + name(j) : end[j] ? "End Site" : "JOINT " + name(j);
            out.put(in).put(kind).line().put(in).put("{").line().put(in).put("\tOFFSET");
            for (int i = 0; i < 3; i++) {
                out.put(" ").put(offsets[j].get(i), EXACT);
            }
            out.line();
            if (!end[j]) {
                out.put(in).put("\tCHANNELS ").put(travels[j] ? "6 Xposition Yposition Zposition" : "3");
                out.put(" Zrotation Xrotation Yrotation").line();
            }
            boolean leaf = j + 1 == parent.length || parent[j + 1] != j;
            if (leaf && !end[j]) {
                // Every chain must end in a site.
                out.put(in).put("\tEnd Site\n").put(in).put("\t{\n").put(in).put("\t\tOFFSET 0 0 0\n");
                out.put(in).put("\t}\n");
            }
            if (leaf) {
                int next = j + 1 == parent.length ? -1 : depth[parent[j + 1]];
                for (int d = depth[j]; d > next; d--) {
                    out.put("\t".repeat(d)).put("}\n");
                }
            }
        }
    }

    /** Angles a, b, c so that turning about Z by a, then the new X by b, then the new Y by c is the rotation. */
    private static double[] zxy(Quaterniond q) {
        Matrix3d m = new Matrix3d().set(q);
        double sine = Math.clamp(m.m12, -1, 1);
        double b = Math.asin(sine);
        if (Math.abs(sine) > 1 - 1e-12) {
            return new double[] {Math.atan2(m.m01, m.m00), b, 0};
        }
        return new double[] {Math.atan2(-m.m10, m.m11), b, Math.atan2(-m.m02, m.m22)};
    }

    private Asset meant(String name, Motion motion, Vector3d[] offsets, boolean[] travels, double rate) {
        List<Node> nodes = new ArrayList<>();
        List<Channel> channels = new ArrayList<>();
        int[] all = new int[parent.length];
        Matrix4d[] binds = new Matrix4d[all.length];
        for (int j = 0; j < all.length; j++) {
            int number = j;
            all[j] = j;
            int[] children = java.util.stream.IntStream.range(0, all.length)
                    .filter(c -> parent[c] == number)
                    .toArray();
            nodes.add(Node.group(name(j), Local.at(offsets[j].x, offsets[j].y, offsets[j].z), children));
            binds[j] = new Matrix4d()
                    .translation(
                            rest[joints.get(j)].getTranslation(new Vector3d()).negate());
            if (travels[j]) {
                channels.add(channel(j, Channel.Path.TRANSLATION, motion.times, motion.places[j], 3));
            }
            if (!end[j]) {
                channels.add(channel(j, Channel.Path.ROTATION, motion.times, motion.turns[j], 4));
            }
        }
        Skin skin = new Skin(name, all, Skin.pack(binds), 0, Passthrough.NONE);
        Clip clip = new Clip(name, channels, rate, false, true, Passthrough.NONE);
        return Asset.of(name, asset.conventions(), nodes, List.of(), List.of(skin), List.of(clip));
    }

    private static Channel channel(int node, Channel.Path path, float[] times, double[] values, int width) {
        float[] out = new float[values.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = (float) values[i];
        }
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, out, width, Storage.FLOAT);
        return new Channel(node, path, sampler, "", Passthrough.NONE);
    }
}
