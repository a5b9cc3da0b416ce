package org.cleanmarrow.formats.delivery;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/**
 * Where the pictures of a delivery lie. The Khronos glTF validator (npm gltf-validator 2.0.0-dev.3.10) follows each path that a model
 * names and opens what lies there.
 */
public class PicturesTest {
    private Path folder;
    private Asset crate;

    @BeforeMethod
    public void readCrate() throws Exception {
        folder = Files.createTempDirectory("marrow-pictures");
        Asset box = AssetFiles.open(OpenSamples.path("BoxTextured.gltf"), Work.QUIET);
        crate = box.withName("crate")
                .withPictures(
                        box.materials(),
                        box.textures(),
                        List.of(picture("wood", box.images().getFirst().bytes())));
    }

    private static Image picture(String name, byte[] bytes) {
        return new Image(name, "image/png", "", bytes, Passthrough.NONE);
    }

    private Delivery.Delivered deliver(Asset asset, Pictures.Place place, String... formats) throws Exception {
        Recipe recipe = new Recipe("", List.of(formats), false, true, false, false, true, place, "");
        return Delivery.deliver(asset, folder, recipe, Optional.of(Ledger.EMPTY), Work.QUIET);
    }

    /** Those of a picture's kind, by their path in the folder. */
    private Map<String, Path> pictures() throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            return all.filter(p -> p.toString().matches(".*\\.(png|jpg)"))
                    .collect(Collectors.toMap(
                            p -> folder.relativize(p).toString().replace('\\', '/'),
                            p -> p,
                            (a, b) -> a,
                            TreeMap::new));
        }
    }

    private static JsonNode judged(Path file) throws Exception {
        return Witness.validated(file);
    }

    /** A static twin, two more formats and the archive beside it: one file a picture, whatever names it. */
    @Test
    public void theyLieWhereTheyAreWantedAndEveryFormatFindsThem() throws Exception {
        byte[] wood = crate.images().getFirst().bytes();
        Map<Pictures.Place, List<String>> where = Map.of(
                Pictures.Place.EMBEDDED, List.of("crate_v00N_wood.png"),
                Pictures.Place.BESIDE, List.of("crate_v00N_wood.png"),
                Pictures.Place.FOLDER, List.of("crate_v00N_textures/wood.png"));
        int version = 0;
        for (Pictures.Place place : Pictures.Place.values()) {
            version++;
            List<Delivery.Planned> planned = Delivery.planned(
                    crate,
                    folder,
                    new Recipe("", List.of("glb", "dae", "obj"), false, true, false, false, true, place, ""),
                    Work.QUIET);
            Delivery.Delivered delivered = deliver(crate, place, "glb", "dae", "obj");
            assertThat(delivered.version()).isEqualTo(version);
            assertThat(delivered.differences()).isEmpty();
            // What the target's budget for files is held against knows every one.
            assertThat(delivered.bytes().keySet()).containsExactlyInAnyOrderElementsOf(delivered.files());
            assertThat(delivered.files().stream()
                            .map(f -> folder.relativize(f).toString().replace('\\', '/')))
                    .containsExactlyElementsOf(
                            planned.stream().map(Delivery.Planned::name).toList());
            String mark = "v00" + version;
            assertThat(pictures().keySet().stream().filter(n -> n.contains(mark)))
                    .containsExactlyElementsOf(where.get(place).stream()
                            .map(n -> n.replace("v00N", mark))
                            .toList());
            for (Path picture : pictures().values()) {
                assertThat(picture).hasBinaryContent(wood);
            }
            for (Path file : delivered.files()) {
                if (file.toString().matches(".*\\.(glb|dae|obj)")) {
                    Asset back = AssetFiles.open(file, Work.QUIET);
                    assertThat(back.notes()).as(file.toString()).isEmpty();
                    assertThat(back.images().getFirst().bytes())
                            .as(file.toString())
                            .isEqualTo(wood);
                }
            }
            // Taken away by itself, only a model that has its picture inside still has it.
            Path away = Files.createTempDirectory("marrow-away").resolve("crate.glb");
            Files.copy(delivered.files().getFirst(), away);
            assertThat(AssetFiles.open(away, Work.QUIET).images().getFirst().bytes() != null)
                    .as(place.key())
                    .isEqualTo(place == Pictures.Place.EMBEDDED);
            JsonNode verdict = judged(delivered.files().getFirst());
            assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
            assertThat(verdict.path("messages").valueStream().map(JsonNode::stringValue))
                    .noneMatch(m -> m.startsWith("IO_ERROR"));
            Manifest manifest = Manifest.read(delivered.manifest()).orElseThrow();
            for (Manifest.Entry entry : manifest.files()) {
                assertThat(Manifest.holds(folder, entry)).as(entry.name()).isTrue();
            }
        }
    }

    /** The check above can fail: the validator says where a picture is not where a model says it is. */
    @Test
    public void theValidatorMissesAPictureThatIsNotThere() throws Exception {
        Path glb = deliver(crate, Pictures.Place.FOLDER, "glb").files().getFirst();
        Files.delete(pictures().values().iterator().next());
        assertThat(judged(glb).toString()).contains("IO_ERROR");
    }

    @Test
    public void picturesOfOneNameOrNoneOrABadOneGetEachTheirOwn() throws Exception {
        byte[] wood = crate.images().getFirst().bytes();
        List<Image> images = new ArrayList<>();
        for (String name : List.of("a", "A", "../a", "", " ", "CON/aux?.png", "a_2", "größe 100%.png")) {
            byte[] own = wood.clone();
            // After its end, where nothing looks.
            own = Arrays.copyOf(own, own.length + images.size());
            images.add(picture(name, own));
        }
        Asset several = crate.withPictures(crate.materials(), crate.textures(), images);
        Delivery.Delivered delivered = deliver(several, Pictures.Place.FOLDER, "glb");
        Asset back = AssetFiles.open(delivered.files().getFirst(), Work.QUIET);
        assertThat(back.notes()).isEmpty();
        for (int i = 0; i < images.size(); i++) {
            assertThat(back.images().get(i).bytes())
                    .as(images.get(i).name())
                    .isEqualTo(images.get(i).bytes());
        }
        assertThat(pictures().keySet().stream().map(n -> n.toLowerCase(Locale.ROOT)))
                .doesNotHaveDuplicates()
                .allMatch(n -> n.startsWith("crate_v001_textures/"));
    }

    @Test
    public void aFolderOfThatNameIsNotWrittenInto() throws Exception {
        Path theirs = Files.createDirectory(folder.resolve("crate_v001_textures"));
        Files.writeString(theirs.resolve("wood.txt"), "theirs");
        Delivery.Delivered delivered = deliver(crate, Pictures.Place.FOLDER, "glb");
        assertThat(delivered.version()).isEqualTo(2);
        assertThat(theirs).isDirectoryContaining(p -> p.endsWith("wood.txt")).isNotEmptyDirectory();
        try (Placing placing = new Placing(folder, "crate_v001", List.of(piece("crate_v001_textures/a.png")))) {
            assertThatThrownBy(() -> placing.put(piece("crate_v001_textures/a.png")))
                    .isInstanceOf(FileAlreadyExistsException.class);
        }
        assertThat(theirs).isDirectoryNotContaining("glob:**.png");
    }

    private static Written.Piece piece(String name) {
        return new Written.Piece(name, new byte[] {1}, null);
    }
}
