package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.query.Apart;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.text.Bytes;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Writes an asset out under a name with a version, {@code name_v003}, reads it back from disk and measures
 * how far what arrived moves from what was meant. Earlier versions are kept. All files of a delivery come or none.
 */
public final class Delivery {
    private static final Pattern VERSION = Pattern.compile("_v(\\d{3,})(?:[._].*)?$");

    /** Behind the version; what a clip is called comes after a line below, so that none can take its name. */
    private static final String STILL = ".still";

    /** Versions before that are looked for. */
    private static final int LOOKED_BACK = 1000;

    private Delivery() {}

    /**
     * What was delivered.
     *
     * @param landings each file that can be opened by itself, against what it should hold, frame by frame
     * @param notes    what the format could not hold, as its writer and a comparison with what was meant tell it
     * @param manifest names, sizes and sums of the files, written when all of them lay there
     * @param ledger   what was done, where that was to lie beside them
     * @param bytes    how large each file is
     */
    public record Delivered(
            List<Path> files,
            int version,
            List<Landed> landings,
            List<String> notes,
            Path manifest,
            Optional<Path> ledger,
            SortedMap<Path, Long> bytes) {
        /** The landing that parts most; of motion alone, {@link #differences} tells all. */
        public Motion landing() {
            return landings.stream()
                    .map(Landed::motion)
                    .max(Comparator.comparingDouble(Motion::largestMetres))
                    .orElseThrow();
        }

        /** What arrived otherwise than it was meant, in all files; empty where all are sound. */
        public List<String> differences() {
            boolean several = landings.size() > 1;
            return landings.stream()
                    .flatMap(l -> l.motion().differences(l.motion().toleranceMetres()).stream()
                            .map(d -> several ? l.file().getFileName() + ": " + d : d.toString()))
                    .toList();
        }

        public boolean sound() {
            return differences().isEmpty();
        }

        /** A finding for each file that is larger than a target takes. */
        public List<Finding> tooLarge(Target target) {
            double most = target.most(Budget.FILE_BYTES);
            List<Finding> out = new ArrayList<>();
            bytes.forEach((file, size) -> {
                if (size > most) {
                    String name = String.valueOf(file.getFileName());
                    out.add(new Finding(
                            "file-size",
                            Severity.BLOCKER,
                            Station.DELIVERY,
                            Message.of("check.file-size", name, Bytes.say(size), Bytes.say((long) most)),
                            name,
                            size - (long) most,
                            Finding.Place.NONE,
                            Optional.empty()));
                }
            });
            return out;
        }
    }

    /**
     * A file that a delivery would have.
     *
     * @param parts uses of a mesh in it
     * @param clips in it; neither in one that only serves another, such as a picture
     */
    public record Planned(String name, long bytes, long parts, int clips) {}

    /** One delivered file, read back and compared with what it should hold. */
    public record Landed(Path file, Motion motion) {}

    /**
     * Delivers what ships of an asset.
     *
     * @param folder made where it is not there
     * @param ending format, one of {@link AssetFiles#written}
     * @throws IOException where it cannot be written; nothing is left behind then, and where the program is killed, nothing after
     *                     the next delivery to that folder
     * @throws ReadFailed  where what was written cannot be read back; the files are then removed again
     * @throws Refused     where the format cannot hold the asset
     */
    public static Delivered deliver(Asset asset, Path folder, String ending, Work work)
            throws IOException, ReadFailed, Refused {
        return deliver(asset, folder, Recipe.of(ending, false), Optional.empty(), work);
    }

    /**
     * The same, with all that a recipe asks for. Where the model and its clips are wanted apart, the model comes first, then {@code
     * name_v003_clip} for each clip with the skeleton alone. What was read back of each is held against the model's skeleton
     * too, and the model's skeleton against that of the model delivered before, which a note says: clips of one play on the other
     * where names, order and rest are the same.
     *
     * @param ledger to lie beside the files, as {@code name_v003.ledger.json}
     */
    public static Delivered deliver(Asset asset, Path folder, Recipe recipe, Optional<Ledger> ledger, Work work)
            throws IOException, ReadFailed, Refused {
        work.at(0, "writing");
        Files.createDirectories(folder);
        SafeFiles.sweep(folder);
        Placing.sweep(folder);
        String base = recipe.base(asset.name());
        Asset ships = Shipping.of(asset);
        int version = nextVersion(folder, base);
        while (true) {
            String name = String.format("%s_v%03d", base, version);
            Contents contents = contents(ships, recipe, name, ledger, work);
            work.stopIfCancelled();
            try (Placing placing = new Placing(folder, name, contents.pieces())) {
                return deliver(contents, placing, version, work);
            } catch (FileAlreadyExistsException e) {
                version++;
            }
        }
    }

    /**
     * The files that the next delivery would have, the one to be opened first; nothing is written. Cost: as writing them, without a
     * disk.
     *
     * @throws IOException where the folder cannot be looked into
     * @throws Refused     where the format cannot hold the asset
     */
    public static List<Planned> planned(Asset asset, Path folder, Recipe recipe, Work work)
            throws IOException, Refused {
        String name = nextName(asset, folder, recipe);
        return contents(Shipping.of(asset), recipe, name, Optional.empty(), work).pieces().stream()
                .map(p -> new Planned(
                        p.name(),
                        p.bytes().length,
                        p.meant() == null
                                ? 0
                                : p.meant().nodes().stream()
                                        .filter(n -> n.mesh() >= 0)
                                        .count(),
                        p.meant() == null ? 0 : p.meant().clips().size()))
                .toList();
    }

    /**
     * What one format makes of something.
     *
     * @param whole what all its files together should hold
     * @param apart whether clips lie apart from the model
     */
    private record Group(Asset whole, Written written, boolean apart) {}

    /**
     * All files of a delivery.
     *
     * @param beside files that no format made, and that are not read back
     * @param ledger one of those
     */
    private record Contents(List<Group> groups, List<Written.Piece> beside, Optional<Written.Piece> ledger) {
        /** Each once: what serves several formats is one file. */
        List<Written.Piece> pieces() {
            List<Written.Piece> all = new ArrayList<>();
            Map<String, Written.Piece> named = new HashMap<>();
            Stream.concat(groups.stream().flatMap(g -> g.written.pieces().stream()), beside.stream())
                    .filter(p -> !shares(p, named.putIfAbsent(p.name(), p)))
                    .forEach(all::add);
            return all;
        }

        /** Whether a file serves as another does. */
        static boolean shares(Written.Piece piece, Written.@Nullable Piece other) {
            return other != null && piece.meant() == null && Arrays.equals(piece.bytes(), other.bytes());
        }
    }

    private static Contents contents(Asset ships, Recipe recipe, String name, Optional<Ledger> ledger, Work work)
            throws Refused {
        List<Group> groups = new ArrayList<>();
        Map<String, Written.Piece> taken = new HashMap<>();
        Pictures pictures = new Pictures(recipe.pictures(), name);
        for (String ending : recipe.formats()) {
            // Two formats may want the same name for files that differ.
            Written written = written(ships, ending, recipe.apart(), name, pictures, work);
            boolean free = written.pieces().stream()
                    .allMatch(p -> !taken.containsKey(p.name()) || Contents.shares(p, taken.get(p.name())));
            String own = free ? name : name + "_" + ending;
            groups.add(new Group(
                    ships,
                    free ? written : written(ships, ending, recipe.apart(), own, pictures, work),
                    recipe.apart()));
            if (recipe.still()) {
                Asset still = RestSnapshot.of(ships);
                groups.add(new Group(still, AssetFiles.write(still, ending, own + STILL, pictures, work), false));
            }
            groups.forEach(g -> g.written.pieces().forEach(p -> taken.put(p.name(), p)));
        }
        List<Written.Piece> beside = new ArrayList<>();
        if (recipe.roles()) {
            beside.add(new Written.Piece(name + ".roles.json", RolesFile.of(ships), null));
        }
        if (!recipe.notes().isBlank()) {
            byte[] notes = (recipe.notes().strip() + "\n").getBytes(StandardCharsets.UTF_8);
            beside.add(new Written.Piece(name + ".notes.txt", notes, null));
        }
        Optional<Written.Piece> steps = ledger.map(
                l -> new Written.Piece(name + ".ledger.json", l.toJson().getBytes(StandardCharsets.UTF_8), null));
        steps.ifPresent(beside::add);
        Contents contents = new Contents(groups, beside, steps);
        if (recipe.zip()) {
            beside.add(new Written.Piece(name + ".zip", Archive.of(name, contents.pieces()), null));
        }
        Set<String> names = new HashSet<>();
        for (Written.Piece piece : contents.pieces()) {
            if (!names.add(piece.name().toLowerCase(Locale.ROOT))) {
                throw new Refused("delivery.twice", piece.name());
            }
        }
        return contents;
    }

    private static Written written(Asset ships, String ending, boolean apart, String name, Pictures pictures, Work work)
            throws Refused {
        return apart
                ? apart(ships, ending, name, pictures, work)
                : AssetFiles.write(ships, ending, name, pictures, work);
    }

    private static Written apart(Asset ships, String ending, String name, Pictures pictures, Work work) throws Refused {
        Apart apart = Apart.of(ships);
        Written model = AssetFiles.write(apart.model(), ending, name, pictures, work);
        List<Written.Piece> pieces = new ArrayList<>(model.pieces());
        Set<String> notes = new LinkedHashSet<>(model.notes());
        apart.left().forEach(l -> notes.add(l.toString()));
        Set<String> taken = new LinkedHashSet<>();
        for (Asset clip : apart.clips()) {
            String own = legal(clip.name());
            for (int n = 2; !taken.add(own.toLowerCase(Locale.ROOT)); n++) {
                own = legal(clip.name()) + "_" + n;
            }
            Written written = AssetFiles.write(clip, ending, name + "_" + own, pictures, work);
            pieces.addAll(written.pieces());
            notes.addAll(written.notes());
        }
        return new Written(pieces, List.copyOf(notes));
    }

    private static Delivered deliver(Contents contents, Placing placing, int version, Work work)
            throws IOException, ReadFailed {
        SortedMap<Path, Long> bytes = new TreeMap<>();
        Optional<Path> ledger = Optional.empty();
        List<Path> others = new ArrayList<>();
        for (Written.Piece piece : contents.beside) {
            Path file = placing.put(piece);
            if (contents.ledger.filter(l -> l == piece).isPresent()) {
                ledger = Optional.of(file);
            } else {
                others.add(file);
                bytes.put(file, (long) piece.bytes().length);
            }
        }
        List<Path> files = new ArrayList<>();
        // What others name comes first, so that a file that can be opened is never without what it needs.
        for (Group group : contents.groups.reversed()) {
            for (Written.Piece piece : group.written.pieces().reversed()) {
                files.addFirst(placing.put(piece));
                bytes.put(files.getFirst(), (long) piece.bytes().length);
            }
        }
        List<Landed> landings = new ArrayList<>();
        Set<String> notes = new LinkedHashSet<>();
        int at = 0;
        for (Group group : contents.groups) {
            List<Path> own = files.subList(at, at + group.written.pieces().size());
            at += own.size();
            notes.addAll(group.written.notes());
            Optional<Asset> skeleton = landed(group, own, landings, notes, work);
            if (skeleton.isPresent()) {
                earlier(own.getFirst(), version, skeleton.get(), work).ifPresent(notes::add);
            }
        }
        files.addAll(others);
        return new Delivered(
                files.stream().distinct().toList(),
                version,
                List.copyOf(landings),
                List.copyOf(notes),
                placing.finish(),
                ledger,
                Collections.unmodifiableSortedMap(bytes));
    }

    /** Reads the files of a group back and compares them; the skeleton of the first, where clips lie apart from it. */
    private static Optional<Asset> landed(
            Group group, List<Path> files, List<Landed> landings, Set<String> notes, Work work) throws ReadFailed {
        List<Written.Piece> pieces = group.written.pieces();
        long readable = pieces.stream().filter(p -> p.meant() != null).count();
        Asset skeleton = null;
        for (int i = 0; i < files.size(); i++) {
            Asset meant = pieces.get(i).meant();
            if (meant == null) {
                continue;
            }
            Asset back = AssetFiles.open(files.get(i), work);
            landings.add(new Landed(files.get(i), MotionProbe.compare(meant, back, work)));
            if (skeleton != null) {
                landings.add(new Landed(files.get(i), MotionProbe.compare(skeleton, Apart.skeleton(back), work)));
            } else if (group.apart) {
                skeleton = Apart.skeleton(back);
            }
            if (readable == 1) {
                Losses.between(group.whole, back).forEach(n -> notes.add(n.toString()));
            }
        }
        return Optional.ofNullable(skeleton);
    }

    /** Whether the skeleton is that of the version of the same format before, where there is one. */
    private static Optional<String> earlier(Path file, int version, Asset skeleton, Work work) {
        String name = file.getFileName().toString();
        int mark = name.lastIndexOf(String.format("_v%03d", version));
        String ending = name.substring(mark + String.format("_v%03d", version).length());
        for (int v = version - 1; v > Math.max(0, version - LOOKED_BACK); v--) {
            Path before = file.resolveSibling(name.substring(0, mark) + String.format("_v%03d", v) + ending);
            if (Files.isRegularFile(before)) {
                return Optional.of(same(before, skeleton, work).toString());
            }
        }
        return Optional.empty();
    }

    private static Message same(Path before, Asset skeleton, Work work) {
        try {
            Motion apart = MotionProbe.compare(Apart.skeleton(AssetFiles.open(before, work)), skeleton, work);
            List<Message> differences = apart.differences(apart.toleranceMetres());
            return differences.isEmpty()
                    ? Message.of("apart.earlier.same", before.getFileName())
                    : Message.of(
                            "apart.earlier.other", before.getFileName(), differences.getFirst(), differences.size());
        } catch (ReadFailed e) {
            return Message.of("apart.earlier.unread", before.getFileName());
        }
    }

    /** Whether a delivered file is the static twin of another. */
    public static boolean isStill(Path file) {
        return file.getFileName().toString().matches(".*_v\\d{3,}(_[a-z-]+)?\\.still\\.[^.]+");
    }

    /** What the next delivery is called, without endings. */
    public static String nextName(Asset asset, Path folder, Recipe recipe) throws IOException {
        String base = recipe.base(asset.name());
        return String.format("%s_v%03d", base, nextVersion(folder, base));
    }

    /** The version that the next delivery gets: one above the highest in the folder. */
    public static int nextVersion(Path folder, String name) throws IOException {
        String base = legal(name);
        if (!Files.isDirectory(folder)) {
            return 1;
        }
        try (Stream<Path> files = Files.list(folder)) {
            return 1
                    + files.map(p -> p.getFileName().toString())
                            .filter(n -> n.startsWith(base + "_v"))
                            .map(n -> VERSION.matcher(n.substring(base.length())))
                            .filter(Matcher::matches)
                            .mapToInt(m -> parse(m.group(1)))
                            .max()
                            .orElse(0);
        }
    }

    private static int parse(String digits) {
        try {
            return Integer.parseInt(digits);
        } catch (NumberFormatException e) {
            return 0;
        }
    }

    /** A name as it may begin that of a file. */
    public static String legal(String name) {
        // A delivery that is delivered again does not collect version marks.
        String plain = name.replaceAll("_v\\d{3,}$", "")
                .replaceAll("[^\\p{L}\\p{N}._-]", "_")
                .replaceAll("^\\.+", "");
        return plain.isEmpty() ? "asset" : plain;
    }
}
