package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.TreeMap;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.WeldWeights;
import org.cleanmarrow.weights.Seams;

/** Vertices that lie on one place but follow joints differently, so that the surface gapes there when it moves. */
final class SeamsOpen implements Check {
    /** What weights of 8 bits differ by when they are rounded each by itself. */
    private static final double ROUNDING = 1.5 / 255;

    @Override
    public String id() {
        return "seams";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        TreeMap<Integer, BitSet> byMesh = new TreeMap<>();
        TreeMap<Integer, Double> spread = new TreeMap<>();
        int most = examination.target().influences();
        for (Seams.Seam seam : Seams.open(asset, ROUNDING)) {
            // A seam of a mesh that others touch is told once, at the first.
            int first = seam.corners().getFirst().mesh();
            for (Seams.Corner c : seam.corners()) {
                if (c.mesh() == first) {
                    byMesh.computeIfAbsent(first, k -> new BitSet()).set(c.vertex());
                }
            }
            spread.merge(first, seam.spread(), Math::max);
        }
        List<Finding> out = new ArrayList<>();
        byMesh.forEach((m, vertices) -> out.add(Finding.of(
                        this,
                        Severity.CAUTION,
                        "",
                        asset.meshRef(m),
                        vertices.cardinality(),
                        vertices.cardinality(),
                        asset.meshRef(m),
                        spread.get(m))
                .at(Finding.Place.mesh(m, vertices))
                .fixedBy(new WeldWeights(Math.max(most, 1)))));
        return out;
    }
}
