package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Vertex caches in files: as morph targets of glTF, and as rows of OBJ files. */
public class CachesTest {
    /** A random asset whose figure and crate are baked into clips of caches. */
    private static Asset cached(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        Asset one = new BakeCache("figure", "linear").apply(asset, Work.QUIET).asset();
        return new BakeCache("crate", "cubic").apply(one, Work.QUIET).asset();
    }

    private static float[] at(Asset asset, int clip, int node, double seconds) {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.node() == node)
                .findFirst()
                .orElseThrow();
        Pose pose = new Rig(asset).at(asset.clips().get(clip), seconds);
        float[] out = new float[3 * deformer.vertexCount(place)];
        deformer.deform(place, pose, pose.world(), new Matrix4d(), out, null, false);
        return out;
    }

    private static void alike(float[] a, float[] b, double near) {
        assertThat(a).hasSameSizeAs(b);
        double size = 1;
        for (float x : a) {
            size = Math.max(size, Math.abs(x));
        }
        for (int i = 0; i < a.length; i++) {
            assertThat((double) Math.abs(a[i] - b[i])).isLessThan(near * size);
        }
    }

    @Test
    public void cachesComeBackFromGltfAsTheyWere() throws Exception {
        for (long seed = 1; seed <= 6; seed++) {
            Asset asset = cached(seed);
            Asset back = GltfReader.read(GltfWriter.glb(asset), "cached.glb", null, Work.QUIET);
            List<CacheUse> was = CacheUse.all(asset);
            List<CacheUse> is = CacheUse.all(back);
            assertThat(is).hasSameSizeAs(was).hasSizeGreaterThan(2);
            assertThat(back.meshes().getFirst().targetCount())
                    .isEqualTo(asset.meshes().getFirst().targetCount());
            assertThat(back.meshes().getFirst().targetNames())
                    .isEqualTo(asset.meshes().getFirst().targetNames());
            assertThat(back.meshes().getFirst().carried())
                    .isEqualTo(asset.meshes().getFirst().carried());
            assertThat(MotionProbe.compare(asset, back, Work.QUIET).differences(1e-4))
                    .isEmpty();
            for (int u = 0; u < was.size(); u++) {
                assertThat(is.get(u).clip()).isEqualTo(was.get(u).clip());
                assertThat(is.get(u).track().times())
                        .isEqualTo(was.get(u).track().times());
                for (float t : was.get(u).track().times()) {
                    alike(
                            at(asset, was.get(u).clip(), was.get(u).node(), t),
                            at(back, is.get(u).clip(), is.get(u).node(), t),
                            1e-5);
                }
            }
        }
    }

    /** three.js plays the file: every vertex of cache and clip where we have it, between frames too. */
    @Test
    public void anotherReaderPlaysTheCache() throws Exception {
        Asset asset = cached(2);
        Path file = Files.createTempDirectory("marrow").resolve("cached.glb");
        Files.write(file, GltfWriter.glb(asset));
        JsonNode verdict = Witness.validated(file);
        assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
        JsonNode witness = JsonMapper.shared().readTree(Witness.node("witness.mjs", file.toString(), "100"));
        int seen = 0;
        for (JsonNode moment : witness.path("moments")) {
            int clip = moment.path("clip").intValue();
            if (clip < 0 || asset.clips().get(clip).channels().stream().noneMatch(c -> c.movesVertices())) {
                continue;
            }
            for (JsonNode mesh : moment.path("meshes")) {
                float[] ours = at(
                        asset,
                        clip,
                        mesh.path("node").intValue(),
                        moment.path("seconds").doubleValue());
                float[] theirs = new float[ours.length];
                assertThat(mesh.path("positions").size()).isEqualTo(ours.length);
                for (int i = 0; i < theirs.length; i++) {
                    theirs[i] = (float) mesh.path("positions").get(i).doubleValue();
                }
                alike(ours, theirs, 2e-5);
                seen++;
            }
        }
        assertThat(seen).isEqualTo(2 * 5 * 3);
    }

    /** What another program did to the targets counts: without our mark, or with weights that blend, they stay targets. */
    @Test
    public void targetsThatAreNoFramesStayTargets() throws Exception {
        Asset asset = cached(3);
        byte[] glb = GltfWriter.glb(asset);
        String text = new String(glb, StandardCharsets.ISO_8859_1).replace("\"vertexCache\"", "\"vertexCach_\"");
        Asset plain = GltfReader.read(text.getBytes(StandardCharsets.ISO_8859_1), "x.glb", null, Work.QUIET);
        assertThat(CacheUse.all(plain)).isEmpty();
        int frames = CacheUse.all(asset).getFirst().track().times().length;
        assertThat(plain.meshes().getFirst().targetCount())
                .isEqualTo(asset.meshes().getFirst().targetCount() + frames);
        for (String bad : List.of("\"firstTarget\":-", "\"firstTarget\":9", "\"firstTarget\":[")) {
            String odd = new String(glb, StandardCharsets.ISO_8859_1).replaceFirst("\"firstTarget\":2", bad + "2");
            try {
                Asset read = GltfReader.read(odd.getBytes(StandardCharsets.ISO_8859_1), "x.glb", null, Work.QUIET);
                assertThat(CacheUse.of(read, 0)).as(bad).isEmpty();
            } catch (ReadFailed e) {
                assertThat(e.getMessage()).isNotBlank();
            }
        }
    }

    /** A mark over weights that blend: nothing is a frame, and what was left in the file's bytes is decoded after all. */
    @Test
    public void targetsThatAreBlendedStayTargetsWithTheirShapes() throws Exception {
        byte[] glb = GltfWriter.glb(cached(3));
        String text = new String(glb, StandardCharsets.ISO_8859_1).replace("\"vertexCache\"", "\"vertexCach_\"");
        Asset plain = GltfReader.read(text.getBytes(StandardCharsets.ISO_8859_1), "x.glb", null, Work.QUIET);
        Asset blended = plain.mapClips(c -> c.withChannels(c.channels().stream()
                .map(x -> {
                    if (x.path() != Channel.Path.WEIGHTS) {
                        return x;
                    }
                    Sampler s = x.sampler();
                    float[] values = s.values().clone();
                    for (int i = 0; i < values.length; i++) {
                        values[i] *= 0.5f;
                    }
                    return x.withTrack(new Sampler(s.interpolation(), s.times(), values, s.width(), s.storage()));
                })
                .toList()));
        String marked = new String(GltfWriter.glb(blended), StandardCharsets.ISO_8859_1)
                .replace("\"vertexCach_\"", "\"vertexCache\"");
        Asset read = GltfReader.read(marked.getBytes(StandardCharsets.ISO_8859_1), "x.glb", null, Work.QUIET);
        assertThat(CacheUse.all(read)).isEmpty();
        for (int m = 0; m < plain.meshes().size(); m++) {
            for (int p = 0; p < plain.meshes().get(m).primitives().size(); p++) {
                List<MorphTarget> was =
                        plain.meshes().get(m).primitives().get(p).targets();
                List<MorphTarget> is = read.meshes().get(m).primitives().get(p).targets();
                assertThat(is).hasSameSizeAs(was);
                for (int t = 0; t < was.size(); t++) {
                    assertThat(is.get(t).positions()).isEqualTo(was.get(t).positions());
                }
            }
        }
    }

    /** Large files lie beside the heap: what is read of them is the same, and so are messages. */
    @Test
    public void bytesBesideTheHeapAreReadAlike() throws Exception {
        byte[] glb = GltfWriter.glb(cached(5));
        ByteBuffer beside = ByteBuffer.allocateDirect(glb.length).put(glb).flip();
        Asset one = GltfReader.read(glb, "five.glb", null, Work.QUIET);
        Asset two = GltfReader.read(beside, "five.glb", null, Work.QUIET);
        Motion motion = MotionProbe.compare(one, two, Work.QUIET);
        assertThat(motion.largestMetres()).isZero();
        assertThat(motion.differences(0)).isEmpty();
        assertThat(GltfWriter.glb(two)).isEqualTo(GltfWriter.glb(one));
        ByteBuffer cut = beside.slice(0, glb.length / 2);
        assertThatThrownBy(() -> GltfReader.read(cut, "five.glb", null, Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("it is cut off");
    }

    /** A posed body as a row of files, and back as a cache: in place at every frame, count and order as in the mesh. */
    @Test
    public void aClipGoesOutAsARowOfFilesAndComesBackAsACache() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = RandomAssets.of(4);
        Asset one = asset.withClips(List.of(asset.clips().get(asset.findClip("linear"))));
        Delivery.Delivered delivered = Delivery.deliver(one, folder, "obj-sequence", Work.QUIET);
        Clip clip = one.clips().getFirst();
        int frames = clip.lastFrame() - clip.firstFrame() + 1;
        assertThat(delivered.files()).hasSize(frames);
        assertThat(delivered.differences()).isEmpty();
        String first = String.format("random-4_v001.%04d.obj", clip.firstFrame());
        assertThat(delivered.files().getFirst()).hasFileName(first);
        for (Path opened :
                List.of(delivered.files().getFirst(), delivered.files().getLast())) {
            Asset back = AssetFiles.open(opened, Work.QUIET);
            assertThat(back.clips()).hasSize(1);
            Clip played = back.clips().getFirst();
            assertThat(played.name()).isEqualTo("linear");
            assertThat(played.rate()).isEqualTo(clip.rate());
            assertThat(played.firstFrame()).isEqualTo(clip.firstFrame());
            assertThat(played.lastFrame()).isEqualTo(clip.lastFrame());
            List<MeshPlace> places = new Deformer(one).places();
            assertThat(new Deformer(back).places()).hasSameSizeAs(places);
            for (int f = clip.firstFrame(); f <= clip.lastFrame(); f++) {
                for (int p = 0; p < places.size(); p++) {
                    float[] meant = at(one, 0, places.get(p).node(), Timing.seconds(clip, f));
                    float[] is = at(back, 0, p, Timing.seconds(played, f));
                    // Vertices that no triangle uses are in the file, and in none of its faces.
                    alike(meant, is, 1e-6);
                }
            }
        }
        // The next version has a number of its own, and the first stays.
        Delivery.Delivered again = Delivery.deliver(one, folder, "obj-sequence", Work.QUIET);
        assertThat(again.version()).isEqualTo(2);
    }

    @Test
    public void severalClipsAreRowsOfTheirOwnAndNoneIsRefused() throws Exception {
        Asset asset = RandomAssets.of(5);
        Written written = AssetFiles.write(asset, "obj-sequence", "five", Work.QUIET);
        List<String> names = written.pieces().stream().map(Written.Piece::name).toList();
        assertThat(names).anyMatch(n -> n.startsWith("five_linear.")).anyMatch(n -> n.startsWith("five_cubic."));
        assertThat(written.pieces().stream().filter(p -> p.meant() != null)).hasSize(3);
        assertThatThrownBy(() -> AssetFiles.write(asset.withClips(List.of()), "obj-sequence", "none", Work.QUIET))
                .hasMessageContaining("no clip");
    }

    /** A garment's whole way: out as a row, back in millimetres, joined to its asset by the part's name, fitted; nothing is off. */
    @Test
    public void aReturnedRowIsJoinedToItsMeshAndFitted() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = RandomAssets.of(4);
        Asset one = asset.withClips(List.of(asset.clips().get(asset.findClip("linear"))));
        Written row = AssetFiles.write(one, "obj-sequence", "back", Work.QUIET);
        for (Written.Piece piece : row.pieces()) {
            StringBuilder changed = new StringBuilder();
            for (String line : new String(piece.bytes(), StandardCharsets.UTF_8).split("\n")) {
                String[] word = line.split(" ");
                changed.append(
                        word[0].equals("v")
                                ? "v " + 1000 * Double.parseDouble(word[1]) + " " + -1000 * Double.parseDouble(word[3])
                                        + " " + 1000 * Double.parseDouble(word[2])
                                : line.replace("clip: linear", "clip: cloth"));
                changed.append('\n');
            }
            Files.writeString(folder.resolve(piece.name()), changed);
        }
        Path whole = folder.resolve("whole.glb");
        Files.write(whole, GltfWriter.glb(one));
        Asset joined = AssetFiles.open(
                        List.of(whole, folder.resolve(row.pieces().getFirst().name())), Work.QUIET)
                .asset();
        assertThat(joined.meshes()).hasSameSizeAs(one.meshes());
        int crate = joined.findNode("crate");
        Asset alone = joined.mapClips(c -> c.withChannels(c.channels().stream()
                .filter(x -> !x.movesVertices() || x.node() == crate)
                .toList()));
        // The crate stands still in this clip, so nothing but its name tells the shift.
        assertThatThrownBy(() -> new FitCache("crate", "cloth", "linear", 0, "", "").apply(alone, Work.QUIET))
                .hasMessageContaining("about as well");
        Asset fitted = new FitCache("crate", "cloth", "linear", 0, "", "0")
                .apply(alone, Work.QUIET)
                .asset();
        Clip linear = one.clips().getFirst();
        for (int f = linear.firstFrame(); f <= linear.lastFrame(); f++) {
            alike(
                    at(one, 0, crate, Timing.seconds(linear, f)),
                    at(fitted, fitted.findClip("cloth"), crate, Timing.seconds(linear, f)),
                    1e-5);
        }
    }

    private static String frame(double shift, boolean quad) {
        return "v 0 0 " + shift + "\nv 1 0 " + shift + "\nv 1 1 " + shift + "\nv 0 1 " + 2 * shift + "\n"
                + (quad ? "vn 0 0 1\nf 1//1 2//1 3//1 4//1\n" : "f 1 2 3\nf 1 3 4\n");
    }

    /** Rows of others: gaps are gone over, another count is named with its file, numbers alone decide what belongs. */
    @Test
    public void rowsOfOthersAreReadAndWhatDoesNotBelongIsSaid() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Files.writeString(folder.resolve("cape.0010.obj"), frame(0, true));
        Files.writeString(folder.resolve("cape.0011.obj"), frame(1, true));
        Files.writeString(folder.resolve("cape.0013.obj"), frame(3, true));
        Files.writeString(folder.resolve("cape.0013.txt"), "nothing");
        Files.writeString(folder.resolve("other.0012.obj"), frame(7, true));
        Asset cape = AssetFiles.open(folder.resolve("cape.0011.obj"), Work.QUIET);
        assertThat(cape.name()).isEqualTo("cape");
        assertThat(cape.conventions()).isEqualTo(Conventions.GLTF);
        Clip clip = cape.clips().getFirst();
        assertThat(clip.firstFrame()).isEqualTo(10);
        assertThat(clip.lastFrame()).isEqualTo(13);
        assertThat(at(cape, 0, 0, 12 / 30.0)[2]).isCloseTo(2, org.assertj.core.api.Assertions.within(1e-4f));
        assertThat(cape.notes()).anyMatch(n -> n.contains("30 a second"));
        // Alone, a file is only itself.
        assertThat(AssetFiles.open(folder.resolve("other.0012.obj"), Work.QUIET).clips())
                .isEmpty();
        Files.writeString(folder.resolve("cape.0014.obj"), "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
        Asset apart = AssetFiles.open(folder.resolve("cape.0010.obj"), Work.QUIET);
        assertThat(apart.clips()).isEmpty();
        assertThat(apart.meshes().getFirst().vertexCount()).isEqualTo(4);
        assertThat(apart.notes()).anyMatch(n -> n.contains("cape.0014.obj has 3 positions") && n.contains("4"));
        Files.writeString(folder.resolve("cape.0014.obj"), "v 0 0 x\n");
        assertThatThrownBy(() -> AssetFiles.open(folder.resolve("cape.0010.obj"), Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("cape.0014.obj");
        // Read by itself, the first is a file like any other.
        Asset alone = AssetFiles.open(
                folder.resolve("cape.0010.obj"), ReadOptions.usual(Work.QUIET).alone());
        assertThat(alone.clips()).isEmpty();
        List<Path> left = new ArrayList<>();
        try (Stream<Path> files = Files.list(folder)) {
            files.forEach(left::add);
        }
        assertThat(left).hasSize(6);
    }
}
