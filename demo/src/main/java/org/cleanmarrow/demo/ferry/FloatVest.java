package org.cleanmarrow.demo.ferry;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.step.Work;
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
