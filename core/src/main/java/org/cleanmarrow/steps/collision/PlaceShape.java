package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeNumbers;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Puts a shape at a node by numbers, or moves, turns and sizes the one of that name there. Numbers are along the node's axes,
 * its scale taken out ({@link ShapeNumbers}).
 */
@StepInfo(name = "place-shape", says = "Puts a collision shape at a node, or moves, turns and sizes one, by numbers.")
public record PlaceShape(
        @Parameter(says = "node that the shape follows") String node,

        @Parameter(says = "name of the shape; none: the one without a name", fallback = "\"\"")
        String name,

        @Parameter(says = "what it is; as_is: what the shape there is already", fallback = "\"as_is\"")
        Kind kind,

        @Parameter(says = "middle, along the node's x", fallback = "0", unit = "metres", least = -1e6, most = 1e6)
        double x,

        @Parameter(says = "middle, along the node's y", fallback = "0", unit = "metres", least = -1e6, most = 1e6)
        double y,

        @Parameter(says = "middle, along the node's z", fallback = "0", unit = "metres", least = -1e6, most = 1e6)
        double z,

        @Parameter(says = "turn about x, before those about y and z", fallback = "0", unit = "degrees")
        double turnX,

        @Parameter(says = "turn about y", fallback = "0", unit = "degrees")
        double turnY,

        @Parameter(says = "turn about z", fallback = "0", unit = "degrees")
        double turnZ,

        @Parameter(
                says = "full size along its x, a round one's diameter; 0: as it is",
                fallback = "0",
                unit = "metres",
                least = 0,
                most = 1e6)
        double width,

        @Parameter(
                says = "full size along its y, with the ends of a capsule; 0: as it is",
                fallback = "0",
                unit = "metres",
                least = 0,
                most = 1e6)
        double height,

        @Parameter(says = "full size along its z; 0: as it is", fallback = "0", unit = "metres", least = 0, most = 1e6)
        double depth)
        implements Step {
    private static final double MOST = 1e6;

    /** What the shape is. */
    public enum Kind {
        AS_IS,
        BOX,
        SPHERE,
        CAPSULE,
        CYLINDER
    }

    /** What a form or a handle says of a shape. */
    public PlaceShape(String node, String name, Kind kind, ShapeNumbers n) {
        this(
                node,
                name,
                kind,
                n.middle().x(),
                n.middle().y(),
                n.middle().z(),
                n.degrees().x(),
                n.degrees().y(),
                n.degrees().z(),
                n.size().x(),
                n.size().y(),
                n.size().z());
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        ShapeNumbers numbers = numbers();
        int n = Names.node(asset, node);
        List<Attached> all = new ArrayList<>(asset.attached());
        Optional<Collider> there = Bodies.at(asset, n, name);
        Collider made;
        if (there.isEmpty()) {
            made = fresh(n, numbers);
        } else {
            Collider inMetres = there.get().moved(Bodies.toMetres(asset, n));
            if (inMetres.shape() instanceof Shape.Drawn) {
                throw new Refused("place.shape.drawn", node);
            }
            ShapeNumbers sized = numbers.over(ShapeNumbers.of(inMetres));
            made = kind == Kind.AS_IS
                    ? sized.applied(inMetres)
                    : inMetres.withShape(sized.frame(), shape(sized.size()));
        }
        Matrix4d back = Bodies.toMetres(asset, n).invert();
        if (!back.isFinite()) {
            throw new Refused("place.shape.flat", node);
        }
        Collider placed = made.moved(back);
        if (there.isPresent()) {
            all.set(all.indexOf(there.get()), placed);
        } else {
            all.add(placed);
        }
        return Change.of(asset.withAttached(all)).count("shapes.placed", 1);
    }

    private ShapeNumbers numbers() throws Refused {
        ShapeNumbers out = new ShapeNumbers(
                new Vector3d(x, y, z), new Vector3d(turnX, turnY, turnZ), new Vector3d(width, height, depth));
        boolean inRange = out.middle().isFinite()
                && Math.abs(out.middle().get(out.middle().maxComponent())) <= MOST
                && out.degrees().isFinite()
                && out.size().isFinite()
                && out.size().get(out.size().minComponent()) >= 0
                && out.size().get(out.size().maxComponent()) <= MOST;
        if (!inRange) {
            throw new Refused("place.shape.range");
        }
        return out;
    }

    private Collider fresh(int n, ShapeNumbers numbers) throws Refused {
        if (kind == Kind.AS_IS) {
            throw new Refused("place.shape.none", node, name);
        }
        boolean sized = width > 0 && (kind == Kind.SPHERE || height > 0) && (kind != Kind.BOX || depth > 0);
        if (!sized) {
            throw new Refused("place.shape.size", width, height, depth);
        }
        return new Collider(
                name, n, numbers.frame(), shape(numbers.size()), Collider.Role.SOLID, Surface.PLAIN, Filter.ALL);
    }

    private Shape shape(Vector3d size) {
        double radius = size.x / 2;
        return switch (kind) {
            case SPHERE -> new Shape.Sphere(radius);
            case CAPSULE -> new Shape.Capsule(radius, radius, Math.max(0, size.y - size.x));
            case CYLINDER -> new Shape.Cylinder(radius, radius, size.y);
            default -> new Shape.Box(size.x, size.y, size.z);
        };
    }
}
