package org.cleanmarrow.formats.delivery;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * What whoever receives files sees of them. A receiver takes their numbers in its own unit and axes, whatever the file or its format says of
 * them: that is what a target is. What was not converted lies on its face then, or is a hundred times as large.
 *
 * @param asset  what lies in the files, as the receiver takes it; clips of files of their own are on the model
 * @param facts  size, how it stands and faces, what there is of everything, each clip
 * @param wrong  those of them that are not as the receiver expects
 * @param motion against what was meant
 */
public record Arrival(Asset asset, List<Message> facts, List<Message> wrong, Motion motion) {
    private static final int MOST_CLIPS = 8;

    /**
     * Opens what was delivered as a receiver would.
     *
     * @param files the model, then files of its clips
     * @param taken unit and axes that the receiver takes all numbers in
     * @param meant what should have arrived
     */
    public static Arrival of(List<Path> files, Conventions taken, Asset meant, Work work) throws ReadFailed {
        Asset asset = AssetFiles.open(files, work).asset().withConventions(taken);
        List<Message> facts = new ArrayList<>();
        List<Message> wrong = new ArrayList<>();
        Box box = RestBox.of(asset);
        if (!box.isEmpty()) {
            facts.add(Message.of(
                    "arrival.size",
                    along(box, taken.up().vector(), taken),
                    along(box, taken.left(), taken),
                    along(box, taken.forward().vector(), taken)));
        }
        Body body = Body.of(asset);
        directed("up", body.up().flatMap(Body.Frame::axis), taken.up(), facts, wrong);
        directed("forward", body.forward().flatMap(Body.Frame::axis), taken.forward(), facts, wrong);
        long joints = asset.skins().stream()
                .flatMapToInt(s -> Arrays.stream(s.joints()))
                .distinct()
                .count();
        facts.add(Message.of(
                "arrival.holds",
                asset.nodes().stream().filter(n -> n.mesh() >= 0).count(),
                joints,
                asset.materials().size(),
                asset.attached(Collider.class).size(),
                asset.clips().size()));
        asset.clips().stream().limit(MOST_CLIPS).forEach(c -> facts.add(clip(c)));
        Motion motion = MotionProbe.compare(meant, asset, work);
        wrong.addAll(motion.differences(motion.toleranceMetres()));
        return new Arrival(asset, List.copyOf(facts), List.copyOf(wrong), motion);
    }

    private static Length along(Box box, Vector3d axis, Conventions taken) {
        return new Length(Math.abs(new Vector3d(box.max()).sub(box.min()).dot(axis)) * taken.metresPerUnit());
    }

    private static Message clip(Clip clip) {
        return Message.of(
                "arrival.clip",
                clip.name(),
                Math.rint(clip.start() * clip.rate()),
                Math.rint(clip.end() * clip.rate()),
                clip.rate());
    }

    private static void directed(
            String way, Optional<Axis> found, Axis expected, List<Message> facts, List<Message> wrong) {
        if (found.isPresent()) {
            boolean as = found.get() == expected;
            Message said = Message.of(
                    "arrival." + way + (as ? "" : ".other"), found.get().code(), expected.code());
            (as ? facts : wrong).add(said);
        }
    }
}
