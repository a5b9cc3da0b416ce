package org.cleanmarrow.steps;

import java.util.BitSet;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Skin;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.WeldedSurface;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.weights.PlaceWeights;

/** What most steps on weights begin and end with: a skinned mesh, the chosen vertices, the joints that are locked. */
final class MeshChoice {
    final Asset asset;
    final int number;
    final Mesh mesh;
    final Skin skin;
    final BitSet vertices;
    final BitSet locked;

    MeshChoice(Asset asset, String name, VertexSet vertices, String locked) throws Refused {
        this.asset = asset;
        number = Names.skinnedMesh(asset, name);
        mesh = asset.meshes().get(number);
        skin = WeightRows.skin(asset, number);
        this.vertices = vertices.on(mesh);
        this.locked = WeightRows.locked(asset, skin, locked);
    }

    int joint(String name) throws Refused {
        return Names.joint(asset, skin, name);
    }

    /** The same, but not one that is locked. */
    int freeJoint(String name) throws Refused {
        int joint = joint(name);
        if (locked.get(joint)) {
            throw new Refused("weight.locked", name);
        }
        return joint;
    }

    WeldedSurface surface() {
        return MeshTopology.of(mesh).welded(mesh);
    }

    Influences places() {
        return PlaceWeights.of(mesh, surface());
    }

    /** The asset with the chosen rows edited. */
    Change edited(WeightRows.Edit edit) {
        return edited(vertices, edit);
    }

    Change edited(BitSet which, WeightRows.Edit edit) {
        long[] changed = {0};
        Mesh done = WeightRows.edit(mesh, which, edit, changed);
        return Change.of(changed[0] == 0 ? asset : asset.withMesh(number, done)).count("vertices changed", changed[0]);
    }
}
