package org.cleanmarrow.steps.intake;

import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Renames several nodes, meshes, clips or materials at once, so that names may also be exchanged. */
@StepInfo(name = "rename-many", says = "Renames several nodes, meshes, clips or materials by a list.")
public record RenameMany(
        @Parameter(says = "node, mesh, clip or material") Rename.Kind kind,

        @Parameter(says = "names now and the names to give; those that are not there are passed over")
        Map<String, String> names)
        implements Step {
    public RenameMany {
        names = Collections.unmodifiableMap(new TreeMap<>(names));
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return AllNames.renamed(asset, kind, name -> names.getOrDefault(name, name));
    }
}
