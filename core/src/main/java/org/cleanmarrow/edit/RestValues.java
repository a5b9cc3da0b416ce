package org.cleanmarrow.edit;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.pose.Pose;
import org.jspecify.annotations.Nullable;

/** What channels move, as it is at rest. */
public final class RestValues {
    private RestValues() {}

    /** As many numbers as the channel's track is wide; null where it moves nothing that has a rest. */
    public static float @Nullable [] of(Asset asset, Pose rest, Channel channel) {
        if (channel.node() < 0) {
            return null;
        }
        Local local = asset.nodes().get(channel.node()).local();
        return switch (channel.path()) {
            case TRANSLATION -> local.translation();
            case ROTATION -> local.rotation();
            case SCALE -> local.scale();
            case WEIGHTS -> weights(rest.morph(channel.node()), channel.track().width());
            case VERTICES, POINTER -> null;
        };
    }

    private static float @Nullable [] weights(double @Nullable [] morph, int width) {
        if (morph == null || morph.length != width) {
            return null;
        }
        float[] out = new float[width];
        for (int i = 0; i < width; i++) {
            out[i] = (float) morph[i];
        }
        return out;
    }
}
