package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;

/** Rewrites the keys of all clips after nodes were changed by {@link NodeMap}s. */
public final class Channels {
    private Channels() {}

    /** A sampler under one map for one property; samplers that channels shared stay shared where that still fits. */
    private record Rewritten(Sampler sampler, NodeMap map, Channel.Path path) {}

    /**
     * @param maps one a node; null for nodes that stay as they are
     */
    public static List<Clip> rewritten(Asset asset, NodeMap[] maps) {
        Map<Rewritten, Sampler> done = new HashMap<>();
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : asset.clips()) {
            boolean changed = false;
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : clip.channels()) {
                NodeMap map = channel.node() < 0 ? null : maps[channel.node()];
                boolean spatial = channel.path() == Channel.Path.TRANSLATION
                        || channel.path() == Channel.Path.ROTATION
                        || channel.path() == Channel.Path.SCALE;
                if (map == null || map.isNone() || !spatial) {
                    channels.add(channel);
                    continue;
                }
                changed = true;
                Rewritten key = new Rewritten(channel.sampler(), map, channel.path());
                channels.add(channel.withTrack(
                        done.computeIfAbsent(key, k -> map.apply(channel.sampler(), channel.path()))));
            }
            clips.add(changed ? clip.withChannels(channels) : clip);
        }
        return clips;
    }
}
