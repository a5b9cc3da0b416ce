package org.cleanmarrow.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.ferry.HeronCrest;
import org.cleanmarrow.demo.ferry.MooringPennant;
import org.cleanmarrow.demo.ferry.ReturnedCape;
import org.cleanmarrow.demo.ferry.RiverIce;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.usd.UsdReader;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.steps.caches.SimulateCloth;
import org.cleanmarrow.steps.caches.StrandsToMesh;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Caches, pieces and strands turned into what an engine plays. */
final class PlayableBench {
    private static final int SIDE = 64;
    private static final int FRAMES = 100;
    private static final int LARGE_SIDE = 316;
    private static final int LARGE_FRAMES = 300;

    private PlayableBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Caches");
        Asset pennant = new FitCache("pennant")
                .apply(MooringPennant.asset(), Work.QUIET)
                .asset();
        byJoints(report, pennant, "pennant");
        byJoints(
                report,
                // It came in another unit than its file says.
                new CorrectUnit(0.001).apply(ReturnedCape.asset(), Work.QUIET).asset(),
                "cape");
        large(report);
        Asset cloth = cloth(SIDE, FRAMES);
        report.within(
                "joints of a cloth of 4,096 vertices and 100 frames, 40 of them",
                Timing.of(0, 1, () -> new CacheToJoints("cloth", 40).apply(cloth, Work.QUIET)),
                20_000);
        Asset ice = RiverIce.asset();
        report.within(
                "joints of 60 floes over 73 frames",
                Timing.of(1, 3, () -> new CacheToJoints("ice", 60).apply(ice, Work.QUIET)),
                1000);
        report.within(
                "the pennant laid on its mesh",
                Timing.of(1, 3, () -> new FitCache("pennant").apply(MooringPennant.asset(), Work.QUIET)),
                1000);
        report.within(
                "normals of 100,000 vertices",
                Timing.of(1, 3, () -> new RecomputeNormals("*", 60).apply(big, Work.QUIET)),
                2000);
        Asset ball = ball();
        report.within(
                "a ball of 100,000 triangles broken into 200 pieces",
                Timing.of(1, 2, () -> new Shatter("ball", 200).apply(ball, Work.QUIET)),
                10_000);
        Asset crest = HeronCrest.asset();
        report.within(
                "240 strands of the finest tubes",
                Timing.of(1, 3, () -> new StrandsToMesh("crest", 6, 1).apply(crest, Work.QUIET)),
                1000);
        Asset hanging = hanging(cloth);
        report.note("a cloth of 4,096 vertices let hang over 100 frames: "
                + new SimulateCloth("cloth", "wave", "", 0)
                        .apply(hanging, Work.QUIET)
                        .notes()
                        .getLast());
        report.within(
                "the same",
                Timing.of(0, 2, () -> new SimulateCloth("cloth", "wave", "", 0).apply(hanging, Work.QUIET)),
                10_000);
        byte[] usd = AssetFiles.write(cloth, "usda", "cloth", Work.QUIET)
                .pieces()
                .getFirst()
                .bytes();
        report.note("the cloth as USD text has " + (usd.length >> 20) + " MB");
        report.within(
                "the cloth written as USD text",
                Timing.of(0, 3, () -> AssetFiles.write(cloth, "usda", "cloth", Work.QUIET)),
                5000);
        report.within(
                "the same read", Timing.of(0, 3, () -> UsdReader.read(usd, "cloth.usda", null, Work.QUIET)), 5000);
    }

    private static void byJoints(Report report, Asset asset, String mesh) throws Exception {
        for (int joints : new int[] {2, 4, 8, 16, 32}) {
            String smooth = off(new CacheToJoints(mesh, joints), asset);
            String plain = off(new CacheToJoints(mesh, joints, 1, 0, CacheToJoints.Hierarchy.FLAT), asset);
            report.note(mesh + " by " + joints + " joints: " + smooth + "; each vertex with one joint: " + plain);
        }
    }

    /** 100,000 vertices over 300 frames, opened from a file and played. */
    private static void large(Report report) throws Exception {
        Path file = Files.createTempFile("marrow-large", ".glb");
        try {
            Files.write(file, GltfWriter.glb(cloth(LARGE_SIDE, LARGE_FRAMES)));
            report.note("a cache of 100,000 vertices and 300 frames has " + (Files.size(file) >> 20) + " MB as GLB");
            Timing read = Timing.of(1, 7, () -> Files.readAllBytes(file));
            report.against(
                    "it is opened",
                    Timing.of(1, 7, () -> AssetFiles.open(file, Work.QUIET)),
                    "its bytes read",
                    read,
                    3);
            VertexTrack track = (VertexTrack) AssetFiles.open(file, Work.QUIET)
                    .clips()
                    .getFirst()
                    .channels()
                    .getFirst()
                    .track();
            report.within(
                    "where its vertices are between two frames",
                    Timing.of(20, 60, () -> track.positions(4.01)),
                    Report.FRAME);
        } finally {
            Files.delete(file);
        }
    }

    /** The cloth pinned along one edge, at the standard 64 substeps. */
    private static Asset hanging(Asset cloth) throws Exception {
        BitSet top = new BitSet();
        for (int x = 0; x < SIDE; x++) {
            top.set(x * SIDE + SIDE - 1);
        }
        Asset set = new SetCloth("cloth").apply(cloth, Work.QUIET).asset();
        return new SetStray("cloth", VertexSet.chosen(set.meshes().getFirst(), top), 0, 0)
                .apply(set, Work.QUIET)
                .asset();
    }

    private static String off(CacheToJoints step, Asset asset) throws Exception {
        return step.apply(asset, Work.QUIET).notes().getFirst().toString();
    }

    /** Closed, with one vertex a place. */
    private static Asset ball() {
        int rings = 224;
        int round = 224;
        float[] p = new float[3 * (2 + (rings - 1) * round)];
        p[1] = 1;
        p[4] = -1;
        for (int i = 1; i < rings; i++) {
            for (int j = 0; j < round; j++) {
                double down = Math.PI * i / rings;
                double turn = 2 * Math.PI * j / round;
                int v = 2 + (i - 1) * round + j;
                p[3 * v] = (float) (Math.sin(down) * Math.cos(turn));
                p[3 * v + 1] = (float) Math.cos(down);
                p[3 * v + 2] = (float) (-Math.sin(down) * Math.sin(turn));
            }
        }
        int[] corners = new int[6 * (rings - 1) * round];
        int end = 0;
        for (int i = 0; i < rings; i++) {
            for (int j = 0; j < round; j++) {
                int next = (j + 1) % round;
                int above = 2 + (i - 1) * round;
                int below = above + round;
                int[] both = i == 0
                        ? new int[] {0, below + j, below + next}
                        : i == rings - 1
                                ? new int[] {above + j, 1, above + next}
                                : new int[] {above + j, below + j, below + next, above + j, below + next, above + next};
                for (int c : both) {
                    corners[end++] = c;
                }
            }
        }
        return Asset.of(
                "ball",
                Conventions.GLTF,
                List.of(Node.group("ball", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("ball", Primitive.triangles(corners, p, null, -1))),
                List.of(),
                List.of());
    }

    /** A square that waves. @param side vertices of an edge */
    private static Asset cloth(int side, int frames) {
        float[] p = new float[3 * side * side];
        int[] corners = new int[6 * (side - 1) * (side - 1)];
        int end = 0;
        for (int x = 0; x < side; x++) {
            for (int y = 0; y < side; y++) {
                int v = x * side + y;
                p[3 * v] = x / (float) side;
                p[3 * v + 1] = y / (float) side;
                for (int c : x + 1 < side && y + 1 < side
                        ? new int[] {v, v + side, v + 1, v + 1, v + side, v + side + 1}
                        : new int[0]) {
                    corners[end++] = c;
                }
            }
        }
        Primitive sheet = Primitive.triangles(corners, p, null, -1);
        float[] times = new float[frames];
        for (int k = 0; k < frames; k++) {
            times[k] = k / 24f;
        }
        VertexTrack track = VertexTrack.of(times, CacheBake.frames(p.length / 3, frames, Work.QUIET, (k, out) -> {
            for (int i = 0; i < p.length; i += 3) {
                double wave = Math.sin(7 * p[i] + 0.3 * k) + Math.cos(5 * p[i + 1] - 0.2 * k + 2 * p[i]);
                out[i] = p[i];
                out[i + 1] = (float) (p[i + 1] + 0.02 * wave);
                out[i + 2] = (float) (0.06 * wave);
            }
        }));
        Channel channel = new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        return Asset.of(
                "cloth",
                Conventions.GLTF,
                List.of(Node.group("cloth", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("cloth", sheet)),
                List.of(),
                List.of(new Clip("wave", List.of(channel), 24, false, true, List.of(), Passthrough.NONE)));
    }
}
