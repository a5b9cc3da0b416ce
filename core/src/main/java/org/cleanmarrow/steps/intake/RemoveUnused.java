package org.cleanmarrow.steps.intake;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Takes out meshes that stand nowhere, materials on nothing, and textures and pictures that nothing shows. */
@StepInfo(name = "remove-unused", says = "Takes out meshes, materials, textures and pictures that nothing uses.")
public record RemoveUnused() implements Step {
    @Override
    public Change apply(Asset asset, Work work) {
        Asset out = Unused.removed(asset);
        return Change.of(out)
                .count("unused.meshes", asset.meshes().size() - out.meshes().size())
                .count(
                        "unused.materials",
                        asset.materials().size() - out.materials().size())
                .count(
                        "unused.textures",
                        asset.textures().size() - out.textures().size())
                .count("unused.pictures", asset.images().size() - out.images().size());
    }
}
