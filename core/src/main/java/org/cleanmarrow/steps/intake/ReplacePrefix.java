package org.cleanmarrow.steps.intake;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Takes the prefix of a subject off the names of all nodes, or puts another in its place, whatever take it came from. */
@StepInfo(
        name = "replace-prefix",
        says = "Replaces or strips the prefix of names, such as pilot: or take_3:, over all takes.")
public record ReplacePrefix(
        @Parameter(says = "what names begin with now; * before a colon stands for any subject", fallback = "\"*:\"")
        String from,

        @Parameter(says = "what they are to begin with; empty to strip it", fallback = "\"\"")
        String to)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (from.isEmpty()) {
            throw new Refused("prefix.empty");
        }
        Change nodes = AllNames.renamed(asset, Rename.Kind.NODE, this::changed);
        // Channels that lost their joint still say whom they meant, and may find it under the new name.
        Asset aimed = nodes.asset();
        String[] names = aimed.nodes().stream().map(n -> n.name()).toArray(String[]::new);
        long found = 0;
        Asset out = aimed;
        for (int c = 0; c < aimed.clips().size(); c++) {
            var clip = aimed.clips().get(c);
            var channels = new java.util.ArrayList<>(clip.channels());
            for (int i = 0; i < channels.size(); i++) {
                var channel = channels.get(i);
                if (channel.node() < 0 && !channel.target().isEmpty()) {
                    int node = java.util.Arrays.asList(names).indexOf(changed(channel.target()));
                    if (node >= 0) {
                        channels.set(i, channel.withNode(node));
                        found++;
                    }
                }
            }
            var clips = new java.util.ArrayList<>(out.clips());
            clips.set(c, clip.withChannels(channels));
            out = found == 0 ? out : out.withClips(clips);
        }
        Change change = new Change(out, nodes.counts(), nodes.notes());
        return found == 0 ? change : change.count("channels.that.found.their.joint", found);
    }

    private String changed(String name) {
        if (from.equals("*:")) {
            int colon = name.lastIndexOf(':');
            return colon < 0 ? name : to + name.substring(colon + 1);
        }
        return name.startsWith(from) ? to + name.substring(from.length()) : name;
    }
}
