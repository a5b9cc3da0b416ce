package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.AdjustWeight;
import org.cleanmarrow.steps.skin.AverageAcross;
import org.cleanmarrow.steps.skin.BindNear;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.CleanSides;
import org.cleanmarrow.steps.skin.MirrorWeights;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.steps.skin.QuantiseWeights;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.steps.skin.SharpenWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Sums stay one, locks hold bit for bit, what was not chosen stays, and nothing becomes NaN, whatever the mesh. */
public class WeightLawsTest {
    private static final int WIDE = 9;
    private static final int HIGH = 21;

    /** A tube of quads with a seam, slivers, a loose point and two joints on one place; weights at random. */
    static Asset tube(long seed) {
        int count = WIDE * HIGH + 1;
        float[] p = new float[count * 3];
        List<Integer> t = new ArrayList<>();
        for (int y = 0; y < HIGH; y++) {
            for (int x = 0; x < WIDE; x++) {
                double a = 2 * Math.PI * x / (WIDE - 1);
                int v = y * WIDE + x;
                // The last column lies on the first: a seam. It must do so exactly.
                double angle = x == WIDE - 1 ? 0 : a;
                p[v * 3] = (float) (0.3 * Math.cos(angle));
                p[v * 3 + 1] = y * 0.1f;
                p[v * 3 + 2] = (float) (0.3 * Math.sin(angle));
                if (x + 1 < WIDE && y + 1 < HIGH) {
                    t.addAll(List.of(v, v + WIDE, v + 1, v + 1, v + WIDE, v + WIDE + 1));
                }
            }
        }
        t.addAll(List.of(3, 3, 4));
        t.addAll(List.of(5, 6, 5));
        p[(count - 1) * 3 + 1] = 5;
        String[] names = {"root", "left_a", "right_a", "left_b", "right_b", "mid", "twin_place"};
        float[] places = {0, 0, 0, 0.1f, 0.2f, 0, -0.1f, 0.2f, 0, 0.1f, 1.6f, 0, -0.1f, 1.6f, 0, 0, 1, 0, 0, 1, 0};
        List<Node> nodes = new ArrayList<>();
        nodes.add(Node.group(names[0], Local.IDENTITY, 1, 2, 3, 4, 5, 6));
        for (int j = 1; j < names.length; j++) {
            nodes.add(Node.group(names[j], Local.at(places[j * 3], places[j * 3 + 1], places[j * 3 + 2])));
        }
        nodes.add(Node.group("tube", Local.IDENTITY).withMesh(0, 0));
        Matrix4d[] binds = new Matrix4d[names.length];
        for (int j = 0; j < names.length; j++) {
            binds[j] = new Matrix4d().translation(-places[j * 3], -places[j * 3 + 1], -places[j * 3 + 2]);
        }
        Skin skin = new Skin("tube", new int[] {0, 1, 2, 3, 4, 5, 6}, Skin.pack(binds), 0, Passthrough.NONE);
        Influences.Builder rows = new Influences.Builder(count);
        Row row = new Row();
        for (int v = 0; v < count; v++) {
            row.clear();
            int seam = v % WIDE == WIDE - 1 && v < WIDE * HIGH ? v - WIDE + 1 : v;
            Random own = new Random(seed * 1000 + seam);
            for (int i = 0; i < 1 + own.nextInt(5); i++) {
                row.add(own.nextInt(names.length), own.nextFloat());
            }
            row.normalise();
            row.to(rows);
        }
        int[] corners = t.stream().mapToInt(Integer::intValue).toArray();
        Primitive primitive = Primitive.triangles(corners, p, null, -1).withInfluences(rows.build());
        return Asset.of("tube", Conventions.GLTF, nodes, List.of(Mesh.of("tube", primitive)), List.of(skin), List.of());
    }

    private static Influences rows(Asset asset) {
        return asset.meshes().getFirst().primitives().getFirst().influences();
    }

    private static VertexSet some(Asset asset, long seed) {
        BitSet chosen = new BitSet();
        Random random = new Random(seed);
        for (int v = 0; v < WIDE * HIGH; v++) {
            chosen.set(v, random.nextInt(3) == 0);
        }
        return VertexSet.chosen(
                asset.meshes().getFirst(),
                MeshTopology.of(asset.meshes().getFirst()).sameWelded(chosen));
    }

    private static List<Step> edits(Asset asset, long seed, String locked) {
        VertexSet set = some(asset, seed);
        float[] amounts = new float[WIDE * HIGH + 1];
        set.vertices().stream().forEach(v -> amounts[v] = (v / WIDE % 7 + 1) / 8f);
        VertexAmounts brush = VertexAmounts.of(asset.meshes().getFirst(), amounts);
        List<Step> out = new ArrayList<>(List.of(
                new SetWeight("tube", "left_b", set, 0.7, locked),
                new SetWeight("tube", "left_b", set, 0, locked),
                new RemoveInfluence("tube", "left_b", set, java.util.Optional.of("root"), locked),
                new AdjustWeight("tube", "right_a", set, AdjustWeight.How.ADD, 0.3, locked),
                new AdjustWeight("tube", "right_a", set, AdjustWeight.How.ADD, -0.6, locked),
                new AdjustWeight("tube", "right_a", set, AdjustWeight.How.SCALE, 1.7, locked),
                new SmoothWeights("tube", set, 0.6, 3, locked),
                new SharpenWeights("tube", set, SharpenWeights.How.MORE, locked),
                new SharpenWeights("tube", set, SharpenWeights.How.HARD, locked),
                new SharpenWeights("tube", set, SharpenWeights.How.ONE, locked),
                new MirrorWeights("tube", MirrorWeights.From.LEFT, set, 1, locked),
                new CleanSides("tube", set, 20, locked)));
        for (Stroke.Mode mode : Stroke.Mode.values()) {
            out.add(new PaintWeights("tube", "right_b", mode, brush, 0.4, locked, false));
        }
        return out;
    }

    @DataProvider
    public Object[][] seeds() {
        return new Object[][] {{1L}, {2L}, {3L}, {4L}};
    }

    @Test(dataProvider = "seeds")
    public void sumsStayOneLocksHoldAndTheRestStays(long seed) throws Refused {
        Asset asset = tube(seed);
        Influences before = rows(asset);
        BitSet locked = new BitSet();
        locked.set(5);
        locked.set(6);
        for (String patterns : List.of("", "mid, twin_*")) {
            for (Step step : edits(asset, seed, patterns)) {
                BitSet chosen = some(asset, seed).on(asset.meshes().getFirst());
                Influences after = rows(step.apply(asset, Work.QUIET).asset());
                assertThat(rows(asset))
                        .as("undo is exact: what was there is untouched")
                        .isSameAs(before);
                for (int v = 0; v < after.vertexCount(); v++) {
                    assertThat(after.sum(v)).as("%s at %d", step, v).isCloseTo(1, within(2e-6));
                    if (!chosen.get(v)) {
                        assertThat(after.sameRow(before, v))
                                .as("%s at %d", step, v)
                                .isTrue();
                    }
                    for (int j = 0; j < 7; j++) {
                        assertThat(after.weight(v, j)).isBetween(0f, 1.000001f);
                        if (!patterns.isEmpty() && locked.get(j)) {
                            assertThat(after.weight(v, j))
                                    .as("%s at %d", step, v)
                                    .isEqualTo(before.weight(v, j));
                        }
                    }
                }
            }
        }
    }

    @Test(dataProvider = "seeds")
    public void aMirroredMirrorIsTheSameAndSidesComeClean(long seed) throws Refused {
        Asset asset = tube(seed);
        Step there = new MirrorWeights("tube", MirrorWeights.From.LEFT, VertexSet.ALL, 1, "");
        Step back = new MirrorWeights("tube", MirrorWeights.From.RIGHT, VertexSet.ALL, 1, "");
        Asset once = there.apply(asset, Work.QUIET).asset();
        Influences first = rows(once);
        Influences second = rows(back.apply(once, Work.QUIET).asset());
        int[] twin = {0, 2, 1, 4, 3, 5, 6};
        for (int v = 0; v < WIDE * HIGH; v++) {
            for (int j = 0; j < 7; j++) {
                assertThat(second.weight(v, j)).isCloseTo(first.weight(v, j), within(1e-6f));
            }
            // Column x mirrors column 4 - x around the tube.
            int x = v % WIDE;
            int mirrored = v - x + Math.floorMod(4 - x, 8);
            for (int j = 0; j < 7; j++) {
                assertThat(first.weight(mirrored, twin[j])).isCloseTo(first.weight(v, j), within(1e-6f));
            }
        }
        Influences clean = rows(new CleanSides("tube", VertexSet.ALL, 50, "")
                .apply(asset, Work.QUIET)
                .asset());
        float[] p = asset.meshes().getFirst().primitives().getFirst().positions();
        for (int v = 0; v < clean.vertexCount(); v++) {
            // In glTF's axes the left is +X.
            boolean left = p[v * 3] > 0.0501;
            boolean right = p[v * 3] < -0.0501;
            if (left || right) {
                assertThat(clean.weight(v, left ? 2 : 1)).isZero();
                assertThat(clean.weight(v, left ? 4 : 3)).isZero();
            }
        }
    }

    @Test
    public void openSeamsAreFoundAndWelded() throws Refused {
        Asset asset = tube(5);
        Target target = Target.of(Conventions.GLTF);
        assertThat(Checks.run(asset, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("seams"));
        BitSet one = new BitSet();
        one.set(WIDE - 1);
        one.set(3 * WIDE - 1);
        Asset open = new SetWeight("tube", "mid", VertexSet.numbers(one), 0.9)
                .apply(asset, Work.QUIET)
                .asset();
        Finding finding = Checks.run(open, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("seams"))
                .findFirst()
                .orElseThrow();
        assertThat(finding.count()).isEqualTo(4);
        Asset closed = finding.fix().orElseThrow().apply(open, Work.QUIET).asset();
        assertThat(Checks.run(closed, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("seams"));
        assertThat(rows(closed).weight(0, 5))
                .isCloseTo((rows(open).weight(0, 5) + rows(open).weight(WIDE - 1, 5)) / 2, within(1e-6f));
        assertThat(rows(closed).sameRow(rows(open), 1)).isTrue();
    }

    @Test
    public void roundedWeightsSumToOneInWholeSteps() throws Refused {
        for (int bits : new int[] {8, 16}) {
            int steps = (1 << bits) - 1;
            Asset asset = tube(6);
            Asset rounded =
                    new QuantiseWeights("", bits).apply(asset, Work.QUIET).asset();
            for (int v = 0; v < rows(rounded).vertexCount(); v++) {
                long sum = 0;
                for (int i = rows(rounded).offsets()[v]; i < rows(rounded).offsets()[v + 1]; i++) {
                    double whole = rows(rounded).weights()[i] * (double) steps;
                    assertThat(whole).isCloseTo(Math.rint(whole), within(1e-2));
                    sum += Math.round(whole);
                }
                assertThat(sum).isEqualTo(steps);
                for (int j = 0; j < 7; j++) {
                    assertThat(rows(rounded).weight(v, j)).isCloseTo(rows(asset).weight(v, j), within(1.01f / steps));
                }
            }
            assertThat(new QuantiseWeights("", bits).apply(rounded, Work.QUIET).asset())
                    .as("rounded again, nothing changes")
                    .isSameAs(rounded);
        }
    }

    @Test
    public void bindingAndTransferStandWhateverComes() throws Refused {
        Asset asset = tube(7);
        for (VolumeBind.How how : VolumeBind.How.values()) {
            Asset bound = new BindVolume("tube", VertexSet.ALL, "*", "", how, 0.5, 4, false)
                    .apply(asset, Work.QUIET)
                    .asset();
            for (int v = 0; v < rows(bound).vertexCount(); v++) {
                assertThat(rows(bound).sum(v)).isCloseTo(1, within(2e-6));
                assertThat(rows(bound).rowLength(v)).isBetween(1, 4);
            }
        }
        Asset near = new BindNear("tube", VertexSet.ALL, "left_*, right_*", "", 900, 3)
                .apply(asset, Work.QUIET)
                .asset();
        float[] p = asset.meshes().getFirst().primitives().getFirst().positions();
        for (int v = 0; v < WIDE * HIGH; v++) {
            assertThat(rows(near).weight(v, 0) + rows(near).weight(v, 5)).isZero();
            if (p[v * 3] > 0.2 && p[v * 3 + 1] < 0.3) {
                assertThat(rows(near).weight(v, 1)).isGreaterThan(rows(near).weight(v, 2));
            }
        }
        assertThatThrownBy(() -> new TransferWeights("coat", "tube", VertexSet.ALL, 0, 30, false, "*", 8)
                        .apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("coat");
        assertThatThrownBy(() -> new BindVolume("tube", VertexSet.ALL, "wing", "", VolumeBind.How.HEAT, 0.5, 4, false)
                        .apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("wing");
    }

    /** On a tube across is around: after it every ring has one row, and from ring to ring weights run on. */
    @Test
    public void acrossAStrapWeightsAreEven() throws Refused {
        Asset asset = tube(8);
        // Across the tube at random, along it from joint 0 to joint 5.
        Influences.Builder table = new Influences.Builder(WIDE * HIGH + 1);
        Random random = new Random(9);
        double[] around = random.doubles(8, -0.2, 0.2).toArray();
        for (int v = 0; v <= WIDE * HIGH; v++) {
            double along = v < WIDE * HIGH ? v / WIDE / (HIGH - 1.0) : 0;
            double w = Math.clamp(0.2 + 0.6 * along + around[v % WIDE % 8], 0, 1);
            table.add(0, (float) (1 - w));
            table.add(5, (float) w);
            table.endRow();
        }
        Mesh mesh = asset.meshes().getFirst();
        asset = asset.withMesh(
                0, mesh.withPrimitives(List.of(mesh.primitives().getFirst().withInfluences(table.build()))));
        BitSet strap = new BitSet();
        strap.set(0, WIDE * HIGH);
        Asset even = new AverageAcross("tube", VertexSet.chosen(asset.meshes().getFirst(), strap), 300)
                .apply(asset, Work.QUIET)
                .asset();
        for (int y = 6; y < HIGH - 6; y++) {
            float most = 0;
            float least = 1;
            for (int x = 0; x < WIDE; x++) {
                most = Math.max(most, rows(even).weight(y * WIDE + x, 5));
                least = Math.min(least, rows(even).weight(y * WIDE + x, 5));
                assertThat(rows(even).sum(y * WIDE + x)).isCloseTo(1, within(2e-6));
            }
            assertThat(most - least).as("ring %d", y).isLessThan(0.2f);
            assertThat((most + least) / 2).isCloseTo((float) (0.2 + 0.6 * y / (HIGH - 1.0)), within(0.15f));
        }
        assertThat(rows(even).sameRow(rows(asset), WIDE * HIGH))
                .as("not chosen")
                .isTrue();
    }
}
