package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Seam;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

public class FerryPilotTest {
    private static final Target TARGET = Target.named("z-up-cm-lh").orElseThrow();
    private static final List<String> ORDER = List.of(
            "root",
            "axes",
            "end-joints",
            "leak",
            "leak",
            "strays",
            "weight-sums",
            "influences",
            "lost-channels",
            "roles",
            "roles");

    /** The whole story as a ledger: the fix of one finding after the other. */
    static Ledger story(Asset source) {
        Ledger ledger = Ledger.EMPTY;
        Asset asset = source;
        for (String check : ORDER) {
            Finding finding = Checks.run(asset, TARGET, Work.QUIET).stream()
                    .filter(f -> f.check().equals(check))
                    .findFirst()
                    .orElseThrow();
            Replay.Done done = Replay.one(asset, finding.fix().orElseThrow(), false, Work.QUIET);
            assertThat(done.outcome()).as(done.reason()).isPresent();
            ledger = ledger.plus(done.step());
            asset = done.asset();
        }
        return ledger;
    }

    @Test
    public void isTheSameToTheByteEveryTime() {
        assertThat(GltfWriter.glb(FerryPilot.madeAnew())).isEqualTo(GltfWriter.glb(FerryPilot.asset()));
    }

    @Test
    public void isAPersonOfOrdinaryMakeAndSize() {
        Asset pilot = FerryPilot.asset();
        Vector3d size = RestBox.of(pilot).size().mul(pilot.conventions().metresPerUnit());
        // A person stands about 1.75 m, hat and boots included.
        assertThat(size.z).isCloseTo(1.765, within(0.03));
        assertThat(size.x).isBetween(0.9, 1.4);
        int triangles = pilot.meshes().stream().mapToInt(Mesh::triangleCount).sum();
        assertThat(triangles).isBetween(20_000, 31_000);
        assertThat(pilot.nodes().stream().map(n -> n.name()).toList()).doesNotHaveDuplicates();
    }

    @Test
    public void everyPlantedFaultIsFoundWithItsCountAndNothingElse() {
        Map<String, Long> found = Checks.run(FerryPilot.asset(), TARGET, Work.QUIET).stream()
                .collect(Collectors.toMap(Finding::check, Finding::count, Math::max));
        assertThat(found.keySet())
                .containsExactlyInAnyOrderElementsOf(
                        FerryPilot.faults().stream().map(PlantedFault::check).toList());
        for (PlantedFault fault : FerryPilot.faults()) {
            if (fault.count() > 0) {
                assertThat(found.get(fault.check())).as(fault.where()).isEqualTo(fault.count());
            }
        }
    }

    /** The last key of one joint disturbed: the jump is the way of the vertex that goes furthest round that joint. */
    @Test
    public void aLoopWhoseLastPoseWasDisturbedJumpsUntilItIsClosed() throws Refused {
        Asset pilot = FerryPilot.asset();
        Clip punt = pilot.clips().get(pilot.findClip("punt"));
        assertThat(Seam.of(pilot, punt, Work.QUIET).metres()).isLessThan(1e-6);
        int arm = pilot.findNode("left_upper_arm");
        Asset bad = pilot.mapClips(c -> c == punt ? disturbed(c, arm, 20) : c);
        Seam before = Seam.of(bad, bad.clips().get(pilot.findClip("punt")), Work.QUIET);
        // 20 degrees move what is r away by 2 r sin 10: an arm of some 70 cm with the punt's pole out of its hand.
        assertThat(before.metres()).isBetween(0.1, 0.5);
        assertThat(before.degreesPerSecond()).isGreaterThan(20 * punt.rate() * 0.9);
        Asset closed = new CloseLoop("punt", 8).apply(bad, Work.QUIET).asset();
        Seam after = Seam.of(closed, closed.clips().get(pilot.findClip("punt")), Work.QUIET);
        assertThat(after.metres()).isLessThan(1e-5);
    }

    private static Clip disturbed(Clip clip, int node, double degrees) {
        return clip.withChannels(clip.channels().stream()
                .map(c -> {
                    if (c.node() != node || c.path() != Channel.Path.ROTATION) {
                        return c;
                    }
                    float[] values = c.sampler().values().clone();
                    int last = values.length - 4;
                    Quaterniond q = new Quaterniond(values[last], values[last + 1], values[last + 2], values[last + 3]);
                    q.rotateX(Math.toRadians(degrees));
                    values[last] = (float) q.x;
                    values[last + 1] = (float) q.y;
                    values[last + 2] = (float) q.z;
                    values[last + 3] = (float) q.w;
                    return c.withTrack(c.sampler().withValues(values));
                })
                .toList());
    }

    @Test
    public void clipsHaveTheirFramesAndHoldTheFeet() {
        Asset pilot = FerryPilot.asset();
        assertThat(pilot.clips().stream()
                        .map(c -> c.name() + " " + c.firstFrame() + ".." + c.lastFrame())
                        .toList())
                .containsExactly("idle 1..97", "hail 0..47", "punt 1..61");
        Rig rig = new Rig(pilot);
        int foot = pilot.findNode("left_foot");
        Vector3d rest = rig.rest().world()[foot].getTranslation(new Vector3d());
        for (Clip clip : pilot.clips()) {
            for (double t = clip.start(); t <= clip.end(); t += 0.05) {
                Vector3d now = rig.at(clip, t).world()[foot].getTranslation(new Vector3d());
                assertThat(now.distance(rest))
                        .as("%s at %.2f s, in cm", clip.name(), t)
                        .isLessThan(0.2);
            }
        }
        Clip idle = pilot.clips().getFirst();
        Matrix4d first = rig.at(idle, idle.start()).world()[pilot.findNode("left_hand")];
        Matrix4d last = rig.at(idle, idle.end()).world()[pilot.findNode("left_hand")];
        assertThat(first.equals(last, 1e-3)).as("a loop ends where it starts").isTrue();
    }

    @Test
    public void theStoryLeadsToACleanSpineAndASoundDelivery() throws Exception {
        Asset source = FerryPilot.asset();
        List<Replay.Done> done = Replay.all(source, story(source), true, Work.QUIET);
        Asset clean = done.getLast().asset();
        assertThat(Checks.run(clean, TARGET, Work.QUIET)).isEmpty();
        // What only changes form moves nothing.
        for (int i = 0; i < 3; i++) {
            assertThat(done.get(i).motion().orElseThrow().largestMetres()).isLessThan(2e-6);
        }
        // Taking the arm off the strap moves the strap, by centimetres, while the arm is up.
        assertThat(done.get(3).motion().orElseThrow().largestMetres()).isBetween(0.02, 0.3);
        assertThat(done.get(3).motion().orElseThrow().clip()).isIn("hail", "arms-up");
        Path folder = Files.createTempDirectory("marrow");
        Delivery.Delivered delivered = Delivery.deliver(clean, folder, "glb", Work.QUIET);
        assertThat(delivered.landing().largestMetres()).isZero();
        assertThat(delivered.landing().unmatched()).isEmpty();
        agreesWithThreeJs(clean, delivered.files().getFirst());
        // The model alone, and on it the clips of files of their own, put together by three.js.
        List<Path> apart = Delivery.deliver(clean, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET)
                .files();
        assertThat(apart).hasSize(4);
        agreesWithThreeJs(clean, apart.getFirst(), apart.get(1), apart.get(2), apart.get(3));
        validates(delivered.files().getFirst());
    }

    @Test
    public void theLedgerFitsTheNewerVersionThoughItsVerticesHaveOtherNumbers() throws Exception {
        Asset source = FerryPilot.asset();
        Asset newer = FerryPilot.newerVersion();
        assertThat(newer.meshes().getFirst().vertexCount())
                .isGreaterThan(source.meshes().getFirst().vertexCount());
        Ledger ledger = Ledger.parse(story(source).toJson());
        List<Replay.Done> done = Replay.all(newer, ledger, false, Work.QUIET);
        assertThat(done).allSatisfy(d -> assertThat(d.outcome()).as(d.reason()).isPresent());
        assertThat(Checks.run(done.getLast().asset(), TARGET, Work.QUIET)).isEmpty();
    }

    @Test
    public void replayOnTheSameSourceGivesIdenticalBytes() throws Exception {
        Ledger ledger = story(FerryPilot.asset());
        byte[] first = GltfWriter.glb(Replay.all(FerryPilot.asset(), ledger, false, Work.QUIET)
                .getLast()
                .asset());
        Asset read = GltfReader.read(GltfWriter.glb(FerryPilot.asset()), "ferry-pilot.glb", null, Work.QUIET);
        Ledger again = Ledger.parse(ledger.toJson());
        assertThat(GltfWriter.glb(
                        Replay.all(read, again, false, Work.QUIET).getLast().asset()))
                .isEqualTo(first);
    }

    /** Every mesh of the delivered file, at rest and at five moments of each clip, where three.js 0.187 puts it. */
    private static void agreesWithThreeJs(Asset asset, Path file, Path... clips) throws Exception {
        List<String> arguments = new ArrayList<>(List.of(file.toString(), "300"));
        Stream.of(clips).map(Path::toString).forEach(arguments::add);
        JsonNode witness = JsonMapper.shared().readTree(Witness.node("witness.mjs", arguments.toArray(String[]::new)));
        double size = RestBox.of(asset).diagonal();
        Rig rig = new Rig(asset);
        Deformer deformer = new Deformer(asset);
        double worst = 0;
        for (JsonNode moment : witness.path("moments")) {
            int clip = moment.path("clip").intValue();
            Pose pose = clip < 0
                    ? rig.rest()
                    : rig.at(asset.clips().get(clip), moment.path("seconds").doubleValue());
            for (JsonNode mesh : moment.path("meshes")) {
                MeshPlace place = deformer.places().stream()
                        .filter(p -> p.node() == mesh.path("node").intValue())
                        .findFirst()
                        .orElseThrow();
                float[] p = deformer.positions(place, pose);
                for (int i = 0; i < mesh.path("positions").size(); i++) {
                    int v = mesh.path("vertices").get(i / 3).intValue();
                    worst = Math.max(
                            worst,
                            Math.abs(p[v * 3 + i % 3]
                                    - mesh.path("positions").get(i).doubleValue()));
                }
            }
        }
        assertThat(witness.path("moments").size()).isEqualTo(16);
        assertThat(worst).isLessThan(1e-5 * size);
    }

    private static void validates(Path file) throws Exception {
        JsonNode verdict = Witness.validated(file);
        assertThat(verdict.path("errors").intValue()).isZero();
        assertThat(verdict.path("warnings").intValue()).isZero();
    }

    /** The messy source is valid in form: the validator complains of the weights that were spoilt, and of nothing else. */
    @Test
    public void theSourceIsWrongOnlyWhereItWasSpoilt() throws Exception {
        Path file = Files.createTempDirectory("marrow").resolve("pilot.glb");
        Files.write(file, GltfWriter.glb(FerryPilot.asset()));
        JsonNode verdict = Witness.validated(file);
        for (JsonNode message : verdict.path("messages")) {
            assertThat(message.stringValue()).startsWith("ACCESSOR_WEIGHTS_NON_NORMALIZED");
        }
        Primitive p = FerryPilot.asset().meshes().getFirst().primitives().getFirst();
        assertThat(p.influences().longestRow()).isEqualTo(5);
    }
}
