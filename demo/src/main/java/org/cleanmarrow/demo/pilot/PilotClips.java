package org.cleanmarrow.demo.pilot;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** The pilot's motions, keyed on every frame at 24 a second. */
final class PilotClips {
    private static final double RATE = 24;

    private final PilotJoints joints;
    private final Map<String, Integer> nodes;

    /** @param nodes node number of every joint */
    PilotClips(PilotJoints joints, Map<String, Integer> nodes) {
        this.joints = joints;
        this.nodes = nodes;
    }

    Clip idle() {
        return bake("idle", 1, 97, true, this::idle);
    }

    Clip hail() {
        return bake("hail", 0, 47, false, this::hail);
    }

    Clip punt() {
        return bake("punt", 1, 61, true, this::punt);
    }

    private static double sine(double turns) {
        return StrictMath.sin(2 * Math.PI * turns);
    }

    private static double cosine(double turns) {
        return StrictMath.cos(2 * Math.PI * turns);
    }

    /** 0 before, 1 after, with a soft start and end. */
    private static double ease(double frame, double from, double to) {
        double t = Math.clamp((frame - from) / (to - from), 0, 1);
        return t * t * (3 - 2 * t);
    }

    /** Arms at the sides, the lantern held in the right hand a little before the body. */
    private Puppet stand() {
        Puppet p = new Puppet(joints);
        p.turn("left_collar", 0, 0, -3).turn("right_collar", 0, 0, 3);
        p.turn("left_upper_arm", -4, 0, -24).turn("left_forearm", -14, 0, 6);
        p.turn("right_upper_arm", -14, 0, 22).turn("right_forearm", -30, 8, -8);
        for (String finger : List.of("index", "middle", "ring", "little")) {
            p.curl("right_" + finger, 42);
            p.curl("left_" + finger, 10);
        }
        p.curl("right_thumb", 14);
        return p;
    }

    private Puppet idle(int frame) {
        double t = (frame - 1) / 96.0;
        double breath = sine(2 * t);
        double sway = sine(t);
        Puppet p = stand();
        p.shiftHips(0.012 * sway, -0.016 - 0.004 * cosine(2 * t), 0).turn("hips", 0, 2 * sway, 1.2 * sway);
        p.turn("waist", 0.6 * breath, 0, -1.0 * sway).turn("ribs_lower", -0.8 * breath, -1 * sway, -0.6 * sway);
        p.turn("ribs_upper", -1.4 * breath, 0, 0);
        p.turn("neck", 1.0 * breath, 6 * sine(t + 0.1), 0).turn("head", 2 * sine(2 * t + 0.2), 9 * sine(t + 0.1), 0);
        p.turn("left_upper_arm", 2 * sway, 0, 1.5 * breath).turn("left_forearm", -3 * sway, 0, 0);
        p.turn("right_upper_arm", 1.5 * sine(t - 0.15), 0, -1.2 * breath);
        p.turn("right_hand", 0, 0, 5 * sine(2 * t - 0.2));
        p.turn("scarf_tail", 4 * sine(2 * t - 0.1), 0, 3 * sway);
        cape(p, 1.6, 2.2 * sine(t - 0.12));
        return p.plant("left_", 0, 0, 0).plant("right_", 0, 0, 0);
    }

    private void cape(Puppet p, double back, double aside) {
        p.turn("cape_1", back, 0, 0.5 * aside)
                .turn("cape_2", 0.8 * back, 0, aside)
                .turn("cape_3", 0.6 * back, 0, aside);
    }

    private Puppet hail(int frame) {
        double up = ease(frame, 1, 15) * (1 - ease(frame, 35, 46));
        double wave = ease(frame, 10, 16) * (1 - ease(frame, 32, 37)) * sine((frame - 12) / 10.0);
        Puppet p = stand();
        p.shiftHips(-0.014 * up, -0.016 - 0.006 * up, 0.006 * up).turn("hips", 0, 3 * up, -1 * up);
        p.turn("waist", -1.5 * up, 2 * up, -2 * up).turn("ribs_lower", -2 * up, 3 * up, -2.5 * up);
        p.turn("ribs_upper", -2 * up, 4 * up, -2.5 * up);
        p.turn("left_collar", 0, -4 * up, 20 * up);
        p.turn("left_upper_arm", 10 * up, -12 * up, 112 * up + 4 * wave).turn("left_arm_twist", 0, 10 * up, 0);
        p.turn("left_forearm", 12 * up, 0, 26 * up + 24 * wave).turn("left_hand", 0, 0, 6 * up + 14 * wave);
        for (String finger : List.of("index", "middle", "ring", "little")) {
            p.curl("left_" + finger, 10 - 22 * up);
        }
        p.turn("neck", -2 * up, 7 * up, 0).turn("head", -5 * up, 11 * up, 3 * up + 1.5 * wave);
        p.turn("right_upper_arm", -3 * up, 0, -4 * up);
        p.turn("scarf_tail", 3 * up, 0, 5 * wave);
        cape(p, 1 + 5 * up, -2 * up + 2 * wave);
        return p.plant("left_", 0, 0, 0).plant("right_", 0, 0, 0);
    }

    private Puppet punt(int frame) {
        double t = (frame - 1) / 60.0;
        double push = 0.5 - 0.5 * cosine(t);
        double late = 0.5 - 0.5 * cosine(t - 0.12);
        Puppet p = stand();
        p.shiftHips(0.02 * sine(t), -0.03 - 0.075 * push, -0.03 + 0.085 * push)
                .turn("hips", 7 * push, -6 + 12 * push, 0);
        p.turn("waist", 3 + 9 * push, 4 * sine(t), 0).turn("ribs_lower", 3 + 8 * push, 6 * sine(t), 0);
        p.turn("ribs_upper", 2 + 5 * late, 5 * sine(t), 0);
        p.turn("left_collar", 0, 10 - 16 * late, 14 * (1 - late));
        p.turn("left_upper_arm", -62 + 74 * late, 0, 34 * (1 - late)).turn("left_forearm", -58 + 34 * late, 0, 0);
        p.turn("right_upper_arm", -12 + 22 * late, 0, -6).turn("right_forearm", -16, 0, 0);
        for (String finger : List.of("index", "middle", "ring", "little")) {
            p.curl("left_" + finger, 46);
        }
        p.turn("neck", -5 * push - 3, 0, 0).turn("head", -12 * push - 4, 3 * sine(t), 0);
        p.turn("scarf_tail", 8 * late - 4, 0, 0);
        cape(p, -4 + 9 * (1 - late), 2 * sine(t - 0.2));
        return p.plant("left_", 0, 0, 0).plant("right_", 0, 0, 0);
    }

    private Clip bake(String name, int first, int last, boolean loop, IntFunction<Puppet> frames) {
        int count = last - first + 1;
        float[] times = new float[count];
        Puppet[] poses = new Puppet[count];
        for (int i = 0; i < count; i++) {
            times[i] = (float) ((first + i) / RATE);
            poses[i] = frames.apply(first + i);
        }
        List<Channel> channels = new ArrayList<>();
        float[] hips = new float[count * 3];
        for (int i = 0; i < count; i++) {
            Vector3d at = poses[i].hips();
            hips[i * 3] = (float) at.x;
            hips[i * 3 + 1] = (float) at.y;
            hips[i * 3 + 2] = (float) at.z;
        }
        channels.add(channel("hips", Channel.Path.TRANSLATION, times, hips, 3));
        for (String joint : joints.names()) {
            if (!joints.isEnd(joint)) {
                channels.add(channel(joint, Channel.Path.ROTATION, times, rotations(joint, poses), 4));
            }
        }
        return new Clip(name, channels, RATE, loop, true, Passthrough.NONE);
    }

    private static float[] rotations(String joint, Puppet[] poses) {
        float[] out = new float[poses.length * 4];
        Quaterniond before = new Quaterniond();
        for (int i = 0; i < poses.length; i++) {
            Quaterniond q = poses[i].turn(joint);
            // Neighbouring keys stay on the same side, so that the way between them is short.
            if (q.dot(before) < 0) {
                q.set(-q.x, -q.y, -q.z, -q.w);
            }
            before = q;
            out[i * 4] = (float) q.x;
            out[i * 4 + 1] = (float) q.y;
            out[i * 4 + 2] = (float) q.z;
            out[i * 4 + 3] = (float) q.w;
        }
        return out;
    }

    private Channel channel(String joint, Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(nodes.get(joint), path, sampler, "", Passthrough.NONE);
    }
}
