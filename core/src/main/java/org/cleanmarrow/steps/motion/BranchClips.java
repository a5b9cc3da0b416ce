package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.NamedBranches;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Gives parts and branches of joints clips of their own, as {@code walk_left_arm}: what moves each node that is named, and what hangs
 * on it down to the next that is named. What moves others stays in the clip, which goes where nothing is left. Played together they
 * are the clip that was.
 */
@StepInfo(
        name = "branch-clips",
        says = "Gives parts or branches of joints clips of their own, and leaves the rest in the clip.")
public record BranchClips(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(
                says =
                        "names of the parts or first joints of branches, with * for any run of characters and commas between several")
        String joints,

        @Parameter(says = "the whole clips stay too", fallback = "false")
        boolean keep)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int[] branch = NamedBranches.of(asset, joints);
        BitSet chosen = Clips.chosen(asset, clips);
        if (chosen.isEmpty()) {
            throw new Refused("no.clips", clips);
        }
        Set<String> names = new HashSet<>();
        asset.clips().forEach(c -> names.add(c.name()));
        List<Clip> out = new ArrayList<>();
        int made = 0;
        for (int c = 0; c < asset.clips().size(); c++) {
            work.stopIfCancelled();
            Clip clip = asset.clips().get(c);
            Map<Integer, List<Channel>> shares = chosen.get(c) ? shares(clip, branch) : Map.of();
            List<Channel> rest = shares.getOrDefault(-1, List.of());
            boolean whole = keep || shares.keySet().stream().noneMatch(n -> n >= 0);
            if (whole || !rest.isEmpty()) {
                out.add(whole ? clip : clip.withChannels(rest));
            }
            for (Map.Entry<Integer, List<Channel>> share : shares.entrySet()) {
                if (share.getKey() >= 0) {
                    String name = clip.name() + "_"
                            + asset.nodes().get(share.getKey()).name();
                    if (!names.add(name)) {
                        throw new Refused("clip.name.taken", name);
                    }
                    out.add(clip.withName(name).withChannels(share.getValue()));
                    made++;
                }
            }
        }
        if (made == 0) {
            throw new Refused("branch.still", clips, joints);
        }
        return Change.of(asset.withClips(out)).count("clips.made", made);
    }

    private static Map<Integer, List<Channel>> shares(Clip clip, int[] branch) {
        Map<Integer, List<Channel>> out = new TreeMap<>();
        for (Channel channel : clip.channels()) {
            int of = channel.node() < 0 ? -1 : branch[channel.node()];
            out.computeIfAbsent(of, k -> new ArrayList<>()).add(channel);
        }
        return out;
    }
}
