package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.scale.ScaleClip;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.InsertJoint;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.RootMotion;
import org.cleanmarrow.steps.skeleton.SplitJoint;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Steps that move nothing, and the figure of those that do, against {@code tools/reference/motion.py}: NumPy from glTF
 * 2.0 alone, 240 samples a second, on demo assets, open samples and files made to be hard. With
 * {@code -Dmarrow.motion=all} every step on every asset, with any other text on those that have it in their names; the
 * table is in docs/proof.md.
 */
public class IndependentMotionTest {
    private static final String WANTED = System.getProperty("marrow.motion", "");
    /** Millimetres that fewer keys may be off by. */
    private static final double REDUCED = 0.5;

    private static final boolean ALL = !WANTED.isEmpty();

    /** Files as they were read, for assets whose writing would lose what makes them hard. */
    private final Map<Asset, byte[]> asRead = new IdentityHashMap<>();

    private record Case(String name, Asset before, Asset after, boolean still) {}

    private Map<String, Asset> assets() throws Exception {
        Map<String, Asset> out = new LinkedHashMap<>();
        if (ALL) {
            out.put("ferry-pilot", FerryPilot.asset());
            out.put("marsh-heron", MarshHeron.asset());
        }
        out.put("lift-bridge", LiftBridge.asset());
        for (String file : List.of("simple_skin.gltf", "generic-hand-left.glb", "AnimatedMorphCube.gltf")) {
            out.put(file, AssetFiles.open(OpenSamples.path(file), Work.QUIET));
        }
        byte[] sparse = sparse(GltfWriter.glb(out.get("AnimatedMorphCube.gltf")));
        Asset read = GltfReader.read(sparse, "sparse.glb", null, Work.QUIET);
        asRead.put(read, sparse);
        out.put("sparse morph targets", read);
        for (long seed : ALL ? new long[] {1, 2, 3, 4, 5, 6, 7, 8} : new long[] {5}) {
            Asset random = RandomAssets.of(seed);
            out.put("cubic, step and linear " + seed, random);
            out.put("int16 rotations " + seed, quantised(random));
            out.put("mirrored above " + seed, above(random, new Vector3d(-2, 2, 2)));
            out.put("keys on every node " + seed, keyed(random));
            out.put("uneven leaf " + seed, unevenLeaf(random));
        }
        return out;
    }

    /** The same file with morph targets as sparse accessors over nothing (glTF 2.0, 3.6.2.3). */
    private static byte[] sparse(byte[] glb) throws Exception {
        ByteBuffer in = ByteBuffer.wrap(glb).order(ByteOrder.LITTLE_ENDIAN);
        int length = in.getInt(12);
        ObjectNode json =
                (ObjectNode) JsonMapper.shared().readTree(new String(glb, 20, length, StandardCharsets.UTF_8));
        ByteArrayOutputStream bin = new ByteArrayOutputStream();
        bin.write(glb, 28 + length, in.getInt(20 + length));
        ArrayNode views = (ArrayNode) json.get("bufferViews");
        Set<Integer> done = new HashSet<>();
        for (JsonNode target : json.at("/meshes/0/primitives/0/targets")) {
            ObjectNode accessor =
                    (ObjectNode) json.at("/accessors/" + target.get("POSITION").asInt());
            if (!done.add(target.get("POSITION").asInt())) {
                continue;
            }
            JsonNode view = views.get(accessor.remove("bufferView").asInt());
            JsonNode inner = accessor.remove("byteOffset");
            int from = 28 + length + view.path("byteOffset").asInt(0) + (inner == null ? 0 : inner.asInt());
            ByteBuffer indices =
                    ByteBuffer.allocate(accessor.get("count").asInt() * 4).order(ByteOrder.LITTLE_ENDIAN);
            ByteBuffer values = ByteBuffer.allocate(indices.capacity() * 3).order(ByteOrder.LITTLE_ENDIAN);
            for (int v = 0; v < indices.capacity() / 4; v++) {
                boolean moves = in.getFloat(from + v * 12) != 0
                        || in.getFloat(from + v * 12 + 4) != 0
                        || in.getFloat(from + v * 12 + 8) != 0;
                if (moves) {
                    indices.putInt(v);
                    values.put(glb, from + v * 12, 12);
                }
            }
            assertThat(indices.position()).isBetween(4, indices.capacity() - 4);
            ObjectNode sparse = accessor.putObject("sparse").put("count", indices.position() / 4);
            sparse.putObject("indices").put("componentType", 5125).put("bufferView", views.size());
            views.addObject().put("buffer", 0).put("byteOffset", bin.size()).put("byteLength", indices.position());
            bin.write(indices.array(), 0, indices.position());
            sparse.putObject("values").put("bufferView", views.size());
            views.addObject().put("buffer", 0).put("byteOffset", bin.size()).put("byteLength", values.position());
            bin.write(values.array(), 0, values.position());
        }
        assertThat(done).isNotEmpty();
        ((ObjectNode) json.at("/buffers/0")).put("byteLength", bin.size());
        String text = json.toString();
        byte[] chunk = (text + " ".repeat(3 - (text.getBytes(StandardCharsets.UTF_8).length + 3) % 4))
                .getBytes(StandardCharsets.UTF_8);
        ByteBuffer out = ByteBuffer.allocate(28 + chunk.length + bin.size()).order(ByteOrder.LITTLE_ENDIAN);
        out.putInt(0x46546C67).putInt(2).putInt(out.capacity());
        out.putInt(chunk.length).putInt(0x4E4F534A).put(chunk);
        out.putInt(bin.size()).putInt(0x004E4942).put(bin.toByteArray());
        return out.array();
    }

    private static Asset quantised(Asset asset) {
        return asset.mapClips(c -> c.withChannels(c.channels().stream()
                .map(x -> x.path() != Channel.Path.ROTATION
                                || x.sampler().interpolation() == Sampler.Interpolation.CUBICSPLINE
                        ? x
                        : x.withTrack(rounded(x.sampler())))
                .toList()));
    }

    private static Sampler rounded(Sampler s) {
        float[] values = s.values().clone();
        for (int i = 0; i < values.length; i++) {
            values[i] = Math.round(values[i] * 32767) / 32767f;
        }
        return new Sampler(s.interpolation(), s.times(), values, s.width(), Storage.SHORT_NORMALISED);
    }

    private static Asset above(Asset asset, Vector3d scale) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(
                0,
                nodes.getFirst()
                        .withLocal(Local.of(new Vector3d(3, 1, -2), new Quaterniond().rotateXYZ(0.3, 2, -1), scale)));
        return asset.withNodes(nodes);
    }

    private static Asset unevenLeaf(Asset asset) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int crate = asset.findNode("crate");
        Local l = nodes.get(crate).local();
        nodes.set(
                crate,
                nodes.get(crate)
                        .withLocal(Local.of(l.translationVector(), l.rotationQuaternion(), new Vector3d(-0.4, 3, 1))));
        return asset.withNodes(nodes);
    }

    private static Asset keyed(Asset asset) {
        return asset.mapClips(clip -> {
            List<Channel> channels = new ArrayList<>(clip.channels());
            for (int n = 0; n < asset.nodes().size(); n++) {
                int node = n;
                Local l = asset.nodes().get(n).local();
                if (channels.stream().noneMatch(c -> c.node() == node && c.path() == Channel.Path.ROTATION)) {
                    channels.add(held(n, Channel.Path.ROTATION, l.rotation()));
                }
                channels.add(held(n, Channel.Path.SCALE, l.scale()));
            }
            return clip.withChannels(channels);
        });
    }

    private static Channel held(int node, Channel.Path path, float[] value) {
        float[] twice = Arrays.copyOf(value, value.length * 2);
        System.arraycopy(value, 0, twice, value.length, value.length);
        Sampler s =
                new Sampler(Sampler.Interpolation.LINEAR, new float[] {0.1f, 0.3f}, twice, value.length, Storage.FLOAT);
        return new Channel(node, path, s, "", Passthrough.NONE);
    }

    private static Map<String, Step> stillSteps(Asset asset) {
        Map<String, Step> out = new LinkedHashMap<>();
        for (String axes :
                ALL ? List.of("z-up-cm-lh", "y-up-m-lh", "z-up-m-rh", "x-up-mm-rh-fwd--y") : List.of("z-up-cm-lh")) {
            Conventions.parse(axes).ifPresent(c -> out.put("convert to " + axes, new Convert(c, true)));
        }
        out.put("freeze-nodes", new FreezeNodes());
        out.put("add-root", new AddRoot("root_of_all"));
        out.put("orient-joints", new OrientJoints("*", OrientJoints.Along.Y));
        out.put("trim-ends", new TrimEnds());
        out.put("trim-idle", new TrimIdle(""));
        out.put("rest-from bind", new RestFrom(Optional.empty(), 0));
        int[] joints =
                asset.skins().isEmpty() ? new int[0] : asset.skins().getFirst().joints();
        if (joints.length > 3) {
            String last = asset.nodeRef(joints[joints.length - 1]);
            out.put("reparent", new Reparent(last, Optional.of(asset.nodeRef(joints[0])), true));
            out.put("split-joint", new SplitJoint(asset.nodeRef(joints[1]), 2, true));
            out.put("insert-joint", new InsertJoint(last, "between", 0.5));
        }
        if (!asset.clips().isEmpty()) {
            out.put("root-motion", new RootMotion("*", RootMotion.Way.TO_ROOT, true, false, 0));
        }
        return out;
    }

    @Test
    public void nothingMovesWhereNothingShouldAndTheFigureIsTheirs() throws Exception {
        List<Case> cases = new ArrayList<>();
        for (var entry : assets().entrySet()) {
            Asset asset = entry.getValue();
            if (ALL && !WANTED.equals("all") && !entry.getKey().contains(WANTED)) {
                continue;
            }
            for (var step : stillSteps(asset).entrySet()) {
                Replay.Done done = Replay.one(asset, step.getValue(), false, Work.QUIET);
                // What a step refuses it does not move.
                if (done.outcome().isPresent()) {
                    boolean restMoves = step.getKey().equals("rest-from bind");
                    cases.add(new Case(entry.getKey() + ": " + step.getKey(), asset, done.asset(), !restMoves));
                }
            }
            for (Clip clip : asset.clips().subList(0, Math.min(1, asset.clips().size()))) {
                Asset moved = Replay.one(asset, new ScaleClip(clip.name(), 1.01), false, Work.QUIET)
                        .asset();
                cases.add(new Case(entry.getKey() + ": scale-clip", asset, moved, false));
                String exactly = NamePattern.exactly(clip.name());
                Replay.Done baked = Replay.one(asset, new Bake(exactly), false, Work.QUIET);
                cases.add(new Case(entry.getKey() + ": bake", asset, baked.asset(), true));
                Replay.Done reduced = Replay.one(asset, new ReduceKeys(exactly, REDUCED), false, Work.QUIET);
                cases.add(new Case(entry.getKey() + ": reduce-keys", asset, reduced.asset(), false));
                Step spline = new ReduceKeys(exactly, REDUCED, ReduceKeys.Between.CUBIC);
                Asset splines = Replay.one(asset, spline, false, Work.QUIET).asset();
                cases.add(new Case(entry.getKey() + ": to splines, reduce-keys", asset, splines, false));
            }
            cases.add(new Case(entry.getKey() + ": a vertex moved", asset, nudged(asset), false));
        }
        JsonNode theirs = witness(cases);
        List<String> wrong = new ArrayList<>();
        double worst = 0;
        StringBuilder table = new StringBuilder();
        for (int i = 0; i < cases.size(); i++) {
            Case one = cases.get(i);
            Motion ours = MotionProbe.compare(one.before, one.after, Work.QUIET);
            double size = theirs.get(i).path("size").asDouble();
            double moved = theirs.get(i).path("largest").asDouble() / size;
            double own = ours.largestMetres() / size;
            table.append(String.format(java.util.Locale.ROOT, "| %s | %.2g | %.2g |%n", one.name, moved, own));
            if (one.still && !(moved < 1e-5)) {
                wrong.add(one.name + " moves " + moved + " of the size");
            }
            if (one.name.endsWith("reduce-keys") && !(moved * size <= REDUCED / 1000 + 1e-5 * size)) {
                wrong.add(one.name + " is off by " + moved * size + " m, over its bound");
            }
            // Above what float32 of the delivered files leaves.
            if (moved > 2e-5 && !(own >= 0.95 * moved && own <= 1.5 * moved)) {
                wrong.add(one.name + ": " + own + " here, " + moved + " there");
            }
            // And no motion is said where there is none; moments just beside a jump are ours alone.
            if (!(own <= 1.5 * moved + 5e-6)) {
                wrong.add(one.name + ": says " + own + " where " + moved + " is found");
            }
            worst = one.still ? Math.max(worst, moved) : worst;
        }
        System.out.println("independent motion: " + cases.size() + " pairs, worst of those that should not move "
                + worst + " of the size");
        if (ALL) {
            System.out.println(table);
        }
        assertThat(wrong).isEmpty();
    }

    private static Asset nudged(Asset asset) {
        var mesh = asset.meshes().getFirst();
        var p = mesh.primitives().getFirst();
        float[] at = p.positions().clone();
        at[(p.triangleCorners()[0]) * 3 + 1] += 0.05f * Math.max(0.1f, Math.abs(at[1]));
        List<org.cleanmarrow.model.Primitive> all = new ArrayList<>(mesh.primitives());
        all.set(0, p.withShape(at, p.normals(), p.tangents(), p.targets()));
        return asset.withMesh(0, mesh.withPrimitives(all));
    }

    private JsonNode witness(List<Case> cases) throws Exception {
        Path folder = Files.createTempDirectory("motion");
        ArrayNode list = JsonMapper.shared().createArrayNode();
        Map<Asset, Path> written = new IdentityHashMap<>();
        for (Case one : cases) {
            for (Asset asset : List.of(one.before, one.after)) {
                if (!written.containsKey(asset)) {
                    byte[] own = asRead.get(asset);
                    byte[] bytes = own == null ? GltfWriter.glb(asset) : own;
                    written.put(asset, Files.write(folder.resolve(written.size() + ".glb"), bytes));
                }
            }
            list.addObject()
                    .put("name", one.name)
                    .put("a", written.get(one.before).toString())
                    .put("b", written.get(one.after).toString());
        }
        Path file = Files.writeString(folder.resolve("list.json"), list.toString());
        return JsonMapper.shared().readTree(Witness.python("motion.py", file.toString()));
    }
}
