package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.report.Report;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Pages as Debian's Chromium shows and prints them, without a window. It is really run: without it these tests fail. */
public class ReportTest {
    private static final String EVIL = "<script>alert(\"1\")</script>&amp;'\u0001";

    private Path folder;

    @BeforeClass
    public void makeFolder() throws Exception {
        folder = Files.createTempDirectory("marrow");
    }

    /** What the browser says of pages, in their order; none asks for anything, runs anything or is wider than the window. */
    private static List<JsonNode> shown(List<Path> pages) throws Exception {
        String said =
                Witness.node("page.mjs", pages.stream().map(Path::toString).toArray(String[]::new));
        List<JsonNode> out = new ArrayList<>();
        for (String line : said.lines().toList()) {
            JsonNode page = JsonMapper.shared().readTree(line);
            assertThat(page.path("requests")).as(line).isEmpty();
            assertThat(page.path("errors")).as(line).isEmpty();
            assertThat(page.path("scripts").intValue()).isZero();
            assertThat(page.path("overflow").intValue()).isZero();
            assertThat(page.path("smallest").intValue()).as("pixels").isGreaterThanOrEqualTo(12);
            assertThat(page.path("pages").intValue()).as("of paper").isBetween(1, 12);
            for (JsonNode image : page.path("images")) {
                assertThat(image.path("width").intValue()).isEqualTo(420);
                assertThat(image.path("shown").intValue()).isGreaterThan(150);
            }
            out.add(page);
        }
        assertThat(out).hasSameSizeAs(pages);
        return out;
    }

    private static byte[] page(Asset asset, Target target) {
        return new Report(asset, target, Checks.run(asset, target, Work.QUIET), Map.of(), List.of(), Optional.empty())
                .page(Work.QUIET);
    }

    /** One start of the browser for all: it takes longer than they do. */
    @Test
    public void pagesAreWholeLegibleAndAskNobody() throws Exception {
        Path figure = folder.resolve("figure.glb");
        Asset asset = RandomAssets.of(8, 5, 60);
        asset = asset.withClips(asset.clips().subList(1, 2));
        Files.write(figure, GltfWriter.glb(asset));
        Path out = folder.resolve("out");
        Said mended =
                Said.run("mend", figure.toString(), "--target", "z-up-cm-lh", "--report", "--out", out.toString());
        Path done = Path.of(mended.json().path("reportFile").stringValue());
        assertThat(done).hasFileName("figure_v001.report.html").isRegularFile();
        Path mine = Files.writeString(out.resolve("figure.report.html"), "mine");
        Said said = Said.run("report", figure.toString(), "--target", "z-up-cm-lh", "--out", out.toString());
        assertThat(said.code()).isEqualTo(1);
        Path before = Path.of(said.json().path("reportFile").stringValue());
        assertThat(before).hasFileName("figure.report_2.html");
        assertThat(mine).hasContent("mine");

        Target target = Target.named("y-up-m-rh").orElseThrow().called(EVIL);
        Asset evil = asset.withNodes(asset.nodes().stream()
                        .map(n -> n.withName(EVIL + n.name()))
                        .toList())
                .mapClips(c -> c.withName(EVIL + c.name()));
        byte[] once = page(evil, target);
        assertThat(page(evil, target)).isEqualTo(once);
        Path named = Files.write(folder.resolve("evil.html"), once);
        Asset none = Asset.of("nothing", asset.conventions(), List.of(), List.of(), List.of(), List.of());
        Path empty = Files.write(folder.resolve("nothing.html"), page(none, target));

        List<JsonNode> pages = shown(List.of(done, before, named, empty));
        assertThat(pages.get(0).path("images"))
                .as("four sides and a moment of the clip")
                .hasSize(5);
        assertThat(pages.get(0).path("text").stringValue())
                .contains("Read back from disk it moves as it was meant to")
                .contains("add-root")
                .contains("figure_v001.glb");
        assertThat(pages.get(1).path("text").stringValue())
                .contains("there is no root joint at the origin")
                .contains(asset.clips().getFirst().name() + ", frame");
        assertThat(pages.get(2).path("text").stringValue()).contains("<script>alert(\"1\")</script>&amp;'\uFFFD");
        assertThat(pages.get(3).path("images")).isEmpty();
        assertThat(pages.get(3).path("text").stringValue()).contains("No blocker is left, nothing in all.");
    }

    @Test
    public void filesOverTheTargetsSizeAreLeft() throws Exception {
        Path random = folder.resolve("random.glb");
        Files.write(random, GltfWriter.glb(RandomAssets.of(8, 5, 60)));
        Path target =
                Files.writeString(folder.resolve("small.json"), "{\"conventions\": \"y-up-m-rh\", \"fileBytes\": 900}");
        Said said = Said.run(
                "mend",
                random.toString(),
                "--target",
                target.toString(),
                "--out",
                folder.resolve("small").toString());
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.json()
                        .path("left")
                        .valueStream()
                        .map(l -> l.path("check").stringValue()))
                .contains("file-size");
    }
}
