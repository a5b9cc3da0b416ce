package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * The lines that joints of a skin move along: from each to those below it. A joint at the end of a
 * chain that lies on its neighbour's line, as a twist joint does, takes the part of the line behind it.
 */
public final class Bones {
    private static final double ON_THE_LINE = 0.08;

    /** A straight piece of a joint's bone. */
    public record Line(Vector3d from, Vector3d to) {
        /** Distance of a point. */
        public double distance(Vector3d p) {
            double x = to.x - from.x;
            double y = to.y - from.y;
            double z = to.z - from.z;
            double square = x * x + y * y + z * z;
            double on = (p.x - from.x) * x + (p.y - from.y) * y + (p.z - from.z) * z;
            double share = square > 0 ? Math.clamp(on / square, 0, 1) : 0;
            return p.distance(from.x + share * x, from.y + share * y, from.z + share * z);
        }
    }

    private final List<List<Line>> lines = new ArrayList<>();
    private final Vector3d[] places;
    private final boolean[] tops;

    private Bones(Vector3d[] places, boolean[] tops) {
        this.places = places;
        this.tops = tops;
        for (int j = 0; j < places.length; j++) {
            lines.add(new ArrayList<>());
        }
    }

    /** At rest, in the world. */
    public static Bones of(Asset asset, Skin skin) {
        Matrix4d[] world = new Rig(asset).rest().world();
        Vector3d[] places = new Vector3d[skin.joints().length];
        for (int j = 0; j < places.length; j++) {
            places[j] = world[skin.joints()[j]].getTranslation(new Vector3d());
        }
        return of(asset, skin, places);
    }

    /** Where joints stood when the mesh was bound, in the mesh's own space. */
    public static Bones bound(Asset asset, Skin skin) {
        Vector3d[] places = new Vector3d[skin.joints().length];
        for (int j = 0; j < places.length; j++) {
            Matrix4d bind = skin.inverseBind(j);
            places[j] = bind.determinant() == 0 ? new Vector3d() : bind.invert().getTranslation(new Vector3d());
        }
        return of(asset, skin, places);
    }

    private static Bones of(Asset asset, Skin skin, Vector3d[] places) {
        int count = places.length;
        int[] parents = asset.parents();
        int[] above = new int[count];
        for (int j = 0; j < count; j++) {
            int up = parents[skin.joints()[j]];
            while (up >= 0 && skin.indexOfNode(up) < 0) {
                up = parents[up];
            }
            above[j] = up < 0 ? -1 : skin.indexOfNode(up);
        }
        List<List<Integer>> below = new ArrayList<>();
        for (int j = 0; j < count; j++) {
            below.add(new ArrayList<>());
        }
        for (int j = 0; j < count; j++) {
            if (above[j] >= 0) {
                below.get(above[j]).add(j);
            }
        }
        boolean[] tops = new boolean[count];
        for (int j = 0; j < count; j++) {
            tops[j] = above[j] < 0;
        }
        Bones out = new Bones(places, tops);
        for (int j = 0; j < count; j++) {
            for (int child : below.get(j)) {
                int twist = twist(j, child, below, places);
                if (twist >= 0) {
                    out.lines.get(j).add(new Line(places[j], places[twist]));
                    out.lines.get(twist).add(new Line(places[twist], places[child]));
                } else if (!isTwist(j, child, below, places)) {
                    out.lines.get(j).add(new Line(places[j], places[child]));
                }
            }
        }
        for (int j = 0; j < count; j++) {
            if (out.lines.get(j).isEmpty()) {
                out.lines.get(j).add(new Line(places[j], places[j]));
            }
        }
        return out;
    }

    /** A leaf beside a child that lies on the line to it, or -1. */
    private static int twist(int joint, int child, List<List<Integer>> below, Vector3d[] places) {
        for (int other : below.get(joint)) {
            if (other != child && below.get(other).isEmpty() && liesOn(places[joint], places[child], places[other])) {
                return other;
            }
        }
        return -1;
    }

    private static boolean isTwist(int joint, int leaf, List<List<Integer>> below, Vector3d[] places) {
        return below.get(leaf).isEmpty()
                && below.get(joint).stream().anyMatch(c -> c != leaf && liesOn(places[joint], places[c], places[leaf]));
    }

    private static boolean liesOn(Vector3d from, Vector3d to, Vector3d p) {
        Vector3d along = new Vector3d(to).sub(from);
        double share = new Vector3d(p).sub(from).dot(along) / along.lengthSquared();
        return share > 0.1
                && share < 0.95
                && new Vector3d(from).fma(share, along).distance(p) < ON_THE_LINE * along.length();
    }

    public List<Line> of(int joint) {
        return lines.get(joint);
    }

    /** Distance of a point from a joint's bone in a straight line. */
    public double distance(int joint, Vector3d point) {
        double best = Double.POSITIVE_INFINITY;
        for (Line line : lines.get(joint)) {
            best = Math.min(best, line.distance(point));
        }
        return best;
    }

    /** True where no other joint of the skin is above. */
    public boolean isTop(int joint) {
        return tops[joint];
    }

    public Vector3d place(int joint) {
        return places[joint];
    }
}
