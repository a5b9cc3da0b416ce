package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.steps.intake.SweepLods;

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
                    .filter(m -> Extras.of(asset.nodes().get(m.node()).carried(), "lod")
                            .isMissingNode())
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
