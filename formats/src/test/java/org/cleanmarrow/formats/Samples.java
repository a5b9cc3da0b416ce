package org.cleanmarrow.formats;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;

/** The files that we did not write; their sources stand in the README beside them. */
final class Samples {
    private static final Path FOLDER = Path.of("src/test/resources/samples");

    private Samples() {}

    static Path path(String name) {
        return FOLDER.resolve(name);
    }

    static Asset read(String name) throws ReadFailed {
        return AssetFiles.open(path(name), Work.QUIET);
    }

    /** Every valid sample. */
    static List<Path> valid() throws IOException {
        try (Stream<Path> files = Files.list(FOLDER)) {
            return files.filter(f -> f.toString().matches(".*\\.(gltf|glb)$"))
                    .sorted()
                    .toList();
        }
    }
}
