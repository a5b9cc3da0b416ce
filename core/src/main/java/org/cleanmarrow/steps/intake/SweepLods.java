package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Leaves behind every level of detail but one. */
@StepInfo(name = "sweep-lods", says = "Of parts with levels of detail exports one level and leaves the others out.")
public record SweepLods(
        @Parameter(
                says = "the level to deliver; the nearest coarser one where a family lacks it",
                fallback = "0",
                least = 0)
        int keep)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (keep < 0) {
            throw new Refused("lods.level", keep);
        }
        List<LodFamilies.Family> families = LodFamilies.of(asset);
        if (families.isEmpty()) {
            throw new Refused("lods.none");
        }
        List<Node> nodes = new ArrayList<>(asset.nodes());
        long left = 0;
        for (LodFamilies.Family family : families) {
            int level = family.members().stream()
                    .mapToInt(LodFamilies.Member::level)
                    .filter(l -> l >= keep)
                    .findFirst()
                    .orElse(family.members().getLast().level());
            for (LodFamilies.Member member : family.members()) {
                boolean ships = member.level() == level;
                left += nodes.get(member.node()).ships() && !ships ? 1 : 0;
                nodes.set(member.node(), nodes.get(member.node()).withShips(ships));
            }
        }
        return Change.of(asset.withNodes(nodes)).count("levels.left.behind", left);
    }
}
