package org.cleanmarrow.checks.skeleton;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.joml.Matrix4d;

/** Inverse bind matrices that flatten space or are not affine, so that nothing can be bound by them. */
public final class DegenerateBinds implements Check {
    private static final double FLAT = 1e-9;

    @Override
    public String id() {
        return "binds";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (Skin skin : asset.skins()) {
            List<Integer> bad = new ArrayList<>();
            for (int j = 0; j < skin.joints().length; j++) {
                if (!isSound(skin.inverseBind(j))) {
                    bad.add(skin.joints()[j]);
                }
            }
            if (!bad.isEmpty()) {
                String first = asset.nodeRef(bad.getFirst());
                out.add(Finding.of(this, Severity.BLOCKER, "", first, bad.size(), bad.size(), first)
                        .at(Finding.Place.node(bad.getFirst())));
            }
        }
        return out;
    }

    private static boolean isSound(Matrix4d m) {
        if (!m.isFinite() || m.m03() != 0 || m.m13() != 0 || m.m23() != 0 || Math.abs(m.m33() - 1) > 1e-6) {
            return false;
        }
        double largest = 0;
        for (int c = 0; c < 3; c++) {
            for (int r = 0; r < 3; r++) {
                largest = Math.max(largest, Math.abs(m.get(c, r)));
            }
        }
        return largest > 0 && Math.abs(m.determinant3x3()) > FLAT * largest * largest * largest;
    }
}
