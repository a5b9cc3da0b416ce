package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.skin.LimitInfluences;

/** Vertices that more joints move than the target takes. */
public final class InfluenceCount implements Check {
    @Override
    public String id() {
        return "influences";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int most = examination.target().influences();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            if (!SkinnedMeshes.isSkinned(asset, m)) {
                continue;
            }
            BitSet over = SkinnedMeshes.vertices(asset.meshes().get(m), (rows, v) -> rows.rowLength(v) > most);
            if (!over.isEmpty()) {
                int longest = asset.meshes().get(m).primitives().stream()
                        .map(Primitive::influences)
                        .filter(i -> i != null)
                        .mapToInt(i -> i.longestRow())
                        .max()
                        .orElse(0);
                String name = asset.meshRef(m);
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                name,
                                over.cardinality(),
                                over.cardinality(),
                                name,
                                longest,
                                most)
                        .at(Finding.Place.mesh(m, over))
                        .fixedBy(new LimitInfluences(name, most, 0)));
            }
        }
        return out;
    }
}
