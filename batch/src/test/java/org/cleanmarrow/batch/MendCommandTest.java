package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.demo.Demo;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** Files are mended by one command, as the ledger that it writes says, and what is left is named. */
public class MendCommandTest {
    private Path folder;
    private Path bridge;
    private Path heron;

    @BeforeClass
    public void write() throws Exception {
        folder = Files.createTempDirectory("marrow-mend");
        bridge = write("lift-bridge");
        heron = write("marsh-heron");
    }

    private Path write(String demo) throws Exception {
        return Files.write(
                folder.resolve(demo + ".glb"),
                Demo.named(demo).orElseThrow().bytes().get());
    }

    private Said mend(List<Path> files, String... more) {
        Stream<String> given = files.stream().map(Path::toString);
        return Said.run(Stream.of(Stream.of("mend"), given, Stream.of(more), Stream.of("--json"))
                .flatMap(s -> s)
                .toArray(String[]::new));
    }

    @Test
    public void theDemoIsMendedAndItsLedgerDoesTheSameAgain() throws Exception {
        byte[] source = Files.readAllBytes(bridge);
        Path out = folder.resolve("mended");
        Said said = mend(List.of(bridge), "--target", "y-up-m-rh", "--out", out.toString());
        assertThat(said.code()).as(said.err()).isZero();
        JsonNode json = said.json();
        assertThat(json.path("left").size()).isZero();
        assertThat(json.path("landing").path("differences").size()).isZero();
        JsonNode steps = json.path("steps");
        assertThat(steps.size())
                .isGreaterThan(3)
                .isEqualTo(json.path("ledger").path("steps").size());
        // A conversion moves nothing.
        assertThat(steps.get(0).path("step").stringValue()).isEqualTo("convert");
        assertThat(steps.get(0).path("largestMovementMetres").doubleValue()).isLessThan(1e-5);
        Path delivered = Path.of(json.path("files").get(0).stringValue());
        assertThat(Said.run("check", delivered.toString(), "--target", "y-up-m-rh", "--json")
                        .code())
                .isZero();
        assertThat(Files.readAllBytes(bridge)).isEqualTo(source);
        Path ledger = Path.of(json.path("ledgerFile").stringValue());
        assertThat(ledger).hasFileName("lift-bridge_v001.ledger.json");
        Path again = folder.resolve("again");
        Said ran = Said.run("run", ledger.toString(), bridge.toString(), "--out", again.toString(), "--json");
        assertThat(ran.code()).as(ran.err()).isZero();
        assertThat(again.resolve("lift-bridge_v001.glb")).hasSameBinaryContentAs(delivered);
        Said second = mend(List.of(delivered), "--target", "y-up-m-rh", "--dry-run");
        assertThat(second.code()).isZero();
        assertThat(second.json().path("steps").size()).isZero();
    }

    @Test
    public void aDryRunWritesNothingAndAFixThatMovesTooMuchIsNamed() throws Exception {
        Path out = folder.resolve("dry");
        Said said = mend(
                List.of(heron), "--target", "z-up-cm-lh", "--out", out.toString(), "--dry-run", "--most-moved", "1e-9");
        assertThat(said.code()).isEqualTo(1);
        assertThat(out).doesNotExist();
        assertThat(said.json().path("files").size()).isZero();
        JsonNode left = said.json().path("left");
        assertThat(left.size()).isPositive();
        assertThat(left.get(0).path("severity").stringValue()).isEqualTo("blocker");
        assertThat(left.get(0).path("reason").stringValue()).contains("taken back");
        assertThat(said.json().path("steps"))
                .isNotEmpty()
                .allMatch(s -> s.path("largestMovementMetres").doubleValue() <= 1e-9);
    }

    @Test
    public void aBadFileDoesNotStopTheOthers() throws Exception {
        Path bad = Files.write(folder.resolve("bad.glb"), new byte[] {1, 2, 3});
        Said said = mend(List.of(bad, heron), "--out", folder.resolve("two").toString());
        assertThat(said.code()).isEqualTo(2);
        JsonNode assets = said.json().path("assets");
        assertThat(assets.size()).isEqualTo(2);
        assertThat(assets.get(0).path("reason").stringValue()).isNotEmpty();
        assertThat(said.err()).contains("bad.glb");
        assertThat(Path.of(assets.get(1).path("files").get(0).stringValue())).exists();
    }

    @Test
    public void whatItCannotMeanIsSaid() {
        assertThat(mend(List.of(bridge)).code()).isEqualTo(2);
        assertThat(mend(List.of(bridge)).err()).contains("--out");
        assertThat(mend(List.of(bridge), "--dry-run", "--target", "sideways").err())
                .contains("sideways");
        assertThat(mend(List.of(bridge), "--dry-run", "--most-moved", "-1").err())
                .contains("--most-moved");
    }
}
