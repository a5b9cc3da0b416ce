package org.cleanmarrow.formats.bvh;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.text.TextScanner;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Reads BVH motion capture: the skeleton as joints at their offsets, the motion as one clip.
 *
 * <p>Channels may come in any order and on any joint; rotations are applied in the order of their channels, the first
 * outermost; positions are added to the offset. End sites become joints named after their parent with {@code _end}.
 * The format states no unit and no axes: numbers are taken as centimetres, Y up, and the asset says so.
 */
public final class BvhReader {
    static final Conventions AS_IS_USUAL = new Conventions(0.01, Axis.Y, Axis.Z, Handedness.RIGHT);
    /** Deeper nesting is no skeleton. */
    private static final int DEEPEST = 2000;

    private static final int MOST_JOINTS = 20_000;

    private final TextScanner in;
    private final Work work;
    private final List<Joint> joints = new ArrayList<>();
    private int channelCount;

    /** @param channels 0 to 2 for positions x, y, z; 3 to 5 for rotations about them */
    private static final class Joint {
        String name = "";
        Vector3d offset = new Vector3d();
        int[] channels = new int[0];
        int firstChannel;
        final List<Integer> children = new ArrayList<>();
        Vector3d world = new Vector3d();
    }

    private BvhReader(TextScanner in, Work work) {
        this.in = in;
        this.work = work;
    }

    /** Reads bytes; {@code file} is what to call them in messages, and without its ending what to call the asset. */
    public static Asset read(byte[] bytes, String file, Work work) throws ReadFailed {
        String name = file.replaceFirst("\\.[^.]*$", "");
        return new BvhReader(new TextScanner(bytes, file), work).asset(name);
    }

    private Asset asset(String name) throws ReadFailed {
        work.at(0, "reading " + name);
        expect("HIERARCHY");
        String word = nextWord();
        while (word.equalsIgnoreCase("ROOT")) {
            tree(nextName());
            word = nextWord();
        }
        if (joints.isEmpty()) {
            throw in.wrong("expected ROOT, found \"" + word + "\"");
        }
        if (!word.equalsIgnoreCase("MOTION")) {
            throw in.wrong("expected MOTION, found \"" + word + "\"");
        }
        Clip clip = motion(name);
        List<Node> nodes = new ArrayList<>();
        int[] all = new int[joints.size()];
        Matrix4d[] binds = new Matrix4d[all.length];
        for (int j = 0; j < all.length; j++) {
            Joint joint = joints.get(j);
            all[j] = j;
            binds[j] = new Matrix4d().translation(new Vector3d(joint.world).negate());
            nodes.add(Node.group(
                    joint.name,
                    Local.at(joint.offset.x, joint.offset.y, joint.offset.z),
                    joint.children.stream().mapToInt(Integer::intValue).toArray()));
        }
        Skin skin = new Skin(name, all, Skin.pack(binds), 0, Passthrough.NONE);
        List<Clip> clips = clip.channels().isEmpty() ? List.of() : List.of(clip);
        Asset asset = Asset.of(name, AS_IS_USUAL, nodes, List.of(), List.of(skin), clips);
        return asset.withNotes(List.of("BVH states no unit: lengths are taken as centimetres, with Y up."));
    }

    private String nextWord() throws ReadFailed {
        if (!in.moreAnywhere()) {
            throw in.wrong("the file ends too early");
        }
        return in.word();
    }

    private String nextName() throws ReadFailed {
        String name = in.rest();
        if (name.isEmpty()) {
            throw in.wrong("expected the name of a joint");
        }
        if (name.endsWith("{")) {
            throw in.wrong("expected { on a line of its own");
        }
        return name;
    }

    private void expect(String wanted) throws ReadFailed {
        String found = nextWord();
        if (!found.equalsIgnoreCase(wanted)) {
            throw in.wrong("expected " + wanted + ", found \"" + found + "\"");
        }
    }

    private int add(int parent, String name) throws ReadFailed {
        if (joints.size() >= MOST_JOINTS) {
            throw in.wrong("more than " + MOST_JOINTS + " joints");
        }
        Joint joint = new Joint();
        joint.name = name;
        joints.add(joint);
        int number = joints.size() - 1;
        if (parent >= 0) {
            joints.get(parent).children.add(number);
        }
        return number;
    }

    private void place(int number, int parent) throws ReadFailed {
        Joint joint = joints.get(number);
        expect("OFFSET");
        joint.offset = new Vector3d(in.number(), in.number(), in.number());
        joint.world = new Vector3d(joint.offset).add(parent < 0 ? new Vector3d() : joints.get(parent).world);
    }

    /** A top joint with all below it; those that are open are kept here and not on the thread's stack, which may be short. */
    private void tree(String top) throws ReadFailed {
        Deque<Integer> open = new ArrayDeque<>();
        open.push(begun(-1, top));
        while (!open.isEmpty()) {
            int number = open.peek();
            String word = nextWord();
            switch (word.toUpperCase(Locale.ROOT)) {
                case "CHANNELS" -> channels(joints.get(number));
                case "JOINT" -> {
                    String name = nextName();
                    if (open.size() > DEEPEST) {
                        throw in.wrong("joints are nested deeper than " + DEEPEST);
                    }
                    open.push(begun(number, name));
                }
                case "END" -> {
                    in.rest();
                    begun(number, joints.get(number).name + "_end");
                    expect("}");
                }
                case "}" -> open.pop();
                default -> throw in.wrong("expected CHANNELS, JOINT, End Site or }, found \"" + word + "\"");
            }
        }
    }

    private int begun(int parent, String name) throws ReadFailed {
        int number = add(parent, name);
        expect("{");
        place(number, parent);
        return number;
    }

    private void channels(Joint joint) throws ReadFailed {
        in.more();
        int count = in.whole();
        if (count < 0 || count > 6 || joint.channels.length > 0) {
            throw in.wrong("expected CHANNELS once, with 0 to 6 of them, found " + count);
        }
        joint.channels = new int[count];
        joint.firstChannel = channelCount;
        channelCount += count;
        for (int c = 0; c < count; c++) {
            String said = in.word();
            String word = said.toLowerCase(Locale.ROOT);
            int axis = word.isEmpty() ? -1 : "xyz".indexOf(word.charAt(0));
            String kind = word.isEmpty() ? "" : word.substring(1);
            if (axis < 0 || !kind.equals("position") && !kind.equals("rotation")) {
                throw in.wrong("expected a channel such as Xposition or Zrotation, found \"" + said + "\"");
            }
            joint.channels[c] = axis + (kind.equals("rotation") ? 3 : 0);
        }
    }

    private Clip motion(String name) throws ReadFailed {
        expect("Frames:");
        in.more();
        int announced = in.whole();
        int frames = channelCount == 0 ? 0 : announced;
        expect("Frame");
        expect("Time:");
        double step = in.number();
        if (announced < 0 || !(step > 0)) {
            throw in.wrong("expected a frame time above zero, found " + step);
        }
        // Every number takes a digit and a blank, so a larger count is a lie about this file.
        if ((long) frames * channelCount > in.left()) {
            throw in.wrong(
                    frames + " frames of " + channelCount + " channels are announced, and the file is too short");
        }
        // Frame times are written with few digits; a rate within a thousandth of a whole one is that one.
        double whole = Math.rint(1 / step);
        double rate = Math.abs(1 / step / whole - 1) < 1e-3 ? whole : 1 / step;
        float[] times = new float[frames];
        float[][] translations = new float[joints.size()][];
        float[][] rotations = new float[joints.size()][];
        for (int j = 0; j < translations.length; j++) {
            int[] channels = joints.get(j).channels;
            translations[j] = Arrays.stream(channels).anyMatch(c -> c < 3) ? new float[frames * 3] : null;
            rotations[j] = Arrays.stream(channels).anyMatch(c -> c >= 3) ? new float[frames * 4] : null;
        }
        double[] row = new double[channelCount];
        for (int f = 0; f < frames; f++) {
            if ((f & 255) == 0) {
                work.stopIfCancelled();
                work.at(in.share(), "reading " + name);
            }
            times[f] = (float) (f / rate);
            for (int c = 0; c < channelCount; c++) {
                if (!in.moreAnywhere()) {
                    throw in.wrong("the file ends in frame " + f + " of " + frames);
                }
                row[c] = in.number();
            }
            for (int j = 0; j < translations.length; j++) {
                pose(joints.get(j), row, f, translations[j], rotations[j]);
            }
        }
        return clip(name, frames, rate, times, translations, rotations);
    }

    private static void pose(Joint joint, double[] row, int frame, float[] translation, float[] rotation) {
        double px = joint.offset.x;
        double py = joint.offset.y;
        double pz = joint.offset.z;
        double x = 0;
        double y = 0;
        double z = 0;
        double w = 1;
        for (int c = 0; c < joint.channels.length; c++) {
            double value = row[joint.firstChannel + c];
            switch (joint.channels[c]) {
                case 0 -> px += value;
                case 1 -> py += value;
                case 2 -> pz += value;
                default -> {
                    double half = Math.toRadians(value) / 2;
                    double s = Math.sin(half);
                    double k = Math.cos(half);
                    // q times a turn about one axis, written out.
                    double qx = x;
                    double qy = y;
                    double qz = z;
                    switch (joint.channels[c]) {
                        case 3 -> {
                            x = qx * k + w * s;
                            y = qy * k + qz * s;
                            z = qz * k - qy * s;
                            w = w * k - qx * s;
                        }
                        case 4 -> {
                            x = qx * k - qz * s;
                            y = qy * k + w * s;
                            z = qz * k + qx * s;
                            w = w * k - qy * s;
                        }
                        default -> {
                            x = qx * k + qy * s;
                            y = qy * k - qx * s;
                            z = qz * k + w * s;
                            w = w * k - qz * s;
                        }
                    }
                }
            }
        }
        if (translation != null) {
            translation[frame * 3] = (float) px;
            translation[frame * 3 + 1] = (float) py;
            translation[frame * 3 + 2] = (float) pz;
        }
        if (rotation != null) {
            rotation[frame * 4] = (float) x;
            rotation[frame * 4 + 1] = (float) y;
            rotation[frame * 4 + 2] = (float) z;
            rotation[frame * 4 + 3] = (float) w;
        }
    }

    private Clip clip(
            String name, int frames, double rate, float[] times, float[][] translations, float[][] rotations) {
        List<Channel> channels = new ArrayList<>();
        for (int j = 0; j < translations.length && frames > 0; j++) {
            if (translations[j] != null) {
                channels.add(channel(j, Channel.Path.TRANSLATION, times, translations[j], 3));
            }
            if (rotations[j] != null) {
                channels.add(channel(j, Channel.Path.ROTATION, times, rotations[j], 4));
            }
        }
        return new Clip(name, channels, rate, false, true, Passthrough.NONE);
    }

    private static Channel channel(int node, Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(node, path, sampler, "", Passthrough.NONE);
    }
}
