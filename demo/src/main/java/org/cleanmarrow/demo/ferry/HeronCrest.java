package org.cleanmarrow.demo.ferry;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.shape.Blocks;
import org.cleanmarrow.demo.shape.Paint;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.joml.Vector3d;

/** The crest of the marsh heron: 240 strands of nine points on a head, as a groom leaves them, lines that no engine draws. */
public final class HeronCrest {
    private static final int STRANDS = 240;
    private static final int POINTS = 9;

    private HeronCrest() {}

    public static List<PlantedFault> faults() {
        return List.of(new PlantedFault("strands-bare", "crest is lines alone", 1));
    }

    public static Asset asset() {
        Shell head = Shell.turned(
                        new Vector3d(0, -0.045, 0),
                        32,
                        0.001,
                        0,
                        0.02,
                        0.004,
                        0.036,
                        0.02,
                        0.042,
                        0.045,
                        0.036,
                        0.07,
                        0.02,
                        0.086,
                        0.001,
                        0.09)
                .smoothNormals();
        List<Node> nodes = List.of(
                Node.group("head", Local.at(0, 1, 0), 1).withMesh(0, -1),
                Node.group("crest", Local.IDENTITY).withMesh(1, -1));
        return Asset.of(
                        "heron-crest",
                        Conventions.GLTF,
                        nodes,
                        List.of(Mesh.of("head", new Blocks().shell(head).primitive(0)), Mesh.of("crest", crest())),
                        List.of(),
                        List.of())
                .withMaterials(List.of(
                        Paint.of("heron_grey", 0.32f, 0.36f, 0.4f), Paint.of("crest_black", 0.03f, 0.03f, 0.04f)));
    }

    private static Primitive crest() {
        Random random = new Random(240);
        float[] p = new float[3 * STRANDS * POINTS];
        int[] pairs = new int[2 * STRANDS * (POINTS - 1)];
        int end = 0;
        for (int s = 0; s < STRANDS; s++) {
            // Over the crown, swept back and falling with their weight.
            double across = random.nextGaussian() * 0.35;
            double back = random.nextDouble();
            Vector3d root = new Vector3d(StrictMath.sin(across), 0.9, -0.9 * back + 0.3)
                    .normalize()
                    .mul(0.043);
            Vector3d way = new Vector3d(root).normalize().add(0, 0.2, -1.1).normalize();
            double length = 0.09 + 0.09 * random.nextDouble();
            Vector3d at = new Vector3d(root);
            for (int i = 0; i < POINTS; i++) {
                int v = s * POINTS + i;
                p[3 * v] = (float) at.x;
                p[3 * v + 1] = (float) at.y;
                p[3 * v + 2] = (float) at.z;
                if (i > 0) {
                    pairs[end++] = v - 1;
                    pairs[end++] = v;
                }
                at.fma(length / (POINTS - 1), way);
                way.add(0, -0.16, 0).normalize();
            }
        }
        return Primitive.triangles(new int[0], p, null, 1).withIndices(Primitive.Mode.LINES, Arrays.copyOf(pairs, end));
    }
}
