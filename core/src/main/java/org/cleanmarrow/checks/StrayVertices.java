package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.GiveStrays;

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
            BitSet strays = GiveStrays.strays(asset.meshes().get(m));
            if (!strays.isEmpty()) {
                String name = asset.meshRef(m);
                out.add(Finding.of(this, Severity.BLOCKER, "", name, strays.cardinality(), strays.cardinality(), name)
                        .at(Finding.Place.mesh(m, strays))
                        .fixedBy(new GiveStrays(
                                name, Optional.empty(), examination.target().influences())));
            }
        }
        return out;
    }
}
