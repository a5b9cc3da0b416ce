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
import org.cleanmarrow.join.Join;
import org.cleanmarrow.step.Refused;
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

    /**
     * Opens several files into one asset: the first as it is, the others brought onto its skeleton by joint names.
     *
     * @param paths at least one
     * @throws ReadFailed where one of them cannot be read
     */
    public static Asset open(List<Path> paths, Work work) throws ReadFailed {
        Asset asset = open(paths.getFirst(), work);
        for (Path path : paths.subList(1, paths.size())) {
            try {
                asset = Join.of(asset, open(path, work), work);
            } catch (Refused e) {
                throw new ReadFailed(String.valueOf(path.getFileName()), "", e.getMessage());
            }
        }
        return asset;
    }
}
