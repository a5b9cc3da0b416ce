package org.cleanmarrow.formats;

import static org.cleanmarrow.formats.Capability.*;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.bvh.BvhWriter;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.collada.ColladaWriter;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.obj.ObjWriter;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.formats.ply.PlyWriter;
import org.cleanmarrow.formats.sequence.ObjSequence;
import org.cleanmarrow.formats.usd.UsdReader;
import org.cleanmarrow.formats.usd.UsdWriter;
import org.cleanmarrow.formats.usd.Usdz;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/** Every format there is, the one that holds most first; a new one is added by its entry here. */
public final class Formats {
    private static final Set<Capability> USD =
            EnumSet.of(PARTS, MESHES, HIERARCHY, JOINTS, SKINS, CLIPS, VERTEX_CACHES, MATERIALS, POLYGONS, LINES);

    private static final Format.Reader GLTF = new Format.Reader() {
        @Override
        public Asset read(byte[] bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
            return GltfReader.read(bytes, name, folder, work);
        }

        @Override
        public Asset readLarge(ByteBuffer bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
            return GltfReader.read(bytes, name, folder, work);
        }
    };

    public static final List<Format> ALL = List.of(
            new Format(
                    "glTF binary",
                    List.of("glb"),
                    begins("glTF"),
                    GLTF,
                    Optional.of((asset, base, pictures, work) -> GltfWriter.write(asset, base, pictures)),
                    // Polygons are drawn as their triangles.
                    Format.allBut(POLYGONS)),
            new Format(
                    "glTF",
                    List.of("gltf"),
                    // A JSON object; nothing else that is read begins so.
                    begins("{"),
                    GLTF,
                    Optional.of((asset, base, pictures, work) -> GltfWriter.separate(asset, base, pictures)),
                    Format.allBut(POLYGONS)),
            new Format(
                    "COLLADA",
                    List.of("dae"),
                    within("<COLLADA"),
                    ColladaReader::read,
                    Optional.of(ColladaWriter::write),
                    EnumSet.of(
                            PARTS,
                            MESHES,
                            HIERARCHY,
                            JOINTS,
                            SKINS,
                            MORPH_TARGETS,
                            CLIPS,
                            MATERIALS,
                            PICTURES,
                            POLYGONS,
                            LINES,
                            CAMERAS)),
            new Format(
                    "USD",
                    List.of("usda", "usd", "usdc"),
                    bytes -> begins("#usda").test(bytes) || UsdReader.isBinary(bytes),
                    UsdReader::read,
                    Optional.of((asset, base, pictures, work) -> UsdWriter.write(asset, base, work)),
                    USD),
            new Format(
                    "USD package",
                    List.of("usdz"),
                    begins("PK\u0003\u0004"),
                    Usdz::read,
                    Optional.of((asset, base, pictures, work) -> Usdz.write(asset, base, work)),
                    USD),
            new Format(
                    "BVH",
                    List.of("bvh"),
                    begins("HIERARCHY"),
                    (bytes, name, folder, work) -> BvhReader.read(bytes, name, work),
                    Optional.of((asset, base, pictures, work) -> BvhWriter.write(asset, base, work)),
                    EnumSet.of(HIERARCHY, JOINTS, CLIPS, LOOPS_AND_RATES)),
            new Format(
                    "OBJ",
                    List.of("obj"),
                    bytes -> false,
                    ObjReader::read,
                    Optional.of(ObjWriter::write),
                    EnumSet.of(PARTS, MESHES, MATERIALS, PICTURES, POLYGONS, POINTS, LINES, LEFT_HANDED_AXES)),
            new Format(
                    "OBJ sequence",
                    List.of("obj-sequence"),
                    bytes -> false,
                    ObjReader::read,
                    Optional.of(ObjSequence::write),
                    EnumSet.of(
                            PARTS,
                            MESHES,
                            CLIPS,
                            VERTEX_CACHES,
                            MATERIALS,
                            PICTURES,
                            POLYGONS,
                            POINTS,
                            LINES,
                            LEFT_HANDED_AXES)),
            new Format(
                    "PLY",
                    List.of("ply"),
                    begins("ply"),
                    (bytes, name, folder, work) -> PlyReader.read(bytes, name, work),
                    Optional.of((asset, base, pictures, work) -> PlyWriter.write(asset, base, work)),
                    EnumSet.of(MESHES, POLYGONS, POINTS, LEFT_HANDED_AXES)));

    /** How much of a file is looked at to tell what it is. */
    static final int HEAD = 4096;

    private Formats() {}

    private static Predicate<byte[]> begins(String mark) {
        return bytes -> head(bytes).stripLeading().startsWith(mark);
    }

    private static Predicate<byte[]> within(String mark) {
        return bytes ->
                head(bytes).stripLeading().startsWith("<") && head(bytes).contains(mark);
    }

    /** The first characters; of UTF-16 those that are ASCII. */
    private static String head(byte[] bytes) {
        String text = new String(bytes, 0, Math.min(HEAD, bytes.length), StandardCharsets.ISO_8859_1);
        return text.startsWith("\u00FE\u00FF") || text.startsWith("\u00FF\u00FE")
                ? text.substring(2).replace("\0", "")
                : text.replaceFirst("^\u00EF\u00BB\u00BF", "");
    }

    /** The format that files of an ending have, in any case. */
    public static Optional<Format> ofEnding(String ending) {
        return ALL.stream()
                .filter(f -> f.endings().contains(ending.toLowerCase(Locale.ROOT)))
                .findFirst();
    }

    /** The format whose mark the first {@value #HEAD} bytes of a file bear; empty where they bear none. */
    public static Optional<Format> ofContent(byte[] bytes) {
        return ALL.stream().filter(f -> f.content().test(bytes)).findFirst();
    }
}
