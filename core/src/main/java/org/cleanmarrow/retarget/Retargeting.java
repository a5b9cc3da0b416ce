package org.cleanmarrow.retarget;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.geometry.Turn;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Motion of one body on another of other proportions, by roles. Each joint turns in the world, against how it rests, as its
 * counterpart does; limbs that rest in another direction are first brought to rest as the other's do. The hips travel as far as
 * the legs are longer. Feet that stand on the source stand here: their legs are bent to where the source's foot is, as far from
 * its place at rest as the legs are longer, and where a leg is too short for that the hips sink. Both bodies are in one asset and
 * stand in its world.
 *
 * <p>Cost: two poses of the skeletons a frame.
 */
public final class Retargeting {
    /** Roles whose bone, to the next of them, is brought to rest as the source's does. */
    private static final Map<Role, Role> BONES = Map.of(
            Role.LEFT_UPPER_ARM, Role.LEFT_LOWER_ARM,
            Role.LEFT_LOWER_ARM, Role.LEFT_HAND,
            Role.RIGHT_UPPER_ARM, Role.RIGHT_LOWER_ARM,
            Role.RIGHT_LOWER_ARM, Role.RIGHT_HAND,
            Role.LEFT_UPPER_LEG, Role.LEFT_LOWER_LEG,
            Role.LEFT_LOWER_LEG, Role.LEFT_FOOT,
            Role.RIGHT_UPPER_LEG, Role.RIGHT_LOWER_LEG,
            Role.RIGHT_LOWER_LEG, Role.RIGHT_FOOT);

    private static final List<List<Role>> LEGS = List.of(
            List.of(Role.LEFT_UPPER_LEG, Role.LEFT_LOWER_LEG, Role.LEFT_FOOT),
            List.of(Role.RIGHT_UPPER_LEG, Role.RIGHT_LOWER_LEG, Role.RIGHT_FOOT));

    /** Feet rest flat on both bodies, whatever their legs do. */
    private static final Set<Role> FLAT = Set.of(Role.LEFT_FOOT, Role.RIGHT_FOOT);

    private final Asset asset;
    private final Rig rig;
    private final int[] parents;
    private final int[] order;
    private final Matrix4d[] rest;
    private final Map<Role, Integer> from;
    private final Map<Role, Integer> to;
    private final Map<Integer, Bone> bones = new HashMap<>();
    private final List<Leg> legs = new ArrayList<>();
    private final Vector3d up;
    private final Vector3d ahead;
    private final double ratio;
    private final int hips;
    private final boolean[] belowHips;

    /**
     * A joint that follows another.
     *
     * @param from    the other's number
     * @param unrest  takes the other's turn at rest away
     * @param resting its own turn at rest, brought to rest as the other does
     */
    private record Bone(int from, Quaterniond unrest, Quaterniond resting) {}

    /**
     * Numbers of a leg's joints on both bodies.
     *
     * @param below what hangs on it
     */
    private record Leg(int upper, int lower, int foot, int sourceFoot, boolean[] below) {}

    /**
     * Two bodies.
     *
     * @param from  joints of the one that clips move; its hips among them
     * @param to    joints of this one; its hips among them
     * @param named joints of this one that have no role, and those of the other that they follow
     * @param ahead where this one faces
     */
    public Retargeting(
            Asset asset, Map<Role, Integer> from, Map<Role, Integer> to, Map<Integer, Integer> named, Vector3d ahead) {
        this.asset = asset;
        this.from = from;
        this.to = to;
        this.ahead = ahead;
        rig = new Rig(asset);
        parents = asset.parents();
        order = asset.topDown();
        rest = rig.rest().world();
        up = asset.conventions().up().vector();
        ratio = length(to) / length(from);
        hips = Objects.requireNonNull(to.get(Role.HIPS));
        belowHips = below(hips);
        Map<Role, Quaterniond> aligned = new EnumMap<>(Role.class);
        Map<Integer, Quaterniond> byNode = new HashMap<>();
        for (Role role : Role.values()) {
            Quaterniond align = align(role, aligned);
            aligned.put(role, align);
            Integer source = from.get(role);
            Integer own = to.get(role);
            if (source != null && own != null) {
                byNode.put(own, align);
                bones.put(own, bone(source, own, align));
            }
        }
        for (int n : order) {
            Quaterniond above = parents[n] < 0 ? new Quaterniond() : byNode.get(parents[n]);
            Quaterniond align = byNode.computeIfAbsent(n, k -> Objects.requireNonNull(above));
            Integer source = named.get(n);
            if (source != null && !bones.containsKey(n)) {
                bones.put(n, bone(source, n, align));
            }
        }
        LEGS.forEach(this::leg);
    }

    private Bone bone(int source, int own, Quaterniond align) {
        Quaterniond unrest = Turn.of(rest[source]).conjugate();
        return new Bone(source, unrest, new Quaterniond(align).mul(Turn.of(rest[own])));
    }

    /** How many joints follow one of the other body. */
    public int matched() {
        return bones.size();
    }

    /** How many times as long its legs are as the other's. */
    public double ratio() {
        return ratio;
    }

    /** How a joint must be turned in the world to rest as the other's; roles come after the one they hang on. */
    private Quaterniond align(Role role, Map<Role, Quaterniond> done) {
        Role next = BONES.get(role);
        if (next != null && hasBoth(role) && hasBoth(next)) {
            return new Quaterniond().rotationTo(bone(to, role, next), bone(from, role, next));
        }
        return FLAT.contains(role) || role.parent() == null
                ? new Quaterniond()
                : done.getOrDefault(role.parent(), new Quaterniond());
    }

    private boolean hasBoth(Role role) {
        return from.containsKey(role) && to.containsKey(role);
    }

    private Vector3d bone(Map<Role, Integer> body, Role role, Role next) {
        Vector3d out = at(body, next).sub(at(body, role));
        return out.length() > 0 ? out.normalize() : new Vector3d(up);
    }

    private static Vector3d place(Matrix4d[] world, int node) {
        return world[node].getTranslation(new Vector3d());
    }

    private Vector3d at(Map<Role, Integer> body, Role role) {
        return place(rest, Objects.requireNonNull(body.get(role)));
    }

    /** Of a body's legs that both have whole; 1 where there are none. */
    private double length(Map<Role, Integer> body) {
        double sum = 0;
        for (List<Role> leg : LEGS) {
            if (leg.stream().allMatch(this::hasBoth)) {
                Vector3d knee = at(body, leg.get(1));
                sum += knee.distance(at(body, leg.get(0))) + knee.distance(at(body, leg.get(2)));
            }
        }
        return sum > 0 ? sum / 2 : 1;
    }

    private void leg(List<Role> roles) {
        if (roles.stream().allMatch(this::hasBoth)) {
            int[] own = roles.stream()
                    .mapToInt(r -> Objects.requireNonNull(to.get(r)))
                    .toArray();
            int foot = Objects.requireNonNull(from.get(roles.get(2)));
            legs.add(new Leg(own[0], own[1], own[2], foot, below(own[0])));
        }
    }

    /** A node and all that hangs on it. */
    private boolean[] below(int top) {
        boolean[] out = new boolean[parents.length];
        for (int n : order) {
            out[n] = n == top || parents[n] >= 0 && out[parents[n]];
        }
        return out;
    }

    /**
     * Keys of this body for a clip that moves the other one.
     *
     * @param times of the keys
     * @param hold  whether feet that stand are held
     */
    public List<Channel> channels(Clip clip, float[] times, boolean hold, Work work) {
        double[][] held = hold ? held(clip, times, work) : new double[legs.size()][times.length];
        List<Integer> turned = new ArrayList<>(bones.keySet().stream().sorted().toList());
        float[][] rotations = new float[turned.size()][times.length * 4];
        float[] travels = new float[times.length * 3];
        for (int k = 0; k < times.length; k++) {
            work.stopIfCancelled();
            Matrix4d[] source = rig.at(clip, times[k]).world();
            Body body = new Body(source);
            double sink = 0;
            for (int l = 0; l < legs.size(); l++) {
                sink = Math.max(sink, held[l][k] * body.tooFar(legs.get(l), source));
            }
            body.sink(sink);
            for (int l = 0; l < legs.size(); l++) {
                if (held[l][k] > 0) {
                    body.stand(legs.get(l), source, held[l][k]);
                }
            }
            for (int t = 0; t < turned.size(); t++) {
                Quaterniond q = body.local(turned.get(t));
                rotations[t][k * 4] = (float) q.x;
                rotations[t][k * 4 + 1] = (float) q.y;
                rotations[t][k * 4 + 2] = (float) q.z;
                rotations[t][k * 4 + 3] = (float) q.w;
            }
            for (int i = 0; i < 3; i++) {
                travels[k * 3 + i] = (float) body.travel.get(i);
            }
        }
        List<Channel> out = new ArrayList<>();
        for (int t = 0; t < turned.size(); t++) {
            Baker.alongTheShorterWay(rotations[t]);
            out.add(channel(turned.get(t), Channel.Path.ROTATION, times, rotations[t], 4));
        }
        out.add(channel(hips, Channel.Path.TRANSLATION, times, travels, 3));
        return out;
    }

    private static Channel channel(int node, Channel.Path path, float[] times, float[] values, int width) {
        Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(node, path, keys, "", Passthrough.NONE);
    }

    private double[][] held(Clip clip, float[] times, Work work) {
        Vector3d[][] ways = new Vector3d[legs.size()][times.length];
        for (int k = 0; k < times.length; k++) {
            work.stopIfCancelled();
            Matrix4d[] world = rig.at(clip, times[k]).world();
            for (int l = 0; l < ways.length; l++) {
                ways[l][k] = place(world, legs.get(l).sourceFoot);
            }
        }
        double[][] out = new double[ways.length][];
        double rate = times.length < 2 ? 1 : (times.length - 1) / (times[times.length - 1] - (double) times[0]);
        for (int l = 0; l < ways.length; l++) {
            out[l] = Planted.held(ways[l], up, length(from), rate);
        }
        return out;
    }

    /** This body at one moment. */
    private final class Body {
        private final Matrix4d[] world;
        private final Vector3d travel = new Vector3d();

        Body(Matrix4d[] source) {
            world = new Matrix4d[rest.length];
            for (int n : order) {
                Bone bone = bones.get(n);
                Matrix4d local = asset.nodes().get(n).local().toMatrix();
                Matrix4d above = parents[n] < 0 ? new Matrix4d() : world[parents[n]];
                world[n] = new Matrix4d(above).mul(local);
                if (bone != null) {
                    Quaterniond turn =
                            Turn.of(source[bone.from]).mul(bone.unrest).mul(bone.resting);
                    turn(n, turn);
                }
                if (bone != null && n == hips) {
                    Vector3d went =
                            place(source, bone.from).sub(place(rest, bone.from)).mul(ratio);
                    world[n].setTranslation(went.add(place(rest, n)));
                    keepTravel();
                }
            }
        }

        /** Turns a joint where it is, keeping its scale. */
        private void turn(int n, Quaterniond now) {
            Quaterniond change = now.mul(Turn.of(world[n]).conjugate(), new Quaterniond());
            Vector3d at = place(world, n);
            world[n] = new Matrix4d()
                    .translate(at)
                    .rotate(change)
                    .translate(-at.x, -at.y, -at.z)
                    .mul(world[n]);
        }

        private Vector3d goal(Leg leg, Matrix4d[] source) {
            return place(source, leg.sourceFoot)
                    .sub(place(rest, leg.sourceFoot))
                    .mul(ratio)
                    .add(place(rest, leg.foot));
        }

        /** How far the hips must sink for a leg to reach where its foot is to stand. */
        double tooFar(Leg leg, Matrix4d[] source) {
            Vector3d top = place(world, leg.upper);
            Vector3d knee = place(world, leg.lower);
            double reach = knee.distance(top) + knee.distance(place(world, leg.foot));
            Vector3d way = top.sub(goal(leg, source));
            double height = way.dot(up);
            double aside = way.fma(-height, up).length();
            return aside < reach ? Math.max(0, height - Math.sqrt(reach * reach - aside * aside)) : 0;
        }

        void sink(double far) {
            if (far == 0) {
                return;
            }
            Vector3d down = new Vector3d(up).mul(-far);
            for (int n : order) {
                if (belowHips[n]) {
                    world[n].setTranslation(place(world, n).add(down));
                }
            }
            keepTravel();
        }

        private void keepTravel() {
            Matrix4d above = parents[hips] < 0 ? new Matrix4d() : world[parents[hips]].invert(new Matrix4d());
            above.transformPosition(place(world, hips), travel);
        }

        /** Brings a foot to where the source's stands, or part of the way, and what hangs on the leg with it. */
        void stand(Leg leg, Matrix4d[] source, double share) {
            Vector3d end = place(world, leg.foot);
            Vector3d goal = goal(leg, source).lerp(end, 1 - share);
            Quaterniond sole = Turn.of(world[leg.foot]);
            Quaterniond facing = Turn.of(world[hips]).mul(Turn.of(rest[hips]).conjugate());
            Limb bent = Limb.reaching(
                    place(world, leg.upper), place(world, leg.lower), end, goal, facing.transform(new Vector3d(ahead)));
            Quaterniond upper = new Quaterniond(bent.upper()).mul(Turn.of(world[leg.upper]));
            Quaterniond lower = new Quaterniond(bent.lower()).mul(Turn.of(world[leg.lower]));
            Map<Integer, Quaterniond> turns = Map.of(leg.upper, upper, leg.lower, lower, leg.foot, sole);
            Matrix4d[] before = world.clone();
            for (int n : order) {
                if (leg.below[n] && n != leg.upper) {
                    Matrix4d local = before[parents[n]].invert(new Matrix4d()).mul(before[n]);
                    world[n] = new Matrix4d(world[parents[n]]).mul(local);
                }
                if (turns.containsKey(n)) {
                    turn(n, turns.get(n));
                }
            }
        }

        Quaterniond local(int n) {
            Quaterniond above = parents[n] < 0 ? new Quaterniond() : Turn.of(world[parents[n]]);
            return above.conjugate().mul(Turn.of(world[n])).normalize();
        }
    }
}
