package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.TreeMap;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.WeldWeights;
import org.cleanmarrow.weights.Seams;

/** Vertices that lie on one place but follow joints differently, so that the surface gapes there when it moves. */
public final class SeamsOpen implements Check {
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
                        Objects.requireNonNull(spread.get(m)))
                .at(Finding.Place.mesh(m, vertices))
                .fixedBy(new WeldWeights(Math.max(most, 1)))));
        return out;
    }
}
