package org.cleanmarrow.formats.sequence;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Work;

/**
 * Files of one thing frame by frame, as {@code cape.0001.obj}, {@code cape.0002.obj}: opened together, the one that was asked for and
 * all of its row, they are a mesh with a vertex cache. Numbers are frames; one that is missing is gone over in a straight line. Each
 * file must have the positions of the first, in their order.
 */
public final class FrameSequence {
    private static final Pattern NAME = Pattern.compile("(.+)\\.(\\d{1,9})\\.(obj|ply)", Pattern.CASE_INSENSITIVE);
    private static final int MOST_FRAMES = 100_000;
    private static final long MOST_BYTES = 8L << 30;
    private static final double RATE = 30;
    private static final int HEAD = 4096;

    private FrameSequence() {}

    /** Opens one file by itself. */
    @FunctionalInterface
    public interface Opener {
        Asset open(Path path) throws ReadFailed;
    }

    /** The row that a file is of, by number; empty where it is the only one. */
    public static Map<Integer, Path> row(Path file) {
        Matcher own = NAME.matcher(String.valueOf(file.getFileName()));
        Path folder = file.toAbsolutePath().getParent();
        if (!own.matches() || folder == null) {
            return Map.of();
        }
        TreeMap<Integer, Path> out = new TreeMap<>();
        try (Stream<Path> files = Files.list(folder)) {
            files.forEach(f -> {
                Matcher m = NAME.matcher(String.valueOf(f.getFileName()));
                if (m.matches()
                        && m.group(1).equals(own.group(1))
                        && m.group(3).equals(own.group(3))
                        && Files.isRegularFile(f)) {
                    out.put(Integer.parseInt(m.group(2)), f);
                }
            });
        } catch (IOException e) {
            return Map.of();
        }
        return out.size() < 2 ? Map.of() : Collections.unmodifiableMap(out);
    }

    /**
     * The whole row as one asset: the first file's meshes, each with a cache. Where one is not of the same thing, the file that was
     * asked for alone, with a note that names the other.
     *
     * @param asked the file of the row that was asked for
     * @throws ReadFailed where a file cannot be read; it names that file
     */
    public static Asset open(Path asked, Map<Integer, Path> row, Opener opener, Work work) throws ReadFailed {
        List<Integer> numbers = List.copyOf(row.keySet());
        Path firstFile = path(row, numbers.getFirst());
        if (numbers.size() > MOST_FRAMES) {
            throw new ReadFailed(
                    name(firstFile),
                    "",
                    "is one of " + numbers.size() + " frames; at most " + MOST_FRAMES + " are read");
        }
        Asset first = opener.open(firstFile);
        List<Mesh> meshes = first.meshes();
        int vertices = meshes.stream().mapToInt(Mesh::vertexCount).sum();
        if (vertices == 0) {
            return first;
        }
        if (12L * vertices * numbers.size() > MOST_BYTES) {
            throw new ReadFailed(
                    name(firstFile),
                    "",
                    "its " + numbers.size() + " frames would take " + (12L * vertices * numbers.size() >> 20)
                            + " MB; at most " + (MOST_BYTES >> 20) + " MB are read");
        }
        ReadFailed[] broken = {null};
        String[] apart = {""};
        VertexFrames all = CacheBake.frames(vertices, numbers.size(), work, (k, out) -> {
            if (broken[0] != null || !apart[0].isEmpty()) {
                return;
            }
            try {
                Path file = path(row, numbers.get(k));
                Asset frame = k == 0 ? first : opener.open(file);
                work.at(k / (double) numbers.size(), "reading " + name(file));
                apart[0] = put(first, frame, name(file), out);
            } catch (ReadFailed e) {
                broken[0] = e;
            }
        });
        if (broken[0] != null) {
            throw broken[0];
        }
        if (!apart[0].isEmpty()) {
            Asset alone = opener.open(asked);
            List<String> notes = new ArrayList<>(alone.notes());
            notes.add("Opened alone, not with the row that its name says: " + apart[0] + ".");
            return alone.withNotes(notes);
        }
        Said said = Said.of(firstFile);
        double rate = said.rate > 0 ? said.rate : RATE;
        float[] times = new float[numbers.size()];
        for (int k = 0; k < times.length; k++) {
            times[k] = (float) (numbers.get(k) / rate);
        }
        Matcher named = NAME.matcher(name(firstFile));
        String stem = named.matches() ? named.group(1) : first.name();
        List<Channel> channels = new ArrayList<>();
        int from = 0;
        for (int m = 0; m < meshes.size(); m++) {
            int count = meshes.get(m).vertexCount();
            int mesh = m;
            int start = from;
            for (int n = 0; count > 0 && n < first.nodes().size(); n++) {
                if (first.nodes().get(n).mesh() == mesh) {
                    VertexTrack track = VertexTrack.of(times, all);
                    VertexTrack own =
                            count == vertices ? track : new VertexTrack(times, all, track.change(), part(start, count));
                    channels.add(new Channel(n, Channel.Path.VERTICES, own, "", Passthrough.NONE));
                }
            }
            from += count;
        }
        String clip = said.clip.isEmpty() ? "frames" : said.clip;
        List<String> notes = new ArrayList<>(first.notes());
        notes.add("Opened with the " + (numbers.size() - 1) + " other files of its row, as a vertex cache; frames "
                + numbers.getFirst() + ".." + numbers.getLast()
                + (said.rate > 0 ? "." : ", taken for " + (int) RATE + " a second, for the files do not say."));
        Clip made = new Clip(clip, channels, rate, false, true, List.of(), Passthrough.NONE);
        return first.withName(stem).withClips(List.of(made)).withNotes(notes);
    }

    private static Path path(Map<Integer, Path> row, int number) {
        Path path = row.get(number);
        if (path == null) {
            throw new IllegalArgumentException("no frame " + number);
        }
        return path;
    }

    private static String name(Path file) {
        return String.valueOf(file.getFileName());
    }

    private static int[] part(int start, int count) {
        int[] out = new int[count];
        Arrays.setAll(out, i -> start + i);
        return out;
    }

    /** Puts a frame's places in the order of the first's vertices; what is said where it is of something else, otherwise nothing. */
    private static String put(Asset first, Asset frame, String file, float[] out) {
        if (frame.meshes().size() != first.meshes().size()) {
            return file + " has " + frame.meshes().size() + " objects and the first "
                    + first.meshes().size();
        }
        int at = 0;
        for (int m = 0; m < first.meshes().size(); m++) {
            Mesh found = frame.meshes().get(m);
            float[] points = byPoint(found);
            int[] numbers = numbers(first.meshes().get(m));
            int meant = 1 + Arrays.stream(numbers).max().orElse(-1);
            if (points.length != 3 * meant) {
                return file + " has " + points.length / 3 + " positions in object " + found.name() + " and the first "
                        + meant;
            }
            for (int number : numbers) {
                System.arraycopy(points, 3 * number, out, at, 3);
                at += 3;
            }
        }
        return "";
    }

    /** Of each vertex the number of its position, from 0 in the order of the file. */
    private static int[] numbers(Mesh mesh) {
        int[] out = new int[mesh.vertexCount()];
        int at = 0;
        int least = Integer.MAX_VALUE;
        for (Primitive p : mesh.primitives()) {
            Faces faces = p.layout().faces();
            int[] points = faces == null ? null : faces.points();
            for (int v = 0; v < p.vertexCount(); v++) {
                out[at] = points == null ? at : points[v];
                least = Math.min(least, out[at++]);
            }
        }
        for (int i = 0; i < out.length; i++) {
            out[i] -= least;
        }
        return compact(out);
    }

    /** Numbers without gaps: positions that nothing uses have no vertex. */
    private static int[] compact(int[] numbers) {
        int[] sorted = Arrays.stream(numbers).distinct().sorted().toArray();
        int[] out = new int[numbers.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = Arrays.binarySearch(sorted, numbers[i]);
        }
        return out;
    }

    private static float[] byPoint(Mesh mesh) {
        int[] numbers = numbers(mesh);
        float[] out = new float[3 * (1 + Arrays.stream(numbers).max().orElse(-1))];
        int at = 0;
        for (Primitive p : mesh.primitives()) {
            for (int v = 0; v < p.vertexCount(); v++, at++) {
                System.arraycopy(p.positions(), 3 * v, out, 3 * numbers[at], 3);
            }
        }
        return out;
    }

    /** What remarks at the head of a file say of its row. */
    private record Said(String clip, double rate) {
        static Said of(Path file) {
            String head;
            try (var in = Files.newInputStream(file)) {
                head = new String(in.readNBytes(HEAD), StandardCharsets.UTF_8);
            } catch (IOException e) {
                return new Said("", 0);
            }
            double rate = 0;
            Optional<String> said = after(head, Remarks.RATE);
            if (said.isPresent()) {
                try {
                    rate = Double.parseDouble(said.get());
                } catch (NumberFormatException e) {
                    rate = 0;
                }
            }
            return new Said(after(head, Remarks.CLIP).orElse(""), rate > 0 && rate <= 1000 ? rate : 0);
        }

        private static Optional<String> after(String head, String remark) {
            return head.lines()
                    .filter(l -> l.startsWith("# " + remark) || l.startsWith("comment " + remark))
                    .map(l -> l.substring(l.indexOf(remark) + remark.length()).strip())
                    .filter(l -> !l.isEmpty())
                    .findFirst();
        }
    }

    /** The row's file of a frame. */
    static String name(String base, int frame, String ending) {
        return String.format(Locale.ROOT, "%s.%04d.%s", base, frame, ending);
    }
}
