package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.retarget.BodyRoles;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.steps.motion.Retarget;

/** Clips that move a body without a mesh, such as a take's, while another is skinned here. */
public final class SkeletonsApart implements Check {
    @Override
    public String id() {
        return "skeleton-apart";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        BitSet skinned = Skeletons.skinned(asset);
        if (skinned.isEmpty()) {
            return List.of();
        }
        BitSet taken = Skeletons.branches(asset, skinned);
        for (int n = 0; n < asset.nodes().size(); n++) {
            taken.set(n, taken.get(n) || asset.nodes().get(n).mesh() >= 0);
        }
        Map<BitSet, Boolean> bodies = new HashMap<>();
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            BitSet there = Skeletons.movedBy(asset, clip);
            if (there.isEmpty() || there.intersects(taken)) {
                continue;
            }
            if (bodies.computeIfAbsent(there, b -> isBody(asset, b))) {
                out.add(Finding.of(this, Severity.CAUTION, "", clip.name(), 1, clip.name())
                        .at(Finding.Place.clip(c))
                        .fixedBy(new Retarget(NamePattern.exactly(clip.name()), true)));
            }
        }
        return out;
    }

    private static boolean isBody(Asset asset, BitSet nodes) {
        return BodyRoles.of(asset, nodes).roles().containsKey(Role.HIPS);
    }
}
