package org.cleanmarrow.demo.pilot;

import java.util.HashMap;
import java.util.Map;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** One frame of the pilot: turns of joints about the model's axes, with the feet held where they are put. */
final class Puppet {
    private final PilotJoints joints;
    private final Map<String, Quaterniond> turns = new HashMap<>();
    private final Vector3d shift = new Vector3d();

    Puppet(PilotJoints joints) {
        this.joints = joints;
    }

    /** Turns a joint by degrees about x, then y, then z, on top of what it was turned before. */
    Puppet turn(String joint, double x, double y, double z) {
        Quaterniond q = axis(0, 0, 1, z).mul(axis(0, 1, 0, y)).mul(axis(1, 0, 0, x));
        turns.merge(joint, q, (before, more) -> new Quaterniond(more).mul(before));
        return this;
    }

    /** Bends a finger towards its palm. */
    Puppet curl(String finger, double degrees) {
        Vector3d first = joints.at(finger + "_2").sub(joints.at(finger + "_1"));
        Vector3d second = joints.at(finger + "_3").sub(joints.at(finger + "_2"));
        Vector3d n = first.cross(second).normalize();
        for (int i = 1; i <= 3; i++) {
            turns.put(finger + "_" + i, axis(n.x, n.y, n.z, degrees));
        }
        return this;
    }

    Puppet shiftHips(double x, double y, double z) {
        shift.add(x, y, z);
        return this;
    }

    private static Quaterniond axis(double x, double y, double z, double degrees) {
        double half = Math.toRadians(degrees) / 2;
        double s = StrictMath.sin(half);
        return new Quaterniond(x * s, y * s, z * s, StrictMath.cos(half));
    }

    /** Bends a leg so that its ankle stands at its place at rest, moved by the given amounts. */
    Puppet plant(String side, double dx, double dy, double dz) {
        Quaterniond hips = turn("hips");
        Vector3d hip = joints.at(side + "thigh").sub(joints.at("hips"));
        hips.transform(hip).add(joints.at("hips")).add(shift);
        Vector3d ankle = joints.at(side + "foot").add(dx, dy, dz);
        Vector3d thigh = joints.at(side + "shin").sub(joints.at(side + "thigh"));
        Vector3d shin = joints.at(side + "foot").sub(joints.at(side + "shin"));
        double a = thigh.length();
        double b = shin.length();
        Vector3d way = new Vector3d(ankle).sub(hip);
        double d = Math.min(way.length(), (a + b) * 0.9995);
        way.normalize();
        double along = (a * a - b * b + d * d) / (2 * d);
        double out = Math.sqrt(Math.max(0, a * a - along * along));
        Vector3d forward = new Vector3d(0, 0, 1);
        forward.sub(new Vector3d(way).mul(forward.dot(way))).normalize();
        Vector3d knee = new Vector3d(hip).fma(along, way).fma(out, forward);
        Quaterniond thighTurn = arc(thigh, new Vector3d(knee).sub(hip));
        Quaterniond shinTurn = arc(shin, new Vector3d(ankle).sub(knee));
        turns.put(side + "thigh", hips.conjugate(new Quaterniond()).mul(thighTurn));
        turns.put(side + "shin", thighTurn.conjugate(new Quaterniond()).mul(shinTurn));
        turns.put(side + "foot", shinTurn.conjugate(new Quaterniond()));
        return this;
    }

    /** The shortest turn from one direction to another. */
    private static Quaterniond arc(Vector3d from, Vector3d to) {
        Vector3d f = new Vector3d(from).normalize();
        Vector3d t = new Vector3d(to).normalize();
        Vector3d c = new Vector3d(f).cross(t);
        return new Quaterniond(c.x, c.y, c.z, 1 + f.dot(t)).normalize();
    }

    Quaterniond turn(String joint) {
        return new Quaterniond(turns.getOrDefault(joint, new Quaterniond()));
    }

    Vector3d hips() {
        return joints.at("hips").add(shift);
    }
}
