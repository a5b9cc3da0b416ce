package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Gives meshes the names of their nodes, or nodes those of their meshes, as engines that show only one of them want. */
@StepInfo(name = "match-names", says = "Gives every mesh the name of its node, or every node the name of its mesh.")
public record MatchNames(
        @Parameter(says = "whose name is kept", fallback = "\"node\"")
        Keep keep) implements Step {
    /** Whose name stays. */
    public enum Keep {
        NODE,
        MESH
    }

    @Override
    public Change apply(Asset asset, Work work) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        Set<Integer> seen = new HashSet<>();
        Set<String> taken = new HashSet<>();
        nodes.stream().map(Node::name).forEach(taken::add);
        long renamed = 0;
        long shared = 0;
        for (int n = 0; n < nodes.size(); n++) {
            Node node = nodes.get(n);
            if (node.mesh() < 0 || meshes.get(node.mesh()).name().equals(node.name())) {
                seen.add(node.mesh());
                continue;
            }
            Mesh mesh = meshes.get(node.mesh());
            if (!seen.add(node.mesh())) {
                // A mesh that stands in several places has the name of the first.
                shared++;
            } else if (keep == Keep.NODE && !node.name().isEmpty()) {
                meshes.set(node.mesh(), mesh.withName(node.name()));
                renamed++;
            } else if (!mesh.name().isEmpty() && taken.add(mesh.name())) {
                nodes.set(n, node.withName(mesh.name()));
                renamed++;
            }
        }
        Change change = Change.of(asset.withNodes(nodes).withMeshes(meshes)).count("names.made.equal", renamed);
        return shared == 0 ? change : change.note("names.shared", shared);
    }
}
