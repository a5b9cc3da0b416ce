package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Paint;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Ice on the ferry's river, broken into 60 closed floes that drift off and tip: a vertex cache as a simulation leaves it, clip
 * <i>break_up</i> 0..72 at 24 a second.
 */
public final class RiverIce {
    private static final int ACROSS = 10;
    private static final int DOWN = 6;
    private static final double FLOE = 0.9;
    private static final double THICK = 0.16;
    private static final double RATE = 24;
    private static final int FRAMES = 72;

    private RiverIce() {}

    public static List<PlantedFault> faults() {
        return List.of();
    }

    public static Asset asset() {
        Random random = new Random(60);
        Vector3d[][] corners = new Vector3d[ACROSS + 1][DOWN + 1];
        for (int i = 0; i <= ACROSS; i++) {
            for (int j = 0; j <= DOWN; j++) {
                corners[i][j] = new Vector3d(
                        (i - ACROSS / 2.0 + 0.5 * (random.nextDouble() - 0.5)) * FLOE,
                        0,
                        (j - DOWN / 2.0 + 0.5 * (random.nextDouble() - 0.5)) * FLOE);
            }
        }
        Shell shell = new Shell();
        List<Vector3d> middles = new ArrayList<>();
        List<Integer> floes = new ArrayList<>();
        for (int i = 0; i < ACROSS; i++) {
            for (int j = 0; j < DOWN; j++) {
                Vector3d[] round = {corners[i][j], corners[i][j + 1], corners[i + 1][j + 1], corners[i + 1][j]};
                middles.add(floe(shell, round));
                for (int v = 0; v < 24; v++) {
                    floes.add(middles.size() - 1);
                }
            }
        }
        Primitive ice = new Blocks().shell(shell).primitive(0);
        float[] times = new float[FRAMES + 1];
        for (int k = 0; k <= FRAMES; k++) {
            times[k] = (float) (k / RATE);
        }
        Vector3d[] axes = new Vector3d[middles.size()];
        double[] begins = new double[axes.length];
        for (int f = 0; f < axes.length; f++) {
            axes[f] =
                    new Vector3d(random.nextGaussian(), 0.4 * random.nextGaussian(), random.nextGaussian()).normalize();
            begins[f] = 6 + 3 * Math.abs(middles.get(f).x) + 6 * random.nextDouble();
        }
        VertexTrack track =
                VertexTrack.of(times, CacheBake.frames(ice.vertexCount(), times.length, Work.QUIET, (k, out) -> {
                    for (int v = 0; v < ice.vertexCount(); v++) {
                        int f = floes.get(v);
                        Vector3d m = middles.get(f);
                        double t = Math.max(0, k - begins[f]) / RATE;
                        Vector3d at = new Matrix4d()
                                .translate(0.45 * t * t, -0.05 * t + 0.04 * StrictMath.sin(3 * t + f), 0.12 * t * m.z)
                                .translate(m)
                                .rotate(0.35 * StrictMath.sin(1.4 * t) + 0.1 * t, axes[f])
                                .translate(-m.x, -m.y, -m.z)
                                .transformPosition(new Vector3d(
                                        ice.positions()[3 * v],
                                        ice.positions()[3 * v + 1],
                                        ice.positions()[3 * v + 2]));
                        out[3 * v] = (float) at.x;
                        out[3 * v + 1] = (float) at.y;
                        out[3 * v + 2] = (float) at.z;
                    }
                }));
        Channel channel = new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        Clip clip = new Clip("break_up", List.of(channel), RATE, false, true, List.of(), Passthrough.NONE);
        return Asset.of(
                        "river-ice",
                        Conventions.GLTF,
                        List.of(Node.group("ice", Local.IDENTITY).withMesh(0, -1)),
                        List.of(Mesh.of("ice", ice)),
                        List.of(),
                        List.of(clip))
                .withMaterials(List.of(Paint.of("river_ice", 0.55f, 0.66f, 0.7f)));
    }

    /** A closed block below its top, a little smaller than its place so that floes do not touch; its middle is given back. */
    private static Vector3d floe(Shell shell, Vector3d[] round) {
        Vector3d middle = new Vector3d();
        for (Vector3d c : round) {
            middle.add(c.x / 4, c.y / 4, c.z / 4);
        }
        Vector3d[] top = new Vector3d[4];
        Vector3d[] floor = new Vector3d[4];
        for (int c = 0; c < 4; c++) {
            top[c] = new Vector3d(middle).lerp(round[c], 0.96);
            floor[c] = new Vector3d(middle).lerp(round[c], 0.88).sub(0, THICK, 0);
        }
        side(shell, top[0], top[1], top[2], top[3]);
        side(shell, floor[3], floor[2], floor[1], floor[0]);
        for (int c = 0; c < 4; c++) {
            int d = (c + 1) % 4;
            side(shell, top[d], top[c], floor[c], floor[d]);
        }
        return middle.sub(0, THICK / 2, 0);
    }

    private static void side(Shell shell, Vector3d a, Vector3d b, Vector3d c, Vector3d d) {
        Vector3d n = new Vector3d(b).sub(a).cross(new Vector3d(d).sub(a)).normalize();
        int first = shell.add(a, n);
        shell.add(b, n);
        shell.add(c, n);
        shell.add(d, n);
        shell.quad(first, first + 1, first + 2, first + 3);
    }
}
