package org.cleanmarrow.join;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** What was one asset, taken apart into files and joined again, must move as it did. */
public class JoinTest {
    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    /** Joints and clips alone, as a file of motion has them. */
    private static Asset motionOnly(Asset asset) {
        List<Node> nodes = asset.nodes().stream().map(n -> n.withMesh(-1, -1)).toList();
        return asset.withNodes(nodes).withMeshes(List.of());
    }

    private static Asset without(Asset asset, String mesh) {
        List<Node> nodes = asset.nodes().stream()
                .map(n -> n.mesh() >= 0 && asset.meshes().get(n.mesh()).name().equals(mesh) ? n.withMesh(-1, -1) : n)
                .toList();
        return asset.withNodes(nodes);
    }

    @Test
    public void modelAndClipsJoinAgainWhateverTheClipsConventions() throws Exception {
        for (long seed = 1; seed < 12; seed++) {
            Asset whole = RandomAssets.of(seed);
            Asset model = whole.withClips(List.of());
            for (String code : List.of("y-up-m-rh", "z-up-cm-lh", "y-up-in-rh")) {
                Asset takes = new Convert(Conventions.parse(code).orElseThrow(), false)
                        .apply(motionOnly(whole), Work.QUIET)
                        .asset();
                Asset joined = Join.of(model, takes, Work.QUIET);
                assertThat(joined.nodes()).hasSize(whole.nodes().size());
                assertThat(joined.skins()).hasSize(whole.skins().size());
                Motion motion = MotionProbe.compare(whole, joined, Work.QUIET);
                assertThat(motion.unmatched()).isEmpty();
                assertThat(motion.largestMetres())
                        .as("seed %d in %s", seed, code)
                        .isLessThan(1e-4 * size(whole));
            }
        }
    }

    /** A second part on the same skeleton: the crate of one file and the figure of another. */
    @Test
    public void aMeshOfAnotherFileHangsOnTheJointsOfTheSameName() throws Exception {
        for (long seed = 1; seed < 12; seed++) {
            Asset whole = RandomAssets.of(seed);
            Asset figure = without(whole, "crate");
            Asset crate = without(whole, "figure").withClips(List.of());
            Asset joined = Join.of(figure, crate, Work.QUIET);
            Motion motion = MotionProbe.compare(without(whole, "crate"), without(joined, "crate"), Work.QUIET);
            assertThat(motion.largestMetres()).isLessThan(1e-6 * size(whole));
            List<String> placed = joined.nodes().stream()
                    .filter(n -> n.mesh() >= 0)
                    .map(n -> joined.meshes().get(n.mesh()).name())
                    .toList();
            assertThat(placed).contains("figure", "crate");
            // The tool on the last joint moves with it, clip by clip, as it did in one file.
            Motion tool = MotionProbe.compare(without(whole, "figure"), without(joined, "figure"), Work.QUIET);
            assertThat(tool.largestMetres()).as("seed %d", seed).isLessThan(1e-4 * size(whole));
        }
    }

    /** Joints that rest elsewhere in the second, and are not keyed: turned, moved or sized, they play as they did there. */
    @Test
    public void clipsPlayAsTheyDidWhereJointsRestElsewhere() throws Exception {
        for (long seed = 1; seed < 12; seed++) {
            Random random = new Random(seed);
            Asset whole = RandomAssets.of(seed);
            boolean[] joint = whole.jointFlags();
            List<Node> nodes = new ArrayList<>();
            for (Node node : motionOnly(whole).nodes()) {
                Local l = node.local();
                boolean elsewhere = joint[nodes.size()] && l.matrix() == null && random.nextBoolean();
                Quaterniond turn = l.rotationQuaternion().rotateY(0.1 * random.nextGaussian());
                nodes.add(
                        elsewhere
                                ? node.withLocal(Local.of(
                                        l.translationVector().mul(1.1),
                                        turn,
                                        l.scaleVector().mul(0.9)))
                                : node);
            }
            Asset takes = motionOnly(whole).withNodes(nodes);
            Asset joined = Join.of(whole.withClips(List.of()), takes, Work.QUIET);
            for (int c = 0; c < takes.clips().size(); c++) {
                Clip was = takes.clips().get(c);
                for (int i = 0; i <= 5 && !was.channels().isEmpty(); i++) {
                    double t = was.start() + was.seconds() * i / 5;
                    Matrix4d[] a = new Rig(takes).at(was, t).world();
                    Matrix4d[] b = new Rig(joined).at(joined.clips().get(c), t).world();
                    for (int n = 0; n < a.length; n++) {
                        Vector3d there = a[n].getTranslation(new Vector3d());
                        Vector3d here = b[joined.findNode(takes.nodes().get(n).name())].getTranslation(new Vector3d());
                        assertThat(here.distance(there) * whole.conventions().metresPerUnit())
                                .as("seed %d, clip %d, node %d", seed, c, n)
                                .isLessThan(1e-4 * size(whole));
                    }
                }
            }
        }
    }

    @Test
    public void subjectPrefixesAreSeenThroughAndWhatIsMissingIsNamed() throws Exception {
        Asset whole = RandomAssets.of(4);
        List<Node> renamed = new ArrayList<>();
        for (Node node : motionOnly(whole).nodes()) {
            renamed.add(node.withName(node.name().equals("joint_1") ? "take_7:tail" : "take_7:" + node.name()));
        }
        Asset takes = motionOnly(whole).withNodes(renamed);
        Asset joined = Join.of(whole.withClips(List.of()), takes, Work.QUIET);
        assertThat(joined.notes()).anyMatch(n -> n.toString().contains("take_7:tail"));
        assertThat(joined.clips()).hasSize(3);
        assertThat(Checks.run(joined, Target.named("y-up-m-rh").orElseThrow(), Work.QUIET))
                .filteredOn(f -> f.check().equals("lost-channels"))
                .isNotEmpty()
                .allMatch(f -> f.message().toString().contains("take_7:tail"));
        Asset twice = Join.of(joined, takes, Work.QUIET);
        assertThat(twice.clips().stream().map(c -> c.name()).toList())
                .doesNotHaveDuplicates()
                .hasSize(6);
    }

    @Test
    public void aSkeletonComesAlongWhereThereIsNone() throws Exception {
        Asset whole = RandomAssets.of(5);
        Asset box = Asset.of(
                "box",
                Conventions.GLTF,
                List.of(Node.group("box", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of(
                        "box",
                        org.cleanmarrow.model.Primitive.triangles(
                                new int[] {0, 1, 2}, new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, null, -1))),
                List.of(),
                List.of());
        Asset joined = Join.of(box, motionOnly(whole), Work.QUIET);
        assertThat(joined.skins()).hasSize(1);
        assertThat(joined.skins().getFirst().joints()).doesNotContain(-1);
        assertThat(joined.clips()).hasSize(3);
        assertThat(joined.parents()).hasSize(joined.nodes().size());
    }
}
