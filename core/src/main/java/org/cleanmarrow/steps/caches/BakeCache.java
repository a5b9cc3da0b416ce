package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Bakes a clip into a vertex cache: where every vertex of a mesh is at each frame, first and last included. The cache plays
 * in a clip of its own at every node with the mesh; the clip itself stays. This is how a body goes out as a moving collider, and
 * how a garment starts at rest for a simulation.
 */
@StepInfo(
        name = "bake-cache",
        says = "Bakes a clip into a vertex cache of a mesh, frame by frame, in a clip of its own.")
public record BakeCache(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "name of the new clip; none: the clip's, with _cache", fallback = "\"\"")
        String name,

        @Parameter(
                says = "frames that lead from rest to the first pose; 12 is usual (common practice)",
                fallback = "0",
                unit = "frames",
                least = 0,
                most = 10000)
        int leadIn,

        @Parameter(says = "whether the first frame is frame 0", fallback = "false")
        boolean fromZero)
        implements Step {

    public BakeCache(String mesh, String clip) {
        this(mesh, clip, "", 0, false);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, mesh);
        int number = Clips.number(asset, clip);
        if (leadIn < 0 || leadIn > 10_000) {
            throw new Refused("cache.lead", leadIn);
        }
        String called = name.isBlank() ? asset.clips().get(number).name() + "_cache" : name;
        Clips.free(asset, called);
        Clip source = asset.clips().get(number);
        if (leadIn > 0) {
            Asset alone = asset.withClips(List.of(source));
            source = new LeadIn("*", leadIn).apply(alone, work).asset().clips().getFirst();
        }
        Clip played = source;
        List<MeshPlace> places =
                new Deformer(asset).places().stream().filter(p -> p.mesh() == m).toList();
        if (places.isEmpty() || asset.meshes().get(m).vertexCount() == 0) {
            throw new Refused("cache.not.placed", mesh);
        }
        float[] seconds = Timing.frames(played, played.rate());
        long bytes = CacheBake.bytes(asset.meshes().get(m).vertexCount(), seconds.length, places.size());
        Matrix4d[] rest = new Rig(asset).rest().world();
        List<Channel> channels = new ArrayList<>();
        for (MeshPlace place : places) {
            if (Math.abs(rest[place.node()].determinant()) < 1e-30) {
                throw new Refused("freeze.flat", asset.nodeRef(place.node()));
            }
            VertexTrack track = CacheBake.of(asset, place, played, seconds, work);
            channels.add(new Channel(place.node(), Channel.Path.VERTICES, track, "", Passthrough.NONE));
        }
        Clip made = new Clip(called, channels, played.rate(), played.loop(), true, List.of(), Passthrough.NONE);
        if (fromZero) {
            made = Timing.fromZero(made);
        }
        return Clips.inPlaceOf(asset, List.of(number), made, true)
                .count("cache.frames", seconds.length)
                .note("cache.baked", called, Clips.range(made), bytes >> 10);
    }
}
