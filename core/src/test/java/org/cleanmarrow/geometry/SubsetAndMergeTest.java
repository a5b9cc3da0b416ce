package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.surface.Simplifier;
import org.cleanmarrow.surface.Subset;
import org.testng.annotations.Test;

/** Parts of primitives and primitives put together: every vertex keeps what it had. */
public class SubsetAndMergeTest {
    private static Primitive figure() {
        return RandomAssets.of(5).meshes().getFirst().primitives().getFirst();
    }

    @Test
    public void aSubsetKeepsEverythingOfItsVertices() {
        Primitive p = figure();
        int[] corners = Arrays.copyOf(p.triangleCorners(), p.triangleCorners().length / 6 * 3);
        Primitive part = Subset.ofTriangles(p, corners);
        int[] used = Arrays.stream(corners).distinct().sorted().toArray();
        assertThat(part.vertexCount()).isEqualTo(used.length);
        assertThat(part.indices()).hasSameSizeAs(corners);
        for (int i = 0; i < corners.length; i++) {
            int v = part.indices()[i];
            int was = corners[i];
            for (int d = 0; d < 3; d++) {
                assertThat(part.positions()[v * 3 + d]).isEqualTo(p.positions()[was * 3 + d]);
                assertThat(part.normals()[v * 3 + d]).isEqualTo(p.normals()[was * 3 + d]);
                assertThat(part.targets().getFirst().positions()[v * 3 + d])
                        .isEqualTo(p.targets().getFirst().positions()[was * 3 + d]);
            }
            assertThat(part.influences().rowLength(v)).isEqualTo(p.influences().rowLength(was));
            assertThat(part.influences().sum(v)).isEqualTo(p.influences().sum(was));
        }
        // Order is that of the whole.
        for (int v = 1; v < used.length; v++) {
            assertThat(used[v]).isGreaterThan(used[v - 1]);
        }
    }

    private static Primitive square(double x, int material, boolean uv, boolean colour) {
        float[] p = {(float) x, 0, 0, (float) x + 1, 0, 0, (float) x + 1, 1, 0, (float) x, 1, 0};
        List<Attribute> attributes = new ArrayList<>();
        if (uv) {
            attributes.add(new Attribute("TEXCOORD_0", 2, new float[] {0, 0, 1, 0, 1, 1, 0, 1}, Storage.FLOAT));
        }
        if (colour) {
            attributes.add(new Attribute("COLOR_0", 3, new float[12], Storage.FLOAT));
        }
        Primitive plain = Primitive.triangles(new int[] {0, 1, 2, 0, 2, 3}, p, null, material);
        Faces faces = new Faces(new int[] {0, 4}, new int[] {0, 1, 2, 3}, null, null, null, List.of());
        return plain.withAttributes(attributes).withLayout(plain.layout().withFaces(faces));
    }

    @Test
    public void primitivesOfOneMaterialBecomeOne() {
        List<Primitive> merged = PrimitiveMerge.byMaterial(
                List.of(square(0, 1, true, false), square(2, 0, false, false), square(4, 1, false, true)));
        assertThat(merged).hasSize(2);
        Primitive both = merged.getFirst();
        assertThat(both.material()).isEqualTo(1);
        assertThat(both.vertexCount()).isEqualTo(8);
        assertThat(both.indices()).containsExactly(0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7);
        // What one lacks is zero for coordinates, white for colours.
        float[] uv = both.attribute("TEXCOORD_0").orElseThrow().values();
        assertThat(Arrays.copyOfRange(uv, 0, 8)).containsExactly(0, 0, 1, 0, 1, 1, 0, 1);
        assertThat(Arrays.copyOfRange(uv, 8, 16)).containsOnly(0);
        float[] colour = both.attribute("COLOR_0").orElseThrow().values();
        assertThat(Arrays.copyOfRange(colour, 0, 12)).containsOnly(1);
        assertThat(Arrays.copyOfRange(colour, 12, 24)).containsOnly(0);
        assertThat(both.layout().faces().count()).isEqualTo(2);
        assertThat(both.layout().faces().corners()).containsExactly(0, 1, 2, 3, 4, 5, 6, 7);
    }

    @Test
    public void whatMorphsOrIsNoSurfaceStaysApart() {
        Primitive p = figure();
        Primitive points = new Primitive(
                Primitive.Mode.POINTS,
                null,
                new float[9],
                null,
                null,
                List.of(),
                null,
                List.of(),
                0,
                Primitive.Layout.PLAIN,
                org.cleanmarrow.model.Passthrough.NONE);
        assertThat(PrimitiveMerge.byMaterial(List.of(p, p))).hasSize(2);
        assertThat(PrimitiveMerge.byMaterial(List.of(points, points))).hasSize(2);
    }

    @Test
    public void facesTurnedRoundTwiceAreWhatTheyWere() {
        Faces faces = new Faces(
                new int[] {0, 4, 7, 12},
                new int[] {0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11},
                null,
                new int[] {1, 0, 2},
                new int[] {0, 0, 1},
                List.of("a", "b"));
        Faces turned = faces.turnedRound();
        assertThat(turned.corners()).containsExactly(0, 3, 2, 1, 4, 6, 5, 7, 11, 10, 9, 8);
        assertThat(turned.turnedRound()).isEqualTo(faces);
        assertThat(faces.beyondTriangles()).isEqualTo(2);
        assertThat(faces.addsNothing()).isFalse();
        assertThat(new Faces(new int[] {0, 3}, new int[] {0, 1, 2}, null, null, null, List.of()).addsNothing())
                .isTrue();
    }

    /** A ball of many triangles keeps its form within a part of its radius, and every vertex it keeps is an old one. */
    @Test
    public void fewerTrianglesAreStillTheBall() {
        Mesh ball = ball(60, 40);
        for (int wanted : new int[] {2400, 1200, 400}) {
            Mesh coarse = Simplifier.simplified(ball, wanted, 0).mesh();
            assertThat(coarse.triangleCount()).isBetween(wanted / 2, wanted + wanted / 10);
            Primitive p = coarse.primitives().getFirst();
            for (int v = 0; v < p.vertexCount(); v++) {
                double r = Math.sqrt(p.positions()[v * 3] * (double) p.positions()[v * 3]
                        + p.positions()[v * 3 + 1] * (double) p.positions()[v * 3 + 1]
                        + p.positions()[v * 3 + 2] * (double) p.positions()[v * 3 + 2]);
                assertThat(r).isBetween(1 - 1e-5, 1 + 1e-5);
            }
            TriangleTree tree = new TriangleTree(MeshTopology.of(coarse).corners(), p.positions());
            float[] fine = ball.primitives().getFirst().positions();
            double worst = 0;
            for (int v = 0; v < fine.length; v += 3) {
                worst = Math.max(
                        worst,
                        tree.nearestPoint(fine[v], fine[v + 1], fine[v + 2], t -> true)
                                .distance());
            }
            // A ball of n even triangles lies at most about 4.9 / n inside; uneven ones several times that.
            assertThat(worst).as(wanted + " triangles").isLessThan(40.0 / wanted);
        }
        assertThat(Simplifier.simplified(ball, 1_000_000, 0).mesh()).isSameAs(ball);
    }

    @Test
    public void piecesOfAMeshAreSimplifiedTogetherAndStayTheirOwn() {
        Mesh ball = ball(40, 30);
        Primitive p = ball.primitives().getFirst();
        int[] corners = p.triangleCorners();
        int half = corners.length / 6 * 3;
        Mesh two = ball.withPrimitives(List.of(
                Subset.ofTriangles(p, Arrays.copyOfRange(corners, 0, half)),
                Subset.ofTriangles(p, Arrays.copyOfRange(corners, half, corners.length))
                        .withMaterial(3)));
        Mesh coarse = Simplifier.simplified(two, two.triangleCount() / 2, 0).mesh();
        assertThat(coarse.primitives()).hasSize(2);
        assertThat(coarse.primitives().get(1).material()).isEqualTo(3);
        assertThat(coarse.triangleCount()).isLessThan(two.triangleCount() * 6 / 10);
    }

    private static Mesh ball(int around, int up) {
        float[] p = new float[(around * (up - 1) + 2) * 3];
        int top = around * (up - 1);
        p[top * 3 + 1] = 1;
        p[top * 3 + 4] = -1;
        List<Integer> corners = new ArrayList<>();
        for (int r = 0; r < up - 1; r++) {
            double a = Math.PI * (r + 1) / up;
            for (int i = 0; i < around; i++) {
                double b = 2 * Math.PI * i / around;
                int at = (r * around + i) * 3;
                p[at] = (float) (Math.sin(a) * Math.cos(b));
                p[at + 1] = (float) Math.cos(a);
                p[at + 2] = (float) (Math.sin(a) * Math.sin(b));
                int next = (i + 1) % around;
                if (r == 0) {
                    corners.addAll(List.of(top, next, i));
                }
                if (r == up - 2) {
                    corners.addAll(List.of(top + 1, r * around + i, r * around + next));
                } else {
                    int below = (r + 1) * around;
                    corners.addAll(List.of(r * around + i, r * around + next, below + next));
                    corners.addAll(List.of(r * around + i, below + next, below + i));
                }
            }
        }
        int[] indices = corners.stream().mapToInt(Integer::intValue).toArray();
        return Mesh.of("ball", Primitive.triangles(indices, p, p.clone(), -1));
    }
}
