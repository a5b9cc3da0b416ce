package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.SideWords;
import org.cleanmarrow.surface.WeldedSurface;
import org.joml.Vector3d;

/** Left and right of a skinned mesh as it is bound: which place mirrors which, and which joint. */
public final class Sides {
    private static final double ROUNDING = 1e-4;

    private final WeldedSurface surface;
    private final int[] twinJoints;
    private final int[] jointSides;
    private final Vector3d left;

    private Sides(WeldedSurface surface, int[] twinJoints, int[] jointSides, Vector3d left) {
        this.surface = surface;
        this.twinJoints = twinJoints;
        this.jointSides = jointSides;
        this.left = left;
    }

    /** @param mesh number of a skinned mesh */
    public static Sides of(Asset asset, int mesh) {
        return of(asset, mesh, RestSurface.of(asset, mesh));
    }

    /** @param surface of the mesh, where it stands at rest */
    static Sides of(Asset asset, int mesh, WeldedSurface surface) {
        Skin skin = asset.skins().get(asset.skinOfMesh(mesh));
        Map<String, Integer> byName = new HashMap<>();
        for (int j = 0; j < skin.joints().length; j++) {
            byName.putIfAbsent(asset.nodes().get(skin.joints()[j]).name(), j);
        }
        int[] twins = new int[skin.joints().length];
        int[] sides = new int[twins.length];
        for (int j = 0; j < twins.length; j++) {
            String name = asset.nodes().get(skin.joints()[j]).name();
            int own = j;
            twins[j] = SideWords.swapped(name)
                    .map(t -> byName.getOrDefault(t, own))
                    .orElse(own);
            sides[j] = SideWords.sideOf(name);
        }
        return new Sides(surface, twins, sides, asset.conventions().left());
    }

    public WeldedSurface surface() {
        return surface;
    }

    /** The joint of the other side; itself in the middle, or where there is none. */
    public int twinOf(int joint) {
        return twinJoints[joint];
    }

    /** +1 for a joint of the left, -1 of the right, 0 of neither, by its name. */
    public int sideOfJoint(int joint) {
        return jointSides[joint];
    }

    /** How far a place is to the left of the middle, in the asset's unit. */
    public double leftward(int place) {
        float[] p = surface.positions();
        return p[place * 3] * left.x + p[place * 3 + 1] * left.y + p[place * 3 + 2] * left.z;
    }

    /** +1 to the left, -1 to the right, 0 within a band around the middle. */
    public int sideOf(int place, double band) {
        double at = leftward(place);
        return Math.abs(at) <= band ? 0 : at > 0 ? 1 : -1;
    }

    /** What became of a row that joints of the wrong side were taken off. */
    public enum Cleaned {
        NOTHING,
        DONE,
        /** Only the wrong side moved it: it goes to the same joint of its own side. */
        GIVEN
    }

    /**
     * Takes joints of the other side off a row; within the band both may share, in its outer half ever less, so that no fold
     * is left at its rim.
     *
     * @param band   half the width of the middle, in the asset's unit
     * @param locked joints whose weights are not touched
     */
    public Cleaned clean(Row row, int place, double band, BitSet locked) {
        double at = leftward(place);
        // Kept of the other side's weight: all up to half the band, nothing from its rim on.
        double keep = band > 0 ? Math.clamp(2 - 2 * Math.abs(at) / band, 0, 1) : 0;
        if (at == 0 || keep == 1) {
            return Cleaned.NOTHING;
        }
        int side = at > 0 ? 1 : -1;
        Row wrong = new Row();
        Row kept = new Row();
        for (int i = row.size() - 1; i >= 0; i--) {
            int joint = row.joint(i);
            if (sideOfJoint(joint) == -side && !locked.get(joint) && row.weight(i) > 0) {
                double held = row.weight(i) * keep;
                wrong.append(joint, row.weight(i) - held);
                row.remove(i);
                if (held > 0) {
                    kept.append(joint, held);
                }
            }
        }
        if (wrong.size() == 0) {
            return Cleaned.NOTHING;
        }
        // What is left is shared by those of the right side and the middle; the kept part stays as it is.
        BitSet fixed = (BitSet) locked.clone();
        for (int i = 0; i < kept.size(); i++) {
            fixed.set(kept.joint(i));
        }
        row.add(kept, 1);
        if (row.normalise(fixed)) {
            return Cleaned.DONE;
        }
        for (int i = 0; i < wrong.size(); i++) {
            row.add(twinOf(wrong.joint(i)), wrong.weight(i));
        }
        row.normalise(locked);
        return Cleaned.GIVEN;
    }

    /**
     * Where the mirror image of a place lies on the surface: the corners of a triangle, and how much each of them counts.
     *
     * @param distance from the image to the surface
     */
    public record Image(int[] corners, double[] shares, double distance) {}

    /** For every place its mirror image on the surface; null where none is so near. */
    public Image[] images(double near) {
        float[] p = surface.positions();
        int[] triangles = surface.triangles();
        TriangleTree tree = new TriangleTree(triangles, p);
        Image[] out = new Image[surface.size()];
        IntStream.range(0, out.length).parallel().forEach(i -> {
            double by = -2 * leftward(i);
            TriangleTree.Hit hit = tree.nearestPoint(
                    (float) (p[i * 3] + by * left.x),
                    (float) (p[i * 3 + 1] + by * left.y),
                    (float) (p[i * 3 + 2] + by * left.z),
                    t -> true);
            if (hit != null && hit.distance() <= near) {
                int[] corners = java.util.Arrays.copyOfRange(triangles, hit.triangle() * 3, hit.triangle() * 3 + 3);
                double u = Math.clamp(hit.u(), 0, 1);
                double v = Math.clamp(hit.v(), 0, 1);
                out[i] = new Image(corners, snapped(Math.max(0, 1 - u - v), u, v), hit.distance());
            }
        });
        return out;
    }

    /** Shares without those that are nothing but rounding, so that an exact twin is taken exactly. */
    private static double[] snapped(double... shares) {
        double sum = 0;
        for (int i = 0; i < shares.length; i++) {
            shares[i] = shares[i] < ROUNDING ? 0 : shares[i];
            sum += shares[i];
        }
        for (int i = 0; i < shares.length; i++) {
            shares[i] /= sum;
        }
        return shares;
    }
}
