package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Gives vertices that follow nothing something to follow: the joint named, or without one the mean of what the
 * vertices around them follow, from the rim inwards; a shell that follows nothing at all goes to the joint that
 * stood nearest when it was bound.
 */
@StepInfo(
        name = "assign-unweighted",
        formerly = "give-strays",
        says = "Gives vertices that follow no joint to one, or to what the vertices around them follow.")
public record AssignUnweighted(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh,

        @Parameter(says = "joint to give them to; empty: as the vertices around them", fallback = "null")
        Optional<String> joint,

        @Parameter(says = "joints a vertex at most", fallback = "4", least = 1, most = 255)
        int most)
        implements Step {

    public AssignUnweighted(String mesh, Optional<String> joint) {
        this(mesh, joint, 4);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        Asset out = asset;
        long given = 0;
        for (int number : WeightRows.meshes(asset, mesh)) {
            work.stopIfCancelled();
            Mesh old = out.meshes().get(number);
            Skin skin = WeightRows.skin(out, number);
            BitSet strays = strays(old);
            if (strays.isEmpty()) {
                continue;
            }
            Row[] rows = new Row[old.vertexCount()];
            if (joint.isPresent()) {
                int heir = Names.joint(asset, skin, joint.get());
                strays.stream().forEach(v -> rows[v] = single(heir));
            } else {
                fillFromAround(old, skin, strays, rows, -1);
            }
            long[] changed = {0};
            Mesh edited = WeightRows.edit(
                    old,
                    strays,
                    (row, v) -> {
                        row.clear();
                        row.add(rows[v], 1);
                        row.keep(most);
                        return row.normalise();
                    },
                    changed);
            given += changed[0];
            out = out.withMesh(number, edited);
        }
        return Change.of(out).count("vertices.given", given);
    }

    /** Vertices of skinned primitives whose weights are all zero, or sum to nothing that could be scaled. */
    public static BitSet strays(Mesh mesh) {
        BitSet strays = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            for (int v = 0; p.influences() != null && v < p.vertexCount(); v++) {
                if (!(p.influences().sum(v) > 0)) {
                    strays.set(first + v);
                }
            }
            first += p.vertexCount();
        }
        return strays;
    }

    private static Row single(int joint) {
        Row row = new Row();
        row.append(joint, 1);
        return row;
    }

    /**
     * What the vertices around follow, from the rim inwards.
     *
     * @param rows receives a row for each stray
     * @param not  joint that nothing is given to, or -1
     */
    static void fillFromAround(Mesh mesh, Skin skin, BitSet strays, Row[] rows, int not) {
        MeshTopology topology = MeshTopology.of(mesh);
        Influences[] ofVertex = new Influences[mesh.vertexCount()];
        int[] number = new int[ofVertex.length];
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            for (int v = 0; v < p.vertexCount(); v++) {
                ofVertex[first + v] = p.influences();
                number[first + v] = v;
            }
            first += p.vertexCount();
        }
        BitSet open = (BitSet) strays.clone();
        // Only what lies beside what was reached last can be reached next.
        BitSet front = (BitSet) strays.clone();
        while (!front.isEmpty()) {
            BitSet reached = new BitSet();
            Map<Integer, Row> next = new HashMap<>();
            for (int v = front.nextSetBit(0); v >= 0; v = front.nextSetBit(v + 1)) {
                Row mean = meanAround(topology, ofVertex, number, v, open, rows, not);
                if (mean != null) {
                    reached.set(v);
                    next.put(v, mean);
                }
            }
            next.forEach((v, row) -> rows[v] = row);
            open.andNot(reached);
            front = topology.grown(reached);
            front.and(open);
        }
        Vector3d[] places = places(skin);
        float[] at = open.isEmpty() ? new float[0] : MeshTopology.restPositions(mesh);
        for (int v = open.nextSetBit(0); v >= 0; v = open.nextSetBit(v + 1)) {
            rows[v] = single(nearestJoint(at, places, v, not));
        }
    }

    private static @Nullable Row meanAround(
            MeshTopology topology, Influences[] ofVertex, int[] number, int v, BitSet open, Row[] rows, int not) {
        Row mean = new Row();
        int[] around = topology.neighboursOf(v);
        for (int i = -1; i < around.length; i++) {
            // The other vertices at the same place come first: a seam must not open.
            int n = i < 0 ? topology.weldedOf(v) : around[i];
            if (n == v || open.get(n)) {
                continue;
            }
            if (rows[n] != null) {
                mean.add(rows[n], 1);
            } else if (ofVertex[n] != null) {
                mean.add(ofVertex[n], number[n], 1);
            }
            if (i < 0) {
                break;
            }
        }
        mean.removeJoint(not);
        return mean.size() == 0 ? null : mean;
    }

    /** Where each joint stood when the mesh was bound; null where its bind cannot be inverted. */
    private static Vector3d[] places(Skin skin) {
        Vector3d[] out = new Vector3d[skin.joints().length];
        for (int j = 0; j < out.length; j++) {
            Matrix4d bind = skin.inverseBind(j);
            out[j] = bind.determinant() == 0 ? null : bind.invert().getTranslation(new Vector3d());
        }
        return out;
    }

    private static int nearestJoint(float[] p, Vector3d[] places, int vertex, int not) {
        int best = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int j = 0; j < places.length; j++) {
            double distance = places[j] == null || j == not
                    ? Double.POSITIVE_INFINITY
                    : places[j].distance(p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]);
            if (distance < least) {
                least = distance;
                best = j;
            }
        }
        return best;
    }
}
