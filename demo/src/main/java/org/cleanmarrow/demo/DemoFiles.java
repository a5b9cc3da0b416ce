package org.cleanmarrow.demo;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;

/** Writes the demo assets as files, as {@code ./marrow demo-assets DIR} does. */
public final class DemoFiles {
    /** File names and what makes their asset; a new demo asset is added by its line here. */
    private static final Map<String, Supplier<Asset>> ASSETS = new LinkedHashMap<>();

    static {
        ASSETS.put("ferry-pilot.glb", FerryPilot::asset);
        ASSETS.put("newer/ferry-pilot.glb", FerryPilot::newerVersion);
    }

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
        for (Map.Entry<String, Supplier<Asset>> entry : ASSETS.entrySet()) {
            Path path = folder.resolve(entry.getKey());
            SafeFiles.replace(path, GltfWriter.glb(entry.getValue().get()));
            written.add(path);
        }
        return written;
    }
}
