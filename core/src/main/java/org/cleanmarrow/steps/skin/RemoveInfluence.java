package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import java.util.Optional;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Takes one joint's influence off the chosen vertices and scales what is left to sum to one.
 *
 * <p>A vertex that only this joint moved would follow nothing. It is given to the heir, and the outcome counts
 * it. Vertices outside the selection keep their weights bit for bit.
 */
@StepInfo(
        name = "remove-influence",
        formerly = "take-off-joint",
        says = "Removes one joint's influence from selected vertices and scales the rest to sum to one.")
public record RemoveInfluence(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "name of the joint to take off") String joint,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(
                says = "joint that receives vertices nothing else moves; empty: the nearest ancestor in the skin",
                fallback = "null")
        Optional<String> heir,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked,

        @Parameter(
                says = "vertices that nothing else moves follow what those around them follow, and no heir",
                fallback = "false")
        boolean around)
        implements Step {

    /** With orphans given to an heir. */
    public RemoveInfluence(String mesh, String joint, VertexSet vertices, Optional<String> heir, String locked) {
        this(mesh, joint, vertices, heir, locked, false);
    }

    /** With no joint locked. */
    public RemoveInfluence(String mesh, String joint, VertexSet vertices, Optional<String> heir) {
        this(mesh, joint, vertices, heir, "", false);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Names.skinnedMesh(asset, mesh);
        Mesh old = asset.meshes().get(number);
        Skin skin = WeightRows.skin(asset, number);
        int taken = Names.joint(asset, skin, joint);
        int receiver =
                around ? -1 : heir.isPresent() ? Names.joint(asset, skin, heir.get()) : ancestor(asset, skin, taken);
        if (!around && (receiver < 0 || receiver == taken)) {
            throw new Refused("takeoff.no.heir", joint);
        }
        BitSet held = WeightRows.locked(asset, skin, locked);
        if (held.get(taken)) {
            throw new Refused("weight.locked", joint);
        }
        long[] changed = {0};
        long[] orphans = {0};
        // No vertex gets more joints than the mesh has now, or one set holds.
        int most = Math.max(
                4,
                old.primitives().stream()
                        .filter(p -> p.influences() != null)
                        .mapToInt(p -> p.influences().longestRow())
                        .max()
                        .orElse(0));
        Row[] filled = around ? aroundOrphans(old, skin, taken, vertices.on(old)) : null;
        Mesh edited = WeightRows.edit(
                old,
                vertices.on(old),
                (row, v) -> {
                    if (row.indexOf(taken) < 0) {
                        return false;
                    }
                    row.removeJoint(taken);
                    if (row.normalise(held)) {
                        return true;
                    }
                    if (filled != null && filled[v] != null) {
                        row.clear();
                        row.add(filled[v], 1);
                        row.keepSmoothly(most);
                        row.normalise();
                        orphans[0]++;
                    } else if (receiver >= 0) {
                        row.add(receiver, Math.max(0, 1 - row.sum()));
                        orphans[0]++;
                    }
                    return true;
                },
                changed);
        Change change = Change.of(changed[0] == 0 ? asset : asset.withMesh(number, edited))
                .count("vertices.changed", changed[0]);
        if (around) {
            return orphans[0] == 0 ? change : change.count("given.to.what.is.around", orphans[0]);
        }
        String heirName = asset.nodes().get(skin.joints()[receiver]).name();
        return orphans[0] == 0 ? change : change.count("given.to", orphans[0], heirName);
    }

    /** Rows for the vertices that the joint alone moves. */
    private static Row[] aroundOrphans(Mesh mesh, Skin skin, int taken, BitSet chosen) {
        BitSet alone = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int v = 0; rows != null && v < p.vertexCount(); v++) {
                double other = rows.sum(v) - rows.weight(v, taken);
                alone.set(first + v, chosen.get(first + v) && rows.weight(v, taken) > 0 && !(other > 1e-6));
            }
            first += p.vertexCount();
        }
        Row[] rows = new Row[mesh.vertexCount()];
        AssignUnweighted.fillFromAround(mesh, skin, alone, rows, taken);
        return rows;
    }

    private static int ancestor(Asset asset, Skin skin, int joint) {
        int[] parents = asset.parents();
        for (int up = parents[skin.joints()[joint]]; up >= 0; up = parents[up]) {
            if (skin.indexOfNode(up) >= 0) {
                return skin.indexOfNode(up);
            }
        }
        return -1;
    }
}
