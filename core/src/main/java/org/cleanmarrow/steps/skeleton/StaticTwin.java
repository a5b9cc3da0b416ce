package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Adds a part that is at rest exactly what a skinned one is, and that nothing moves. */
@StepInfo(name = "static-twin", says = "Adds a static copy of a part, the same at rest, that no joint moves.")
public record StaticTwin(
        @Parameter(says = "node of the part") String part,
        @Parameter(says = "name of the copy") String name) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, part);
        Node node = asset.nodes().get(n);
        if (node.mesh() < 0) {
            throw new Refused("part.no.mesh", asset.nodeRef(n));
        }
        if (name.isBlank() || asset.nodes().stream().anyMatch(x -> x.name().equals(name))) {
            throw new Refused("name.taken", name);
        }
        // The snapshot lists every use of a mesh in the order of nodes.
        int place = (int)
                asset.nodes().subList(0, n).stream().filter(x -> x.mesh() >= 0).count();
        Mesh still = RestSnapshot.of(asset).meshes().get(place).withName(name);
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(still);
        Node added = Node.group(name, Local.IDENTITY).withMesh(meshes.size() - 1, -1);
        return Change.of(NewNodes.under(asset, -1, added).withMeshes(meshes)).count("still.twins.made", 1);
    }
}
