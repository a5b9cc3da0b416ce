package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.MeshTopology;
import org.testng.annotations.Test;

public class GeometryTest {
    /** Two quads side by side that share an edge by position only, and one apart: a seam and two shells. */
    private static Mesh seamed() {
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 1, -0f, 0, 2, 0, 0, 1, 1, 0, 2, 1, 0, 5, 0, 0, 6, 0, 0, 5, 1, 0
        };
        int[] corners = {0, 1, 2, 1, 3, 2, 4, 5, 6, 5, 7, 6, 8, 9, 10};
        return Mesh.of("m", Primitive.triangles(corners, p, null, -1));
    }

    private static BitSet set(int... numbers) {
        BitSet out = new BitSet();
        for (int n : numbers) {
            out.set(n);
        }
        return out;
    }

    @Test
    public void shellsHoldTogetherAcrossSeams() {
        MeshTopology t = MeshTopology.of(seamed());
        assertThat(t.islandCount()).isEqualTo(2);
        assertThat(t.islandsOf(set(0))).isEqualTo(set(0, 1, 2, 3, 4, 5, 6, 7));
        assertThat(t.islandsOf(set(9))).isEqualTo(set(8, 9, 10));
        assertThat(t.weldedOf(4)).as("-0 and 0 are one place").isEqualTo(1);
    }

    @Test
    public void aTopologyIsFoundOnceHoweverManyMeshesThereAre() {
        List<Mesh> meshes = new ArrayList<>();
        List<MeshTopology> found = new ArrayList<>();
        for (int i = 0; i < 60; i++) {
            meshes.add(seamed());
            found.add(MeshTopology.of(meshes.get(i)));
        }
        for (int i = 0; i < 60; i++) {
            // Another mesh of the same arrays, as after a change of weights or name.
            assertThat(MeshTopology.of(meshes.get(i).withName("again"))).isSameAs(found.get(i));
        }
        assertThat(found).doesNotHaveDuplicates();
        Primitive p = meshes.getFirst().primitives().getFirst();
        Mesh points = Mesh.of("points", p.withIndices(Primitive.Mode.POINTS, p.indices()));
        assertThat(MeshTopology.of(points).corners()).isEmpty();
        assertThat(MeshTopology.of(meshes.getFirst()).corners()).hasSize(15);
    }

    @Test
    public void growingCrossesTheSeamAndShrinkingUndoesIt() {
        MeshTopology t = MeshTopology.of(seamed());
        assertThat(t.grown(set(0))).isEqualTo(set(0, 1, 2, 4));
        assertThat(t.shrunk(set(0, 1, 2, 3, 4, 6))).isEqualTo(set(0, 2));
        assertThat(t.neighboursOf(1)).containsExactlyInAnyOrder(0, 2, 3, 5);
    }

    @Test
    public void topologyIsBlindToWindingAndPlaceButNotToConnection() {
        Mesh mesh = seamed();
        Primitive p = mesh.primitives().getFirst();
        int[] turned = p.indices().clone();
        turned[0] = 2;
        turned[2] = 0;
        float[] moved = p.positions().clone();
        moved[0] += 1;
        long hash = MeshTopology.of(mesh).hash();
        assertThat(MeshTopology.of(Mesh.of("m", Primitive.triangles(turned, moved, null, -1)))
                        .hash())
                .isEqualTo(hash);
        int[] other = p.indices().clone();
        other[0] = 3;
        assertThat(MeshTopology.of(Mesh.of("m", Primitive.triangles(other, moved, null, -1)))
                        .hash())
                .isNotEqualTo(hash);
    }

    @Test
    public void stripsAndFansAreSpelledOutAsTheStandardSays() {
        // glTF 2.0, 3.7.2.1: strip triangle i is (v i, v i+1+(i mod 2), v i+2-(i mod 2)); fan triangle i is (v i+1, v
        // i+2, v 0).
        float[] p = new float[15];
        Primitive strip = Primitive.triangles(null, p, null, -1)
                .withIndices(Primitive.Mode.TRIANGLE_STRIP, new int[] {0, 1, 2, 3, 4});
        assertThat(strip.triangleCorners()).containsExactly(0, 1, 2, 1, 3, 2, 2, 3, 4);
        Primitive fan =
                Primitive.triangles(null, p, null, -1).withIndices(Primitive.Mode.TRIANGLE_FAN, new int[] {4, 1, 2, 3});
        assertThat(fan.triangleCorners()).containsExactly(4, 1, 2, 4, 2, 3);
    }

    /** The tree against every triangle in turn, on the shape it was built on and on a moved one after refitting. */
    @Test
    public void pickingAgreesWithTryingEveryTriangle() {
        Random random = new Random(11);
        int vertices = 3000;
        int[] corners = new int[200_000 * 3];
        float[] positions = new float[vertices * 3];
        for (int i = 0; i < positions.length; i++) {
            positions[i] = random.nextFloat();
        }
        for (int i = 0; i < corners.length; i++) {
            int base = corners.length > 0 && i % 3 > 0 ? corners[i - i % 3] : random.nextInt(vertices);
            corners[i] = i % 3 == 0 ? base : Math.min(vertices - 1, base + random.nextInt(40));
        }
        TriangleTree tree = new TriangleTree(corners, positions);
        compare(tree, corners, positions, random);
        float[] moved = positions.clone();
        for (int i = 0; i < moved.length; i++) {
            moved[i] = moved[i] * 1.7f + random.nextFloat() * 0.3f;
        }
        tree.refit(moved);
        compare(tree, corners, moved, random);
    }

    private static void compare(TriangleTree tree, int[] corners, float[] p, Random random) {
        int hits = 0;
        for (int r = 0; r < 60; r++) {
            float[] o = {random.nextFloat() * 1.4f - 0.2f, random.nextFloat() * 1.4f - 0.2f, -2};
            float[] d = {random.nextFloat() * 0.2f - 0.1f, random.nextFloat() * 0.2f - 0.1f, 1};
            if (r % 4 == 0) {
                d[0] = 0;
                d[1] = 0;
            }
            double expected = nearest(corners, p, o, d);
            TriangleTree.Hit hit = tree.nearest(o, d, t -> true);
            if (Double.isInfinite(expected)) {
                assertThat(hit).isNull();
            } else {
                hits++;
                assertThat((double) hit.distance()).isCloseTo(expected, within(1e-4));
            }
        }
        assertThat(hits).isGreaterThan(20);
    }

    /** By solving the three equations of point and plane in double for each triangle. */
    private static double nearest(int[] corners, float[] p, float[] o, float[] d) {
        double best = Double.POSITIVE_INFINITY;
        for (int t = 0; t < corners.length; t += 3) {
            org.joml.Vector3d a = at(p, corners[t]);
            org.joml.Vector3d e1 = at(p, corners[t + 1]).sub(a);
            org.joml.Vector3d e2 = at(p, corners[t + 2]).sub(a);
            org.joml.Matrix3d m = new org.joml.Matrix3d(e1, e2, new org.joml.Vector3d(-d[0], -d[1], -d[2]));
            if (Math.abs(m.determinant()) < 1e-12) {
                continue;
            }
            org.joml.Vector3d s = m.invert().transform(new org.joml.Vector3d(o[0], o[1], o[2]).sub(a));
            if (s.x >= 0 && s.y >= 0 && s.x + s.y <= 1 && s.z > 0) {
                best = Math.min(best, s.z);
            }
        }
        return best;
    }

    private static org.joml.Vector3d at(float[] p, int v) {
        return new org.joml.Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    }
}
