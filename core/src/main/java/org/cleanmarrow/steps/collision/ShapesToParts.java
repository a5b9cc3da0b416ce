package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeMesh;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Makes collision shapes parts that a receiver knows by their names alone, each below the node that the shape follows; what is round
 * in facets ({@link ShapeMesh}). A part that collides as it is drawn is there a second time. The way back is
 * {@link ShapesFromParts}.
 */
@StepInfo(
        name = "shapes-to-parts",
        says = "Makes collision shapes parts whose names say what they are, by a name rule.")
public record ShapesToParts(
        @Parameter(
                says = "names of shapes or of their nodes, with commas between and * for any run of characters",
                fallback = "\"*\"")
        String shapes,

        @Parameter(
                says = "name rule of the parts, with * for the name of the node, numbered where it has several",
                fallback = "\"*_collision\"")
        String rule,

        @Parameter(says = "true: the shapes stay as well", fallback = "false")
        boolean keep)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!rule.contains("*") || rule.length() < 2) {
            throw new Refused("shapes.rule", rule);
        }
        List<Collider> chosen = Bodies.named(asset, shapes);
        Set<String> taken = new HashSet<>();
        asset.nodes().forEach(n -> taken.add(n.name()));
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        List<Attached> left = new ArrayList<>(asset.attached());
        List<String> skinned = new ArrayList<>();
        Asset out = asset;
        int done = 0;
        for (Collider c : chosen) {
            work.stopIfCancelled();
            Node node = asset.nodes().get(c.node());
            boolean drawn = c.shape() instanceof Shape.Drawn;
            if (drawn && (node.mesh() < 0 || node.skin() >= 0)) {
                skinned.add(asset.nodeRef(c.node()));
                continue;
            }
            String name = rule.replace("*", node.name());
            for (int i = 2; !taken.add(name); i++) {
                name = rule.replace("*", node.name() + "_" + i);
            }
            Frame at = drawn || c.shape() instanceof Shape.Solid ? c.at() : c.at().proper(false);
            int mesh = node.mesh();
            if (!drawn) {
                mesh = meshes.size();
                meshes.add(mesh(name, ShapeMesh.of(c.shape())));
            }
            Vector3d scale = new Vector3d(at.mirrored() ? -1 : 1, 1, 1);
            out = NewNodes.under(
                    out,
                    c.node(),
                    new Node(
                            name,
                            Local.of(new Vector3d(at.origin()), new Quaterniond(at.turn()), scale),
                            new int[0],
                            mesh,
                            -1,
                            -1,
                            new float[0],
                            true,
                            Passthrough.NONE));
            done++;
            if (!keep) {
                left.remove(c);
            }
        }
        if (done == 0) {
            throw new Refused("shapes.to.none", shapes);
        }
        Change change = Change.of(out.withMeshes(meshes).withAttached(left)).count("shapes.to.parts", done);
        return skinned.isEmpty() ? change : change.note("shapes.to.skinned", String.join(", ", skinned));
    }

    private static Mesh mesh(String name, ShapeMesh shape) {
        return Mesh.of(name, Primitive.triangles(shape.triangles(), shape.points(), null, -1));
    }
}
