package org.cleanmarrow.formats.delivery;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.kit.Killed;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** All files of a delivery or none, also where the program is killed in the midst. */
public class PlacingTest {
    /** Kills of a run; the figure for 100 stands in docs/proof.md. */
    private static final int KILLS = Integer.getInteger("marrow.kills", 3);

    /** With a picture in a folder of its own. */
    private static final Asset ASSET = pictured(RandomAssets.of(5).withName("pilot"));

    private Path folder;

    @BeforeMethod
    public void makeFolder() throws Exception {
        folder = Files.createTempDirectory("marrow-placing");
    }

    private static Asset pictured(Asset asset) {
        Image picture = new Image("cloth", "image/png", "", new byte[] {1, 2, 3}, Passthrough.NONE);
        return asset.withPictures(asset.materials(), asset.textures(), List.of(picture));
    }

    private static Delivery.Delivered deliver(Path folder) throws Exception {
        Recipe recipe = new Recipe("", List.of("glb"), true, false, false, false, false, Pictures.Place.FOLDER, "");
        return Delivery.deliver(ASSET, folder, recipe, Optional.of(Ledger.EMPTY), Work.QUIET);
    }

    /** Of all files and empty folders. */
    private static List<String> names(Path folder) throws IOException {
        List<String> out = new ArrayList<>();
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.filter(p -> !p.equals(folder)).sorted().toList()) {
                if (!Files.isDirectory(path) || path.toFile().list().length == 0) {
                    out.add(folder.relativize(path).toString());
                }
            }
        }
        return out;
    }

    private static List<String> named(Manifest manifest) {
        return manifest.files().stream().map(Manifest.Entry::name).toList();
    }

    /** Number of a process that is no more. */
    private static long dead() throws Exception {
        Process process = new ProcessBuilder("true").start();
        process.waitFor();
        return process.pid();
    }

    /** Outside truth: sha256sum of GNU coreutils. */
    @Test
    public void theManifestNamesEveryFileWithItsSum() throws Exception {
        Delivery.Delivered delivered = deliver(folder);
        Manifest manifest = Manifest.read(delivered.manifest()).orElseThrow();
        assertThat(delivered.manifest()).hasFileName("pilot_v001.manifest.json");
        List<String> all = new ArrayList<>(delivered.files().stream()
                .map(f -> folder.relativize(f).toString())
                .toList());
        all.add("pilot_v001.ledger.json");
        assertThat(named(manifest)).isEqualTo(all);
        assertThat(names(folder))
                .containsExactlyInAnyOrderElementsOf(Stream.concat(all.stream(), Stream.of("pilot_v001.manifest.json"))
                        .toList());
        Path sums = Files.createTempFile("sums", ".txt");
        Files.write(
                sums,
                manifest.files().stream().map(e -> e.sha256() + "  " + e.name()).toList());
        Process check = new ProcessBuilder("sha256sum", "--strict", "-c", sums.toString())
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(check.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(check.waitFor()).as(said).isZero();
        for (Manifest.Entry entry : manifest.files()) {
            assertThat(Files.size(folder.resolve(entry.name()))).isEqualTo(entry.bytes());
        }
        assertThat(Files.readAllBytes(
                        deliver(Files.createTempDirectory("marrow")).manifest()))
                .isEqualTo(Files.readAllBytes(delivered.manifest()));
    }

    /** As it lies when killed after every one of the files, and after the manifest. */
    @Test
    public void whatAKilledProgramLeftIsTakenAwayAndWholeDeliveriesStay() throws Exception {
        Path whole = Files.createTempDirectory("marrow-whole");
        Delivery.Delivered delivered = deliver(whole);
        List<String> names = named(Manifest.read(delivered.manifest()).orElseThrow());
        for (int put = 0; put <= names.size() + 1; put++) {
            Path cut = Files.createTempDirectory("marrow-cut");
            for (String name : names.reversed().subList(0, Math.min(put, names.size()))) {
                Files.createDirectories(cut.resolve(name).getParent());
                Files.copy(whole.resolve(name), cut.resolve(name));
            }
            boolean finished = put > names.size();
            if (finished) {
                Files.copy(
                        delivered.manifest(), cut.resolve(delivered.manifest().getFileName()));
            }
            Files.copy(delivered.manifest(), cut.resolve(".delivering-" + dead() + "-a.json"));
            Delivery.Delivered next = deliver(cut);
            assertThat(next.version()).as("after %d", put).isEqualTo(finished ? 2 : 1);
            assertThat(names(cut)).hasSize((names.size() + 1) * next.version()).noneMatch(n -> n.startsWith("."));
        }
    }

    @Test
    public void nothingElseIsTakenAway() throws Exception {
        Path first = deliver(folder).manifest();
        Manifest manifest = Manifest.read(first).orElseThrow();
        Path changed = folder.resolve(manifest.files().get(1).name());
        Files.writeString(changed, "changed since");
        Path outside = Files.writeString(folder.resolveSibling(folder.getFileName() + ".txt"), "outside");
        String sum = manifest.files().getFirst().sha256();
        Files.writeString(
                folder.resolve(".delivering-" + dead() + "-b.json"),
                "{\"delivery\": \"x\", \"files\": [{\"name\": \"../" + outside.getFileName() + "\", \"bytes\": 7, "
                        + "\"sha256\": \"" + sum + "\"}]}");
        Files.writeString(folder.resolve(".delivering-" + dead() + "-c.json"), "{\"files\": 3");
        for (String bad : List.of("a/../../x", "/x", "a/b/c", ".a/x", "a/.x", "a\\\\x", "C:x", "a\\u0000")) {
            Path named = folder.resolve(".delivering-" + dead() + "-" + bad.hashCode() + ".json");
            Files.writeString(
                    named,
                    "{\"delivery\": \"x\", \"files\": [{\"name\": \"" + bad + "\", \"bytes\": 7, \"sha256\": \"" + sum
                            + "\"}]}");
            assertThat(Manifest.read(named)).as(bad).isEmpty();
        }
        // One that is under way elsewhere.
        Path other = folder.resolve(".delivering-" + ProcessHandle.current().pid() + "-d.json");
        Files.copy(first, other);
        Files.move(first, folder.resolve(".delivering-" + dead() + "-a.json"));
        Placing.sweep(folder);
        assertThat(outside).exists();
        assertThat(changed).hasContent("changed since");
        assertThat(other).exists();
        assertThat(names(folder))
                .filteredOn(n -> n.startsWith("pilot"))
                .containsExactly(folder.relativize(changed).toString());
    }

    /** Its number of a process may be unknown here: it is on another machine. */
    @Test
    public void whatIsUnderWayOnAnotherMachineStays() throws Exception {
        Path first = deliver(folder).manifest();
        List<String> names = named(Manifest.read(first).orElseThrow());
        Path other = folder.resolve(".delivering-" + dead() + "-e.json");
        Files.copy(first, other);
        Files.delete(first);
        try (FileChannel held = FileChannel.open(other, StandardOpenOption.WRITE)) {
            assertThat(held.tryLock()).isNotNull();
            Placing.sweep(folder);
            assertThat(names(folder))
                    .containsAll(names)
                    .contains(other.getFileName().toString());
        }
        Placing.sweep(folder);
        assertThat(names(folder)).isEmpty();
    }

    @Test
    public void whatIsUnderWayIsLocked() throws Exception {
        List<Written.Piece> pieces = List.of(new Written.Piece("one.bin", new byte[] {1}, null));
        try (Placing placing = new Placing(folder, "one", pieces);
                FileChannel meant =
                        FileChannel.open(folder.resolve(names(folder).getFirst()), StandardOpenOption.WRITE)) {
            assertThatThrownBy(meant::tryLock).isInstanceOf(OverlappingFileLockException.class);
            placing.put(pieces.getFirst());
        }
        assertThat(names(folder)).isEmpty();
    }

    @Test
    public void whatCannotBePutTakesAllWithIt() throws Exception {
        Path taken = folder.resolve("pilot_v001_linear.glb");
        List<Written.Piece> pieces = List.of(
                new Written.Piece("one.bin", new byte[] {1}, null),
                new Written.Piece(taken.getFileName().toString(), new byte[] {2}, null));
        Files.writeString(taken, "theirs");
        try (Placing placing = new Placing(folder, "two", pieces)) {
            placing.put(pieces.get(0));
            placing.put(pieces.get(1));
            placing.finish();
        } catch (FileAlreadyExistsException e) {
            assertThat(e.getFile()).contains("linear");
        }
        assertThat(names(folder)).containsExactly(taken.getFileName().toString());
        assertThat(taken).hasContent("theirs");
    }

    /** Killed whatever it is at; one more delivery, and every file is part of one that is whole. */
    @Test
    public void killedAtRandomMoments() throws Exception {
        Random random = new Random(8);
        for (int kill = 0; kill < KILLS; kill++) {
            Killed.after(Delivering.class, folder.toString(), "1", random.nextInt(80));
            deliver(folder);
            List<String> known = new ArrayList<>();
            for (String name : names(folder)) {
                if (name.endsWith(Manifest.ENDING)) {
                    Manifest manifest = Manifest.read(folder.resolve(name)).orElseThrow();
                    known.add(name);
                    known.addAll(named(manifest));
                    for (Manifest.Entry entry : manifest.files()) {
                        assertThat(Manifest.holds(folder, entry))
                                .as(entry.name())
                                .isTrue();
                    }
                }
            }
            assertThat(names(folder)).containsExactlyInAnyOrderElementsOf(known);
        }
    }

    /** Delivers again and again, and says so. */
    static final class Delivering {
        private Delivering() {}

        public static void main(String[] folder) throws Exception {
            for (int i = 1; i < 1000; i++) {
                deliver(Path.of(folder[0]));
                System.out.println(i);
            }
        }
    }
}
