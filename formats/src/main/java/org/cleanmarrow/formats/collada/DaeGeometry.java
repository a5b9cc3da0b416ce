package org.cleanmarrow.formats.collada;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.mesh.Corners;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.geometry.Polygons;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;

/**
 * The mesh of a geometry element (COLLADA 1.4.1, mesh): triangles, polygons, strips, fans and lines. Every element of
 * primitives becomes a piece with the symbol of its material. A position that is used with several texture coordinates
 * or normals is there once for each, in the order of the positions.
 */
final class DaeGeometry {
    private static final Set<String> SURFACES = Set.of("triangles", "polylist", "polygons", "tristrips", "trifans");
    private static final Set<String> LINES = Set.of("lines", "linestrips");

    private final Map<String, XmlNode> ids;
    private final Map<String, DaeSource> sources = new HashMap<>();
    private final List<Piece> pieces = new ArrayList<>();
    private float[] points = new float[0];

    /**
     * A piece of the mesh.
     *
     * @param points for each vertex the number of the position that it stands for
     * @param symbol name of its material, to be bound where the mesh is used
     */
    record Piece(Primitive primitive, int[] points, String symbol) {}

    private DaeGeometry(Map<String, XmlNode> ids) {
        this.ids = ids;
    }

    static DaeGeometry read(XmlNode geometry, Map<String, XmlNode> ids) throws ReadFailed {
        XmlNode mesh = geometry.find("mesh").orElse(null);
        DaeGeometry out = new DaeGeometry(ids);
        if (mesh != null) {
            out.run(mesh);
        }
        return out;
    }

    List<Piece> pieces() {
        return pieces;
    }

    /** Positions as the file numbers them, 3 each. */
    float[] points() {
        return points;
    }

    private void run(XmlNode mesh) throws ReadFailed {
        boolean alone = mesh.children().stream()
                        .filter(c -> SURFACES.contains(c.name()) || LINES.contains(c.name()))
                        .count()
                == 1;
        for (XmlNode child : mesh.children()) {
            if (SURFACES.contains(child.name()) || LINES.contains(child.name())) {
                new Reading(child).run(alone);
            }
        }
        if (points.length == 0) {
            XmlNode vertices = mesh.find("vertices").orElse(null);
            if (vertices != null) {
                takePoints(vertices);
            }
        }
    }

    private DaeSource source(XmlNode input) throws ReadFailed {
        String id = input.get("source");
        DaeSource known = sources.get(id);
        if (known == null) {
            known = DaeSource.of(input, ids);
            if (known.values() == null) {
                throw input.wrong("expected numbers in " + id + ", found names");
            }
            sources.put(id, known);
        }
        return known;
    }

    private void takePoints(XmlNode vertices) throws ReadFailed {
        for (XmlNode input : vertices.all("input")) {
            if (input.get("semantic").equals("POSITION")) {
                DaeSource source = source(input);
                points = new float[source.count() * 3];
                for (int p = 0; p < source.count(); p++) {
                    System.arraycopy(source.values(), p * source.width(), points, p * 3, Math.min(3, source.width()));
                }
                return;
            }
        }
        throw vertices.wrong("expected an input POSITION");
    }

    /** One list of values that corners point into. */
    private record Stream(String semantic, DaeSource source, int offset, int set) {}

    /** Reads one element of primitives. */
    private final class Reading {
        private final XmlNode element;
        private final List<Stream> streams = new ArrayList<>();
        private final List<Integer> others = new ArrayList<>();
        private final Map<List<Integer>, Integer> furtherNumbers = new LinkedHashMap<>();
        private final Corners corners = new Corners();
        private int stride;
        private int pointOffset = -1;
        private int[] triples = new int[3 * 16];

        Reading(XmlNode element) {
            this.element = element;
        }

        void run(boolean alone) throws ReadFailed {
            inputs();
            if (pointOffset < 0) {
                if (element.all("p").isEmpty()) {
                    return;
                }
                throw element.wrong("expected an input VERTEX");
            }
            boolean lines = LINES.contains(element.name());
            switch (element.name()) {
                case "polylist" -> polylist();
                case "polygons" -> polygons();
                default -> {
                    for (XmlNode p : element.all("p")) {
                        list(p.wholes(), p);
                    }
                }
            }
            if (!corners.isEmpty()) {
                Corners.Result made = corners.result();
                Primitive primitive = primitive(made, lines);
                primitive = lines
                        ? primitive
                        : primitive.withLayout(primitive.layout().withFaces(corners.faces(made, List.of(), alone)));
                pieces.add(new Piece(primitive, made.positions(), element.get("material")));
            }
        }

        private void inputs() throws ReadFailed {
            for (XmlNode input : element.all("input")) {
                int offset = input.count("offset");
                if (offset > 64) {
                    throw input.wrong("expected an offset of at most 64, found " + offset);
                }
                stride = Math.max(stride, offset + 1);
                int set = input.get("set").matches("\\d{1,4}") ? input.count("set") : 0;
                if (input.get("semantic").equals("VERTEX")) {
                    pointOffset = offset;
                    XmlNode vertices = DaeSource.target(input, "source", ids);
                    if (points.length == 0) {
                        takePoints(vertices);
                    }
                    for (XmlNode own : vertices.all("input")) {
                        if (!own.get("semantic").equals("POSITION")) {
                            streams.add(new Stream(own.get("semantic"), source(own), offset, set));
                        }
                    }
                } else {
                    streams.add(new Stream(input.get("semantic"), source(input), offset, set));
                }
            }
            for (Stream stream : streams) {
                boolean known = stream.offset == pointOffset || others.contains(stream.offset);
                if (!known && taken(stream)) {
                    others.add(stream.offset);
                }
            }
        }

        private static boolean taken(Stream stream) {
            return switch (stream.semantic) {
                case "NORMAL", "TEXCOORD", "UV", "COLOR" -> true;
                default -> false;
            };
        }

        /** The corner that begins at a place in a list of indices, as three numbers. */
        private void corner(int[] p, int corner, int slot, XmlNode at) throws ReadFailed {
            int from = corner * stride;
            if (from + stride > p.length) {
                throw at.wrong("ends after " + p.length + " numbers, in the middle of a face");
            }
            int point = p[from + pointOffset];
            if (point < 0 || point >= points.length / 3) {
                throw at.wrong("names vertex " + point + ", and there are " + points.length / 3);
            }
            for (Stream stream : streams) {
                int index = p[from + stream.offset];
                if (index < 0 || index >= stream.source.count()) {
                    throw at.wrong("names number " + index + " of " + stream.semantic + ", and there are "
                            + stream.source.count());
                }
            }
            if (triples.length < 3 * slot + 3) {
                triples = Arrays.copyOf(triples, triples.length * 2);
            }
            triples[3 * slot] = point;
            triples[3 * slot + 1] = others.isEmpty() ? -1 : p[from + others.getFirst()];
            triples[3 * slot + 2] = further(p, from);
        }

        /** What lies behind the first list of values, as one number. */
        private int further(int[] p, int from) {
            if (others.size() < 2) {
                return -1;
            }
            if (others.size() == 2) {
                return p[from + others.get(1)];
            }
            List<Integer> rest = new ArrayList<>();
            for (int i = 1; i < others.size(); i++) {
                rest.add(p[from + others.get(i)]);
            }
            return furtherNumbers.computeIfAbsent(rest, k -> furtherNumbers.size());
        }

        private void add(int slot) {
            corners.add(triples[3 * slot], triples[3 * slot + 1], triples[3 * slot + 2]);
        }

        private void list(int[] p, XmlNode at) throws ReadFailed {
            int count = p.length / stride;
            if (p.length % stride != 0) {
                throw at.wrong("holds " + p.length + " numbers, which is no multiple of " + stride);
            }
            int size = element.name().equals("lines") || element.name().equals("linestrips") ? 2 : 3;
            boolean apart = element.name().equals("triangles") || element.name().equals("lines");
            if (apart && count % size != 0) {
                throw at.wrong("holds " + count + " corners, which is no multiple of " + size);
            }
            for (int i = 0; i + size <= count; i += apart ? size : 1) {
                boolean fan = element.name().equals("trifans");
                boolean odd = element.name().equals("tristrips") && (i & 1) == 1;
                corner(p, fan ? 0 : odd ? i + 1 : i, 0, at);
                corner(p, odd ? i : i + 1, 1, at);
                for (int k = 2; k < size; k++) {
                    corner(p, i + k, k, at);
                }
                for (int k = 0; k < size; k++) {
                    add(k);
                }
            }
        }

        private void polylist() throws ReadFailed {
            XmlNode counts = element.find("vcount").orElse(null);
            XmlNode p = element.find("p").orElse(null);
            if (counts == null || p == null) {
                return;
            }
            int[] numbers = p.wholes();
            int at = 0;
            for (int count : counts.wholes()) {
                if (count < 0 || count > numbers.length / stride - at) {
                    throw p.wrong("ends before the polygons that vcount announces");
                }
                polygon(numbers, at, count, p);
                at += count;
            }
        }

        private void polygons() throws ReadFailed {
            for (XmlNode child : element.children()) {
                // Of a polygon with holes the outline is taken.
                XmlNode p = child.name().equals("p")
                        ? child
                        : child.name().equals("ph") ? child.find("p").orElse(null) : null;
                if (p != null) {
                    int[] numbers = p.wholes();
                    polygon(numbers, 0, numbers.length / stride, p);
                }
            }
        }

        private void polygon(int[] p, int first, int count, XmlNode at) throws ReadFailed {
            int[] places = new int[count];
            for (int i = 0; i < count; i++) {
                corner(p, first + i, i, at);
                places[i] = triples[3 * i];
            }
            if (count < 3) {
                return;
            }
            Polygons.triangulate(points, places, count, (a, b, c) -> {
                add(a);
                add(b);
                add(c);
            });
            corners.addFace(triples, count, 0, -1);
        }

        private Primitive primitive(Corners.Result made, boolean lines) {
            int[] all = made.positions();
            float[] positions = new float[all.length * 3];
            for (int v = 0; v < all.length; v++) {
                System.arraycopy(points, all[v] * 3, positions, v * 3, 3);
            }
            float[] normals = null;
            List<Attribute> attributes = new ArrayList<>();
            int uvs = 0;
            int colours = 0;
            List<List<Integer>> furthers = List.copyOf(furtherNumbers.keySet());
            for (Stream stream : streams) {
                int[] numbers = numbers(stream, made, furthers);
                switch (stream.semantic) {
                    case "NORMAL" -> normals = normals == null ? gathered(stream.source, numbers, 3) : normals;
                    case "TEXCOORD", "UV" -> {
                        float[] uv = gathered(stream.source, numbers, 2);
                        for (int i = 1; i < uv.length; i += 2) {
                            uv[i] = 1 - uv[i];
                        }
                        attributes.add(new Attribute("TEXCOORD_" + uvs++, 2, uv, Storage.FLOAT));
                    }
                    case "COLOR" -> {
                        int width = stream.source.width() >= 4 ? 4 : 3;
                        attributes.add(new Attribute(
                                "COLOR_" + colours++, width, gathered(stream.source, numbers, width), Storage.FLOAT));
                    }
                    default -> {
                        // Tangents can be found again from the texture coordinates.
                    }
                }
            }
            return new Primitive(
                    lines ? Primitive.Mode.LINES : Primitive.Mode.TRIANGLES,
                    made.indices(),
                    positions,
                    normals,
                    null,
                    attributes,
                    null,
                    List.of(),
                    -1,
                    Primitive.Layout.PLAIN,
                    Passthrough.NONE);
        }

        /** For each vertex the number in a list of values. */
        private int[] numbers(Stream stream, Corners.Result made, List<List<Integer>> furthers) {
            int place = others.indexOf(stream.offset);
            if (place < 0) {
                return made.positions();
            }
            if (place == 0) {
                return made.uvs();
            }
            if (others.size() == 2) {
                return made.normals();
            }
            int[] out = new int[made.normals().length];
            for (int v = 0; v < out.length; v++) {
                out[v] = furthers.get(made.normals()[v]).get(place - 1);
            }
            return out;
        }

        private static float[] gathered(DaeSource source, int[] numbers, int width) {
            float[] out = new float[numbers.length * width];
            for (int v = 0; v < numbers.length; v++) {
                System.arraycopy(
                        source.values(), numbers[v] * source.width(), out, v * width, Math.min(width, source.width()));
            }
            return out;
        }
    }
}
