package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Assets for laws that must hold for any: a turned and scaled group above a random skeleton, a skinned mesh with
 * normals, tangents and morph targets, a rigid mesh on a joint, and clips of every interpolation. The same seed
 * gives the same asset.
 */
public final class RandomAssets {
    private final Random random;
    private final int joints;
    private final int vertices;

    private RandomAssets(long seed, int joints, int vertices) {
        random = new Random(seed * 7919 + 17);
        this.joints = joints;
        this.vertices = vertices;
    }

    public static Asset of(long seed) {
        return of(seed, 4 + (int) (seed % 23), 60);
    }

    public static Asset of(long seed, int joints, int vertices) {
        return new RandomAssets(seed, joints, vertices).build(seed);
    }

    private double range(double low, double high) {
        return low + (high - low) * random.nextDouble();
    }

    private Quaterniond turn() {
        return new Quaterniond(range(-1, 1), range(-1, 1), range(-1, 1), range(-1, 1)).normalize();
    }

    private Vector3d vector(double reach) {
        return new Vector3d(range(-reach, reach), range(-reach, reach), range(-reach, reach));
    }

    private Asset build(long seed) {
        List<Node> nodes = new ArrayList<>();
        int[] parent = new int[joints];
        for (int j = 0; j < joints; j++) {
            // Most joints hang on a recent one, so that chains form; some start skeletons of their own.
            parent[j] = j == 0 || random.nextInt(12) == 0 ? -1 : Math.max(0, j - 1 - random.nextInt(3));
        }
        double scale = new double[] {1, 0.01, 100, 2.5}[random.nextInt(4)];
        nodes.add(Node.group(
                "group", Local.of(vector(2), turn(), new Vector3d(scale)), children(parent, -1, joints + 1)));
        for (int j = 0; j < joints; j++) {
            nodes.add(
                    Node.group("joint_" + j, Local.of(vector(0.6), turn(), new Vector3d(1)), children(parent, j, -1)));
        }
        nodes.add(Node.group("still", Local.of(vector(1), turn(), new Vector3d(range(0.5, 2))), joints + 2));
        nodes.add(Node.group("crate", Local.of(vector(1), turn(), new Vector3d(0.4, 1.7, 0.9)))
                .withMesh(1, -1));
        nodes.add(Node.group("figure", Local.IDENTITY).withMesh(0, 0));
        Node last = nodes.get(joints);
        nodes.add(Node.group("tool", Local.of(vector(0.3), turn(), new Vector3d(1)))
                .withMesh(1, -1));
        nodes.set(joints, last.withChildren(append(last.children(), joints + 4)));
        Asset bare =
                Asset.of("random-" + seed, Conventions.GLTF, nodes, List.of(figure(), crate()), List.of(), List.of());
        Asset asset = bare.withSkins(List.of(skin(bare)));
        return asset.withClips(List.of(
                clip("step", Sampler.Interpolation.STEP),
                clip("linear", Sampler.Interpolation.LINEAR),
                clip("cubic", Sampler.Interpolation.CUBICSPLINE)));
    }

    private static int[] append(int[] list, int more) {
        int[] out = java.util.Arrays.copyOf(list, list.length + 1);
        out[list.length] = more;
        return out;
    }

    private static int[] children(int[] parent, int of, int more) {
        List<Integer> out = new ArrayList<>();
        for (int j = 0; j < parent.length; j++) {
            if (parent[j] == of) {
                out.add(j + 1);
            }
        }
        if (more >= 0) {
            out.add(more);
        }
        return out.stream().mapToInt(Integer::intValue).toArray();
    }

    private Skin skin(Asset bare) {
        Matrix4d[] world = new Rig(bare).rest().world();
        Matrix4d data = new Matrix4d().translationRotateScale(vector(1), turn(), new Vector3d(range(0.3, 3)));
        int[] list = new int[joints];
        Matrix4d[] binds = new Matrix4d[joints];
        for (int j = 0; j < joints; j++) {
            list[j] = j + 1;
            binds[j] = new Matrix4d(world[j + 1]).invert().mul(data);
        }
        return new Skin("skin", list, Skin.pack(binds), -1, Passthrough.NONE);
    }

    private float[] numbers(int count, double reach) {
        float[] out = new float[count];
        for (int i = 0; i < count; i++) {
            out[i] = (float) range(-reach, reach);
        }
        return out;
    }

    private float[] directions(int count, int width) {
        float[] out = new float[count * width];
        for (int v = 0; v < count; v++) {
            Vector3d d = vector(1).normalize();
            out[v * width] = (float) d.x;
            out[v * width + 1] = (float) d.y;
            out[v * width + 2] = (float) d.z;
            if (width == 4) {
                out[v * width + 3] = random.nextBoolean() ? 1 : -1;
            }
        }
        return out;
    }

    private int[] corners(int count) {
        int[] out = new int[count * 3];
        for (int i = 0; i < out.length; i++) {
            // Every vertex is used once before chance decides.
            out[i] = i < vertices ? i : random.nextInt(vertices);
        }
        return out;
    }

    private Mesh figure() {
        Influences.Builder rows = new Influences.Builder(vertices);
        for (int v = 0; v < vertices; v++) {
            row(rows, 1 + random.nextInt(Math.min(4, joints)));
            rows.endRow();
        }
        List<MorphTarget> targets = List.of(
                new MorphTarget(numbers(vertices * 3, 0.1), numbers(vertices * 3, 0.1), null, List.of()),
                new MorphTarget(numbers(vertices * 3, 0.1), null, numbers(vertices * 3, 0.1), List.of()));
        int[] corners = corners(vertices);
        float[] positions = numbers(vertices * 3, 1);
        Primitive primitive = new Primitive(
                Primitive.Mode.TRIANGLES,
                corners,
                positions,
                outwards(corners, positions, directions(vertices, 3)),
                directions(vertices, 4),
                List.of(new Attribute("TEXCOORD_0", 2, numbers(vertices * 2, 1), Storage.FLOAT)),
                rows.build(),
                targets,
                -1,
                Primitive.Layout.PLAIN,
                Passthrough.NONE);
        return new Mesh(
                "figure", List.of(primitive), new float[] {0.25f, 0}, List.of("wide", "tall"), Passthrough.NONE);
    }

    private void row(Influences.Builder rows, int count) {
        List<Integer> order = new ArrayList<>();
        for (int j = 0; j < joints; j++) {
            order.add(j);
        }
        java.util.Collections.shuffle(order, random);
        double[] weight = random.doubles(count, 0.05, 1).toArray();
        double sum = java.util.Arrays.stream(weight).sum();
        double left = 1;
        for (int i = 0; i < count; i++) {
            float w = (float) (i == count - 1 ? left : weight[i] / sum);
            left -= w;
            rows.add(order.get(i), w);
        }
    }

    private Mesh crate() {
        int[] corners = corners(vertices);
        float[] positions = numbers(vertices * 3, 0.5);
        float[] normals = outwards(corners, positions, directions(vertices, 3));
        return Mesh.of("crate", Primitive.triangles(corners, positions, normals, -1));
    }

    /** Up to 30 degrees off what the first triangle of their vertex has, so that uneven scales turn none to its other side. */
    private static float[] outwards(int[] corners, float[] x, float[] normals) {
        for (int v = 0; v < normals.length / 3; v++) {
            int t = v / 3 * 3;
            Vector3d a = point(x, corners[t]);
            Vector3d face = point(x, corners[t + 1])
                    .sub(a)
                    .cross(point(x, corners[t + 2]).sub(a));
            Vector3d near = face.normalize().fma(0.5, point(normals, v)).normalize();
            normals[3 * v] = (float) near.x;
            normals[3 * v + 1] = (float) near.y;
            normals[3 * v + 2] = (float) near.z;
        }
        return normals;
    }

    private static Vector3d point(float[] x, int v) {
        return new Vector3d(x[3 * v], x[3 * v + 1], x[3 * v + 2]);
    }

    private Clip clip(String name, Sampler.Interpolation interpolation) {
        List<Channel> channels = new ArrayList<>();
        int keys = 4;
        float[] times = new float[keys];
        for (int k = 0; k < keys; k++) {
            times[k] = k / 8f + 1 / 24f;
        }
        for (int j = 0; j < joints; j++) {
            if (random.nextInt(3) > 0) {
                channels.add(channel(j + 1, Channel.Path.ROTATION, interpolation, times, 4));
            }
            if (random.nextInt(3) == 0) {
                channels.add(channel(j + 1, Channel.Path.TRANSLATION, interpolation, times, 3));
            }
        }
        channels.add(channel(joints + 3, Channel.Path.WEIGHTS, interpolation, times, 2));
        return new Clip(name, channels, 24, false, true, Passthrough.NONE);
    }

    private Channel channel(
            int node, Channel.Path path, Sampler.Interpolation interpolation, float[] times, int width) {
        int parts = interpolation == Sampler.Interpolation.CUBICSPLINE ? 3 : 1;
        float[] values = numbers(times.length * parts * width, 0.5);
        for (int k = 0; path == Channel.Path.ROTATION && k < times.length; k++) {
            Quaterniond q = turn();
            float[] four = {(float) q.x, (float) q.y, (float) q.z, (float) q.w};
            System.arraycopy(four, 0, values, (k * parts + (parts == 3 ? 1 : 0)) * width, 4);
        }
        return new Channel(
                node, path, new Sampler(interpolation, times, values, width, Storage.FLOAT), "", Passthrough.NONE);
    }
}
