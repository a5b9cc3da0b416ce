package org.cleanmarrow.steps.caches;

import java.util.List;
import org.cleanmarrow.caches.CacheOrder;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Puts the vertices of a cache into the order of its mesh, by where they lie in a frame that is like the mesh at rest; seams that came
 * back welded are split again, and those that came back split are taken by one of their sides. Refused where vertices have no place in
 * the cache close by. Unit and axes are left to {@link FitCache}.
 */
@StepInfo(name = "order-cache", says = "Puts a returned cache into its mesh's order of vertices, seams and all.")
public record OrderCache(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "name of the cache's clip; none: the only one with a cache of the mesh", fallback = "\"\"")
        String cache,

        @Parameter(
                says = "which of its frames is like the mesh at rest, counted from the first, which is 0",
                fallback = "0",
                least = 0)
        int frame)
        implements Step {
    /** Mean distance by size up to which a cache is of this mesh. */
    public static final double CLOSE = 0.005;

    public OrderCache(String mesh, String cache) {
        this(mesh, cache, 0);
    }

    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        CacheUse use = OneCache.of(asset, mesh, cache);
        VertexTrack track = use.track();
        if (frame < 0 || frame >= track.times().length) {
            throw new Refused("cache.order.frame", frame, track.times().length);
        }
        float[] at = new float[track.width()];
        track.at(frame, at);
        CacheOrder found = CacheOrder.of(use.rest(asset), at)
                .filter(o -> o.fits(CLOSE))
                .orElseThrow(() -> new Refused("cache.order.apart", mesh, frame));
        int moved = 0;
        for (int v = 0; v < found.order().length; v++) {
            moved += found.order()[v] == v ? 0 : 1;
        }
        Clip clip = asset.clips().get(use.clip());
        Channel channel = clip.channels().get(use.channel());
        Asset out = use.replaced(asset, List.of(channel.withTrack(track.ordered(found.order()))));
        return Change.of(out)
                .count("cache.vertices.ordered", moved)
                .note("cache.ordered", 100 * found.off(), track.vertices(), found.order().length);
    }
}
