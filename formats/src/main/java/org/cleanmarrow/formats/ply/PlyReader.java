package org.cleanmarrow.formats.ply;

import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.mesh.FaceList;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.formats.text.TextScanner;
import org.cleanmarrow.geometry.Polygons;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Reads PLY, text and binary of either byte order: positions, normals, colours and texture coordinates of vertices in
 * their order, faces of any number of corners. Further elements and properties are passed over and named in a note. A
 * file without faces is a cloud of points. The format states no unit and no axes: metres with Y up are taken.
 */
public final class PlyReader {
    private static final int LONGEST_HEADER = 1 << 20;

    private final byte[] bytes;
    private final String file;
    private final Work work;
    private final List<Element> elements = new ArrayList<>();
    private final List<String> passedOver = new ArrayList<>();

    @SuppressWarnings("NullAway.Init")
    private Source source;

    private int[] corners = new int[3 * 1024];
    private int cornerCount;
    private long cut;
    private @Nullable FaceList faces;
    private @Nullable Conventions stated;

    /** The number types of the format. */
    private enum Type {
        INT8(1),
        UINT8(1),
        INT16(2),
        UINT16(2),
        INT32(4),
        UINT32(4),
        FLOAT32(4),
        FLOAT64(8);

        private final int bytes;

        Type(int bytes) {
            this.bytes = bytes;
        }

        @Nullable
        static Type of(String word) {
            return switch (word) {
                case "char", "int8" -> INT8;
                case "uchar", "uint8" -> UINT8;
                case "short", "int16" -> INT16;
                case "ushort", "uint16" -> UINT16;
                case "int", "int32" -> INT32;
                case "uint", "uint32" -> UINT32;
                case "float", "float32" -> FLOAT32;
                case "double", "float64" -> FLOAT64;
                default -> null;
            };
        }

        /** Largest value of a colour held so; 1 for floats. */
        double full() {
            return switch (this) {
                case UINT8, INT8 -> 255;
                case UINT16, INT16 -> 65535;
                default -> 1;
            };
        }
    }

    /** @param count type of a list's length; null: not a list */
    private record Property(
            String name, Type type, @Nullable Type count) {}

    private record Element(String name, long count, List<Property> properties) {
        /** Bytes that one of them takes at least in a binary file; as many digits in a text. */
        long leastBytes(boolean text) {
            return properties.stream()
                    .mapToLong(p -> text ? 2 : p.count == null ? p.type.bytes : p.count.bytes)
                    .sum();
        }
    }

    /** Where numbers come from, text or bytes. */
    private interface Source {
        double next(Type type) throws ReadFailed;

        int left();

        ReadFailed wrong(String expected);
    }

    private PlyReader(byte[] bytes, String file, Work work) {
        this.bytes = bytes;
        this.file = file;
        this.work = work;
    }

    /** Reads bytes. */
    public static Asset read(byte[] bytes, String file, Work work) throws ReadFailed {
        return new PlyReader(bytes, file, work).asset(file.replaceFirst("\\.[^.]*$", ""));
    }

    private int headerEnd() throws ReadFailed {
        byte[] mark = "end_header".getBytes(StandardCharsets.US_ASCII);
        for (int i = 0; i + mark.length <= Math.min(bytes.length, LONGEST_HEADER); i++) {
            if (Arrays.equals(bytes, i, i + mark.length, mark, 0, mark.length)) {
                int end = i + mark.length;
                if (end < bytes.length && bytes[end] == '\r') {
                    end++;
                }
                return end < bytes.length && bytes[end] == '\n' ? end + 1 : end;
            }
        }
        throw new ReadFailed(file, "header", "expected end_header, found none");
    }

    private Asset asset(String name) throws ReadFailed {
        work.at(0, "reading " + name);
        int end = headerEnd();
        TextScanner header = new TextScanner(Arrays.copyOf(bytes, end), file);
        String form = header(header);
        source = switch (form) {
            case "ascii" -> text(end, header.line());
            case "binary_little_endian" -> binary(end, ByteOrder.LITTLE_ENDIAN);
            case "binary_big_endian" -> binary(end, ByteOrder.BIG_ENDIAN);
            default -> throw header.wrong("expected format ascii, binary_little_endian or binary_big_endian");
        };
        float[][] columns = null;
        Element vertices = null;
        for (Element element : elements) {
            boolean asText = form.equals("ascii");
            if (element.count * Math.max(1, element.leastBytes(asText)) > source.left() + 1L) {
                throw source.wrong(element.count + " of element " + element.name
                        + " are announced, and the file is too short for them");
            }
            if (element.name.equals("vertex")) {
                vertices = element;
                columns = columns(element);
            } else {
                faces(element, columns);
            }
        }
        if (vertices == null || columns == null || vertices.count == 0) {
            throw new ReadFailed(file, "header", "expected an element vertex with at least one of them");
        }
        return built(name, vertices, columns);
    }

    private String header(TextScanner in) throws ReadFailed {
        in.moreAnywhere();
        if (!in.word().equals("ply")) {
            throw in.wrong("expected ply");
        }
        String form = "";
        while (in.nextLine()) {
            switch (in.word()) {
                case "format" -> form = in.word();
                case "element" -> {
                    String name = in.word();
                    in.more();
                    int count = in.whole();
                    if (count < 0) {
                        throw in.wrong("expected a count, found " + count);
                    }
                    if (elements.stream().anyMatch(e -> e.name.equals(name))) {
                        throw in.wrong("expected each element once, found " + name + " again");
                    }
                    elements.add(new Element(name, count, new ArrayList<>()));
                }
                case "property" -> {
                    if (elements.isEmpty()) {
                        throw in.wrong("expected an element before its properties");
                    }
                    elements.getLast().properties.add(property(in));
                }
                case "comment" -> {
                    String said = in.rest();
                    if (said.startsWith(Remarks.CONVENTIONS)) {
                        stated = Conventions.parse(said.substring(Remarks.CONVENTIONS.length()))
                                .orElse(stated);
                    }
                }
                case "end_header" -> {
                    return form;
                }
                default -> {
                    // What is newer than the format.
                }
            }
        }
        return form;
    }

    private static Property property(TextScanner in) throws ReadFailed {
        String word = in.word();
        Type count = null;
        if (word.equals("list")) {
            count = type(in, in.word());
            word = in.word();
            if (count == Type.FLOAT32 || count == Type.FLOAT64) {
                throw in.wrong("expected a whole number type for the length of a list");
            }
        }
        Type type = type(in, word);
        return new Property(in.word(), type, count);
    }

    private static Type type(TextScanner in, String word) throws ReadFailed {
        Type type = Type.of(word);
        if (type == null) {
            throw in.wrong("expected a number type such as float or uchar, found \"" + word + "\"");
        }
        return type;
    }

    private Source text(int from, int line) throws ReadFailed {
        TextScanner in = new TextScanner(Arrays.copyOfRange(bytes, from, bytes.length), file, line + 1);
        return new Source() {
            @Override
            public double next(Type type) throws ReadFailed {
                if (!in.moreAnywhere()) {
                    throw wrong("the file ends too early");
                }
                return in.number();
            }

            @Override
            public int left() {
                return in.left();
            }

            @Override
            public ReadFailed wrong(String expected) {
                return in.wrong(expected);
            }
        };
    }

    private Source binary(int from, ByteOrder order) {
        ByteBuffer in =
                ByteBuffer.wrap(bytes, from, bytes.length - from).slice().order(order);
        return new Source() {
            @Override
            public double next(Type type) throws ReadFailed {
                try {
                    return switch (type) {
                        case INT8 -> in.get();
                        case UINT8 -> in.get() & 255;
                        case INT16 -> in.getShort();
                        case UINT16 -> in.getShort() & 65535;
                        case INT32 -> in.getInt();
                        case UINT32 -> Integer.toUnsignedLong(in.getInt());
                        case FLOAT32 -> in.getFloat();
                        case FLOAT64 -> in.getDouble();
                    };
                } catch (BufferUnderflowException e) {
                    throw wrong("the file ends too early");
                }
            }

            @Override
            public int left() {
                return in.remaining();
            }

            @Override
            public ReadFailed wrong(String expected) {
                return new ReadFailed(file, "byte " + (from + in.position()), expected);
            }
        };
    }

    /** Values of every property of the vertices; lists are passed over. */
    private float[][] columns(Element element) throws ReadFailed {
        int count = (int) element.count;
        float[][] out = new float[element.properties.size()][];
        for (int p = 0; p < out.length; p++) {
            out[p] = element.properties.get(p).count == null ? new float[count] : null;
        }
        for (int v = 0; v < count; v++) {
            if ((v & 0xFFFF) == 0) {
                work.stopIfCancelled();
            }
            for (int p = 0; p < out.length; p++) {
                Property property = element.properties.get(p);
                if (property.count == null) {
                    out[p][v] = (float) source.next(property.type);
                } else {
                    passOver(property);
                }
            }
        }
        return out;
    }

    private int length(Property list) throws ReadFailed {
        double length = source.next(Objects.requireNonNull(list.count));
        if (length < 0 || length > source.left()) {
            throw source.wrong("a list of " + (long) length + " is announced, and the file is too short for it");
        }
        return (int) length;
    }

    private void passOver(Property property) throws ReadFailed {
        int count = property.count == null ? 1 : length(property);
        for (int i = 0; i < count; i++) {
            source.next(property.type);
        }
    }

    private void faces(Element element, float @Nullable [][] columns) throws ReadFailed {
        boolean face = element.name.equals("face");
        if (!face) {
            passedOver.add(element.name);
        }
        float[] points = face && columns != null ? points(columns) : null;
        int vertexCount = points == null ? 0 : points.length / 3;
        int[] polygon = new int[16];
        for (long f = 0; f < element.count; f++) {
            if ((f & 0xFFFF) == 0) {
                work.stopIfCancelled();
            }
            for (Property property : element.properties) {
                boolean indices = property.name.equals("vertex_indices") || property.name.equals("vertex_index");
                if (points == null || !indices || property.count == null) {
                    passOver(property);
                    continue;
                }
                int count = length(property);
                polygon = count > polygon.length ? new int[count] : polygon;
                for (int i = 0; i < count; i++) {
                    double index = source.next(property.type);
                    if (!(index >= 0 && index < vertexCount) || index != Math.rint(index)) {
                        throw source.wrong("there are " + vertexCount + " vertices, and a face names number " + index);
                    }
                    polygon[i] = (int) index;
                }
                addFace(points, polygon, count);
            }
        }
    }

    private void addFace(float[] points, int[] polygon, int count) {
        if (count < 3) {
            return;
        }
        cut += count > 3 ? 1 : 0;
        if (faces == null && count > 3) {
            faces = new FaceList(cornerCount / 3, corners);
        }
        if (faces != null) {
            faces.add(polygon, count, 0, -1);
        }
        Polygons.triangulate(points, polygon, count, (a, b, c) -> {
            if (cornerCount + 3 > corners.length) {
                corners = Arrays.copyOf(corners, corners.length * 2);
            }
            corners[cornerCount++] = polygon[a];
            corners[cornerCount++] = polygon[b];
            corners[cornerCount++] = polygon[c];
        });
    }

    private Element vertexElement() {
        return elements.stream()
                .filter(e -> e.name.equals("vertex"))
                .findFirst()
                .orElseThrow();
    }

    private float[] points(float[][] columns) throws ReadFailed {
        float[] points = together(vertexElement(), columns, false, "x", "y", "z");
        if (points == null) {
            throw new ReadFailed(file, "header", "expected properties x, y and z of element vertex");
        }
        return points;
    }

    /** Columns side by side; null where one of them is not there. */
    private static float @Nullable [] together(Element element, float[][] columns, boolean colour, String... names) {
        int[] at = new int[names.length];
        for (int i = 0; i < names.length; i++) {
            at[i] = -1;
            for (int p = 0; p < columns.length; p++) {
                if (element.properties.get(p).name.equals(names[i]) && columns[p] != null) {
                    at[i] = p;
                }
            }
            if (at[i] < 0) {
                return null;
            }
        }
        int count = (int) element.count;
        float[] out = new float[count * names.length];
        for (int i = 0; i < names.length; i++) {
            double full = colour ? element.properties.get(at[i]).type.full() : 1;
            for (int v = 0; v < count; v++) {
                out[v * names.length + i] = (float) (columns[at[i]][v] / full);
            }
        }
        return out;
    }

    private static float @Nullable [] first(Element element, float[][] columns, String[]... choices) {
        for (String[] names : choices) {
            float[] found = together(element, columns, false, names);
            if (found != null) {
                return found;
            }
        }
        return null;
    }

    private Asset built(String name, Element element, float[][] columns) throws ReadFailed {
        List<Attribute> attributes = new ArrayList<>();
        float[] uv = first(element, columns, new String[] {"s", "t"}, new String[] {"u", "v"}, new String[] {
            "texture_u", "texture_v"
        });
        if (uv != null) {
            for (int i = 1; i < uv.length; i += 2) {
                uv[i] = 1 - uv[i];
            }
            attributes.add(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT));
        }
        float[] colour = together(element, columns, true, "red", "green", "blue", "alpha");
        int width = colour == null ? 3 : 4;
        colour = colour == null ? together(element, columns, true, "red", "green", "blue") : colour;
        if (colour != null) {
            attributes.add(new Attribute("COLOR_0", width, colour, Storage.FLOAT));
        }
        Primitive primitive = new Primitive(
                cornerCount == 0 ? Primitive.Mode.POINTS : Primitive.Mode.TRIANGLES,
                cornerCount == 0 ? null : Arrays.copyOf(corners, cornerCount),
                points(columns),
                ShapeMap.unitNormals(together(element, columns, false, "nx", "ny", "nz")),
                null,
                attributes,
                null,
                List.of(),
                -1,
                Primitive.Layout.PLAIN.withFaces(faces == null ? null : faces.result(null, null, List.of())),
                Passthrough.NONE);
        return Asset.of(
                        name,
                        stated == null ? Conventions.GLTF : stated,
                        List.of(Node.group(name, Local.IDENTITY).withMesh(0, -1)),
                        List.of(Mesh.of(name, primitive)),
                        List.of(),
                        List.of())
                .withNotes(notes(element));
    }

    private List<String> notes(Element element) {
        Set<String> read = Set.of(
                "x",
                "y",
                "z",
                "nx",
                "ny",
                "nz",
                "s",
                "t",
                "u",
                "v",
                "texture_u",
                "texture_v",
                "red",
                "green",
                "blue",
                "alpha");
        element.properties.stream()
                .map(Property::name)
                .filter(p -> !read.contains(p))
                .forEach(passedOver::add);
        List<String> notes = new ArrayList<>();
        if (cut > 0) {
            notes.add(cut + " polygons of more than 3 corners are drawn as triangles and kept as polygons.");
        }
        if (!passedOver.isEmpty()) {
            notes.add("Passed over: " + String.join(", ", passedOver) + ".");
        }
        if (stated == null) {
            notes.add("PLY states no unit: lengths are taken as metres, with Y up.");
        }
        return notes;
    }
}
