package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Local;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Node;
import org.cleanmarrow.standing.Standing;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

/** Adds a part that is at rest exactly what a skinned one is, and that nothing moves. */
@StepInfo(name = "static-twin", says = "Adds a still twin of a part, the same at rest, that no joint moves.")
public record StaticTwin(
        @Parameter(says = "node of the part") String part,
        @Parameter(says = "name of the twin") String name) implements Step {
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
        // Standing lists every use of a mesh in the order of nodes.
        int place = (int)
                asset.nodes().subList(0, n).stream().filter(x -> x.mesh() >= 0).count();
        Mesh still = Standing.of(asset).meshes().get(place).withName(name);
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(still);
        Node added = Node.group(name, Local.IDENTITY).withMesh(meshes.size() - 1, -1);
        return Change.of(NewNodes.under(asset, -1, added).withMeshes(meshes)).count("still twins made", 1);
    }
}
