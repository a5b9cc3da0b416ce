package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Multiplies all lengths of one clip, for a clip that came in another unit than the skeleton. */
@StepInfo(name = "scale-clip", says = "Multiplies the lengths of one clip that came in another unit than its skeleton.")
public record ScaleClip(
        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "what lengths are multiplied by, above zero")
        double factor)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Clips.number(asset, clip);
        if (!(factor > 1e-6 && factor < 1e6)) {
            throw new Refused("clip.factor", factor);
        }
        NodeMap map = new NodeMap(
                new Matrix3d().scaling(factor), new Vector3d(), new Quaterniond(), new Quaterniond(), new Matrix3d());
        Clip was = asset.clips().get(number);
        List<Channel> channels = was.channels().stream()
                .map(c -> c.path() == Channel.Path.TRANSLATION ? c.withTrack(map.apply(c.sampler(), c.path())) : c)
                .toList();
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(number, was.withChannels(channels));
        long moved = channels.stream()
                .filter(c -> c.path() == Channel.Path.TRANSLATION)
                .count();
        return Change.of(asset.withClips(clips)).count("channels.scaled", moved);
    }
}
