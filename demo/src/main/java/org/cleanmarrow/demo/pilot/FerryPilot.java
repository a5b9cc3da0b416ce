package org.cleanmarrow.demo.pilot;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Rows;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * The ferry pilot: a person of about 1.75 m with an oilskin cape, a shoulder satchel with its strap and a hand
 * lantern, made wholly by code, the same to the byte every time. As received it is Z-up centimetres under a node
 * that is turned by 90 degrees and scaled by 100, and carries the faults of {@link #faults()}.
 */
public final class FerryPilot {
    private static final Conventions AS_RECEIVED = new Conventions(0.01, Axis.Z, Axis.MINUS_Y, Handedness.RIGHT);
    private static final int FIVE_JOINTS = 266;
    private static final int SUMS_OFF = 118;
    private static final int STRAYS = 7;

    private final PilotJoints joints = new PilotJoints();
    private final PilotShape shape = new PilotShape(joints);
    private final PilotWeights weights = new PilotWeights(joints);
    private final List<String> order = joints.names();
    private final boolean feather;
    private int strapVertices;

    private FerryPilot(boolean feather) {
        this.feather = feather;
    }

    /** The pilot as the workshop first receives it; made once, then shared. */
    public static Asset asset() {
        return Received.ASSET;
    }

    /** What is wrong with it on purpose. */
    public static List<PlantedFault> faults() {
        return Received.FAULTS;
    }

    /** The skeleton alone with one clip, as a take of motion holds it. */
    public static Asset takeOf(String clip, String prefix) {
        Asset all = Received.ASSET;
        List<Node> nodes = new ArrayList<>();
        boolean[] joint = all.jointFlags();
        for (int n = 0; n < joint.length; n++) {
            Node node = all.nodes().get(n);
            nodes.add(
                    joint[n]
                            ? node.withName(prefix + node.name())
                            : node.withMesh(-1, -1).withLocal(Local.IDENTITY));
        }
        Asset bare = all.withNodes(nodes)
                .withMeshes(List.of())
                .withClips(List.of(all.clips().get(all.findClip(clip))));
        // As the skeleton was made: metres with Y up.
        return bare.withConventions(Conventions.GLTF);
    }

    /** The same pilot made once more from nothing, which takes about a second. */
    public static Asset madeAnew() {
        return new FerryPilot(false).build("ferry-pilot");
    }

    /** A newer version of the same source: a feather on the hat, so that vertices after it have other numbers. */
    public static Asset newerVersion() {
        return new FerryPilot(true).build("ferry-pilot");
    }

    /** Loaded, and so made, when it is first asked for. */
    private static final class Received {
        static final Asset ASSET;
        static final List<PlantedFault> FAULTS;

        static {
            FerryPilot pilot = new FerryPilot(false);
            ASSET = pilot.build("ferry-pilot");
            FAULTS = pilot.planted();
        }
    }

    private List<PlantedFault> planted() {
        int ends = (int) order.stream().filter(joints::isEnd).count();
        return List.of(
                new PlantedFault("axes", "Z-up centimetres, right-handed", 0),
                new PlantedFault("node-transform", "pilot_export: turned by 90 degrees, scaled by 100", 1),
                new PlantedFault("root", "the skeleton starts at hips", 1),
                new PlantedFault("end-joints", "chain ends that move nothing", ends),
                new PlantedFault("roles", "the jaw on scarf_tail; chest and feet forgotten", 0),
                new PlantedFault("leak", "the satchel strap follows left_upper_arm and left_arm_twist", strapVertices),
                new PlantedFault("influences", "five joints a vertex on the upper jumper", FIVE_JOINTS),
                new PlantedFault("weight-sums", "weights on the boots sum to 0.93 to 1.08", SUMS_OFF),
                new PlantedFault("strays", "vertices of the cape's hem that follow nothing", STRAYS),
                new PlantedFault("lost-channels", "hail turns lantern_hook, which is gone", 1));
    }

    private Asset build(String name) {
        List<Node> nodes = new ArrayList<>();
        Map<String, Integer> numbers = new HashMap<>();
        int export = 0;
        for (String joint : order) {
            numbers.put(joint, numbers.size() + 1);
        }
        nodes.add(Node.group(
                "pilot_export",
                Local.of(
                        new Vector3d(),
                        new Quaterniond(StrictMath.sqrt(0.5), 0, 0, StrictMath.sqrt(0.5)),
                        new Vector3d(100)),
                numbers.get("hips")));
        int lanternNode = order.size() + 1;
        for (String joint : order) {
            List<Integer> children = new ArrayList<>();
            joints.children(joint).forEach(c -> children.add(numbers.get(c)));
            if (joint.equals("right_hand")) {
                children.add(lanternNode);
            }
            Vector3d at = joints.at(joint);
            if (!joints.parent(joint).isEmpty()) {
                at.sub(joints.at(joints.parent(joint)));
            }
            nodes.add(Node.group(
                    joint,
                    Local.at(at.x, at.y, at.z),
                    children.stream().mapToInt(Integer::intValue).toArray()));
        }
        nodes.add(Node.group("lantern", Local.IDENTITY).withMesh(2, -1));
        nodes.add(Node.group("pilot", Local.IDENTITY).withMesh(0, 0));
        nodes.add(Node.group("cape", Local.IDENTITY).withMesh(1, 0));
        PilotClips clips = new PilotClips(joints, numbers);
        Scene scene = new Scene("ferry", new int[] {export, lanternNode + 1, lanternNode + 2}, Passthrough.NONE);
        return PilotRoles.with(Asset.of(
                        name,
                        AS_RECEIVED,
                        nodes,
                        List.of(body(), cape(), lantern()),
                        List.of(skin(numbers)),
                        List.of(clips.idle(), withLostChannel(clips.hail()), clips.punt()))
                .withPictures(
                        List.of(new Material("pilot_palette", new float[] {1, 1, 1, 1}, 0, false, Passthrough.NONE)),
                        List.of(new Texture("pilot_palette", 0, Passthrough.NONE)),
                        List.of(new Image("pilot_palette", "image/png", "", Palette.png(), Passthrough.NONE)))
                .withScenes(List.of(scene)));
    }

    private Skin skin(Map<String, Integer> numbers) {
        int[] list = new int[order.size()];
        Matrix4d[] binds = new Matrix4d[list.length];
        for (int j = 0; j < list.length; j++) {
            list[j] = numbers.get(order.get(j));
            binds[j] = new Matrix4d().translation(joints.at(order.get(j)).negate());
        }
        return new Skin("pilot", list, Skin.pack(binds), numbers.get("hips"), Passthrough.NONE);
    }

    private static Clip withLostChannel(Clip clip) {
        Sampler still = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {(float) clip.start(), (float) clip.end()},
                new float[] {0, 0, 0, 1, 0, 0, 0, 1},
                4,
                Storage.FLOAT);
        List<Channel> channels = new ArrayList<>(clip.channels());
        channels.add(new Channel(-1, Channel.Path.ROTATION, still, "lantern_hook", Passthrough.NONE));
        return clip.withChannels(channels);
    }

    private Mesh body() {
        Collected all = new Collected();
        List<double[]> rows = new ArrayList<>();
        for (PilotShape.Piece piece : shape.pieces()) {
            if (feather && piece.name().equals("scarf")) {
                Shell plume = feather();
                rows.addAll(List.of(weights.of(plume, List.of("head"), 0)));
                all.add(plume, Palette.Swatch.HAIR);
            }
            int smoothing = piece.name().endsWith("hand") ? 2 : 5;
            double[][] own = weights.of(piece.shell(), piece.joints(), smoothing);
            if (piece.name().equals("strap")) {
                leak(piece.shell(), own);
            } else if (piece.name().equals("jumper")) {
                fiveJoints(piece.shell(), own);
            } else if (piece.name().equals("left_boot")) {
                sumsOff(piece.shell(), own);
            }
            rows.addAll(List.of(own));
            all.add(piece.shell(), piece.swatch());
        }
        return all.mesh("pilot", rows);
    }

    /** The strap was bound by nearness, so where it crosses the shoulder the arm got hold of it. */
    private void leak(Shell strap, double[][] rows) {
        Vector3d shoulder = joints.at("left_upper_arm");
        strapVertices = 0;
        for (int v = 0; v < rows.length; v++) {
            double d = strap.points.get(v).distance(shoulder);
            double pull = Math.clamp(1.25 - d / 0.24, 0, 1);
            double arm = 0.62 * pull;
            double twist = 0.24 * pull;
            for (int j = 0; j < rows[v].length; j++) {
                rows[v][j] *= 1 - arm - twist;
            }
            rows[v][order.indexOf("left_upper_arm")] += arm;
            rows[v][order.indexOf("left_arm_twist")] += twist;
            dropLeast(rows[v], 4);
            strapVertices += rows[v][order.indexOf("left_upper_arm")] > 0.05 ? 1 : 0;
        }
    }

    private static void dropLeast(double[] row, int most) {
        int count = 0;
        for (double w : row) {
            count += w > 0 ? 1 : 0;
        }
        for (; count > most; count--) {
            int least = -1;
            for (int j = 0; j < row.length; j++) {
                least = row[j] > 0 && (least < 0 || row[j] < row[least]) ? j : least;
            }
            row[least] = 0;
        }
        PilotWeights.normalise(row);
    }

    /** Adds joints nearby until five move each of the vertices nearest to the breastbone. */
    private void fiveJoints(Shell jumper, double[][] rows) {
        Vector3d centre = new Vector3d(0, 1.38, 0.10);
        List<Integer> nearest = new ArrayList<>();
        for (int v = 0; v < rows.length; v++) {
            nearest.add(v);
        }
        nearest.sort(
                java.util.Comparator.comparingDouble(v -> jumper.points.get(v).distanceSquared(centre)));
        String[] more = {"left_collar", "right_collar", "neck", "ribs_lower", "ribs_upper", "waist"};
        for (int v : nearest.subList(0, FIVE_JOINTS)) {
            double[] row = rows[v];
            int count = (int) java.util.Arrays.stream(row).filter(w -> w > 0).count();
            for (int i = 0; i < more.length && count < 5; i++) {
                int j = order.indexOf(more[i]);
                if (row[j] == 0) {
                    row[j] = 0.008 + 0.004 * i;
                    count++;
                }
            }
            PilotWeights.normalise(row);
        }
    }

    private static void sumsOff(Shell boot, double[][] rows) {
        for (int v = 0; v < SUMS_OFF; v++) {
            // Every sum from 0.93 to 1.08, but none that would be right by chance.
            double sum = 0.93 + 0.15 * v / (SUMS_OFF - 1.0);
            double apart = Math.abs(sum - 1) < 0.004 ? 1.006 : sum;
            for (int j = 0; j < rows[v].length; j++) {
                rows[v][j] *= apart;
            }
        }
    }

    private static Shell feather() {
        Field plume = Field.limb(new Vector3d(0.095, 1.69, -0.03), new Vector3d(0.130, 1.86, -0.12), 0.007, 0.012)
                .with(
                        Field.limb(new Vector3d(0.130, 1.86, -0.12), new Vector3d(0.120, 1.93, -0.20), 0.012, 0.004),
                        0.03);
        return SurfaceNets.of(plume, new Vector3d(0.06, 1.66, -0.24), new Vector3d(0.17, 1.97, 0.01), 0.0070);
    }

    private Mesh cape() {
        Shell shell = PilotShape.cape();
        double[][] rows = weights.ofCape(shell);
        int hem = 0;
        for (int v = 0; v < rows.length; v++) {
            hem = shell.points.get(v).y < shell.points.get(hem).y ? v : hem;
        }
        int lowest = hem;
        List<Integer> nearest = new ArrayList<>();
        for (int v = 0; v < rows.length; v++) {
            nearest.add(v);
        }
        nearest.sort(java.util.Comparator.comparingDouble(
                v -> shell.points.get(v).distanceSquared(shell.points.get(lowest))));
        nearest.subList(0, STRAYS).forEach(v -> java.util.Arrays.fill(rows[v], 0));
        Collected all = new Collected();
        all.add(shell, Palette.Swatch.OILSKIN);
        return all.mesh("cape", List.of(rows));
    }

    private Mesh lantern() {
        Vector3d hand = joints.at("right_hand");
        Vector3d grip = joints.at("right_middle_2").add(0, -0.012, 0);
        Collected all = new Collected();
        for (PilotShape.Piece piece : PilotShape.lantern(grip)) {
            piece.shell().points.forEach(p -> p.sub(hand));
            all.add(piece.shell(), piece.swatch());
        }
        return all.mesh("lantern", null);
    }

    /** Shells put together into one primitive. */
    private final class Collected {
        private final List<Vector3d> points = new ArrayList<>();
        private final List<Vector3d> normals = new ArrayList<>();
        private final List<Palette.Swatch> swatches = new ArrayList<>();
        private final List<int[]> triangles = new ArrayList<>();

        void add(Shell shell, Palette.Swatch swatch) {
            int first = points.size();
            points.addAll(shell.points);
            normals.addAll(shell.normals);
            shell.points.forEach(p -> swatches.add(swatch));
            for (int[] t : shell.triangles) {
                triangles.add(new int[] {t[0] + first, t[1] + first, t[2] + first});
            }
        }

        Mesh mesh(String name, List<double[]> rows) {
            int n = points.size();
            float[] p = new float[n * 3];
            float[] normal = new float[n * 3];
            float[] uv = new float[n * 2];
            for (int v = 0; v < n; v++) {
                put(points.get(v), p, v);
                put(normals.get(v), normal, v);
                uv[v * 2] = swatches.get(v).u();
                uv[v * 2 + 1] = swatches.get(v).v();
            }
            int[] corners =
                    triangles.stream().flatMapToInt(java.util.Arrays::stream).toArray();
            Primitive primitive = new Primitive(
                    Primitive.Mode.TRIANGLES,
                    corners,
                    p,
                    normal,
                    null,
                    List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)),
                    rows == null ? null : Rows.influences(rows),
                    List.of(),
                    0,
                    Primitive.Layout.PLAIN,
                    Passthrough.NONE);
            return Mesh.of(name, primitive);
        }

        private static void put(Vector3d from, float[] to, int v) {
            to[v * 3] = (float) from.x;
            to[v * 3 + 1] = (float) from.y;
            to[v * 3 + 2] = (float) from.z;
        }
    }
}
