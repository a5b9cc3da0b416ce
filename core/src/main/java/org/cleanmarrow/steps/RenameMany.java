package org.cleanmarrow.steps;

import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

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
