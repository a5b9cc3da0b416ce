package org.cleanmarrow.formats.delivery;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

public class RecipeTest {
    private static final Recipe ALL = new Recipe(
            "SK_{asset}",
            List.of("glb", "usda"),
            true,
            true,
            true,
            false,
            true,
            Pictures.Place.FOLDER,
            " Import at 24. ");

    private static Delivery.Delivered deliver(Asset asset, Recipe recipe, Path folder) throws Exception {
        return Delivery.deliver(asset, folder, recipe, Optional.of(Ledger.EMPTY), Work.QUIET);
    }

    /** A figure with one clip. */
    private static Asset walking() {
        Asset asset = StickFigure.of(1.8);
        return asset.withClips(List.of(new Clip(
                "walk",
                List.of(new Channel(
                        asset.findNode("c"),
                        Channel.Path.TRANSLATION,
                        new Sampler(
                                Sampler.Interpolation.LINEAR,
                                new float[] {0, 1},
                                new float[] {0, 0, 0, 0, 1, 0},
                                3,
                                Storage.FLOAT),
                        "",
                        Passthrough.NONE)),
                24,
                false,
                true,
                List.of(),
                Passthrough.NONE)));
    }

    @Test
    public void allThatARecipeAsksForComesAtOnceAndEachVersionHasItsOwn() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = walking().withName("pilot");
        for (int version = 1; version <= 2; version++) {
            String name = "SK_pilot_v00" + version;
            Delivery.Delivered delivered = deliver(asset, ALL, folder);
            assertThat(delivered.differences()).isEmpty();
            List<String> names = delivered.files().stream()
                    .map(f -> f.getFileName().toString().replace(name, "NAME"))
                    .toList();
            assertThat(names)
                    .containsExactly(
                            "NAME.glb",
                            "NAME_walk.glb",
                            "NAME.still.glb",
                            "NAME.usda",
                            "NAME_walk.usda",
                            "NAME.still.usda",
                            "NAME.roles.json",
                            "NAME.notes.txt",
                            "NAME.zip");
            assertThat(folder.resolve(name + ".notes.txt")).hasContent("Import at 24.\n");
            JsonNode manifest = JsonMapper.shared().readTree(Files.readString(delivered.manifest()));
            assertThat(manifest.path("files")).hasSize(names.size() + 1);
            List<Delivery.Planned> planned = Delivery.planned(asset, folder, ALL, Work.QUIET);
            String next = "SK_pilot_v00" + (version + 1);
            assertThat(planned.stream().map(p -> p.name().replace(next, "NAME")))
                    .containsExactlyElementsOf(names);
        }
    }

    /** Read by the JDK's own reader of archives. */
    @Test
    public void theArchiveHoldsEveryOtherFileToTheByteAndIsTheSameForTheSameFiles() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Path again = Files.createTempDirectory("marrow");
        Asset asset = walking().withName("pilot");
        Delivery.Delivered delivered = deliver(asset, ALL, folder);
        Path zip = delivered.files().getLast();
        Map<String, byte[]> inside = new HashMap<>();
        try (ZipFile read = new ZipFile(zip.toFile())) {
            for (ZipEntry entry : Collections.list(read.entries())) {
                try (InputStream in = read.getInputStream(entry)) {
                    inside.put(entry.getName(), in.readAllBytes());
                }
            }
        }
        // All but itself, and the ledger.
        assertThat(inside).hasSize(delivered.files().size());
        for (Path file : delivered.files()) {
            if (!file.equals(zip)) {
                assertThat(inside.get("SK_pilot_v001/" + file.getFileName())).isEqualTo(Files.readAllBytes(file));
            }
        }
        assertThat(inside).containsKey("SK_pilot_v001/SK_pilot_v001.ledger.json");
        assertThat(deliver(asset, ALL, again).files().getLast()).hasSameBinaryContentAs(zip);
    }

    @Test
    public void whatStandsStillIsTheRestPoseWithNothingThatMovesIt() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = StickFigure.of(1.8);
        Recipe recipe = new Recipe("", List.of("glb"), false, true, true, false, false, Pictures.Place.EMBEDDED, "");
        Delivery.Delivered delivered = deliver(asset, recipe, folder);
        Asset still = AssetFiles.open(delivered.files().get(1), Work.QUIET);
        assertThat(delivered.files().get(1).getFileName().toString()).endsWith(".still.glb");
        assertThat(still.skins()).isEmpty();
        assertThat(still.clips()).isEmpty();
        assertThat(RestBox.of(still).max().y)
                .isEqualTo(RestBox.of(RestSnapshot.of(asset)).max().y);
        JsonNode roles = JsonMapper.shared()
                .readTree(Files.readString(delivered.files().getLast()))
                .path("roles");
        assertThat(roles.propertyNames()).contains("hips", "head");
        assertThat(roles.propertyStream().map(e -> e.getValue().stringValue()))
                .allSatisfy(j -> assertThat(asset.findNode(j)).isNotNegative());
    }

    /** The skeleton of a clip alone comes back from a scene without a mesh. */
    @Test
    public void clipsApartKeepTheirSkeletonInEveryFormatThatHasOne() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Recipe recipe =
                new Recipe("", List.of("glb", "usda"), true, false, false, false, false, Pictures.Place.EMBEDDED, "");
        Delivery.Delivered delivered = deliver(walking(), recipe, folder);
        assertThat(delivered.differences()).isEmpty();
        // Two models, two clips against what they should hold, and against the model's skeleton.
        assertThat(delivered.landings()).hasSize(6);
    }

    /** Whatever clips are called, no two files are called alike: a delivery that found its own file there would never end. */
    @Test
    public void clipsCalledLikeOtherFilesOfADeliveryTakeNoNameAway() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset walks = walking();
        List<Clip> clips = new ArrayList<>();
        for (String name : List.of("still", ".still", "roles", "Still")) {
            clips.add(walks.clips().getFirst().withName(name));
        }
        Recipe recipe = new Recipe("", List.of("glb"), true, true, true, false, true, Pictures.Place.EMBEDDED, "");
        Delivery.Delivered delivered = deliver(walks.withClips(clips), recipe, folder);
        assertThat(delivered.files())
                .extracting(f -> f.getFileName().toString().toLowerCase(Locale.ROOT))
                .doesNotHaveDuplicates()
                .hasSize(8);
        assertThat(delivered.version()).isEqualTo(1);
        assertThat(delivered.files().stream().filter(Delivery::isStill)).hasSize(1);
    }

    /** Two formats that both write the picture beside them. */
    @Test
    public void filesOfTwoFormatsDoNotGetInEachOthersWay() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = AssetFiles.open(OpenSamples.FOLDER.resolve("BoxTextured.gltf"), Work.QUIET);
        Delivery.Delivered delivered = deliver(
                asset,
                new Recipe(
                        "box", List.of("dae", "obj"), false, false, false, false, false, Pictures.Place.EMBEDDED, ""),
                folder);
        assertThat(delivered.files())
                .doesNotHaveDuplicates()
                .allSatisfy(f -> assertThat(f).exists());
        assertThat(delivered.differences()).isEmpty();
        assertThat(delivered.landings()).hasSize(2);
    }

    @Test
    public void aRecipeSurvivesItsTextAndSaysWhatIsWrongWithIt() throws Exception {
        assertThat(Recipe.parse(ALL.toJson())).isEqualTo(ALL);
        assertThat(Recipe.parse("{\"recipe\": 1}")).isEqualTo(Recipe.of("glb", false));
        assertThat(Recipe.parse("{\"recipe\": 1, \"pictures\": \"beside\"}").pictures())
                .isEqualTo(Pictures.Place.BESIDE);
        Map<String, String> wrong = Map.of(
                "{", "not JSON",
                "{\"recipe\": 2}", "\"recipe\": 1, found 2",
                "{\"recipe\": 1, \"zipped\": true}", "\"zipped\" is not known",
                "{\"recipe\": 1, \"pictures\": \"inside\"}", "embedded, beside, folder, found \"inside\"",
                "{\"recipe\": 1, \"zip\": \"yes\"}", "zip to be true or false, found \"yes\"",
                "{\"recipe\": 1, \"formats\": [\"glb\", \"xyz\"]}", "found \"xyz\"",
                "{\"recipe\": 1, \"formats\": [\"glb\", \"glb\"]}", "each once",
                "{\"recipe\": 1, \"formats\": []}", "found []",
                "{\"recipe\": 1, \"name\": 7}", "\"name\" of a recipe to be a text, found 7");
        wrong.forEach((text, said) ->
                assertThatThrownBy(() -> Recipe.parse(text)).as(text).hasMessageContaining(said));
        Path file = Files.createTempFile("recipe", ".json");
        ALL.write(file);
        assertThat(Recipe.read(file)).isEqualTo(ALL);
        Files.write(file, new byte[] {(byte) 0xff, (byte) 0xfe, 0});
        assertThatThrownBy(() -> Recipe.read(file))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("UTF-8");
        // A name leads nowhere else.
        assertThat(new Recipe(
                                "../../{asset}/x",
                                List.of("glb"),
                                false,
                                false,
                                false,
                                false,
                                false,
                                Pictures.Place.EMBEDDED,
                                "")
                        .base("a b"))
                .doesNotContain("/")
                .doesNotStartWith(".");
    }
}
