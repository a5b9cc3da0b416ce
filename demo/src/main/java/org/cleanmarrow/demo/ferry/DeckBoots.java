package org.cleanmarrow.demo.ferry;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * Deck boots to be worn over the pilot's own, as an OBJ file: the left one alone, the other is to be mirrored; lying on its right side,
 * with over 50,000 triangles, its sole below the ground where the foot is on it. The buckle is of brass, and hard.
 */
public final class DeckBoots {
    /** How the left boot is called. */
    public static final String LEFT = "deck_boot_left";

    private static final double INSIDE = 0.003;
    private static final double OUTSIDE = 0.014;
    private static final double CELL = 0.0045;

    private static final Map<String, float[]> COLOURS = Map.of(
            "leather", new float[] {0.3f, 0.17f, 0.09f},
            "rubber", new float[] {0.06f, 0.06f, 0.07f},
            "brass", new float[] {0.75f, 0.55f, 0.2f});

    private DeckBoots() {}

    /** How it lies, and what it stands on, no check finds: it shows beside the figure. */
    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("duplicates", "it came without its material library, so its materials are alike", 2));
    }

    public static Asset asset() {
        try {
            return ObjReader.read(obj(), "deck-boots.obj", null, Work.QUIET);
        } catch (ReadFailed e) {
            throw new IllegalStateException(e);
        }
    }

    /** The file. */
    public static byte[] obj() {
        return Made.OBJ.clone();
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final byte[] OBJ = obj(CELL);
    }

    /** The pilot's own boot on the left, as far as it matters here. */
    private static Field foot() {
        Vector3d ankle = new Vector3d(0.12, 0.085, -0.02);
        Vector3d toes = new Vector3d(0.135, 0.025, 0.105);
        Vector3d shin = new Vector3d(ankle).lerp(new Vector3d(0.11, 0.485, 0.012), 0.62);
        return Field.limb(new Vector3d(ankle).add(0, 0.01, 0), shin, 0.058, 0.076)
                .with(Field.limb(new Vector3d(ankle).add(0, -0.03, -0.012), toes, 0.055, 0.048), 0.05)
                .with(Field.limb(toes, new Vector3d(0.14, 0.033, 0.16), 0.046, 0.038), 0.03);
    }

    private static Map<String, Shell> shells(double cell) {
        Field foot = foot();
        Field hollow = (x, y, z) -> foot.at(x, y, z) - INSIDE;
        Field full = (x, y, z) -> foot.at(x, y, z) - OUTSIDE;
        Field leather = full.without(hollow, 0.004).below(0.30, 0.006).above(0.006, 0.004);
        // As wide as the foot is above it.
        Field sole = (x, y, z) -> Math.max(foot.at(x, 0.035, z) - 0.016, Math.abs(y + 0.008) - 0.012);
        Vector3d outside = new Vector3d(0.2, 0.17, -0.008);
        Field buckle = Field.ring(outside, new Vector3d(1, 0, 0), 0.016, 0.0035)
                .with(Field.box(outside.x, outside.y, outside.z, 0.003, 0.003, 0.018, 0.001), 0.002);
        Map<String, Shell> out = new LinkedHashMap<>();
        Vector3d from = new Vector3d(0.02, -0.03, -0.13);
        Vector3d to = new Vector3d(0.24, 0.34, 0.24);
        out.put("leather", SurfaceNets.of(leather, from, to, cell));
        out.put("rubber", SurfaceNets.of(sole.without(hollow, 0.003), from, to, cell * 4 / 3));
        out.put(
                "brass",
                SurfaceNets.of(
                        buckle,
                        new Vector3d(0.19, 0.14, -0.04),
                        new Vector3d(0.21, 0.2, 0.03),
                        0.002 + (cell - CELL) / 8));
        return out;
    }

    /**
     * The same boots more coarsely or finely.
     *
     * @param cell about as long as an edge of the leather, in metres
     */
    public static byte[] obj(double cell) {
        StringBuilder out = new StringBuilder("# made for the Saltmarsh Ferry\no " + LEFT + "\n");
        Map<String, Shell> shells = shells(cell);
        for (Map.Entry<String, Shell> one : shells.entrySet()) {
            // On its right side: what was up now points to +X.
            float[] c = COLOURS.get(one.getKey());
            one.getValue().points.forEach(p -> line(out, "v", p.y, -p.x, p.z, c[0], c[1], c[2]));
            one.getValue().normals.forEach(n -> line(out, "vn", n.y, -n.x, n.z));
        }
        out.append("s 1\n");
        int first = 1;
        for (Map.Entry<String, Shell> one : shells.entrySet()) {
            out.append("usemtl ").append(one.getKey()).append('\n');
            for (int[] t : one.getValue().triangles) {
                out.append('f');
                for (int corner : t) {
                    out.append(' ').append(first + corner).append("//").append(first + corner);
                }
                out.append('\n');
            }
            first += one.getValue().points.size();
        }
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }

    /** Six digits behind the point. */
    private static void line(StringBuilder out, String word, double... numbers) {
        out.append(word);
        for (double number : numbers) {
            long millionths = Math.round(number * 1e6);
            String digits = Long.toString(1_000_000 + Math.abs(millionths) % 1_000_000);
            out.append(millionths < 0 ? " -" : " ");
            out.append(Math.abs(millionths) / 1_000_000).append('.').append(digits, 1, 7);
        }
        out.append('\n');
    }
}
