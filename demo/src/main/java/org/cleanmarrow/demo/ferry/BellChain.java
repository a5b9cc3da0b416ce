package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
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
 * The landing bell: a bracket, four links below each other, and the bell on the last. Somebody has begun with the bodies: all
 * of them fall, one link has no shape, and the bell is a hundred times as heavy as the link above. Clip <i>toll</i> 0..48.
 */
public final class BellChain {
    private static final int LINKS = 4;
    private static final double PITCH = 0.11;
    private static final double BAR = 0.014;
    private static final double RATE = 24;
    private static final int FRAMES = 48;

    private BellChain() {}

    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("still-root", "the bracket is a free body like the links", 1),
                new PlantedFault("body-shape", "link_2 has no shape", 1),
                new PlantedFault("body-mass", "link_4 with the bell weighs 45 kg, link_3 0.45 kg", 1));
    }

    public static Asset asset() {
        List<Node> nodes = new ArrayList<>();
        List<Mesh> meshes = new ArrayList<>();
        Blocks beam = new Blocks()
                .box(0, 0.09, 0, 0.05, 0.05, 0.05)
                .box(-0.22, 0.14, 0, 0.3, 0.04, 0.05)
                .box(-0.5, 0, 0, 0.03, 0.25, 0.08);
        nodes.add(Node.group("bracket", Local.at(0, 2.2, 0), 1).withMesh(0, -1));
        meshes.add(Mesh.of("bracket", beam.primitive(0)));
        for (int i = 1; i <= LINKS; i++) {
            Local at = Local.at(0, i == 1 ? 0 : -PITCH, 0);
            nodes.add(Node.group("link_" + i, at, i + 1).withMesh(i % 2 == 1 ? 1 : 2, -1));
        }
        meshes.add(Mesh.of("link", new Blocks().shell(link(false)).primitive(1)));
        meshes.add(Mesh.of("link_turned", new Blocks().shell(link(true)).primitive(1)));
        nodes.add(Node.group("bell", Local.at(0, -PITCH, 0)).withMesh(3, -1));
        meshes.add(Mesh.of("bell", new Blocks().shell(bell()).primitive(2)));
        return Asset.of("bell-chain", Conventions.GLTF, nodes, meshes, List.of(), List.of(toll()))
                .withMaterials(List.of(
                        Paint.of("tarred_oak", 0.16f, 0.11f, 0.07f),
                        Paint.of("iron", 0.05f, 0.06f, 0.07f),
                        Paint.of("bell_bronze", 0.42f, 0.27f, 0.09f)))
                .withAttached(bodies());
    }

    private static List<Attached> bodies() {
        List<Attached> out = new ArrayList<>();
        out.add(new RigidBody(0, RigidBody.Kind.FREE, 4));
        out.add(new Collider(
                "bracket_shape", 0, Frame.at(new Vector3d(-0.22, 0.14, 0)), new Shape.Box(0.6, 0.08, 0.1)));
        for (int i = 1; i <= LINKS; i++) {
            out.add(new RigidBody(i, RigidBody.Kind.FREE, i == LINKS ? 45 : 0.45));
            if (i != 2) {
                out.add(new Collider(
                        "link_" + i + "_shape",
                        i,
                        Frame.at(new Vector3d(0, -PITCH / 2, 0)),
                        new Shape.Capsule(0.03, 0.03, PITCH - 0.03)));
            }
            out.add(new RigidJoint(
                    "", i, Frame.NONE, i - 1, List.of(new RigidJoint.Limit(false, 7, 0, 0)), List.of(), false));
        }
        out.add(new Collider(
                "bell_shape", LINKS + 1, Frame.at(new Vector3d(0, -0.13, 0)), new Shape.Cylinder(0.16, 0.09, 0.24)));
        return out;
    }

    /** A long ring that hangs from its top, every other one turned by a quarter. */
    private static Shell link(boolean turned) {
        Shell out = new Shell();
        int around = 28;
        int bar = 10;
        for (int i = 0; i < around; i++) {
            double a = 2 * Math.PI * i / around;
            double x = 0.03 * StrictMath.cos(a);
            double y = 0.5 * (PITCH + 2 * BAR) * StrictMath.sin(a) - PITCH / 2;
            Vector3d outward = new Vector3d(StrictMath.cos(a) / 0.03, StrictMath.sin(a) / (0.5 * PITCH), 0).normalize();
            for (int k = 0; k < bar; k++) {
                double b = 2 * Math.PI * k / bar;
                Vector3d n = new Vector3d(outward).mul(StrictMath.cos(b)).add(0, 0, StrictMath.sin(b));
                Vector3d p = new Vector3d(x, y, 0).fma(BAR / 2, n);
                out.add(turned ? p.rotateY(Math.PI / 2) : p, turned ? n.rotateY(Math.PI / 2) : n);
            }
        }
        for (int i = 0; i < around; i++) {
            for (int k = 0; k < bar; k++) {
                int j = (i + 1) % around;
                int l = (k + 1) % bar;
                out.quad(i * bar + k, j * bar + k, j * bar + l, i * bar + l);
            }
        }
        return out.smoothNormals();
    }

    private static Shell bell() {
        return Shell.turned(
                        new Vector3d(0, -0.27, 0),
                        36,
                        0.155,
                        0.012,
                        0.16,
                        0,
                        0.15,
                        0.02,
                        0.12,
                        0.08,
                        0.1,
                        0.16,
                        0.085,
                        0.22,
                        0.05,
                        0.25,
                        0.018,
                        0.262,
                        0.018,
                        0.285,
                        0.001,
                        0.287)
                .smoothNormals();
    }

    private static Clip toll() {
        float[] times = new float[FRAMES + 1];
        List<Channel> channels = new ArrayList<>();
        for (int i = 1; i <= LINKS; i++) {
            float[] turns = new float[4 * times.length];
            for (int k = 0; k <= FRAMES; k++) {
                times[k] = (float) (k / RATE);
                double angle = Math.toRadians(9 - i) * StrictMath.sin(2 * Math.PI * k / FRAMES - 0.4 * (i - 1));
                Quaterniond q = new Quaterniond().rotationZ(angle);
                turns[4 * k] = (float) q.x;
                turns[4 * k + 1] = (float) q.y;
                turns[4 * k + 2] = (float) q.z;
                turns[4 * k + 3] = (float) q.w;
            }
            Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
            channels.add(new Channel(i, Channel.Path.ROTATION, keys, "", Passthrough.NONE));
        }
        return new Clip("toll", channels, RATE, true, true, List.of(), Passthrough.NONE);
    }
}
