package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Paint;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * The shed beside the landing: a skiff on trestles, oars, crates, casks, a chest, shelves and lanterns, 29 rigid parts in metres with Y up.
 * The walls collide by shapes; the skiff, the shelves and the chest have stand-ins among what is drawn, called
 * {@code <name>_collision}, and the rest collides by nothing yet. Doors, lid, lanterns and a crate on its hoist have a clip each.
 */
public final class BoatShed {
    private static final double RATE = 30;
    private static final int OAK = 0;
    private static final int TAR = 1;
    private static final int GLASS = 2;

    private final List<Node> nodes = new ArrayList<>();
    private final List<Mesh> meshes = new ArrayList<>();
    private final List<Clip> clips = new ArrayList<>();
    private final List<Attached> shapes = new ArrayList<>();

    private BoatShed() {}

    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("collider-missing", "furniture that nothing stands for yet, stand-ins among it", 29),
                new PlantedFault(
                        "duplicates", "crates, casks, trestles, oars and lanterns have meshes of their own", 14));
    }

    public static Asset asset() {
        return new BoatShed().made();
    }

    private Asset made() {
        walls();
        boat();
        for (int side = -1; side <= 1; side += 2) {
            String name = side < 0 ? "left" : "right";
            Blocks leaf = new Blocks().box(side * -0.6, 1, 0, 0.6, 1, 0.03).box(side * -0.6, 1, 0.05, 0.55, 0.06, 0.02);
            int n = part(name + "_door", leaf, TAR, new Vector3d(side * 1.25, 0, 3));
            clip("open_" + name + "_door", n, new Vector3d(0, 1, 0), 0, side * 105, 45);
            part(name + "_trestle", trestle(), OAK, new Vector3d(0, 0, side * 0.9));
            part(name + "_oar", oar(), OAK, new Vector3d(-1.9 + side * 0.12, 1.1, 0.2));
            int lantern = part(name + "_lantern", lantern(), GLASS, new Vector3d(side * 1.2, 2.05, 1.2));
            clip("sway_" + name + "_lantern", lantern, new Vector3d(0, 0, 1), -14, 14, 60);
        }
        for (int i = 0; i < 8; i++) {
            Vector3d at = new Vector3d(1.6 + 0.02 * (i % 3), 0.2 + 0.4 * (i / 3), -2.3 + 0.55 * (i % 3));
            part("crate_" + (i + 1), crate(), OAK, at);
        }
        for (int i = 0; i < 4; i++) {
            turned("cask_" + (i + 1), new Vector3d(-1.7, 0, -2.4 + 0.62 * i), cask(), TAR);
        }
        part("chest", new Blocks().box(0, 0.22, 0, 0.45, 0.22, 0.28).box(0, 0.3, 0.29, 0.05, 0.06, 0.02), OAK, CHEST);
        int lid = part("chest_lid", new Blocks().box(0, 0.03, 0.28, 0.46, 0.03, 0.29), TAR, LID);
        clip("open_chest", lid, new Vector3d(1, 0, 0), 0, -95, 40);
        part("chest_collision", new Blocks().box(0, 0.25, 0, 0.46, 0.25, 0.29), OAK, CHEST);
        shelves();
        int load = part("hoist_load", crate(), OAK, new Vector3d(0.2, 1.4, -2.4));
        clips.add(lift(load));
        turned("rope_coil", new Vector3d(0.9, 0, 1.9), coil(), TAR);
        Asset still = Asset.of("boat-shed", Conventions.GLTF, nodes, meshes, List.of(), clips);
        return still.withMaterials(List.of(
                        Paint.of("tarred_oak", 0.16f, 0.11f, 0.07f),
                        Paint.of("tarred_hemp", 0.20f, 0.16f, 0.10f),
                        Paint.of("lamp_glass", 0.60f, 0.55f, 0.38f)))
                .withAttached(shapes);
    }

    private static final Vector3d CHEST = new Vector3d(-1.6, 0, 1.6);
    private static final Vector3d LID = new Vector3d(-1.6, 0.44, 1.32);
    private static final Vector3d SHELVES = new Vector3d(1.95, 0, 0.3);

    private int part(String name, Blocks blocks, int material, Vector3d at) {
        nodes.add(Node.group(name, Local.at(at.x, at.y, at.z)).withMesh(meshes.size(), -1));
        meshes.add(Mesh.of(name, blocks.primitive(material)));
        return nodes.size() - 1;
    }

    private void turned(String name, Vector3d at, Shell shell, int material) {
        part(name, new Blocks().shell(shell), material, at);
    }

    private void walls() {
        Blocks out = new Blocks()
                .box(0, -0.05, 0, 2.3, 0.05, 3.1)
                .box(-2.25, 1.2, 0, 0.05, 1.2, 3)
                .box(2.25, 1.2, 0, 0.05, 1.2, 3)
                .box(0, 1.2, -3, 2.2, 1.2, 0.05);
        int n = part("shed", out, OAK, new Vector3d());
        double[][] boxes = {
            {-2.25, 1.2, 0, 0.1, 2.4, 6},
            {2.25, 1.2, 0, 0.1, 2.4, 6},
            {0, 1.2, -3, 4.4, 2.4, 0.1}
        };
        for (int i = 0; i < boxes.length; i++) {
            double[] b = boxes[i];
            shapes.add(new Collider(
                    "shed_wall_" + i, n, Frame.at(new Vector3d(b[0], b[1], b[2])), new Shape.Box(b[3], b[4], b[5])));
        }
    }

    /** Ribs and strakes, open above: by no hull that a foot could step into. */
    private void boat() {
        Blocks hull = new Blocks();
        Blocks rough = new Blocks();
        int steps = 14;
        for (int i = 0; i < steps; i++) {
            double t = (i + 0.5) / steps * 2 - 1;
            double half = 0.55 * Math.sqrt(1 - 0.92 * t * t);
            double z = 1.5 * t;
            hull.box(0, 0.02, z, half * 0.6, 0.02, 1.5 / steps);
            for (int side = -1; side <= 1; side += 2) {
                hull.box(side * half * 0.75, 0.14, z, half * 0.18, 0.1, 1.5 / steps);
                hull.box(side * half, 0.34, z, 0.03, 0.14, 1.5 / steps);
            }
        }
        hull.box(0, 0.36, -0.5, 0.48, 0.02, 0.12).box(0, 0.36, 0.5, 0.48, 0.02, 0.12);
        Vector3d at = new Vector3d(0, 0.62, 0);
        part("skiff", hull, OAK, at);
        rough.box(0, 0.05, 0, 0.4, 0.05, 1.4).box(-0.5, 0.28, 0, 0.08, 0.2, 1.3).box(0.5, 0.28, 0, 0.08, 0.2, 1.3);
        part("skiff_collision", rough, OAK, at);
    }

    private void shelves() {
        Blocks out = new Blocks();
        Blocks rough = new Blocks();
        for (int i = 0; i < 4; i++) {
            out.box(0, 0.3 + 0.45 * i, 0, 0.2, 0.02, 0.7);
            rough.box(0, 0.3 + 0.45 * i, 0, 0.2, 0.03, 0.7);
        }
        for (int corner = 0; corner < 4; corner++) {
            out.box((corner & 1) == 0 ? -0.18 : 0.18, 0.85, (corner & 2) == 0 ? -0.68 : 0.68, 0.02, 0.85, 0.02);
        }
        part("shelves", out, OAK, SHELVES);
        part("shelves_collision", rough, OAK, SHELVES);
    }

    private static Blocks trestle() {
        return new Blocks()
                .box(0, 0.56, 0, 0.6, 0.04, 0.05)
                .box(-0.5, 0.26, 0.16, 0.03, 0.26, 0.03)
                .box(0.5, 0.26, 0.16, 0.03, 0.26, 0.03)
                .box(-0.5, 0.26, -0.16, 0.03, 0.26, 0.03)
                .box(0.5, 0.26, -0.16, 0.03, 0.26, 0.03);
    }

    private static Blocks oar() {
        return new Blocks().box(0, 0, 0, 0.025, 1.05, 0.025).box(0, -0.85, 0, 0.02, 0.25, 0.08);
    }

    private static Blocks crate() {
        Blocks out = new Blocks().box(0, 0, 0, 0.19, 0.19, 0.19);
        for (int side = -1; side <= 1; side += 2) {
            out.box(0, side * 0.16, 0, 0.2, 0.03, 0.2);
        }
        return out;
    }

    private static Blocks lantern() {
        return new Blocks()
                .box(0, -0.06, 0, 0.01, 0.06, 0.01)
                .box(0, -0.14, 0, 0.08, 0.02, 0.08)
                .box(0, -0.25, 0, 0.06, 0.09, 0.06)
                .box(0, -0.36, 0, 0.08, 0.02, 0.08);
    }

    private static Shell cask() {
        return Shell.turned(new Vector3d(), 24, 0, 0, 0.2, 0, 0.25, 0.2, 0.27, 0.4, 0.25, 0.6, 0.2, 0.8, 0, 0.8);
    }

    private static Shell coil() {
        return Shell.turned(
                new Vector3d(),
                32,
                0.16,
                0.05,
                0.16,
                0.1,
                0.22,
                0.16,
                0.3,
                0.16,
                0.34,
                0.1,
                0.34,
                0.05,
                0.3,
                0,
                0.2,
                0,
                0.16,
                0.05);
    }

    private void clip(String name, int node, Vector3d axis, double from, double to, int frames) {
        float[] times = new float[frames + 1];
        float[] turns = new float[4 * times.length];
        for (int k = 0; k <= frames; k++) {
            times[k] = (float) (k / RATE);
            double t = k / (double) frames;
            // Swaying comes back to where it began, what opens stays open.
            double share = from == 0 ? t * t * (3 - 2 * t) : 0.5 - 0.5 * StrictMath.sin(2 * Math.PI * t);
            Quaterniond q =
                    new Quaterniond().rotationAxis(Math.toRadians(from + (to - from) * share), axis.x, axis.y, axis.z);
            turns[4 * k] = (float) q.x;
            turns[4 * k + 1] = (float) q.y;
            turns[4 * k + 2] = (float) q.z;
            turns[4 * k + 3] = (float) q.w;
        }
        clips.add(clip(name, node, Channel.Path.ROTATION, times, turns, 4));
    }

    private static Clip lift(int node) {
        float[] times = new float[91];
        float[] places = new float[3 * times.length];
        for (int k = 0; k < times.length; k++) {
            times[k] = (float) (k / RATE);
            places[3 * k] = 0.2f;
            places[3 * k + 1] = (float) (1.4 + 0.5 * StrictMath.sin(Math.PI * k / 90.0));
            places[3 * k + 2] = -2.4f;
        }
        return clip("hoist", node, Channel.Path.TRANSLATION, times, places, 3);
    }

    private static Clip clip(String name, int node, Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Clip(
                name,
                List.of(new Channel(node, path, sampler, "", Passthrough.NONE)),
                RATE,
                false,
                true,
                Passthrough.NONE);
    }
}
