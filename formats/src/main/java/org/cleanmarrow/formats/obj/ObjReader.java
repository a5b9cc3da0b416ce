package org.cleanmarrow.formats.obj;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.file.Neighbours;
import org.cleanmarrow.formats.file.PictureFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.mesh.Corners;
import org.cleanmarrow.formats.mesh.Floats;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.formats.text.TextScanner;
import org.cleanmarrow.geometry.Polygons;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Reads OBJ with its MTL files. Every {@code o}, or where there is none every {@code g}, becomes a part; within a part
 * every material is a primitive. Vertices keep the order of the file's positions; a position that is used with several
 * texture coordinates or normals is there once for each. Polygons are drawn as triangles and kept as {@link
 * org.cleanmarrow.model.Faces} with their groups and smoothing groups; lines and points are kept, colours behind
 * positions become {@code COLOR_0}. Texture coordinates are turned over, because glTF counts them from
 * the top. The format states no unit and no axes: metres with Y up are taken, and the asset says so.
 */
public final class ObjReader {
    private final TextScanner in;
    private final @Nullable Path folder;
    private final Work work;
    private final Floats positions = new Floats();
    private final Floats colours = new Floats();
    private final Floats uvs = new Floats();
    private final Floats normals = new Floats();
    private final Map<String, Map<Piece, Corners>> parts = new LinkedHashMap<>();
    private final Map<String, MtlReader.Mtl> library = new LinkedHashMap<>();
    private final List<String> notes = new ArrayList<>();
    private final int[] corner = new int[3];
    private int[] polygon = new int[3 * 16];
    private int[] places = new int[16];
    private String object = "";
    private String group = "";
    private int smoothing;
    private int groupNumber = -1;
    private final List<String> groupNames = new ArrayList<>();
    private boolean objects;
    private String material = "";
    private @Nullable Corners current;
    private Primitive.@Nullable Mode currentMode;
    private long cut;
    private @Nullable Conventions stated;

    /** A primitive to be: what is drawn, in which material. */
    private record Piece(Primitive.Mode mode, String material) {}

    private ObjReader(TextScanner in, @Nullable Path folder, Work work) {
        this.in = in;
        this.folder = folder;
        this.work = work;
    }

    /** Reads bytes; {@code folder} is where material libraries and pictures lie, or null. */
    public static Asset read(byte[] bytes, String file, @Nullable Path folder, Work work) throws ReadFailed {
        return new ObjReader(new TextScanner(bytes, file), folder, work).asset(file.replaceFirst("\\.[^.]*$", ""));
    }

    private Asset asset(String name) throws ReadFailed {
        boolean any = in.moreAnywhere();
        int lines = 0;
        while (any) {
            if ((lines++ & 0xFFFF) == 0) {
                work.stopIfCancelled();
                work.at(in.share(), "reading " + name);
            }
            line(in.word());
            any = in.nextLine();
        }
        if (positions.size() == 0) {
            throw in.wrong("expected vertices (lines that begin with v), found none");
        }
        return built(name);
    }

    private void line(String word) throws ReadFailed {
        switch (word) {
            case "v" -> position();
            case "vt" -> {
                uvs.add(in.number());
                uvs.add(1 - (in.numberNext() ? in.number() : 0));
            }
            case "vn" -> {
                for (int i = 0; i < 3; i++) {
                    normals.add(in.number());
                }
            }
            case "f" -> face();
            case "l" -> lines();
            case "p" -> {
                while (in.more()) {
                    corner();
                    piece(Primitive.Mode.POINTS).add(corner[0], corner[1], -1);
                }
            }
            case "o" -> {
                object = in.rest();
                objects = true;
                current = null;
            }
            case "g" -> {
                group = in.rest();
                groupNumber = groupNames.indexOf(group);
                if (groupNumber < 0) {
                    groupNumber = groupNames.size();
                    groupNames.add(group);
                }
                current = null;
            }
            case "usemtl" -> {
                material = in.rest();
                current = null;
            }
            case "mtllib" -> library(in.rest());
            case "s" -> smoothing = in.numberNext() ? (int) (long) in.number() : 0;
            case "#" -> remark();
            default -> {
                // Curves and what is newer is passed over.
            }
        }
    }

    /** A remark such as {@link ObjWriter} writes says what the numbers mean. */
    private void remark() {
        String said = in.rest();
        if (said.startsWith(Remarks.CONVENTIONS)) {
            stated = Conventions.parse(said.substring(Remarks.CONVENTIONS.length()))
                    .orElse(stated);
        }
    }

    private void position() throws ReadFailed {
        for (int i = 0; i < 3; i++) {
            positions.add(in.number());
        }
        double[] more = new double[4];
        int count = 0;
        while (count < 4 && in.numberNext()) {
            more[count++] = in.number();
        }
        if (count >= 3) {
            while (colours.size() < positions.size() - 3) {
                colours.add(1);
            }
            // Three numbers behind a position are its colour; with four the first is its weight.
            for (int i = count - 3; i < count; i++) {
                colours.add(more[i]);
            }
        }
    }

    /** One corner, {@code v}, {@code v/vt}, {@code v//vn} or {@code v/vt/vn}; negative numbers count from the end. */
    private void corner() throws ReadFailed {
        in.more();
        corner[0] = index(in.whole(), positions.size() / 3, "vertices");
        corner[1] = -1;
        corner[2] = -1;
        if (in.take('/')) {
            if (in.take('/')) {
                corner[2] = index(in.whole(), normals.size() / 3, "normals");
                return;
            }
            corner[1] = index(in.whole(), uvs.size() / 2, "texture coordinates");
            if (in.take('/')) {
                corner[2] = index(in.whole(), normals.size() / 3, "normals");
            }
        }
    }

    private int index(int said, int count, String what) throws ReadFailed {
        int index = said > 0 ? said - 1 : count + said;
        if (said == 0 || index < 0 || index >= count) {
            throw in.wrong("there are " + count + " " + what + " up to here, and this names number " + said);
        }
        return index;
    }

    private void face() throws ReadFailed {
        int count = 0;
        while (in.more()) {
            corner();
            if (count == places.length) {
                places = java.util.Arrays.copyOf(places, count * 2);
                polygon = java.util.Arrays.copyOf(polygon, count * 6);
            }
            places[count] = corner[0];
            System.arraycopy(corner, 0, polygon, count * 3, 3);
            count++;
        }
        if (count < 3) {
            throw in.wrong("expected a face of at least 3 corners, found " + count);
        }
        Corners into = piece(Primitive.Mode.TRIANGLES);
        if (count == 3) {
            for (int i = 0; i < 9; i += 3) {
                into.add(polygon[i], polygon[i + 1], polygon[i + 2]);
            }
            into.addFace(polygon, 3, smoothing, groupNumber);
            return;
        }
        cut++;
        Polygons.triangulate(positions.array(), places, count, (a, b, c) -> {
            into.add(polygon[a * 3], polygon[a * 3 + 1], polygon[a * 3 + 2]);
            into.add(polygon[b * 3], polygon[b * 3 + 1], polygon[b * 3 + 2]);
            into.add(polygon[c * 3], polygon[c * 3 + 1], polygon[c * 3 + 2]);
        });
        into.addFace(polygon, count, smoothing, groupNumber);
    }

    private void lines() throws ReadFailed {
        Corners into = piece(Primitive.Mode.LINES);
        int before = -1;
        int beforeUv = -1;
        while (in.more()) {
            corner();
            if (before >= 0) {
                into.add(before, beforeUv, -1);
                into.add(corner[0], corner[1], -1);
            }
            before = corner[0];
            beforeUv = corner[1];
        }
    }

    private Corners piece(Primitive.Mode mode) {
        if (current == null || currentMode != mode) {
            String part = objects ? object : group;
            current = parts.computeIfAbsent(part, k -> new LinkedHashMap<>())
                    .computeIfAbsent(new Piece(mode, material), k -> new Corners());
            currentMode = mode;
        }
        return current;
    }

    /** A library that is missing or broken costs its colours, not the mesh. */
    private void library(String names) {
        Optional<Path> whole = Neighbours.find(folder, names);
        List<String> each = whole.isPresent() ? List.of(names) : List.of(names.split("\\s+"));
        for (String name : each) {
            Optional<Path> path = Neighbours.find(folder, name);
            if (path.isEmpty()) {
                notes.add("Material library " + name + " is not beside the file.");
                continue;
            }
            try {
                library.putAll(MtlReader.read(TextScanner.bytes(path.get()), name));
            } catch (ReadFailed e) {
                notes.add(e.getMessage());
            }
        }
    }

    private Asset built(String name) {
        Pictures pictures = new Pictures();
        List<Node> nodes = new ArrayList<>();
        List<Mesh> meshes = new ArrayList<>();
        parts.forEach((part, pieces) -> {
            List<Primitive> primitives = new ArrayList<>();
            pieces.forEach((piece, corners) -> {
                if (!corners.isEmpty()) {
                    Corners.Result made = corners.result();
                    Primitive p = primitive(piece, made, pictures);
                    boolean surface = piece.mode == Primitive.Mode.TRIANGLES;
                    primitives.add(
                            surface
                                    ? p.withLayout(p.layout()
                                            .withFaces(
                                                    corners.faces(made, List.copyOf(groupNames), pieces.size() == 1)))
                                    : p);
                }
            });
            if (!primitives.isEmpty()) {
                String called = part.isEmpty() ? name : part;
                nodes.add(Node.group(called, Local.IDENTITY).withMesh(meshes.size(), -1));
                meshes.add(new Mesh(called, primitives, null, List.of(), Passthrough.NONE));
            }
        });
        if (meshes.isEmpty()) {
            cloud(name, nodes, meshes);
        }
        if (cut > 0) {
            notes.add(cut + " polygons of more than 3 corners are drawn as triangles and kept as polygons.");
        }
        if (stated == null) {
            notes.add("OBJ states no unit: lengths are taken as metres, with Y up.");
        }
        return Asset.of(name, stated == null ? Conventions.GLTF : stated, nodes, meshes, List.of(), List.of())
                .withPictures(pictures.materials, pictures.textures, pictures.images)
                .withNotes(notes);
    }

    /** A file of positions alone is a cloud of points. */
    private void cloud(String name, List<Node> nodes, List<Mesh> meshes) {
        Corners all = new Corners();
        for (int v = 0; v < positions.size() / 3; v++) {
            all.add(v, -1, -1);
        }
        Primitive p = primitive(new Piece(Primitive.Mode.POINTS, ""), all.result(), new Pictures());
        nodes.add(Node.group(name, Local.IDENTITY).withMesh(0, -1));
        meshes.add(Mesh.of(name, p));
    }

    private Primitive primitive(Piece piece, Corners.Result made, Pictures pictures) {
        int count = made.positions().length;
        List<Attribute> attributes = new ArrayList<>();
        float[] uv = gathered(uvs, made.uvs(), 2, count);
        if (uv != null) {
            attributes.add(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT));
        }
        if (colours.size() > 0) {
            while (colours.size() < positions.size()) {
                colours.add(1);
            }
            attributes.add(new Attribute(
                    "COLOR_0",
                    3,
                    Objects.requireNonNull(gathered(colours, made.positions(), 3, count)),
                    Storage.FLOAT));
        }
        return new Primitive(
                piece.mode,
                made.indices(),
                Objects.requireNonNull(gathered(positions, made.positions(), 3, count)),
                ShapeMap.unitNormals(gathered(normals, made.normals(), 3, count)),
                null,
                attributes,
                null,
                List.of(),
                pictures.material(piece.material),
                Primitive.Layout.PLAIN,
                Passthrough.NONE);
    }

    /** Values of the vertices; null where not every vertex has one. */
    private static float @Nullable [] gathered(Floats from, int[] numbers, int width, int count) {
        float[] out = new float[count * width];
        for (int v = 0; v < count; v++) {
            if (numbers[v] < 0) {
                return null;
            }
            for (int i = 0; i < width; i++) {
                out[v * width + i] = from.get(numbers[v] * width + i);
            }
        }
        return out;
    }

    /** Materials as they are first used, with their pictures. */
    private final class Pictures {
        private final List<Material> materials = new ArrayList<>();
        private final List<Texture> textures = new ArrayList<>();
        private final List<Image> images = new ArrayList<>();
        private final Map<String, Integer> known = new LinkedHashMap<>();

        int material(String name) {
            if (name.isEmpty()) {
                return -1;
            }
            return known.computeIfAbsent(name, n -> {
                MtlReader.Mtl mtl = library.get(n);
                float[] colour = mtl == null ? new float[] {0.8f, 0.8f, 0.8f, 1} : mtl.colour();
                int texture = mtl == null || mtl.picture().isEmpty() ? -1 : texture(mtl.picture());
                // glTF 2.0, 3.9.4: without a mode alpha is not looked at.
                Passthrough mode = colour[3] < 1 ? new Passthrough("{\"alphaMode\":\"BLEND\"}") : Passthrough.NONE;
                materials.add(new Material(n, texture < 0 ? colour : white(colour[3]), texture, false, mode));
                return materials.size() - 1;
            });
        }

        private static float[] white(float opacity) {
            return new float[] {1, 1, 1, opacity};
        }

        private int texture(String file) {
            try {
                images.add(PictureFiles.load(folder, file));
            } catch (ReadFailed e) {
                notes.add(e.getMessage());
                return -1;
            }
            textures.add(new Texture(images.getLast().name(), images.size() - 1, Passthrough.NONE));
            return textures.size() - 1;
        }
    }
}
