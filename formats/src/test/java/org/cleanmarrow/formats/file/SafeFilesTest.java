package org.cleanmarrow.formats.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import java.util.stream.Stream;
import org.cleanmarrow.kit.Killed;
import org.testng.annotations.Test;

public class SafeFilesTest {
    /** 100 with {@code -Dmarrow.kills=100}. */
    private static final int KILLS = Integer.getInteger("marrow.kills", 3);

    private static long entries(Path folder) throws Exception {
        try (Stream<Path> files = Files.list(folder)) {
            return files.count();
        }
    }

    /** Sticks in FAT and exFAT refuse a link with a plain FileSystemException, other systems say they know none. */
    @Test
    public void filesAreMadeWhereThereAreNoHardLinks() throws Exception {
        Path folder = Files.createTempDirectory("stick");
        Exception[] refusals = {
            new FileSystemException("a", "b", "Operation not permitted"), new UnsupportedOperationException("link")
        };
        for (int i = 0; i < refusals.length; i++) {
            Exception refusal = refusals[i];
            Path file = folder.resolve("made_" + i);
            SafeFiles.Linker linker = (name, existing) -> {
                if (refusal instanceof FileSystemException e) {
                    throw e;
                }
                throw (UnsupportedOperationException) refusal;
            };
            SafeFiles.create(file, new byte[] {1, 2}, linker);
            assertThat(file).hasBinaryContent(new byte[] {1, 2});
            // One that is there keeps its contents all the same.
            assertThatThrownBy(() -> SafeFiles.create(file, new byte[] {3}, linker))
                    .isInstanceOf(FileAlreadyExistsException.class);
            assertThat(file).hasBinaryContent(new byte[] {1, 2});
        }
        assertThat(entries(folder)).as("nothing half written is left").isEqualTo(2);
    }

    /** As the work is kept while it goes on: at any moment the file is one that was written whole, and no rest is left for long. */
    @Test
    public void aFileThatIsReplacedAgainAndAgainIsWholeWheneverTheProgramIsKilled() throws Exception {
        Path folder = Files.createTempDirectory("kept");
        Path file = folder.resolve("work.recovery");
        Random random = new Random(4);
        for (int kill = 0; kill < KILLS; kill++) {
            Killed.after(Keeping.class, file.toString(), "kept", random.nextInt(60));
            byte[] bytes = Files.readAllBytes(file);
            assertThat(bytes.length).isPositive().isEqualTo(Keeping.length(bytes[0]));
            for (byte b : bytes) {
                assertThat(b).isEqualTo(bytes[0]);
            }
            SafeFiles.sweep(folder);
            assertThat(entries(folder)).isEqualTo(1);
        }
    }

    /** Replaces a file by longer and shorter ones, each of one byte repeated. */
    static final class Keeping {
        private Keeping() {}

        static int length(byte which) {
            return 1000 + 40_000 * (which & 0xFF);
        }

        public static void main(String[] file) throws Exception {
            for (int i = 0; i < 100_000; i++) {
                byte[] bytes = new byte[length((byte) (i % 7))];
                Arrays.fill(bytes, (byte) (i % 7));
                SafeFiles.replace(Path.of(file[0]), bytes);
                if (i == 0) {
                    System.out.println("kept");
                }
            }
        }
    }

    @Test
    public void troublesWithFilesAreSaidWithTheFileAndWhatToDo() {
        assertThat(FileTroubles.say(new NoSuchFileException("a.glb"))).startsWith("a.glb: there is no such file");
        assertThat(FileTroubles.say(new AccessDeniedException("a.glb"))).startsWith("a.glb: there is no right");
        assertThat(FileTroubles.say(new NotDirectoryException("a.glb"))).startsWith("a.glb: is a file where a folder");
        assertThat(FileTroubles.say(new FileSystemException("d", null, "No space left on device")))
                .isEqualTo("d: No space left on device; make room or name another place.");
        assertThat(FileTroubles.say(new java.io.IOException((String) null))).isNotBlank();
    }
}
