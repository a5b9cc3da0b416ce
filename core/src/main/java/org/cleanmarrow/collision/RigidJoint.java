package org.cleanmarrow.collision;

import java.util.List;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Sheared;
import org.joml.Matrix4d;

/**
 * What holds two bodies together: a frame at one that the other has a twin of, which lies in the same place at rest, and how
 * far the two may part.
 *
 * @param name   may be empty
 * @param node   of the body that hangs
 * @param at     the frame, in that node's axes
 * @param other  the node that it hangs on; -1 once that is gone: it hangs in the world then
 * @param limits what may not be left; along and about all else it moves freely
 * @param drives what pulls it back
 * @param meet   whether the two bodies collide with each other
 */
public record RigidJoint(
        String name, int node, Frame at, int other, List<Limit> limits, List<Drive> drives, boolean meet)
        implements Attached {
    /**
     * Bounds of one or several axes: with several the distance from the origin, or the angle, is bounded.
     *
     * @param turn      about the axes, otherwise along them
     * @param axes      bits: 1 x, 2 y, 4 z
     * @param least     radians or units; minus infinity for none
     * @param most      radians or units; infinity for none
     * @param stiffness infinite where it does not give
     */
    public record Limit(boolean turn, int axes, double least, double most, double stiffness, double damping) {
        public Limit(boolean turn, int axes, double least, double most) {
            this(turn, axes, least, most, Double.POSITIVE_INFINITY, 0);
        }

        private Limit scaled(double by) {
            return turn ? this : new Limit(false, axes, least * by, most * by, stiffness / by, damping / by);
        }

        /** As along axes that point the other way. */
        private Limit turnedRound() {
            return turn ? this : new Limit(false, axes, -most, -least, stiffness, damping);
        }
    }

    /**
     * What pulls towards a place or a speed.
     *
     * @param axis  0 x, 1 y, 2 z
     * @param force the largest; infinite for none
     */
    public record Drive(
            boolean turn,
            int axis,
            boolean acceleration,
            double force,
            double position,
            double velocity,
            double stiffness,
            double damping) {
        private Drive scaled(double by) {
            return turn
                    ? this
                    : new Drive(
                            false,
                            axis,
                            acceleration,
                            force,
                            position * by,
                            velocity * by,
                            stiffness / by,
                            damping / by);
        }

        private Drive turnedRound() {
            return turn ? this : new Drive(false, axis, acceleration, force, -position, -velocity, stiffness, damping);
        }
    }

    public RigidJoint {
        limits = List.copyOf(limits);
        drives = List.copyOf(drives);
    }

    /** The same with right-handed axes: where they were mirrored all three point the other way. */
    public RigidJoint proper() {
        return at.mirrored()
                ? new RigidJoint(
                        name,
                        node,
                        at.proper(true),
                        other,
                        limits.stream().map(Limit::turnedRound).toList(),
                        drives.stream().map(Drive::turnedRound).toList(),
                        meet)
                : this;
    }

    @Override
    public RigidJoint renumbered(Renumbering numbers) {
        return on(numbers.of(Renumbering.Kind.NODE, node), numbers.of(Renumbering.Kind.NODE, other));
    }

    @Override
    public RigidJoint withNode(int changed) {
        return on(changed, other);
    }

    private RigidJoint on(int first, int second) {
        return new RigidJoint(name, first, at, second, limits, drives, meet);
    }

    @Override
    public RigidJoint moved(Matrix4d by) {
        Frame stands = at.moved(by).orElseThrow(() -> new Sheared(name.isEmpty() ? "#" + node : name));
        double scale = Frame.evenScale(by).orElseThrow();
        return new RigidJoint(
                name,
                node,
                stands,
                other,
                limits.stream().map(l -> l.scaled(scale)).toList(),
                drives.stream().map(d -> d.scaled(scale)).toList(),
                meet);
    }

    @Override
    public float[] points() {
        return new float[] {
            (float) at.origin().x(),
            (float) at.origin().y(),
            (float) at.origin().z()
        };
    }
}
