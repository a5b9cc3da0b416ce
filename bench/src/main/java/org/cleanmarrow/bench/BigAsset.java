package org.cleanmarrow.bench;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.joml.Matrix4d;
import org.joml.Quaterniond;

/** A rippled tube of 100,000 vertices, 199,500 triangles and 200 joints with ten clips: large, but nothing odd. */
final class BigAsset {
    private static final int AROUND = 250;
    private static final int ALONG = 400;
    private static final int JOINTS = 200;
    private static final double HEIGHT = 1.8;

    private BigAsset() {}

    /** @param clips each 300 frames of rotation keys for every joint */
    static Asset make(int clips) {
        return make(clips, AROUND, JOINTS);
    }

    /** @param around vertices of each of the 400 rings; the ends are closed */
    static Asset make(int clips, int around, int count) {
        List<Node> nodes = new ArrayList<>();
        int[] joints = new int[count];
        Matrix4d[] binds = new Matrix4d[count];
        double step = HEIGHT / count;
        for (int j = 0; j < count; j++) {
            joints[j] = j;
            binds[j] = new Matrix4d().translation(0, -j * step, 0);
            int[] below = j + 1 < count ? new int[] {j + 1} : new int[0];
            nodes.add(Node.group("joint_" + j, Local.at(0, j == 0 ? 0 : step, 0), below));
        }
        nodes.add(Node.group("tube", Local.IDENTITY).withMesh(0, 0));
        Skin skin = new Skin("tube", joints, Skin.pack(binds), 0, Passthrough.NONE);
        List<Clip> all = new ArrayList<>();
        for (int c = 0; c < clips; c++) {
            all.add(clip(c, count));
        }
        return Asset.of("big", Conventions.GLTF, nodes, List.of(mesh(around, count)), List.of(skin), all);
    }

    private static Mesh mesh(int around, int count) {
        float[] p = new float[around * ALONG * 3];
        float[] n = new float[p.length];
        Influences.Builder rows = new Influences.Builder(around * ALONG);
        for (int y = 0; y < ALONG; y++) {
            double height = HEIGHT * y / (ALONG - 1);
            for (int a = 0; a < around; a++) {
                double turn = 2 * Math.PI * a / around;
                double reach = 0.2 + 0.01 * Math.sin(9 * turn + 40 * height);
                int at = (y * around + a) * 3;
                p[at] = (float) (reach * Math.cos(turn));
                p[at + 1] = (float) height;
                p[at + 2] = (float) (reach * Math.sin(turn));
                n[at] = (float) Math.cos(turn);
                n[at + 2] = (float) Math.sin(turn);
                int nearest = Math.clamp((int) (height / HEIGHT * count), 1, count - 3);
                rows.add(nearest, 0.5f);
                rows.add(nearest - 1, 0.25f);
                rows.add(nearest + 1, 0.125f);
                rows.add(nearest + 2, 0.125f);
                rows.endRow();
            }
        }
        int[] corners = new int[around * (ALONG - 1) * 6 + 2 * 3 * (around - 2)];
        int at = 0;
        for (int y = 0; y + 1 < ALONG; y++) {
            for (int a = 0; a < around; a++) {
                int here = y * around + a;
                int next = y * around + (a + 1) % around;
                int[] quad = {here, here + around, next, next, here + around, next + around};
                System.arraycopy(quad, 0, corners, at, 6);
                at += 6;
            }
        }
        int last = (ALONG - 1) * around;
        for (int a = 1; a + 1 < around; a++) {
            int[] ends = {0, a, a + 1, last, last + a + 1, last + a};
            System.arraycopy(ends, 0, corners, at, 6);
            at += 6;
        }
        return Mesh.of("tube", Primitive.triangles(corners, p, n, -1).withInfluences(rows.build()));
    }

    private static Clip clip(int number, int count) {
        int frames = 300;
        float[] times = new float[frames];
        for (int f = 0; f < frames; f++) {
            times[f] = f / 30f;
        }
        List<Channel> channels = new ArrayList<>();
        for (int j = 0; j < count; j++) {
            float[] values = new float[frames * 4];
            for (int f = 0; f < frames; f++) {
                double angle = 0.01 * Math.sin(f * 0.05 + j * 0.1 + number);
                Quaterniond q = new Quaterniond().rotateXYZ(angle, angle * 0.3, -angle);
                float[] xyzw = {(float) q.x, (float) q.y, (float) q.z, (float) q.w};
                System.arraycopy(xyzw, 0, values, f * 4, 4);
            }
            Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, values, 4, Storage.FLOAT);
            channels.add(new Channel(j, Channel.Path.ROTATION, sampler, "", Passthrough.NONE));
        }
        return new Clip("clip_" + number, channels, 30, true, true, Passthrough.NONE);
    }
}
