package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.ferry.FloatVest;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.RoleGuess;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Bodies as they come: proportions, poses, names and orientations that nobody chose for us. */
public class BodyTest {
    /** The pilot without its planted roles. */
    private static Asset pilot() {
        Asset pilot = FerryPilot.asset();
        return pilot.withNodes(pilot.nodes().stream()
                .map(n -> n.withCarried(org.cleanmarrow.model.Passthrough.NONE))
                .toList());
    }

    private static Map<String, UnaryOperator<Asset>> proportions() {
        Map<String, UnaryOperator<Asset>> out = new LinkedHashMap<>();
        out.put("adult", a -> a);
        out.put("child", a -> stretched(a, ".*(thigh|shin|foot|toes).*", 0.6, ".*(upper_arm|forearm|hand).*", 0.7));
        out.put("heavy", a -> stretched(a, ".*(thigh|collar|upper_arm)", 1.35, ".*(waist|ribs).*", 1.2));
        out.put("long arms", a -> stretched(a, ".*(forearm|hand|arm_twist)", 1.5, "none", 1));
        return out;
    }

    private static Asset stretched(Asset asset, String some, double by, String others, double with) {
        return asset.withNodes(asset.nodes().stream()
                .map(n -> {
                    double f = n.name().matches(some) ? by : n.name().matches(others) ? with : 1;
                    Local l = n.local();
                    return f == 1
                            ? n
                            : n.withLocal(
                                    Local.of(l.translationVector().mul(f), l.rotationQuaternion(), l.scaleVector()));
                })
                .toList());
    }

    private static Map<String, UnaryOperator<Asset>> poses() {
        Map<String, UnaryOperator<Asset>> out = new LinkedHashMap<>();
        out.put("A", a -> a);
        out.put(
                "T",
                a -> turned(
                        a,
                        Map.of("left_upper_arm", new Vector3d(0, 0, 38), "right_upper_arm", new Vector3d(0, 0, -38))));
        out.put(
                "seated",
                a -> turned(
                        a,
                        Map.of(
                                "left_thigh", new Vector3d(-80, 0, 0),
                                "right_thigh", new Vector3d(-80, 0, 0),
                                "left_shin", new Vector3d(78, 0, 0),
                                "right_shin", new Vector3d(78, 0, 0))));
        return out;
    }

    /** Joints turned about the body's own axes (x left, y up, z ahead), in degrees. */
    private static Asset turned(Asset asset, Map<String, Vector3d> by) {
        Matrix4d[] world = new Rig(asset).rest().world();
        // The pilot is built y up and ahead z under its export group, so its hips' parent has the body's axes.
        Quaterniond body = world[asset.parents()[asset.findNode("hips")]]
                .getUnnormalizedRotation(new Quaterniond())
                .normalize();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        by.forEach((name, degrees) -> {
            int n = asset.findNode(name);
            Quaterniond parent = world[asset.parents()[n]]
                    .getUnnormalizedRotation(new Quaterniond())
                    .normalize();
            Quaterniond turn = new Quaterniond(body)
                    .mul(new Quaterniond()
                            .rotateXYZ(Math.toRadians(degrees.x), Math.toRadians(degrees.y), Math.toRadians(degrees.z)))
                    .mul(body.conjugate(new Quaterniond()));
            Local l = nodes.get(n).local();
            Quaterniond own =
                    parent.conjugate(new Quaterniond()).mul(turn).mul(parent).mul(l.rotationQuaternion());
            nodes.set(n, nodes.get(n).withLocal(Local.of(l.translationVector(), own, l.scaleVector())));
        });
        return asset.withNodes(nodes);
    }

    private static Asset named(Asset asset, java.util.function.IntFunction<String> name) {
        boolean[] joint = asset.jointFlags();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                nodes.set(n, nodes.get(n).withName(name.apply(n)));
            }
        }
        return asset.withNodes(nodes);
    }

    private static List<Matrix3d> orientations() {
        List<Matrix3d> out = new ArrayList<>();
        int[][] signs = {
            {1, 1, 1}, {1, 1, -1}, {1, -1, 1}, {1, -1, -1}, {-1, 1, 1}, {-1, 1, -1}, {-1, -1, 1}, {-1, -1, -1}
        };
        int[][] orders = {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}};
        for (int[] order : orders) {
            for (int[] sign : signs) {
                Matrix3d m = new Matrix3d().zero();
                for (int i = 0; i < 3; i++) {
                    m.set(i, order[i], sign[i]);
                }
                if (m.determinant() > 0) {
                    out.add(m);
                }
            }
        }
        return out;
    }

    private static Asset laid(Asset asset, Matrix3d turn) {
        int[] parents = asset.parents();
        Quaterniond by = new Quaterniond().setFromNormalized(turn);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                Local l = nodes.get(n).local();
                nodes.set(
                        n,
                        nodes.get(n)
                                .withLocal(Local.of(
                                        turn.transform(l.translationVector()),
                                        new Quaterniond(by).mul(l.rotationQuaternion()),
                                        l.scaleVector())));
            }
        }
        return asset.withNodes(nodes);
    }

    private static final class Tally {
        private int right;
        private int wrong;
        private int missing;
        private final List<String> said = new ArrayList<>();

        void add(String what, Map<Role, RoleGuess.Guess> guess, Map<Role, Integer> truth) {
            truth.forEach((role, node) -> {
                if (!guess.containsKey(role)) {
                    missing++;
                    said.add(what + ": " + role + " missing");
                } else if (guess.get(role).node() != node) {
                    wrong++;
                    said.add(what + ": " + role + " is #" + guess.get(role).node() + " not #" + node);
                } else {
                    right++;
                }
            });
        }

        @Override
        public String toString() {
            return right + " right, " + wrong + " wrong, " + missing + " missing";
        }
    }

    private static Map<Role, Integer> required(Asset pilot) {
        Map<Role, Integer> out = new LinkedHashMap<>();
        RolesTest.truth().forEach((role, name) -> {
            if (role.required()) {
                out.put(role, pilot.findNode(name));
            }
        });
        assertThat(out).hasSize(15).doesNotContainValue(-1);
        return out;
    }

    @Test
    public void rolesAreFoundInEveryHabitBodyAndPose() {
        Asset pilot = pilot();
        Map<Role, Integer> truth = required(pilot);
        Map<String, UnaryOperator<Asset>> habits = new LinkedHashMap<>();
        habits.put("no names", a -> named(a, n -> ""));
        habits.put("numbers", a -> named(a, n -> "joint_" + n));
        habits.put("words that mean nothing", a -> named(a, n -> "b" + Integer.toHexString(n * 7919)));
        for (Object[] habit : new RolesTest().habits()) {
            @SuppressWarnings("unchecked")
            Map<String, String> names = (Map<String, String>) habit[1];
            habits.put(
                    (String) habit[0],
                    a -> named(a, n -> {
                        String own = pilot.nodes().get(n).name();
                        return names.getOrDefault(own, own);
                    }));
        }
        habits.put(
                "camel case, side last",
                a -> named(a, n -> camel(pilot.nodes().get(n).name())));
        habits.put(
                "side in the middle",
                a -> named(a, n -> middle(pilot.nodes().get(n).name())));
        habits.put("prefixed", a -> named(a, n -> "Crew:" + pilot.nodes().get(n).name()));
        habits.put(
                "joint at the end",
                a -> named(
                        a, n -> pilot.nodes().get(n).name().replaceFirst("^(left|right)_(.*)", "$2_joint_$1") + "_1"));
        assertThat(habits.size()).isGreaterThanOrEqualTo(20);
        Tally tally = new Tally();
        proportions()
                .forEach((body, made) -> poses().forEach((pose, posed) -> habits.forEach((habit, called) -> {
                    Asset asset = called.apply(made.apply(posed.apply(pilot)));
                    tally.add(body + ", " + pose + ", " + habit, RoleGuess.of(asset), truth);
                })));
        System.out.println("roles over " + habits.size() + " habits: " + tally);
        assertThat(tally.said).isEmpty();
    }

    private static String camel(String name) {
        String side = name.startsWith("left_") ? "_Left" : name.startsWith("right_") ? "_Right" : "";
        StringBuilder out = new StringBuilder("B_");
        for (String word : name.replaceFirst("^(left|right)_", "").split("_")) {
            out.append(Character.toUpperCase(word.charAt(0))).append(word.substring(1));
        }
        return out + side;
    }

    private static String middle(String name) {
        String side = name.startsWith("left_") ? "L" : name.startsWith("right_") ? "R" : "C";
        return "rig_" + side + "_" + name.replaceFirst("^(left|right)_", "") + "_jnt";
    }

    @Test
    public void facingIsFoundInAllOrientations() {
        Asset pilot = pilot();
        Map<Role, Integer> truth = required(pilot);
        Vector3d ahead = Body.of(pilot).forward().orElseThrow();
        Vector3d up = Body.of(pilot).up().orElseThrow();
        // Z up, and the front of the pilot as its conventions say.
        assertThat(ahead.dot(pilot.conventions().forward().vector())).isGreaterThan(0.99);
        assertThat(up.dot(pilot.conventions().up().vector())).isGreaterThan(0.95);
        Tally tally = new Tally();
        List<String> wrong = new ArrayList<>();
        proportions()
                .forEach((body, made) -> poses().forEach((pose, posed) -> {
                    Asset bare = named(made.apply(posed.apply(pilot)), n -> "");
                    for (Matrix3d turn : orientations()) {
                        Asset asset = laid(bare, turn);
                        Body found = Body.of(asset);
                        String what = body + ", " + pose + ", " + turn;
                        if (found.kind() != Body.Kind.PERSON
                                || found.forward().isEmpty()
                                || found.forward().get().dot(turn.transform(new Vector3d(ahead))) < 0.9
                                || found.up().orElseThrow().dot(turn.transform(new Vector3d(up))) < 0.9) {
                            wrong.add(what + " " + found.kind());
                        }
                        tally.add(what, found.roles(), truth);
                    }
                }));
        System.out.println(
                "facing in 24 orientations of 12 bodies without names: " + wrong.size() + " wrong; roles " + tally);
        assertThat(wrong).isEmpty();
        assertThat(tally.wrong).as(tally.said.toString()).isZero();
    }

    @Test
    public void kindsOfBodyAreToldApart() throws Exception {
        assertThat(Body.of(FerryPilot.asset()).kind()).isEqualTo(Body.Kind.PERSON);
        assertThat(Body.of(MarshHeron.asset()).kind()).isEqualTo(Body.Kind.BIRD);
        assertThat(Body.of(named(MarshHeron.asset(), n -> "")).kind()).isEqualTo(Body.Kind.BIRD);
        assertThat(Body.of(LiftBridge.asset()).kind()).isEqualTo(Body.Kind.PROP);
        assertThat(Body.of(FloatVest.asset()).kind()).isEqualTo(Body.Kind.PROP);
        for (String side : List.of("left", "right")) {
            Asset hand = AssetFiles.open(OpenSamples.path("generic-hand-" + side + ".glb"), Work.QUIET);
            Body body = Body.of(hand);
            assertThat(body.kind()).isEqualTo(Body.Kind.HAND);
            // Nothing in the joints' names says which hand it is.
            Role wrist = side.equals("left") ? Role.LEFT_HAND : Role.RIGHT_HAND;
            assertThat(body.roles()).containsKey(wrist);
            assertThat(body.roles()).doesNotContainKey(wrist.twin());
            assertThat(hand.nodes().get(body.roles().get(wrist).node()).name()).isEqualTo("wrist");
            Role thumb = Role.valueOf(side.toUpperCase(java.util.Locale.ROOT) + "_THUMB_METACARPAL");
            assertThat(hand.nodes().get(body.roles().get(thumb).node()).name()).isEqualTo("thumb-metacarpal");
        }
    }

    @Test
    public void aBodyThatFacesAwayOrLiesIsFoundAndTurned() throws Refused {
        Asset pilot = FerryPilot.asset();
        Target target = Target.named("z-up-m-rh").orElseThrow();
        Asset ready =
                new Convert(target.conventions(), true).apply(pilot, Work.QUIET).asset();
        assertThat(facing(ready, target)).isNull();
        for (Matrix3d turn : orientations()) {
            Asset laid = laid(ready, turn);
            Finding finding = facing(laid, target);
            boolean same = turn.equals(new Matrix3d(), 1e-9);
            assertThat(finding == null).as(turn.toString()).isEqualTo(same);
            if (!same) {
                Replay.Done done = Replay.one(laid, finding.fix().orElseThrow(), false, Work.QUIET);
                assertThat(done.outcome()).as(done.reason()).isPresent();
                assertThat(facing(done.asset(), target)).as(turn.toString()).isNull();
            }
        }
    }

    private static Finding facing(Asset asset, Target target) {
        return Checks.run(asset, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("facing"))
                .findFirst()
                .orElse(null);
    }
}
