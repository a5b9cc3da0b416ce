package org.cleanmarrow.steps.skeleton;

import java.util.Optional;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Hangs a joint or part below another. It stays where it is in every frame, or keeps its own numbers and so moves. */
@StepInfo(name = "reparent", says = "Hangs a joint or part below another, in its place or with its own numbers.")
public record Reparent(
        @Parameter(says = "the node") String node,

        @Parameter(says = "the parent; null for none", fallback = "null")
        Optional<String> to,

        @Parameter(says = "true to stay in its place in every frame, false to keep its own numbers", fallback = "true")
        boolean inPlace)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, node);
        int parent = to.isPresent() ? Names.node(asset, to.get()) : -1;
        if (asset.parents()[n] == parent) {
            return Change.of(asset).count("nodes.hung.elsewhere", 0);
        }
        ReparentKeepingWorld rehang = new ReparentKeepingWorld(asset);
        rehang.hang(n, parent);
        Asset out = rehang.done(work);
        if (!inPlace) {
            var nodes = new java.util.ArrayList<>(out.nodes());
            nodes.set(n, nodes.get(n).withLocal(asset.nodes().get(n).local()));
            out = out.withNodes(nodes).withClips(asset.clips());
        }
        return Change.of(out).count("nodes.hung.elsewhere", 1);
    }
}
