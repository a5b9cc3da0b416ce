package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * The hinge that clips turn a node about as seen from another: one axis for all of them, through a place that stays where it is,
 * wherever the node's own origin lies.
 *
 * @param at    in the node's axes, the first axis along the hinge
 * @param least radians from rest, 0 at most
 * @param most  radians from rest, 0 at least
 */
public record ClipHinge(Frame at, double least, double most) {
    /** What turns less is not turned, radians. */
    private static final double STILL = 1e-2;
    /** How far an axis may lie from the others, radians. */
    private static final double AXES = 0.02;
    /** How far the place may move, by its distance from the origin and the node's way. */
    private static final double STAYS = 0.01;

    /** How the node is moved from rest against the other, in the other's axes. */
    private record Moved(Quaterniond turn, Vector3d by) {}

    /** @return empty where clips turn it about no axis, about several, or shift it as well */
    public static Optional<ClipHinge> of(Asset asset, int node, int other) {
        Rig rig = new Rig(asset);
        Matrix4d rest = against(rig.rest().world(), node, other);
        List<Moved> all = new ArrayList<>();
        Vector3d axis = new Vector3d();
        double widest = 0;
        for (Clip clip : asset.clips()) {
            for (double seconds : Overlaps.times(clip, 1)) {
                Matrix4d moved =
                        against(rig.at(clip, seconds).world(), node, other).mul(rest.invert(new Matrix4d()));
                Quaterniond turn = moved.getNormalizedRotation(new Quaterniond());
                turn.mul(turn.w < 0 ? -1 : 1);
                all.add(new Moved(turn, moved.getTranslation(new Vector3d())));
                if (turn.angle() > widest) {
                    widest = turn.angle();
                    axis.set(turn.x, turn.y, turn.z);
                }
            }
        }
        if (widest < STILL) {
            return Optional.empty();
        }
        axis.normalize();
        double least = 0;
        double most = 0;
        for (Moved m : all) {
            double angle = 2 * Math.atan2(axis.x * m.turn.x + axis.y * m.turn.y + axis.z * m.turn.z, m.turn.w);
            double aside =
                    new Vector3d(m.turn.x, m.turn.y, m.turn.z).cross(axis).length();
            if (aside > AXES * Math.max(Math.sin(widest / 2), STILL)) {
                return Optional.empty();
            }
            least = Math.min(least, angle);
            most = Math.max(most, angle);
        }
        double low = least;
        double high = most;
        return place(all, axis, rest).map(at -> new ClipHinge(frame(at, axis, rest), low, high));
    }

    /** Where a node stands in another's axes. */
    private static Matrix4d against(Matrix4d[] world, int node, int other) {
        return world[other].invert(new Matrix4d()).mul(world[node]);
    }

    /** The place that all leave where it is, nearest to the node's origin: least squares of what it is moved by. */
    private static Optional<Vector3d> place(List<Moved> all, Vector3d axis, Matrix4d rest) {
        Matrix3d sum = new Matrix3d().zero();
        Vector3d right = new Vector3d();
        Vector3d origin = rest.getTranslation(new Vector3d());
        double way = 0;
        for (Moved m : all) {
            Matrix3d off = new Matrix3d().sub(m.turn.get(new Matrix3d()));
            sum.add(off.transpose(new Matrix3d()).mul(off));
            right.add(off.transpose(new Matrix3d()).transform(new Vector3d(m.by)));
            way = Math.max(way, m.turn.transform(new Vector3d(origin)).add(m.by).distance(origin));
        }
        // Along the axis any place will do: the one beside the node's origin.
        double weight = (sum.m00 + sum.m11 + sum.m22) / 2;
        sum.add(new Matrix3d(
                axis.mul(weight * axis.x, new Vector3d()),
                axis.mul(weight * axis.y, new Vector3d()),
                axis.mul(weight * axis.z, new Vector3d())));
        right.fma(weight * axis.dot(origin), axis);
        Vector3d place = sum.invert().transform(right);
        if (!place.isFinite()) {
            return Optional.empty();
        }
        double bound = STAYS * (way + place.distance(origin)) + 1e-9;
        for (Moved m : all) {
            if (m.turn.transform(new Vector3d(place)).add(m.by).distance(place) > bound) {
                return Optional.empty();
            }
        }
        return Optional.of(place);
    }

    private static Frame frame(Vector3d place, Vector3d axis, Matrix4d rest) {
        Matrix4d back = rest.invert(new Matrix4d());
        Vector3d own = back.transformDirection(new Vector3d(axis)).normalize();
        return Frame.at(
                back.transformPosition(new Vector3d(place)), new Quaterniond().rotationTo(new Vector3d(1, 0, 0), own));
    }
}
