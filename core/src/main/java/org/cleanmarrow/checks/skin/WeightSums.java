package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.skin.NormaliseWeights;

/**
 * Weights that do not sum to one. What moves a vertex visibly is a blocker; sums that miss one by more than the
 * validator of the standard allows (2e-7 a weight, glTF 2.0, 3.7.3.3), but by less than a thousandth, are a note.
 */
public final class WeightSums implements Check {
    private static final double VISIBLE = 1e-3;

    @Override
    public String id() {
        return "weight-sums";
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
            Mesh mesh = asset.meshes().get(m);
            BitSet off = SkinnedMeshes.vertices(mesh, (rows, v) -> {
                double sum = rows.sum(v);
                return sum > 0 && Math.abs(sum - 1) > VISIBLE;
            });
            BitSet rounded = SkinnedMeshes.vertices(mesh, (rows, v) -> {
                double sum = rows.sum(v);
                return sum > 0 && Math.abs(sum - 1) <= VISIBLE && !rows.sumsToOne(v);
            });
            String name = asset.meshRef(m);
            if (!off.isEmpty()) {
                double[] range = range(mesh, off);
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "",
                                name,
                                off.cardinality(),
                                off.cardinality(),
                                name,
                                say(range[0]),
                                say(range[1]))
                        .at(Finding.Place.mesh(m, off))
                        .fixedBy(new NormaliseWeights(name)));
            }
            if (!rounded.isEmpty()) {
                out.add(Finding.of(
                                this,
                                Severity.NOTE,
                                "rounded",
                                name,
                                rounded.cardinality(),
                                rounded.cardinality(),
                                name)
                        .at(Finding.Place.mesh(m, rounded))
                        .fixedBy(new NormaliseWeights(name)));
            }
        }
        return out;
    }

    private static String say(double sum) {
        return String.format(Locale.ROOT, "%.3f", sum);
    }

    private static double[] range(Mesh mesh, BitSet vertices) {
        double[] range = {Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY};
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            for (int v = 0; p.influences() != null && v < p.vertexCount(); v++) {
                if (vertices.get(first + v)) {
                    range[0] = Math.min(range[0], p.influences().sum(v));
                    range[1] = Math.max(range[1], p.influences().sum(v));
                }
            }
            first += p.vertexCount();
        }
        return range;
    }
}
