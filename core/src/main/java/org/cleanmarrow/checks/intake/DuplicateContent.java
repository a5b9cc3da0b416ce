package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Duplicates;
import org.cleanmarrow.steps.intake.ShareDuplicates;

/** Meshes and materials that are there twice under different names. */
public final class DuplicateContent implements Check {
    @Override
    public String id() {
        return "duplicates";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int[] meshes = Duplicates.ofMeshes(asset);
        int[] materials = Duplicates.ofMaterials(asset);
        long twice = 0;
        String first = "";
        String second = "";
        for (int m = 0; m < meshes.length; m++) {
            if (meshes[m] != m) {
                twice++;
                second = first.isEmpty() ? asset.meshRef(m) : second;
                first = first.isEmpty() ? asset.meshRef(meshes[m]) : first;
            }
        }
        for (int m = 0; m < materials.length; m++) {
            if (materials[m] != m) {
                twice++;
                second = first.isEmpty() ? asset.materials().get(m).name() : second;
                first = first.isEmpty() ? asset.materials().get(materials[m]).name() : first;
            }
        }
        return twice == 0
                ? List.of()
                : List.of(Finding.of(this, Severity.NOTE, "", "", twice, twice, first, second)
                        .fixedBy(new ShareDuplicates()));
    }
}
