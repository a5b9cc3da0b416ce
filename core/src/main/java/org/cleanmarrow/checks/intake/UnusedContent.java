package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.steps.intake.RemoveUnused;

/** Meshes, materials, textures and pictures that nothing uses, and that would be delivered all the same. */
public final class UnusedContent implements Check {
    @Override
    public String id() {
        return "unused";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Asset used = Unused.removed(asset);
        int meshes = asset.meshes().size() - used.meshes().size();
        int materials = asset.materials().size() - used.materials().size();
        int textures = asset.textures().size() - used.textures().size();
        int pictures = asset.images().size() - used.images().size();
        int all = meshes + materials + textures + pictures;
        return all == 0
                ? List.of()
                : List.of(Finding.of(this, Severity.NOTE, "", "", all, meshes, materials, textures, pictures)
                        .fixedBy(new RemoveUnused()));
    }
}
