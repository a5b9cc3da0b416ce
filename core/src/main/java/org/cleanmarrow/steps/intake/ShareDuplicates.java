package org.cleanmarrow.steps.intake;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.query.Duplicates;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Lets nodes share one mesh, and meshes one material, where several have the same content. */
@StepInfo(name = "share-duplicates", says = "Keeps one of meshes and materials that are the same, and lets all use it.")
public record ShareDuplicates() implements Step {
    @Override
    public Change apply(Asset asset, Work work) {
        int[] material = Duplicates.ofMaterials(asset);
        Asset painted = asset.renumbered(Renumbering.NONE.sharing(Renumbering.Kind.MATERIAL, material));
        int[] mesh = Duplicates.ofMeshes(painted);
        Asset shared = painted.renumbered(Renumbering.NONE.sharing(Renumbering.Kind.MESH, mesh));
        long meshes = many(mesh);
        long materials = many(material);
        return Change.of(meshes + materials == 0 ? asset : Unused.removed(shared))
                .count("meshes.that.were.there.twice", meshes)
                .count("materials.that.were.there.twice", materials);
    }

    private static long many(int[] first) {
        long out = 0;
        for (int i = 0; i < first.length; i++) {
            out += first[i] == i ? 0 : 1;
        }
        return out;
    }
}
