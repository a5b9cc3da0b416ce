package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.simulation.BodyRun;
import org.cleanmarrow.simulation.BodyWorld;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Pulls;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Lets the free bodies fall, swing and bump, while a clip moves the rest or all stands still, and keeps what they do as keys, one a
 * frame, in a clip of its own that has all else of the clip too.
 */
@StepInfo(name = "simulate-bodies", says = "Lets the free bodies fall and swing over a clip, into a clip.")
public record SimulateBodies(
        @Parameter(says = "name of the clip that moves the rest; none: all stands still", fallback = "\"\"")
        String clip,

        @Parameter(says = "how long, where no clip is named", fallback = "2", unit = "seconds", least = 0, most = 600)
        double seconds,

        @Parameter(says = "name of the new clip; none: the clip's, with _bodies", fallback = "\"\"")
        String name,

        @Parameter(
                says =
                        "a level floor for the bodies: none, at height zero, or under the lowest point of what is drawn at rest",
                fallback = "\"none\"")
        Floor floor,

        @Parameter(says = "what a hand drew at, frame by frame, while it was tried", fallback = "[]")
        Pulls pulls)
        implements Step {
    /** What the bodies land on, beside still ones. */
    public enum Floor {
        NONE,
        ZERO,
        LOWEST
    }

    private static final double RATE = 30;
    private static final long MOST_KEYS = 1_000_000;

    /** Onto nothing but what is still. */
    public SimulateBodies(String clip, double seconds, String name) {
        this(clip, seconds, name, Floor.NONE);
    }

    /** Nobody draws at them. */
    public SimulateBodies(String clip, double seconds, String name, Floor floor) {
        this(clip, seconds, name, floor, Pulls.NONE);
    }

    /** Over a clip. */
    public SimulateBodies(String clip) {
        this(clip, 2, "");
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(seconds > 0 && seconds <= 600)) {
            throw new Refused("simulate.seconds", seconds);
        }
        if (Bodies.all(asset).stream().noneMatch(b -> b.kind() == RigidBody.Kind.FREE)) {
            throw new Refused("simulate.none");
        }
        int number = clip.isBlank() ? -1 : Clips.number(asset, clip);
        Clip source = number < 0 ? null : asset.clips().get(number);
        String called = !name.isBlank() ? name : source == null ? "bodies" : source.name() + "_bodies";
        Clips.free(asset, called);
        double rate = source == null ? RATE : source.rate();
        float[] times = source == null ? Timing.frames(0, seconds, rate) : Timing.frames(source, rate);
        long many = Bodies.all(asset).size() * (long) times.length;
        if (many > MOST_KEYS) {
            throw new Refused("simulate.long", Bodies.all(asset).size(), times.length, MOST_KEYS);
        }
        BodyRun.Result result = BodyRun.run(asset, source, height(asset), times, pulls(asset, times.length), work);
        if (result.gone() > 0) {
            throw new Refused("simulate.left", result.gone());
        }
        Set<Integer> moved = new HashSet<>(result.nodes());
        List<Channel> channels = new ArrayList<>(source == null ? List.of() : source.channels());
        channels.removeIf(c -> moved.contains(c.node())
                && (c.path() == Channel.Path.TRANSLATION || c.path() == Channel.Path.ROTATION));
        for (int n : result.nodes()) {
            if (asset.nodes().get(n).local().matrix() != null) {
                throw new Refused("simulate.matrix", asset.nodeRef(n));
            }
            channels.addAll(keys(asset, n, times, result.frames()));
        }
        Clip made = new Clip(called, channels, rate, false, true, List.of(), Passthrough.NONE);
        Change change = source == null ? added(asset, made) : Clips.inPlaceOf(asset, List.of(number), made, true);
        change = change.count("bodies.let.go", result.nodes().size());
        change = result.loose() == 0 ? change : change.note("simulate.loose", result.loose());
        change = result.grown() == 0 ? change : change.note("simulate.grown", result.grown());
        return result.away().isEmpty()
                ? change
                : change.note(
                        "simulate.away",
                        result.away().size(),
                        asset.nodeRef(result.away().getFirst()));
    }

    /** For each frame what pulls on the way there. */
    private List<List<BodyWorld.Pull>> pulls(Asset asset, int frames) throws Refused {
        List<List<BodyWorld.Pull>> out = new ArrayList<>();
        for (Pulls.Pull pull : pulls.list()) {
            if (pull.frame() < frames) {
                while (out.size() <= pull.frame()) {
                    out.add(new ArrayList<>());
                }
                out.get(pull.frame()).add(new BodyWorld.Pull(Names.node(asset, pull.node()), pull.at(), pull.to()));
            }
        }
        return out;
    }

    /** Of the floor, in the asset's unit; not a number: there is none. */
    public double height(Asset asset) throws Refused {
        if (floor != Floor.LOWEST) {
            return floor == Floor.ZERO ? 0 : Double.NaN;
        }
        Box box = RestBox.of(asset);
        if (box.isEmpty()) {
            throw new Refused("simulate.floor");
        }
        Vector3d up = asset.conventions().up().vector();
        return Math.min(up.dot(box.min()), up.dot(box.max()));
    }

    private static Change added(Asset asset, Clip made) {
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.add(made);
        return Change.of(asset.withClips(clips)).count("clips.made", 1);
    }

    /** Place and turn of a body's node against its parent, a key a frame. */
    private static List<Channel> keys(Asset asset, int n, float[] times, List<Map<Integer, Matrix4d>> frames) {
        int parent = asset.parents()[n];
        float[] places = new float[3 * times.length];
        float[] turns = new float[4 * times.length];
        Quaterniond last = new Quaterniond();
        Vector3d scale = new Vector3d();
        float[] rest = asset.nodes().get(n).local().scale();
        for (int k = 0; k < times.length; k++) {
            Map<Integer, Matrix4d> frame = frames.get(k);
            Matrix4d local = new Matrix4d(Objects.requireNonNull(frame.get(n)));
            if (parent >= 0) {
                Objects.requireNonNull(frame.get(parent)).invert(new Matrix4d()).mul(local, local);
            }
            places[3 * k] = (float) local.m30();
            places[3 * k + 1] = (float) local.m31();
            places[3 * k + 2] = (float) local.m32();
            // A node that mirrors keeps its mirroring in its scale.
            local.getScale(scale);
            local.scale(Math.signum(rest[0]) / scale.x, Math.signum(rest[1]) / scale.y, Math.signum(rest[2]) / scale.z);
            Quaterniond turn = local.getNormalizedRotation(new Quaterniond());
            if (k > 0 && turn.dot(last) < 0) {
                turn.mul(-1);
            }
            last.set(turn);
            turns[4 * k] = (float) turn.x;
            turns[4 * k + 1] = (float) turn.y;
            turns[4 * k + 2] = (float) turn.z;
            turns[4 * k + 3] = (float) turn.w;
        }
        Sampler place = new Sampler(Sampler.Interpolation.LINEAR, times, places, 3, Storage.FLOAT);
        Sampler turn = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
        return List.of(
                new Channel(n, Channel.Path.TRANSLATION, place, "", Passthrough.NONE),
                new Channel(n, Channel.Path.ROTATION, turn, "", Passthrough.NONE));
    }
}
