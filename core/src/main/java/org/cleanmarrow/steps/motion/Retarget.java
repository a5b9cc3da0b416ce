package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.retarget.BodyRoles;
import org.cleanmarrow.retarget.ClipBody;
import org.cleanmarrow.retarget.Retargeting;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Clips of a skeleton that came along, such as a take's, made clips of the one that is skinned here, by what joints are in a human
 * body ({@link Retargeting}). The other skeleton then goes, unless something is left for it to do. Clips that move the skinned
 * skeleton itself, but hold its joints at other lengths, are taken for clips of a body of those lengths ({@link ClipBody}).
 */
@StepInfo(
        name = "retarget",
        says = "Makes clips of another skeleton, or of one of other lengths, move the skinned one, by roles.")
public record Retarget(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "feet that stand are held where they stand", fallback = "true")
        boolean feet)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        BitSet bearing = Skeletons.skinned(asset);
        if (bearing.isEmpty()) {
            throw new Refused("retarget.no.skin");
        }
        BitSet here = Skeletons.branches(asset, bearing);
        BodyRoles to = BodyRoles.of(asset, here);
        require(to, "retarget.no.hips.here");
        Map<BitSet, Retargeting> known = new HashMap<>();
        BitSet went = new BitSet();
        int[] matched = {0};
        int[] done = {0};
        double[] ratio = {1};
        Change change = Clips.each(asset, clips, work, clip -> {
            BitSet there = Skeletons.movedBy(asset, clip);
            if (there.intersects(here)) {
                if (!ClipBody.isOther(asset, clip)) {
                    return clip;
                }
                ClipBody made = new ClipBody(asset, clip, to, here);
                done[0]++;
                matched[0] = Math.max(matched[0], made.matched());
                ratio[0] = made.ratio();
                return clip.withChannels(made.channels(Timing.frames(clip, clip.rate()), feet, work))
                        .withRate(clip.rate());
            }
            Retargeting retargeting = known.get(there);
            if (retargeting == null) {
                BodyRoles from = BodyRoles.of(asset, there);
                require(from, "retarget.no.hips.there");
                retargeting = new Retargeting(
                        asset, from.roles(), to.roles(), named(asset, there, from, here, to), to.ahead());
                known.put(there, retargeting);
            }
            went.or(there);
            done[0]++;
            matched[0] = Math.max(matched[0], retargeting.matched());
            ratio[0] = retargeting.ratio();
            List<Channel> channels =
                    new ArrayList<>(retargeting.channels(clip, Timing.frames(clip, clip.rate()), feet, work));
            clip.channels().stream().filter(c -> c.node() < 0).forEach(channels::add);
            return clip.withChannels(channels).withRate(clip.rate());
        });
        if (done[0] == 0) {
            throw new Refused("retarget.none", clips);
        }
        return new Change(without(change.asset(), went), change.counts(), change.notes())
                .count("joints.matched", matched[0])
                .note("retarget.ratio", ratio[0]);
    }

    /** Joints without a role whose names are the same but for what all names of the other skeleton begin with. */
    private static Map<Integer, Integer> named(Asset asset, BitSet there, BodyRoles from, BitSet here, BodyRoles to) {
        String prefix = NamePattern.commonPrefix(from.roles().values().stream()
                .map(n -> asset.nodes().get(n).name())
                .toList());
        Map<String, Integer> own = new HashMap<>();
        here.stream()
                .filter(n -> !to.roles().containsValue(n))
                .forEach(n -> own.put(asset.nodes().get(n).name(), n));
        Map<Integer, Integer> out = new HashMap<>();
        for (int n = there.nextSetBit(0); n >= 0; n = there.nextSetBit(n + 1)) {
            String name = asset.nodes().get(n).name();
            Integer match = name.startsWith(prefix) ? own.get(name.substring(prefix.length())) : null;
            if (match != null
                    && name.length() > prefix.length()
                    && !from.roles().containsValue(n)) {
                out.put(match, n);
            }
        }
        return out;
    }

    private static void require(BodyRoles body, String otherwise) throws Refused {
        if (!body.roles().containsKey(Role.HIPS)) {
            throw new Refused(otherwise);
        }
    }

    /** Without skeletons that nothing hangs on and no clip moves any more. */
    private static Asset without(Asset asset, BitSet skeletons) {
        BitSet busy = asset.animatedNodes();
        for (int n = 0; n < asset.nodes().size(); n++) {
            boolean bears =
                    asset.nodes().get(n).mesh() >= 0 || asset.nodes().get(n).camera() >= 0;
            busy.set(n, busy.get(n) || bears);
        }
        asset.attached().forEach(a -> busy.set(a.node()));
        BitSet gone = (BitSet) skeletons.clone();
        gone.andNot(Skeletons.branches(asset, busy));
        if (gone.isEmpty()) {
            return asset;
        }
        BitSet skins = new BitSet();
        List<Skin> all = asset.skins();
        for (int s = 0; s < all.size(); s++) {
            boolean left = false;
            for (int n : all.get(s).joints()) {
                left |= !gone.get(n);
            }
            skins.set(s, left);
        }
        return asset.renumbered(Renumbering.NONE.keeping(Renumbering.Kind.SKIN, skins, all.size()))
                .without(gone);
    }
}
