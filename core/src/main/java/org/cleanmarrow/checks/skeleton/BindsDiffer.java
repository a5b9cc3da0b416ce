package org.cleanmarrow.checks.skeleton;

import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skeleton.Rebind;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Joints that two skins share and that each has bound in another place, so that there is no one bind pose. */
public final class BindsDiffer implements Check {
    @Override
    public String id() {
        return "binds-differ";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Map<Integer, Matrix4d> known = new HashMap<>();
        Set<Integer> differ = new LinkedHashSet<>();
        for (Skin skin : asset.skins()) {
            for (int j = 0; j < skin.joints().length; j++) {
                Matrix4d bind = skin.inverseBind(j);
                Matrix4d before = known.putIfAbsent(skin.joints()[j], bind);
                double reach = 1 + bind.getTranslation(new Vector3d()).length();
                if (before != null && !before.equals(bind, 1e-4 * reach)) {
                    differ.add(skin.joints()[j]);
                }
            }
        }
        if (differ.isEmpty()) {
            return List.of();
        }
        int first = differ.iterator().next();
        return List.of(Finding.of(
                        this,
                        Severity.CAUTION,
                        "",
                        asset.nodeRef(first),
                        differ.size(),
                        differ.size(),
                        asset.nodeRef(first))
                .at(Finding.Place.node(first))
                .fixedBy(new Rebind()));
    }
}
