package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.edit.BodyCarriers;
import org.cleanmarrow.edit.BoneLengths;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.retarget.BodyRoles;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.steps.motion.FitTranslations;
import org.cleanmarrow.steps.motion.Retarget;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Step;
import org.joml.Vector3d;

/**
 * Clips that hold joints at other lengths than they rest at: takes of another body than the one that was taken for all, or clips made
 * on a skeleton of the same names. What stretches and shrinks is meant to; units taken for others are another check's.
 */
public final class OtherProportions implements Check {
    /** A share of the asset's size; a millimetre on a person. */
    private static final double SEEN = 5e-4;

    private static final double MIX_UP = 0.03;

    /** A bone, with its lengths in the asset's world. */
    private record Held(int node, double there, double here) {
        double off() {
            return Math.abs(there - here);
        }
    }

    @Override
    public String id() {
        return "other-proportions";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        boolean[] carries = BodyCarriers.of(asset, "");
        double seen = SEEN * examination.box().diagonal();
        double metres = asset.conventions().metresPerUnit();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            List<Held> held = held(examination, clip, carries);
            held.removeIf(h -> h.off() <= seen);
            if (held.isEmpty()) {
                continue;
            }
            Held most = held.stream().max(Comparator.comparingDouble(Held::off)).orElseThrow();
            String joint = asset.nodeRef(most.node);
            Length there = new Length(most.there * metres);
            Length here = new Length(most.here * metres);
            out.add(Finding.of(
                            this,
                            Severity.CAUTION,
                            "",
                            clip.name(),
                            held.size(),
                            clip.name(),
                            held.size(),
                            joint,
                            there,
                            here)
                    .at(Finding.Place.clip(c))
                    .fixedBy(fix(asset, clip)));
        }
        return out;
    }

    /** Bones that a clip holds at another length; none where it is a unit that was taken for another. */
    private static List<Held> held(Examination examination, Clip clip, boolean[] carries) {
        Asset asset = examination.asset();
        List<Held> out = new ArrayList<>();
        int[] parents = asset.parents();
        List<Double> ratios = new ArrayList<>();
        for (Channel channel : clip.channels()) {
            int node = channel.node();
            if (node < 0 || carries[node] || channel.path() != Channel.Path.TRANSLATION) {
                continue;
            }
            BoneLengths lengths = new BoneLengths(asset, channel);
            if (lengths.isOther()) {
                Vector3d at = place(examination, node);
                double here = at.distance(place(examination, parents[node]));
                ratios.add(1 / lengths.factor());
                out.add(new Held(node, here / lengths.factor(), here));
            }
        }
        ratios.sort(null);
        boolean unit = !ratios.isEmpty()
                && MixUps.of(ratios.get(ratios.size() / 2), MIX_UP).isPresent();
        return unit ? new ArrayList<>() : out;
    }

    private static Vector3d place(Examination examination, int node) {
        return examination.world()[node].getTranslation(new Vector3d());
    }

    /** Retargeted where the body is known; otherwise the lengths alone. */
    private static Step fix(Asset asset, Clip clip) {
        String name = NamePattern.exactly(clip.name());
        BitSet moved = Skeletons.movedBy(asset, clip);
        boolean body = moved.intersects(Skeletons.skinned(asset))
                && BodyRoles.of(asset, moved).roles().containsKey(Role.HIPS);
        return body ? new Retarget(name, true) : new FitTranslations(name, "");
    }
}
