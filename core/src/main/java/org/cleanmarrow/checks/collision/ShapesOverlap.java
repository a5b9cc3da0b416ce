package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Work;

/** Solid shapes that could meet and lie in each other, at rest or in a frame of any clip. */
public final class ShapesOverlap implements Check {
    @Override
    public String id() {
        return "shapes-overlap";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Collider> all = Bodies.colliders(asset);
        List<Finding> out = new ArrayList<>();
        if (all.size() < 2) {
            return out;
        }
        for (Overlaps.Overlap worst : new Overlaps(asset).worst(1, Work.QUIET)) {
            Collider a = all.get(worst.pair().a());
            Collider b = all.get(worst.pair().b());
            Length depth = new Length(worst.depth() * asset.conventions().metresPerUnit());
            out.add(Finding.of(
                            this,
                            Severity.CAUTION,
                            "",
                            Bodies.name(asset, a),
                            1,
                            Bodies.name(asset, a),
                            Bodies.name(asset, b),
                            depth,
                            worst.when(asset))
                    .at(Finding.Place.node(a.node()))
                    .fixedBy(new ShapesApart()));
        }
        return out;
    }
}
