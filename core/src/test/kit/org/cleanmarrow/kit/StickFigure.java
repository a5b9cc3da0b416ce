package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** A person of eighteen joints in glTF's axes, a triangle on each; joints are called a, b, c and so tell nothing. */
public final class StickFigure {
    private StickFigure() {}

    /** @param height from sole to crown, in metres */
    public static Asset of(double height) {
        Map<String, Vector3d> at = new LinkedHashMap<>();
        Map<String, String> up = new LinkedHashMap<>();
        joint(at, up, "hips", "", 0, 0.53, 0);
        joint(at, up, "spine", "hips", 0, 0.6, 0);
        joint(at, up, "chest", "spine", 0, 0.7, 0);
        joint(at, up, "neck", "chest", 0, 0.83, 0);
        joint(at, up, "head", "neck", 0, 0.88, 0.01);
        for (int side = 1; side >= -1; side -= 2) {
            String s = side > 0 ? "l" : "r";
            joint(at, up, s + "arm", "chest", side * 0.11, 0.81, 0);
            joint(at, up, s + "elbow", s + "arm", side * 0.27, 0.8, -0.01);
            joint(at, up, s + "hand", s + "elbow", side * 0.42, 0.8, 0.01);
            joint(at, up, s + "leg", "hips", side * 0.055, 0.51, 0);
            joint(at, up, s + "knee", s + "leg", side * 0.055, 0.28, 0.015);
            joint(at, up, s + "foot", s + "knee", side * 0.055, 0.05, -0.01);
            joint(at, up, s + "toes", s + "foot", side * 0.055, 0.01, 0.08);
        }
        return built(at, up, height);
    }

    private static void joint(
            Map<String, Vector3d> at,
            Map<String, String> up,
            String name,
            String parent,
            double x,
            double y,
            double z) {
        at.put(name, new Vector3d(x, y, z));
        up.put(name, parent);
    }

    private static Asset built(Map<String, Vector3d> at, Map<String, String> up, double height) {
        List<String> names = new ArrayList<>(at.keySet());
        int count = names.size();
        float[] p = new float[count * 9];
        int[] corners = new int[count * 3];
        Influences.Builder rows = new Influences.Builder(count * 3);
        List<Node> nodes = new ArrayList<>();
        int[] joints = new int[count];
        for (int j = 0; j < count; j++) {
            String name = names.get(j);
            Vector3d here = new Vector3d(at.get(name)).mul(height);
            Vector3d above = up.get(name).isEmpty() ? new Vector3d() : new Vector3d(at.get(up.get(name))).mul(height);
            int[] below = up.entrySet().stream()
                    .filter(e -> e.getValue().equals(name))
                    .mapToInt(e -> names.indexOf(e.getKey()))
                    .toArray();
            Vector3d local = new Vector3d(here).sub(above);
            nodes.add(Node.group(String.valueOf((char) ('a' + j)), Local.at(local.x, local.y, local.z), below));
            joints[j] = j;
            boolean crown = name.equals("head");
            for (int c = 0; c < 3; c++) {
                int v = j * 3 + c;
                p[v * 3] = (float) (here.x + (c == 1 ? 0.02 * height : 0));
                p[v * 3 + 1] = (float) (c == 2 ? here.y + (crown ? 0.12 : 0.02) * height : here.y);
                p[v * 3 + 2] = (float) here.z;
                corners[v] = v;
                rows.add(j, 1);
                rows.endRow();
            }
        }
        nodes.add(Node.group("body", Local.IDENTITY).withMesh(0, 0));
        Mesh mesh = Mesh.of("body", Primitive.triangles(corners, p, null, -1).withInfluences(rows.build()));
        Skin skin = new Skin("body", joints, null, -1, Passthrough.NONE);
        Asset bare = Asset.of("person", Conventions.GLTF, nodes, List.of(mesh), List.of(skin), List.of());
        Matrix4d[] world = new Rig(bare).rest().world();
        Matrix4d[] binds = new Matrix4d[count];
        for (int j = 0; j < count; j++) {
            binds[j] = new Matrix4d(world[j]).invert();
        }
        return bare.withSkins(List.of(skin.with(joints, Skin.pack(binds), -1)));
    }
}
