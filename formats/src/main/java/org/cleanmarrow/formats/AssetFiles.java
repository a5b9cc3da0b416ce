package org.cleanmarrow.formats;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.step.Work;

/** Opens files of every format there is; a new format is added by its line here. */
public final class AssetFiles {
    /** Reads one format. */
    public interface Reader {
        Asset read(Path path, Work work) throws ReadFailed;
    }

    private static final Map<String, Reader> READERS = Map.of(
            "glb", GltfReader::read,
            "gltf", GltfReader::read,
            "bvh", BvhReader::read,
            "obj", ObjReader::read,
            "ply", PlyReader::read);

    private AssetFiles() {}

    /** File endings that can be opened, without the dot. */
    public static List<String> endings() {
        return READERS.keySet().stream().sorted().toList();
    }

    /**
     * Opens a file by its ending.
     *
     * @throws ReadFailed where it is not there, of no known format, or broken; nothing else is affected
     */
    public static Asset open(Path path, Work work) throws ReadFailed {
        String name = path.getFileName() == null
                ? path.toString()
                : path.getFileName().toString();
        if (!Files.isRegularFile(path)) {
            throw new ReadFailed(name, "", "there is no such file");
        }
        String ending = name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
        Reader reader = READERS.get(ending);
        if (reader == null) {
            throw new ReadFailed(name, "", "expected a file ending in " + String.join(", ", endings()));
        }
        return reader.read(path, work);
    }
}
