package org.cleanmarrow.simulation;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.joml.Vector3dc;
import org.jspecify.annotations.Nullable;
import org.ode4j.math.DVector3;
import org.ode4j.ode.DBody;
import org.ode4j.ode.DSpace;
import org.ode4j.ode.DWorld;
import org.ode4j.ode.OdeHelper;
import org.ode4j.ode.OdeMath;

/**
 * The bodies of an asset as a library of rigid bodies has them that is all Java (ode4j): free ones fall, swing and bump while a clip
 * moves the rest. In metres, kilograms and seconds, at a fixed rate: twice the same input gives twice the same bits.
 *
 * <p>Bodies that are still stand where the clip begins; all else that collides is moved by the clip and stopped by nothing.
 * Not for several threads; two worlds wait for each other, because the library keeps its random numbers for all, and each has its
 * own put back when its turn comes.
 */
public final class BodyWorld implements AutoCloseable {
    private static final double GRAVITY = 9.80665;
    /** Steps a second, at least. */
    private static final double RATE = 240;

    /** Rounds of the solver a step: few bodies get more. */
    private static final int LEAST_ROUNDS = 20;

    private static final int MOST_ROUNDS = 60;
    private static final int ROUNDS_OF_ALL = 4000;
    /** How fast a pull draws, 1/s. */
    private static final double PULL = 20;

    private static final Object ONE_AT_A_TIME = new Object();

    private final Asset asset;
    private final Rig rig;
    private final @Nullable Clip clip;
    private final double metres;
    private final Matrix4d[] rest;
    private final Vector3d[] scales;
    /** For each node that of the body that what stands there belongs to. */
    private final int[] bearers;

    private final Map<Integer, Moved> bodies = new HashMap<>();
    private final List<Leaning> leaning = new ArrayList<>();
    private final List<Driven> driven = new ArrayList<>();
    private final DWorld world;
    private final DSpace space;
    private final BodyContacts contacts;
    private final List<Integer> free = new ArrayList<>();
    private final BitSet kept = new BitSet();
    private final Vector3d falls;
    private int loose;
    private double time;
    private Matrix4d[] there;
    private long random;

    /**
     * Draws a free body by one of its places.
     *
     * @param at in its node's axes without their scale, metres
     * @param to in the asset's world, metres
     */
    public record Pull(int node, Vector3dc at, Vector3dc to) {}

    /** One body, its origin at its centre of mass. */
    record Moved(int node, DBody body, boolean free, boolean keyed, Vector3d centre, RigidBody said) {}

    /**
     * Bodies where a clip has them at a time.
     *
     * @param clip  what moves the rest; null: all stands as at rest
     * @param floor height of a level floor in the asset's unit; not a number: there is none
     * @param begin seconds on the clip's time line
     * @throws org.cleanmarrow.model.Sheared where a shape would have to shear
     */
    public BodyWorld(Asset asset, @Nullable Clip clip, double floor, double begin) {
        this.asset = asset;
        this.clip = clip;
        rig = new Rig(asset);
        metres = asset.conventions().metresPerUnit();
        rest = rig.rest().world();
        scales = new Vector3d[rest.length];
        for (int n = 0; n < rest.length; n++) {
            scales[n] = rest[n].getScale(new Vector3d());
        }
        bearers = Bodies.bearers(asset, Bodies.nodes(asset));
        falls = asset.conventions().up().vector().mul(-GRAVITY);
        time = begin;
        synchronized (ONE_AT_A_TIME) {
            OdeHelper.initODE2(0);
            OdeMath.dRandSetSeed(0);
            world = OdeHelper.createWorld();
            space = OdeHelper.createSimpleSpace(null);
            contacts = new BodyContacts(world, space);
            world.setERP(0.4);
            world.setCFM(1e-9);
            world.setContactSurfaceLayer(1e-4);
            world.setContactMaxCorrectingVel(2);
            build();
            if (!Double.isNaN(floor)) {
                Vector3d up = asset.conventions().up().vector();
                OdeHelper.createPlane(space, up.x, up.y, up.z, floor * metres).setData(BodyContacts.FLOOR);
            }
            world.setQuickStepNumIterations(
                    Math.clamp(ROUNDS_OF_ALL / Math.max(1, bodies.size()), LEAST_ROUNDS, MOST_ROUNDS));
            there = pose(begin).world();
            for (Moved m : bodies.values()) {
                place(m, there[m.node]);
                if (m.free) {
                    launched(m, there[m.node]);
                }
            }
            random = OdeMath.dRandGetSeed();
        }
        int[] parents = asset.parents();
        for (int n : asset.topDown()) {
            if (bodies.containsKey(n) && bodies.get(n).free) {
                free.add(n);
                kept.set(n);
                if (parents[n] >= 0) {
                    kept.set(parents[n]);
                }
            }
        }
    }

    @Override
    public void close() {
        synchronized (ONE_AT_A_TIME) {
            contacts.clear();
            space.destroy();
            world.destroy();
        }
    }

    /** Joints that leave places free that are held by nothing here, and so do not count. */
    public int loose() {
        return loose;
    }

    /** Nodes of free bodies, from the top down. */
    public List<Integer> free() {
        return List.copyOf(free);
    }

    /** Where the free bodies' nodes stand now, and those next above them, in the asset's world and unit. */
    public Map<Integer, Matrix4d> frame() {
        return only(kept, there);
    }

    /** Where a node stands now, in the asset's world and unit. */
    public Matrix4d node(int number) {
        return new Matrix4d(there[number]);
    }

    /** The node of the free body that what stands at a node belongs to; -1 where that is none. */
    public int bearer(int node) {
        int at = bearers[node];
        return bodies.containsKey(at) && bodies.get(at).free ? at : -1;
    }

    /** Speed and height of all free bodies as energy, joules; height counts from the world's origin. */
    public double energy() {
        double sum = 0;
        for (Moved m : bodies.values()) {
            if (m.free) {
                var v = m.body.getLinearVel();
                DVector3 turn = new DVector3();
                m.body.vectorFromWorld(m.body.getAngularVel(), turn);
                DVector3 spun = new DVector3();
                OdeMath.dMultiply0_331(spun, m.body.getMass().getI(), turn);
                double mass = m.body.getMass().getMass();
                var p = m.body.getPosition();
                double high = -(falls.x * p.get0() + falls.y * p.get1() + falls.z * p.get2());
                sum += mass * v.lengthSquared() / 2
                        + turn.dot(spun) / 2
                        + mass * m.said.damping().gravity() * high;
            }
        }
        return sum;
    }

    /** Goes on to a later time, pulled as is said. */
    public void advance(double to, List<Pull> pulls) {
        synchronized (ONE_AT_A_TIME) {
            OdeMath.dRandSetSeed(random);
            double lasts = to - time;
            int steps = (int) Math.ceil(lasts * RATE - 1e-6);
            double h = lasts / steps;
            Pose pose = pose(to);
            Matrix4d[] keyed = pose.world();
            bodies.values().stream().filter(m -> m.keyed).forEach(m -> drive(m, there[m.node], keyed[m.node], lasts));
            for (int s = 0; s < steps; s++) {
                for (Moved m : bodies.values()) {
                    if (m.free) {
                        m.body.addForce(vector(new Vector3d(falls)
                                .mul(m.said.damping().gravity()
                                        * m.body.getMass().getMass())));
                    }
                }
                pulls.forEach(this::pulled);
                driven.forEach(d -> d.push(h));
                contacts.find();
                leaning.forEach(Leaning::update);
                world.quickStep(h);
                contacts.clear();
                bodies.values().stream().filter(m -> m.free).forEach(m -> slow(m, h));
            }
            bodies.values().stream().filter(m -> m.keyed).forEach(m -> place(m, keyed[m.node]));
            there = carried(keyed, pose);
            time = to;
            random = OdeMath.dRandGetSeed();
        }
    }

    /** A spring that would bring a body of that mass there as fast as can be without swinging. */
    private void pulled(Pull pull) {
        Moved m = bodies.get(pull.node());
        if (m == null || !m.free) {
            return;
        }
        DVector3 at = new DVector3();
        m.body.getRelPointPos(vector(new Vector3d(pull.at()).sub(m.centre)), at);
        DVector3 speed = new DVector3();
        m.body.getPointVel(at, speed);
        Vector3d away = new Vector3d(pull.to()).sub(at.get0(), at.get1(), at.get2());
        Vector3d force = away.mul(PULL * PULL)
                .sub(new Vector3d(speed.get0(), speed.get1(), speed.get2()).mul(2 * PULL))
                .mul(m.body.getMass().getMass());
        m.body.addForceAtPos(vector(force), at);
    }

    private static Map<Integer, Matrix4d> only(BitSet kept, Matrix4d[] all) {
        Map<Integer, Matrix4d> out = new HashMap<>();
        kept.stream().forEach(n -> out.put(n, all[n]));
        return out;
    }

    private void build() {
        BitSet known = Bodies.nodes(asset);
        Map<Integer, List<Collider>> shapes = new HashMap<>();
        for (Collider c : Bodies.colliders(asset)) {
            if (c.role() == Collider.Role.SOLID) {
                shapes.computeIfAbsent(bearers[c.node()], n -> new ArrayList<>())
                        .add(c);
            }
        }
        Map<Integer, RigidBody> bodiesSaid = Bodies.byNode(asset);
        BitSet all = (BitSet) known.clone();
        shapes.keySet().forEach(all::set);
        for (int n = all.nextSetBit(0); n >= 0; n = all.nextSetBit(n + 1)) {
            RigidBody said = bodiesSaid.getOrDefault(n, new RigidBody(n, RigidBody.Kind.KEYFRAMED, 0));
            body(said, shapes.getOrDefault(n, List.of()));
        }
        // What hangs in the world hangs on a body that nothing moves: limits of a ball are not kept without one.
        DBody nothing = OdeHelper.createBody(world);
        nothing.setKinematic();
        for (RigidJoint joint : Bodies.joints(asset)) {
            join(joint.proper(), nothing);
        }
    }

    private void body(RigidBody said, List<Collider> colliders) {
        int n = said.node();
        DBody body = OdeHelper.createBody(world);
        BodyShapes made = new BodyShapes(asset, rest, n, metres);
        for (Collider c : colliders) {
            made.add(c, space);
        }
        boolean free = said.kind() == RigidBody.Kind.FREE;
        Vector3d centre = made.centre(said.mass(), scales[n], rest[n].determinant3x3() < 0);
        made.attach(body, centre);
        if (free) {
            body.setMass(made.mass(said.mass()));
            body.setAutoDisableFlag(false);
            body.setGravityMode(false);
        } else {
            body.setKinematic();
        }
        Moved moved = new Moved(n, body, free, said.kind() == RigidBody.Kind.KEYFRAMED, centre, said);
        body.setData(moved);
        bodies.put(n, moved);
        place(moved, rest[n]);
    }

    private void join(RigidJoint joint, DBody nothing) {
        Moved hangs = bodies.get(joint.node());
        Moved holds = joint.other() < 0 ? null : bodies.get(bearers[joint.other()]);
        if (hangs == null || !hangs.free && (holds == null || !holds.free)) {
            return;
        }
        if (!joint.meet() && holds != null) {
            contacts.keepApart(hangs, holds);
        }
        Matrix4d at =
                unscaled(joint.node(), rest[joint.node()]).mul(scaled(joint.at().matrix(), joint.node()));
        DBody other = holds == null ? nothing : holds.body;
        boolean made = BodyJoints.make(world, joint, hangs.body, other, at, leaning);
        loose += made ? 0 : 1;
        if (made && joint.drives().stream().anyMatch(RigidJoint.Drive::turn)) {
            driven.add(new Driven(joint, hangs.body, other, at));
        }
    }

    /** A frame of a node's axes in metres, the node's scale in its origin alone. */
    private Matrix4d scaled(Matrix4d frame, int node) {
        Vector3d origin = frame.getTranslation(new Vector3d()).mul(scales[node]).mul(metres);
        return frame.setTranslation(origin);
    }

    private Pose pose(double seconds) {
        return clip == null ? rig.rest() : rig.at(clip, seconds);
    }

    /** A node's place in metres, its axes of unit length and right-handed. */
    private Matrix4d unscaled(int node, Matrix4d world) {
        return BodyShapes.unscaled(world, scales[node], metres);
    }

    private void place(Moved m, Matrix4d world) {
        Matrix4d at = unscaled(m.node, world);
        Vector3d p = at.transformPosition(new Vector3d(m.centre));
        m.body.setPosition(p.x, p.y, p.z);
        m.body.setQuaternion(BodyShapes.quaternion(turn(at)));
        if (!m.free) {
            m.body.setLinearVel(0, 0, 0);
            m.body.setAngularVel(0, 0, 0);
        }
    }

    private static Quaterniond turn(Matrix4d at) {
        return at.getNormalizedRotation(new Quaterniond());
    }

    private void launched(Moved m, Matrix4d world) {
        Matrix4d at = unscaled(m.node, world);
        m.body.setLinearVel(vector(
                at.transformDirection(new Vector3d(m.said.speed().linear())).mul(scales[m.node].x * metres)));
        m.body.setAngularVel(
                vector(at.transformDirection(new Vector3d(m.said.speed().angular()))));
    }

    /** Gives what keys move the speed by which it gets there. */
    private void drive(Moved m, Matrix4d from, Matrix4d to, double lasts) {
        Matrix4d a = unscaled(m.node, from);
        Matrix4d b = unscaled(m.node, to);
        Vector3d way = b.transformPosition(new Vector3d(m.centre)).sub(a.transformPosition(new Vector3d(m.centre)));
        Quaterniond turned = turn(b).mul(turn(a).conjugate());
        double sign = turned.w < 0 ? -1 : 1;
        Vector3d axis = new Vector3d(turned.x, turned.y, turned.z).mul(sign);
        double sine = axis.length();
        double angle = 2 * Math.atan2(sine, turned.w * sign);
        m.body.setLinearVel(vector(way.div(lasts)));
        m.body.setAngularVel(vector(sine == 0 ? axis : axis.mul(angle / sine / lasts)));
    }

    private void slow(Moved m, double h) {
        double line = Math.exp(-m.said.damping().linear() * h);
        double turn = Math.exp(-m.said.damping().angular() * h);
        if (line < 1) {
            var v = m.body.getLinearVel();
            m.body.setLinearVel(line * v.get0(), line * v.get1(), line * v.get2());
        }
        if (turn < 1) {
            var v = m.body.getAngularVel();
            m.body.setAngularVel(turn * v.get0(), turn * v.get1(), turn * v.get2());
        }
    }

    /** All nodes in the asset's unit, those of free bodies where these are, and what hangs below them with them. */
    private Matrix4d[] carried(Matrix4d[] posed, Pose pose) {
        int[] parents = asset.parents();
        Matrix4d[] out = new Matrix4d[posed.length];
        for (int n : asset.topDown()) {
            Moved m = bodies.get(n);
            if (m != null && m.free) {
                out[n] = standing(m);
            } else {
                out[n] = parents[n] < 0 ? posed[n] : new Matrix4d(out[parents[n]]).mul(pose.local(n));
            }
        }
        return out;
    }

    private Matrix4d standing(Moved m) {
        var p = m.body.getPosition();
        var q = m.body.getQuaternion();
        Quaterniond turn = new Quaterniond(q.get1(), q.get2(), q.get3(), q.get0());
        Vector3d origin = new Vector3d(p.get0(), p.get1(), p.get2())
                .sub(turn.transform(new Vector3d(m.centre)))
                .div(metres);
        boolean mirrored = rest[m.node].determinant3x3() < 0;
        return new Matrix4d()
                .translationRotate(origin, turn)
                .scale(mirrored ? -scales[m.node].x : scales[m.node].x, scales[m.node].y, scales[m.node].z);
    }

    private static DVector3 vector(Vector3d v) {
        return new DVector3(v.x, v.y, v.z);
    }
}
