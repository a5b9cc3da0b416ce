package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.RoleGuess;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.RootMotion;
import org.cleanmarrow.steps.skeleton.SetRoles;
import org.cleanmarrow.steps.skeleton.TPose;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Roles of joints: the list and its rules against the humanoid of VRM 1.0 (VRMC_vrm-1.0, humanoid.md; witness: npm
 * {@code @pixiv/three-vrm-core} 3.5.5, run by {@code tools/reference/roles.mjs}), names by a table of habits of our own
 * making after H-Anim (ISO/IEC 19774-1) and the use of the trade, on the pilot's skeleton.
 */
public class RolesTest {
    private static JsonNode witness(String script, String... arguments) throws Exception {
        return JsonMapper.shared().readTree(Witness.node(script, arguments));
    }

    @Test
    public void theListIsThatOfTheSpecification() throws Exception {
        JsonNode theirs = witness("roles.mjs");
        List<String> names = new ArrayList<>();
        theirs.path("names").forEach(n -> names.add(n.asString()));
        assertThat(java.util.Arrays.stream(Role.values()).map(Role::code)).containsExactlyInAnyOrderElementsOf(names);
        List<String> required = new ArrayList<>();
        theirs.path("required").forEach(n -> required.add(n.asString()));
        assertThat(Role.allRequired().stream().map(Role::code)).containsExactlyInAnyOrderElementsOf(required);
        for (Role role : Role.values()) {
            JsonNode parent = theirs.path("parents").path(role.code());
            assertThat(role.parent() == null ? null : role.parent().code())
                    .as(role.code())
                    .isEqualTo(parent.isNull() ? null : parent.asString());
            assertThat(role.twin().twin()).isEqualTo(role);
        }
    }

    /** The pilot's joints by role; the names are ours. */
    static Map<Role, String> truth() {
        Map<Role, String> out = new EnumMap<>(Role.class);
        out.put(Role.HIPS, "hips");
        out.put(Role.SPINE, "waist");
        out.put(Role.CHEST, "ribs_lower");
        out.put(Role.UPPER_CHEST, "ribs_upper");
        out.put(Role.NECK, "neck");
        out.put(Role.HEAD, "head");
        for (String side : List.of("left", "right")) {
            Function<String, Role> role = r -> Role.valueOf(side.toUpperCase() + "_" + r);
            out.put(role.apply("SHOULDER"), side + "_collar");
            out.put(role.apply("UPPER_ARM"), side + "_upper_arm");
            out.put(role.apply("LOWER_ARM"), side + "_forearm");
            out.put(role.apply("HAND"), side + "_hand");
            out.put(role.apply("UPPER_LEG"), side + "_thigh");
            out.put(role.apply("LOWER_LEG"), side + "_shin");
            out.put(role.apply("FOOT"), side + "_foot");
        }
        return out;
    }

    /** A habit: what each role's joint is called, L and R for the sides. */
    private static Map<String, String> habit(String left, String right, String... pairs) {
        Map<String, String> out = new LinkedHashMap<>();
        for (int i = 0; i < pairs.length; i += 2) {
            if (pairs[i + 1].contains("{}")) {
                out.put("left_" + pairs[i], pairs[i + 1].replace("{}", left));
                out.put("right_" + pairs[i], pairs[i + 1].replace("{}", right));
            } else {
                out.put(pairs[i], pairs[i + 1]);
            }
        }
        return out;
    }

    @DataProvider
    public Object[][] habits() {
        return new Object[][] {
            {"our own", Map.of()},
            {
                "side last with _l",
                habit(
                        "l",
                        "r",
                        "hips",
                        "pelvis",
                        "waist",
                        "spine_01",
                        "ribs_lower",
                        "spine_02",
                        "ribs_upper",
                        "spine_03",
                        "neck",
                        "neck_01",
                        "head",
                        "head",
                        "collar",
                        "clavicle_{}",
                        "upper_arm",
                        "upperarm_{}",
                        "forearm",
                        "lowerarm_{}",
                        "hand",
                        "hand_{}",
                        "thigh",
                        "thigh_{}",
                        "shin",
                        "calf_{}",
                        "foot",
                        "foot_{}")
            },
            {
                "side last with .L",
                habit(
                        "L",
                        "R",
                        "hips",
                        "hips",
                        "waist",
                        "spine",
                        "ribs_lower",
                        "chest",
                        "ribs_upper",
                        "upper_chest",
                        "collar",
                        "shoulder.{}",
                        "upper_arm",
                        "upper_arm.{}",
                        "forearm",
                        "forearm.{}",
                        "hand",
                        "hand.{}",
                        "thigh",
                        "thigh.{}",
                        "shin",
                        "shin.{}",
                        "foot",
                        "foot.{}")
            },
            {
                "side first, capitals",
                habit(
                        "Left",
                        "Right",
                        "hips",
                        "Hips",
                        "waist",
                        "Spine",
                        "ribs_lower",
                        "Spine1",
                        "ribs_upper",
                        "Spine2",
                        "neck",
                        "Neck",
                        "head",
                        "Head",
                        "collar",
                        "{}Shoulder",
                        "upper_arm",
                        "{}Arm",
                        "forearm",
                        "{}ForeArm",
                        "hand",
                        "{}Hand",
                        "thigh",
                        "{}UpLeg",
                        "shin",
                        "{}Leg",
                        "foot",
                        "{}Foot")
            },
            {
                "short side first",
                habit(
                        "l",
                        "r",
                        "hips",
                        "pelvis",
                        "waist",
                        "spine1",
                        "ribs_lower",
                        "spine2",
                        "ribs_upper",
                        "spine3",
                        "collar",
                        "{}_clav",
                        "upper_arm",
                        "{}_upArm",
                        "forearm",
                        "{}_lowArm",
                        "hand",
                        "{}_wrist",
                        "thigh",
                        "{}_upLeg",
                        "shin",
                        "{}_lowLeg",
                        "foot",
                        "{}_ankle")
            },
            {
                "numbered chains",
                habit(
                        "L",
                        "R",
                        "hips",
                        "Hip",
                        "waist",
                        "Spine_1",
                        "ribs_lower",
                        "Spine_2",
                        "ribs_upper",
                        "Spine_3",
                        "collar",
                        "Clavicle_{}",
                        "upper_arm",
                        "Arm_{}_01",
                        "forearm",
                        "Arm_{}_02",
                        "hand",
                        "Arm_{}_03",
                        "thigh",
                        "Leg_{}_01",
                        "shin",
                        "Leg_{}_02",
                        "foot",
                        "Leg_{}_03")
            },
            {
                "H-Anim",
                habit(
                        "l",
                        "r",
                        "hips",
                        "sacroiliac",
                        "waist",
                        "vl5",
                        "ribs_lower",
                        "vt10",
                        "ribs_upper",
                        "vt1",
                        "neck",
                        "vc4",
                        "head",
                        "skullbase",
                        "collar",
                        "{}_sternoclavicular",
                        "upper_arm",
                        "{}_shoulder",
                        "forearm",
                        "{}_elbow",
                        "hand",
                        "{}_wrist",
                        "thigh",
                        "{}_hip",
                        "shin",
                        "{}_knee",
                        "foot",
                        "{}_ankle")
            },
            {
                "H-Anim, later names",
                habit(
                        "l",
                        "r",
                        "hips",
                        "sacroiliac",
                        "waist",
                        "vl1",
                        "ribs_lower",
                        "vt6",
                        "ribs_upper",
                        "vt3",
                        "neck",
                        "vc2",
                        "head",
                        "skullbase",
                        "collar",
                        "{}_sternoclavicular",
                        "upper_arm",
                        "{}_shoulder",
                        "forearm",
                        "{}_elbow",
                        "hand",
                        "{}_radiocarpal",
                        "thigh",
                        "{}_hip",
                        "shin",
                        "{}_knee",
                        "foot",
                        "{}_talocrural")
            },
            {
                "German",
                habit(
                        "links",
                        "rechts",
                        "hips",
                        "Becken",
                        "waist",
                        "Wirbelsäule_1",
                        "ribs_lower",
                        "Wirbelsäule_2",
                        "ribs_upper",
                        "Brust",
                        "neck",
                        "Hals",
                        "head",
                        "Kopf",
                        "collar",
                        "Schlüsselbein_{}",
                        "upper_arm",
                        "Oberarm_{}",
                        "forearm",
                        "Unterarm_{}",
                        "hand",
                        "Hand_{}",
                        "thigh",
                        "Oberschenkel_{}",
                        "shin",
                        "Unterschenkel_{}",
                        "foot",
                        "Fuß_{}")
            },
            {
                "French",
                habit(
                        "gauche",
                        "droite",
                        "hips",
                        "bassin",
                        "waist",
                        "colonne_1",
                        "ribs_lower",
                        "colonne_2",
                        "ribs_upper",
                        "poitrine",
                        "neck",
                        "cou",
                        "head",
                        "tête",
                        "collar",
                        "clavicule_{}",
                        "upper_arm",
                        "bras_{}",
                        "forearm",
                        "avantbras_{}",
                        "hand",
                        "main_{}",
                        "thigh",
                        "cuisse_{}",
                        "shin",
                        "mollet_{}",
                        "foot",
                        "pied_{}")
            },
            {
                "Spanish",
                habit(
                        "izq",
                        "der",
                        "hips",
                        "cadera",
                        "waist",
                        "columna_1",
                        "ribs_lower",
                        "columna_2",
                        "ribs_upper",
                        "pecho",
                        "neck",
                        "cuello",
                        "head",
                        "cabeza",
                        "collar",
                        "clavicula_{}",
                        "upper_arm",
                        "brazo_{}",
                        "forearm",
                        "antebrazo_{}",
                        "hand",
                        "mano_{}",
                        "thigh",
                        "muslo_{}",
                        "shin",
                        "pantorrilla_{}",
                        "foot",
                        "pie_{}")
            },
            {
                "under a subject's prefix",
                habit(
                        "Left",
                        "Right",
                        "hips",
                        "take_3:Hips",
                        "waist",
                        "take_3:Spine",
                        "ribs_lower",
                        "take_3:Chest",
                        "ribs_upper",
                        "take_3:UpperChest",
                        "neck",
                        "take_3:Neck",
                        "head",
                        "take_3:Head",
                        "collar",
                        "take_3:{}Collar",
                        "upper_arm",
                        "take_3:{}Shoulder",
                        "forearm",
                        "take_3:{}Elbow",
                        "hand",
                        "take_3:{}Wrist",
                        "thigh",
                        "take_3:{}Hip",
                        "shin",
                        "take_3:{}Knee",
                        "foot",
                        "take_3:{}Ankle")
            },
            {
                "capitals with numbers",
                habit(
                        "LT",
                        "RT",
                        "hips",
                        "BN_PELVIS",
                        "waist",
                        "BN_SPINE_00",
                        "ribs_lower",
                        "BN_SPINE_01",
                        "ribs_upper",
                        "BN_SPINE_02",
                        "neck",
                        "BN_NECK",
                        "head",
                        "BN_HEAD",
                        "collar",
                        "BN_{}_CLAVICLE",
                        "upper_arm",
                        "BN_{}_UPPERARM",
                        "forearm",
                        "BN_{}_FOREARM",
                        "hand",
                        "BN_{}_HAND",
                        "thigh",
                        "BN_{}_THIGH",
                        "shin",
                        "BN_{}_CALF",
                        "foot",
                        "BN_{}_FOOT")
            },
        };
    }

    @Test(dataProvider = "habits")
    public void everyHabitIsUnderstoodWithoutAnError(String habit, Map<String, String> names) throws Exception {
        Asset pilot = FerryPilot.asset();
        List<Node> nodes = pilot.nodes().stream()
                .map(n -> n.withName(names.getOrDefault(n.name(), n.name())))
                .toList();
        Asset renamed = pilot.withNodes(nodes);
        Map<Role, RoleGuess.Guess> guess = RoleGuess.of(renamed);
        truth().forEach((role, joint) -> {
            assertThat(guess).as("%s: %s", habit, role).containsKey(role);
            assertThat(pilot.nodes().get(guess.get(role).node()).name())
                    .as("%s: %s", habit, role)
                    .isEqualTo(joint);
            assertThat(guess.get(role).confidence()).isBetween(0.5, 1.0);
        });
        // Fingers keep our own names in every habit, unless the hand could not be told.
        assertThat(guess).containsKeys(Role.LEFT_INDEX_PROXIMAL, Role.RIGHT_THUMB_DISTAL);
        assertThat(guess.keySet()).doesNotContain(Role.JAW);
    }

    private static Asset done(Asset asset, Step step) {
        Replay.Done done = Replay.one(asset, step, false, Work.QUIET);
        assertThat(done.outcome()).as(done.reason()).isPresent();
        return done.asset();
    }

    private static Asset withRoles(Asset asset) {
        Map<Role, Integer> roles = new EnumMap<>(Role.class);
        RoleGuess.of(asset).forEach((role, guess) -> roles.put(role, guess.node()));
        return done(asset, SetRoles.of(asset, roles));
    }

    private static List<Finding> findings(Asset asset) {
        return Checks.run(asset, Target.of(Conventions.GLTF), Work.QUIET).stream()
                .filter(f -> f.check().equals("roles"))
                .toList();
    }

    @Test
    public void aJawOnTheScarfASkippedChestAndFeetThatAreThereAreFoundAndMended() {
        Asset sound = withRoles(FerryPilot.asset());
        assertThat(findings(sound)).isEmpty();
        Asset spoilt = FerryPilot.asset();
        List<String> messages =
                findings(spoilt).stream().map(f -> f.message().toString()).toList();
        assertThat(messages).anyMatch(m -> m.contains("jaw") && m.contains("scarf_tail") && m.contains("head"));
        assertThat(messages).anyMatch(m -> m.contains("chest") && m.contains("ribs_lower"));
        assertThat(messages).anyMatch(m -> m.contains("leftFoot") && m.contains("left_foot"));
        assertThat(findings(spoilt))
                .filteredOn(f -> f.severity() == Severity.BLOCKER)
                .hasSize(3);
        Asset mended = spoilt;
        for (int round = 0; round < 4 && !findings(mended).isEmpty(); round++) {
            mended = done(mended, findings(mended).getFirst().fix().orElseThrow());
        }
        assertThat(findings(mended)).isEmpty();
        assertThat(Roles.of(mended)).doesNotContainKey(Role.JAW);
        assertThat(Roles.of(mended).get(Role.LEFT_FOOT)).containsExactly(mended.findNode("left_foot"));

        Map<Role, Integer> crossed = new EnumMap<>(Role.class);
        Roles.of(sound).forEach((role, nodes) -> crossed.put(role, nodes.getFirst()));
        crossed.put(Role.LEFT_HAND, sound.findNode("right_hand"));
        crossed.put(Role.RIGHT_HAND, sound.findNode("left_hand"));
        List<String> wrong = findings(done(sound, SetRoles.of(sound, crossed))).stream()
                .map(f -> f.message().toString())
                .toList();
        for (String[] hand : new String[][] {{"leftHand", "right_hand"}, {"rightHand", "left_hand"}}) {
            assertThat(wrong).anyMatch(m -> m.contains(hand[0]) && m.contains(hand[1]));
        }
        assertThat(wrong).allMatch(m -> m.contains("Hand") || m.contains("hand"));
        assertThatThrownBy(() -> new SetRoles(Map.of("tentacle", "hips")).apply(sound, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("tentacle");
    }

    @Test
    public void rolesGoAlongIntoTheFileAndComeBack() throws Exception {
        Asset sound = withRoles(FerryPilot.asset());
        byte[] glb = org.cleanmarrow.formats.gltf.GltfWriter.glb(sound);
        Asset back = org.cleanmarrow.formats.gltf.GltfReader.read(glb, "pilot.glb", null, Work.QUIET);
        assertThat(named(back)).isEqualTo(named(sound)).hasSizeGreaterThan(40);
    }

    private static Map<Role, String> named(Asset asset) {
        return Roles.of(asset).entrySet().stream()
                .collect(Collectors.toMap(
                        Map.Entry::getKey,
                        e -> asset.nodes().get(e.getValue().getFirst()).name()));
    }

    @Test
    public void aTPoseIsStraightAndLosesNothing() throws Exception {
        Asset pilot = done(withRoles(FerryPilot.asset()), new Convert(Conventions.GLTF, true));
        Asset t = done(pilot, new TPose(0));
        Map<Role, List<Integer>> roles = Roles.of(t);
        Matrix4d[] world = new Rig(t).rest().world();
        Vector3d left = t.conventions().left();
        for (int side = 1; side >= -1; side -= 2) {
            Vector3d wanted = new Vector3d(left).mul(side);
            for (String[] pair : new String[][] {{"UPPER_ARM", "LOWER_ARM"}, {"LOWER_ARM", "HAND"}}) {
                String s = side > 0 ? "LEFT_" : "RIGHT_";
                Vector3d from = place(world, roles, Role.valueOf(s + pair[0]));
                Vector3d to = place(world, roles, Role.valueOf(s + pair[1]));
                assertThat(Math.toDegrees(to.sub(from).angle(wanted)))
                        .as(s + pair[0])
                        .isLessThan(0.5);
            }
            String s = side > 0 ? "LEFT_" : "RIGHT_";
            Vector3d row = place(world, roles, Role.valueOf(s + "INDEX_PROXIMAL"))
                    .sub(place(world, roles, Role.valueOf(s + "LITTLE_PROXIMAL")));
            assertThat(Math.abs(row.normalize().dot(t.conventions().up().vector())))
                    .isLessThan(0.02);
            assertThat(row.dot(t.conventions().forward().vector())).isPositive();
        }
        // Clips are what they were, so against the old asset only rest has moved.
        for (int c = 0; c < t.clips().size(); c++) {
            double time = (t.clips().get(c).start() + t.clips().get(c).end()) / 2;
            Matrix4d[] a = new Rig(pilot).at(pilot.clips().get(c), time).world();
            Matrix4d[] b = new Rig(t).at(t.clips().get(c), time).world();
            for (int n = 0; n < a.length; n++) {
                assertThat(b[n].equals(a[n], 1e-5)).isTrue();
            }
        }
        Asset back = done(t, new RestFrom(Optional.empty(), 0));
        assertThat(MotionProbe.compare(pilot, back, Work.QUIET).largestMetres()).isLessThan(1e-5);
        Asset a = done(pilot, new TPose(45));
        Asset again = done(done(a, new TPose(0)), new TPose(45));
        assertThat(MotionProbe.compare(a, again, Work.QUIET).largestMetres()).isLessThan(1e-5);
    }

    private static Vector3d place(Matrix4d[] world, Map<Role, List<Integer>> roles, Role role) {
        return world[roles.get(role).getFirst()].getTranslation(new Vector3d());
    }

    /** The skin of the straightened pilot, at rest and in its clips, where three.js 0.187 has it. */
    @Test
    public void theStraightenedSkinIsMovedByItsJointsAlone() throws Exception {
        Asset t = done(done(withRoles(FerryPilot.asset()), new Convert(Conventions.GLTF, true)), new TPose(0));
        Path file = java.nio.file.Files.write(
                java.nio.file.Files.createTempDirectory("pose").resolve("pilot.glb"),
                org.cleanmarrow.formats.gltf.GltfWriter.glb(t));
        JsonNode theirs = witness("witness.mjs", file.toString(), "60");
        Deformer deformer = new Deformer(t);
        Rig rig = new Rig(t);
        int compared = 0;
        for (JsonNode moment : theirs.path("moments")) {
            int clip = moment.path("clip").intValue();
            Pose pose = clip < 0
                    ? rig.rest()
                    : rig.at(t.clips().get(clip), moment.path("seconds").doubleValue());
            for (JsonNode mesh : moment.path("meshes")) {
                MeshPlace place = deformer.places().stream()
                        .filter(p -> p.node() == mesh.path("node").intValue())
                        .findFirst()
                        .orElseThrow();
                float[] at = deformer.positions(place, pose);
                for (int i = 0; i < mesh.path("vertices").size(); i++) {
                    int v = mesh.path("vertices").get(i).intValue();
                    Vector3d wanted = new Vector3d(
                            mesh.path("positions").get(i * 3).doubleValue(),
                            mesh.path("positions").get(i * 3 + 1).doubleValue(),
                            mesh.path("positions").get(i * 3 + 2).doubleValue());
                    // The planted strays and sums stand elsewhere in both, each in its own way.
                    boolean planted = Math.abs(sum(t, place, v) - 1) > 1e-3;
                    if (!planted) {
                        assertThat(wanted.distance(at[v * 3], at[v * 3 + 1], at[v * 3 + 2]))
                                .as("clip %d vertex %d", clip, v)
                                .isLessThan(2e-5);
                        compared++;
                    }
                }
            }
        }
        assertThat(compared).isGreaterThan(1000);
    }

    private static double sum(Asset asset, MeshPlace place, int v) {
        var rows = asset.meshes().get(place.mesh()).primitives().getFirst().influences();
        // Of five joints the other evaluator takes four, so those rows count as planted too.
        return rows == null ? 1 : rows.rowLength(v) > 4 ? 0 : rows.sum(v);
    }

    /** The heron and the bridge through the whole station: root, ends, axes, pivots; nothing moves. */
    @Test
    public void theHeronAndTheBridgeGoThroughTheStation() {
        Asset heron = Demo.named("marsh-heron").orElseThrow().asset().get();
        Asset clean = heron;
        for (Step step : List.of(
                new AddRoot("root"),
                new RootMotion("*", RootMotion.Way.TO_ROOT, true, false, 0),
                new TrimIdle(""),
                new OrientJoints("*", OrientJoints.Along.Y))) {
            clean = done(clean, step);
        }
        assertThat(MotionProbe.compare(heron, clean, Work.QUIET).largestMetres())
                .isLessThan(1e-4);
        assertThat(clean.nodes().stream().noneMatch(n -> n.name().endsWith("_end")))
                .isTrue();
        assertThat(RoleGuess.of(heron)).doesNotContainKey(Role.LEFT_UPPER_ARM);
        Asset bridge = Demo.named("lift-bridge").orElseThrow().asset().get();
        Asset hinged = bridge;
        for (Step step : List.of(
                new Reparent("west_leaf", Optional.of("west_pier"), true),
                new Reparent("east_leaf", Optional.of("east_pier"), true))) {
            hinged = done(hinged, step);
        }
        assertThat(MotionProbe.compare(bridge, hinged, Work.QUIET).largestMetres())
                .isLessThan(1e-3);
        assertThat(hinged.parents()[hinged.findNode("west_leaf")]).isEqualTo(hinged.findNode("west_pier"));
    }
}
