package org.cleanmarrow.simulation;

import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.ode4j.ode.DAMotorJoint;
import org.ode4j.ode.DBody;
import org.ode4j.ode.DWorld;
import org.ode4j.ode.OdeHelper;

/**
 * Keeps a body that hangs in a ball within a cone about an axis, and its twist about that within bounds. The library has no such
 * limit that holds, so its motor about two axes gets the axes and angles anew at every step.
 */
final class Leaning {
    private final DAMotorJoint motor;
    private final DBody hangs;
    private final DBody holds;
    private final Quaterniond rest;
    private final Vector3d along;

    /**
     * Counted from where the bodies stand.
     *
     * @param axis  of the cone, in the world, of unit length
     * @param lean  radians, 0 or more
     * @param least of the twist, radians
     */
    Leaning(DWorld world, DBody hangs, DBody holds, Vector3d axis, double lean, double least, double most) {
        this.hangs = hangs;
        this.holds = holds;
        rest = Driven.turn(holds).conjugate().mul(Driven.turn(hangs));
        along = Driven.turn(hangs).conjugate().transform(new Vector3d(axis));
        motor = OdeHelper.createAMotorJoint(world);
        motor.attach(hangs, holds);
        motor.setMode(DAMotorJoint.AMotorMode.dAMotorUser);
        motor.setNumAxes(2);
        motor.setParamHiStop(lean);
        if (most - least < 2 * Math.PI) {
            motor.setParamHiStop2(most);
            motor.setParamLoStop2(least);
            motor.setParamHiStop2(most);
        }
        update();
    }

    /** Tells the motor how the bodies stand now. */
    void update() {
        Quaterniond held = Driven.turn(holds);
        // How the hanging body is turned from rest, seen from itself at rest.
        Quaterniond moved = new Quaterniond(rest)
                .conjugate()
                .mul(held.conjugate(new Quaterniond()))
                .mul(Driven.turn(hangs));
        double sign = moved.w < 0 ? -1 : 1;
        double twist =
                2 * Math.atan2(sign * (moved.x * along.x + moved.y * along.y + moved.z * along.z), sign * moved.w);
        Vector3d now = Driven.turn(hangs).transform(new Vector3d(along));
        Vector3d then = held.mul(rest, new Quaterniond()).transform(new Vector3d(along));
        Vector3d axis = then.cross(now, new Vector3d());
        double lean = Math.atan2(axis.length(), then.dot(now));
        if (axis.length() < 1e-12) {
            axis.set(Math.abs(now.x) < 0.7 ? 1 : 0, Math.abs(now.x) < 0.7 ? 0 : 1, 0)
                    .cross(now);
        }
        axis.normalize();
        motor.setAxis(0, 0, axis.x, axis.y, axis.z);
        motor.setAngle(0, lean);
        motor.setAxis(1, 0, now.x, now.y, now.z);
        motor.setAngle(1, twist);
    }
}
