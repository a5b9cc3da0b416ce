package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.measure.Simplified;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Simplifier;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Makes a part of fewer triangles, in its place or as a further level of detail beside it. Weights, texture coordinates
 * and seams are kept; what it costs is said in lengths, at rest and over all clips.
 */
@StepInfo(name = "simplify", says = "Makes a part of fewer triangles, in its place or as a level of detail beside it.")
public record Simplify(
        @Parameter(says = "node of the part") String part,

        @Parameter(says = "triangles to be left", least = 4) int triangles,

        @Parameter(
                says = "0 to change the part itself, 1 to 9 to add that level of detail beside it",
                fallback = "0",
                least = 0,
                most = 9)
        int level,

        @Parameter(
                says = "how much a difference of weights counts beside one of shape",
                fallback = "1",
                least = 0,
                most = 10)
        double weights)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, part);
        Node node = asset.nodes().get(n);
        if (node.mesh() < 0) {
            throw new Refused("part.no.mesh", asset.nodeRef(n));
        }
        if (triangles < 4 || level < 0 || level > 9 || !(weights >= 0 && weights <= 10)) {
            throw new Refused("simplify.range", triangles, level, weights);
        }
        Mesh mesh = asset.meshes().get(node.mesh());
        int before = mesh.triangleCount();
        work.at(-1, "simplifying " + mesh.name());
        Simplifier.Coarse made = Simplifier.simplified(mesh, triangles, weights);
        Mesh coarse = made.mesh();
        work.stopIfCancelled();
        Asset out = level == 0 ? asset.withMesh(node.mesh(), coarse, made.vertices()) : beside(asset, n, made);
        int at = level == 0 ? n : out.nodes().size() - 1;
        Simplified price = Simplified.measure(
                asset,
                new MeshPlace(n, node.mesh(), node.skin()),
                out,
                new MeshPlace(at, out.nodes().get(at).mesh(), node.skin()),
                work);
        Change change = Change.of(out)
                .count("triangles.before", before)
                .count("triangles.now", coarse.triangleCount())
                .note("simplify.rest", new Length(price.restMetres()));
        int pinched = pinched(coarse);
        if (pinched > pinched(mesh)) {
            change = change.note("simplify.edges", pinched);
        }
        if (coarse.triangleCount() > triangles * 1.05) {
            change = change.note("simplify.more", coarse.triangleCount(), triangles);
        }
        return price.frames() == 0
                ? change
                : change.note("simplify.clips", new Length(price.clipsMetres()), price.frames(), price.clip());
    }

    /** Edges of the welded surface with more than two triangles. */
    private static int pinched(Mesh mesh) {
        MeshTopology topology = MeshTopology.of(mesh);
        Map<Long, Integer> faces = new HashMap<>();
        for (int t = 0; t + 2 < topology.corners().length; t += 3) {
            for (int i = 0; i < 3; i++) {
                long a = topology.weldedOf(topology.corners()[t + i]);
                long b = topology.weldedOf(topology.corners()[t + (i + 1) % 3]);
                faces.merge(Math.min(a, b) << 32 | Math.max(a, b), 1, Integer::sum);
            }
        }
        return (int) faces.values().stream().filter(many -> many > 2).count();
    }

    private Asset beside(Asset asset, int n, Simplifier.Coarse made) throws Refused {
        Node node = asset.nodes().get(n);
        Mesh coarse = made.mesh();
        String name = LodFamilies.levelName(node.name().isEmpty() ? coarse.name() : node.name(), level);
        if (asset.nodes().stream().anyMatch(other -> other.name().equals(name))) {
            throw new Refused("name.taken", name);
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(coarse.withName(name));
        Node added = new Node(
                name,
                node.local(),
                new int[0],
                meshes.size() - 1,
                node.skin(),
                -1,
                node.weights(),
                node.ships(),
                org.cleanmarrow.model.Passthrough.NONE);
        Asset more = NewNodes.beside(asset, n, added);
        int twin = more.nodes().size() - 1;
        return more.withMeshes(meshes).mapCaches((at, track) -> at == twin ? track.ordered(made.vertices()) : track);
    }
}
