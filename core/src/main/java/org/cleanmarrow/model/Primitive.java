package org.cleanmarrow.model;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A drawable piece of a mesh with one material.
 *
 * <p>Arrays may be shared with other primitives, as they were in the file, and are never written to.
 *
 * @param mode       points, lines or triangles
 * @param indices    vertex numbers; null: the vertices in order
 * @param positions  3 a vertex, never null
 * @param normals    3 a vertex, or null
 * @param tangents   4 a vertex (the last is the sign of the bitangent), or null
 * @param attributes texture coordinates, colours and the file's own, in the file's order
 * @param influences null where the primitive is not skinned; may be shared between primitives
 * @param targets    morph targets
 * @param material   index, or -1
 * @param layout     how the file stored it
 */
public record Primitive(
        Mode mode,
        int @Nullable [] indices,
        float[] positions,
        float @Nullable [] normals,
        float @Nullable [] tangents,
        List<Attribute> attributes,
        @Nullable Influences influences,
        List<MorphTarget> targets,
        int material,
        Layout layout,
        Passthrough carried)
        implements Refers<Primitive> {

    /** The drawing modes of glTF 2.0 in their numbering. */
    public enum Mode {
        POINTS,
        LINES,
        LINE_LOOP,
        LINE_STRIP,
        TRIANGLES,
        TRIANGLE_STRIP,
        TRIANGLE_FAN
    }

    /**
     * Storage in the file, kept so that an untouched primitive is written back as it was.
     *
     * @param sets  number of JOINTS_n/WEIGHTS_n pairs at least to be written
     * @param faces polygons that the triangles were cut from; null where there were none
     */
    public record Layout(
            @Nullable Storage indices,
            @Nullable Storage joints,
            Storage weights,
            int sets,
            @Nullable Faces faces) {
        public static final Layout PLAIN = new Layout(null, null, Storage.FLOAT, 0, null);

        public Layout withFaces(@Nullable Faces changed) {
            return new Layout(indices, joints, weights, sets, changed);
        }
    }

    /** A plain triangle list. */
    public static Primitive triangles(int[] indices, float[] positions, float @Nullable [] normals, int material) {
        return new Primitive(
                Mode.TRIANGLES,
                indices,
                positions,
                normals,
                null,
                List.of(),
                null,
                List.of(),
                material,
                Layout.PLAIN,
                Passthrough.NONE);
    }

    public int vertexCount() {
        return positions.length / 3;
    }

    public Optional<Attribute> attribute(String name) {
        return attributes.stream().filter(a -> a.name().equals(name)).findFirst();
    }

    /** Corner numbers of all triangles, three each; empty for points and lines. Strips and fans are spelled out. */
    public int[] triangleCorners() {
        int count = indices == null ? vertexCount() : indices.length;
        switch (mode) {
            case TRIANGLES -> {
                int[] plain = indices == null ? counting(count) : indices;
                return count % 3 == 0 ? plain : java.util.Arrays.copyOf(plain, count - count % 3);
            }
            case TRIANGLE_STRIP, TRIANGLE_FAN -> {
                int triangles = Math.max(0, count - 2);
                int[] out = new int[triangles * 3];
                for (int t = 0; t < triangles; t++) {
                    int a = mode == Mode.TRIANGLE_FAN ? 0 : t;
                    boolean odd = mode == Mode.TRIANGLE_STRIP && (t & 1) == 1;
                    out[3 * t] = corner(a);
                    out[3 * t + 1] = corner(odd ? t + 2 : t + 1);
                    out[3 * t + 2] = corner(odd ? t + 1 : t + 2);
                }
                return out;
            }
            default -> {
                return new int[0];
            }
        }
    }

    private int corner(int i) {
        return indices == null ? i : indices[i];
    }

    private static int[] counting(int n) {
        int[] out = new int[n];
        for (int i = 0; i < n; i++) {
            out[i] = i;
        }
        return out;
    }

    public Primitive withInfluences(@Nullable Influences changed) {
        // The weights are no longer the file's, so quantised storage must not round them.
        Layout free = new Layout(layout.indices, layout.joints, Storage.FLOAT, 0, layout.faces);
        return new Primitive(
                mode, indices, positions, normals, tangents, attributes, changed, targets, material, free, carried);
    }

    /** With the same weights under other joint numbers: they are the file's still, and keep the way they were stored. */
    public Primitive withRenumbered(Influences changed) {
        return new Primitive(
                mode, indices, positions, normals, tangents, attributes, changed, targets, material, layout, carried);
    }

    @Override
    public Primitive renumbered(Renumbering numbers) {
        int painted = numbers.of(Renumbering.Kind.MATERIAL, material);
        Passthrough said = MaterialVariants.renumbered(carried, numbers);
        return painted == material && said == carried
                ? this
                : withMaterial(painted).withCarried(said);
    }

    private Primitive withCarried(Passthrough changed) {
        return new Primitive(
                mode,
                indices,
                positions,
                normals,
                tangents,
                attributes,
                influences,
                targets,
                material,
                layout,
                changed);
    }

    public Primitive withMaterial(int changed) {
        return new Primitive(
                mode, indices, positions, normals, tangents, attributes, influences, targets, changed, layout, carried);
    }

    public Primitive withIndices(Mode newMode, int[] newIndices) {
        Layout free = new Layout(null, layout.joints, layout.weights, layout.sets, null);
        return new Primitive(
                newMode,
                newIndices,
                positions,
                normals,
                tangents,
                attributes,
                influences,
                targets,
                material,
                free,
                carried);
    }

    public Primitive withShape(float[] p, float @Nullable [] n, float @Nullable [] t, List<MorphTarget> m) {
        return new Primitive(mode, indices, p, n, t, attributes, influences, m, material, layout, carried);
    }

    public Primitive withLayout(Layout changed) {
        return new Primitive(
                mode,
                indices,
                positions,
                normals,
                tangents,
                attributes,
                influences,
                targets,
                material,
                changed,
                carried);
    }

    public Primitive withAttributes(List<Attribute> changed) {
        return new Primitive(
                mode, indices, positions, normals, tangents, changed, influences, targets, material, layout, carried);
    }
}
