package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
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
 * pictures taken from all around of the mesh and of what is worn on it: whatever else there is, another level of detail or
 * another garment, may be away. A triangle seen from behind hides nothing unless its
 * material is double-sided (glTF 2.0, 3.9.2 doubleSided). The sides looked from are others in every pose. No number of pictures
 * shows all that can be seen, so what nearly is counts as seen, and so does what touches a triangle that hardly ever is: where
 * seeing ends by degrees, another picture would show a little more.
 *
 * <p>Cost: 192 pictures a pose.
 */
public final class Hidden {
    private static final int VIEWS = 192;
    /** Pictures that are taken one after the other, of as many as there are. */
    private static final int TOGETHER = 12;
    /** Pixels across what is asked for. */
    private static final int SIDE = 320;
    /** A triangle that no more pictures show, in all poses, is hardly ever seen. */
    private static final int HARDLY = 4;
    /** How far from the skin at rest a worn part may lie, in the size of the mesh. */
    private static final double NEAR = 0.15;

    private final Asset asset;
    private final Rig rig;
    private final Deformer deformer;
    /** The mesh below first, then what is worn on it. */
    private final List<MeshPlace> drawn = new ArrayList<>();

    private final int[] firsts;
    private final int[] corners;
    private final boolean[] bothSides;
    /** How many of the triangles are of the mesh below. */
    private final int own;
    /** By triangle of the mesh below, how many pictures show it. */
    private final int[] pictures;

    private Hidden(Asset asset, int body, List<Integer> worn) {
        this.asset = asset;
        deformer = new Deformer(asset);
        rig = new Rig(asset);
        deformer.places().stream().filter(p -> p.mesh() == body).forEach(drawn::add);
        deformer.places().stream().filter(p -> worn.contains(p.mesh())).forEach(drawn::add);
        firsts = new int[drawn.size() + 1];
        List<int[]> all = new ArrayList<>();
        List<Boolean> sides = new ArrayList<>();
        for (int i = 0; i < drawn.size(); i++) {
            firsts[i + 1] = firsts[i] + deformer.vertexCount(drawn.get(i));
            int first = firsts[i];
            for (Primitive p : asset.meshes().get(drawn.get(i).mesh()).primitives()) {
                int start = first;
                int[] triangles = p.triangleCorners();
                all.add(IntStream.of(triangles).map(c -> start + c).toArray());
                boolean both =
                        p.material() >= 0 && asset.materials().get(p.material()).doubleSided();
                sides.addAll(Collections.nCopies(triangles.length / 3, both));
                first += p.vertexCount();
            }
        }
        corners = all.stream().flatMapToInt(IntStream::of).toArray();
        bothSides = new boolean[sides.size()];
        for (int t = 0; t < bothSides.length; t++) {
            bothSides[t] = sides.get(t);
        }
        own = asset.meshes().get(body).triangleCount();
        pictures = new int[own];
    }

    /**
     * Triangles of a mesh that nobody sees at rest, in trial poses and in clips.
     *
     * @param body    number of the mesh, which one node uses
     * @param worn    numbers of the meshes that lie on it
     * @param moments frames looked at in each clip, 0 for none
     * @param rings   how many rings of triangles around what is seen count as seen
     * @return by the number of the triangle, through the primitives as {@link Primitive#triangleCorners} has them
     */
    public static BitSet triangles(Asset asset, int body, List<Integer> worn, int moments, int rings, Work work) {
        Mesh mesh = asset.meshes().get(body);
        Hidden look = new Hidden(asset, body, worn);
        BitSet out = look.find(moments, work);
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        int[] corners = MeshTopology.of(mesh).corners();
        BitSet others = new BitSet();
        for (int t = 0; t < look.own; t++) {
            others.set(t, look.pictures[t] > 0 && look.pictures[t] <= HARDLY);
        }
        out = apartFrom(others, out, corners, surface);
        for (int i = 0; i < rings; i++) {
            others.clear();
            others.set(0, look.own);
            others.andNot(out);
            out = apartFrom(others, out, corners, surface);
        }
        return out;
    }

    private BitSet find(int moments, Work work) {
        List<Pose> poses = poses(moments);
        BitSet hidden = new BitSet();
        for (int k = 0; k < poses.size() && (k == 0 || !hidden.isEmpty()); k++) {
            work.at(k / (double) poses.size(), "");
            work.stopIfCancelled();
            float[] all = posed(poses.get(k));
            if (k == 0) {
                hidden = beneath(all);
            }
            hidden.andNot(seen(hidden, all, k, work));
        }
        return hidden;
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
            deformer.deform(drawn.get(i), pose, world, new Matrix4d(), own, null, true);
            System.arraycopy(own, 0, out, firsts[i] * 3, own.length);
        }
        return out;
    }

    /** Triangles of the mesh straight above which, and not far, a worn part lies. */
    private BitSet beneath(float[] all) {
        TriangleTree tree = new TriangleTree(Arrays.copyOfRange(corners, own * 3, corners.length), all);
        Box box = Box.empty();
        for (int v = 0; v < firsts[1]; v++) {
            box.grow(all[v * 3], all[v * 3 + 1], all[v * 3 + 2]);
        }
        float near = (float) (NEAR * box.diagonal());
        boolean[] found = new boolean[own];
        IntStream.range(0, own).parallel().forEach(t -> {
            float[] d = new float[3];
            TriangleNormals.put(corners, t * 3, all, d, 0);
            float length = (float) Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
            found[t] = length > 0 && tree.meetsBefore(middle(all, t), d, near / length);
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

    /** Those of some triangles that are seen in a pose, or nearly, from around it; no more than those are drawn large. */
    private BitSet seen(BitSet asked, float[] all, int pose, Work work) {
        Box box = Box.empty();
        for (int t = asked.nextSetBit(0); t >= 0; t = asked.nextSetBit(t + 1)) {
            for (int i = 0; i < 3; i++) {
                int v = corners[t * 3 + i] * 3;
                box.grow(all[v], all[v + 1], all[v + 2]);
            }
        }
        BitSet found = new BitSet();
        double[] ways = directions(pose);
        IntStream.range(0, VIEWS / TOGETHER).parallel().forEach(some -> {
            IdPicture picture = new IdPicture(SIDE);
            for (int v = some * TOGETHER; v < (some + 1) * TOGETHER; v++) {
                work.stopIfCancelled();
                Vector3d way = new Vector3d(ways[v * 3], ways[v * 3 + 1], ways[v * 3 + 2]);
                picture.take(box, way, all, corners, bothSides);
                BitSet shown = picture.seen();
                BitSet left = (BitSet) asked.clone();
                synchronized (pictures) {
                    shown.stream().takeWhile(t -> t < own).forEach(t -> pictures[t]++);
                    left.andNot(found);
                }
                BitSet near = picture.nearlySeen(left);
                synchronized (pictures) {
                    found.or(near);
                }
            }
        });
        return found;
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

    /** Without those that touch one of others at a corner. */
    private static BitSet apartFrom(BitSet others, BitSet triangles, int[] corners, WeldedSurface surface) {
        BitSet rim = new BitSet();
        for (int i = 0; i < corners.length; i++) {
            if (others.get(i / 3)) {
                rim.set(surface.weldedOf(corners[i]));
            }
        }
        BitSet out = (BitSet) triangles.clone();
        for (int i = 0; i < corners.length; i++) {
            if (rim.get(surface.weldedOf(corners[i]))) {
                out.clear(i / 3);
            }
        }
        return out;
    }
}
