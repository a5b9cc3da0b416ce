package org.cleanmarrow.roles;

import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.joml.Vector3d;

/** Evidence of which way a body faces: feet, knees, elbows, the head, and words. */
final class Facing {
    private final JointTree tree;
    private final LimbChoice.Limbs limbs;

    Facing(JointTree tree, LimbChoice.Limbs limbs) {
        this.tree = tree;
        this.limbs = limbs;
    }

    /** Evidence that a direction is ahead, each piece in shares of the limb it comes from. */
    double person(Vector3d ahead) {
        double sum = 0;
        for (List<Integer> leg : List.of(limbs.legs().one(), limbs.legs().other())) {
            int[] split = LimbSplit.leg(tree, leg);
            double size = tree.length(leg);
            Vector3d hip = tree.at[leg.getFirst()];
            Vector3d knee = tree.at[leg.get(split[0])];
            Vector3d ankle = tree.at[leg.get(split[1])];
            if (split[1] + 1 < leg.size()) {
                sum += 3 * new Vector3d(tree.at[leg.getLast()]).sub(ankle).dot(ahead) / size;
            } else {
                sum += 3 * footPoints(leg.get(split[1]), ankle).dot(ahead) / size;
            }
            Vector3d between = new Vector3d(ankle).sub(hip);
            double along = new Vector3d(knee).sub(hip).dot(between) / Math.max(1e-30, between.lengthSquared());
            sum += 2 * new Vector3d(knee).sub(hip).fma(-along, between).dot(ahead) / size;
        }
        for (List<Integer> arm : List.of(limbs.arms().one(), limbs.arms().other())) {
            int[] split = LimbSplit.arm(tree, arm);
            Vector3d shoulder = tree.at[arm.get(split[0])];
            Vector3d elbow = tree.at[arm.get(split[1])];
            Vector3d between = new Vector3d(tree.at[arm.get(split[2])]).sub(shoulder);
            double along = new Vector3d(elbow).sub(shoulder).dot(between) / Math.max(1e-30, between.lengthSquared());
            sum -= new Vector3d(elbow).sub(shoulder).fma(-along, between).dot(ahead) / tree.length(arm);
        }
        return sum;
    }

    double animal(Vector3d ahead, Vector3d hips, Vector3d shoulders, Vector3d end) {
        double size = Math.max(1e-12, limbs.legs().length());
        double sum = new Vector3d(end).sub(hips).dot(ahead) / size
                + new Vector3d(shoulders).sub(hips).dot(ahead) / size;
        for (List<Integer> leg : List.of(limbs.legs().one(), limbs.legs().other())) {
            int tip = leg.size() - 1;
            sum += 0.5
                    * new Vector3d(tree.at[leg.get(tip)])
                            .sub(tree.at[leg.get(tip - 1)])
                            .dot(ahead)
                    / size;
        }
        return sum;
    }

    /** From the ankle to the middle of what the foot's joint moves; nothing where no mesh follows it. */
    private Vector3d footPoints(int joint, Vector3d ankle) {
        Vector3d sum = new Vector3d();
        double weight = 0;
        Deformer deformer = new Deformer(tree.asset);
        Rig rig = new Rig(tree.asset);
        for (MeshPlace place : deformer.places()) {
            if (place.skin() < 0) {
                continue;
            }
            int slot = tree.asset.skins().get(place.skin()).indexOfNode(joint);
            if (slot < 0) {
                continue;
            }
            float[] p = deformer.positions(place, rig.rest());
            int first = 0;
            for (Primitive primitive : tree.asset.meshes().get(place.mesh()).primitives()) {
                Influences rows = primitive.influences();
                for (int v = 0; rows != null && v < primitive.vertexCount(); v++) {
                    double w = rows.weight(v, slot);
                    if (w > 0.5) {
                        sum.add(w * p[(first + v) * 3], w * p[(first + v) * 3 + 1], w * p[(first + v) * 3 + 2]);
                        weight += w;
                    }
                }
                first += primitive.vertexCount();
            }
        }
        return weight > 0 ? sum.div(weight).sub(ankle) : new Vector3d();
    }

    /** Ahead by words that know left from right; empty where they do not. */
    Optional<Vector3d> words(Vector3d lateral, Vector3d up) {
        int one = sideWords(limbs.legs().one()) + sideWords(limbs.arms().one());
        int other = sideWords(limbs.legs().other()) + sideWords(limbs.arms().other());
        if (one == other) {
            return Optional.empty();
        }
        Vector3d toLeft = one > other ? new Vector3d(lateral) : new Vector3d(lateral).negate();
        Vector3d forward = toLeft.cross(up, new Vector3d()).normalize();
        if (tree.asset.conventions().handedness() != Handedness.RIGHT) {
            forward.negate();
        }
        return Optional.of(forward);
    }

    private int sideWords(List<Integer> chain) {
        return chain.stream().mapToInt(n -> RoleGuess.sideOf(tree.name(n))).sum();
    }
}
