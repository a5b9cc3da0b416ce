package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.surface.MeshTopology;

/**
 * Parts whose solid shapes together are more than twice, or less than half, as large as what is drawn at their node, by the
 * diagonals of their boxes. Shapes at nodes that draw nothing of their own stand for something else.
 */
public final class ShapeSize implements Check {
    private static final double MOST = 2;

    @Override
    public String id() {
        return "shape-size";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        List<Collider> solid = Bodies.colliders(asset).stream()
                .filter(c -> c.role() == Collider.Role.SOLID && !(c.shape() instanceof Shape.Drawn))
                .toList();
        BitSet said = new BitSet();
        solid.forEach(c -> said.set(c.node()));
        for (int n = said.nextSetBit(0); n >= 0; n = said.nextSetBit(n + 1)) {
            Node node = asset.nodes().get(n);
            if (node.mesh() < 0 || node.skin() >= 0) {
                continue;
            }
            int at = n;
            Box shapes = Box.empty();
            solid.stream().filter(c -> c.node() == at).forEach(c -> shapes.grow(c.points()));
            Box drawn = Box.empty();
            drawn.grow(MeshTopology.restPositions(asset.meshes().get(node.mesh())));
            double ratio = shapes.diagonal() / drawn.diagonal();
            if (drawn.diagonal() > 0 && (ratio > MOST || ratio < 1 / MOST)) {
                String ref = asset.nodeRef(n);
                out.add(Finding.of(this, Severity.CAUTION, "", ref, 1, ref, ratio)
                        .at(Finding.Place.node(n))
                        .fixedBy(new StandIn(NamePattern.exactly(ref), StandIn.Kind.BEST)));
            }
        }
        return out;
    }
}
