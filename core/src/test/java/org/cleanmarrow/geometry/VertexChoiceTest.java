package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.surface.MeshTopology;
import org.testng.annotations.Test;

/** Every way of choosing against the plainest possible search for the same. */
public class VertexChoiceTest {
    private static BitSet some(int count, long seed) {
        Random random = new Random(seed);
        BitSet out = new BitSet();
        for (int v = 0; v < count; v++) {
            if (random.nextInt(5) == 0) {
                out.set(v);
            }
        }
        return out;
    }

    @Test
    public void invertedTwiceIsTheSameAndNothingIsInBoth() {
        Mesh mesh = RandomAssets.of(5).meshes().getFirst();
        BitSet chosen = some(mesh.vertexCount(), 1);
        BitSet other = VertexChoice.inverted(mesh, chosen);
        assertThat(other.intersects(chosen)).isFalse();
        assertThat(other.cardinality() + chosen.cardinality()).isEqualTo(mesh.vertexCount());
        assertThat(VertexChoice.inverted(mesh, other)).isEqualTo(chosen);
    }

    @Test
    public void movedByAJointOverAWeight() {
        Mesh mesh = RandomAssets.of(6).meshes().getFirst();
        var rows = mesh.primitives().getFirst().influences();
        for (double over : new double[] {0, 0.2, 0.6}) {
            BitSet found = VertexChoice.moved(mesh, 1, over);
            for (int v = 0; v < rows.vertexCount(); v++) {
                double weight = 0;
                for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                    weight += rows.joints()[i] == 1 ? rows.weights()[i] : 0;
                }
                assertThat(found.get(v))
                        .as("vertex %d, weight %f over %f", v, weight, over)
                        .isEqualTo(weight > over);
            }
        }
    }

    private static Primitive piece(int material, float... positions) {
        int[] corners = new int[positions.length / 3];
        for (int i = 0; i < corners.length; i++) {
            corners[i] = i;
        }
        return Primitive.triangles(corners, positions, null, material);
    }

    @Test
    public void sameMaterialReachesOverPrimitives() {
        Mesh mesh = Mesh.of(
                "m",
                piece(2, 0, 0, 0, 1, 0, 0, 0, 1, 0),
                piece(-1, 0, 0, 1, 1, 0, 1, 0, 1, 1),
                piece(2, 0, 0, 2, 1, 0, 2, 0, 1, 2));
        BitSet one = new BitSet();
        one.set(7);
        BitSet expected = new BitSet();
        expected.set(0, 3);
        expected.set(6, 9);
        assertThat(VertexChoice.sameMaterial(mesh, one)).isEqualTo(expected);
    }

    /** A cloud with a twin for most points across the plane that the conventions call the middle. */
    @Test
    public void mirroredFindsTheTwinAcrossTheMiddlePlane() {
        for (String code : List.of("y-up-m-rh", "z-up-cm-lh", "z-up-cm-rh-fwd-x")) {
            Conventions conventions = Conventions.parse(code).orElseThrow();
            int side = conventions.left().maxComponent();
            Random random = new Random(3);
            List<Float> points = new ArrayList<>();
            for (int i = 0; i < 40; i++) {
                float[] p = {random.nextFloat() - 0.5f, random.nextFloat() - 0.5f, random.nextFloat() - 0.5f};
                p[side] = 0.1f + Math.abs(p[side]);
                float[] q = p.clone();
                q[side] = -q[side];
                for (float x : p) {
                    points.add(x);
                }
                for (float x : i % 10 == 9 ? p : q) {
                    points.add(x);
                }
            }
            float[] all = new float[points.size()];
            for (int i = 0; i < all.length; i++) {
                all[i] = points.get(i);
            }
            Primitive cloud = new Primitive(
                    Primitive.Mode.POINTS,
                    null,
                    all,
                    null,
                    null,
                    List.of(),
                    null,
                    List.of(),
                    -1,
                    Primitive.Layout.PLAIN,
                    org.cleanmarrow.model.Passthrough.NONE);
            Asset asset = Asset.of(
                    "cloud",
                    conventions,
                    List.of(Node.group("cloud", Local.IDENTITY).withMesh(0, -1)),
                    List.of(Mesh.of("cloud", cloud)),
                    List.of(),
                    List.of());
            BitSet firsts = new BitSet();
            BitSet expected = new BitSet();
            for (int i = 0; i < 40; i++) {
                firsts.set(2 * i);
                if (i % 10 != 9) {
                    expected.set(2 * i + 1);
                }
            }
            VertexChoice.Mirrored found = VertexChoice.mirrored(asset, 0, firsts, 1e-5);
            assertThat(found.vertices()).as(code).isEqualTo(expected);
            assertThat(found.unmatched()).as(code).isEqualTo(4);
        }
    }

    @Test
    public void facesAreFoundByCornerAndWhole() {
        Mesh mesh = RandomAssets.of(9).meshes().getFirst();
        MeshTopology topology = MeshTopology.of(mesh);
        BitSet chosen = some(mesh.vertexCount(), 4);
        for (boolean whole : new boolean[] {true, false}) {
            BitSet expected = new BitSet();
            int[] c = topology.corners();
            for (int t = 0; t < c.length; t += 3) {
                int in = 0;
                for (int i = 0; i < 3; i++) {
                    in += chosen.get(c[t + i]) ? 1 : 0;
                }
                if (whole ? in == 3 : in > 0) {
                    expected.set(c[t]);
                    expected.set(c[t + 1]);
                    expected.set(c[t + 2]);
                }
            }
            assertThat(topology.facesOf(chosen, whole)).isEqualTo(expected);
        }
    }

    @Test
    public void theNearestPointIsTheNearest() {
        Random random = new Random(8);
        float[] points = new float[3 * 700];
        for (int i = 0; i < points.length; i++) {
            points[i] = (float) random.nextGaussian() * (i % 3 == 1 ? 0.02f : 1);
        }
        points[30] = Float.NaN;
        PointTree grid = new PointTree(points);
        for (int k = 0; k < 300; k++) {
            float x = (float) random.nextGaussian() * 2;
            float y = (float) random.nextGaussian();
            float z = (float) random.nextGaussian() * 3;
            int best = -1;
            double least = Double.POSITIVE_INFINITY;
            for (int v = 0; v < points.length / 3; v++) {
                double d = Math.hypot(
                        Math.hypot(points[v * 3] - (double) x, points[v * 3 + 1] - (double) y),
                        points[v * 3 + 2] - (double) z);
                if (d < least) {
                    least = d;
                    best = v;
                }
            }
            assertThat(grid.nearest(x, y, z)).isEqualTo(best);
        }
    }
}
