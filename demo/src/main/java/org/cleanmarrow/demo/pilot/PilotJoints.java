package org.cleanmarrow.demo.pilot;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.joml.Vector3d;

/** The pilot's skeleton at rest: Y-up metres, facing +Z, so that +X is the left side. No joint is turned at rest. */
final class PilotJoints {
    /** Arms hang out by this angle below the horizontal. */
    private static final double ARM_DOWN = Math.toRadians(48);

    private final Map<String, Vector3d> places = new LinkedHashMap<>();
    private final Map<String, String> parents = new LinkedHashMap<>();
    private final List<String> ends = new ArrayList<>();

    PilotJoints() {
        joint("hips", "", 0, 0.93, 0);
        joint("waist", "hips", 0, 1.03, -0.005);
        joint("ribs_lower", "waist", 0, 1.13, -0.01);
        joint("ribs_upper", "ribs_lower", 0, 1.26, -0.012);
        joint("neck", "ribs_upper", 0, 1.44, -0.012);
        joint("head", "neck", 0, 1.53, 0.005);
        end("head_end", "head", 0, 1.76, 0.005);
        joint("scarf_tail", "neck", 0.05, 1.40, 0.10);
        end("scarf_tail_end", "scarf_tail", 0.06, 1.25, 0.14);
        joint("cape_1", "ribs_upper", 0, 1.30, -0.16);
        joint("cape_2", "cape_1", 0, 1.08, -0.20);
        joint("cape_3", "cape_2", 0, 0.86, -0.24);
        end("cape_end", "cape_3", 0, 0.62, -0.28);
        for (int side = 1; side >= -1; side -= 2) {
            arm(side);
        }
        for (int side = 1; side >= -1; side -= 2) {
            leg(side);
        }
    }

    static String side(int side) {
        return side > 0 ? "left_" : "right_";
    }

    private void arm(int side) {
        String s = side(side);
        Vector3d along = new Vector3d(side * StrictMath.cos(ARM_DOWN), -StrictMath.sin(ARM_DOWN), 0.06).normalize();
        Vector3d shoulder = new Vector3d(side * 0.175, 1.395, -0.012);
        Vector3d elbow = new Vector3d(shoulder).fma(0.285, along);
        Vector3d forward = new Vector3d(along.x, along.y, 0.20).normalize();
        Vector3d wrist = new Vector3d(elbow).fma(0.255, forward);
        joint(s + "collar", "ribs_upper", side * 0.03, 1.405, 0.01);
        joint(s + "upper_arm", s + "collar", shoulder);
        joint(s + "arm_twist", s + "upper_arm", new Vector3d(shoulder).lerp(elbow, 0.5));
        joint(s + "forearm", s + "upper_arm", elbow);
        joint(s + "hand", s + "forearm", wrist);
        // The hand's own axes: along the fingers, across towards the thumb, and out of its back.
        Vector3d across = new Vector3d(0, 0.12, 1)
                .sub(new Vector3d(forward).mul(forward.dot(0, 0.12, 1)))
                .normalize();
        Vector3d back = new Vector3d(across).cross(forward).mul(side).normalize();
        finger(
                s + "thumb",
                side,
                wrist,
                forward,
                across,
                back,
                new double[] {0.028, 0.030, -0.006},
                0.75,
                0.034,
                0.030,
                0.026);
        finger(
                s + "index",
                side,
                wrist,
                forward,
                across,
                back,
                new double[] {0.088, 0.027, 0},
                0.10,
                0.038,
                0.026,
                0.021);
        finger(
                s + "middle",
                side,
                wrist,
                forward,
                across,
                back,
                new double[] {0.092, 0.008, 0.001},
                0.02,
                0.042,
                0.029,
                0.022);
        finger(
                s + "ring",
                side,
                wrist,
                forward,
                across,
                back,
                new double[] {0.088, -0.011, 0},
                -0.05,
                0.039,
                0.027,
                0.022);
        finger(
                s + "little",
                side,
                wrist,
                forward,
                across,
                back,
                new double[] {0.080, -0.029, -0.002},
                -0.14,
                0.031,
                0.021,
                0.019);
    }

    private void finger(
            String name,
            int side,
            Vector3d wrist,
            Vector3d forward,
            Vector3d across,
            Vector3d back,
            double[] root,
            double splay,
            double... lengths) {
        Vector3d at =
                new Vector3d(wrist).fma(root[0], forward).fma(root[1], across).fma(root[2], back);
        Vector3d along = new Vector3d(forward).fma(splay, across).normalize();
        String parent = side(side) + "hand";
        for (int i = 0; i < lengths.length; i++) {
            joint(name + "_" + (i + 1), parent, new Vector3d(at));
            parent = name + "_" + (i + 1);
            // A relaxed hand: each bone bends a little further towards the palm.
            along.fma(-0.20 - 0.06 * i, back).normalize();
            at.fma(lengths[i], along);
        }
        end(name + "_end", parent, at.x, at.y, at.z);
    }

    private void leg(int side) {
        String s = side(side);
        joint(s + "thigh", "hips", side * 0.095, 0.90, 0);
        joint(s + "shin", s + "thigh", side * 0.11, 0.485, 0.012);
        joint(s + "foot", s + "shin", side * 0.12, 0.085, -0.02);
        joint(s + "toes", s + "foot", side * 0.135, 0.025, 0.105);
        end(s + "toes_end", s + "toes", side * 0.14, 0.025, 0.19);
    }

    private void joint(String name, String parent, double x, double y, double z) {
        joint(name, parent, new Vector3d(x, y, z));
    }

    private void joint(String name, String parent, Vector3d at) {
        places.put(name, at);
        parents.put(name, parent);
    }

    private void end(String name, String parent, double x, double y, double z) {
        joint(name, parent, x, y, z);
        ends.add(name);
    }

    /** Joint names, parents before children. */
    List<String> names() {
        return List.copyOf(places.keySet());
    }

    /** Where a joint stands in the model; a copy. */
    Vector3d at(String name) {
        return new Vector3d(places.get(name));
    }

    /** Empty for the top. */
    String parent(String name) {
        return parents.get(name);
    }

    boolean isEnd(String name) {
        return ends.contains(name);
    }

    List<String> children(String name) {
        return places.keySet().stream().filter(n -> parents.get(n).equals(name)).toList();
    }

    /** Where the bone of a joint ends: at its first child, or itself. */
    Vector3d tip(String name) {
        // Twist joints end where their limb ends.
        if (name.endsWith("arm_twist")) {
            return at(name.replace("arm_twist", "forearm"));
        }
        if (name.endsWith("upper_arm")) {
            return at(name.replace("upper_arm", "arm_twist"));
        }
        if (name.endsWith("hand")) {
            return at(name.replace("hand", "middle_1"));
        }
        List<String> below = children(name);
        return below.isEmpty() ? at(name) : at(below.getFirst());
    }
}
