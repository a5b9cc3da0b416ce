package org.cleanmarrow.demo.ferry;

import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Paint;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * The pennant of the mooring on its staff, and the cloth as it came back from a simulation: clip <i>flutter</i> begins at rest, in
 * millimetres and with Z up where the rest is in metres with Y up, 12..84 at 24 a second.
 */
public final class MooringPennant {
    private static final int COLUMNS = 26;
    private static final int ROWS = 10;
    private static final double LENGTH = 1.1;
    private static final double HEIGHT = 0.34;
    private static final double RATE = 24;
    private static final int LATE = 12;
    private static final int FRAMES = 72;

    private MooringPennant() {}

    public static List<PlantedFault> faults() {
        return List.of(new PlantedFault("cache-unit", "flutter came back in millimetres", 1));
    }

    public static Asset asset() {
        Primitive cloth = cloth();
        List<Node> nodes = List.of(
                Node.group("staff", Local.at(0, 0, 0), 1).withMesh(0, -1),
                Node.group("pennant", Local.at(0.02, 2.1, 0)).withMesh(1, -1));
        List<Mesh> meshes = List.of(
                Mesh.of(
                        "staff",
                        new Blocks()
                                .box(0, 1.25, 0, 0.02, 1.25, 0.02)
                                .box(0, 2.53, 0, 0.035, 0.035, 0.035)
                                .primitive(0)),
                Mesh.of("pennant", cloth));
        float[] times = new float[FRAMES + 1];
        for (int k = 0; k <= FRAMES; k++) {
            times[k] = (float) ((LATE + k) / RATE);
        }
        VertexTrack track = VertexTrack.of(
                times,
                CacheBake.frames(cloth.vertexCount(), times.length, Work.QUIET, (k, out) -> blown(cloth, k, out)));
        Channel channel = new Channel(1, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        Clip flutter = new Clip("flutter", List.of(channel), RATE, false, true, List.of(), Passthrough.NONE);
        return Asset.of("mooring-pennant", Conventions.GLTF, nodes, meshes, List.of(), List.of(flutter))
                .withMaterials(List.of(
                        Paint.of("tarred_oak", 0.16f, 0.11f, 0.07f), Paint.of("signal_cloth", 0.62f, 0.16f, 0.06f)));
    }

    private static Primitive cloth() {
        Shell shell = new Shell();
        for (int side = 0; side < 2; side++) {
            for (int c = 0; c <= COLUMNS; c++) {
                for (int r = 0; r <= ROWS; r++) {
                    double x = LENGTH * c / COLUMNS;
                    // Towards its end it runs to a point.
                    double y = HEIGHT * (0.5 - (double) r / ROWS) * (1 - 0.7 * c / COLUMNS);
                    shell.add(new Vector3d(x, y, side == 0 ? 0.002 : -0.002), new Vector3d(0, 0, side == 0 ? 1 : -1));
                }
            }
        }
        int half = (COLUMNS + 1) * (ROWS + 1);
        for (int c = 0; c < COLUMNS; c++) {
            for (int r = 0; r < ROWS; r++) {
                int a = c * (ROWS + 1) + r;
                shell.quad(a, a + 1, a + ROWS + 2, a + ROWS + 1);
                shell.quad(half + a, half + a + ROWS + 1, half + a + ROWS + 2, half + a + 1);
            }
        }
        Primitive plain = new Blocks().shell(shell).primitive(1);
        return plain.withAttributes(List.of(new Attribute("TEXCOORD_0", 2, painted(plain), Storage.FLOAT)));
    }

    /** Each side drawn out to a rectangle of the picture, so that bands across it are bands; the back as whoever stands there sees it. */
    private static float[] painted(Primitive cloth) {
        float[] out = new float[2 * cloth.vertexCount()];
        for (int v = 0; v < cloth.vertexCount(); v++) {
            boolean front = v < cloth.vertexCount() / 2;
            int number = v % (cloth.vertexCount() / 2);
            double along = (double) (number / (ROWS + 1)) / COLUMNS;
            double across = (double) (number % (ROWS + 1)) / ROWS;
            out[2 * v] = (float) (0.03 + 0.94 * (front ? along : 1 - along));
            out[2 * v + 1] = (float) ((front ? 0.12 : 0.56) + 0.32 * across);
        }
        return out;
    }

    /** From rest into waves that run along it, its length kept; then as another program writes it: in millimetres, Z up. */
    private static void blown(Primitive cloth, int frame, float[] out) {
        double strength = Math.min(1, frame / 20.0);
        double[] bend = new double[COLUMNS + 1];
        double[] along = new double[COLUMNS + 1];
        for (int c = 1; c <= COLUMNS; c++) {
            double s = (c - 0.5) / COLUMNS;
            double angle = strength * 0.75 * Math.sqrt(s) * StrictMath.sin(0.42 * frame - 7 * s);
            bend[c] = bend[c - 1] + StrictMath.sin(angle) * LENGTH / COLUMNS;
            along[c] = along[c - 1] + StrictMath.cos(angle) * LENGTH / COLUMNS;
        }
        float[] p = cloth.positions();
        for (int v = 0; v < cloth.vertexCount(); v++) {
            int c = (int) Math.rint(p[3 * v] / LENGTH * COLUMNS);
            double x = along[c];
            double y = p[3 * v + 1] - strength * 0.05 * c * c / (double) (COLUMNS * COLUMNS);
            double z = p[3 * v + 2] + bend[c];
            out[3 * v] = (float) (1000 * x);
            out[3 * v + 1] = (float) (-1000 * z);
            out[3 * v + 2] = (float) (1000 * y);
        }
    }
}
