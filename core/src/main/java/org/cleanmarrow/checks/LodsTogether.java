package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.LodFamilies;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.SweepLods;

/** Several levels of detail of one part that would all be delivered, and stand in each other, without a range each. */
public final class LodsTogether implements Check {
    @Override
    public String id() {
        return "lods-together";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (LodFamilies.Family family : LodFamilies.of(asset)) {
            long together = family.members().stream()
                    .filter(m -> asset.nodes().get(m.node()).ships())
                    .filter(m -> !asset.nodes().get(m.node()).carried().json().contains("\"lod\""))
                    .count();
            if (together > 1) {
                out.add(Finding.of(this, Severity.CAUTION, "", family.name(), together, family.name(), together)
                        .at(Finding.Place.node(family.members().getFirst().node()))
                        .fixedBy(new SweepLods(0)));
            }
        }
        return out;
    }
}
