package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.measure.WorstPlaces;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.reference.JointMap;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.skin.BindNear;
import org.cleanmarrow.steps.skin.CopyWeights;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.steps.skin.SharpenWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.weights.InfluenceChoice;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Sides;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.WeightChange;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** The skin's smaller pieces on the pilot: strokes, choice by effect, worst places, kept poses, what changed. */
public class SkinDetailsTest {
    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    private static Influences rows(Asset asset, String mesh) {
        return asset.meshes().get(asset.findMesh(mesh)).primitives().getFirst().influences();
    }

    private static Skin skin(Asset asset) {
        return asset.skins().get(asset.skinOfMesh(asset.findMesh("pilot")));
    }

    private static int joint(Asset asset, String name) {
        return skin(asset).indexOfNode(asset.findNode(name));
    }

    /** Amounts on the left half of the jumper's breast. */
    private static float[] leftBreast(Asset pilot) {
        Mesh mesh = pilot.meshes().get(pilot.findMesh("pilot"));
        float[] p = mesh.primitives().getFirst().positions();
        MeshTopology topology = MeshTopology.of(mesh);
        float[] out = new float[mesh.vertexCount()];
        for (int v = 0; v < out.length; v++) {
            boolean there = topology.islandOf(v) == topology.islandOf(0)
                    && p[v * 3] > 0.01
                    && p[v * 3] < 0.12
                    && p[v * 3 + 1] > 1.1
                    && p[v * 3 + 1] < 1.3
                    && p[v * 3 + 2] > 0;
            out[v] = there ? 0.4f : 0;
        }
        return out;
    }

    @Test
    public void aMirroredStrokeDoesTheSameOnTheOtherSideToTheOtherJoint() throws Refused {
        Asset pilot = VestedPilot.asset();
        Mesh mesh = pilot.meshes().get(pilot.findMesh("pilot"));
        VertexAmounts left = VertexAmounts.of(mesh, leftBreast(pilot));
        Asset painted = done(pilot, new PaintWeights("pilot", "left_collar", Stroke.Mode.ADD, left, 1, "", true));
        Influences was = rows(pilot, "pilot");
        Influences is = rows(painted, "pilot");
        Sides sides = Sides.of(pilot, pilot.findMesh("pilot"));
        Sides.Image[] images = sides.images(0.004);
        int leftCollar = joint(pilot, "left_collar");
        int rightCollar = joint(pilot, "right_collar");
        assertThat(sides.twinOf(leftCollar)).isEqualTo(rightCollar);
        BitSet brushed = left.vertices().vertices();
        int checked = 0;
        for (int v = 0; v < is.vertexCount(); v++) {
            if (brushed.get(v)) {
                assertThat(is.weight(v, leftCollar)).isGreaterThan(was.weight(v, leftCollar));
            }
            Sides.Image image = images[sides.surface().weldedOf(v)];
            boolean mirrored = image != null;
            for (int i = 0; mirrored && i < 3; i++) {
                mirrored = brushed.get(sides.surface().vertexOf(image.corners()[i]));
            }
            if (mirrored) {
                assertThat(is.weight(v, rightCollar)).isGreaterThan(was.weight(v, rightCollar));
                assertThat(is.sum(v)).isCloseTo(1, within(2e-6));
                checked++;
            }
        }
        assertThat(checked).isGreaterThan(20);
        assertThatThrownBy(() -> done(
                        pilot, new PaintWeights("pilot", "left_collar", Stroke.Mode.SET, left, 1, "right_*", true)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("right_collar");
    }

    /** A stroke is found again by place on a version whose vertices have other numbers. */
    @Test
    public void aStrokeFitsAVersionWithOtherNumbers() throws Refused {
        Asset pilot = VestedPilot.asset();
        int m = pilot.findMesh("pilot");
        Mesh mesh = pilot.meshes().get(m);
        VertexAmounts left = VertexAmounts.of(mesh, leftBreast(pilot));
        Step stroke = new PaintWeights("pilot", "waist", Stroke.Mode.SET, left, 0.25, "", false);
        // All vertices one further: a point no triangle uses stands before them.
        Primitive p = mesh.primitives().getFirst();
        float[] moved = new float[p.positions().length + 3];
        System.arraycopy(p.positions(), 0, moved, 3, p.positions().length);
        int[] corners = java.util.Arrays.stream(p.indices()).map(i -> i + 1).toArray();
        Influences.Builder table = new Influences.Builder(p.vertexCount() + 1);
        table.add(0, 1);
        table.endRow();
        table.copyRows(p.influences(), 0, p.vertexCount());
        Asset newer = pilot.withMesh(
                m,
                mesh.withPrimitives(
                        List.of(Primitive.triangles(corners, moved, null, -1).withInfluences(table.build()))));
        Influences there = rows(done(newer, stroke), "pilot");
        Influences here = rows(done(pilot, stroke), "pilot");
        int waist = joint(pilot, "waist");
        for (int v = 0; v < here.vertexCount(); v++) {
            if (left.vertices().vertices().get(v)) {
                assertThat(there.weight(v + 1, waist)).isCloseTo(here.weight(v, waist), within(1e-6f));
            }
        }
    }

    /** Two joints that always move alike are one: cut to few, nothing moves at all. */
    @Test
    public void whatMovesAlikeIsJoinedWithoutLoss() {
        Asset pilot = VestedPilot.asset();
        InfluenceChoice choice = new InfluenceChoice(pilot, pilot.findMesh("pilot"));
        assertThat(choice.poses()).isGreaterThan(30);
        // The end of the toes does not turn against the toes in any clip or pose.
        int foot = joint(pilot, "left_foot");
        int toes = joint(pilot, "left_toes");
        int shin = joint(pilot, "left_shin");
        Row row = new Row();
        row.append(shin, 0.4);
        row.append(foot, 0.35);
        row.append(toes, 0.25);
        Row full = new Row();
        full.add(row, 1);
        choice.cut(row, 0.12f, 0.1f, 0.05f, 2);
        assertThat(row.size()).isEqualTo(2);
        assertThat(choice.distance(full, row, 0.12f, 0.1f, 0.05f)).isLessThan(1e-5);
        Row bySize = new Row();
        bySize.add(full, 1);
        bySize.keep(2);
        bySize.normalise();
        assertThat(choice.distance(full, bySize, 0.12f, 0.1f, 0.05f)).isGreaterThan(1e-4);
        Row same = new Row();
        same.append(shin, 1);
        choice.cut(same, 0, 0, 0, 4);
        assertThat(same.size()).isEqualTo(1);
        Random random = new Random(7);
        for (int round = 0; round < 200; round++) {
            Row many = new Row();
            for (int i = 0; i < 9; i++) {
                many.add(random.nextInt(skin(pilot).joints().length), random.nextDouble());
            }
            many.normalise();
            Row before = new Row();
            before.add(many, 1);
            Row heaviest = new Row();
            heaviest.add(many, 1);
            heaviest.keep(4);
            heaviest.normalise();
            float x = random.nextFloat() - 0.5f;
            float y = random.nextFloat() * 1.7f;
            choice.cut(many, x, y, 0, 4);
            assertThat(many.size()).isLessThanOrEqualTo(4);
            assertThat(many.sum()).isCloseTo(1, within(1e-6));
            assertThat(choice.distance(before, many, x, y, 0))
                    .isLessThanOrEqualTo(choice.distance(before, heaviest, x, y, 0) + 1e-6);
        }
    }

    @Test
    public void theWorstPlaceIsWhereTheFaultIs() throws Refused {
        Asset pilot = VestedPilot.asset();
        List<TrialPose> poses = TrialPoses.of(pilot);
        List<WorstPlaces> before = WorstPlaces.of(pilot, poses, Work.QUIET);
        assertThat(before).hasSize(poses.size() * 2);
        for (int i = 1; i < before.size(); i++) {
            assertThat(Math.abs(before.get(i).worst()))
                    .isLessThanOrEqualTo(Math.abs(before.get(i - 1).worst()));
        }
        // One vertex of the breast that follows a foot.
        BitSet one = new BitSet();
        one.set(VertexAmounts.of(pilot.meshes().get(pilot.findMesh("pilot")), leftBreast(pilot))
                .vertices()
                .vertices()
                .nextSetBit(0));
        Asset wrong = done(pilot, new SetWeight("pilot", "left_foot", VertexSet.numbers(one), 1));
        WorstPlaces worst = WorstPlaces.of(wrong, poses, Work.QUIET).getFirst();
        assertThat(worst.vertices().get(one.nextSetBit(0))).isTrue();
        assertThat(Math.abs(worst.worst()))
                .isGreaterThan(Math.abs(before.getFirst().worst()));
        assertThat(worst.mesh()).isEqualTo(pilot.findMesh("pilot"));
    }

    @Test
    public void aPoseIsKeptAsItWasHeldAndWrongOnesAreNotRead() throws Exception {
        Asset heron = MarshHeron.asset();
        TrialPose kept = TrialPose.held("stalk", heron, heron.clips().getFirst(), 0.7);
        Ledger ledger = Ledger.parse(Ledger.EMPTY.keeping(kept).toJson());
        TrialPose read = ledger.poses().getFirst();
        var wanted = new org.cleanmarrow.pose.Rig(heron).at(heron.clips().getFirst(), 0.7);
        var held = new org.cleanmarrow.pose.Rig(heron).at(read.clip(heron), 1);
        for (int n = 0; n < heron.nodes().size(); n++) {
            assertThat(Math.abs(held.rotation(n).dot(wanted.rotation(n)))).isCloseTo(1, within(1e-9));
        }
        assertThat(ledger.keeping(TrialPose.to("stalk", Map.of())).poses()).hasSize(1);
        for (String bad : List.of(
                "{\"name\": \"\", \"joints\": {}}",
                "{\"name\": \"a\", \"joints\": {\"b\": [0, 0, 0]}}",
                "{\"name\": \"a\", \"joints\": {\"b\": [0, 0, 0, 0]}}",
                "{\"name\": \"a\"}")) {
            assertThatThrownBy(() -> Ledger.parse("{\"ledger\": 1, \"steps\": [], \"poses\": [" + bad + "]}"))
                    .isInstanceOf(BadJson.class)
                    .hasMessageContaining("pose 1");
        }
    }

    @Test
    public void whatChangedIsSaidByJointNames() throws Refused {
        Asset pilot = VestedPilot.asset();
        Primitive was = pilot.meshes().get(pilot.findMesh("pilot")).primitives().getFirst();
        float[] none = WeightChange.of(pilot, was, pilot, was);
        assertThat(none).containsOnly(0f);
        BitSet some = new BitSet();
        some.set(10, 14);
        Asset changed = done(pilot, new SetWeight("pilot", "waist", VertexSet.numbers(some), 0.9));
        Primitive is =
                changed.meshes().get(changed.findMesh("pilot")).primitives().getFirst();
        float[] found = WeightChange.of(pilot, was, changed, is);
        int waist = joint(pilot, "waist");
        for (int v = 0; v < found.length; v++) {
            float moved =
                    Math.abs(is.influences().weight(v, waist) - was.influences().weight(v, waist));
            assertThat(found[v]).isCloseTo(some.get(v) ? moved : 0, within(1e-5f));
        }
        // All joints under other names: all of it follows others than before.
        Map<String, String> names = new java.util.TreeMap<>();
        for (int node : skin(pilot).joints()) {
            names.put(
                    pilot.nodes().get(node).name(),
                    "x_" + pilot.nodes().get(node).name());
        }
        Asset renamed = done(pilot, new RenameMany(Rename.Kind.NODE, names));
        Primitive same =
                renamed.meshes().get(renamed.findMesh("pilot")).primitives().getFirst();
        assertThat(WeightChange.of(pilot, was, renamed, same)[100]).isCloseTo(1, within(1e-5f));
    }

    @Test
    public void hardeningSmoothingAndCopyingDoWhatTheySay() throws Refused {
        Asset pilot = VestedPilot.asset();
        VertexSet breast = VertexAmounts.of(pilot.meshes().get(pilot.findMesh("pilot")), leftBreast(pilot))
                .vertices();
        Influences hard = rows(done(pilot, new SharpenWeights("pilot", breast, SharpenWeights.How.HARD, "")), "pilot");
        Influences was = rows(pilot, "pilot");
        breast.vertices().stream().forEach(v -> {
            assertThat(hard.rowLength(v)).isEqualTo(1);
            Row row = new Row();
            row.load(was, v);
            assertThat(hard.joints()[hard.offsets()[v]]).isEqualTo(row.joint(row.largest()));
        });
        Asset one = done(pilot, new SharpenWeights("pilot", breast, SharpenWeights.How.ONE, ""));
        assertThat(breast.vertices().stream()
                        .map(v -> rows(one, "pilot").joints()[rows(one, "pilot").offsets()[v]])
                        .distinct()
                        .count())
                .isEqualTo(1);
        // A mean is never more than the most of what it is a mean of.
        Asset smooth = done(pilot, new SmoothWeights("pilot", breast, 1, 40, "", 255));
        for (int j = 0; j < skin(pilot).joints().length; j++) {
            int number = j;
            double before = java.util.stream.IntStream.range(0, was.vertexCount())
                    .mapToDouble(v -> was.weight(v, number))
                    .max()
                    .orElseThrow();
            double after = breast.vertices().stream()
                    .mapToDouble(v -> rows(smooth, "pilot").weight(v, number))
                    .max()
                    .orElseThrow();
            assertThat(after).isLessThanOrEqualTo(before + 1e-6);
        }
        List<Integer> others = new ArrayList<>(List.of(5000, 5001));
        BitSet to = new BitSet();
        others.forEach(to::set);
        Influences copied = rows(done(pilot, new CopyWeights("pilot", breast, VertexSet.numbers(to), 3)), "pilot");
        assertThat(copied.rowLength(5000)).isBetween(1, 3);
        assertThat(copied.sum(5001)).isCloseTo(1, within(2e-6));
    }

    /** A part without a skin is bound to one joint where it stands, and then moves with it and nothing else. */
    @Test
    public void aRigidPartIsBoundWhereItStands() throws Refused {
        Asset pilot = VestedPilot.asset();
        Asset bound = done(pilot, new BindNear("float_vest", VertexSet.ALL, "ribs_upper", "", 0, 4));
        var motion = org.cleanmarrow.measure.MotionProbe.compare(
                pilot.withClips(List.of()), bound.withClips(List.of()), Work.QUIET);
        assertThat(motion.largestMetres()).as("at rest").isLessThan(1e-5);
        Influences rows = rows(bound, "float_vest");
        int m = bound.findMesh("float_vest");
        int ribs = bound.skins().get(bound.skinOfMesh(m)).indexOfNode(bound.findNode("ribs_upper"));
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(rows.weight(v, ribs)).isEqualTo(1);
        }
    }

    @Test
    public void jointsOfAnotherHouseAreFoundByTheirRolesWhereNamesAndPlacesFail() throws Refused {
        Asset pilot = VestedPilot.asset();
        Map<String, String> house = Map.of(
                "left_upper_arm",
                "Arm_L",
                "left_forearm",
                "ForeArm_L",
                "left_hand",
                "Hand_L",
                "left_thigh",
                "UpLeg_L",
                "left_shin",
                "Leg_L",
                "left_foot",
                "Foot_L");
        Asset other = done(pilot, new RenameMany(Rename.Kind.NODE, house));
        Map<String, String> map = JointMap.guess(pilot, other);
        house.forEach((own, theirs) -> assertThat(map).containsEntry(own, theirs));
        assertThat(map).hasSize(house.size());
        Map<String, String> back = JointMap.guess(other, pilot);
        house.forEach((own, theirs) -> assertThat(back).containsEntry(theirs, own));
    }

    /** What is moved is told where it is moved, and by how much, and nothing else. */
    @Test
    public void aPriceIsTheMovementOfWhatWasChangedAlone() throws Refused {
        Asset pilot = VestedPilot.asset();
        VertexSet breast = VertexAmounts.of(pilot.meshes().get(pilot.findMesh("pilot")), leftBreast(pilot))
                .vertices();
        Asset changed = done(pilot, new SetWeight("pilot", "left_upper_arm", breast, 0.5));
        DisplacementMap price = DisplacementMap.of(pilot, changed, Work.QUIET);
        float[] metres = price.metres().get(pilot.findMesh("pilot"));
        for (int v = 0; v < metres.length; v++) {
            assertThat(metres[v] > 1e-6)
                    .as("vertex %d", v)
                    .isEqualTo(breast.vertices().get(v));
        }
        double probed = org.cleanmarrow.measure.MotionProbe.compare(pilot, changed, Work.QUIET)
                .largestMetres();
        assertThat(price.most()).isBetween(0.8 * probed, probed + 1e-6);
        assertThat(DisplacementMap.of(pilot, pilot, Work.QUIET).most()).isZero();
    }
}
