package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

public class WeightStepsTest {
    /** A strip of vertices on joints a - b - c, with the given rows. */
    private static Asset strip(double[]... rows) {
        float[] p = new float[rows.length * 3];
        Influences.Builder builder = new Influences.Builder(rows.length);
        for (int v = 0; v < rows.length; v++) {
            p[v * 3] = v;
            p[v * 3 + 1] = v % 2;
            for (int j = 0; j < rows[v].length; j++) {
                builder.add(j, (float) rows[v][j]);
            }
            builder.endRow();
        }
        int[] corners = new int[(rows.length - 2) * 3];
        for (int t = 0; t < rows.length - 2; t++) {
            corners[t * 3] = t;
            corners[t * 3 + 1] = t + 1;
            corners[t * 3 + 2] = t + 2;
        }
        Mesh mesh = Mesh.of("strip", Primitive.triangles(corners, p, null, -1).withInfluences(builder.build()));
        List<Node> nodes = List.of(
                Node.group("a", Local.IDENTITY, 1),
                Node.group("b", Local.at(1, 0, 0), 2),
                Node.group("c", Local.at(1, 0, 0)),
                Node.group("mesh", Local.IDENTITY).withMesh(0, 0));
        Skin skin = new Skin("", new int[] {0, 1, 2}, null, -1, Passthrough.NONE);
        return Asset.of("strip", Conventions.GLTF, nodes, List.of(mesh), List.of(skin), List.of());
    }

    private static Influences rows(Asset asset) {
        return asset.meshes().getFirst().primitives().getFirst().influences();
    }

    private static VertexSet some(Asset asset, int... numbers) {
        BitSet set = new BitSet();
        for (int n : numbers) {
            set.set(n);
        }
        return VertexSet.chosen(asset.meshes().getFirst(), set);
    }

    @Test
    public void takingOffScalesTheRestAndGivesOrphansToTheAncestor() throws Refused {
        Asset asset =
                strip(new double[] {0.2, 0.5, 0.3}, new double[] {0, 1, 0}, new double[] {0.4, 0.6}, new double[] {1});
        Change change =
                new RemoveInfluence("strip", "b", some(asset, 0, 1, 3), Optional.empty()).apply(asset, Work.QUIET);
        Influences now = rows(change.asset());
        assertThat(now.weight(0, 0)).isCloseTo(0.4f, within(1e-7f));
        assertThat(now.weight(0, 2)).isCloseTo(0.6f, within(1e-7f));
        assertThat(now.weight(1, 0)).isEqualTo(1);
        assertThat(now.weight(2, 1)).as("not chosen").isEqualTo(0.6f);
        assertThat(change.counts())
                .containsEntry(Message.of("count.vertices.changed"), 2L)
                .containsEntry(Message.of("count.given.to", "a"), 1L);
    }

    @Test
    public void withoutAnHeirItIsRefusedAndWithOneItIsDone() throws Refused {
        Asset asset = strip(new double[] {1}, new double[] {1}, new double[] {1});
        assertThatThrownBy(() ->
                        new RemoveInfluence("strip", "a", VertexSet.ALL, Optional.empty()).apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("only a moves would follow nothing");
        Change change = new RemoveInfluence("strip", "a", VertexSet.ALL, Optional.of("c")).apply(asset, Work.QUIET);
        assertThat(rows(change.asset()).weight(2, 2)).isEqualTo(1);
    }

    @Test
    public void settingSharesWhatIsLeftAsBefore() throws Refused {
        Asset asset = strip(new double[] {0.2, 0.2, 0.6}, new double[] {0, 0, 1}, new double[] {0.5, 0.5});
        Change change = new SetWeight("strip", "c", some(asset, 0, 1, 2), 0.5).apply(asset, Work.QUIET);
        Influences now = rows(change.asset());
        assertThat(now.weight(0, 0)).isCloseTo(0.25f, within(1e-7f));
        assertThat(now.weight(0, 1)).isCloseTo(0.25f, within(1e-7f));
        assertThat(now.weight(0, 2)).isCloseTo(0.5f, within(1e-7f));
        assertThat(now.weight(1, 2)).as("nobody to share with").isEqualTo(1);
        assertThat(now.weight(2, 2)).isCloseTo(0.5f, within(1e-7f));
        assertThat(change.counts()).containsEntry(Message.of("count.left.at.1.no.other.joint.moves.them"), 1L);
        assertThatThrownBy(() -> new SetWeight("strip", "c", VertexSet.ALL, 1.5).apply(asset, Work.QUIET))
                .hasMessageContaining("0 to 1");
    }

    @Test
    public void sumsBecomeOneWithinTheStandardsTolerance() throws Refused {
        // glTF 2.0, 3.7.3.3: 2e-7 for each weight that is not zero.
        for (long seed = 0; seed < 20; seed++) {
            Asset asset = RandomAssets.of(seed);
            Mesh mesh = asset.meshes().getFirst();
            Influences old = mesh.primitives().getFirst().influences();
            float[] off = old.weights().clone();
            for (int i = 0; i < off.length; i++) {
                off[i] *= 0.31f + seed * 0.173f;
            }
            Influences changed = new Influences(old.offsets(), old.joints(), off);
            Asset bad = asset.withMesh(
                    0, mesh.withPrimitives(List.of(mesh.primitives().getFirst().withInfluences(changed))));
            Influences now =
                    rows(new NormaliseWeights("").apply(bad, Work.QUIET).asset());
            for (int v = 0; v < now.vertexCount(); v++) {
                assertThat(now.sum(v)).isCloseTo(1, within(2e-7 * now.rowLength(v)));
                assertThat(now.weight(v, old.joints()[old.offsets()[v]]))
                        .isCloseTo(old.weights()[old.offsets()[v]], within(1e-5f));
            }
        }
    }

    @Test
    public void limitingKeepsTheHeaviest() throws Refused {
        Asset asset = strip(new double[] {0.2, 0.5, 0.3}, new double[] {0.34, 0.33, 0.33}, new double[] {1});
        Change change = new LimitInfluences("", 2, 0).apply(asset, Work.QUIET);
        Influences now = rows(change.asset());
        assertThat(now.weight(0, 1)).isCloseTo(0.625f, within(1e-6f));
        assertThat(now.weight(0, 2)).isCloseTo(0.375f, within(1e-6f));
        assertThat(now.longestRow()).isEqualTo(2);
        assertThat(change.counts())
                .containsEntry(Message.of("count.vertices.changed"), 2L)
                .containsEntry(Message.of("count.influences.dropped"), 2L);
        Influences pruned =
                rows(new LimitInfluences("", 4, 0.25).apply(asset, Work.QUIET).asset());
        assertThat(pruned.rowLength(0)).isEqualTo(2);
        assertThatThrownBy(() -> new LimitInfluences("", 0, 0).apply(asset, Work.QUIET))
                .isInstanceOf(Refused.class);
    }

    @Test
    public void straysFollowWhatIsAroundFromTheRimInwards() throws Refused {
        Asset asset = strip(
                new double[] {1},
                new double[] {1},
                new double[] {},
                new double[] {},
                new double[] {},
                new double[] {0, 0, 1},
                new double[] {0, 0, 1});
        Change change = new AssignUnweighted("", Optional.empty()).apply(asset, Work.QUIET);
        Influences now = rows(change.asset());
        assertThat(change.counts()).containsEntry(Message.of("count.vertices.given"), 3L);
        assertThat(now.weight(2, 0)).as("next to a").isEqualTo(1);
        assertThat(now.weight(4, 2)).as("next to c").isEqualTo(1);
        assertThat(now.weight(3, 0)).as("between them").isBetween(0.2f, 0.8f);
        assertThat(now.sum(3)).isCloseTo(1, within(1e-6));
        Influences named = rows(new AssignUnweighted("", Optional.of("b"))
                .apply(asset, Work.QUIET)
                .asset());
        assertThat(named.weight(3, 1)).isEqualTo(1);
    }

    @Test
    public void aShellThatFollowsNothingGoesToTheJointThatStoodNearest() throws Refused {
        Asset asset = strip(new double[] {}, new double[] {}, new double[] {});
        float[] binds = new float[48];
        for (int j = 0; j < 3; j++) {
            binds[j * 16] = binds[j * 16 + 5] = binds[j * 16 + 10] = binds[j * 16 + 15] = 1;
            binds[j * 16 + 12] = -j;
        }
        Asset bound = asset.withSkins(List.of(asset.skins().getFirst().with(new int[] {0, 1, 2}, binds, -1)));
        Influences now = rows(new AssignUnweighted("", Optional.empty())
                .apply(bound, Work.QUIET)
                .asset());
        assertThat(now.weight(0, 0)).isEqualTo(1);
        assertThat(now.weight(2, 2)).isEqualTo(1);
    }

    @Test
    public void whatTheNamesDoNotFindIsRefusedWithWhatThereIs() {
        Asset asset = strip(new double[] {1}, new double[] {1}, new double[] {1});
        assertThatThrownBy(() ->
                        new RemoveInfluence("coat", "a", VertexSet.ALL, Optional.empty()).apply(asset, Work.QUIET))
                .hasMessageContaining("coat")
                .hasMessageContaining("strip");
        assertThatThrownBy(() -> new SetWeight("strip", "mesh", VertexSet.ALL, 1).apply(asset, Work.QUIET))
                .hasMessageContaining("not among the 3 joints");
        assertThatThrownBy(() -> new Rename(Rename.Kind.NODE, "a", "b").apply(asset, Work.QUIET))
                .hasMessageContaining("taken");
    }

    @Test
    public void renamingKeepsEverythingElse() throws Refused {
        Asset asset = RandomAssets.of(3);
        Asset renamed = new Rename(Rename.Kind.NODE, "joint_2", "elbow")
                .apply(asset, Work.QUIET)
                .asset();
        assertThat(renamed.findNode("elbow")).isEqualTo(asset.findNode("joint_2"));
        Asset clip = new Rename(Rename.Kind.CLIP, "cubic", "wade")
                .apply(asset, Work.QUIET)
                .asset();
        assertThat(clip.findClip("wade")).isEqualTo(2);
        assertThat(clip.meshes()).isEqualTo(asset.meshes());
    }
}
