package org.cleanmarrow.reference;

import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.zip.DataFormatException;
import java.util.zip.Deflater;
import java.util.zip.Inflater;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;

/**
 * The vertices, triangles and first texture coordinates of a mesh, primitive by primitive: what another mesh needs to be put in its order.
 * Places are in the mesh's own unit and axes. Kept as one run of bytes, which is also its text in a ledger: a body of 25,000 triangles
 * takes about half a megabyte.
 */
public final class MeshOutline {
    private static final String COORDINATES = "TEXCOORD_0";
    /** Of a primitive: how many vertices, how many triangles, whether it has texture coordinates. */
    private static final int HEAD = 9;
    /** Unpacked; a mesh beyond it is no template that anybody edits, and a text that says so is not believed. */
    private static final int MOST_BYTES = 200 << 20;

    private final byte[] packed;
    private final Mesh mesh;

    private MeshOutline(byte[] packed, Mesh mesh) {
        this.packed = packed;
        this.mesh = mesh;
    }

    public static MeshOutline of(Mesh mesh) {
        int bytes = Integer.BYTES;
        for (Primitive p : mesh.primitives()) {
            bytes += HEAD + (p.vertexCount() * 5 + p.triangleCorners().length) * Float.BYTES;
        }
        ByteBuffer out = ByteBuffer.allocate(bytes);
        out.putInt(mesh.primitives().size());
        for (Primitive p : mesh.primitives()) {
            float[] coordinates = p.attribute(COORDINATES)
                    .filter(a -> a.width() == 2)
                    .map(Attribute::values)
                    .orElse(null);
            out.putInt(p.vertexCount());
            out.putInt(p.triangleCorners().length / 3);
            out.put((byte) (coordinates == null ? 0 : 1));
            put(out, p.positions());
            int last = 0;
            for (int c : p.triangleCorners()) {
                // Neighbours in the list are near each other, so that differences pack well.
                out.putInt(c - last);
                last = c;
            }
            put(out, coordinates == null ? new float[0] : coordinates);
        }
        return unpack(deflated(out.array(), out.position())).orElseThrow();
    }

    private static void put(ByteBuffer out, float[] values) {
        for (float v : values) {
            out.putFloat(v);
        }
    }

    private static byte[] deflated(byte[] bytes, int length) {
        Deflater deflater = new Deflater();
        try {
            deflater.setInput(bytes, 0, length);
            deflater.finish();
            byte[] out = new byte[Math.max(64, length / 2)];
            int end = 0;
            while (!deflater.finished()) {
                out = end == out.length ? Arrays.copyOf(out, 2 * end) : out;
                end += deflater.deflate(out, end, out.length - end);
            }
            return Arrays.copyOf(out, end);
        } finally {
            deflater.end();
        }
    }

    /** What {@link #packed} gave; empty where it is not of that form, or holds more than can be. */
    public static Optional<MeshOutline> unpack(byte[] packed) {
        try {
            ByteBuffer in = ByteBuffer.wrap(inflated(packed));
            int count = in.getInt();
            if (count < 1 || count > in.remaining()) {
                return Optional.empty();
            }
            List<Primitive> primitives = new ArrayList<>();
            for (int p = 0; p < count; p++) {
                primitives.add(primitive(in, in.getInt(), in.getInt(), in.get() != 0));
            }
            return in.hasRemaining()
                    ? Optional.empty()
                    : Optional.of(
                            new MeshOutline(packed.clone(), Mesh.of("template", primitives.toArray(Primitive[]::new))));
        } catch (DataFormatException | BufferUnderflowException e) {
            return Optional.empty();
        }
    }

    private static byte[] inflated(byte[] packed) throws DataFormatException {
        Inflater inflater = new Inflater();
        try {
            inflater.setInput(packed);
            byte[] out = new byte[Math.max(64, Math.min(MOST_BYTES, 4 * Math.min(packed.length, MOST_BYTES / 4)))];
            int end = 0;
            while (!inflater.finished()) {
                if (end == out.length) {
                    if (end >= MOST_BYTES) {
                        throw new DataFormatException("longer than any template");
                    }
                    out = Arrays.copyOf(out, Math.min(MOST_BYTES, 2 * end));
                }
                int came = inflater.inflate(out, end, out.length - end);
                if (came == 0 && !inflater.finished()) {
                    throw new DataFormatException("ends too early");
                }
                end += came;
            }
            return Arrays.copyOf(out, end);
        } finally {
            inflater.end();
        }
    }

    private static Primitive primitive(ByteBuffer in, int vertices, int triangles, boolean coordinates)
            throws DataFormatException {
        long wanted = (vertices * (coordinates ? 5L : 3L) + triangles * 3L) * Float.BYTES;
        if (vertices < 0 || triangles < 0 || wanted > in.remaining()) {
            throw new DataFormatException("counts that are not there");
        }
        float[] positions = read(in, vertices * 3);
        int[] corners = new int[triangles * 3];
        int last = 0;
        for (int c = 0; c < corners.length; c++) {
            last += in.getInt();
            if (last < 0 || last >= vertices) {
                throw new DataFormatException("a corner that is no vertex");
            }
            corners[c] = last;
        }
        Primitive plain = Primitive.triangles(corners, positions, null, -1);
        return coordinates
                ? plain.withAttributes(List.of(new Attribute(COORDINATES, 2, read(in, vertices * 2), Storage.FLOAT)))
                : plain;
    }

    private static float[] read(ByteBuffer in, int count) throws DataFormatException {
        float[] out = new float[count];
        for (int i = 0; i < count; i++) {
            out[i] = in.getFloat();
            if (!Float.isFinite(out[i])) {
                throw new DataFormatException("not a number");
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
        return true;
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
