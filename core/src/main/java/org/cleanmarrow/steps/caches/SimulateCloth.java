package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.cloth.ClothRun;
import org.cleanmarrow.cloth.ClothSection;
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
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Lets a cloth hang and swing over a clip: pulled by where its skin has it, held by its pins, bumping into the solid colliders.
 * What comes of it is a vertex cache of the cloth, in a clip of its own that has all else of the clip too.
 */
@StepInfo(name = "simulate-cloth", says = "Lets a cloth hang and swing over a clip, into a vertex cache.")
public record SimulateCloth(
        @Parameter(says = "name of the mesh that is cloth") String mesh,

        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "name of the new clip; none: the clip's, with _cloth", fallback = "\"\"")
        String name,

        @Parameter(
                says = "frames that it hangs in the first pose before the clip begins",
                fallback = "24",
                unit = "frames",
                least = 0,
                most = 10000)
        int settle)
        implements Step {
    private static final int SETTLE = 24;

    public SimulateCloth(String mesh, String clip) {
        this(mesh, clip, "", SETTLE);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int m = Names.mesh(asset, mesh);
        int number = Clips.number(asset, clip);
        if (settle < 0 || settle > 10_000) {
            throw new Refused("cache.lead", settle);
        }
        List<ClothSection> sections = ClothSection.all(asset).stream()
                .filter(s -> asset.nodes().get(s.node()).mesh() == m)
                .toList();
        if (sections.isEmpty()) {
            throw new Refused("cloth.none", mesh);
        }
        // Their skin has them all in one place, and the cloth would be torn from there.
        int unweighted = asset.skinOfMesh(m) < 0
                ? 0
                : AssignUnweighted.strays(asset.meshes().get(m)).cardinality();
        if (unweighted > 0) {
            throw new Refused("cloth.unweighted", mesh, unweighted);
        }
        Clip source = asset.clips().get(number);
        String called = name.isBlank() ? source.name() + "_cloth" : name;
        Clips.free(asset, called);
        float[] seconds = Timing.frames(source, source.rate());
        CacheBake.bytes(asset.meshes().get(m).vertexCount(), seconds.length, sections.size());
        List<Channel> channels = new ArrayList<>(source.channels());
        channels.removeIf(c -> c.movesVertices() && sections.stream().anyMatch(s -> s.node() == c.node()));
        Clip played = source.withChannels(channels);
        Change change = Change.of(asset);
        List<Channel> all = new ArrayList<>(channels);
        for (ClothSection section : sections) {
            ClothRun run = run(asset, section, played);
            VertexTrack track = VertexTrack.of(seconds, run.frames(seconds, settle, work));
            all.add(new Channel(section.node(), Channel.Path.VERTICES, track, "", Passthrough.NONE));
            ClothRun.Held held = run.held();
            change = change.note("cloth.held", held.pinned(), held.leashed(), held.free(), run.obstacles());
            if (run.skipped() > 0) {
                change = change.note("cloth.skipped", run.skipped());
            }
            change = change.note("cloth.stretched", 100 * run.stretch(), 100 * run.mostStretch());
        }
        Clip made = new Clip(called, all, source.rate(), source.loop(), true, List.of(), Passthrough.NONE);
        return Clips.inPlaceOf(asset, List.of(number), made, true)
                .count("cache.frames", seconds.length)
                .after(change);
    }

    private static ClothRun run(Asset asset, ClothSection section, Clip played) {
        MeshPlace place = new Deformer(asset)
                .places().stream()
                        .filter(p -> p.node() == section.node())
                        .findFirst()
                        .orElseThrow();
        return new ClothRun(asset, place, section.fabric(), played);
    }
}
