package org.cleanmarrow.steps.intake;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

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
