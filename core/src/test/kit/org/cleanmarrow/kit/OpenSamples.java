package org.cleanmarrow.kit;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/** The files that we did not write; their sources and licences stand in the README beside them. */
public final class OpenSamples {
    public static final Path FOLDER = Path.of(System.getProperty("marrow.root"), "formats/src/test/resources/samples");

    private OpenSamples() {}

    public static Path path(String name) {
        return FOLDER.resolve(name);
    }

    /** Every valid glTF sample. */
    public static List<Path> valid() throws IOException {
        try (Stream<Path> files = Files.list(FOLDER)) {
            return files.filter(f -> f.toString().matches(".*\\.(gltf|glb)$"))
                    .sorted()
                    .toList();
        }
    }
}
