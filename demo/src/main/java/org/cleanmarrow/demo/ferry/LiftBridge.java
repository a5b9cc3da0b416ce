package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Paint;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.collision.StandIn;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * The bridge over the ferry's creek: two leaves that lift by 68 degrees, clips <i>open</i> 0..71 and <i>close</i>
 * 73..144 at 48 a second, moved by their nodes. Made in metres with Z up, the leaves under a turned and scaled group.
 */
public final class LiftBridge {
    private static final Conventions AS_RECEIVED = new Conventions(1, Axis.Z, Axis.MINUS_Y, Handedness.RIGHT);
    private static final double RATE = 48;
    private static final double LIFT = 68;
    private static final double SPAN = 4.2;

    private LiftBridge() {}

    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("node-transform", "bridge_export is scaled by 0.01 and both leaves by 100", 3),
                new PlantedFault("duplicates", "west and east have meshes of their own with the same content", 3),
                new PlantedFault("lods-together", "winch_house comes in three levels of detail", 3),
                new PlantedFault("names-differ", "meshes are called shape_1 to shape_9", 9));
    }

    public static Asset asset() {
        List<Mesh> meshes = new ArrayList<>();
        List<Node> nodes = new ArrayList<>();
        nodes.add(Node.group("bridge_export", Local.of(new Vector3d(), new Quaterniond(), new Vector3d(0.01)), 1, 3));
        // The leaves' pivots are in the middle of the deck, not at the hinge, so their keys shift as well as turn.
        for (int side = -1; side <= 1; side += 2) {
            String name = side < 0 ? "west" : "east";
            Blocks deck = new Blocks().box(0, 0, 0, SPAN / 2, 1.6, 0.12);
            for (int plank = 0; plank < 12; plank++) {
                deck.box(-SPAN / 2 + 0.2 + plank * 0.345, 0, 0.14, 0.15, 1.55, 0.03);
            }
            Local at = Local.of(new Vector3d(side * SPAN / 2 * 100, 0, 0), new Quaterniond(), new Vector3d(100));
            nodes.add(Node.group(name + "_leaf", at, nodes.size() + 1).withMesh(meshes.size(), -1));
            meshes.add(mesh(meshes, deck, 0));
            Blocks rail = new Blocks().box(0, 1.5, 0.75, SPAN / 2, 0.04, 0.04).box(0, -1.5, 0.75, SPAN / 2, 0.04, 0.04);
            for (int post = 0; post < 6; post++) {
                for (int edge = -1; edge <= 1; edge += 2) {
                    rail.box(-SPAN / 2 + 0.1 + post * 0.8, edge * 1.5, 0.45, 0.04, 0.04, 0.3);
                }
            }
            nodes.add(Node.group(name + "_rail", Local.IDENTITY).withMesh(meshes.size(), -1));
            meshes.add(mesh(meshes, rail, 1));
        }
        for (int side = -1; side <= 1; side += 2) {
            Blocks pier = new Blocks().box(0, 0, -0.9, 0.9, 2.0, 0.8).box(0, 0, -0.06, 1.0, 2.1, 0.06);
            nodes.add(Node.group(side < 0 ? "west_pier" : "east_pier", Local.at(side * (SPAN + 0.9), 0, 0))
                    .withMesh(meshes.size(), -1));
            meshes.add(mesh(meshes, pier, 2));
        }
        for (int level = 0; level < 3; level++) {
            nodes.add(Node.group("winch_house_LOD" + level, Local.at(SPAN + 0.9, 1.4, 0))
                    .withMesh(meshes.size(), -1));
            meshes.add(mesh(meshes, house(level), 3));
        }
        Asset still = Asset.of("lift-bridge", AS_RECEIVED, nodes, meshes, List.of(), List.of());
        Asset colliding =
                Colliding.by(still, new StandIn("*_leaf, *_rail, *_pier, winch_house_LOD0", StandIn.Kind.BOX));
        return colliding
                .withMaterials(List.of(
                        Paint.of("tarred_oak", 0.16f, 0.11f, 0.07f),
                        Paint.of("iron", 0.05f, 0.06f, 0.07f),
                        Paint.of("harbour_stone", 0.38f, 0.36f, 0.31f),
                        Paint.of("red_lead", 0.45f, 0.09f, 0.05f)))
                .withClips(List.of(clip("open", 0, 71, 0, LIFT), clip("close", 73, 144, LIFT, 0)));
    }

    private static Mesh mesh(List<Mesh> before, Blocks blocks, int material) {
        return Mesh.of("shape_" + (before.size() + 1), blocks.primitive(material));
    }

    private static Blocks house(int level) {
        Blocks out = new Blocks().box(0, 0, 0.8, 0.6, 0.5, 0.8).box(0, 0, 1.7, 0.75, 0.65, 0.1);
        for (int window = 0; level == 0 && window < 6; window++) {
            out.box(-0.45 + window * 0.18, -0.51, 0.95, 0.06, 0.02, 0.2);
        }
        return level < 2 ? out.box(0.3, 0.2, 1.95, 0.12, 0.12, 0.2) : out;
    }

    private static double ease(double t) {
        return t * t * (3 - 2 * t);
    }

    private static Clip clip(String name, int first, int last, double from, double to) {
        int count = last - first + 1;
        float[] times = new float[count];
        List<Channel> channels = new ArrayList<>();
        for (int side = -1; side <= 1; side += 2) {
            float[] turns = new float[count * 4];
            float[] places = new float[count * 3];
            for (int k = 0; k < count; k++) {
                times[k] = (float) ((first + k) / RATE);
                double degrees = from + (to - from) * ease(k / (count - 1.0));
                Quaterniond q = new Quaterniond().rotationY(side * Math.toRadians(degrees));
                Vector3d hinge = new Vector3d(side * SPAN, 0, 0);
                Vector3d middle = q.transform(new Vector3d(-side * SPAN / 2, 0, 0))
                        .add(hinge)
                        .mul(100);
                put(turns, k * 4, q.x, q.y, q.z, q.w);
                put(places, k * 3, middle.x, middle.y, middle.z);
            }
            int node = side < 0 ? 1 : 3;
            channels.add(channel(node, Channel.Path.ROTATION, times, turns, 4));
            channels.add(channel(node, Channel.Path.TRANSLATION, times, places, 3));
        }
        return new Clip(name, channels, RATE, false, true, Passthrough.NONE);
    }

    private static void put(float[] out, int at, double... values) {
        for (int i = 0; i < values.length; i++) {
            out[at + i] = (float) values[i];
        }
    }

    private static Channel channel(int node, Channel.Path path, float[] times, float[] values, int width) {
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(node, path, sampler, "", Passthrough.NONE);
    }
}
