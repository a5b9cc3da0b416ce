package org.cleanmarrow.retarget;

import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * A limb of two bones bent so that its end comes to a place, in closed form by the law of cosines. It bends in the plane it was
 * bent in, to the same side; the further its end must go against its bend, the more to where such limbs bend.
 *
 * @param upper turn of the upper bone against how it was
 * @param lower turn of the lower bone against how it was
 */
record Limb(Quaterniond upper, Quaterniond lower) {
    /** A share of the limb's length; much nearer to straight the bend says no side. */
    private static final double STRAIGHT = 1e-6;

    /**
     * Bends it.
     *
     * @param top   of the upper bone
     * @param joint between the two
     * @param end   of the lower bone
     * @param goal  where the end is to come; as near as the limb reaches
     * @param ahead where such limbs bend, of length one
     */
    static Limb reaching(Vector3d top, Vector3d joint, Vector3d end, Vector3d goal, Vector3d ahead) {
        double a = joint.distance(top);
        double b = end.distance(joint);
        Vector3d way = new Vector3d(goal).sub(top);
        Vector3d was = new Vector3d(end).sub(top);
        if (a == 0 || b == 0 || way.length() == 0 || was.length() == 0) {
            return new Limb(new Quaterniond(), new Quaterniond());
        }
        double d = Math.clamp(way.length(), Math.abs(a - b), a + b);
        way.normalize();
        Quaterniond swing = new Quaterniond().rotationTo(was, way);
        Vector3d bone = swing.transform(new Vector3d(joint).sub(top));
        Vector3d side = new Vector3d(bone).fma(-bone.dot(way), way);
        side.fma(Math.max(goal.distance(end), STRAIGHT * (a + b)), new Vector3d(ahead).fma(-ahead.dot(way), way));
        double along = (a * a - b * b + d * d) / (2 * d);
        double aside = Math.sqrt(Math.max(0, a * a - along * along));
        Vector3d knee = new Vector3d(way).mul(along);
        if (side.length() > 0) {
            knee.fma(aside, side.normalize());
        }
        Quaterniond upper = new Quaterniond().rotationTo(bone, knee).mul(swing);
        Vector3d shin = swing.transform(new Vector3d(end).sub(joint));
        Vector3d now = new Vector3d(way).mul(d).sub(knee);
        return new Limb(upper, new Quaterniond().rotationTo(shin, now).mul(swing));
    }
}
