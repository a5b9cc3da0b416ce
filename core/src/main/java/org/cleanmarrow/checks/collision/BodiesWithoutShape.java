package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.collision.StandIn;

/** Free bodies to which no shape belongs: nothing stops them, and nothing says how heavy they are. */
public final class BodiesWithoutShape implements Check {
    @Override
    public String id() {
        return "body-shape";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        BitSet bodies = Bodies.nodes(asset);
        int[] bearers = Bodies.bearers(asset, bodies);
        String[] refs = asset.nodeRefs();
        BitSet shaped = new BitSet();
        Bodies.colliders(asset).forEach(c -> shaped.set(bearers[c.node()]));
        List<Finding> out = new ArrayList<>();
        for (RigidBody body : Bodies.all(asset)) {
            if (body.kind() == RigidBody.Kind.STILL || shaped.get(body.node())) {
                continue;
            }
            String ref = refs[body.node()];
            Finding finding =
                    Finding.of(this, Severity.CAUTION, "", ref, 1, ref).at(Finding.Place.node(body.node()));
            boolean rigid = asset.nodes().get(body.node()).mesh() >= 0
                    && asset.nodes().get(body.node()).skin() < 0;
            out.add(rigid ? finding.fixedBy(new StandIn(NamePattern.exactly(ref), StandIn.Kind.BEST)) : finding);
        }
        return out;
    }
}
