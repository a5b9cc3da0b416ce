package org.cleanmarrow.collision;

import java.util.Locale;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Sheared;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.joml.Vector3dc;

/**
 * What has mass and moves: a node whose colliders, and those of the nodes below it up to the next body, move as one.
 *
 * @param node  never below zero
 * @param speed at the start
 */
public record RigidBody(int node, Kind kind, Mass mass, Speed speed, Damping damping) implements Attached {
    private static final Vector3dc NOWHERE = new Vector3d(Double.NaN);

    /** Who moves it. */
    public enum Kind {
        /** Nobody. */
        STILL,
        /** Its keys, whatever it meets. */
        KEYFRAMED,
        /** What acts on it. */
        FREE;

        public String code() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * How heavy it is; whoever receives it finds by the shapes what is not said.
     *
     * @param kilograms 0: not said
     * @param centre    in the node's axes; not a number: not said
     * @param inertia   about the principal axes, kilograms times square units; not a number: not said
     * @param principal the turn of these axes
     */
    public record Mass(double kilograms, Vector3dc centre, Vector3dc inertia, Frame principal) {
        public static final Mass UNSAID = of(0);

        public static Mass of(double kilograms) {
            return new Mass(kilograms, NOWHERE, NOWHERE, Frame.NONE);
        }

        /** Without an inertia any axes will do. */
        private Mass moved(Matrix4d by, int node) {
            Vector3d there = by.transformPosition(centre, new Vector3d());
            if (!inertia.isFinite()) {
                return new Mass(kilograms, there, inertia, principal);
            }
            double scale = Frame.evenScale(by).orElseThrow(() -> new Sheared("#" + node));
            Frame turned = Frame.of(new Matrix4d(by).mul(principal.matrix()).setTranslation(0, 0, 0));
            return new Mass(kilograms, there, inertia.mul(scale * scale, new Vector3d()), turned.proper(false));
        }
    }

    /**
     * How it moves at first, in the node's axes.
     *
     * @param linear  units a second
     * @param angular radians a second
     */
    public record Speed(Vector3dc linear, Vector3dc angular) {
        public static final Speed NONE = new Speed(new Vector3d(), new Vector3d());

        /** A turn's axis points the other way where things are mirrored. */
        private Speed moved(Matrix4d by) {
            Vector3d about = by.transformDirection(angular, new Vector3d());
            double length = about.length();
            double sign = by.determinant3x3() < 0 ? -1 : 1;
            return new Speed(
                    by.transformDirection(linear, new Vector3d()),
                    length == 0 ? about : about.mul(sign * angular.length() / length));
        }
    }

    /**
     * What slows it down.
     *
     * @param linear  of speed, 1/s
     * @param angular of turning, 1/s
     * @param gravity how much of gravity acts on it, usually 1
     */
    public record Damping(double linear, double angular, double gravity) {
        public static final Damping NONE = new Damping(0, 0, 1);
    }

    public RigidBody(int node, Kind kind, double kilograms) {
        this(node, kind, Mass.of(kilograms), Speed.NONE, Damping.NONE);
    }

    /** A node has one body at most, which needs no name. */
    @Override
    public String name() {
        return "";
    }

    @Override
    public RigidBody renumbered(Renumbering numbers) {
        return withNode(numbers.of(Renumbering.Kind.NODE, node));
    }

    @Override
    public RigidBody withNode(int changed) {
        return new RigidBody(changed, kind, mass, speed, damping);
    }

    @Override
    public RigidBody moved(Matrix4d by) {
        return new RigidBody(node, kind, mass.moved(by, node), speed.moved(by), damping);
    }

    @Override
    public float[] points() {
        Vector3dc centre = mass.centre;
        return centre.isFinite()
                ? new float[] {(float) centre.x(), (float) centre.y(), (float) centre.z()}
                : new float[0];
    }
}
