package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.AssignUnweighted;

/** Vertices of skinned meshes that no joint moves. */
public final class StrayVertices implements Check {
    @Override
    public String id() {
        return "strays";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (!SkinnedMeshes.isSkinned(asset, m)) {
                continue;
            }
            BitSet strays = AssignUnweighted.strays(asset.meshes().get(m));
            if (!strays.isEmpty()) {
                String name = asset.meshRef(m);
                out.add(Finding.of(this, Severity.BLOCKER, "", name, strays.cardinality(), strays.cardinality(), name)
                        .at(Finding.Place.mesh(m, strays))
                        .fixedBy(new AssignUnweighted(
                                name, Optional.empty(), examination.target().influences())));
            }
        }
        return out;
    }
}
