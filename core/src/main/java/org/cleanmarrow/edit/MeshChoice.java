package org.cleanmarrow.edit;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;

/** What most steps on weights begin and end with: a skinned mesh, the chosen vertices, the joints that are locked. */
public final class MeshChoice {
    final Asset asset;
    public final int number;
    public final Mesh mesh;
    public final Skin skin;
    public final BitSet vertices;
    public final BitSet locked;

    public MeshChoice(Asset asset, String name, VertexSet vertices, String locked) throws Refused {
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
    public int freeJoint(String name) throws Refused {
        int joint = joint(name);
        if (locked.get(joint)) {
            throw new Refused("weight.locked", name);
        }
        return joint;
    }

    public WeldedSurface surface() {
        return MeshTopology.of(mesh).welded(mesh);
    }

    public Influences places() {
        return WeldedWeights.of(mesh, surface());
    }

    /** The asset with the chosen rows edited. */
    public Change edited(WeightRows.Edit edit) {
        return edited(vertices, edit);
    }

    public Change edited(BitSet which, WeightRows.Edit edit) {
        long[] changed = {0};
        Mesh done = WeightRows.edit(mesh, which, edit, changed);
        return Change.of(changed[0] == 0 ? asset : asset.withMesh(number, done)).count("vertices.changed", changed[0]);
    }
}
