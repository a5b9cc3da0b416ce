package org.cleanmarrow.formats.ply;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.mesh.Held;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/**
 * Writes PLY, binary with the low byte first: all parts where the rest pose has them, as one mesh, since the format
 * holds one. Normals, colours and texture coordinates are written where every part has them.
 */
public final class PlyWriter {
    private PlyWriter() {}

    /** The file of an asset; {@code base} is its name without ending. */
    public static Written write(Asset asset, String base, Work work) throws Refused {
        if (asset.nodes().stream().noneMatch(n -> n.mesh() >= 0)) {
            throw new Refused("write.no.mesh", "PLY");
        }
        Asset still = RestSnapshot.of(asset);
        List<Primitive> all = still.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .filter(p -> p.triangleCorners().length > 0 || p.mode() == Primitive.Mode.POINTS)
                .toList();
        boolean normals = all.stream().allMatch(p -> p.normals() != null);
        boolean colours = all.stream()
                .allMatch(
                        p -> p.attribute("COLOR_0").filter(c -> c.width() >= 3).isPresent());
        boolean uvs = all.stream()
                .allMatch(p ->
                        p.attribute("TEXCOORD_0").filter(t -> t.width() == 2).isPresent());
        int vertices = all.stream().mapToInt(Primitive::vertexCount).sum();
        Body body = new Body();
        int first = 0;
        for (Primitive p : all) {
            work.stopIfCancelled();
            body.faces(p, first);
            first += p.vertexCount();
        }
        StringBuilder header = new StringBuilder("ply\nformat binary_little_endian 1.0\ncomment ")
                .append(Remarks.CONVENTIONS)
                .append(still.conventions().code())
                .append("\nelement vertex ")
                .append(vertices)
                .append('\n');
        List<String> names = new ArrayList<>(List.of("x", "y", "z"));
        names.addAll(normals ? List.of("nx", "ny", "nz") : List.of());
        names.addAll(colours ? List.of("red", "green", "blue") : List.of());
        names.addAll(uvs ? List.of("s", "t") : List.of());
        names.forEach(n -> header.append("property float ").append(n).append('\n'));
        if (body.faceCount > 0) {
            header.append("element face ").append(body.faceCount).append("\nproperty list int int vertex_indices\n");
        }
        header.append("end_header\n");
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        bytes.writeBytes(header.toString().getBytes(StandardCharsets.US_ASCII));
        all.forEach(p -> bytes.writeBytes(vertices(p, normals, colours, uvs, names.size())));
        bytes.writeBytes(body.bytes.toByteArray());
        Written.Piece piece =
                new Written.Piece(base + ".ply", bytes.toByteArray(), one(still, all, base, uvs, colours));
        return new Written(List.of(piece), List.of());
    }

    /** All parts as the one mesh that reading gives. */
    private static Asset one(Asset still, List<Primitive> all, String base, boolean uvs, boolean colours) {
        Mesh mesh = new Mesh(base, all, null, List.of(), Passthrough.NONE);
        Asset whole = Asset.of(
                base,
                still.conventions(),
                List.of(Node.group(base, Local.IDENTITY).withMesh(0, -1)),
                List.of(mesh),
                List.of(),
                List.of());
        return Held.attributes(
                Held.materials(whole, List.of()),
                a -> uvs && a.name().equals("TEXCOORD_0") || colours && a.name().equals("COLOR_0"));
    }

    private static byte[] vertices(Primitive p, boolean normals, boolean colours, boolean uvs, int width) {
        ByteBuffer out = ByteBuffer.allocate(p.vertexCount() * width * 4).order(ByteOrder.LITTLE_ENDIAN);
        Attribute colour = colours ? p.attribute("COLOR_0").orElseThrow() : null;
        Attribute uv = uvs ? p.attribute("TEXCOORD_0").orElseThrow() : null;
        for (int v = 0; v < p.vertexCount(); v++) {
            put(out, p.positions(), v * 3, 3);
            if (normals) {
                put(out, Objects.requireNonNull(p.normals()), v * 3, 3);
            }
            if (colour != null) {
                put(out, colour.values(), v * colour.width(), 3);
            }
            if (uv != null) {
                out.putFloat(uv.values()[v * 2]).putFloat(1 - uv.values()[v * 2 + 1]);
            }
        }
        return out.array();
    }

    private static void put(ByteBuffer out, float[] from, int at, int count) {
        for (int i = 0; i < count; i++) {
            out.putFloat(from[at + i]);
        }
    }

    /** The list of faces. */
    private static final class Body {
        private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        private int faceCount;

        void faces(Primitive p, int first) {
            Faces faces = p.layout().faces();
            if (faces == null) {
                int[] corners = p.triangleCorners();
                for (int t = 0; t + 2 < corners.length; t += 3) {
                    face(corners, t, t + 3, first);
                }
                return;
            }
            for (int f = 0; f < faces.count(); f++) {
                face(faces.corners(), faces.starts()[f], faces.starts()[f + 1], first);
            }
        }

        private void face(int[] corners, int from, int to, int first) {
            ByteBuffer out = ByteBuffer.allocate(4 + 4 * (to - from)).order(ByteOrder.LITTLE_ENDIAN);
            out.putInt(to - from);
            for (int i = from; i < to; i++) {
                out.putInt(corners[i] + first);
            }
            bytes.writeBytes(out.array());
            faceCount++;
        }
    }
}
