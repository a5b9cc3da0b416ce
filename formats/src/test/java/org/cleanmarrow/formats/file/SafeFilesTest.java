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
import java.util.stream.Stream;
import org.testng.annotations.Test;

public class SafeFilesTest {
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
