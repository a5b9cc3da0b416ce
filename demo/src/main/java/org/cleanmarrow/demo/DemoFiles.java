package org.cleanmarrow.demo;

import java.io.IOException;
import java.nio.file.Path;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;

/** Writes the demo assets as files, as {@code ./marrow demo-assets DIR} does. */
public final class DemoFiles {
    private DemoFiles() {}

    public static void main(String[] arguments) {
        try {
            for (Path file : write(Path.of(arguments[0]))) {
                System.err.println(file);
            }
        } catch (IOException e) {
            System.err.println("The demo assets cannot be written: " + e.getMessage());
            System.exit(2);
        }
    }

    /** Writes all demo assets into a folder; files of those names are replaced. */
    public static Iterable<Path> write(Path folder) throws IOException {
        java.util.List<Path> written = new java.util.ArrayList<>();
        for (Demo demo : Demo.ALL) {
            written.add(put(folder.resolve(demo.file()), demo.bytes().get()));
        }
        // The same source once more, changed, to replay a ledger on.
        written.add(put(folder.resolve("newer/ferry-pilot.glb"), GltfWriter.glb(FerryPilot.newerVersion())));
        return written;
    }

    private static Path put(Path path, byte[] bytes) throws IOException {
        SafeFiles.replace(path, bytes);
        return path;
    }
}
