package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** What is said of formats in one place holds for readers, writers, the card and the docs. */
public class FormatsTest {
    /** Samples of other people's files, under endings that lie, are read as what they are. */
    @Test
    public void aFileIsReadByWhatItHolds() throws Exception {
        Path folder = Files.createTempDirectory("formats");
        Map<String, String> samples = Map.of(
                "simple_skin.gltf", "glTF",
                "01_01.bvh", "BVH",
                "cube_binary.ply", "PLY",
                "box_UTF16BE.obj", "");
        for (var sample : samples.entrySet()) {
            byte[] bytes = Files.readAllBytes(Samples.path(sample.getKey()));
            assertThat(Formats.ofContent(bytes).map(Format::name).orElse("")).isEqualTo(sample.getValue());
            Asset right = AssetFiles.open(Samples.path(sample.getKey()), Work.QUIET);
            assertThat(right.notes()).noneMatch(n -> n.contains("read as that"));
            if (!sample.getValue().isEmpty()) {
                Path lying = folder.resolve("thing.obj");
                Files.write(lying, bytes);
                Asset read = AssetFiles.open(lying, Work.QUIET);
                assertThat(read.nodes()).hasSameSizeAs(right.nodes());
                assertThat(read.notes()).anyMatch(n -> n.contains(".obj and holds " + sample.getValue()));
            }
        }
        Path nameless = folder.resolve("thing");
        Files.write(nameless, "v 0 0 0".getBytes(StandardCharsets.US_ASCII));
        assertThatThrownBy(() -> AssetFiles.open(nameless, Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("bvh, dae, glb");
    }

    @Test
    public void optionsBoundWhatIsRead() throws Exception {
        Path sample = Samples.path("simple_skin.gltf");
        assertThatThrownBy(() ->
                        AssetFiles.open(sample, ReadOptions.usual(Work.QUIET).withMostBytes(100)))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("at most 100");
        Path folder = Files.createTempDirectory("alone");
        Files.writeString(folder.resolve("a.mtl"), "newmtl red\nKd 1 0 0\n");
        Path obj = folder.resolve("a.obj");
        Files.writeString(obj, "mtllib a.mtl\nusemtl red\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
        ReadOptions usual = ReadOptions.usual(Work.QUIET);
        assertThat(AssetFiles.open(obj, usual).materials().getFirst().baseColour()[1])
                .isZero();
        assertThat(AssetFiles.open(obj, usual.alone()).materials())
                .noneMatch(m -> m.baseColour()[0] == 1 && m.baseColour()[1] == 0);
    }

    /**
     * Every loss that writing and reading back shows is of something that the format says it cannot hold, and what it says it
     * holds whole is there again.
     */
    @Test
    public void whatAFormatSaysItHoldsComesBack() throws Exception {
        Asset asset = new AddRoot("root").apply(RandomAssets.of(9), Work.QUIET).asset();
        for (Format format : Formats.ALL) {
            if (format.writer().isEmpty()) {
                continue;
            }
            Written written = AssetFiles.write(asset, format.ending(), "figure", Work.QUIET);
            Path folder = Files.createTempDirectory("held");
            for (Written.Piece piece : written.pieces()) {
                Files.write(folder.resolve(piece.name()), piece.bytes());
            }
            Written.Piece first = written.pieces().getFirst();
            Asset back = format.reader().read(first.bytes(), first.name(), folder, Work.QUIET);
            List<String> losses =
                    Losses.between(asset, back).stream().map(Object::toString).toList();
            assertThat(format.leavesOut(asset).isPresent())
                    .as(format.name() + losses)
                    .isEqualTo(!losses.isEmpty());
            for (Capability held : format.holds()) {
                boolean whole = format.holds().contains(Capability.PARTS);
                if (held == Capability.JOINTS
                        || whole
                                && List.of(Capability.MESHES, Capability.SKINS, Capability.MORPH_TARGETS)
                                        .contains(held)) {
                    // More where each use of a mesh is written by itself.
                    assertThat(held.in(back)).as(format.name() + " " + held).isGreaterThanOrEqualTo(held.in(asset));
                }
            }
        }
    }

    @Test
    public void theTableInTheDocsIsWhatFormatsSay() throws Exception {
        List<Format> written =
                Formats.ALL.stream().filter(f -> f.writer().isPresent()).toList();
        List<String> table = new ArrayList<>();
        table.add("| held by | "
                + String.join(" | ", written.stream().map(Format::name).toList()) + " |");
        table.add("|---|" + "---|".repeat(written.size()));
        for (Capability capability : Capability.values()) {
            String name = capability.name().toLowerCase(Locale.ROOT).replace('_', ' ');
            table.add("| " + name + " | "
                    + String.join(
                            " | ",
                            written.stream()
                                    .map(f -> f.holds().contains(capability) ? "yes" : "–")
                                    .toList())
                    + " |");
        }
        Path page = Path.of(System.getProperty("marrow.root"), "docs", "formats.md");
        try (Stream<String> lines = Files.lines(page)) {
            assertThat(lines.filter(table::contains).toList())
                    .as("docs/formats.md should hold:\n" + String.join("\n", table))
                    .isEqualTo(table);
        }
    }
}
