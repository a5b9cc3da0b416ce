package org.cleanmarrow.formats.usd;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The binary form, written by the reference implementation (OpenUSD 22, as npm three-usdz-loader 1.0.9 packs it) from text: it says what the
 * text said. That it opens our text without a complaint holds the writer to it, too.
 */
public class UsdcTest {
    private static final int SEEDS = 2;
    /** Broken files; 3,000 with {@code -Dmarrow.broken=3000}. */
    private static final int BROKEN = Integer.getInteger("marrow.broken", 1200);

    /** Values of all kinds that meshes, skeletons and curves are made of, as they are packed and as they are not. */
    private static final String VALUES = """
        #usda 1.0
        (
            customLayerData = {
                string clip = "walk"
                dictionary deep = {
                    double d = 0.1
                    int n = 3
                }
            }
            metersPerUnit = 0.01
            startTimeCode = 1
            upAxis = "Z"
        )
        class "first"
        {
        }
        def Xform "second" (
            kind = "Zweite Lücke"
            prepend apiSchemas = ["SkelBindingAPI", "MaterialBindingAPI"]
        )
        {
            bool b = 1
            uchar uc = 200
            int small = -7
            uint large = 4000000000
            int64 long = -9000000000
            half h = 0.333
            float f = 0.1
            double exact = 0.5
            double inexact = 0.1
            string s = "some \\"words\\""
            token t = "word"
            asset a = @pictures/oak.png@
            float2 whole = (3, -4)
            float3 broken = (3.5, -4, 1e-3)
            double4 four = (1, 2, 3, 4.25)
            int3 three = (100000, 2, -3)
            half3 halves = (0.5, 1.25, 3)
            quatf turn = (0.5, 0.1, -0.2, 0.3)
            quath[] turns = [(1, 0, 0, 0), (0, 0.5, 0.25, 1)]
            matrix4d one = ( (1, 0, 0, 0), (0, 1, 0, 0), (0, 0, 1, 0), (0, 0, 0, 1) )
            matrix4d other = ( (1, 0.5, 0, 0), (0, 1, 0, 0), (0, 0, 1, 0), (7, 8, 9.5, 1) )
            matrix4d[] both = [( (1, 0.5, 0, 0), (0, 1, 0, 0), (0, 0, 1, 0), (7, 8, 9.5, 1) )]
            token[] words = ["a/b", "a/b/c", "ü"]
            string[] texts = ["x", "", "z"]
            float[] none = []
            float[] nothing = None
            float[] short = [1, 2, 3]
            int[] counting = [%s]
            int[] jumping = [%s]
            int64[] longs = [%s]
            uint[] large_many = [%s]
            float[] whole_many = [%s]
            double[] few_many = [%s]
            float[] any_many = [%s]
            half[] half_many = [%s]
            float moving = 4
            float moving.timeSamples = {
                -3: 1,
                0.5: 2.25,
                12: None,
            }
            point3f[] places.timeSamples = {
                1: [(0, 0, 0), (1, 0, 0.25)],
                2: [(0, 0, 1), (1, 0, 0.25)],
            }
            rel one_way = </second/inner>
            rel many_ways = [</second/inner>, </second/inner/deep>]
            float joined.connect = </second/inner.f>
            def Mesh "inner" (
                kind = "component"
            )
            {
                float2[] primvars:st = [(0, 0), (1, 0.5)] (
                    interpolation = "faceVarying"
                    elementSize = 1
                )
                float f = 2
                def "deep"
                {
                }
            }
            def Scope "a_later_one_first_by_name"
            {
            }
        }
        """.formatted(
                    row(i -> i),
                    row(i -> i * 7919L % 100_003 - 50_000),
                    row(i -> i * 5_000_000_011L - 7),
                    row(i -> 4_000_000_000L + i % 3),
                    row(i -> i % 40 - 20),
                    row(i -> i % 3 == 0 ? 0.1 : 0.25),
                    row(i -> Math.sin(i)),
                    row(i -> i % 2 == 0 ? 0.1 : 0.3));

    private Path folder;

    private interface Nth {
        Number of(int i);
    }

    private static String row(Nth nth) {
        return IntStream.range(0, 300).mapToObj(i -> nth.of(i).toString()).collect(Collectors.joining(", "));
    }

    private final Map<String, Asset> meant = new LinkedHashMap<>();

    @BeforeClass
    public void write() throws Exception {
        folder = Files.createTempDirectory("marrow");
        List<String> names = new ArrayList<>();
        for (int seed = 1; seed <= SEEDS; seed++) {
            Asset asset = RandomAssets.of(seed);
            if (seed == 2) {
                asset = new BakeCache("crate", "linear")
                        .apply(asset, Work.QUIET)
                        .asset();
            }
            List<Written.Piece> pieces = AssetFiles.write(asset, "usda", "random_" + seed, Work.QUIET)
                    .pieces();
            // The model, and the first and the last of its clips.
            for (Written.Piece piece : List.of(pieces.get(0), pieces.get(1), pieces.getLast())) {
                Files.write(folder.resolve(piece.name()), piece.bytes());
                names.add(piece.name().replace(".usda", ""));
                meant.put(names.getLast(), piece.meant());
            }
        }
        Files.writeString(folder.resolve("values.usda"), VALUES);
        names.add("values");
        List<String> arguments = new ArrayList<>();
        names.forEach(name -> arguments.addAll(List.of(
                folder.resolve(name + ".usda").toString(),
                folder.resolve(name + ".usdc").toString())));
        String out = Witness.node("usdc.mjs", arguments.toArray(String[]::new));
        for (String line : out.lines().toList()) {
            JsonNode json = JsonMapper.shared().readTree(line);
            assertThat(json.path("said").size()).as(line).isZero();
        }
        assertThat(out.lines()).hasSameSizeAs(names);
    }

    @Test
    public void whatWeWriteComesBackFromItAsTheTextHasIt() throws Exception {
        assertThat(meant.keySet()).hasSizeGreaterThan(SEEDS);
        for (Map.Entry<String, Asset> one : meant.entrySet()) {
            Asset text = AssetFiles.open(folder.resolve(one.getKey() + ".usda"), Work.QUIET);
            Asset binary = AssetFiles.open(folder.resolve(one.getKey() + ".usdc"), Work.QUIET);
            Motion same = MotionProbe.compare(text, binary, Work.QUIET);
            assertThat(same.largestMetres()).as(one.getKey()).isZero();
            assertThat(same.differences(0)).as(one.getKey()).isEmpty();
            Motion meantSo = MotionProbe.compare(one.getValue(), binary, Work.QUIET);
            assertThat(meantSo.largestMetres()).as(one.getKey()).isLessThan(meantSo.toleranceMetres());
            assertThat(binary.conventions()).isEqualTo(text.conventions());
            assertThat(binary.notes()).isEqualTo(text.notes());
            assertThat(binary.materials())
                    .extracting(Material::name)
                    .isEqualTo(text.materials().stream().map(Material::name).toList());
            assertThat(binary.clips()).hasSameSizeAs(text.clips());
        }
    }

    /**
     * A second reader, independent of the first (npm tinyusdz 0.9.0-rc10): what it says it has read of our text is that text, equal in
     * points, joints and times; and where it can draw the scene, its points and triangles are ours.
     */
    @Test
    public void aSecondReaderUnderstandsTheSame() throws Exception {
        Path root = Path.of(System.getProperty("marrow.root"), "formats/src/test/resources/samples");
        Map<String, Asset> all = new LinkedHashMap<>(meant);
        Written written = AssetFiles.write(
                AssetFiles.open(root.resolve("simple_skin.gltf"), Work.QUIET), "usda", "skinned", Work.QUIET);
        // Its rotations are rounded to three figures, so their matrices scale a little, and 0.9997 is no half (IEEE
        // 754, 11 bits).
        assertThat(written.notes()).anySatisfy(n -> assertThat(n).contains("half precision, here off by 0.0"));
        Written.Piece skinned = written.pieces().getFirst();
        Files.write(folder.resolve("skinned.usda"), skinned.bytes());
        all.put("skinned", skinned.meant());
        List<String> arguments = new ArrayList<>();
        all.keySet()
                .forEach(name -> arguments.addAll(List.of(
                        folder.resolve(name + ".usda").toString(),
                        folder.resolve(name + "_second.usda").toString())));
        List<JsonNode> seen = new ArrayList<>();
        for (String line : Witness.node("tinyusd.mjs", arguments.toArray(String[]::new))
                .lines()
                .toList()) {
            seen.add(JsonMapper.shared().readTree(line));
            assertThat(seen.getLast().path("said").size()).as(line).isZero();
        }
        assertThat(seen).hasSameSizeAs(all.keySet());
        for (Map.Entry<String, Asset> one : all.entrySet()) {
            Asset ours = AssetFiles.open(folder.resolve(one.getKey() + ".usda"), Work.QUIET);
            Asset theirs = AssetFiles.open(folder.resolve(one.getKey() + "_second.usda"), Work.QUIET);
            Motion same = MotionProbe.compare(ours, theirs, Work.QUIET);
            assertThat(same.largestMetres()).as(one.getKey()).isZero();
            assertThat(same.jointsMetres()).as(one.getKey()).isZero();
            assertThat(same.differences(0)).as(one.getKey()).isEmpty();
            Motion meantSo = MotionProbe.compare(one.getValue(), theirs, Work.QUIET);
            // Of a figure of two metres 0.03 % is well under a millimetre.
            assertThat(meantSo.largestMetres())
                    .as(one.getKey())
                    .isLessThan(one.getKey().equals("skinned") ? 1e-3 : meantSo.toleranceMetres());
            assertThat(theirs.clips().stream().map(c -> List.of(c.name(), c.start(), c.end())))
                    .isEqualTo(ours.clips().stream()
                            .map(c -> List.of(c.name(), c.start(), c.end()))
                            .toList());
        }
        JsonNode drawn = seen.getLast().path("meshes");
        assertThat(drawn.size()).isEqualTo(1);
        Primitive mesh = skinned.meant().meshes().getFirst().primitives().getFirst();
        assertThat(numbers(drawn.get(0).path("points"))).containsExactly(mesh.positions());
        assertThat(numbers(drawn.get(0).path("corners"))).containsExactly(floats(mesh.triangleCorners()));
    }

    private static float[] numbers(JsonNode list) {
        float[] out = new float[list.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = (float) list.get(i).doubleValue();
        }
        return out;
    }

    private static float[] floats(int[] whole) {
        float[] out = new float[whole.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = whole[i];
        }
        return out;
    }

    @Test
    public void everyKindOfValueIsWhatTheTextSays() throws Exception {
        UsdLayer text = UsdaParser.parse(Files.readAllBytes(folder.resolve("values.usda")), "values", Work.QUIET);
        UsdLayer binary = UsdcParser.parse(Files.readAllBytes(folder.resolve("values.usdc")), "values", Work.QUIET);
        assertThat(binary.metadata).containsAllEntriesOf(text.metadata);
        assertThat(binary.byPath().keySet())
                .containsExactlyElementsOf(text.byPath().keySet());
        assertThat(binary.arcs).isEmpty();
        int looked = 0;
        for (UsdPrim meantPrim : text.byPath().values()) {
            UsdPrim prim = binary.byPath().get(meantPrim.path);
            assertThat(prim.type).as(prim.path).isEqualTo(meantPrim.type);
            assertThat(prim.specifier).as(prim.path).isEqualTo(meantPrim.specifier);
            assertThat(prim.label()).isEqualTo(meantPrim.label());
            assertThat(prim.active()).isEqualTo(meantPrim.active());
            assertThat(UsdPrim.words(prim.metadata.get("apiSchemas")))
                    .isEqualTo(UsdPrim.words(meantPrim.metadata.get("apiSchemas")));
            assertThat(prim.properties.keySet())
                    .as(prim.path)
                    .containsExactlyInAnyOrderElementsOf(meantPrim.properties.keySet());
            for (String name : meantPrim.properties.keySet()) {
                String where = prim.path + "." + name;
                UsdPrim.Property is = prim.properties.get(name);
                UsdPrim.Property should = meantPrim.properties.get(name);
                assertThat(is.type).as(where).isEqualTo(should.type);
                assertThat(is.targets).as(where).isEqualTo(should.targets);
                assertThat(is.interpolation()).as(where).isEqualTo(should.interpolation());
                alike(is.value, should.value, should.type, where);
                assertThat(is.samples.keySet()).as(where).isEqualTo(should.samples.keySet());
                should.samples.forEach((t, v) -> alike(is.samples.get(t), v, should.type, where + " at " + t));
                looked++;
            }
        }
        assertThat(looked).isGreaterThan(40);
    }

    /** As exact as the type is: single precision is rounded where it is used. */
    private static void alike(Object is, Object should, String type, String where) {
        if (should instanceof double[] || should instanceof Double) {
            double[] a = UsdPrim.numbers(is);
            double[] b = UsdPrim.numbers(should).clone();
            for (int i = 0; i < b.length; i++) {
                b[i] = type.startsWith("double") || type.contains("int") || type.contains("matrix")
                        ? b[i]
                        : (float) b[i];
            }
            assertThat(a).as(where).isEqualTo(b);
            assertThat(is instanceof Double || is instanceof Boolean).as(where).isEqualTo(should instanceof Double);
        } else if (should instanceof List<?> words) {
            assertThat(UsdPrim.words(is)).as(where).isEqualTo(words);
        } else {
            assertThat(is).as(where).isEqualTo(should);
        }
    }

    @Test
    public void aPackageMayHoldIt() throws Exception {
        String name = meant.keySet().iterator().next();
        byte[] scene = Files.readAllBytes(folder.resolve(name + ".usdc"));
        Path file = Files.write(folder.resolve("packed.usdz"), Usdz.packed("scene.usdc", scene));
        Asset packed = AssetFiles.open(file, Work.QUIET);
        assertThat(MotionProbe.compare(meant.get(name), packed, Work.QUIET).sound())
                .isTrue();
    }

    /** Bits turned over, bytes cut, numbers put in that cannot be: a message that names the file, or a scene. */
    @Test
    public void aBrokenOneIsRefusedWithAMessage() throws Exception {
        Random random = new Random(11);
        int read = 0;
        List<byte[]> sound = List.of(
                Files.readAllBytes(folder.resolve("values.usdc")),
                Files.readAllBytes(folder.resolve(meant.keySet().iterator().next() + ".usdc")));
        for (int i = 0; i < BROKEN; i++) {
            byte[] bytes = sound.get(i % 2).clone();
            for (int k = 1 + random.nextInt(3); k > 0; k--) {
                int at = 8 + random.nextInt(bytes.length - 16);
                switch (random.nextInt(4)) {
                    case 0 -> bytes[at] ^= (byte) (1 << random.nextInt(8));
                    case 1 -> bytes[at] = (byte) 0xFF;
                    case 2 -> Arrays.fill(bytes, at, Math.min(bytes.length, at + 8), (byte) (random.nextInt(3) - 1));
                    default -> bytes = Arrays.copyOf(bytes, Math.max(16, at));
                }
                if (bytes.length < 32) {
                    break;
                }
            }
            try {
                UsdReader.read(bytes, "broken.usdc", null, Work.QUIET);
                read++;
            } catch (ReadFailed e) {
                assertThat(e.getMessage()).startsWith("broken.usdc");
            }
        }
        assertThat(read).isBetween(BROKEN / 30, BROKEN * 29 / 30);
        byte[] old = sound.getFirst().clone();
        old[9] = 3;
        assertThatThrownBy(() -> UsdReader.read(old, "old.usdc", null, Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("version is 0.3, expected 0.4 or later");
    }

    /** Literals alone, a match that copies itself, and blocks that lie (LZ4 Block Format Description). */
    @Test
    public void blocksOfLz4AreUnpackedAsTheirDescriptionSays() throws Exception {
        byte[] out = new byte[64];
        byte[] plain = block(0x50, "hello");
        assertThat(Lz4.block(plain, 0, plain.length, out, 0)).isEqualTo(5);
        assertThat(new String(out, 0, 5, StandardCharsets.US_ASCII)).isEqualTo("hello");
        // "abc", then nine from three back, then "!".
        byte[] match = {0x35, 'a', 'b', 'c', 3, 0, 0x10, '!'};
        assertThat(Lz4.block(match, 0, match.length, out, 0)).isEqualTo(13);
        assertThat(new String(out, 0, 13, StandardCharsets.US_ASCII)).isEqualTo("abcabcabcabc!");
        // Twenty literals: fifteen and five.
        byte[] longer = block(0xF0, "\5" + "0123456789".repeat(2));
        assertThat(Lz4.block(longer, 0, longer.length, out, 0)).isEqualTo(20);
        for (byte[] lie : new byte[][] {
            {0x50, 'a'}, {0x10, 'a', 2, 0}, {0x10, 'a', 0, 0}, {(byte) 0xF0}, {0x1F, 'a', 1, 0, -1, -1}
        }) {
            assertThatThrownBy(() -> Lz4.block(lie, 0, lie.length, out, 0)).isInstanceOf(java.io.IOException.class);
        }
    }

    private static byte[] block(int token, String literals) {
        byte[] text = literals.getBytes(StandardCharsets.ISO_8859_1);
        byte[] out = new byte[1 + text.length];
        out[0] = (byte) token;
        System.arraycopy(text, 0, out, 1, text.length);
        return out;
    }
}
