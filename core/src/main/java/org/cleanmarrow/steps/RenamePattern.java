package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

/** Renames by a pattern: what its signs stand for goes where the new name has signs. */
@StepInfo(name = "rename-pattern", says = "Renames by a pattern such as cape_* to ferry_cape_*.")
public record RenamePattern(
        @Parameter(says = "node, mesh, clip or material") Rename.Kind kind,

        @Parameter(says = "pattern with * for any run of characters and ? for one")
        String find,

        @Parameter(says = "new name, with signs for what they stood for in the pattern, in order")
        String replace)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(find);
        return AllNames.renamed(
                asset, kind, name -> pattern.replaced(name, replace).orElse(name));
    }
}
