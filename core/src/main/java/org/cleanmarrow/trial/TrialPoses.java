package org.cleanmarrow.trial;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.work.Threads;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Trial poses for an asset: a set for bodies by the roles of their joints, bends of everything for any other skeleton, and
 * sweeps of single joints. The angles are those that people reach in daily life, or a little beyond (common practice).
 */
public final class TrialPoses {
    /** Degrees that every joint turns where nothing is known of a skeleton: little, for chains add them up. */
    private static final double GENTLE = 20;

    private final Asset asset;
    private final Rig rig;
    private final int[] parents;
    private final Map<Role, Integer> roles;
    private final Body body;
    private final Vector3d up;
    private final Vector3d front;
    private final Vector3d left;

    private TrialPoses(Asset asset) {
        this.asset = asset;
        rig = new Rig(asset);
        parents = asset.parents();
        roles = roles(asset);
        body = Body.of(asset);
        // The body's own sides, whichever way it lies or faces; the asset's where nothing tells.
        Body.Frame frame = body.frame();
        up = frame.up();
        front = frame.forward();
        left = frame.left();
    }

    /** None where it is no whole body. */
    private static Map<Role, Integer> roles(Asset asset) {
        Map<Role, Integer> known = Roles.known(asset);
        return known.keySet().containsAll(Role.allRequired()) ? known : Map.of();
    }

    /** All trial poses for an asset; none where it has no joints that move anything. */
    public static List<TrialPose> of(Asset asset) {
        Threads.begins("trial poses");
        TrialPoses made = new TrialPoses(asset);
        if (!made.roles.isEmpty()) {
            return made.body();
        }
        boolean animal = made.body.kind() == Body.Kind.QUADRUPED || made.body.kind() == Body.Kind.BIRD;
        return animal && !Skeletons.bearing(asset).isEmpty()
                ? made.animal(made.body.limbs().orElseThrow())
                : made.bends();
    }

    /**
     * One joint turned about one of its own axes.
     *
     * @param axis 0 x, 1 y, 2 z
     * @param from degrees at the start
     * @param to   degrees at the end
     */
    public static TrialPose sweep(Asset asset, int node, int axis, double from, double to) {
        Node joint = asset.nodes().get(node);
        Vector3d about = new Vector3d().setComponent(axis, 1);
        List<Map<String, Quaterniond>> stops = new ArrayList<>();
        for (int i = 0; i <= 8; i++) {
            double angle = Math.toRadians(from + (to - from) * i / 8);
            Quaterniond turn = joint.local().rotationQuaternion().mul(new Quaterniond().fromAxisAngleRad(about, angle));
            stops.add(Map.of(asset.nodeRef(node), turn));
        }
        return new TrialPose(joint.name() + " " + "xyz".charAt(axis), stops);
    }

    /** A stride, a crouch, the head about and down, and for wings a beat; angles as animals of the kind move (common practice). */
    private List<TrialPose> animal(Body.Limbs limbs) {
        boolean bird = body.kind() == Body.Kind.BIRD;
        List<TrialPose> out = new ArrayList<>();
        Posing stride = new Posing();
        swing(stride, limbs.leftLeg(), left, 28);
        swing(stride, limbs.rightLeg(), left, -28);
        if (!bird) {
            swing(stride, limbs.leftArm(), left, -28);
            swing(stride, limbs.rightArm(), left, 28);
        }
        out.add(stride.done("stride"));
        Posing crouch = new Posing();
        for (List<Integer> leg : List.of(limbs.leftLeg(), limbs.rightLeg())) {
            swing(crouch, leg, left, -35);
            swing(crouch, leg.subList(1, leg.size()), left, 60);
        }
        out.add(crouch.done("crouch"));
        if (!limbs.neck().isEmpty()) {
            double share = 60.0 / limbs.neck().size();
            Posing about = new Posing();
            Posing down = new Posing();
            limbs.neck().forEach(n -> about.turnAtRest(n, up, share));
            limbs.neck().forEach(n -> down.turnAtRest(n, left, share));
            out.add(about.done("head-about"));
            out.add(down.done("head-down"));
        }
        if (bird) {
            out.add(wings("wings-up", limbs, 55));
            out.add(wings("wings-down", limbs, -35));
            out.add(wings("wings-spread", limbs, 0));
        }
        return out;
    }

    /** Wings opened from where they lie along the body, and then raised. */
    private TrialPose wings(String name, Body.Limbs limbs, double degrees) {
        // Positive turns go the other way round where left and right are swapped.
        double hand = Math.signum(up.cross(front, new Vector3d()).dot(left));
        Posing beat = new Posing();
        swing(beat, limbs.leftArm(), up, -70 * hand);
        swing(beat, limbs.rightArm(), up, 70 * hand);
        swing(beat, limbs.leftArm(), front, degrees * hand);
        swing(beat, limbs.rightArm(), front, -degrees * hand);
        return beat.done(name);
    }

    private static void swing(Posing posing, List<Integer> limb, Vector3d axis, double degrees) {
        if (!limb.isEmpty()) {
            posing.turnAtRest(limb.getFirst(), axis, degrees);
        }
    }

    /** Every joint that moves something bent a little about each axis of the world. */
    private List<TrialPose> bends() {
        BitSet bearing = Skeletons.bearing(asset);
        List<TrialPose> out = new ArrayList<>();
        if (bearing.isEmpty()) {
            return out;
        }
        out.add(bent("bend-side", bearing, front));
        out.add(bent("bend-front", bearing, left));
        out.add(bent("twist-all", bearing, up));
        return out;
    }

    private TrialPose bent(String name, BitSet bearing, Vector3d axis) {
        Posing posing = new Posing();
        bearing.stream().forEach(n -> posing.turnAtRest(n, axis, GENTLE));
        return posing.done(name);
    }

    private Vector3d mix(double forward, double upward, double outward, int side) {
        return new Vector3d(front).mul(forward).fma(upward, up).fma(outward * side, left);
    }

    private List<TrialPose> body() {
        List<TrialPose> out = new ArrayList<>();
        out.add(arms("arms-up", mix(0, 1, 0.25, 1), mix(0, 1, 0.1, 1)));
        out.add(arms("arms-front", mix(1, 0, 0.1, 1), mix(1, 0, 0, 1)));
        out.add(arms("arms-down", mix(0, -1, 0.2, 1), mix(0.1, -1, 0.1, 1)));
        out.add(arms("arms-crossed", mix(0.8, -0.35, 0.1, 1), mix(0.35, 0.1, -1, 1)));
        out.add(arms("hands-behind", mix(-0.6, -0.8, 0.25, 1), mix(-0.3, -0.4, -1, 1)));
        out.add(arms("elbows-bent", mix(0.2, -0.3, 1, 1), mix(0.6, 1, -0.2, 1)));
        Posing squat = new Posing();
        legs(squat, mix(0.85, -0.3, 0.35, 1), mix(-0.35, -0.95, 0, 1));
        squat.lean(15);
        out.add(squat.done("squat"));
        Posing crouch = new Posing();
        legs(crouch, mix(0.8, 0.4, 0.2, 1), mix(-0.75, -0.65, 0, 1));
        crouch.lean(45);
        out.add(crouch.done("crouch"));
        Posing sit = new Posing();
        legs(sit, mix(1, 0, 0.1, 1), mix(0, -1, 0, 1));
        out.add(sit.done("sit"));
        out.add(stride());
        Posing twist = new Posing();
        twist.spine(up, 50);
        twist.turn(Role.NECK, up, 15);
        twist.turn(Role.HEAD, up, 15);
        out.add(twist.done("twist"));
        Posing bow = new Posing();
        bow.lean(70);
        out.add(bow.done("bow"));
        Posing bend = new Posing();
        bend.spine(front, 35);
        out.add(bend.done("bend-aside"));
        Posing look = new Posing();
        look.turn(Role.NECK, up, 25);
        look.turn(Role.HEAD, up, 35);
        look.turn(Role.HEAD, across(), -20);
        out.add(look.done("look-aside"));
        return out;
    }

    /** The axis about which a positive turn leads from upright to the front. */
    private Vector3d across() {
        return new Vector3d(up).cross(front);
    }

    private TrialPose arms(String name, Vector3d upper, Vector3d lower) {
        Posing posing = new Posing();
        for (int side = 1; side >= -1; side -= 2) {
            Vector3d turned = mirrored(lower, side);
            posing.aim(role(side, "UPPER_ARM"), role(side, "LOWER_ARM"), mirrored(upper, side));
            posing.aim(role(side, "LOWER_ARM"), role(side, "HAND"), turned);
        }
        return posing.done(name);
    }

    private void legs(Posing posing, Vector3d upper, Vector3d lower) {
        for (int side = 1; side >= -1; side -= 2) {
            leg(posing, side, mirrored(upper, side), mirrored(lower, side));
        }
    }

    private void leg(Posing posing, int side, Vector3d upper, Vector3d lower) {
        posing.aim(role(side, "UPPER_LEG"), role(side, "LOWER_LEG"), upper);
        posing.aim(role(side, "LOWER_LEG"), role(side, "FOOT"), lower);
    }

    private TrialPose stride() {
        Posing posing = new Posing();
        leg(posing, 1, mix(0.55, -0.85, 0, 1), mix(0.05, -1, 0, 1));
        leg(posing, -1, mix(-0.4, -0.9, 0, -1), mix(-0.75, -0.65, 0, -1));
        for (int side = 1; side >= -1; side -= 2) {
            posing.aim(role(side, "UPPER_ARM"), role(side, "LOWER_ARM"), mix(-0.5 * side, -0.9, 0.2, side));
            posing.aim(role(side, "LOWER_ARM"), role(side, "HAND"), mix(side > 0 ? 0 : 0.8, -0.7, 0.1, side));
        }
        return posing.done("stride");
    }

    private Vector3d mirrored(Vector3d v, int side) {
        return side > 0 ? new Vector3d(v) : new Vector3d(v).fma(-2 * v.dot(left), left);
    }

    private static Role role(int side, String rest) {
        return Role.valueOf((side > 0 ? "LEFT_" : "RIGHT_") + rest);
    }

    /** A pose while joints are turned, one after the other, those nearer the body first. */
    private final class Posing {
        private final Pose pose = rig.rest();
        private final BitSet turned = new BitSet();

        /** Turns a joint so that the next one lies in a direction from it. */
        void aim(Role of, Role next, Vector3d direction) {
            if (!roles.containsKey(of) || !roles.containsKey(next)) {
                return;
            }
            int n = roles.get(of);
            Matrix4d[] world = pose.world();
            Vector3d is =
                    world[roles.get(next)].getTranslation(new Vector3d()).sub(world[n].getTranslation(new Vector3d()));
            if (is.length() > 0) {
                turn(n, new Quaterniond().rotationTo(is.normalize(), new Vector3d(direction).normalize()), world);
            }
        }

        void turn(Role role, Vector3d axis, double degrees) {
            if (roles.containsKey(role)) {
                Quaterniond by = new Quaterniond().fromAxisAngleDeg(axis, degrees);
                turn(roles.get(role), by, pose.world());
            }
        }

        /** Turns spine and chest by an angle between them. */
        void spine(Vector3d axis, double degrees) {
            List<Role> there = List.of(Role.SPINE, Role.CHEST, Role.UPPER_CHEST).stream()
                    .filter(roles::containsKey)
                    .toList();
            there.forEach(role -> turn(role, axis, degrees / there.size()));
        }

        void lean(double degrees) {
            spine(across(), degrees);
        }

        /** Turns by an axis as it lay at rest, so that bends along a chain add up. */
        void turnAtRest(int n, Vector3d axis, double degrees) {
            turn(
                    n,
                    new Quaterniond().fromAxisAngleDeg(axis, degrees),
                    rig.rest().world());
        }

        private void turn(int n, Quaterniond by, Matrix4d[] world) {
            Quaterniond above = parents[n] < 0
                    ? new Quaterniond()
                    : world[parents[n]]
                            .getUnnormalizedRotation(new Quaterniond())
                            .normalize();
            Quaterniond local =
                    above.conjugate(new Quaterniond()).mul(by).mul(above).mul(pose.rotation(n));
            pose.turn(n, pose.rotation(n).conjugate().mul(local));
            turned.set(n);
        }

        TrialPose done(String name) {
            Map<String, Quaterniond> turns = new HashMap<>();
            turned.stream()
                    .filter(n -> pose.rotation(n).isFinite())
                    .forEach(n -> turns.put(asset.nodeRef(n), pose.rotation(n)));
            return TrialPose.to(name, turns);
        }
    }
}
