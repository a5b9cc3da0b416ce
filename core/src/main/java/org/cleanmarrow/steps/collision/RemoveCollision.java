package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Takes shapes, bodies or their joints away again; nodes and what is drawn stay. A body goes with the joints at both its sides. */
@StepInfo(name = "remove-collision", says = "Takes collision shapes, bodies or joints between bodies away.")
public record RemoveCollision(
        @Parameter(says = "names of nodes, and of shapes too, with commas between and * for any run of characters")
        String names,

        @Parameter(says = "shapes, bodies with their joints, joints alone, or all", fallback = "\"shapes\"")
        What what)
        implements Step {
    /** What goes. */
    public enum What {
        SHAPES,
        BODIES,
        JOINTS,
        ALL
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<Collider> shapes = Bodies.named(asset, names);
        BitSet nodes = new BitSet();
        Names.nodes(asset, names).forEach(nodes::set);
        List<Attached> all = new ArrayList<>(asset.attached());
        all.removeIf(a -> switch (a) {
            case Collider c -> (what == What.SHAPES || what == What.ALL) && shapes.contains(c);
            case RigidBody b -> (what == What.BODIES || what == What.ALL) && nodes.get(b.node());
            case RigidJoint j ->
                what != What.SHAPES
                        && (nodes.get(j.node()) || what != What.JOINTS && j.other() >= 0 && nodes.get(j.other()));
            default -> false;
        });
        int gone = asset.attached().size() - all.size();
        if (gone == 0) {
            throw new Refused("remove.collision.none", names);
        }
        return Change.of(asset.withAttached(all)).count("collision.removed", gone);
    }
}
