package org.cleanmarrow.reference;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.InflaterInputStream;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.surface.MeshTopology;

/**
 * The vertices, triangles and first texture coordinates of a mesh, primitive by primitive: what another mesh needs to be put in its order.
 * Places are in the mesh's own unit and axes. Kept as one run of bytes, which is also its text in a ledger: a body of 25,000 triangles
 * takes about half a megabyte.
 */
public final class MeshOutline {
    private static final String COORDINATES = "TEXCOORD_0";
    /** A mesh beyond it is no template that anybody edits, and a text that says so is not believed. */
    private static final int MOST_VERTICES = 4_000_000;

    private static final int MOST_TRIANGLES = 8_000_000;
    private static final int MOST_PRIMITIVES = 4096;

    private final byte[] packed;
    private final Mesh mesh;

    private MeshOutline(byte[] packed, Mesh mesh) {
        this.packed = packed;
        this.mesh = mesh;
    }

    public static MeshOutline of(Mesh mesh) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (DataOutputStream out = new DataOutputStream(new DeflaterOutputStream(bytes))) {
            out.writeInt(mesh.primitives().size());
            for (Primitive p : mesh.primitives()) {
                float[] coordinates = p.attribute(COORDINATES)
                        .filter(a -> a.width() == 2)
                        .map(Attribute::values)
                        .orElse(null);
                out.writeInt(p.vertexCount());
                out.writeInt(p.triangleCorners().length / 3);
                out.writeBoolean(coordinates != null);
                write(out, p.positions());
                int last = 0;
                for (int c : p.triangleCorners()) {
                    // Neighbours in the list are near each other, so that differences pack well.
                    out.writeInt(c - last);
                    last = c;
                }
                write(out, coordinates == null ? new float[0] : coordinates);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return unpack(bytes.toByteArray()).orElseThrow();
    }

    private static void write(DataOutputStream out, float[] values) throws IOException {
        for (float v : values) {
            out.writeFloat(v);
        }
    }

    /** What {@link #packed} gave; empty where it is not of that form, or holds more than can be. */
    public static Optional<MeshOutline> unpack(byte[] packed) {
        try (DataInputStream in = new DataInputStream(new InflaterInputStream(new ByteArrayInputStream(packed)))) {
            int count = in.readInt();
            if (count < 1 || count > MOST_PRIMITIVES) {
                return Optional.empty();
            }
            List<Primitive> primitives = new ArrayList<>();
            int vertices = 0;
            int triangles = 0;
            for (int p = 0; p < count; p++) {
                int own = in.readInt();
                int ownTriangles = in.readInt();
                boolean coordinates = in.readBoolean();
                if (own < 0
                        || ownTriangles < 0
                        || own > MOST_VERTICES - vertices
                        || ownTriangles > MOST_TRIANGLES - triangles) {
                    return Optional.empty();
                }
                vertices += own;
                triangles += ownTriangles;
                primitives.add(primitive(in, own, ownTriangles, coordinates));
            }
            return in.read() >= 0 ? Optional.empty() : Optional.of(new MeshOutline(packed.clone(), mesh(primitives)));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    private static Mesh mesh(List<Primitive> primitives) {
        return Mesh.of("template", primitives.toArray(Primitive[]::new));
    }

    private static Primitive primitive(DataInputStream in, int vertices, int triangles, boolean coordinates)
            throws IOException {
        float[] positions = read(in, vertices * 3);
        int[] corners = new int[triangles * 3];
        int last = 0;
        for (int c = 0; c < corners.length; c++) {
            last += in.readInt();
            if (last < 0 || last >= vertices) {
                throw new IOException("a corner that is no vertex");
            }
            corners[c] = last;
        }
        Primitive plain = Primitive.triangles(corners, positions, null, -1);
        return coordinates
                ? plain.withAttributes(List.of(new Attribute(COORDINATES, 2, read(in, vertices * 2), Storage.FLOAT)))
                : plain;
    }

    private static float[] read(DataInputStream in, int count) throws IOException {
        // Grown as it comes: a count that lies ends with the bytes there are.
        float[] out = new float[Math.min(count, 1 << 16)];
        for (int i = 0; i < count; i++) {
            if (i == out.length) {
                out = Arrays.copyOf(out, (int) Math.min(count, 2L * out.length));
            }
            out[i] = in.readFloat();
            if (!Float.isFinite(out[i])) {
                throw new IOException("not a number");
            }
        }
        return out;
    }

    /** The mesh, without anything that moves or paints it. */
    public Mesh mesh() {
        return mesh;
    }

    public byte[] packed() {
        return packed.clone();
    }

    /** Whether a mesh has these triangles with these corners already. */
    public boolean isOrderOf(Mesh other) {
        if (other.primitives().size() != mesh.primitives().size()) {
            return false;
        }
        for (int p = 0; p < mesh.primitives().size(); p++) {
            Primitive a = mesh.primitives().get(p);
            Primitive b = other.primitives().get(p);
            if (a.vertexCount() != b.vertexCount() || !Arrays.equals(a.triangleCorners(), b.triangleCorners())) {
                return false;
            }
        }
        return MeshTopology.restPositions(mesh).length == MeshTopology.restPositions(other).length;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof MeshOutline o && Arrays.equals(packed, o.packed);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(packed);
    }

    @Override
    public String toString() {
        return "MeshOutline[" + mesh.vertexCount() + " vertices, " + mesh.triangleCount() + " triangles]";
    }
}
