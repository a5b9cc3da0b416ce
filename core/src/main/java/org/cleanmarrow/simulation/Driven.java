package org.cleanmarrow.simulation;

import org.cleanmarrow.collision.RigidJoint;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.ode4j.math.DMatrix3C;
import org.ode4j.ode.DBody;

/**
 * Turns a body that hangs back to where a joint's drives want it: torques of springs with damping about the joint's axes. A
 * spring is no stiffer than one that swings once in six steps, damping is taken as at the end of the step (implicit Euler), so that
 * stiff ones are steady too. Counted from where the bodies stand at first.
 */
final class Driven {
    private final RigidJoint joint;
    private final DBody hangs;
    private final DBody holds;
    /** The joint's axes in those of the body that holds. */
    private final Quaterniond axes;

    private final Quaterniond rest;
    /** The anchor in the axes of either body. */
    private final Vector3d ofHangs;

    private final Vector3d ofHolds;

    /** @param at the joint's frame at rest, metres */
    Driven(RigidJoint joint, DBody hangs, DBody holds, Matrix4d at) {
        this.joint = joint;
        this.hangs = hangs;
        this.holds = holds;
        axes = turn(holds).conjugate().mul(at.getNormalizedRotation(new Quaterniond()));
        rest = turn(holds).conjugate().mul(turn(hangs));
        Vector3d anchor = at.getTranslation(new Vector3d());
        ofHangs = turn(hangs).conjugate().transform(anchor.sub(place(hangs), new Vector3d()));
        ofHolds = turn(holds).conjugate().transform(anchor.sub(place(holds), new Vector3d()));
    }

    static Quaterniond turn(DBody body) {
        var q = body.getQuaternion();
        return new Quaterniond(q.get1(), q.get2(), q.get3(), q.get0());
    }

    private static Vector3d place(DBody body) {
        var p = body.getPosition();
        return new Vector3d(p.get0(), p.get1(), p.get2());
    }

    /** Pushes for a step of so many seconds. */
    void push(double h) {
        Quaterniond held = turn(holds);
        Quaterniond world = held.mul(axes, new Quaterniond());
        // How the hanging body is turned from rest, as a vector along the joint's axes.
        Quaterniond moved = held.conjugate(new Quaterniond()).mul(turn(hangs)).mul(rest.conjugate(new Quaterniond()));
        Vector3d sine = new Vector3d(moved.x, moved.y, moved.z).mul(moved.w < 0 ? -1 : 1);
        double angle = 2 * Math.atan2(sine.length(), Math.abs(moved.w));
        Vector3d turned = sine.length() == 0 ? sine : sine.normalize(angle);
        axes.transformInverse(turned);
        var a = hangs.getAngularVel();
        var b = holds.getAngularVel();
        Vector3d speed = world.transformInverse(
                new Vector3d(a.get0() - b.get0(), a.get1() - b.get1(), a.get2() - b.get2()), new Vector3d());
        for (RigidJoint.Drive drive : joint.drives()) {
            if (drive.turn()) {
                Vector3d about = world.transform(
                        new Vector3d(drive.axis() == 0 ? 1 : 0, drive.axis() == 1 ? 1 : 0, drive.axis() == 2 ? 1 : 0));
                double yields = yields(hangs, ofHangs, about) + yields(holds, ofHolds, about);
                push(drive, about, turned.get(drive.axis()), speed.get(drive.axis()), yields, h);
            }
        }
    }

    private void push(RigidJoint.Drive drive, Vector3d about, double angle, double speed, double yields, double h) {
        if (!(yields > 0)) {
            return;
        }
        double scale = drive.acceleration() ? 1 / yields : 1;
        double k = Math.min(drive.stiffness() * scale, 1 / (h * h * yields));
        double c = drive.damping() * scale;
        double slowed = c / (1 + h * c * yields);
        double most = drive.force() * scale;
        double torque = Math.clamp(k * (drive.position() - angle) + slowed * (drive.velocity() - speed), -most, most);
        Vector3d t = about.mul(torque);
        hangs.addTorque(t.x, t.y, t.z);
        if (!holds.isKinematic()) {
            holds.addTorque(-t.x, -t.y, -t.z);
        }
    }

    /** How fast a body turns about an axis through the anchor for a torque: the inverse of its inertia there. */
    private static double yields(DBody body, Vector3d anchor, Vector3d about) {
        if (body.isKinematic()) {
            return 0;
        }
        DMatrix3C i = body.getMass().getI();
        Matrix3d own = new Matrix3d(
                i.get00(), i.get10(), i.get20(), i.get01(), i.get11(), i.get21(), i.get02(), i.get12(), i.get22());
        Vector3d axis = turn(body).transformInverse(about, new Vector3d());
        double inertia = axis.dot(own.transform(axis, new Vector3d()));
        double across = anchor.cross(axis, new Vector3d()).lengthSquared();
        return 1 / (inertia + body.getMass().getMass() * across);
    }
}
