package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * What of a mesh nobody sees, from wherever one looks: triangles under worn parts of which, in no pose, a pixel is left in
 * pictures taken from all around, with everything drawn that there is. A triangle seen from behind hides nothing unless its
 * material is double-sided (glTF 2.0, 3.9.2 doubleSided). The sides looked from are others in every pose.
 *
 * <p>Cost: 96 pictures a pose.
 */
public final class Hidden {
    private static final int VIEWS = 96;
    /** Pixels across what is asked for. */
    private static final int SIDE = 320;
    /** How far from the skin at rest a worn part may lie, in the size of the mesh. */
    private static final double NEAR = 0.15;

    private final Asset asset;
    private final Deformer deformer;
    private final Rig rig;
    private final boolean[] bothSides;
    private final int[] corners;
    private final int[] firsts;

    private Hidden(Asset asset) {
        this.asset = asset;
        deformer = new Deformer(asset);
        rig = new Rig(asset);
        firsts = new int[deformer.places().size() + 1];
        List<int[]> all = new ArrayList<>();
        BitSet sides = new BitSet();
        int triangles = 0;
        for (int i = 0; i < deformer.places().size(); i++) {
            MeshPlace place = deformer.places().get(i);
            firsts[i + 1] = firsts[i] + deformer.vertexCount(place);
            int first = firsts[i];
            for (Primitive p : asset.meshes().get(place.mesh()).primitives()) {
                int start = first;
                int[] own = p.triangleCorners();
                all.add(IntStream.of(own).map(c -> start + c).toArray());
                sides.set(
                        triangles,
                        triangles + own.length / 3,
                        p.material() >= 0 && asset.materials().get(p.material()).doubleSided());
                triangles += own.length / 3;
                first += p.vertexCount();
            }
        }
        corners = all.stream().flatMapToInt(IntStream::of).toArray();
        bothSides = new boolean[triangles];
        sides.stream().forEach(t -> bothSides[t] = true);
    }

    /**
     * Triangles of a mesh that nobody sees at rest, in trial poses and in clips.
     *
     * @param body    number of the mesh
     * @param worn    numbers of the meshes that lie on it
     * @param moments frames looked at in each clip, 0 for none
     * @param rings   how many rings of triangles around what is seen count as seen
     * @return by the number of the triangle, through the primitives as {@link Primitive#triangleCorners} has them
     */
    public static BitSet triangles(Asset asset, int body, List<Integer> worn, int moments, int rings, Work work) {
        return new Hidden(asset).find(body, worn, moments, rings, work);
    }

    private BitSet find(int body, List<Integer> worn, int moments, int rings, Work work) {
        int use = use(body);
        if (use < 0) {
            return new BitSet();
        }
        List<Pose> poses = poses(moments);
        BitSet hidden = new BitSet();
        for (int k = 0; k < poses.size() && (k == 0 || !hidden.isEmpty()); k++) {
            work.at(k / (double) poses.size(), "");
            work.stopIfCancelled();
            float[] all = posed(poses.get(k));
            if (k == 0) {
                hidden = beneath(use, worn, all);
            }
            hidden.andNot(seen(hidden, all, k, work));
        }
        int first = firstTriangle(use);
        BitSet out = hidden.get(first, Math.max(first, hidden.length()));
        Mesh mesh = asset.meshes().get(body);
        for (int i = 0; i < rings; i++) {
            out = shrunk(out, use, MeshTopology.of(mesh).welded(mesh));
        }
        return out;
    }

    private int use(int mesh) {
        for (int i = 0; i < deformer.places().size(); i++) {
            if (deformer.places().get(i).mesh() == mesh) {
                return i;
            }
        }
        return -1;
    }

    /** Rest first, for it shows most. */
    private List<Pose> poses(int moments) {
        List<Pose> out = new ArrayList<>();
        out.add(rig.rest());
        TrialPoses.of(asset).forEach(pose -> out.add(rig.at(pose.clip(asset), 1)));
        for (Clip clip : asset.clips()) {
            for (double t : moments > 0 ? Moments.frames(clip, Math.max(2, moments)) : new double[0]) {
                out.add(rig.at(clip, t));
            }
        }
        return out;
    }

    private float[] posed(Pose pose) {
        float[] out = new float[firsts[firsts.length - 1] * 3];
        Matrix4d[] world = pose.world();
        for (int i = 0; i + 1 < firsts.length; i++) {
            float[] own = new float[(firsts[i + 1] - firsts[i]) * 3];
            deformer.deform(deformer.places().get(i), pose, world, new Matrix4d(), own, null, true);
            System.arraycopy(own, 0, out, firsts[i] * 3, own.length);
        }
        return out;
    }

    private int firstTriangle(int use) {
        int t = 0;
        while (t < corners.length / 3 && corners[t * 3] < firsts[use]) {
            t++;
        }
        return t;
    }

    /** Triangles of a mesh straight above which, and not far, a worn part lies. */
    private BitSet beneath(int use, List<Integer> worn, float[] all) {
        BitSet cloth = new BitSet();
        for (int i = 0; i + 1 < firsts.length; i++) {
            if (worn.contains(deformer.places().get(i).mesh())) {
                cloth.set(firsts[i], firsts[i + 1]);
            }
        }
        int[] over = IntStream.range(0, corners.length / 3)
                .filter(t -> cloth.get(corners[t * 3]))
                .flatMap(t -> IntStream.of(corners[t * 3], corners[t * 3 + 1], corners[t * 3 + 2]))
                .toArray();
        TriangleTree tree = new TriangleTree(over, all);
        Box box = Box.empty();
        for (int v = firsts[use]; v < firsts[use + 1]; v++) {
            box.grow(all[v * 3], all[v * 3 + 1], all[v * 3 + 2]);
        }
        float near = (float) (NEAR * box.diagonal());
        boolean[] found = new boolean[corners.length / 3];
        IntStream.range(0, found.length).parallel().forEach(t -> {
            float[] d = new float[3];
            TriangleNormals.put(corners, t * 3, all, d, 0);
            float length = (float) Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
            if (length > 0 && corners[t * 3] >= firsts[use] && corners[t * 3] < firsts[use + 1]) {
                found[t] = tree.meetsBefore(middle(all, t), d, near / length);
            }
        });
        return set(found);
    }

    private float[] middle(float[] all, int t) {
        float[] out = new float[3];
        for (int i = 0; i < 3; i++) {
            for (int k = 0; k < 3; k++) {
                out[k] += all[corners[t * 3 + i] * 3 + k] / 3;
            }
        }
        return out;
    }

    private static BitSet set(boolean[] values) {
        BitSet out = new BitSet(values.length);
        for (int i = 0; i < values.length; i++) {
            out.set(i, values[i]);
        }
        return out;
    }

    /** Those of some triangles of which a pixel is seen in a pose, from around it; no more than those are drawn large. */
    private BitSet seen(BitSet asked, float[] all, int pose, Work work) {
        Box box = Box.empty();
        for (int t = asked.nextSetBit(0); t >= 0; t = asked.nextSetBit(t + 1)) {
            for (int i = 0; i < 3; i++) {
                int v = corners[t * 3 + i] * 3;
                box.grow(all[v], all[v + 1], all[v + 2]);
            }
        }
        boolean[] found = new boolean[corners.length / 3];
        double[] ways = directions(pose);
        IntStream.range(0, VIEWS).parallel().forEach(v -> {
            work.stopIfCancelled();
            IdPicture picture = new IdPicture(SIDE, box, new Vector3d(ways[v * 3], ways[v * 3 + 1], ways[v * 3 + 2]));
            picture.draw(all, corners, bothSides);
            picture.markSeen(found);
        });
        return set(found);
    }

    /** Evenly over the sphere (Fibonacci lattice; Swinbank and Purser 2006), turned anew for every pose. */
    private static double[] directions(int pose) {
        double[] out = new double[VIEWS * 3];
        double golden = Math.PI * (3 - Math.sqrt(5));
        Quaterniond turn = new Quaterniond().rotateXYZ(pose * golden, pose * golden * golden, pose);
        Vector3d d = new Vector3d();
        for (int i = 0; i < VIEWS; i++) {
            double y = 1 - (2 * i + 1.0) / VIEWS;
            double r = Math.sqrt(1 - y * y);
            turn.transform(d.set(r * Math.cos(golden * i), y, r * Math.sin(golden * i)));
            out[i * 3] = d.x;
            out[i * 3 + 1] = d.y;
            out[i * 3 + 2] = d.z;
        }
        return out;
    }

    /** Without those that touch, at a corner, one that is not among them. */
    private BitSet shrunk(BitSet triangles, int use, WeldedSurface surface) {
        int first = firstTriangle(use);
        BitSet rim = new BitSet();
        int end = first;
        while (end < corners.length / 3 && corners[end * 3] < firsts[use + 1]) {
            for (int i = 0; i < 3 && !triangles.get(end - first); i++) {
                rim.set(surface.weldedOf(corners[end * 3 + i] - firsts[use]));
            }
            end++;
        }
        BitSet out = (BitSet) triangles.clone();
        for (int t = triangles.nextSetBit(0); t >= 0; t = triangles.nextSetBit(t + 1)) {
            for (int i = 0; i < 3; i++) {
                if (rim.get(surface.weldedOf(corners[(first + t) * 3 + i] - firsts[use]))) {
                    out.clear(t);
                }
            }
        }
        return out;
    }
}
