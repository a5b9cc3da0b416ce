package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.simulation.BodyKeys;
import org.cleanmarrow.simulation.BodyRun;
import org.cleanmarrow.simulation.BodyWorld;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Pulls;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

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
        ready(asset);
        int number = clip.isBlank() ? -1 : Clips.number(asset, clip);
        Clip source = source(asset);
        String called = !name.isBlank() ? name : source == null ? "bodies" : source.name() + "_bodies";
        Clips.free(asset, called);
        double rate = source == null ? RATE : source.rate();
        float[] times = times(asset);
        long many = Bodies.all(asset).size() * (long) times.length;
        if (many > MOST_KEYS) {
            throw new Refused("simulate.long", Bodies.all(asset).size(), times.length, MOST_KEYS);
        }
        BodyRun.Result result = BodyRun.run(asset, source, height(asset), times, pulls(asset, times.length), work);
        if (result.gone() > 0) {
            throw new Refused("simulate.left", result.gone());
        }
        Clip made = BodyKeys.clip(asset, source, called, rate, times, result.nodes(), result.frames());
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

    /** Refuses an asset of which nothing could be let go. */
    public void ready(Asset asset) throws Refused {
        if (!(seconds > 0 && seconds <= 600)) {
            throw new Refused("simulate.seconds", seconds);
        }
        if (Bodies.all(asset).stream().noneMatch(b -> b.kind() == RigidBody.Kind.FREE)) {
            throw new Refused("simulate.none");
        }
        for (RigidBody body : Bodies.all(asset)) {
            if (body.kind() == RigidBody.Kind.FREE
                    && asset.nodes().get(body.node()).local().matrix() != null) {
                throw new Refused("simulate.matrix", asset.nodeRef(body.node()));
            }
        }
    }

    /** The clip that moves the rest; null: all stands still. */
    public @Nullable Clip source(Asset asset) throws Refused {
        return clip.isBlank() ? null : asset.clips().get(Clips.number(asset, clip));
    }

    /** The moments that become keys, the first where it begins. */
    public float[] times(Asset asset) throws Refused {
        Clip source = source(asset);
        return source == null ? Timing.frames(0, seconds, RATE) : Timing.frames(source, source.rate());
    }

    /** The same with what a hand did, as long as so many frames take. */
    public SimulateBodies tried(int frames, Pulls hand) {
        return new SimulateBodies(clip, clip.isBlank() ? frames / RATE : seconds, name, floor, hand);
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
}
