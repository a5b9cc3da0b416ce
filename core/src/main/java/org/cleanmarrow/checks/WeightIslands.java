package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Skin;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.WeldedSurface;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.steps.TakeOffJoint;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.PlaceWeights;
import org.joml.Vector3d;

/**
 * Islands of influence: a joint moves a patch of a piece that does not hang together with what else it moves on that piece,
 * as a slip of a brush or a bind through air leaves them. Those that the joint would carry furthest come first.
 */
final class WeightIslands implements Check {
    private static final float FELT = 0.02f;
    /** An island has no more than this share of the joint's weight on the piece. */
    private static final double MINORITY = 0.2;
    /** Fewer places are noise that nobody sees. */
    private static final int LEAST_PLACES = 4;
    /** Where a joint moves less than this there is no mainland to be cut off from. */
    private static final int LEAST_MAINLAND = 24;

    /** An island nearer to the joint than this many times what its mainland is belongs to it after all. */
    private static final double FURTHER = 1.6;

    /** What a radian of the joint moves an island by, as a share of the mesh's size, for anybody to see it. */
    private static final double SEEN = 0.01;

    private static final int MOST = 40;

    @Override
    public String id() {
        return "island";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    private record Island(int joint, BitSet places, double reach) {}

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (SkinnedMeshes.isSkinned(asset, m)) {
                run(asset, m, out);
            }
        }
        return out;
    }

    private void run(Asset asset, int number, List<Finding> out) {
        Mesh mesh = asset.meshes().get(number);
        Skin skin = asset.skins().get(asset.skinOfMesh(number));
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        Influences rows = PlaceWeights.of(mesh, surface);
        List<Island> islands = new ArrayList<>();
        Bones bones = Bones.bound(asset, skin);
        BitSet[] felt = felt(rows, skin.joints().length);
        for (int j = 0; j < felt.length; j++) {
            islands(surface, rows, felt[j], j, bones.place(j), islands);
        }
        Box box = Box.empty();
        box.grow(surface.positions());
        islands.removeIf(i -> i.reach < SEEN * box.diagonal());
        islands.sort(Comparator.comparingDouble(Island::reach).reversed());
        for (Island island : islands.subList(0, Math.min(MOST, islands.size()))) {
            BitSet vertices = new BitSet();
            for (int v = 0; v < mesh.vertexCount(); v++) {
                vertices.set(v, island.places.get(surface.placeOf(v)));
            }
            String joint = asset.nodeRef(skin.joints()[island.joint]);
            String name = asset.meshRef(number);
            out.add(Finding.of(
                            this,
                            Severity.CAUTION,
                            "",
                            name,
                            vertices.cardinality(),
                            vertices.cardinality(),
                            name,
                            joint)
                    .at(Finding.Place.mesh(number, vertices).withNode(skin.joints()[island.joint]))
                    .fixedBy(new TakeOffJoint(name, joint, VertexSet.chosen(mesh, vertices), Optional.empty())));
        }
    }

    private static BitSet[] felt(Influences rows, int joints) {
        BitSet[] out = new BitSet[joints];
        for (int j = 0; j < joints; j++) {
            out[j] = new BitSet();
        }
        for (int p = 0; p < rows.vertexCount(); p++) {
            for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                if (rows.weights()[i] > FELT) {
                    out[rows.joints()[i]].set(p);
                }
            }
        }
        return out;
    }

    private static void islands(
            WeldedSurface surface, Influences rows, BitSet felt, int joint, Vector3d at, List<Island> out) {
        List<BitSet> patches = new ArrayList<>();
        BitSet left = (BitSet) felt.clone();
        for (int p = left.nextSetBit(0); p >= 0; p = left.nextSetBit(0)) {
            patches.add(patch(surface, left, p));
        }
        if (patches.size() < 2) {
            return;
        }
        for (BitSet patch : patches) {
            int shell = surface.shellOf(patch.nextSetBit(0));
            double all = 0;
            BitSet mainland = patch;
            for (BitSet other : patches) {
                if (surface.shellOf(other.nextSetBit(0)) == shell) {
                    all += weight(rows, other, joint);
                    mainland = weight(rows, other, joint) > weight(rows, mainland, joint) ? other : mainland;
                }
            }
            double own = weight(rows, patch, joint);
            boolean small = patch != mainland
                    && patch.cardinality() >= LEAST_PLACES
                    && mainland.cardinality() >= LEAST_MAINLAND
                    && own < MINORITY * all;
            if (small && nearest(surface, patch, at) > FURTHER * nearest(surface, mainland, at)) {
                out.add(new Island(joint, patch, own / patch.cardinality() * nearest(surface, patch, at)));
            }
        }
    }

    private static BitSet patch(WeldedSurface surface, BitSet left, int from) {
        BitSet out = new BitSet();
        int[] stack = new int[left.cardinality()];
        int depth = 0;
        stack[depth++] = from;
        left.clear(from);
        while (depth > 0) {
            int p = stack[--depth];
            out.set(p);
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                int next = surface.neighbours()[e];
                if (left.get(next)) {
                    left.clear(next);
                    stack[depth++] = next;
                }
            }
        }
        return out;
    }

    private static double weight(Influences rows, BitSet places, int joint) {
        double sum = 0;
        for (int p = places.nextSetBit(0); p >= 0; p = places.nextSetBit(p + 1)) {
            sum += rows.weight(p, joint);
        }
        return sum;
    }

    private static double nearest(WeldedSurface surface, BitSet places, Vector3d at) {
        float[] x = surface.positions();
        double best = Double.POSITIVE_INFINITY;
        for (int p = places.nextSetBit(0); p >= 0; p = places.nextSetBit(p + 1)) {
            best = Math.min(best, at.distance(x[p * 3], x[p * 3 + 1], x[p * 3 + 2]));
        }
        return best;
    }
}
