package org.cleanmarrow.formats.gltf;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Quaterniondc;
import org.joml.Vector3d;
import org.joml.Vector3dc;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Colliders, bodies and what joins them, spelled as {@code KHR_implicit_shapes} and {@code KHR_physics_rigid_bodies} (the
 * drafts of 2025, from memory). What stands off its node's origin, and what has a name, gets a node of its own below; a
 * surface that is not drawn becomes a mesh that no node shows.
 */
final class RigidBodiesWriter {
    static final String SHAPES = "KHR_implicit_shapes";
    static final String BODIES = "KHR_physics_rigid_bodies";

    /** By node; of one node bodies first, joints last. */
    static final Comparator<Attached> ORDER = Comparator.comparingInt(Attached::node)
            .thenComparingInt(a -> a instanceof RigidBody ? 0 : a instanceof Collider ? 1 : 2);

    private static final JsonNodeFactory MAKE = JsonNodeFactory.instance;

    private final Asset asset;
    private final List<Node> nodes;
    private final List<Mesh> meshes;
    private final Map<Integer, List<Integer>> below = new HashMap<>();
    private final Map<Integer, ObjectNode> said = new HashMap<>();
    private final Map<Shape, Integer> shapes = new HashMap<>();
    private final Map<Surface, Integer> surfaces = new HashMap<>();
    private final Map<Filter, Integer> filters = new HashMap<>();
    private final ArrayNode shapeList = MAKE.arrayNode();
    private final ArrayNode surfaceList = MAKE.arrayNode();
    private final ArrayNode filterList = MAKE.arrayNode();
    private final ArrayNode jointList = MAKE.arrayNode();
    private final Matrix4d[] world;

    private RigidBodiesWriter(Asset asset) {
        this.asset = asset;
        nodes = new ArrayList<>(asset.nodes());
        meshes = new ArrayList<>(asset.meshes());
        world = new Rig(asset).rest().world();
    }

    /** The asset with these things in its nodes' and its own extensions, in place of what was attached. */
    static Asset spelled(Asset asset) {
        return asset.attached().isEmpty() ? asset : new RigidBodiesWriter(asset).run();
    }

    private Asset run() {
        List<Attached> sorted = new ArrayList<>(asset.attached());
        sorted.sort(ORDER);
        // First what stands at its node itself, as it will be read, so that writing again gives the same bytes.
        for (boolean itself : new boolean[] {true, false}) {
            for (Attached thing : sorted) {
                switch (thing) {
                    case RigidBody body when itself -> body(body);
                    case Collider c when itself == standsThere(c.name(), c.at().proper(false)) -> collider(c);
                    case RigidJoint j when itself == standsThere(j.name(), j.at().proper(true)) -> joint(j.proper());
                    default -> {
                        // No other kind has a place in these extensions.
                    }
                }
            }
        }
        below.forEach((parent, made) -> {
            int[] there = nodes.get(parent).children();
            int[] all = Arrays.copyOf(there, there.length + made.size());
            for (int i = 0; i < made.size(); i++) {
                all[there.length + i] = made.get(i);
            }
            nodes.set(parent, nodes.get(parent).withChildren(all));
        });
        said.forEach((n, json) ->
                nodes.set(n, nodes.get(n).withCarried(extended(nodes.get(n).carried(), BODIES, json))));
        Passthrough carried = asset.carried();
        if (!shapeList.isEmpty()) {
            carried = extended(carried, SHAPES, (ObjectNode) MAKE.objectNode().set("shapes", shapeList));
        }
        ObjectNode shared = MAKE.objectNode();
        unlessEmpty(shared, "physicsMaterials", surfaceList);
        unlessEmpty(shared, "collisionFilters", filterList);
        unlessEmpty(shared, "physicsJoints", jointList);
        if (!shared.isEmpty()) {
            carried = extended(carried, BODIES, shared);
        }
        return asset.withNodes(nodes).withMeshes(meshes).withCarried(carried).withAttached(List.of());
    }

    private static void unlessEmpty(ObjectNode out, String key, ArrayNode list) {
        if (!list.isEmpty()) {
            out.set(key, list);
        }
    }

    private static Passthrough extended(Passthrough carried, String name, ObjectNode value) {
        ObjectNode json = GltfWriter.carried(carried);
        ObjectNode extensions =
                json.get("extensions") instanceof ObjectNode there ? there : json.putObject("extensions");
        extensions.set(name, value);
        return new Passthrough(json.toString());
    }

    private ObjectNode at(int node) {
        return said.computeIfAbsent(node, n -> MAKE.objectNode());
    }

    private int child(int parent, String name, Vector3dc origin, Quaterniondc turn, Vector3d size) {
        int made = nodes.size();
        nodes.add(Node.group(name, Local.of(new Vector3d(origin), new Quaterniond(turn), size)));
        below.computeIfAbsent(parent, p -> new ArrayList<>()).add(made);
        return made;
    }

    private static boolean standsThere(String name, Frame at) {
        return at.isNone() && name.isEmpty();
    }

    /** The node itself where it stands there, has no name and nothing of the kind is there yet; otherwise one below it. */
    private int place(int node, String name, Frame at, String... kinds) {
        ObjectNode there = said.get(node);
        boolean taken = there != null && Arrays.stream(kinds).anyMatch(there::has);
        return standsThere(name, at) && !taken ? node : child(node, name, at.origin(), at.turn(), new Vector3d(1));
    }

    private void collider(Collider collider) {
        boolean trigger = collider.role() == Collider.Role.TRIGGER;
        int node = place(collider.node(), collider.name(), collider.at().proper(false), "collider", "trigger");
        ObjectNode out = at(node).putObject(trigger ? "trigger" : "collider");
        geometry(out.putObject("geometry"), collider);
        if (!collider.surface().equals(Surface.PLAIN) && !trigger) {
            out.put("physicsMaterial", surfaces.computeIfAbsent(collider.surface(), this::surface));
        }
        if (!collider.filter().equals(Filter.ALL)) {
            out.put("collisionFilter", filters.computeIfAbsent(collider.filter(), this::filter));
        }
        if (collider.role() == Collider.Role.QUERY) {
            out.putObject("extras").put("role", collider.role().code());
        }
    }

    private void geometry(ObjectNode out, Collider collider) {
        switch (collider.shape()) {
            case Shape.Drawn drawn -> {
                GltfWriter.index(out, "mesh", asset.nodes().get(collider.node()).mesh());
                if (drawn.convex()) {
                    out.put("convexHull", true);
                }
            }
            case Shape.Solid solid -> {
                out.put("mesh", meshes.size());
                meshes.add(Mesh.of(collider.name(), surface(solid)));
                if (solid.convex()) {
                    out.put("convexHull", true);
                }
            }
            default -> out.put("shape", shapes.computeIfAbsent(collider.shape(), this::shape));
        }
    }

    private static Primitive surface(Shape.Solid solid) {
        return new Primitive(
                Primitive.Mode.TRIANGLES,
                solid.triangles(),
                solid.points(),
                null,
                null,
                List.of(),
                null,
                List.of(),
                -1,
                Primitive.Layout.PLAIN,
                Passthrough.NONE);
    }

    private int shape(Shape shape) {
        ObjectNode out = shapeList.addObject();
        ObjectNode sizes = MAKE.objectNode();
        switch (shape) {
            case Shape.Box b -> sizes.putArray("size").add(b.x()).add(b.y()).add(b.z());
            case Shape.Sphere s -> sizes.put("radius", s.radius());
            case Shape.Capsule c -> round(sizes, c.bottom(), c.top(), c.height());
            case Shape.Cylinder c -> round(sizes, c.bottom(), c.top(), c.height());
            case Shape.Solid s -> throw new IllegalArgumentException("a mesh");
            case Shape.Drawn d -> throw new IllegalArgumentException("a mesh");
        }
        out.put("type", shape.kind());
        out.set(shape.kind(), sizes);
        return shapeList.size() - 1;
    }

    private static void round(ObjectNode out, double bottom, double top, double height) {
        out.put("height", height).put("radiusBottom", bottom).put("radiusTop", top);
    }

    private int surface(Surface surface) {
        ObjectNode out = surfaceList.addObject();
        out.put("staticFriction", surface.staticFriction());
        out.put("dynamicFriction", surface.dynamicFriction());
        out.put("restitution", surface.restitution());
        out.put("frictionCombine", surface.frictions());
        out.put("restitutionCombine", surface.restitutions());
        return surfaceList.size() - 1;
    }

    private int filter(Filter filter) {
        ObjectNode out = filterList.addObject();
        texts(out, "collisionSystems", filter.systems());
        texts(out, "collideWithSystems", filter.meets());
        texts(out, "notCollideWithSystems", filter.ignores());
        return filterList.size() - 1;
    }

    private static void texts(ObjectNode out, String key, List<String> all) {
        if (!all.isEmpty()) {
            ArrayNode list = out.putArray(key);
            all.forEach(list::add);
        }
    }

    private void body(RigidBody body) {
        ObjectNode node = at(body.node());
        if (body.kind() == RigidBody.Kind.STILL) {
            // By the extension what has no motion stands still; that a body was meant is said beside it.
            node.putObject("extras").put("body", body.kind().code());
            return;
        }
        ObjectNode out = node.putObject("motion");
        if (body.kind() == RigidBody.Kind.KEYFRAMED) {
            out.put("isKinematic", true);
        }
        if (body.mass().kilograms() > 0) {
            out.put("mass", body.mass().kilograms());
        }
        vector(out, "centerOfMass", body.mass().centre(), body.mass().centre().isFinite());
        if (body.mass().inertia().isFinite()) {
            vector(out, "inertiaDiagonal", body.mass().inertia(), true);
            Quaterniondc turn = body.mass().principal().turn();
            if (!body.mass().principal().isNone()) {
                out.putArray("inertiaOrientation")
                        .add(turn.x())
                        .add(turn.y())
                        .add(turn.z())
                        .add(turn.w());
            }
        }
        vector(
                out,
                "linearVelocity",
                body.speed().linear(),
                body.speed().linear().lengthSquared() > 0);
        vector(
                out,
                "angularVelocity",
                body.speed().angular(),
                body.speed().angular().lengthSquared() > 0);
        if (body.damping().gravity() != 1) {
            out.put("gravityFactor", body.damping().gravity());
        }
        if (body.damping().linear() != 0 || body.damping().angular() != 0) {
            out.putObject("extras")
                    .put("linearDamping", body.damping().linear())
                    .put("angularDamping", body.damping().angular());
        }
    }

    private static void vector(ObjectNode out, String key, Vector3dc value, boolean is) {
        if (is) {
            out.putArray(key).add(value.x()).add(value.y()).add(value.z());
        }
    }

    private void joint(RigidJoint joint) {
        int node = place(joint.node(), joint.name(), joint.at(), "joint");
        ObjectNode out = at(node).putObject("joint");
        if (joint.other() >= 0) {
            Matrix4d pivot = new Matrix4d(world[joint.other()])
                    .invert()
                    .mul(world[joint.node()])
                    .mul(rounded(joint.at()).matrix());
            boolean same = pivot.equals(new Matrix4d(), 1e-6);
            out.put("connectedNode", same ? joint.other() : pivot(joint.other(), pivot));
        }
        out.put("joint", jointList.size());
        if (joint.meet()) {
            out.put("enableCollision", true);
        }
        ObjectNode described = jointList.addObject();
        ArrayNode limits = MAKE.arrayNode();
        joint.limits().forEach(l -> limit(limits.addObject(), l));
        unlessEmpty(described, "limits", limits);
        ArrayNode drives = MAKE.arrayNode();
        joint.drives().forEach(d -> drive(drives.addObject(), d));
        unlessEmpty(described, "drives", drives);
    }

    /** As it will be read: in single precision. */
    private static Frame rounded(Frame at) {
        return Frame.at(
                new Vector3d((float) at.origin().x(), (float) at.origin().y(), (float)
                        at.origin().z()),
                new Quaterniond(
                        (float) at.turn().x(),
                        (float) at.turn().y(),
                        (float) at.turn().z(),
                        (float) at.turn().w()));
    }

    private int pivot(int parent, Matrix4d local) {
        Vector3d size = local.getScale(new Vector3d());
        return child(
                parent,
                "",
                local.getTranslation(new Vector3d()),
                local.getNormalizedRotation(new Quaterniond()),
                size.distance(new Vector3d(1)) < 1e-6 ? new Vector3d(1) : size);
    }

    private static void limit(ObjectNode out, RigidJoint.Limit limit) {
        ArrayNode axes = out.putArray(limit.turn() ? "angularAxes" : "linearAxes");
        for (int a = 0; a < 3; a++) {
            if ((limit.axes() & 1 << a) != 0) {
                axes.add(a);
            }
        }
        finite(out, "min", limit.least());
        finite(out, "max", limit.most());
        finite(out, "stiffness", limit.stiffness());
        if (limit.damping() != 0) {
            out.put("damping", limit.damping());
        }
    }

    private static void drive(ObjectNode out, RigidJoint.Drive drive) {
        out.put("type", drive.turn() ? "angular" : "linear");
        out.put("mode", drive.acceleration() ? "acceleration" : "force");
        out.put("axis", drive.axis());
        finite(out, "maxForce", drive.force());
        out.put("positionTarget", drive.position());
        out.put("velocityTarget", drive.velocity());
        out.put("stiffness", drive.stiffness());
        out.put("damping", drive.damping());
    }

    private static void finite(ObjectNode out, String key, double value) {
        if (Double.isFinite(value)) {
            out.put(key, value);
        }
    }
}
