package org.cleanmarrow.examination;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.steps.intake.MatchNames;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Every check on an asset that is clean but for one fault: found once, counted right, and gone after its fix. */
public class ChecksTest {
    private static final Target TARGET = Target.named("y-up-m-rh").orElseThrow();

    static Asset clean() {
        long seed = 14;
        while (RestBox.of(RandomAssets.of(seed, 6, 60)).diagonal() > 4.9) {
            seed++;
        }
        Asset asset = RandomAssets.of(seed, 6, 60);
        for (Step step : List.of(
                new AddRoot("root"),
                new Convert(Conventions.GLTF, true),
                new TrimEnds(),
                new MatchNames(MatchNames.Keep.NODE))) {
            asset = Replay.one(asset, step, false, Work.QUIET).asset();
        }
        return asset;
    }

    private static List<Finding> findings(Asset asset) {
        return Checks.run(asset, TARGET, Work.QUIET);
    }

    private static Finding only(Asset asset, String check, Severity severity, long count) {
        List<Finding> all = findings(asset);
        assertThat(all).as(all.toString()).hasSize(1);
        Finding finding = all.getFirst();
        assertThat(finding.check()).isEqualTo(check);
        assertThat(finding.severity()).isEqualTo(severity);
        assertThat(finding.count()).isEqualTo(count);
        return finding;
    }

    private static void fixes(Asset asset, Finding finding) {
        Replay.Done done = Replay.one(asset, finding.fix().orElseThrow(), false, Work.QUIET);
        assertThat(done.outcome()).as(done.reason()).isPresent();
        assertThat(findings(done.asset())).noneMatch(f -> f.check().equals(finding.check()));
    }

    private static Asset withWeights(Asset asset, java.util.function.UnaryOperator<Influences> change) {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        return asset.withMesh(0, mesh.withPrimitives(List.of(p.withInfluences(change.apply(p.influences())))));
    }

    private static Influences scaled(Influences rows, int vertices, double by) {
        float[] weights = rows.weights().clone();
        for (int i = 0; i < rows.offsets()[vertices]; i++) {
            weights[i] *= (float) by;
        }
        return new Influences(rows.offsets(), rows.joints(), weights);
    }

    private static Asset withNode(Asset asset, int node, Local local) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(node, nodes.get(node).withLocal(local));
        return asset.withNodes(nodes);
    }

    @Test
    public void aCleanAssetHasNoFindingsAndIdsAreUnique() {
        assertThat(findings(clean())).isEmpty();
        assertThat(Checks.ALL.stream().map(Check::id).toList()).doesNotHaveDuplicates();
    }

    @Test
    public void sumsOffOneAreCounted() {
        Asset bad = withWeights(clean(), rows -> scaled(rows, 13, 0.9));
        Finding finding = only(bad, "weight-sums", Severity.BLOCKER, 13);
        assertThat(finding.message().toString()).contains("13").contains("0.900");
        assertThat(finding.place().vertices().cardinality()).isEqualTo(13);
        fixes(bad, finding);
    }

    @Test
    public void sumsOffByRoundingAreOnlyNoted() {
        only(withWeights(clean(), rows -> scaled(rows, 5, 1.00001)), "weight-sums", Severity.NOTE, 5);
    }

    @Test
    public void verticesFollowingNothing() {
        Asset bad = withWeights(clean(), rows -> scaled(rows, 7, 0));
        fixes(bad, only(bad, "strays", Severity.BLOCKER, 7));
    }

    @Test
    public void tooManyInfluences() {
        Asset bad = withWeights(clean(), rows -> {
            Influences.Builder builder = new Influences.Builder(rows.vertexCount());
            for (int v = 0; v < 9; v++) {
                for (int j = 0; j < 5; j++) {
                    builder.add(j, 0.2f);
                }
                builder.endRow();
            }
            builder.copyRows(rows, 9, rows.vertexCount());
            return builder.build();
        });
        Finding finding = only(bad, "influences", Severity.CAUTION, 9);
        assertThat(finding.message().toString()).contains("up to 5").contains("takes 4");
        fixes(bad, finding);
        Target eight = TARGET.with(Budget.INFLUENCES, 8);
        assertThat(Checks.run(bad, eight, Work.QUIET)).isEmpty();
    }

    @Test
    public void trianglesAreCountedForEachUseOfAMeshThatIsExported() {
        Asset once = clean();
        int most = 0;
        Node used = null;
        for (Node node : once.nodes()) {
            if (node.mesh() >= 0) {
                most += once.meshes().get(node.mesh()).triangleCount();
                used = node;
            }
        }
        assertThat(used).isNotNull();
        most += once.meshes().get(used.mesh()).triangleCount();
        List<Node> nodes = new ArrayList<>(once.nodes());
        nodes.add(Node.group("again", Local.IDENTITY).withMesh(used.mesh(), used.skin()));
        Asset twice = once.withNodes(nodes);

        Target fits = TARGET.with(Budget.TRIANGLES, most);
        Target less = TARGET.with(Budget.TRIANGLES, most - 1);
        assertThat(Checks.run(twice, fits, Work.QUIET)).noneMatch(f -> f.check().equals("triangle-budget"));
        assertThat(Checks.run(once, less, Work.QUIET)).noneMatch(f -> f.check().equals("triangle-budget"));
        assertThat(Checks.run(twice, less, Work.QUIET))
                .filteredOn(f -> f.check().equals("triangle-budget"))
                .singleElement()
                .satisfies(f -> assertThat(f.count()).isEqualTo(1))
                .satisfies(f -> assertThat(f.severity()).isEqualTo(Severity.BLOCKER));
    }

    @Test
    public void axesAndUnitsAreHeldAgainstTheTarget() {
        Asset asset = clean();
        Target other = Target.named("z-up-cm-lh").orElseThrow();
        List<Finding> found = Checks.run(asset, other, Work.QUIET);
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().check()).isEqualTo("axes");
        assertThat(found.getFirst().message().toString())
                .contains("up is y, wanted z", "right-handed", "unit is m, wanted cm");
        Asset converted = Replay.one(asset, found.getFirst().fix().orElseThrow(), false, Work.QUIET)
                .asset();
        assertThat(Checks.run(converted, other, Work.QUIET)).isEmpty();
    }

    @Test
    public void nodeRotationAndScaleLeft() {
        Asset asset = clean();
        int crate = asset.findNode("crate");
        Asset bad = withNode(
                asset,
                crate,
                Local.of(
                        new org.joml.Vector3d(),
                        new org.joml.Quaterniond().rotationX(Math.PI / 2),
                        new org.joml.Vector3d(100)));
        Finding finding = findings(bad).stream()
                .filter(f -> f.check().equals("node-transform"))
                .findFirst()
                .orElseThrow();
        assertThat(finding.severity()).isEqualTo(Severity.CAUTION);
        assertThat(finding.message().toString())
                .contains("crate")
                .contains("90.0°")
                .contains("by 100");
        fixes(bad, finding);
    }

    @Test
    public void aRootThatIsTurnedOrAwayOrNotAlone() {
        Asset asset = clean();
        int root = asset.findNode("root");
        only(withNode(asset, root, Local.at(0, 1, 0)), "root", Severity.BLOCKER, 1);
        Asset several = RandomAssets.of(14, 30, 60);
        Finding finding = findings(several).stream()
                .filter(f -> f.check().equals("root"))
                .findFirst()
                .orElseThrow();
        assertThat(finding.count()).isGreaterThan(1);
        fixes(several, finding);
    }

    @Test
    public void jointsNamedTwice() {
        Asset asset = clean();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int second = asset.findNode("joint_2");
        nodes.set(second, nodes.get(second).withName("joint_1"));
        Asset bad = asset.withNodes(nodes);
        fixes(bad, only(bad, "joint-names", Severity.BLOCKER, 2));
    }

    @Test
    public void channelsWithoutTarget() {
        Asset asset = clean();
        Asset bad = asset.mapClips(c -> {
            if (!c.name().equals("linear")) {
                return c;
            }
            List<Channel> channels = new ArrayList<>(c.channels());
            Channel any = channels.getFirst();
            channels.add(new Channel(-1, any.path(), any.sampler(), "lantern_hook", Passthrough.NONE));
            return c.withChannels(channels);
        });
        Finding finding = only(bad, "lost-channels", Severity.CAUTION, 1);
        assertThat(finding.message().toString()).contains("lantern_hook");
        fixes(bad, finding);
    }

    @Test
    public void aLoopThatJumpsIsFoundAndClosed() {
        Asset asset = clean().mapClips(c -> c.name().equals("linear") ? c.withLoop(true) : c);
        Finding finding = only(asset, "loop-jump", Severity.CAUTION, 1);
        assertThat(finding.subject()).isEqualTo("linear");
        fixes(asset, finding);
    }

    /** A range that opens or closes something must not loop (common practice); others may. */
    @Test
    public void whatOpensOrClosesDoesNotLoop() throws Refused {
        Asset round = new CloseLoop("linear", 4).apply(clean(), Work.QUIET).asset();
        for (String name : List.of("gate_open", "closeGate", "lid_Closing_2", "walk", "opener", "disclosed")) {
            boolean oneWay = List.of("gate_open", "closeGate", "lid_Closing_2").contains(name);
            Asset asset = round.mapClips(c -> c.name().equals("linear") ? c.withName(name) : c);
            if (oneWay) {
                Finding finding = only(asset, "one-way-loop", Severity.CAUTION, 1);
                assertThat(finding.subject()).isEqualTo(name);
                fixes(asset, finding);
            } else {
                assertThat(findings(asset)).isEmpty();
            }
        }
    }

    @Test
    public void aClipOfAnotherSkeleton() {
        Asset asset = clean();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.add(Node.group("stranger", Local.IDENTITY));
        int stranger = nodes.size() - 1;
        Clip linear = asset.clips().get(1);
        Clip foreign = new Clip(
                "foreign", List.of(linear.channels().getFirst().withNode(stranger)), 24, false, true, Passthrough.NONE);
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.add(foreign);
        Finding finding = only(asset.withNodes(nodes).withClips(clips), "other-skeleton", Severity.BLOCKER, 1);
        assertThat(finding.message().toString()).contains("stranger");
    }

    @Test
    public void numbersThatAreNotFinite() {
        Asset asset = clean();
        Mesh mesh = asset.meshes().get(1);
        Primitive p = mesh.primitives().getFirst();
        float[] broken = p.positions().clone();
        broken[4] = Float.NaN;
        broken[5] = Float.POSITIVE_INFINITY;
        broken[30] = Float.NaN;
        only(
                asset.withMesh(1, mesh.withPrimitives(List.of(p.withShape(broken, p.normals(), null, List.of())))),
                "non-finite",
                Severity.BLOCKER,
                2);
    }

    @Test
    public void bindsThatCannotBeUsed() {
        Asset asset = clean();
        Skin skin = asset.skins().getFirst();
        float[] binds = skin.inverseBinds().clone();
        java.util.Arrays.fill(binds, 16, 31, 0);
        assertThat(findings(asset.withSkins(List.of(skin.with(skin.joints(), binds, -1)))))
                .anyMatch(f -> f.check().equals("binds") && f.count() == 1);
    }

    @Test
    public void bindsThatSkinsDisagreeAbout() {
        Asset asset = clean();
        Skin skin = asset.skins().getFirst();
        float[] binds = skin.inverseBinds().clone();
        Skin twin = skin.with(skin.joints(), binds, skin.skeleton());
        Node figure =
                asset.nodes().stream().filter(n -> n.skin() == 0).findFirst().orElseThrow();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.add(Node.group("figure_twin", Local.IDENTITY).withMesh(figure.mesh(), 1));
        Asset two = asset.withNodes(nodes).withSkins(List.of(skin, twin));
        assertThat(findings(two)).noneMatch(f -> f.check().equals("binds-differ"));
        // The second skin has two of its joints bound a little elsewhere.
        binds[12] += 0.05f;
        binds[16 * 3 + 13] += 0.05f;
        Asset bad = two.withSkins(List.of(skin, skin.with(skin.joints(), binds, skin.skeleton())));
        Finding finding = findings(bad).stream()
                .filter(f -> f.check().equals("binds-differ"))
                .findFirst()
                .orElseThrow();
        assertThat(finding.count()).isEqualTo(2);
        assertThat(finding.message().toString()).contains(asset.nodeRef(skin.joints()[0]));
        fixes(bad, finding);
    }

    /** A person is about 1.83 m (common practice); factors after the inch and foot of NIST SP 811. */
    @Test
    public void unitMixUpsAreNamedByTheirFactor() {
        double[][] cases = {{100, 0.01}, {0.01, 100}, {1000, 0.001}, {1 / 0.0254, 0.0254}, {1 / 0.3048, 0.3048}};
        String[] names = {
            "centimetres taken for metres",
            "metres taken for centimetres",
            "millimetres taken for metres",
            "inches taken for metres",
            "feet taken for metres"
        };
        for (int i = 0; i < cases.length; i++) {
            Asset tall = StickFigure.of(1.83 * cases[i][0]);
            Finding finding = findings(tall).stream()
                    .filter(f -> f.check().equals("size"))
                    .findFirst()
                    .orElseThrow();
            // A creature may be six metres tall, so feet are only suspected.
            assertThat(finding.severity()).isEqualTo(i == 4 ? Severity.CAUTION : Severity.BLOCKER);
            assertThat(finding.message().toString()).contains(names[i]);
            CorrectUnit fix = (CorrectUnit) finding.fix().orElseThrow();
            assertThat(fix.factor()).isCloseTo(cases[i][1], org.assertj.core.api.Assertions.withinPercentage(1e-7));
        }
        assertThat(findings(StickFigure.of(1.83))).noneMatch(f -> f.check().equals("size"));
    }

    @Test
    public void namesThatDifferOrAreIllegalAndThingsThatAreThereTwice() {
        Asset asset = clean();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int crate = asset.findNode("crate");
        nodes.set(crate, nodes.get(crate).withName("box"));
        fixes(asset.withNodes(nodes), only(asset.withNodes(nodes), "names-differ", Severity.NOTE, 1));

        int joint = asset.findNode("joint_2");
        List<Node> odd = new ArrayList<>(asset.nodes());
        odd.set(joint, odd.get(joint).withName("Knie links/ä"));
        fixes(asset.withNodes(odd), only(asset.withNodes(odd), "names-illegal", Severity.CAUTION, 1));

        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(meshes.get(1).withName("copy"));
        List<Node> more = new ArrayList<>(asset.nodes());
        more.add(Node.group("copy", Local.at(1, 0, 0)).withMesh(meshes.size() - 1, -1));
        Asset twice = asset.withMeshes(meshes).withNodes(more);
        fixes(twice, only(twice, "duplicates", Severity.NOTE, 1));
    }

    @Test
    public void levelsOfDetailThatWouldStandInEachOther() {
        Asset asset = clean();
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (int level = 1; level <= 2; level++) {
            Primitive p = meshes.get(1).primitives().getFirst();
            float[] moved = p.positions().clone();
            for (int i = 0; i < moved.length; i++) {
                moved[i] *= 1 + 0.01f * level;
            }
            meshes.add(new Mesh(
                    "crate_LOD" + level,
                    List.of(p.withShape(moved, p.normals(), p.tangents(), p.targets())),
                    null,
                    List.of(),
                    org.cleanmarrow.model.Passthrough.NONE));
            nodes.add(Node.group("crate_LOD" + level, Local.IDENTITY).withMesh(meshes.size() - 1, -1));
        }
        Asset together = asset.withMeshes(meshes).withNodes(nodes);
        fixes(together, only(together, "lods-together", Severity.CAUTION, 3));
    }

    /** Factors after NIST Special Publication 811, B.8: the inch is 25.4 mm, the foot 304.8 mm exactly. */
    @Test
    public void aClipInAnotherUnitIsNamedByItsFactor() {
        Asset asset = clean();
        assertThat(findings(asset)).isEmpty();
        for (double factor :
                new double[] {100, 0.01, 1000, 0.001, 25.4, 1 / 25.4, 39.37, 1 / 39.37, 30.48, 1 / 30.48}) {
            int linear = asset.findClip("linear");
            // The joints of this clip are first put where the skeleton has them.
            List<Clip> clips = new ArrayList<>(asset.clips());
            clips.set(linear, atRest(asset, clips.get(linear), factor));
            Asset off = asset.withClips(clips);
            List<Finding> found = findings(off);
            assertThat(found).as("factor " + factor).anyMatch(f -> f.check().equals("clip-size"));
            Finding finding = found.stream()
                    .filter(f -> f.check().equals("clip-size"))
                    .findFirst()
                    .orElseThrow();
            assertThat(finding.severity()).isEqualTo(Severity.BLOCKER);
            fixes(off, finding);
        }
    }

    private static Clip atRest(Asset asset, Clip clip, double factor) {
        boolean[] joint = asset.jointFlags();
        return clip.withChannels(clip.channels().stream()
                .map(c -> {
                    if (c.path() != Channel.Path.TRANSLATION || !joint[c.node()]) {
                        return c;
                    }
                    float[] values = c.sampler().values().clone();
                    float[] rest = asset.nodes().get(c.node()).local().translation();
                    for (int i = 0; i < values.length; i++) {
                        values[i] = (float) (rest[i % 3] * factor);
                    }
                    return c.withTrack(c.sampler().withValues(values));
                })
                .toList());
    }

    @Test
    public void numbersThatNoConversionUnderstandsAreNamed() throws Exception {
        Asset asset = clean();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int crate = asset.findNode("crate");
        nodes.set(
                crate,
                nodes.get(crate)
                        .withCarried(new org.cleanmarrow.model.Passthrough(
                                "{\"extras\":{\"hinge\":{\"pivot\":[0,1,2]},\"colour\":\"red\"}}")));
        Asset carried = asset.withNodes(nodes);
        assertThat(findings(carried)).isEmpty();
        Target other = Target.named("z-up-cm-lh").orElseThrow();
        assertThat(Checks.run(carried, other, Work.QUIET))
                .anyMatch(f -> f.check().equals("unread-transforms")
                        && f.message().toString().contains("crate (pivot)"));
        assertThat(new Convert(other.conventions(), true)
                        .apply(carried, Work.QUIET)
                        .notes())
                .anyMatch(n -> n.toString().contains("crate (pivot)"));
    }
}
