package org.cleanmarrow.demo.ferry;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * A float vest to be worn on the pilot, as an OBJ file that came in wrong: lying on its side, at a hundredth of its size,
 * in groups <i>front</i> and <i>back</i>.
 */
public final class FloatVest {
    private static final double SHRUNK = 0.01;

    private FloatVest() {}

    public static List<PlantedFault> faults() {
        return List.of(new PlantedFault("size", "lengths are a hundredth, and it lies on its left side", 1));
    }

    public static Asset asset() {
        try {
            return ObjReader.read(obj(), "float-vest.obj", null, Work.QUIET);
        } catch (ReadFailed e) {
            throw new IllegalStateException(e);
        }
    }

    /** The vest as it should be, in metres where it is worn, a part of its own. */
    static Asset worn() {
        Shell shell = shape();
        float[] points = new float[shell.points.size() * 3];
        float[] normals = new float[points.length];
        for (int v = 0; v < shell.points.size(); v++) {
            for (int i = 0; i < 3; i++) {
                points[v * 3 + i] = (float) shell.points.get(v).get(i);
                normals[v * 3 + i] = (float) shell.normals.get(v).get(i);
            }
        }
        int[] corners = shell.triangles.stream().flatMapToInt(IntStream::of).toArray();
        Mesh mesh = Mesh.of("float_vest", Primitive.triangles(corners, points, normals, 0));
        Material cork = new Material("cork", new float[] {0.82f, 0.42f, 0.16f, 1}, -1, false, Passthrough.NONE);
        return Asset.of(
                        "float-vest",
                        Conventions.GLTF,
                        List.of(Node.group("float_vest", Local.IDENTITY).withMesh(0, -1)),
                        List.of(mesh),
                        List.of(),
                        List.of())
                .withMaterials(List.of(cork));
    }

    private static Shell shape() {
        Field hollow = Field.ellipsoid(0, 1.20, -0.005, 0.178, 0.36, 0.128);
        Field vest = Field.ellipsoid(0, 1.20, -0.005, 0.222, 0.40, 0.172)
                .without(hollow, 0.01)
                .above(0.98, 0.02)
                .below(1.40, 0.02)
                .without(
                        Field.limb(new Vector3d(-0.40, 1.34, -0.01), new Vector3d(0.40, 1.34, -0.01), 0.075, 0.075),
                        0.02)
                .without(Field.box(0, 1.20, 0.16, 0.012, 0.40, 0.12, 0.004), 0.008);
        return SurfaceNets.of(vest, new Vector3d(-0.26, 0.94, -0.22), new Vector3d(0.26, 1.44, 0.22), 0.012);
    }

    /** The file. */
    public static byte[] obj() {
        return Made.OBJ.clone();
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final byte[] OBJ = written();
    }

    private static byte[] written() {
        Shell shell = shape();
        StringBuilder out = new StringBuilder("# made for the Saltmarsh Ferry\no float_vest\n");
        for (Vector3d p : shell.points) {
            // On its left side: what was up now points to -X.
            append(out, "v", -p.y * SHRUNK, p.x * SHRUNK, p.z * SHRUNK, 7);
        }
        for (Vector3d n : shell.normals) {
            append(out, "vn", -n.y, n.x, n.z, 4);
        }
        out.append("s 1\n");
        for (String group : List.of("front", "back")) {
            out.append("g ").append(group).append('\n');
            for (int[] t : shell.triangles) {
                double z = (shell.points.get(t[0]).z + shell.points.get(t[1]).z + shell.points.get(t[2]).z) / 3;
                if (z >= 0 == group.equals("front")) {
                    out.append('f');
                    for (int corner : t) {
                        out.append(' ').append(corner + 1).append("//").append(corner + 1);
                    }
                    out.append('\n');
                }
            }
        }
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }

    private static void append(StringBuilder out, String word, double x, double y, double z, int digits) {
        out.append(
                String.format(Locale.ROOT, "%s %." + digits + "f %." + digits + "f %." + digits + "f%n", word, x, y, z)
                        .replace("\r", ""));
    }
}
