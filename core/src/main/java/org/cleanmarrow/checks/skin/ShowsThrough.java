package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Kept;

/**
 * A body that comes through what it wears when it moves, by more than the target allows. Looked at are rest and the trial poses; which of the two is to give way is for a
 * person to say, so no fix is offered.
 */
public final class ShowsThrough implements Check {
    private static final Kept<List<PokeThrough>> KEPT = new Kept<>(32);

    @Override
    public String id() {
        return "poke-through";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        double most = examination.target().most(Budget.POKE_MILLIMETRES);
        if (Double.isInfinite(most)) {
            return List.of();
        }
        List<Object> read = Kept.posed(asset);
        List<PokeThrough> all = KEPT.of(read, () -> PokeThrough.all(asset, 0, examination.work()));
        List<Finding> out = new ArrayList<>();
        for (PokeThrough pair : all) {
            PokeThrough.Moment worst = pair.moments().getFirst();
            if (worst.deepest() * 1000 <= most) {
                continue;
            }
            String body = asset.meshRef(pair.body());
            String pose = worst.pose().map(p -> p.name()).orElse("");
            out.add(Finding.of(
                            this,
                            Severity.CAUTION,
                            pose.isEmpty() ? "rest" : "",
                            body,
                            worst.vertices().cardinality(),
                            body,
                            asset.meshRef(pair.worn()),
                            new Length(worst.deepest()),
                            pose,
                            pair.moments().size(),
                            pair.looked())
                    .at(Finding.Place.mesh(
                            pair.body(), (BitSet) worst.vertices().clone())));
        }
        return out;
    }
}
