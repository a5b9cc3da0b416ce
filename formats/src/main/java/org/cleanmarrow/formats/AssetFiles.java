package org.cleanmarrow.formats;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.formats.cloth.ClothFile;
import org.cleanmarrow.formats.file.FileBytes;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.sequence.FrameSequence;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;

/** Opens and writes files of every format in {@link Formats}. */
public final class AssetFiles {
    private AssetFiles() {}

    /** File endings that can be written, without the dot; the fullest format first. */
    public static List<String> written() {
        return Formats.ALL.stream()
                .filter(f -> f.writer().isPresent())
                .map(Format::ending)
                .toList();
    }

    /** The same with the pictures inside where the format takes them. */
    public static Written write(Asset asset, String ending, String base, Work work) throws Refused {
        return write(asset, ending, base, Pictures.embedded(base), work);
    }

    /**
     * What a format makes of an asset; nothing is put on disk.
     *
     * @param ending one of {@link #written}
     * @throws Refused where the format cannot hold the asset at all
     */
    public static Written write(Asset asset, String ending, String base, Pictures pictures, Work work) throws Refused {
        Format format =
                Formats.ofEnding(ending).filter(f -> f.writer().isPresent()).orElse(null);
        if (format == null) {
            throw new Refused("no.format", ending, String.join(", ", written()));
        }
        Written written = format.writer().get().write(asset, base, pictures, work);
        List<String> notes = new ArrayList<>();
        format.leavesOut(asset).ifPresent(left -> notes.add(left.toString()));
        notes.addAll(written.notes());
        return new Written(ClothFile.with(written.pieces(), asset, base), notes);
    }

    /** File endings that can be opened, without the dot. */
    public static List<String> endings() {
        return Formats.ALL.stream()
                .filter(Format::opens)
                .flatMap(f -> f.endings().stream())
                .sorted()
                .toList();
    }

    /** Opens a file as {@link ReadOptions#usual}. */
    public static Asset open(Path path, Work work) throws ReadFailed {
        return open(path, ReadOptions.usual(work));
    }

    /**
     * Opens a file by what it holds; by its ending where its content bears no mark. One that holds something else than its
     * ending says is read as what it holds, and its notes say so. One of a row of frames opens the whole row ({@link FrameSequence}).
     *
     * @throws ReadFailed where it is not there, of no known format, or broken; nothing else is affected
     */
    public static Asset open(Path path, ReadOptions options) throws ReadFailed {
        Threads.begins("a file");
        Map<Integer, Path> row = options.neighbours() ? FrameSequence.row(path) : Map.of();
        return row.isEmpty()
                ? single(path, options)
                : FrameSequence.open(path, row, p -> single(p, options.withWork(Work.QUIET)), options.work());
    }

    private static Asset single(Path path, ReadOptions options) throws ReadFailed {
        String name = path.getFileName() == null
                ? path.toString()
                : path.getFileName().toString();
        ByteBuffer bytes = bytes(path, name, options);
        String ending = name.substring(name.lastIndexOf('.') + 1);
        Optional<Format> said = Formats.ofEnding(ending);
        byte[] head = new byte[Math.min(bytes.limit(), Formats.HEAD)];
        bytes.get(0, head);
        Optional<Format> held = Formats.ofContent(head);
        Format format = held.or(() -> said)
                .orElseThrow(() -> new ReadFailed(
                        name,
                        "",
                        "expected a file ending in " + String.join(", ", endings()) + ", or holding one of these"));
        Path folder = options.neighbours() ? path.toAbsolutePath().getParent() : null;
        Asset asset = bytes.isDirect()
                ? format.reader().readLarge(bytes, name, folder, options.work())
                : format.reader().read(FileBytes.array(bytes), name, folder, options.work());
        asset = folder == null ? asset : ClothFile.withBeside(asset, path.toAbsolutePath());
        boolean same = said.isPresent() && said.get().reader() == format.reader();
        if (same || said.filter(f -> isGltf(f) && isGltf(format)).isPresent()) {
            return asset;
        }
        List<String> notes = new ArrayList<>(asset.notes());
        notes.add("The file ends in ." + ending + " and holds " + format.name() + "; it was read as that.");
        return asset.withNotes(notes);
    }

    private static boolean isGltf(Format format) {
        return format.ending().equals("glb") || format.ending().equals("gltf");
    }

    private static ByteBuffer bytes(Path path, String name, ReadOptions options) throws ReadFailed {
        if (Files.isDirectory(path)) {
            throw new ReadFailed(name, "", "is a folder; expected a file");
        }
        if (!Files.isRegularFile(path)) {
            boolean there = Files.exists(path);
            throw new ReadFailed(
                    name, "", there ? "is no plain file (a pipe or device); copy it to one" : "there is no such file");
        }
        try {
            long size = Files.size(path);
            if (size > options.mostBytes()) {
                throw new ReadFailed(
                        name, "", "is " + size + " bytes long; at most " + options.mostBytes() + " are read");
            }
            return FileBytes.of(path, size, options.work());
        } catch (IOException e) {
            throw new ReadFailed(name, "", "cannot be opened (" + e.getClass().getSimpleName() + ")");
        }
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
