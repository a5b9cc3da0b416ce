package org.cleanmarrow.uv;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import java.util.function.DoubleUnaryOperator;
import java.util.stream.IntStream;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.intake.RelaxUvs;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

public class UvTest {
    /** By tools/reference/uv.py: SciPy's connected components, clipped pairs of triangles, NumPy's singular values. */
    @Test
    public void islandsOverlapsAndStretchAreSciPys() throws Exception {
        int overlapping = 0;
        try (InputStream in = UvTest.class.getResourceAsStream("uv.json")) {
            for (JsonNode one : JsonMapper.shared().readTree(in)) {
                Mesh mesh = mesh(ints(one.path("triangles")), floats(one.path("positions")), floats(one.path("uv")));
                UvLayout layout = UvLayout.of(mesh, 0).orElseThrow();
                assertThat(layout.islandCount()).isEqualTo(one.path("islands").intValue());
                int[] island = ints(one.path("island"));
                assertThat(IntStream.range(0, island.length)
                                .allMatch(t -> IntStream.range(0, island.length)
                                        .allMatch(u -> (island[t] == island[u])
                                                == (layout.islandOf(t) == layout.islandOf(u)))))
                        .isTrue();
                UvOverlap overlap = UvOverlap.of(layout, Work.QUIET);
                assertThat(overlap.partly().stream().toArray()).isEqualTo(ints(one.path("overlapping")));
                assertThat(overlap.stacked().isEmpty()).isTrue();
                overlapping += overlap.partly().cardinality();
                UvStretch stretch = UvStretch.of(mesh, layout);
                float[] scale = floats(one.path("scale"));
                float[] shear = floats(one.path("shear"));
                for (int t = 0; t < scale.length; t++) {
                    assertThat(stretch.scale()[t]).isCloseTo(scale[t], within(1e-5f * scale[t]));
                    assertThat(stretch.shear()[t]).isCloseTo(shear[t], within(1e-4f * shear[t]));
                }
                assertThat(stretch.root()).isCloseTo(one.path("root").doubleValue(), within(1e-9));
            }
        }
        assertThat(overlapping).isGreaterThan(100);
    }

    /** A picture twice as wide as its surface: singular values 1 and 1/2, so their mean square over their product is 5/4. */
    @Test
    public void aPictureDrawnOutOneWayIsStretchedByTheRootOfFiveQuarters() {
        Mesh mesh = sheet(6, 4, u -> 2 * u, v -> v, new Random(1), 0);
        UvStretch stretch = UvStretch.of(mesh, UvLayout.of(mesh, 0).orElseThrow());
        assertThat(stretch.root()).isCloseTo(Math.sqrt(1.25), within(1e-6));
        assertThat(stretch.shear()).usingComparatorWithPrecision(1e-5f).containsOnly(2);
        assertThat(stretch.scale()).usingComparatorWithPrecision(1e-5f).containsOnly(1);
        // v goes down and the surface up: what is seen from its front is the right way round.
        assertThat(stretch.mirrored().isEmpty()).isTrue();
        Mesh turned = sheet(6, 4, u -> 1 - u, v -> v, new Random(1), 0);
        assertThat(UvStretch.of(turned, UvLayout.of(turned, 0).orElseThrow())
                        .mirrored()
                        .cardinality())
                .isEqualTo(48);
    }

    @Test
    public void whatLiesOnThePlaceOfAnotherIsStackedAndNotPartlyOver() {
        Mesh one = sheet(3, 3, u -> 0.5 * u, v -> 0.5 * v, new Random(2), 0);
        Mesh both = beside(one, one, 0, 0);
        UvOverlap same = UvOverlap.of(UvLayout.of(both, 0).orElseThrow(), Work.QUIET);
        assertThat(same.stacked().cardinality()).isEqualTo(36);
        assertThat(same.partly().isEmpty()).isTrue();
        UvOverlap shifted =
                UvOverlap.of(UvLayout.of(beside(one, one, 0.01f, 0), 0).orElseThrow(), Work.QUIET);
        assertThat(shifted.partly().cardinality()).isEqualTo(36);
        assertThat(shifted.stacked().isEmpty()).isTrue();
        // Side by side along an edge, and with another material, nothing lies over anything.
        assertThat(UvOverlap.of(UvLayout.of(beside(one, one, 0.5f, 0), 0).orElseThrow(), Work.QUIET)
                        .partly()
                        .isEmpty())
                .isTrue();
        assertThat(UvOverlap.of(UvLayout.of(beside(one, one, 0.01f, 1), 0).orElseThrow(), Work.QUIET)
                        .partly()
                        .isEmpty())
                .isTrue();
    }

    @Test
    public void twoStackedCopiesUnderAThirdAreAllSaidToOverlap() {
        Mesh one = sheet(1, 1, u -> 0.5 * u, v -> 0.5 * v, new Random(2), 0);
        UvOverlap all = UvOverlap.of(
                UvLayout.of(beside(beside(one, one, 0, 0), one, 0.1f, 0), 0).orElseThrow(), Work.QUIET);
        assertThat(all.partly().cardinality()).isEqualTo(6);
        assertThat(all.stacked().cardinality()).isEqualTo(4);
    }

    /**
     * Cotangent weights keep a flat piece as it is (Eck et al. 1995, section 3): whatever was done to the inside of a sheet that lay
     * in the picture as it lies in space, it comes back.
     */
    @Test
    public void aFlatSheetJumbledInsideComesBack() throws Exception {
        for (int seed = 0; seed < 5; seed++) {
            Mesh straight = sheet(9, 7, u -> 0.9 * u, v -> 0.9 * v, new Random(seed), 0);
            UvLayout layout = UvLayout.of(straight, 0).orElseThrow();
            float[] jumbled = layout.uv().clone();
            Random random = new Random(seed);
            for (int v = 0; v < straight.vertexCount(); v++) {
                if (!layout.isOnBorder(v)) {
                    jumbled[2 * v] += 0.03f * (random.nextFloat() - 0.5f);
                    jumbled[2 * v + 1] += 0.03f * (random.nextFloat() - 0.5f);
                }
            }
            Change change = new RelaxUvs("crate", VertexSet.ALL, 0)
                    .apply(asset(UvLayout.with(straight, 0, jumbled)), Work.QUIET);
            float[] now = uv(change);
            for (int i = 0; i < now.length; i++) {
                assertThat(now[i]).isCloseTo(layout.uv()[i], within(1e-6f));
            }
        }
    }

    /** A bump, jumbled: borders and what is not selected stay to the bit, no triangle turns over, and stretch falls. */
    @Test
    public void borderAndWhatIsNotSelectedStayToTheBit() throws Exception {
        for (int seed = 0; seed < 8; seed++) {
            Random random = new Random(seed);
            Mesh mesh = sheet(12, 12, u -> 0.9 * u, v -> 0.9 * v, random, 0.4);
            UvLayout layout = UvLayout.of(mesh, 0).orElseThrow();
            BitSet chosen = new BitSet();
            for (int v = 0; v < mesh.vertexCount(); v++) {
                chosen.set(v, random.nextInt(4) > 0);
            }
            Asset given = asset(mesh);
            Change change = new RelaxUvs("crate", VertexSet.chosen(mesh, chosen), 0).apply(given, Work.QUIET);
            float[] now = uv(change);
            int moved = 0;
            for (int v = 0; v < mesh.vertexCount(); v++) {
                boolean stays = now[2 * v] == layout.uv()[2 * v] && now[2 * v + 1] == layout.uv()[2 * v + 1];
                moved += stays ? 0 : 1;
                assertThat(stays || chosen.get(v) && !layout.isOnBorder(v)).isTrue();
            }
            assertThat(moved).isGreaterThan(40);
            Mesh after = change.asset().meshes().getFirst();
            UvStretch was = UvStretch.of(mesh, layout);
            UvStretch is = UvStretch.of(after, UvLayout.of(after, 0).orElseThrow());
            assertThat(is.mirrored()).isEqualTo(was.mirrored());
            assertThat(is.root()).isLessThan(was.root());
            assertThat(after.primitives().getFirst().positions())
                    .isSameAs(mesh.primitives().getFirst().positions());
        }
    }

    /** A border folded into itself, where straight lines to the neighbours' middle lead outside: nothing may turn over. */
    @Test
    public void insideABorderThatIsNotConvexNothingTurnsOver() throws Exception {
        DoubleUnaryOperator along = u -> u;
        Mesh flat = sheet(16, 6, along, v -> v, new Random(4), 0.3);
        float[] bent = UvLayout.of(flat, 0).orElseThrow().uv().clone();
        for (int v = 0; v < flat.vertexCount(); v++) {
            double turn = bent[2 * v] * 5.2;
            double radius = 0.08 + 0.4 * bent[2 * v + 1];
            bent[2 * v] = (float) (0.5 - radius * Math.cos(turn));
            bent[2 * v + 1] = (float) (0.5 + radius * Math.sin(turn));
        }
        Mesh mesh = UvLayout.with(flat, 0, bent);
        UvStretch was = UvStretch.of(mesh, UvLayout.of(mesh, 0).orElseThrow());
        Mesh after = new RelaxUvs("crate", VertexSet.ALL, 0)
                .apply(asset(mesh), Work.QUIET)
                .asset()
                .meshes()
                .getFirst();
        UvStretch is = UvStretch.of(after, UvLayout.of(after, 0).orElseThrow());
        assertThat(is.mirrored()).isEqualTo(was.mirrored());
        assertThat(is.root()).isLessThan(was.root());
    }

    @Test
    public void relaxingSaysWhatItCannot() {
        Mesh bare = Mesh.of("crate", Primitive.triangles(new int[] {0, 1, 2}, new float[9], null, -1));
        assertThatThrownBy(() -> new RelaxUvs("crate", VertexSet.ALL, 0).apply(asset(bare), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("no texture coordinates in set 0");
        Mesh one = sheet(1, 1, u -> u, v -> v, new Random(1), 0);
        assertThatThrownBy(() -> new RelaxUvs("crate", VertexSet.ALL, 0).apply(asset(one), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("borders do not move");
        // All on one spot of the picture, as with a palette.
        Mesh spot = sheet(5, 5, u -> 0.5, v -> 0.5, new Random(1), 0.2);
        assertThatThrownBy(() -> new RelaxUvs("crate", VertexSet.ALL, 0).apply(asset(spot), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("borders do not move");
    }

    @Test
    public void aTemplatesCoordinatesAreProvedIslandByIsland() {
        Mesh one = sheet(3, 3, u -> 0.4 * u, v -> 0.4 * v, new Random(2), 0);
        Mesh template = beside(one, one, 0.5f, 0);
        UvLayout before = UvLayout.of(template, 0).orElseThrow();
        float[] changed = before.uv().clone();
        // A corner of the second sheet, which one triangle has.
        int corner = one.vertexCount();
        changed[2 * corner] += 0.25f;
        UvLayout after = UvLayout.of(UvLayout.with(template, 0, changed), 0).orElseThrow();
        UvDifference same = UvDifference.of(before, before).orElseThrow();
        assertThat(same.moved()).isZero();
        assertThat(same.largest()).isZero();
        UvDifference other = UvDifference.of(before, after).orElseThrow();
        long meeting = IntStream.of(before.corners()).filter(c -> c == corner).count();
        assertThat(other.changed()).isEqualTo(1);
        assertThat(other.islands().getFirst()).isEqualTo(new UvDifference.Island(18, 0, 0));
        assertThat(other.islands().get(1).moved()).isEqualTo((int) meeting);
        assertThat(other.largest()).isCloseTo(0.25, within(1e-7));
        assertThat(UvDifference.of(before, UvLayout.of(one, 0).orElseThrow())).isEmpty();
    }

    /** A sheet over the unit square with its inside moved about a little, lifted to a bump; its picture by two rules. */
    private static Mesh sheet(
            int columns, int rows, DoubleUnaryOperator u, DoubleUnaryOperator v, Random random, double lift) {
        int n = (columns + 1) * (rows + 1);
        float[] p = new float[3 * n];
        float[] uv = new float[2 * n];
        List<Integer> corners = new ArrayList<>();
        for (int r = 0; r <= rows; r++) {
            for (int c = 0; c <= columns; c++) {
                int at = r * (columns + 1) + c;
                boolean inside = r > 0 && c > 0 && r < rows && c < columns;
                double x = (c + (inside ? 0.2 * (random.nextDouble() - 0.5) : 0)) / columns;
                double y = (r + (inside ? 0.2 * (random.nextDouble() - 0.5) : 0)) / rows;
                p[3 * at] = (float) x;
                p[3 * at + 1] = (float) -y;
                p[3 * at + 2] = (float) (lift * Math.sin(Math.PI * x) * Math.sin(Math.PI * y));
                uv[2 * at] = (float) u.applyAsDouble(x);
                uv[2 * at + 1] = (float) v.applyAsDouble(y);
                if (r < rows && c < columns) {
                    int below = at + columns + 1;
                    corners.addAll(List.of(at, below, at + 1, at + 1, below, below + 1));
                }
            }
        }
        return mesh(corners.stream().mapToInt(i -> i).toArray(), p, uv);
    }

    /** Two meshes as one, the second behind the first and shifted in the picture. */
    private static Mesh beside(Mesh a, Mesh b, float shift, int material) {
        float[] uv = UvLayout.of(b, 0).orElseThrow().uv().clone();
        for (int i = 0; i < uv.length; i += 2) {
            uv[i] += shift;
        }
        List<Primitive> all = new ArrayList<>(a.primitives());
        for (Primitive p : UvLayout.with(b, 0, uv).primitives()) {
            float[] back = p.positions().clone();
            for (int i = 2; i < back.length; i += 3) {
                back[i] -= 1 + a.primitives().size();
            }
            all.add(p.withShape(back, null, null, List.of()).withMaterial(material));
        }
        return a.withPrimitives(all);
    }

    private static Mesh mesh(int[] corners, float[] positions, float[] uv) {
        return Mesh.of(
                "crate",
                Primitive.triangles(corners, positions, null, 0)
                        .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT))));
    }

    private static Asset asset(Mesh mesh) {
        return Solids.crate(Local.IDENTITY, mesh.primitives().toArray(Primitive[]::new));
    }

    private static float[] uv(Change change) {
        return UvLayout.of(change.asset().meshes().getFirst(), 0).orElseThrow().uv();
    }

    private static float[] floats(JsonNode numbers) {
        float[] out = new float[numbers.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = numbers.get(i).floatValue();
        }
        return out;
    }

    private static int[] ints(JsonNode numbers) {
        return IntStream.range(0, numbers.size())
                .map(i -> numbers.get(i).intValue())
                .toArray();
    }
}
