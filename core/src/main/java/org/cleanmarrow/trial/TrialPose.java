package org.cleanmarrow.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.joml.Quaterniond;

/**
 * A pose that is held against the skin to find faults, with the way to it: stops a second of time is shared among evenly,
 * from the first to the last.
 *
 * @param stops turns of joints against their parents, by name; a joint that a stop does not name is at rest there
 */
public record TrialPose(String name, List<Map<String, Quaterniond>> stops) {
    /** Frames that the second is shown in. */
    private static final double RATE = 48;

    public TrialPose {
        stops = List.copyOf(stops);
    }

    /** From rest to a pose. */
    public static TrialPose to(String name, Map<String, Quaterniond> pose) {
        return new TrialPose(name, List.of(Map.of(), pose));
    }

    /** What a clip holds at a moment, as a pose to be tried again. */
    public static TrialPose held(String name, Asset asset, Clip clip, double seconds) {
        Pose pose = new Rig(asset).at(clip, seconds);
        Map<String, Quaterniond> turns = new TreeMap<>();
        for (Channel channel : clip.channels()) {
            if (channel.node() >= 0 && channel.path() == Channel.Path.ROTATION) {
                turns.put(asset.nodeRef(channel.node()), pose.rotation(channel.node()));
            }
        }
        return to(name, turns);
    }

    /** The way through the stops as a clip of an asset, from 0 to 1 second; joints that it does not have are left out. */
    public Clip clip(Asset asset) {
        float[] times = new float[stops.size()];
        for (int i = 0; i < times.length; i++) {
            times[i] = times.length == 1 ? 0 : i / (times.length - 1f);
        }
        TreeSet<String> joints = new TreeSet<>();
        stops.forEach(s -> joints.addAll(s.keySet()));
        List<Channel> channels = new ArrayList<>();
        for (String joint : joints) {
            int n = asset.findNode(joint);
            if (n < 0 || asset.nodes().get(n).local().matrix() != null) {
                continue;
            }
            float[] values = new float[times.length * 4];
            for (int i = 0; i < times.length; i++) {
                Quaterniond q = stops.get(i)
                        .getOrDefault(joint, asset.nodes().get(n).local().rotationQuaternion());
                values[i * 4] = (float) q.x;
                values[i * 4 + 1] = (float) q.y;
                values[i * 4 + 2] = (float) q.z;
                values[i * 4 + 3] = (float) q.w;
            }
            channels.add(new Channel(
                    n,
                    Channel.Path.ROTATION,
                    new Sampler(Sampler.Interpolation.LINEAR, times, values, 4, Storage.FLOAT),
                    "",
                    Passthrough.NONE));
        }
        return new Clip(name, channels, RATE, false, false, Passthrough.NONE);
    }
}
