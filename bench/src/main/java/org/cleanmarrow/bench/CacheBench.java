package org.cleanmarrow.bench;

import java.lang.foreign.Arena;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.DropToGround;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/** A hundred steps on a character with a vertex cache of 360 MB, all kept for undo. */
final class CacheBench {
    private static final int FRAMES = 300;
    private static final int STEPS = 100;

    private CacheBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("A character with a vertex cache of 300 frames, 100 steps kept for undo");
        int node = big.findNode("tube");
        int vertices = big.meshes().get(big.nodes().get(node).mesh()).vertexCount();
        Path file = Files.createTempFile("marrow-cache", ".bin");
        try (FileChannel out = FileChannel.open(file, StandardOpenOption.WRITE);
                Arena arena = Arena.ofShared()) {
            ByteBuffer frame = ByteBuffer.allocate(vertices * 12).order(ByteOrder.LITTLE_ENDIAN);
            for (int f = 0; f < FRAMES; f++) {
                frame.clear();
                for (int i = 0; i < vertices * 3; i++) {
                    frame.putFloat((float) Math.sin(i * 0.01 + f * 0.1));
                }
                out.write(frame.flip());
            }
            try (FileChannel in = FileChannel.open(file)) {
                VertexFrames frames =
                        new VertexFrames(in.map(FileChannel.MapMode.READ_ONLY, 0, in.size(), arena), vertices);
                run(report, cached(big, node, frames), in.size());
            }
        } finally {
            Files.deleteIfExists(file);
        }
    }

    private static Asset cached(Asset big, int node, VertexFrames frames) {
        float[] times = new float[FRAMES];
        for (int f = 0; f < FRAMES; f++) {
            times[f] = f / 30f;
        }
        Channel channel = new Channel(node, Channel.Path.VERTICES, VertexTrack.of(times, frames), "", Passthrough.NONE);
        List<Clip> clips = new ArrayList<>(big.clips());
        clips.add(new Clip("cache", List.of(channel), 30, false, true, Passthrough.NONE));
        return big.withClips(clips);
    }

    private static void run(Report report, Asset source, long bytes) throws Exception {
        List<Step> round = List.of(
                new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), false),
                new TrimIdle(""),
                new TurnAndFold(TurnAndFold.About.Z, 30, Optional.empty()),
                new Convert(Conventions.GLTF, false),
                new TrimEnds(),
                new DropToGround(true, Optional.empty()));
        History history = new History(source);
        long least = used();
        double[] times = new double[STEPS];
        for (int i = 0; i < STEPS; i++) {
            long before = System.nanoTime();
            history = history.with(Replay.one(history.latest(), round.get(i % round.size()), false, Work.QUIET));
            times[i] = (System.nanoTime() - before) / 1e6;
        }
        report.within("a step", Timing.sorted(times), 1000);
        long heap = used() >> 20;
        report.note(String.format(
                "the cache has %d MB; heap %d MB before, %d MB with all states kept", bytes >> 20, least >> 20, heap));
        report.most("heap with 100 states, MB", heap, 512);
        VertexTrack last = (VertexTrack)
                history.latest().clips().getLast().channels().getFirst().track();
        float[] out = new float[last.width()];
        report.within(
                "reading one frame through all changes", Timing.of(20, 60, () -> last.at(150, out)), Report.FRAME);
    }

    private static long used() {
        for (int i = 0; i < 3; i++) {
            System.gc();
        }
        return Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory();
    }
}
