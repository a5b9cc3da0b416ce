package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Rows;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.collision.FitShapes;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** A heron of the marsh, 1.06 m tall, in metres with Y up: long chains of neck and legs, and the clip <i>wade</i> 0..48. */
public final class MarshHeron {
    private static final double RATE = 24;
    private static final int FRAMES = 49;
    private static final int NECK = 7;

    private final Map<String, Vector3d> places = new LinkedHashMap<>();
    private final Map<String, String> parents = new LinkedHashMap<>();
    private final List<Field> fields = new ArrayList<>();

    private MarshHeron() {
        joint("body", "", 0, 0.62, 0);
        joint("tail", "body", 0, 0.60, -0.18);
        joint("tail_end", "tail", 0, 0.56, -0.34);
        String below = "body";
        // An S: back and up, then forward to the head.
        for (int i = 1; i <= NECK; i++) {
            double t = i / (double) NECK;
            double z = 0.16 + 0.07 * StrictMath.sin(2 * Math.PI * t) + 0.04 * t;
            joint("neck_" + i, below, 0, 0.68 + 0.28 * t, z);
            below = "neck_" + i;
        }
        joint("head", below, 0, 1.00, 0.23);
        joint("beak", "head", 0, 1.00, 0.28);
        joint("beak_end", "beak", 0, 0.975, 0.44);
        for (int side = 1; side >= -1; side -= 2) {
            String s = side > 0 ? "left_" : "right_";
            joint(s + "wing_1", "body", side * 0.07, 0.70, 0.08);
            joint(s + "wing_2", s + "wing_1", side * 0.10, 0.68, -0.06);
            joint(s + "wing_3", s + "wing_2", side * 0.09, 0.64, -0.20);
            joint(s + "wing_end", s + "wing_3", side * 0.07, 0.60, -0.34);
            joint(s + "thigh", "body", side * 0.05, 0.56, -0.02);
            joint(s + "shank", s + "thigh", side * 0.055, 0.40, 0.03);
            joint(s + "foot", s + "shank", side * 0.055, 0.04, -0.01);
            joint(s + "toes", s + "foot", side * 0.055, 0.012, 0.04);
            joint(s + "toes_end", s + "toes", side * 0.055, 0.008, 0.11);
        }
    }

    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("root", "the skeleton starts at body", 1),
                new PlantedFault("end-joints", "chain ends that move nothing", 6));
    }

    public static Asset asset() {
        return Made.ASSET;
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final Asset ASSET =
                Colliding.by(new MarshHeron().build(), new FitShapes("*", ShapeFit.Kind.CAPSULE, 0.98, 24));
    }

    private void joint(String name, String parent, double x, double y, double z) {
        places.put(name, new Vector3d(x, y, z));
        parents.put(name, parent);
    }

    private Vector3d at(String joint) {
        return new Vector3d(places.get(joint));
    }

    private void limb(String from, String to, double ra, double rb) {
        fields.add(Field.limb(at(from), at(to), ra, rb));
    }

    private Shell shape() {
        fields.add(Field.ellipsoid(0, 0.635, -0.02, 0.085, 0.085, 0.17));
        limb("tail", "tail_end", 0.04, 0.018);
        limb("body", "neck_1", 0.05, 0.034);
        for (int i = 1; i < NECK; i++) {
            limb("neck_" + i, "neck_" + (i + 1), 0.030 - i * 0.001, 0.029 - i * 0.001);
        }
        limb("neck_" + NECK, "head", 0.023, 0.030);
        limb("head", "beak", 0.032, 0.018);
        limb("beak", "beak_end", 0.014, 0.006);
        for (String s : List.of("left_", "right_")) {
            limb(s + "wing_1", s + "wing_2", 0.032, 0.040);
            limb(s + "wing_2", s + "wing_3", 0.040, 0.030);
            limb(s + "wing_3", s + "wing_end", 0.030, 0.012);
            limb(s + "thigh", s + "shank", 0.030, 0.014);
            limb(s + "shank", s + "foot", 0.012, 0.011);
            limb(s + "foot", s + "toes_end", 0.012, 0.008);
        }
        Field whole = fields.getFirst();
        for (Field field : fields.subList(1, fields.size())) {
            whole = whole.with(field, 0.02);
        }
        return SurfaceNets.of(whole, new Vector3d(-0.18, -0.02, -0.40), new Vector3d(0.18, 1.08, 0.48), 0.010);
    }

    private Asset build() {
        List<String> names = List.copyOf(places.keySet());
        List<Node> nodes = new ArrayList<>();
        for (String name : names) {
            Vector3d local = at(name);
            if (!parents.get(name).isEmpty()) {
                local.sub(at(parents.get(name)));
            }
            int[] children = names.stream()
                    .filter(n -> parents.get(n).equals(name))
                    .mapToInt(names::indexOf)
                    .toArray();
            nodes.add(Node.group(name, Local.at(local.x, local.y, local.z), children));
        }
        int[] joints = new int[names.size()];
        Matrix4d[] binds = new Matrix4d[joints.length];
        for (int j = 0; j < joints.length; j++) {
            joints[j] = j;
            binds[j] = new Matrix4d().translation(at(names.get(j)).negate());
        }
        nodes.add(Node.group("heron", Local.IDENTITY).withMesh(0, 0));
        Shell shell = shape();
        Primitive p = new Blocks().shell(shell).primitive(0);
        Mesh mesh = Mesh.of("heron", p.withInfluences(Rows.influences(weights(shell, names))));
        return Asset.of(
                        "marsh-heron",
                        Conventions.GLTF,
                        nodes,
                        List.of(mesh),
                        List.of(new Skin("heron", joints, Skin.pack(binds), 0, Passthrough.NONE)),
                        List.of(wade(names)))
                .withMaterials(List.of(
                        new Material("feathers", new float[] {0.33f, 0.38f, 0.42f, 1}, -1, false, Passthrough.NONE)));
    }

    private List<double[]> weights(Shell shell, List<String> names) {
        List<String> bearing = names.stream().filter(n -> !n.endsWith("_end")).toList();
        List<Vector3d> from = bearing.stream().map(this::at).toList();
        List<Vector3d> to = bearing.stream().map(this::tip).toList();
        List<double[]> rows = new ArrayList<>();
        for (Vector3d point : shell.points) {
            double[] near = Rows.near(point, from, to, 4);
            double[] row = new double[names.size()];
            for (int j = 0; j < near.length; j++) {
                row[names.indexOf(bearing.get(j))] = near[j];
            }
            rows.add(row);
        }
        return rows;
    }

    /** Where the bone of a joint ends: at the next joint of its chain. */
    private Vector3d tip(String joint) {
        if (joint.equals("body")) {
            return new Vector3d(0, 0.63, -0.12);
        }
        return parents.entrySet().stream()
                .filter(e -> e.getValue().equals(joint))
                .map(e -> at(e.getKey()))
                .findFirst()
                .orElse(at(joint));
    }

    private static double sine(double turns) {
        return StrictMath.sin(2 * Math.PI * turns);
    }

    private Clip wade(List<String> names) {
        float[] times = new float[FRAMES];
        Map<String, float[]> turns = new LinkedHashMap<>();
        float[] body = new float[FRAMES * 3];
        for (int k = 0; k < FRAMES; k++) {
            times[k] = (float) (k / RATE);
            double t = k / (FRAMES - 1.0);
            Vector3d at = at("body").add(0.012 * sine(t), 0.010 * sine(2 * t), 0);
            for (int i = 0; i < 3; i++) {
                body[k * 3 + i] = (float) at.get(i);
            }
            for (int i = 1; i <= NECK; i++) {
                turn(turns, "neck_" + i, k, 5 * sine(2 * t - 0.05 * i) * (i < 4 ? 1 : -1), 1.5 * sine(t), 0);
            }
            turn(turns, "head", k, 6 * sine(2 * t + 0.4), 3 * sine(t), 0);
            turn(turns, "tail", k, 4 * sine(2 * t), 0, 0);
            for (int side = 1; side >= -1; side -= 2) {
                String s = side > 0 ? "left_" : "right_";
                double phase = t + (side > 0 ? 0 : 0.5);
                double lift = Math.max(0, sine(phase));
                turn(turns, s + "thigh", k, -16 * sine(phase + 0.2) - 14 * lift, 0, 0);
                turn(turns, s + "shank", k, 34 * lift, 0, 0);
                turn(turns, s + "foot", k, 18 * lift, 0, 0);
                turn(turns, s + "wing_1", k, 2 * sine(2 * t), 0, side * 3 * sine(2 * t + 0.1));
            }
        }
        List<Channel> channels = new ArrayList<>();
        channels.add(channel(0, Channel.Path.TRANSLATION, times, body, 3));
        turns.forEach(
                (name, values) -> channels.add(channel(names.indexOf(name), Channel.Path.ROTATION, times, values, 4)));
        return new Clip("wade", channels, RATE, true, true, Passthrough.NONE);
    }

    private static void turn(Map<String, float[]> turns, String joint, int key, double x, double y, double z) {
        Quaterniond q = new Quaterniond().rotationXYZ(Math.toRadians(x), Math.toRadians(y), Math.toRadians(z));
        float[] values = turns.computeIfAbsent(joint, j -> new float[FRAMES * 4]);
        values[key * 4] = (float) q.x;
        values[key * 4 + 1] = (float) q.y;
        values[key * 4 + 2] = (float) q.z;
        values[key * 4 + 3] = (float) q.w;
    }

    private static Channel channel(int node, Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(node, path, sampler, "", Passthrough.NONE);
    }
}
