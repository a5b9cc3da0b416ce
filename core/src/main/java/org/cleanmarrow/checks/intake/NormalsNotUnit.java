package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.intake.UnitNormals;

/** Vertex normals that are not one long, which makes a delivered file invalid (glTF 2.0, 3.7.2.1) and shades it wrongly. */
public final class NormalsNotUnit implements Check {
    @Override
    public String id() {
        return "normals";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            int many = 0;
            for (Primitive p : asset.meshes().get(m).primitives()) {
                many += p.normals() == null ? 0 : UnitNormals.wrong(p.normals());
            }
            if (many > 0) {
                String name = asset.meshRef(m);
                out.add(Finding.of(this, Severity.BLOCKER, "", name, many, many, name)
                        .fixedBy(new UnitNormals()));
            }
        }
        return out;
    }
}
