package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.Dress;
import org.cleanmarrow.steps.skin.MakeRigid;
import org.cleanmarrow.steps.skin.MendPokeThrough;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.work.Composite;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.testng.annotations.Test;

/** A sleeve with two buckles and a cuff over it, onto a limb of two joints; a hat hangs far off. */
public class DressTest {
    private static final int AROUND = 24;
    private static final int HIGH = 20;
    private static final String SLEEVE = "sleeve, left";

    private static Primitive tube(double radius, double from, double to) {
        float[] p = new float[AROUND * (HIGH + 1) * 3];
        int[] t = new int[AROUND * HIGH * 6];
        int at = 0;
        for (int y = 0; y <= HIGH; y++) {
            for (int i = 0; i < AROUND; i++) {
                int v = (y * AROUND + i) * 3;
                p[v] = (float) (radius * Math.cos(2 * Math.PI * i / AROUND));
                p[v + 1] = (float) (from + (to - from) * y / HIGH);
                p[v + 2] = (float) (radius * Math.sin(2 * Math.PI * i / AROUND));
                int a = y * AROUND + i;
                int b = y * AROUND + (i + 1) % AROUND;
                for (int corner : y == HIGH ? new int[0] : new int[] {a, a + AROUND, b, b, a + AROUND, b + AROUND}) {
                    t[at++] = corner;
                }
            }
        }
        return Primitive.triangles(t, p, null, 0);
    }

    private static Primitive buckle(double height) {
        return Solids.faceted(Solids.box(0.12, height, -0.02, 0.14, height + 0.05, 0.02))
                .withMaterial(1);
    }

    private static Asset limb() {
        Primitive bare = tube(0.1, 0, 1);
        Influences.Builder rows = new Influences.Builder(bare.vertexCount());
        for (int v = 0; v < bare.vertexCount(); v++) {
            float y = bare.positions()[v * 3 + 1];
            rows.add(0, 1 - y);
            rows.add(1, y);
            rows.endRow();
        }
        List<Node> nodes = List.of(
                Node.group("shoulder", Local.IDENTITY, 1),
                Node.group("elbow", Local.at(0, 0.5, 0)),
                Node.group("limb", Local.IDENTITY).withMesh(0, 0),
                Node.group(SLEEVE, Local.IDENTITY).withMesh(1, -1),
                Node.group("cuff", Local.IDENTITY).withMesh(2, -1),
                Node.group("hat", Local.at(0, 5, 0)).withMesh(3, -1));
        Matrix4d[] binds = {new Matrix4d(), new Matrix4d().translation(0, -0.5, 0)};
        Skin skin = new Skin("", new int[] {0, 1}, Skin.pack(binds), 0, Passthrough.NONE);
        List<Mesh> meshes = List.of(
                Mesh.of("limb", bare.withInfluences(rows.build())),
                Mesh.of(SLEEVE, tube(0.12, 0.2, 0.95), buckle(0.25), buckle(0.85)),
                Mesh.of("cuff", tube(0.15, 0.3, 0.6)),
                Mesh.of("hat", tube(0.1, 0, 1)));
        float[] grey = {0.5f, 0.5f, 0.5f, 1};
        return Asset.of("limb", Conventions.GLTF, nodes, meshes, List.of(skin), List.of())
                .withMaterials(List.of(
                        new Material("wool", grey, -1, false, Passthrough.NONE),
                        new Material("brass", grey, -1, false, Passthrough.NONE)));
    }

    private static Dress dress(String worn) {
        return new Dress("limb", worn, "bra*", 4, 0.5, 5, false, Dress.Hidden.KEPT);
    }

    @Test
    public void innerPartsComeFirstAndGiveToOuterOnesThatLieOnThem() throws Refused {
        List<Step> parts = dress("sleeve*,cuff,hat").parts(limb()).stream()
                .map(Composite.Part::step)
                .toList();
        List<TransferWeights> taken = parts.stream()
                .filter(TransferWeights.class::isInstance)
                .map(TransferWeights.class::cast)
                .toList();
        assertThat(taken).extracting(TransferWeights::to).containsExactly(SLEEVE, "cuff", "hat");
        // A comma in a name divides nothing.
        assertThat(taken).extracting(TransferWeights::from).containsExactly("limb", "limb,sleeve\\,\\ left", "limb");
        assertThat(parts.stream().filter(MakeRigid.class::isInstance)).hasSize(1);
        assertThat(parts.stream().filter(MendPokeThrough.class::isInstance)).hasSize(3);
    }

    @Test
    public void whatIsOpenedDoesTheSameAndEachBuckleFollowsOneJoint() throws Refused {
        Asset asset = limb();
        Dress dress = dress("sleeve*,cuff");
        Asset dressed = dress.apply(asset, Work.QUIET).asset();
        List<Step> parts = Replay.opened(asset, dress, Work.QUIET).stream()
                .map(Replay.Done::step)
                .toList();
        Ledger whole = Ledger.EMPTY.plus(dress);
        List<Replay.Done> opened = Replay.all(asset, whole.opened(0, parts), false, Work.QUIET);
        assertThat(opened)
                .hasSizeGreaterThan(2)
                .allSatisfy(d -> assertThat(d.outcome()).isPresent());
        for (int m = 0; m < 3; m++) {
            for (int p = 0; p < asset.meshes().get(m).primitives().size(); p++) {
                Primitive one = dressed.meshes().get(m).primitives().get(p);
                Primitive other =
                        opened.getLast().asset().meshes().get(m).primitives().get(p);
                assertThat(one.influences().weights())
                        .isEqualTo(other.influences().weights())
                        .doesNotContain(Float.NaN);
                assertThat(one.positions()).isEqualTo(other.positions());
            }
        }
        Set<Integer> followed = new HashSet<>();
        for (int buckle = 1; buckle <= 2; buckle++) {
            Influences rows = dressed.meshes().get(1).primitives().get(buckle).influences();
            Set<Integer> joints = new HashSet<>();
            for (int v = 0; v < rows.vertexCount(); v++) {
                assertThat(rows.rowLength(v)).isEqualTo(1);
                assertThat(rows.weights()[rows.offsets()[v]]).isEqualTo(1);
                joints.add(rows.joints()[rows.offsets()[v]]);
            }
            assertThat(joints).hasSize(1);
            followed.addAll(joints);
        }
        assertThat(followed)
                .as("the lower to the shoulder, the upper to the elbow")
                .containsExactlyInAnyOrder(0, 1);
        // The wool bends.
        assertThat(dressed.meshes().get(1).primitives().getFirst().influences().longestRow())
                .isEqualTo(2);
    }

    /** What hangs on a joint is moved already, such as a lantern in a hand. */
    @Test
    public void looseIsWhatNothingMoves() {
        Asset asset = limb();
        assertThat(Dress.loose(asset)).containsExactly(1, 2, 3);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(1, nodes.get(1).withChildren(new int[] {5}));
        nodes.set(4, nodes.get(4).withShips(false));
        assertThat(Dress.loose(asset.withNodes(nodes))).containsExactly(1);
    }

    @Test
    public void hardPiecesAreChosenByVerticesMaterialAndJoint() throws Refused {
        Asset dressed = dress("sleeve*").apply(limb(), Work.QUIET).asset();
        Mesh sleeve = dressed.meshes().get(1);
        int first = sleeve.primitives().getFirst().vertexCount();
        BitSet lower = new BitSet();
        lower.set(first, first + sleeve.primitives().get(1).vertexCount());
        Asset to = new MakeRigid(SLEEVE, VertexSet.numbers(lower), "*", "elbow")
                .apply(dressed, Work.QUIET)
                .asset();
        List<Primitive> now = to.meshes().get(1).primitives();
        assertThat(now.get(1).influences().joints()).containsOnly(1);
        assertThat(now.getFirst().influences().weights())
                .isEqualTo(sleeve.primitives().getFirst().influences().weights());
        List<Step> wrong = new ArrayList<>(List.of(
                new MakeRigid(SLEEVE, VertexSet.ALL, "gold", ""),
                new MakeRigid(SLEEVE, VertexSet.numbers(lower), "wool", ""),
                new MakeRigid(SLEEVE, VertexSet.ALL, "brass", "knee"),
                new MakeRigid("cuff", VertexSet.ALL, "*", ""),
                dress("glove"),
                dress("limb"),
                new Dress("nobody", "cuff")));
        for (Step step : wrong) {
            assertThatThrownBy(() -> step.apply(dressed, Work.QUIET))
                    .as(step.toString())
                    .isInstanceOf(Refused.class);
        }
    }
}
