package org.cleanmarrow.formats.obj;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.formats.file.PictureFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.mesh.Held;
import org.cleanmarrow.formats.mesh.Points;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.formats.text.TextOut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Writes OBJ with an MTL file and the pictures that it names. Every use of a mesh becomes an {@code o} where the rest
 * pose has it. Vertices stay in their order; those that a file once had as one position are one again. Polygons, groups
 * and smoothing groups come back as they were read. A remark at the top says unit and axes.
 */
public final class ObjWriter {
    private final Asset asset;
    private final String base;
    private final Pictures pictures;
    private final Work work;
    private final TextOut out = new TextOut();
    private final Set<Integer> usedMaterials = new LinkedHashSet<>();
    private final Map<Integer, String> materialNames = new LinkedHashMap<>();
    private int firstPosition = 1;
    private int firstUv = 1;
    private int firstNormal = 1;
    private int smoothing;
    private String group = "";

    private ObjWriter(Asset asset, String base, Pictures pictures, Work work) {
        this.asset = asset;
        this.base = base;
        this.pictures = pictures;
        this.work = work;
    }

    /**
     * The files of an asset.
     *
     * @param base     what to call them, without ending
     * @param pictures where they lie; never inside
     * @throws Refused where there is no mesh
     */
    public static Written write(Asset asset, String base, Pictures pictures, Work work) throws Refused {
        if (asset.nodes().stream().noneMatch(n -> n.mesh() >= 0)) {
            throw new Refused("write.no.mesh", "OBJ");
        }
        return new ObjWriter(RestSnapshot.of(asset), base, pictures, work).run();
    }

    private Written run() {
        nameMaterials();
        out.put("# ").put(Remarks.CONVENTIONS).put(asset.conventions().code()).line();
        if (!asset.materials().isEmpty()) {
            out.put("mtllib ").put(base).put(".mtl").line();
        }
        for (int m = 0; m < asset.meshes().size(); m++) {
            work.stopIfCancelled();
            work.at(m / (double) asset.meshes().size(), "writing " + base);
            part(asset.meshes().get(m));
        }
        List<Written.Piece> pieces = new ArrayList<>();
        boolean coloured = asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .anyMatch(
                        p -> p.attribute("COLOR_0").filter(c -> c.width() >= 3).isPresent());
        Asset held = Held.attributes(
                Held.materials(asset, usedMaterials),
                a -> a.name().equals("TEXCOORD_0") && a.width() == 2 || a.name().equals("COLOR_0") && coloured);
        pieces.add(new Written.Piece(base + ".obj", out.bytes(), held));
        if (!asset.materials().isEmpty()) {
            library(pieces);
        }
        return new Written(pieces, List.of());
    }

    private void nameMaterials() {
        Set<String> taken = new LinkedHashSet<>();
        for (int m = 0; m < asset.materials().size(); m++) {
            String name = TextOut.oneLine(asset.materials().get(m).name());
            String own = name.isEmpty() ? "material_" + m : name;
            while (!taken.add(own)) {
                own += "_" + m;
            }
            materialNames.put(m, own);
        }
    }

    private void part(Mesh mesh) {
        out.put("o ").put(TextOut.oneLine(mesh.name())).line();
        Points points = new Points(mesh, false);
        points.places().forEach(place -> position(place.primitive(), place.vertex()));
        for (int p = 0; p < mesh.primitives().size(); p++) {
            int[] numbers = points.of(p).clone();
            for (int v = 0; v < numbers.length; v++) {
                numbers[v] += firstPosition;
            }
            primitive(mesh.primitives().get(p), numbers);
        }
        firstPosition += points.places().size();
    }

    private void position(Primitive p, int v) {
        out.put("v");
        for (int i = 0; i < 3; i++) {
            out.put(" ").put(p.positions()[v * 3 + i]);
        }
        p.attribute("COLOR_0").filter(c -> c.width() >= 3).ifPresent(c -> {
            for (int i = 0; i < 3; i++) {
                out.put(" ").put(c.values()[v * c.width() + i]);
            }
        });
        out.line();
    }

    private void primitive(Primitive p, int[] position) {
        if (p.material() >= 0) {
            usedMaterials.add(p.material());
            out.put("usemtl ")
                    .put(Objects.requireNonNull(materialNames.get(p.material())))
                    .line();
        }
        Attribute uv = p.attribute("TEXCOORD_0").filter(a -> a.width() == 2).orElse(null);
        int[] uvs = uv == null ? null : distinct(uv.values(), 2, firstUv, "vt");
        int[] normals = p.normals() == null ? null : distinct(p.normals(), 3, firstNormal, "vn");
        firstUv += uvs == null ? 0 : last(uvs, firstUv) - firstUv + 1;
        firstNormal += normals == null ? 0 : last(normals, firstNormal) - firstNormal + 1;
        switch (p.mode()) {
            case POINTS -> strip("p", p, position, null);
            case LINES -> pairs(p, position, uvs);
            case LINE_STRIP, LINE_LOOP -> strip("l", p, position, uvs);
            default -> faces(p, position, uvs, normals);
        }
    }

    private static int last(int[] numbers, int none) {
        int last = none - 1;
        for (int n : numbers) {
            last = Math.max(last, n);
        }
        return last;
    }

    /** Writes values once each, in the order they are first used; gives the number of each vertex's. */
    private int[] distinct(float[] values, int width, int first, String word) {
        Map<Long, List<int[]>> known = new HashMap<>();
        int[] numbers = new int[values.length / width];
        int next = first;
        for (int v = 0; v < numbers.length; v++) {
            int at = v * width;
            long key = 0;
            for (int i = 0; i < width; i++) {
                key = key * 0x9E3779B97F4A7C15L + Float.floatToIntBits(values[at + i]);
            }
            List<int[]> same = known.computeIfAbsent(key, k -> new ArrayList<>(1));
            int found = -1;
            for (int[] one : same) {
                if (java.util.Arrays.equals(values, one[1], one[1] + width, values, at, at + width)) {
                    found = one[0];
                }
            }
            if (found < 0) {
                found = next++;
                same.add(new int[] {found, at});
                out.put(word);
                for (int i = 0; i < width; i++) {
                    out.put(" ");
                    if (word.equals("vt") && i == 1) {
                        out.putFromOne(values[at + i]);
                    } else {
                        out.put(values[at + i]);
                    }
                }
                out.line();
            }
            numbers[v] = found;
        }
        return numbers;
    }

    private void strip(String word, Primitive p, int[] position, int @Nullable [] uvs) {
        int count = p.indices() == null ? p.vertexCount() : p.indices().length;
        out.put(word);
        for (int i = 0; i < count + (p.mode() == Primitive.Mode.LINE_LOOP ? 1 : 0); i++) {
            int v = p.indices() == null ? i % count : p.indices()[i % count];
            out.put(" ");
            corner(v, position, uvs, null);
        }
        out.line();
    }

    private void pairs(Primitive p, int[] position, int @Nullable [] uvs) {
        int count = p.indices() == null ? p.vertexCount() : p.indices().length;
        for (int i = 0; i + 1 < count; i += 2) {
            out.put("l ");
            corner(p.indices() == null ? i : p.indices()[i], position, uvs, null);
            out.put(" ");
            corner(p.indices() == null ? i + 1 : p.indices()[i + 1], position, uvs, null);
            out.line();
        }
    }

    private void faces(Primitive p, int[] position, int @Nullable [] uvs, int @Nullable [] normals) {
        Faces faces = p.layout().faces();
        if (faces == null) {
            smoothing(0);
            int[] corners = p.triangleCorners();
            for (int t = 0; t + 2 < corners.length; t += 3) {
                face(corners, t, t + 3, position, uvs, normals);
            }
            return;
        }
        for (int f = 0; f < faces.count(); f++) {
            smoothing(faces.smoothing() == null ? 0 : faces.smoothing()[f]);
            int number = faces.groups() == null ? -1 : faces.groups()[f];
            if (number >= 0 && !faces.groupNames().get(number).equals(group)) {
                group = faces.groupNames().get(number);
                out.put("g ").put(group).line();
            }
            face(faces.corners(), faces.starts()[f], faces.starts()[f + 1], position, uvs, normals);
        }
    }

    private void smoothing(int wanted) {
        if (wanted != smoothing) {
            smoothing = wanted;
            out.put("s ").put(wanted == 0 ? "off" : Integer.toString(wanted)).line();
        }
    }

    private void face(int[] corners, int from, int to, int[] position, int @Nullable [] uvs, int @Nullable [] normals) {
        out.put("f");
        for (int i = from; i < to; i++) {
            out.put(" ");
            corner(corners[i], position, uvs, normals);
        }
        out.line();
    }

    private void corner(int v, int[] position, int @Nullable [] uvs, int @Nullable [] normals) {
        out.put(position[v]);
        if (uvs != null || normals != null) {
            out.put("/");
        }
        if (uvs != null) {
            out.put(uvs[v]);
        }
        if (normals != null) {
            out.put("/").put(normals[v]);
        }
    }

    private void library(List<Written.Piece> pieces) {
        TextOut mtl = new TextOut();
        PictureFiles.Names names = new PictureFiles.Names(asset, pictures);
        for (int m : usedMaterials) {
            Material material = asset.materials().get(m);
            float[] c = material.baseColour();
            mtl.put("newmtl ").put(Objects.requireNonNull(materialNames.get(m))).line();
            mtl.put("Kd ").put(c[0]).put(" ").put(c[1]).put(" ").put(c[2]).line();
            if (c[3] < 1) {
                mtl.put("d ").put(c[3]).line();
            }
            int image = material.texture() < 0
                    ? -1
                    : asset.textures().get(material.texture()).image();
            if (image >= 0 && asset.images().get(image).bytes() != null) {
                mtl.put("map_Kd ").put(names.file(image)).line();
            }
        }
        pieces.add(new Written.Piece(base + ".mtl", mtl.bytes(), null));
        pieces.addAll(names.pieces());
    }
}
