package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.work.Threads;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Where joints rest elsewhere than where their skin was bound. */
public final class RestAndBind {
    private RestAndBind() {}

    /**
     * One joint of one skin.
     *
     * @param metres  from where it was bound to where it rests; not a number where the bind cannot be inverted
     * @param degrees how far it is turned
     */
    public record Row(int skin, int node, double metres, double degrees) {}

    /**
     * Where the space that a skin was bound in lies in the world at rest: what a good part of its joints do to the mesh now;
     * where the skeleton is posed so that none agree, what stands above it or the world itself, whichever has the top joint
     * nearer to where it rests. Binds are free up to that one transform (glTF 2.0, 3.7.3.3 asks for their product alone), such as
     * one that stands above the skeleton.
     *
     * <p>Cost: quadratic in the joints that disagree.
     */
    public static Matrix4d bindSpace(Asset asset, Skin skin, Matrix4d[] world) {
        List<Matrix4d> kinds = new ArrayList<>();
        List<Integer> votes = new ArrayList<>();
        for (int j = 0; j < skin.joints().length; j++) {
            Matrix4d m = new Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
            if (!m.isFinite() || m.determinant3x3() == 0) {
                continue;
            }
            int kind = 0;
            while (kind < kinds.size() && !near(kinds.get(kind), m)) {
                kind++;
            }
            if (kind == kinds.size()) {
                kinds.add(m);
                votes.add(0);
            }
            votes.set(kind, votes.get(kind) + 1);
        }
        if (kinds.size() == 1) {
            return kinds.getFirst();
        }
        int top = topmost(asset, skin);
        int above = top < 0 ? -1 : asset.parents()[skin.joints()[top]];
        Matrix4d over = above < 0 ? new Matrix4d() : world[above];
        // A branch that was turned as a whole agrees with itself; the world and what stands above come first.
        int best = -1;
        int plain = -1;
        for (int k = 0; k < kinds.size(); k++) {
            best = best < 0 || votes.get(k) > votes.get(best) ? k : best;
            boolean usual = near(kinds.get(k), new Matrix4d()) || near(kinds.get(k), over);
            plain = usual && (plain < 0 || votes.get(k) > votes.get(plain)) ? k : plain;
        }
        best = plain >= 0 ? plain : best;
        if (best >= 0 && (plain >= 0 || votes.get(best) > 1 && votes.get(best) * 3 >= skin.joints().length)) {
            return kinds.get(best);
        }
        if (above < 0) {
            return new Matrix4d();
        }
        Matrix4d bound = skin.inverseBind(top).invert();
        Matrix4d under = new Matrix4d(world[above]).mul(bound);
        Matrix4d rests = world[skin.joints()[top]];
        return apart(under, rests) < apart(bound, rests) ? new Matrix4d(world[above]) : new Matrix4d();
    }

    private static int topmost(Asset asset, Skin skin) {
        int[] parents = asset.parents();
        for (int j = 0; j < skin.joints().length; j++) {
            int up = parents[skin.joints()[j]];
            if (up < 0 || skin.indexOfNode(up) < 0) {
                return j;
            }
        }
        return -1;
    }

    /** Sum of the squares of what differs, places counted in the size of the farther. */
    private static double apart(Matrix4d a, Matrix4d b) {
        Vector3d p = a.getTranslation(new Vector3d());
        Vector3d q = b.getTranslation(new Vector3d());
        double far = Math.max(1e-12, Math.max(p.length(), q.length()));
        double sum = p.distanceSquared(q) / (far * far);
        double size = Math.max(1e-12, Math.cbrt(Math.abs(b.determinant3x3())));
        for (int c = 0; c < 3; c++) {
            for (int r = 0; r < 3; r++) {
                double d = (a.get(c, r) - b.get(c, r)) / size;
                sum += d * d;
            }
        }
        return sum;
    }

    /** How far the farthest node stands from the origin; places are float32 against that. */
    public static double reach(Matrix4d[] world) {
        double far = 0;
        for (Matrix4d m : world) {
            double at = m.getTranslation(new Vector3d()).length();
            far = Double.isFinite(at) ? Math.max(far, at) : far;
        }
        return far;
    }

    /** True where two transforms differ by no more than rounding. */
    public static boolean same(Matrix4d a, Matrix4d b, double reach) {
        double size = Math.cbrt(Math.abs(a.determinant3x3()));
        return new Matrix3d(a).equals(new Matrix3d(b), 1e-5 * size)
                && a.getTranslation(new Vector3d()).distance(b.getTranslation(new Vector3d())) <= 1e-5 * reach;
    }

    private static boolean near(Matrix4d a, Matrix4d b) {
        double size = Math.cbrt(Math.abs(a.determinant3x3()));
        double far = Math.max(size, a.getTranslation(new Vector3d()).length());
        return new Matrix3d(a).equals(new Matrix3d(b), 1e-4 * size)
                && a.getTranslation(new Vector3d()).distance(b.getTranslation(new Vector3d())) <= 1e-4 * far;
    }

    /** Joints that differ by more than a hundredth of a millimetre or of a degree and more than rounding, in the order of skins. */
    public static List<Row> of(Asset asset) {
        Threads.begins("rest and bind");
        Matrix4d[] world = new Rig(asset).rest().world();
        double unit = asset.conventions().metresPerUnit();
        double least = Math.max(1e-5, 2e-6 * reach(world) * unit);
        List<Row> out = new ArrayList<>();
        for (int s = 0; s < asset.skins().size(); s++) {
            Skin skin = asset.skins().get(s);
            Matrix4d space = bindSpace(asset, skin, world);
            for (int j = 0; j < skin.joints().length; j++) {
                Matrix4d bound = new Matrix4d(space).mul(skin.inverseBind(j).invert());
                Matrix4d rests = world[skin.joints()[j]];
                double metres =
                        bound.getTranslation(new Vector3d()).distance(rests.getTranslation(new Vector3d())) * unit;
                Quaterniond a = bound.getUnnormalizedRotation(new Quaterniond()).normalize();
                Quaterniond b = rests.getUnnormalizedRotation(new Quaterniond()).normalize();
                Quaterniond between = a.conjugate().mul(b);
                double half = Math.sqrt(between.x * between.x + between.y * between.y + between.z * between.z);
                double degrees = Math.toDegrees(2 * Math.asin(Math.min(1, half)));
                if (!(metres <= least && degrees <= 0.01)) {
                    out.add(new Row(s, skin.joints()[j], metres, degrees));
                }
            }
        }
        return out;
    }
}
