package org.cleanmarrow.roles;

import java.util.List;
import org.joml.Vector3d;

/** Where a limb's chain bends, by its lengths and turns. */
final class LimbSplit {
    private LimbSplit() {}

    /** Places of knee and ankle in a leg's chain: thigh and shin about as long, what is left a foot, shorter than they. */
    static int[] leg(JointTree tree, List<Integer> leg) {
        double[] s = marks(tree, leg);
        int last = leg.size() - 1;
        int[] best = {1, Math.min(2, last)};
        double most = Double.NEGATIVE_INFINITY;
        for (int knee = 1; knee < last; knee++) {
            for (int ankle = knee + 1; ankle <= last; ankle++) {
                double thigh = s[knee];
                double shin = s[ankle] - s[knee];
                double foot = s[last] - s[ankle];
                if (!(thigh > 0 && shin > 0)) {
                    continue;
                }
                double score = -2 * Math.abs(Math.log(thigh / shin));
                score -= foot > 0.75 * shin ? 2 : 0;
                score += bend(tree, leg, ankle) * 1.2 + bend(tree, leg, knee) * 0.3;
                score += 1.5 * (thigh + shin) / Math.max(1e-12, s[last]);
                if (score > most) {
                    most = score;
                    best = new int[] {knee, ankle};
                }
            }
        }
        return best;
    }

    /** Places of shoulder, elbow and wrist in an arm's chain. */
    static int[] arm(JointTree tree, List<Integer> arm) {
        double[] s = marks(tree, arm);
        int last = arm.size() - 1;
        int palm = last;
        for (int i = 0; i <= last; i++) {
            if (tree.children.get(arm.get(i)).size() >= 3) {
                palm = i;
            }
        }
        boolean fingers = palm < last;
        int[] best = {0, 1, Math.min(2, last)};
        double most = Double.NEGATIVE_INFINITY;
        for (int shoulder = 0; shoulder + 2 <= last; shoulder++) {
            for (int elbow = shoulder + 1; elbow < last; elbow++) {
                for (int wrist = elbow + 1; wrist <= last; wrist++) {
                    double upper = s[elbow] - s[shoulder];
                    double lower = s[wrist] - s[elbow];
                    if (!(upper > 0 && lower > 0) || fingers && wrist > palm) {
                        continue;
                    }
                    double rest = s[last] - s[wrist];
                    double score = -2 * Math.abs(Math.log(upper / lower / 1.05));
                    score += 1.5 * (upper + lower) / Math.max(1e-12, s[last]);
                    score -= rest > 0.9 * lower ? 2 : 0;
                    score -= s[shoulder] > 0.75 * upper ? 2 : 0;
                    score += fingers && wrist == palm ? 1.5 : 0;
                    // A collar bone leads to where the arm begins to hang free.
                    score += shoulder == 1 && s[1] < 0.75 * upper ? 0.4 : 0;
                    if (score > most) {
                        most = score;
                        best = new int[] {shoulder, elbow, wrist};
                    }
                }
            }
        }
        return best;
    }

    /** How sharply a chain turns at a joint: 0 straight on, 1 at right angles. */
    private static double bend(JointTree tree, List<Integer> chain, int at) {
        if (at <= 0 || at + 1 >= chain.size()) {
            return 0;
        }
        Vector3d in = new Vector3d(tree.at[chain.get(at)]).sub(tree.at[chain.get(at - 1)]);
        Vector3d out = new Vector3d(tree.at[chain.get(at + 1)]).sub(tree.at[chain.get(at)]);
        return Math.min(1, 1 - cos(in, out));
    }

    private static double[] marks(JointTree tree, List<Integer> chain) {
        double[] s = new double[chain.size()];
        for (int i = 1; i < s.length; i++) {
            s[i] = s[i - 1] + tree.at[chain.get(i)].distance(tree.at[chain.get(i - 1)]);
        }
        return s;
    }

    /** Cosine of the angle between two directions; 0 where one has no length. */
    static double cos(Vector3d a, Vector3d b) {
        double lengths = a.length() * b.length();
        return lengths > 0 ? a.dot(b) / lengths : 0;
    }
}
