package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Gives a joint one weight on the chosen vertices; the other joints share the rest as they did before. Where no
 * other joint moves a vertex there is nobody to share with, and it follows this joint fully.
 */
@StepInfo(
        name = "set-weight",
        says = "Sets one joint's weight on selected vertices; the other joints share what is left.")
public record SetWeight(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "name of the joint") String joint,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "new weight", least = 0, most = 1) double weight,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {

    /** With no joint locked. */
    public SetWeight(String mesh, String joint, VertexSet vertices, double weight) {
        this(mesh, joint, vertices, weight, "");
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(weight >= 0 && weight <= 1)) {
            throw new Refused("weight.range", weight);
        }
        int number = Names.skinnedMesh(asset, mesh);
        Mesh old = asset.meshes().get(number);
        Skin skin = WeightRows.skin(asset, number);
        int joint = Names.joint(asset, skin, this.joint);
        BitSet held = WeightRows.locked(asset, skin, locked);
        if (held.get(joint)) {
            throw new Refused("weight.locked", this.joint);
        }
        long[] changed = {0};
        long[] alone = {0};
        Mesh edited = WeightRows.edit(
                old,
                vertices.on(old),
                (row, v) -> {
                    alone[0] += weight < 1 && !(row.sum() > row.of(joint)) ? 1 : 0;
                    return row.set(joint, weight, held);
                },
                changed);
        Change change = Change.of(changed[0] == 0 ? asset : asset.withMesh(number, edited))
                .count("vertices.changed", changed[0]);
        return alone[0] == 0 ? change : change.count("left.at.1.no.other.joint.moves.them", alone[0]);
    }
}
