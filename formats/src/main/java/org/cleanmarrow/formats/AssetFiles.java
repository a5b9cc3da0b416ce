package org.cleanmarrow.formats;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.bvh.BvhWriter;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.collada.ColladaWriter;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.obj.ObjWriter;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.formats.ply.PlyWriter;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

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
            "dae", ColladaReader::read,
            "obj", ObjReader::read,
            "ply", PlyReader::read);

    /** Writes one format. */
    public interface Writer {
        /**
         * What the format makes of an asset.
         *
         * @param base name of the files, without ending
         * @throws Refused where the format cannot hold the asset at all
         */
        Written write(Asset asset, String base, Work work) throws Refused;
    }

    private static final Map<String, Writer> WRITERS = Map.of(
            "glb", AssetFiles::glb,
            "bvh", BvhWriter::write,
            "dae", ColladaWriter::write,
            "obj", ObjWriter::write,
            "ply", PlyWriter::write);

    private AssetFiles() {}

    private static Written glb(Asset asset, String base, Work work) {
        return new Written(List.of(new Written.Piece(base + ".glb", GltfWriter.glb(asset), asset)), List.of());
    }

    /** File endings that can be written, without the dot; the fullest format first. */
    public static List<String> written() {
        return WRITERS.keySet().stream()
                .sorted(Comparator.comparingInt((String e) -> e.equals("glb") ? 0 : e.equals("dae") ? 1 : 2)
                        .thenComparing(Comparator.naturalOrder()))
                .toList();
    }

    /**
     * What a format makes of an asset; nothing is put on disk.
     *
     * @param ending one of {@link #written}
     */
    public static Written write(Asset asset, String ending, String base, Work work) throws Refused {
        Writer writer = WRITERS.get(ending);
        if (writer == null) {
            throw new Refused("no.format", ending, String.join(", ", written()));
        }
        return writer.write(asset, base, work);
    }

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
        if (Files.isDirectory(path)) {
            throw new ReadFailed(name, "", "is a folder; expected a file");
        }
        if (!Files.isRegularFile(path)) {
            boolean there = Files.exists(path);
            throw new ReadFailed(
                    name, "", there ? "is no plain file (a pipe or device); copy it to one" : "there is no such file");
        }
        String ending = name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
        Reader reader = READERS.get(ending);
        if (reader == null) {
            throw new ReadFailed(name, "", "expected a file ending in " + String.join(", ", endings()));
        }
        return reader.read(path, work);
    }

    /** What became of the joints of one file that was joined to another. */
    public record Joined(String file, List<Join.Match> table) {}

    /**
     * What opening gave.
     *
     * @param joined one for each file after the first
     */
    public record Opened(Asset asset, List<Joined> joined) {}

    /**
     * Opens several files into one asset: the first as it is, the others brought onto its skeleton by joint names.
     *
     * @param paths at least one
     * @throws ReadFailed where one of them cannot be read
     */
    public static Opened open(List<Path> paths, Work work) throws ReadFailed {
        Asset asset = open(paths.getFirst(), work);
        List<Joined> joined = new ArrayList<>();
        for (Path path : paths.subList(1, paths.size())) {
            Asset other = open(path, work);
            try {
                joined.add(new Joined(String.valueOf(path.getFileName()), Join.table(asset, other)));
                asset = Join.of(asset, other, work);
            } catch (Refused e) {
                throw new ReadFailed(String.valueOf(path.getFileName()), "", e.getMessage());
            }
        }
        return new Opened(asset, List.copyOf(joined));
    }
}
