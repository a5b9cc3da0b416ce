package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.WeldedSurface;
import org.joml.Matrix4d;

/** Skins at rest and in poses, to be asked how far something lies above or below them. Not to be changed once made. */
final class PosedSkins {
    /** A skin in one pose. */
    private record Posed(WeldedSurface surface, float[] positions, float[] normals, TriangleTree tree) {
        static Posed of(WeldedSurface surface, float[] positions) {
            return new Posed(
                    surface, positions, surface.normals(positions), new TriangleTree(surface.triangles(), positions));
        }
    }

    private final Posed[][] skins;
    private final List<float[]> joints = new ArrayList<>();

    /**
     * @param surfaces of the meshes, where they stand at rest
     * @param skin     whose joints move what lies on them
     */
    PosedSkins(Asset asset, List<Integer> meshes, List<WeldedSurface> surfaces, Skin skin, List<Pose> poses) {
        Deformer deformer = new Deformer(asset);
        List<MeshPlace> places = meshes.stream()
                .map(m -> deformer.places().stream()
                        .filter(p -> p.mesh() == m)
                        .findFirst()
                        .orElseThrow())
                .toList();
        skins = new Posed[poses.size() + 1][];
        skins[0] = surfaces.stream().map(s -> Posed.of(s, s.positions())).toArray(Posed[]::new);
        IntStream.range(0, poses.size())
                .parallel()
                .forEach(k -> skins[k + 1] = IntStream.range(0, meshes.size())
                        .mapToObj(s -> Posed.of(
                                surfaces.get(s),
                                surfaces.get(s).byWelded(deformer.positions(places.get(s), poses.get(k)))))
                        .toArray(Posed[]::new));
        Matrix4d[] rest = new Rig(asset).rest().world();
        for (Pose pose : poses) {
            joints.add(fromRest(skin, rest, pose.world()));
        }
    }

    /** 12 numbers a joint, three rows of four: from where it stands at rest to where a pose has it. */
    private static float[] fromRest(Skin skin, Matrix4d[] rest, Matrix4d[] world) {
        float[] out = new float[skin.joints().length * 12];
        for (int j = 0; j < skin.joints().length; j++) {
            int node = skin.joints()[j];
            Matrix4d way = world[node].mul(rest[node].invert(new Matrix4d()), new Matrix4d());
            for (int r = 0; r < 3; r++) {
                for (int c = 0; c < 4; c++) {
                    out[j * 12 + r * 4 + c] = (float) way.get(c, r);
                }
            }
        }
        return out;
    }

    /** How many poses there are beside rest. */
    int poses() {
        return joints.size();
    }

    int skins() {
        return skins[0].length;
    }

    /** What the joints do in a pose to what stands at rest; 12 numbers a joint. */
    float[] joints(int pose) {
        return joints.get(pose);
    }

    /**
     * How far a point lies above the nearest skin, below zero where it lies below.
     *
     * @param pose   0 for rest, one more for each pose
     * @param hints  by skin the triangle that is likely to be near, -1 for none; the nearest is put there
     * @param at     where this point's hints begin
     * @param above  how far above is looked
     * @param below  how far below a point that lies below its hint
     * @param plane  gets the point of the skin and the normal there
     * @return infinite where no skin is so near
     */
    double height(
            int pose, float x, float y, float z, int[] hints, int at, double above, double below, double[] plane) {
        double best = Double.POSITIVE_INFINITY;
        double height = best;
        double[] own = new double[6];
        for (int s = 0; s < skins[pose].length; s++) {
            Posed skin = skins[pose][s];
            int hint = hints[at + s];
            double within = hint >= 0 && isBelow(skin, hint, x, y, z) ? below : above;
            TriangleTree.Hit hit = skin.tree.nearestWithin(x, y, z, hint, Math.min(best, within));
            if (hit == null) {
                continue;
            }
            hints[at + s] = hit.triangle();
            at(skin, hit, own);
            best = hit.distance();
            double along = (x - own[0]) * own[3] + (y - own[1]) * own[4] + (z - own[2]) * own[5];
            height = along < 0 ? -best : best;
            System.arraycopy(own, 0, plane, 0, 6);
        }
        return height;
    }

    private static boolean isBelow(Posed skin, int triangle, float x, float y, float z) {
        int corner = skin.surface.triangles()[triangle * 3] * 3;
        float[] p = skin.positions;
        float[] n = skin.normals;
        return (x - p[corner]) * n[corner] + (y - p[corner + 1]) * n[corner + 1] + (z - p[corner + 2]) * n[corner + 2]
                < 0;
    }

    private static void at(Posed skin, TriangleTree.Hit hit, double[] plane) {
        double[] shares = {1 - hit.u() - hit.v(), hit.u(), hit.v()};
        double square = 0;
        for (int k = 0; k < 3; k++) {
            plane[k] = 0;
            plane[k + 3] = 0;
            for (int i = 0; i < 3; i++) {
                int corner = skin.surface.triangles()[hit.triangle() * 3 + i] * 3 + k;
                plane[k] += shares[i] * skin.positions[corner];
                plane[k + 3] += shares[i] * skin.normals[corner];
            }
            square += plane[k + 3] * plane[k + 3];
        }
        double length = Math.sqrt(square);
        for (int k = 3; k < 6 && length > 0; k++) {
            plane[k] /= length;
        }
    }
}
