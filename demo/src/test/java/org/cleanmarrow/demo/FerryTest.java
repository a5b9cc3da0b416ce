package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.intake.Combine;
import org.cleanmarrow.steps.intake.NamesFrom;
import org.cleanmarrow.steps.intake.ReplacePrefix;
import org.cleanmarrow.steps.motion.Retarget;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.DeclareConventions;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.scale.SetPivot;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** The assets of the Saltmarsh Ferry are what their descriptions say, wrong where they should be, and nowhere else. */
public class FerryTest {
    private static Asset asset(String name) {
        return Demo.named(name).orElseThrow().asset().get();
    }

    private static Asset done(Asset asset, Step step) {
        Replay.Done done = Replay.one(asset, step, false, Work.QUIET);
        assertThat(done.outcome()).as(done.reason()).isPresent();
        return done.asset();
    }

    @DataProvider
    public Object[][] demos() {
        return Demo.ALL.stream().map(d -> new Object[] {d}).toArray(Object[][]::new);
    }

    @Test(dataProvider = "demos")
    public void everyPlantedFaultIsFoundWithItsCount(Demo demo) {
        Asset asset = demo.asset().get();
        // Held against its own conventions, so that axes are no matter here.
        Target target = Target.of(asset.conventions()).with(Budget.JOINTS, 1000);
        Map<String, Long> found = Checks.run(asset, target, Work.QUIET).stream()
                .collect(Collectors.groupingBy(Finding::check, Collectors.summingLong(Finding::count)));
        for (PlantedFault fault : demo.faults().get()) {
            if (fault.check().equals("axes") || demo == Demo.pilot()) {
                continue;
            }
            assertThat(found).as("%s: %s", demo.name(), fault.where()).containsEntry(fault.check(), (long)
                    fault.count());
        }
        List<String> planted =
                demo.faults().get().stream().map(PlantedFault::check).toList();
        boolean take = demo.name().equals("punting-take");
        assertThat(found.keySet().stream().filter(c -> !planted.contains(c)))
                .as(demo.name())
                .isSubsetOf(take ? List.of("root", "end-joints", "names-illegal") : List.of());
    }

    @Test(dataProvider = "demos")
    public void everyFileIsTheSameEveryTimeAndOpensAsTheAsset(Demo demo) throws Exception {
        byte[] bytes = demo.bytes().get();
        assertThat(demo.bytes().get()).isEqualTo(bytes);
        Path file = Files.write(Files.createTempDirectory("ferry").resolve(demo.file()), bytes);
        Asset opened = AssetFiles.open(file, Work.QUIET);
        Asset made = demo.asset().get();
        assertThat(opened.conventions()).isEqualTo(made.conventions());
        assertThat(opened.meshes().stream().mapToInt(Mesh::vertexCount).sum())
                .isEqualTo(made.meshes().stream().mapToInt(Mesh::vertexCount).sum());
        // A cache in millimetres where metres are meant lies a kilometre off: float32 holds a hundredth of a millimetre
        // there.
        double near = CacheUse.all(made).isEmpty() ? 1e-6 : 1e-5;
        assertThat(MotionProbe.compare(made, opened, Work.QUIET).largestMetres())
                .isLessThan(near);
        assertThat(Demo.named(demo.name())).contains(demo);
    }

    @Test
    public void theBridgeOpensBySixtyEightDegreesAboutItsHinges() {
        Asset bridge = asset("lift-bridge");
        assertThat(bridge.clips().stream()
                        .map(c -> c.name() + " " + c.firstFrame() + ".." + c.lastFrame() + " " + c.rate()))
                .containsExactly("open 0..71 48.0", "close 73..144 48.0");
        Rig rig = new Rig(bridge);
        Clip open = bridge.clips().getFirst();
        for (String leaf : List.of("west_leaf", "east_leaf")) {
            int n = bridge.findNode(leaf);
            Matrix4d shut = rig.at(open, 0).world()[n];
            Matrix4d lifted = rig.at(open, 71 / 48.0).world()[n];
            Vector3d along = shut.transformDirection(new Vector3d(1, 0, 0)).normalize();
            Vector3d now = lifted.transformDirection(new Vector3d(1, 0, 0)).normalize();
            assertThat(Math.toDegrees(along.angle(now))).isCloseTo(68, within(0.01));
            // The end at the pier stays where it is in every frame.
            double outer = leaf.startsWith("west") ? -2.1 : 2.1;
            Vector3d hinge = shut.transformPosition(new Vector3d(outer, 0, 0));
            for (int frame = 0; frame <= 71; frame += 7) {
                Vector3d there = rig.at(open, frame / 48.0).world()[n].transformPosition(new Vector3d(outer, 0, 0));
                assertThat(there.distance(hinge)).as("%s at %d", leaf, frame).isLessThan(1e-4);
            }
        }
    }

    @Test
    public void theBridgeIsFoldedHingedAndCombined() {
        Asset bridge = asset("lift-bridge");
        Asset folded = done(bridge, new FreezeNodes());
        assertThat(MotionProbe.compare(bridge, folded, Work.QUIET).largestMetres())
                .isLessThan(1e-4);
        Asset hinged = done(folded, new SetPivot("west_leaf", SetPivot.To.BOX, "right bottom", 0, 0, 0));
        assertThat(MotionProbe.compare(folded, hinged, Work.QUIET).largestMetres())
                .isLessThan(1e-4);
        int n = hinged.findNode("west_leaf");
        Clip open = hinged.clips().getFirst();
        Vector3d shut = new Rig(hinged).at(open, 0).world()[n].getTranslation(new Vector3d());
        Vector3d lifted = new Rig(hinged).at(open, 1).world()[n].getTranslation(new Vector3d());
        assertThat(shut.distance(lifted)).as("the hinge stays").isLessThan(0.15);
        Asset combined = done(hinged, new Combine("west_leaf, west_rail", "west_leaf"));
        // Its node stays for the shape that stands there, and draws nothing.
        assertThat(combined.nodes().get(combined.findNode("west_rail")).mesh()).isEqualTo(-1);
        double movedBefore = spread(hinged, "west_leaf");
        assertThat(spread(combined, "west_leaf")).isGreaterThanOrEqualTo(movedBefore);
        Replay.Done refused = Replay.one(hinged, new Combine("west_leaf, west_pier", "both"), false, Work.QUIET);
        assertThat(refused.outcome()).isEmpty();
        assertThat(refused.reason()).contains("moves by itself");
    }

    private static double spread(Asset asset, String name) {
        int mesh = asset.nodes().get(asset.findNode(name)).mesh();
        Box box = Box.empty();
        asset.meshes().get(mesh).primitives().forEach(p -> box.grow(p.positions()));
        return box.diagonal();
    }

    @Test
    public void theHeronIsOfItsSizeAndWadesOnTheSpot() {
        Asset heron = asset("marsh-heron");
        Vector3d size = RestBox.of(heron).size();
        // A grey heron stands 84 to 102 cm (from memory); ours is a little taller.
        assertThat(size.y).isBetween(0.9, 1.1);
        Clip wade = heron.clips().getFirst();
        assertThat(wade.lastFrame()).isEqualTo(48);
        Matrix4d[] first = new Rig(heron).at(wade, wade.start()).world();
        Matrix4d[] last = new Rig(heron).at(wade, wade.end()).world();
        for (int n = 0; n < first.length; n++) {
            assertThat(last[n].equals(first[n], 2e-3))
                    .as(heron.nodes().get(n).name())
                    .isTrue();
        }
        for (Mesh mesh : heron.meshes()) {
            mesh.primitives().forEach(p -> {
                for (int v = 0; v < p.vertexCount(); v++) {
                    assertThat(p.influences().sum(v)).isCloseTo(1, within(1e-6));
                    assertThat(p.influences().rowLength(v)).isBetween(1, 4);
                }
            });
        }
    }

    @Test
    public void theVestComesOutAtTheSizeOfThePilotsChest() {
        Asset vest = asset("float-vest");
        Faces faces = vest.meshes().getFirst().primitives().getFirst().layout().faces();
        assertThat(faces.groupNames()).containsExactly("front", "back");
        assertThat(faces.smoothing()).containsOnly(1);
        Finding size = Checks.run(vest, Target.of(Conventions.GLTF), Work.QUIET).stream()
                .filter(f -> f.check().equals("size"))
                .findFirst()
                .orElseThrow();
        assertThat(size.message().toString()).contains("m taken for cm");
        Asset right = done(vest, size.fix().orElseThrow());
        right = done(right, new TurnAndFold(TurnAndFold.About.Z, -90, Optional.empty()));
        right = done(right, new Convert(Conventions.GLTF, true));
        Box box = RestBox.of(right);
        Box pilot = RestBox.of(done(FerryPilot.asset(), new Convert(Conventions.GLTF, true)));
        assertThat(box.min().y).isGreaterThan(0.85);
        assertThat(box.max().y).isLessThan(pilot.max().y);
        assertThat(box.size().x).isBetween(0.35, 0.5);
        assertThat(right.conventions()).isEqualTo(Conventions.GLTF);
    }

    @Test
    public void theTakeMovesThePilotOnceItsPrefixIsSeenThrough() throws Exception {
        Asset take = asset("punting-take");
        assertThat(take.conventions().metresPerUnit()).isEqualTo(0.01);
        assertThat(take.nodes())
                .filteredOn(n -> !n.name().endsWith("_end"))
                .allMatch(n -> n.name().startsWith("take_3:"));
        // A take's joints have the axes of the world at rest, so the pilot's are given those too.
        Asset pilot = done(
                done(FerryPilot.asset(), new Convert(Conventions.GLTF, true)),
                new OrientJoints("*", OrientJoints.Along.WORLD));
        List<Join.Match> table = Join.table(pilot, take);
        assertThat(table)
                .filteredOn(m -> m.other().equals("take_3:left_hand"))
                .allMatch(m -> m.found().equals("left_hand"));
        Asset joined = Join.of(pilot, take, Work.QUIET);
        Clip theirs = joined.clips().get(joined.findClip("punting-take"));
        Clip ours = joined.clips().get(joined.findClip("punt"));
        for (double share : new double[] {0, 0.3, 0.7, 1}) {
            assertThat(handAt(joined, theirs, share).distance(handAt(joined, ours, share)))
                    .as("at " + share)
                    .isLessThan(1e-3);
        }
        // With the pilot's own axes the take's skeleton comes along, and its motion is brought over.
        Asset apart = Join.of(done(FerryPilot.asset(), new Convert(Conventions.GLTF, true)), take, Work.QUIET);
        Asset brought = done(apart, new Retarget("punting-take", true));
        assertThat(brought.nodes().size()).isLessThan(apart.nodes().size());
        Clip broughtClip = brought.clips().get(brought.findClip("punting-take"));
        for (double share : new double[] {0, 0.3, 0.7, 1}) {
            Vector3d a = handAt(joined, ours, share);
            assertThat(handAt(brought, broughtClip, share).distance(a))
                    .as("at " + share)
                    .isLessThan(2e-3);
        }
        Asset stripped = done(take, new ReplacePrefix("take_3:", ""));
        assertThat(stripped.findNode("left_hand")).isNotNegative();
        List<Step> named = NamesFrom.reference(take, pilot);
        assertThat(named).isNotEmpty();
        assertThat(done(take, named.getFirst()).findNode("left_hand")).isNotNegative();
        assertThat(NamesFrom.reference(pilot, pilot)).isEmpty();
    }

    private static Vector3d handAt(Asset asset, Clip clip, double share) {
        return new Rig(asset)
                .at(clip, clip.start() + share * clip.seconds())
                .world()[asset.findNode("left_hand")]
                .getTranslation(new Vector3d());
    }

    @Test
    public void saidOtherwiseTheTakeIsOfAnotherSizeAndTheCheckSaysSo() {
        Asset pilot = done(
                done(FerryPilot.asset(), new Convert(Conventions.GLTF, true)),
                new OrientJoints("*", OrientJoints.Along.WORLD));
        Asset wrong = done(
                asset("punting-take"),
                new DeclareConventions(Conventions.parse("y-up-m-rh").orElseThrow()));
        Replay.Done same = Replay.one(pilot, new Convert(Conventions.GLTF, true), false, Work.QUIET);
        assertThat(same.outcome()).isPresent();
        try {
            Asset joined = Join.of(pilot, wrong, Work.QUIET);
            List<Finding> sizes = Checks.run(joined, Target.of(Conventions.GLTF), Work.QUIET).stream()
                    .filter(f -> f.check().equals("clip-size"))
                    .toList();
            assertThat(sizes).hasSize(1);
            assertThat(sizes.getFirst().message().toString()).contains("punting-take", "100", "cm", "m");
            Asset right = done(joined, sizes.getFirst().fix().orElseThrow());
            assertThat(Checks.run(right, Target.of(Conventions.GLTF), Work.QUIET))
                    .noneMatch(f -> f.check().equals("clip-size"));
        } catch (org.cleanmarrow.work.Refused e) {
            throw new AssertionError(e);
        }
    }
}
