package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** One command over many files: folders, patterns, several at a time, with bad ones among them, and going on after it was stopped. */
public class BatchTest {
    /** 100 with {@code -Dmarrow.batch.kills=100}, ten minutes. */
    private static final int KILLS = Integer.getInteger("marrow.batch.kills", 1);

    private Path folder;
    private Path in;
    private Path out;

    @BeforeMethod
    public void makeFolder() throws Exception {
        folder = Files.createTempDirectory("marrow-batch");
        in = Files.createDirectories(folder.resolve("in"));
        out = folder.resolve("out");
        Files.createDirectories(in.resolve("low/.hidden"));
        for (String name : List.of("a.gltf", "b.gltf", "low/c.gltf", "low/.hidden/d.gltf")) {
            Files.copy(OpenSamples.path("simple_skin.gltf"), in.resolve(name));
        }
        Files.writeString(in.resolve("a.txt"), "no asset");
        Files.write(in.resolve("bad.glb"), new byte[] {1, 2, 3});
    }

    private Said mend(String... more) {
        return Said.run(Stream.concat(Stream.of("mend", "--out", out.toString(), "--json"), Stream.of(more))
                .toArray(String[]::new));
    }

    private static List<String> sources(JsonNode json) {
        return json.path("assets")
                .valueStream()
                .map(a -> Path.of(a.path("source").stringValue()).getFileName().toString())
                .toList();
    }

    private List<String> delivered() throws IOException {
        try (Stream<Path> all = Files.walk(out)) {
            return all.filter(p -> p.toString().endsWith(".glb"))
                    .map(p -> out.relativize(p).toString())
                    .sorted()
                    .toList();
        }
    }

    @Test
    public void aFolderIsMendedByTwoWorkersAndGoneOnWithOnlyWhereItChanged() throws Exception {
        Said said = mend(in.toString(), "--workers", "2");
        assertThat(said.code()).isEqualTo(2);
        assertThat(sources(said.json())).containsExactly("a.gltf", "b.gltf", "bad.glb", "c.gltf");
        JsonNode bad = said.json().path("assets").get(2);
        assertThat(bad.path("reason").stringValue()).isNotEmpty();
        assertThat(bad.path("exit").intValue()).isEqualTo(2);
        assertThat(said.json().path("failed").intValue()).isEqualTo(1);
        assertThat(said.err()).contains("bad.glb").contains("4 of 4");
        List<String> first = List.of("a_v001.glb", "b_v001.glb", "low/c_v001.glb");
        assertThat(delivered()).isEqualTo(first);
        // Nothing has changed but one file, and the line that a killed program left half.
        Files.copy(
                OpenSamples.path("generic-hand-left.glb"), in.resolve("bad.glb"), StandardCopyOption.REPLACE_EXISTING);
        Path record = out.resolve(BatchRecord.NAME);
        Files.writeString(record, "{\"source\": \"half", StandardOpenOption.APPEND);
        Said again = mend(in.toString(), "--resume");
        assertThat(again.json().path("resumed").intValue()).isEqualTo(3);
        assertThat(SchemaTest.errors("mend", again.out())).isEqualTo("[]");
        assertThat(again.json().path("assets").get(0).path("files"))
                .isEqualTo(said.json().path("assets").get(0).path("files"));
        assertThat(delivered()).contains("bad_v001.glb").hasSize(4).containsAll(first);
        // What was noted behind the half line counts.
        assertThat(mend(in.toString(), "--resume").json().path("resumed").intValue())
                .isEqualTo(4);
    }

    private Process started() throws IOException {
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        List<String> command =
                List.of(java, "-Xmx512m", "-cp", System.getProperty("java.class.path"), Main.class.getName());
        List<String> arguments = List.of("mend", in.toString(), "--out", out.toString(), "--json");
        return new ProcessBuilder(
                        Stream.concat(command.stream(), arguments.stream()).toList())
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
    }

    private static void kill(Process process) throws InterruptedException {
        // The batch first, so that it starts no other worker in place of the one that is killed.
        List<ProcessHandle> workers = process.descendants().toList();
        process.destroyForcibly().waitFor();
        workers.forEach(ProcessHandle::destroyForcibly);
        for (ProcessHandle worker : workers) {
            worker.onExit().join();
        }
    }

    /**
     * Killed when two were noted, and with more kills at random moments: what was noted is not done again, all are there in the end, at most
     * what it was at twice, and every file can be opened.
     */
    @Test
    public void whatWasKilledGoesOn() throws Exception {
        Random random = new Random(6);
        for (int kill = 0; kill < KILLS; kill++) {
            makeFolder();
            Process process = started();
            try (BufferedReader said = process.errorReader()) {
                if (kill == 0) {
                    for (String line = said.readLine(); line != null && !line.startsWith("2 of"); ) {
                        line = said.readLine();
                    }
                } else {
                    Thread.sleep(random.nextInt(6000));
                }
                kill(process);
            }
            Said again = mend(in.toString(), "--resume");
            List<String> all = delivered();
            assertThat(all)
                    .contains("a_v001.glb", "b_v001.glb", "low/c_v001.glb")
                    .hasSizeLessThan(5);
            for (String file : all) {
                assertThat(AssetFiles.open(out.resolve(file), Work.QUIET).nodes())
                        .isNotEmpty();
            }
            try (Stream<Path> left = Files.walk(out)) {
                assertThat(left.map(p -> p.getFileName().toString())).noneMatch(n -> n.endsWith(".tmp"));
            }
            if (kill == 0) {
                JsonNode assets = again.json().path("assets");
                assertThat(assets.get(0).path("resumed").booleanValue()).isTrue();
                assertThat(assets.get(1).path("resumed").booleanValue()).isTrue();
                assertThat(all).doesNotContain("a_v002.glb", "b_v002.glb");
            }
        }
    }

    @Test
    public void aLedgerRunsOverAPattern() throws Exception {
        Path ledger = Files.writeString(folder.resolve("steps.json"), "{\"ledger\": 1, \"steps\": []}");
        Said said = Said.run("run", ledger.toString(), in + "/*.gltf", "--out", out.toString(), "--json");
        assertThat(said.code()).as(said.err()).isZero();
        assertThat(sources(said.json())).containsExactly("a.gltf", "b.gltf");
        assertThat(delivered()).containsExactly("a_v001.glb", "b_v001.glb");
    }

    @Test
    public void whatStandsForNoFileIsSaid() throws Exception {
        assertThat(mend(in + "/*.dae").err()).contains("*.dae").contains("no file fits");
        Path empty = Files.createDirectories(folder.resolve("empty"));
        assertThat(mend(empty.toString()).err()).contains("empty").contains("holds no file");
        assertThat(mend(in.toString(), "--workers", "0").err()).contains("--workers");
        assertThat(out).doesNotExist();
    }

    @Test
    public void theSameFileIsOtherWorkForAnotherCommandOrLedger() throws Exception {
        Path file = in.resolve("a.gltf");
        Inputs.Input input = new Inputs.Input(file, Path.of(""));
        Path ledger = Files.writeString(folder.resolve("steps.json"), "one");
        String key = record(input, ledger).key(input, List.of("mend", "z-up-cm-lh"));
        assertThat(record(input, ledger).key(input, List.of("mend", "z-up-cm-lh")))
                .isEqualTo(key);
        assertThat(record(input, ledger).key(input, List.of("mend", "y-up-m-rh")))
                .isNotEqualTo(key);
        Files.writeString(ledger, "other");
        assertThat(record(input, ledger).key(input, List.of("mend", "z-up-cm-lh")))
                .isNotEqualTo(key);
        Files.writeString(ledger, "one");
        assertThat(record(input, ledger).key(input, List.of("mend", "z-up-cm-lh")))
                .isEqualTo(key);
        // A glTF file may name others; what lies beside it counts.
        Files.writeString(in.resolve("a.txt"), "something else beside it");
        assertThat(record(input, ledger).key(input, List.of("mend", "z-up-cm-lh")))
                .isNotEqualTo(key);
    }

    private BatchRecord record(Inputs.Input input, Path ledger) throws IOException {
        return new BatchRecord(Optional.of(out), List.of(input), List.of(ledger));
    }

    @Test
    public void inputsLeaveOutWhatWasDelivered() throws Exception {
        Path inside = in.resolve("delivered");
        Files.createDirectories(inside);
        Files.copy(OpenSamples.path("simple_skin.gltf"), inside.resolve("e.gltf"));
        assertThat(Inputs.of(List.of(in), Optional.of(inside))).hasSize(4);
        assertThat(Inputs.of(List.of(in), Optional.empty())).hasSize(5);
        assertThat(Inputs.of(List.of(Path.of(in + "/**.gltf"), in.resolve("a.gltf")), Optional.of(inside)))
                .extracting(i -> i.file().getFileName().toString())
                .contains("a.gltf", "b.gltf", "c.gltf");
    }

    @Test
    public void aPatternBelowAFolderThatIsCalledLikeOne() throws Exception {
        Path odd = Files.createDirectories(folder.resolve("take[1]{a,b}").resolve("low"));
        Files.copy(OpenSamples.path("simple_skin.gltf"), odd.resolve("f.gltf"));
        for (String pattern : List.of("/low/*.gltf", "/*/f.gltf", "/**.gltf")) {
            assertThat(Inputs.of(List.of(Path.of(odd.getParent() + pattern)), Optional.empty()))
                    .as(pattern)
                    .extracting(i -> i.file().getFileName().toString())
                    .containsExactly("f.gltf");
        }
        assertThatThrownBy(() -> Inputs.of(List.of(Path.of(odd.getParent() + "/*.gltf")), Optional.empty()))
                .hasMessageContaining("no file fits");
    }

    /** A virtual machine says what it has to say where answers are said too. */
    @Test
    public void whatTheMachineSaysIsNoAnswer() throws Exception {
        try (Worker worker = new Worker("-Xlog:gc*")) {
            assertThat(worker.run(List.of("steps", "--json")).code()).isZero();
        }
    }

    /** Stands in for a crash: the process that was given a file ends by itself. */
    @Test
    public void aWorkerThatEndsIsToldFromOneThatAnswers() throws Exception {
        try (Worker worker = new Worker()) {
            assertThat(worker.run(List.of("inspect", in.resolve("bad.glb").toString(), "--json"))
                            .code())
                    .isEqualTo(2);
            assertThat(worker.run(List.of("inspect", in.resolve("a.gltf").toString(), "--json"))
                            .out()
                            .path("nodes")
                            .intValue())
                    .isPositive();
            worker.close();
            assertThatThrownBy(() -> worker.run(List.of("steps", "--json"))).isInstanceOf(IOException.class);
        }
    }
}
