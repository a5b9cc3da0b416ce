package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.surface.CornerNormals;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Normals against worked values and against another library's. */
public class NormalsTest {
    private static final int[][] SIDES = {
        {0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}
    };

    /** A cube of edge 2 about the origin with eight vertices; each side cut along one diagonal. */
    private static Primitive cube(boolean polygons) {
        float[] p = new float[24];
        for (int v = 0; v < 8; v++) {
            p[3 * v] = (v & 1) * 2 - 1;
            p[3 * v + 1] = (v >> 1 & 1) * 2 - 1;
            p[3 * v + 2] = (v >> 2 & 1) * 2 - 1;
        }
        int[] corners = Arrays.stream(SIDES)
                .flatMapToInt(s -> Arrays.stream(new int[] {s[0], s[1], s[2], s[0], s[2], s[3]}))
                .toArray();
        Primitive plain = Primitive.triangles(corners, p, null, -1);
        if (!polygons) {
            return plain;
        }
        int[] starts = {0, 4, 8, 12, 16, 20, 24};
        int[] round = Arrays.stream(SIDES).flatMapToInt(Arrays::stream).toArray();
        return plain.withLayout(
                Primitive.Layout.PLAIN.withFaces(new Faces(starts, round, null, null, null, List.of())));
    }

    private static Asset asset(Primitive... primitives) {
        return Asset.of(
                "shape",
                Conventions.GLTF,
                List.of(Node.group("shape", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("shape", primitives)),
                List.of(),
                List.of());
    }

    private static Primitive done(Primitive p, RecomputeNormals step) throws Refused {
        return step.apply(asset(p), Work.QUIET)
                .asset()
                .meshes()
                .getFirst()
                .primitives()
                .getFirst();
    }

    private static Vector3d at(float[] values, int v) {
        return new Vector3d(values[3 * v], values[3 * v + 1], values[3 * v + 2]);
    }

    /** By the angle of the corner a cube's normals are along its diagonals however its sides are cut; by area alone they are not. */
    @Test
    public void aSmoothCubePointsAlongItsDiagonals() throws Exception {
        for (CornerNormals.Weighting by : List.of(CornerNormals.Weighting.ANGLE, CornerNormals.Weighting.BOTH)) {
            Primitive smooth = done(cube(false), new RecomputeNormals("shape", 180, false, by));
            assertThat(smooth.vertexCount()).isEqualTo(8);
            for (int v = 0; v < 8; v++) {
                Vector3d meant = at(smooth.positions(), v).normalize();
                assertThat(at(smooth.normals(), v).distance(meant))
                        .as(by + " " + v)
                        .isLessThan(1e-6);
            }
        }
        Primitive byArea = done(cube(false), new RecomputeNormals("shape", 180, false, CornerNormals.Weighting.AREA));
        boolean some = false;
        for (int v = 0; v < 8; v++) {
            some |= at(byArea.normals(), v).distance(at(byArea.positions(), v).normalize()) > 0.1;
        }
        assertThat(some).isTrue();
    }

    @Test
    public void aHardCubeHasFourCornersASideAndKeepsItsSquares() throws Exception {
        Primitive hard = done(cube(true), new RecomputeNormals("shape", 60));
        assertThat(hard.vertexCount()).isEqualTo(24);
        int[] corners = hard.triangleCorners();
        for (int t = 0; t < 12; t++) {
            Vector3d a = at(hard.positions(), corners[3 * t]);
            Vector3d flat = at(hard.positions(), corners[3 * t + 1])
                    .sub(a)
                    .cross(at(hard.positions(), corners[3 * t + 2]).sub(a))
                    .normalize();
            for (int i = 0; i < 3; i++) {
                assertThat(at(hard.normals(), corners[3 * t + i]).distance(flat))
                        .isLessThan(1e-6);
            }
        }
        // The first vertices are those that were, in their order; the squares are squares still.
        assertThat(Arrays.copyOf(hard.positions(), 24)).isEqualTo(cube(true).positions());
        Faces faces = hard.layout().faces();
        assertThat(faces).isNotNull();
        assertThat(faces.beyondTriangles()).isEqualTo(6);
        for (int c = 0; c < 24; c++) {
            Vector3d was = at(cube(true).positions(), SIDES[c / 4][c % 4]);
            assertThat(at(hard.positions(), faces.corners()[c])).isEqualTo(was);
        }
        // An edge of the very angle is not hard; one over it is.
        assertThat(done(cube(true), new RecomputeNormals("shape", 90)).vertexCount())
                .isEqualTo(8);
        assertThat(done(cube(true), new RecomputeNormals("shape", 89.9)).vertexCount())
                .isEqualTo(24);
    }

    /** Between two like sides of a cone of radius r and height h the normal is (h outwards, r upwards), as on the true cone. */
    @Test
    public void aConesRimPointsAsTheConeDoes() throws Exception {
        int n = 16;
        double r = 0.7;
        double h = 1.9;
        float[] p = new float[3 * (n + 2)];
        int[] corners = new int[6 * n];
        for (int i = 0; i < n; i++) {
            p[3 * i] = (float) (r * Math.cos(2 * Math.PI * i / n));
            p[3 * i + 2] = (float) (-r * Math.sin(2 * Math.PI * i / n));
            int[] two = {i, (i + 1) % n, n, (i + 1) % n, i, n + 1};
            System.arraycopy(two, 0, corners, 6 * i, 6);
        }
        p[3 * n + 1] = (float) h;
        Primitive cone = done(Primitive.triangles(corners, p, null, -1), new RecomputeNormals("shape", 60));
        // The rim is hard, sides and tip are not: a second vertex each for the floor.
        assertThat(cone.vertexCount()).isEqualTo(2 * n + 2);
        double length = Math.hypot(h, r);
        int side = 0;
        int floor = 0;
        for (int v = 0; v < cone.vertexCount(); v++) {
            Vector3d at = at(cone.positions(), v);
            Vector3d normal = at(cone.normals(), v);
            if (Math.abs(Math.hypot(at.x, at.z) - r) < 1e-6) {
                Vector3d meant = new Vector3d(h * at.x / r, r, h * at.z / r).div(length);
                boolean up = normal.y > 0;
                side += up ? 1 : 0;
                floor += up ? 0 : 1;
                assertThat(normal.distance(up ? meant : new Vector3d(0, -1, 0))).isLessThan(1e-5);
            }
        }
        assertThat(side).isEqualTo(n);
        assertThat(floor).isEqualTo(n);
        assertThat(at(cone.normals(), n).distance(0, 1, 0)).isLessThan(1e-5);
    }

    /** A texture seam has two vertices on each place, and is as smooth as the rest. */
    @Test
    public void aSeamGetsOneNormalAndAHardEdgeThatWasIsKeptOnDemand() throws Exception {
        float[] p = {0, 0, 0, 0, 1, 0, 1, 0, 0.2f, 0, 0, 0, 0, 1, 0, -1, 0, 0.2f};
        int[] corners = {0, 2, 1, 3, 4, 5};
        float[] apart = {0, 0, 1, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 1, 0, 0};
        Primitive seam = Primitive.triangles(corners, p, apart, -1);
        Primitive smooth = done(seam, new RecomputeNormals("shape", 60));
        assertThat(smooth.vertexCount()).isEqualTo(6);
        assertThat(at(smooth.normals(), 0)).isEqualTo(at(smooth.normals(), 3));
        assertThat(at(smooth.normals(), 1)).isEqualTo(at(smooth.normals(), 4));
        Primitive kept = done(seam, new RecomputeNormals("shape", 60, true, CornerNormals.Weighting.BOTH));
        assertThat(at(kept.normals(), 0).distance(at(kept.normals(), 3))).isGreaterThan(0.1);
    }

    @Test
    public void byAreaTheyAreAnotherLibrarys() throws Exception {
        Random random = new Random(5);
        float[] p = new float[3 * 400];
        for (int i = 0; i < p.length; i++) {
            p[i] = (float) random.nextGaussian();
        }
        // A height field: every edge is shared by two triangles at most, and all run the same way round.
        int side = 20;
        int[] corners = new int[6 * (side - 1) * (side - 1)];
        int end = 0;
        for (int x = 0; x < side - 1; x++) {
            for (int y = 0; y < side - 1; y++) {
                int a = x * side + y;
                int[] two = {a, a + side, a + 1, a + 1, a + side, a + side + 1};
                System.arraycopy(two, 0, corners, end, 6);
                end += 6;
            }
        }
        Path file = Files.createTempFile("normals", ".json");
        Files.writeString(file, JsonMapper.shared().writeValueAsString(Map.of("positions", p, "corners", corners)));
        JsonNode theirs = JsonMapper.shared().readTree(Witness.node("normals.mjs", file.toString()));
        Mesh mesh = Mesh.of("field", Primitive.triangles(corners, p, null, -1));
        CornerNormals found = CornerNormals.of(MeshTopology.of(mesh), p, 180, null, null);
        float[] fans = found.of(p, CornerNormals.Weighting.AREA);
        for (int c = 0; c < corners.length; c++) {
            for (int k = 0; k < 3; k++) {
                assertThat((double) fans[3 * found.fanOf(c) + k])
                        .isCloseTo(theirs.path(3 * corners[c] + k).doubleValue(), within(2e-6));
            }
        }
        Files.delete(file);
    }

    /** What is kept by vertex goes along where one becomes two, and shapes get normals of their own. */
    @Test
    public void everythingGoesAlongWithASplitVertex() throws Exception {
        Primitive cube = cube(false);
        float[] wider = new float[24];
        for (int v = 0; v < 8; v++) {
            wider[3 * v] = cube.positions()[3 * v + 1];
        }
        float[] numbers = {0, 1, 2, 3, 4, 5, 6, 7};
        float[] flat = new float[24];
        Arrays.fill(flat, 0);
        for (int v = 0; v < 8; v++) {
            flat[3 * v + 2] = 1;
        }
        float[] tangents = new float[32];
        for (int v = 0; v < 8; v++) {
            tangents[4 * v] = 1;
            tangents[4 * v + 3] = -1;
        }
        Primitive rich = cube.withAttributes(List.of(new Attribute("_NUMBER", 1, numbers, Storage.FLOAT)))
                .withShape(
                        cube.positions(),
                        flat,
                        tangents,
                        List.of(new MorphTarget(wider, new float[24], null, List.of())));
        Primitive hard = done(rich, new RecomputeNormals("shape", 40));
        assertThat(hard.vertexCount()).isEqualTo(24);
        float[] own = hard.attribute("_NUMBER").orElseThrow().values();
        MorphTarget target = hard.targets().getFirst();
        int[] corners = hard.triangleCorners();
        for (int v = 0; v < 24; v++) {
            assertThat(at(hard.positions(), v)).isEqualTo(at(cube.positions(), (int) own[v]));
            Vector3d normal = at(hard.normals(), v);
            Vector3d tangent =
                    new Vector3d(hard.tangents()[4 * v], hard.tangents()[4 * v + 1], hard.tangents()[4 * v + 2]);
            assertThat(hard.tangents()[4 * v + 3]).isEqualTo(-1);
            // The tangent had been along x: on the two sides that face along it there is no better one.
            assertThat(Math.abs(normal.x) > 0.9 || Math.abs(tangent.dot(normal)) < 1e-6)
                    .isTrue();
        }
        for (int t = 0; t < 12; t++) {
            Vector3d[] moved = new Vector3d[3];
            for (int i = 0; i < 3; i++) {
                int v = corners[3 * t + i];
                moved[i] = at(hard.positions(), v).add(at(target.positions(), v));
            }
            Vector3d meant = moved[1].sub(moved[0], new Vector3d())
                    .cross(moved[2].sub(moved[0], new Vector3d()))
                    .normalize();
            int v = corners[3 * t];
            assertThat(at(hard.normals(), v).add(at(target.normals(), v)).distance(meant))
                    .isLessThan(1e-5);
        }
    }

    @Test
    public void whatCannotBeComputedIsRefused() {
        assertThatThrownBy(() -> done(cube(false), new RecomputeNormals("shape", 181)))
                .hasMessageContaining("0 to 180");
        assertThatThrownBy(() -> done(cube(false), new RecomputeNormals("other", 60)))
                .hasMessageContaining("other");
        Primitive broken = cube(false);
        float[] p = broken.positions().clone();
        p[4] = Float.NaN;
        assertThatThrownBy(() -> done(broken.withShape(p, null, null, List.of()), new RecomputeNormals("shape", 60)))
                .hasMessageContaining("no numbers");
    }

    /** A sliver without area says no direction: its vertices keep what they had, and it joins no two sides. */
    @Test
    public void aSliverIsLeftAndLinksNothing() throws Exception {
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5, 6, 6, 6, 7, 7, 7};
        float[] had = new float[18];
        for (int v = 0; v < 6; v++) {
            had[3 * v + 1] = 1;
        }
        Primitive out =
                done(Primitive.triangles(new int[] {0, 1, 2, 3, 4, 5}, p, had, -1), new RecomputeNormals("*", 60));
        assertThat(at(out.normals(), 0)).isEqualTo(new Vector3d(0, 0, 1));
        assertThat(at(out.normals(), 4)).isEqualTo(new Vector3d(0, 1, 0));
    }
}
