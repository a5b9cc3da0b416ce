package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.ShrinkPieces;
import org.cleanmarrow.steps.caches.SimulateCloth;
import org.cleanmarrow.steps.intake.MergeMaterials;
import org.cleanmarrow.steps.intake.OrderMaterials;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.steps.motion.TrimClip;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.steps.scale.DeclareConventions;
import org.cleanmarrow.steps.scale.DropToGround;
import org.cleanmarrow.steps.scale.FaceForward;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.TPose;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Vertex caches are tracks of clips: steps carry them or refuse, and never touch their frames. */
public class VertexTrackTest {
    /** What these do is to move things. */
    private static final Set<Class<?>> MOVES = Set.of(
            CorrectUnit.class,
            DeclareConventions.class,
            DropToGround.class,
            FaceForward.class,
            RestFrom.class,
            TPose.class,
            TurnAndFold.class);

    /** What these do is to make caches, or something else of them; they have tests of their own. */
    private static final Set<Class<?>> MAKES =
            Set.of(BakeCache.class, FitCache.class, ShrinkPieces.class, CacheToJoints.class, SimulateCloth.class);

    private static final float[] TIMES = {0, 0.25f, 0.5f, 1};

    private static VertexFrames frames(float[] numbers, int vertices) {
        ByteBuffer bytes = ByteBuffer.allocate(numbers.length * 4).order(ByteOrder.LITTLE_ENDIAN);
        bytes.asFloatBuffer().put(numbers);
        return new VertexFrames(MemorySegment.ofBuffer(bytes), vertices);
    }

    /** The asset with the mesh at a node shaken about by a clip of its own. */
    private static Asset cached(Asset asset, String node) {
        int n = asset.findNode(node);
        Mesh mesh = asset.meshes().get(asset.nodes().get(n).mesh());
        Random random = new Random(5);
        float[] rest = new float[mesh.vertexCount() * 3];
        int at = 0;
        for (Primitive p : mesh.primitives()) {
            System.arraycopy(p.positions(), 0, rest, at, p.positions().length);
            at += p.positions().length;
        }
        float[] numbers = new float[TIMES.length * rest.length];
        for (int i = 0; i < numbers.length; i++) {
            numbers[i] = rest[i % rest.length] + random.nextFloat(-0.2f, 0.2f);
        }
        VertexTrack track = VertexTrack.of(TIMES, frames(numbers, mesh.vertexCount()));
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.add(new Clip(
                "cache",
                List.of(new Channel(n, Channel.Path.VERTICES, track, "", Passthrough.NONE)),
                24,
                false,
                true,
                Passthrough.NONE));
        return asset.withClips(clips);
    }

    /** The channel that plays the cache; where a step made a twin, the first. */
    private static Channel channel(Asset asset) {
        return asset.clips().stream()
                .flatMap(c -> c.channels().stream())
                .filter(Channel::movesVertices)
                .findFirst()
                .orElseThrow();
    }

    private static VertexTrack track(Asset asset) {
        return (VertexTrack) channel(asset).track();
    }

    /** Places in metres and glTF's axes, worked out from the track and the node alone. */
    private static List<Vector3d> places(Asset asset, double seconds) {
        int n = channel(asset).node();
        Clip clip = asset.clips().stream()
                .filter(c -> c.name().equals("cache"))
                .findFirst()
                .orElseThrow();
        Matrix4d world = Conversion.between(asset.conventions(), Conventions.GLTF)
                .matrix()
                .mul(new Rig(asset).at(clip, seconds).world()[n]);
        float[] p = track(asset).positions(seconds);
        List<Vector3d> out = new ArrayList<>();
        for (int i = 0; i < p.length; i += 3) {
            out.add(world.transformPosition(new Vector3d(p[i], p[i + 1], p[i + 2])));
        }
        return out;
    }

    /** How far any vertex after a step is from the nearest before it: order and number may have changed. */
    private static double astray(Asset before, Asset after) {
        double most = 0;
        for (double t : new double[] {0, 0.3, 0.5, 0.9}) {
            List<Vector3d> there = places(before, t);
            for (Vector3d p : places(after, t)) {
                most = Math.max(
                        most, there.stream().mapToDouble(p::distance).min().orElseThrow());
            }
        }
        return most;
    }

    private static double size(Asset asset) {
        return places(asset, 0).stream().mapToDouble(Vector3d::length).max().orElseThrow();
    }

    @Test
    public void aCacheIsCutOnItsFramesAndRefusedBetweenThem() throws Refused {
        Asset source = cached(RandomAssets.of(8), "crate");
        Asset cut = new TrimClip("cache", 6, 12, true).apply(source, Work.QUIET).asset();
        assertThat(track(cut).times()).containsExactly(0, 0.25f);
        for (double t : new double[] {0, 0.1, 0.25}) {
            assertThat(track(cut).positions(t)).containsExactly(track(source).positions(t + 0.25), within(1e-6f));
        }
        assertThatThrownBy(() -> new TrimClip("cache", 7, 12, true).apply(source, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("vertex cache");
        Asset led = new LeadIn("cache", 12).apply(source, Work.QUIET).asset();
        assertThat(track(led).times()[0]).isEqualTo(0.5f);
        assertThat(new LeadIn("cache", 12).apply(source, Work.QUIET).notes()).hasSize(1);
    }

    @Test
    public void everyStepCarriesACacheOrRefuses() {
        Set<String> still = new TreeSet<>();
        Set<String> refused = new TreeSet<>();
        List<String> wrong = new ArrayList<>();
        for (String node : List.of("crate", "figure")) {
            Asset source = cached(RandomAssets.of(8), node);
            VertexFrames frames = track(source).frames();
            Asset now = source;
            for (Step step : LedgerTest.oneOfEach()) {
                String what = step.getClass().getSimpleName();
                if (MAKES.contains(step.getClass())) {
                    continue;
                }
                // From the source, and in the midst of a ledger.
                for (Asset before : List.of(source, now)) {
                    Replay.Done done = Replay.one(before, step, false, Work.QUIET);
                    if (done.outcome().isEmpty()) {
                        refused.add(what);
                        continue;
                    }
                    Asset after = done.asset();
                    // The frames themselves are shared, never copied.
                    assertThat(track(after).frames()).as(what).isSameAs(frames);
                    if (MOVES.contains(step.getClass())) {
                        continue;
                    }
                    still.add(what);
                    double off = astray(before, after);
                    if (!(off <= 2e-5 * size(before))) {
                        wrong.add(what + " of " + node + ": " + off);
                    }
                    now = before == now ? after : now;
                }
            }
        }
        assertThat(wrong).isEmpty();
        assertThat(still)
                .contains("Convert", "FreezeNodes", "SetPivot", "OwnMaterial", "PaletteTexture", "TrimIdle", "AddRoot");
        assertThat(still).hasSizeGreaterThan(40);
        assertThat(refused).contains("Combine");
    }

    /** A vertex that lies where it lay at rest must play what it played, whatever number it has now. */
    private static void playsTheSame(Asset before, Asset after, int node) {
        Mesh was =
                before.meshes().get(before.nodes().get(channel(before).node()).mesh());
        Mesh is = after.meshes().get(after.nodes().get(node).mesh());
        float[] rest = MeshTopology.restPositions(was);
        float[] now = MeshTopology.restPositions(is);
        Map<List<Float>, Integer> number = new HashMap<>();
        for (int v = 0; v < was.vertexCount(); v++) {
            number.put(List.of(rest[3 * v], rest[3 * v + 1], rest[3 * v + 2]), v);
        }
        float[] played = track(before).positions(0.4);
        VertexTrack own = after.clips().stream()
                .flatMap(c -> c.channels().stream())
                .filter(c -> c.movesVertices() && c.node() == node)
                .map(c -> (VertexTrack) c.track())
                .findFirst()
                .orElseThrow();
        float[] plays = own.positions(0.4);
        assertThat(plays).hasSize(now.length);
        int moved = 0;
        for (int v = 0; v < is.vertexCount(); v++) {
            int from = number.get(List.of(now[3 * v], now[3 * v + 1], now[3 * v + 2]));
            moved += from == v ? 0 : 1;
            for (int k = 0; k < 3; k++) {
                assertThat(plays[3 * v + k]).isEqualTo(played[3 * from + k]);
            }
        }
        assertThat(moved).as("vertices under other numbers").isPositive();
    }

    @Test
    public void cachesFollowVerticesThatAreNumberedAnew() throws Refused {
        Asset source = cached(RandomAssets.of(8), "figure");
        int node = channel(source).node();
        BitSet half = new BitSet();
        half.set(20, 60);
        Asset split = new OwnMaterial("figure", VertexSet.numbers(half), "patch", false)
                .apply(source, Work.QUIET)
                .asset();
        playsTheSame(source, split, node);
        playsTheSame(
                source,
                new OrderMaterials(List.of("patch")).apply(split, Work.QUIET).asset(),
                node);
        BitSet rest = new BitSet();
        rest.set(0, 20);
        Asset both = new OwnMaterial("figure", VertexSet.numbers(rest), "rest", false)
                .apply(split, Work.QUIET)
                .asset();
        playsTheSame(
                source,
                new MergeMaterials(List.of("patch"), "rest")
                        .apply(both, Work.QUIET)
                        .asset(),
                node);
        Asset coarse =
                new Simplify("figure", 10, 0, 0).apply(source, Work.QUIET).asset();
        playsTheSame(source, coarse, node);
        Asset level = new Simplify("figure", 10, 1, 0).apply(source, Work.QUIET).asset();
        playsTheSame(source, level, level.nodes().size() - 1);
        assertThat(track(level).vertices()).as("the finer one plays on").isEqualTo(60);
    }

    /** Bring a hundred changes of axes and unit together and back: the frames are read once, through one matrix. */
    @Test
    public void aHundredConversionsCostNothingAndLoseNothing() throws Refused {
        Asset source = cached(RandomAssets.of(3), "crate");
        Asset now = source;
        String[] targets = {"z-up-cm-lh", "y-up-m-rh", "z-up-m-rh", "y-up-in-lh", "y-up-cm-rh"};
        for (int i = 0; i < 100; i++) {
            now = new Convert(
                            Target.named(targets[i % targets.length])
                                    .orElseThrow()
                                    .conventions(),
                            false)
                    .apply(now, Work.QUIET)
                    .asset();
        }
        assertThat(astray(source, now)).isLessThan(1e-5 * size(source));
    }

    @Test
    public void theProbeSaysHowFarACacheMoves() {
        Asset source = cached(RandomAssets.of(3), "crate");
        int n = source.findNode("crate");
        VertexTrack track = track(source);
        float[] numbers = new float[TIMES.length * track.width()];
        float[] frame = new float[track.width()];
        for (int key = 0; key < TIMES.length; key++) {
            track.at(key, frame);
            System.arraycopy(frame, 0, numbers, key * frame.length, frame.length);
        }
        // One vertex, at one frame, along one axis of its node.
        numbers[2 * frame.length + 4 * 3 + 1] += 0.01f;
        VertexTrack other = VertexTrack.of(TIMES, frames(numbers, track.vertices()));
        Asset moved = source.mapCaches((node, t) -> other);
        Clip clip = source.clips().getLast();
        double up = new Rig(source).at(clip, 0.5).world()[n].getScale(new Vector3d()).y;
        Motion motion = MotionProbe.compare(source, moved, Work.QUIET);
        assertThat(motion.largestMetres()).isCloseTo(0.01 * up, within(1e-6));
        assertThat(motion.vertex()).isEqualTo(4);
        assertThat(motion.clip()).isEqualTo("cache");
        assertThat(motion.seconds()).isCloseTo(0.5, within(1e-6));
        assertThat(MotionProbe.compare(source, source.mapCaches((node, t) -> t.moved(new Matrix4d())), Work.QUIET)
                        .largestMetres())
                .isZero();
    }

    @Test
    public void whatAFormatLeavesOutIsALossAndNoSilence() {
        Asset source = cached(RandomAssets.of(3), "crate");
        Asset bare = source.withClips(source.clips().stream()
                .map(c -> c.withChannels(
                        c.channels().stream().filter(x -> !x.movesVertices()).toList()))
                .toList());
        assertThat(Losses.between(source, bare)).map(Object::toString).anyMatch(s -> s.contains("vertex cache"));
    }

    /** Between keys vertices go straight; before and after all keys they hold (the interpolation LINEAR of glTF 2.0, C.2). */
    @Test
    public void framesAreReadInAnyOrderThroughOneChange() {
        float[] numbers = {0, 0, 0, 1, 0, 0, 0, 2, 0, 1, 2, 0};
        VertexTrack track = VertexTrack.of(new float[] {1, 2}, frames(numbers, 2));
        assertThat(track.positions(1.25)).containsExactly(0, 0.5f, 0, 1, 0.5f, 0);
        assertThat(track.positions(-3)).containsExactly(0, 0, 0, 1, 0, 0);
        assertThat(track.positions(9)).containsExactly(0, 2, 0, 1, 2, 0);
        VertexTrack turned = track.ordered(new VertexMap(new int[] {1, 0, 1}))
                .moved(new Matrix4d().scaling(10))
                .ordered(new VertexMap(new int[] {2, 1}))
                .moved(new Matrix4d().translation(0, 0, 5));
        assertThat(turned.positions(2)).containsExactly(10, 20, 5, 0, 20, 5);
        assertThatThrownBy(() -> frames(new float[7], 1)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> VertexTrack.of(new float[] {1, 2, 3}, frames(numbers, 2)))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    public void framesOfAMappedFileAreReadAsTheyAre() throws Exception {
        Path file = Files.createTempFile("frames", ".bin");
        ByteBuffer bytes = ByteBuffer.allocate(2 * 3 * 3 * 4).order(ByteOrder.LITTLE_ENDIAN);
        for (int i = 0; i < 18; i++) {
            bytes.putFloat(i);
        }
        Files.write(file, bytes.array());
        try (FileChannel channel = FileChannel.open(file);
                Arena arena = Arena.ofConfined()) {
            VertexFrames frames =
                    new VertexFrames(channel.map(FileChannel.MapMode.READ_ONLY, 0, channel.size(), arena), 3);
            float[] out = new float[9];
            frames.read(1, out);
            assertThat(out).containsExactly(9, 10, 11, 12, 13, 14, 15, 16, 17);
        }
        Files.delete(file);
    }

    /** A cube with hard edges, turned by its cache: the normals must turn with it and edges stay hard. */
    @Test
    public void normalsAreFoundFromTheTrianglesAndHardEdgesStayHard() {
        float[] positions = new float[24 * 3];
        float[] normals = new float[24 * 3];
        int[] corners = new int[36];
        for (int f = 0; f < 6; f++) {
            int axis = f / 2;
            float side = f % 2 == 0 ? 1 : -1;
            for (int c = 0; c < 4; c++) {
                int v = f * 4 + c;
                int i = v * 3;
                positions[i + axis] = side;
                positions[i + (axis + 1) % 3] = (c == 0 || c == 3 ? -1 : 1) * side;
                positions[i + (axis + 2) % 3] = c < 2 ? -1 : 1;
                normals[i + axis] = side;
            }
            int[] quad = {0, 1, 2, 0, 2, 3};
            for (int k = 0; k < 6; k++) {
                corners[f * 6 + k] = f * 4 + quad[k];
            }
        }
        Primitive cube = Primitive.triangles(corners, positions, null, -1);
        cube = cube.withShape(positions, normals, null, List.of());
        Asset plain = Asset.of(
                "cube",
                Conventions.GLTF,
                List.of(Node.group("cube", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("cube", cube)),
                List.of(),
                List.of());
        Matrix4d turn = new Matrix4d().rotationXYZ(0.3, 0.7, -0.2);
        VertexTrack track =
                VertexTrack.of(new float[] {0}, frames(positions, 24)).moved(turn);
        Clip clip = new Clip(
                "turn",
                List.of(new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE)),
                24,
                false,
                true,
                Passthrough.NONE);
        Deformer deformer = new Deformer(plain);
        MeshPlace place = deformer.places().getFirst();
        float[] p = new float[72];
        float[] n = new float[72];
        var pose = new Rig(plain).at(clip, 0);
        deformer.deform(place, pose, pose.world(), new Matrix4d(), p, n, false);
        for (int v = 0; v < 24; v++) {
            Vector3d expected =
                    turn.transformDirection(new Vector3d(normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]));
            Vector3d found = new Vector3d(n[3 * v], n[3 * v + 1], n[3 * v + 2]).normalize();
            assertThat(found.distance(expected)).isLessThan(1e-5);
        }
    }
}
