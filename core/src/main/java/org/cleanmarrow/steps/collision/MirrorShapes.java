package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.naming.SideWords;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Gives the other side the shapes of one: seen at rest in a mirror that stands at the world's origin, side words in the names of
 * node and shape swapped. What the twin had under that name is replaced. A shape at a node without a side becomes a second one
 * at that node, where its own name says a side.
 */
@StepInfo(name = "mirror-shapes", says = "Gives the other side the collision shapes of one, across a plane.")
public record MirrorShapes(
        @Parameter(says = "names of shapes or of their nodes, with commas between and * for any run of characters")
        String shapes,

        @Parameter(
                says = "side: between left and right; up: between up and down; front: between front and back",
                fallback = "\"side\"")
        MirrorPart.Across across)
        implements Step {
    public MirrorShapes(String shapes) {
        this(shapes, MirrorPart.Across.SIDE);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Matrix4d mirror = new Matrix4d().set3x3(across.mirror(asset.conventions()));
        Matrix4d[] world = new Rig(asset).rest().world();
        List<Attached> all = new ArrayList<>(asset.attached());
        List<String> alone = new ArrayList<>();
        int done = 0;
        for (Collider c : Bodies.named(asset, shapes)) {
            String node = asset.nodes().get(c.node()).name();
            int twin = SideWords.swapped(node).map(asset::findNode).orElse(c.node());
            String name = SideWords.swapped(c.name()).orElse(c.name());
            if (twin < 0 || twin == c.node() && name.equals(c.name())) {
                alone.add(Bodies.name(asset, c));
                continue;
            }
            Matrix4d there = world[twin].invert(new Matrix4d()).mul(mirror).mul(world[c.node()]);
            Collider made = c.moved(there).withNode(twin).withName(name);
            Optional<Collider> was = Bodies.at(asset, twin, name);
            was.ifPresent(all::remove);
            all.add(made.withShape(made.at().proper(false), made.shape()));
            done++;
        }
        if (done == 0) {
            throw new Refused("mirror.shapes.none", shapes);
        }
        Change change = Change.of(asset.withAttached(all)).count("shapes.mirrored", done);
        return alone.isEmpty() ? change : change.note("mirror.shapes.alone", String.join(", ", alone));
    }
}
