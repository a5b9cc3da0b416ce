package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.steps.collision.StandIn;

/**
 * Where anything collides: parts that do not, neither by themselves nor by a shape at a node above or below them up to the
 * next body; bodies have a check of their own. Parts that joints deform collide by their joints, and other levels of detail by the first.
 */
public final class PartsThatDoNotCollide implements Check {
    @Override
    public String id() {
        return "collider-missing";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        if (Bodies.colliders(asset).isEmpty()) {
            return out;
        }
        BitSet bodies = Bodies.nodes(asset);
        // Of bodies without a shape another check tells.
        BitSet covered = Bodies.nodes(asset);
        int[] bearers = Bodies.bearers(asset, bodies);
        String[] refs = asset.nodeRefs();
        Bodies.colliders(asset).forEach(c -> covered.set(bearers[c.node()]));
        BitSet lower = new BitSet();
        LodFamilies.of(asset)
                .forEach(f -> f.members().stream().filter(m -> m.level() > 0).forEach(m -> lower.set(m.node())));
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            boolean drawn = node.mesh() >= 0 && node.skin() < 0 && node.ships();
            if (drawn && !covered.get(bearers[n]) && !lower.get(n)) {
                String ref = refs[n];
                out.add(Finding.of(this, Severity.NOTE, "", ref, 1, ref)
                        .at(Finding.Place.node(n))
                        .fixedBy(new StandIn(NamePattern.exactly(ref), StandIn.Kind.BEST)));
            }
        }
        return out;
    }
}
