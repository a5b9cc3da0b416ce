package org.cleanmarrow.steps.intake;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Marks items to be delivered or to be left behind. Nothing is taken away before delivery. */
@StepInfo(
        name = "mark-for-export",
        formerly = "ship",
        says = "Marks parts, joints, clips and helpers to be exported or left out.")
public record MarkForExport(
        @Parameter(says = "which kind of item; loose: all that is neither joint nor skinned part", fallback = "\"any\"")
        Kind kind,

        @Parameter(says = "names, with * for any run of characters and commas between several", fallback = "\"*\"")
        String names,

        @Parameter(says = "only at and below this node", fallback = "null")
        Optional<String> below,

        @Parameter(says = "true to export, false to leave out", fallback = "false")
        boolean ships)
        implements Step {
    /** Kinds of items, as {@link Inventory} has them. */
    public enum Kind {
        ANY,
        PART,
        JOINT,
        CAMERA,
        LIGHT,
        MARKER,
        HELPER,
        CLIP,
        LOOSE;

        public boolean takes(Inventory.Item item, Asset asset) {
            return switch (this) {
                case ANY -> true;
                case LOOSE ->
                    item.kind() != Inventory.Kind.JOINT
                            && item.kind() != Inventory.Kind.CLIP
                            && asset.nodes().get(item.index()).skin() < 0;
                default -> item.kind().name().equals(name());
            };
        }
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(names);
        BitSet branch = branch(asset);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<Clip> clips = new ArrayList<>(asset.clips());
        long marked = 0;
        long fits = 0;
        for (Inventory.Item item : Inventory.of(asset)) {
            boolean clip = item.kind() == Inventory.Kind.CLIP;
            boolean inBranch = clip ? below.isEmpty() : branch.get(item.index());
            if (!inBranch || !kind.takes(item, asset) || !fits(pattern, item, asset)) {
                continue;
            }
            fits++;
            if (item.ships() != ships) {
                marked++;
                if (clip) {
                    clips.set(item.index(), clips.get(item.index()).withShips(ships));
                } else {
                    nodes.set(item.index(), nodes.get(item.index()).withShips(ships));
                }
            }
        }
        if (fits == 0) {
            throw new Refused("ship.none", names);
        }
        return Change.of(asset.withNodes(nodes).withClips(clips))
                .count(ships ? "items.to.be.delivered" : "items.left.behind", marked);
    }

    private static boolean fits(NamePattern pattern, Inventory.Item item, Asset asset) {
        String name = item.kind() == Inventory.Kind.CLIP
                ? asset.clips().get(item.index()).name()
                : asset.nodes().get(item.index()).name();
        return pattern.fits(item.ref()) || pattern.fits(name);
    }

    private BitSet branch(Asset asset) throws Refused {
        BitSet out = new BitSet();
        if (below.isEmpty()) {
            out.set(0, asset.nodes().size());
            return out;
        }
        Deque<Integer> left = new ArrayDeque<>(List.of(Names.node(asset, below.get())));
        while (!left.isEmpty()) {
            int n = left.pop();
            out.set(n);
            for (int child : asset.nodes().get(n).children()) {
                left.push(child);
            }
        }
        return out;
    }
}
