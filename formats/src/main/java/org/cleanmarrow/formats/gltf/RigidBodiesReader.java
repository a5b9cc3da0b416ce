package org.cleanmarrow.formats.gltf;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Renumbering;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Takes {@code KHR_implicit_shapes} and {@code KHR_physics_rigid_bodies} out of what was carried and attaches what they say.
 * A node that is there for one such thing alone, with nothing below it and no keys, is taken in by the node above it; so is a
 * mesh that nothing draws and that a collider alone has. The earlier spelling of a mesh as a {@code node} is read too.
 */
final class RigidBodiesReader {
    private static final Set<String> COMBINED = Set.of("average", "minimum", "maximum", "multiply");

    private final Asset asset;
    private final JsonCursor shared;
    private final List<JsonCursor> nodes;
    private final List<String> notes;
    private final List<Shape> shapes = new ArrayList<>();
    private final List<Surface> surfaces = new ArrayList<>();
    private final List<Filter> filters = new ArrayList<>();
    private final List<JsonCursor> joints;
    private final List<Attached> attached = new ArrayList<>();
    private final BitSet foldedNodes = new BitSet();
    private final BitSet usedMeshes = new BitSet();
    private final BitSet pivots = new BitSet();
    private final int[] parents;
    private final boolean[] busy;

    private RigidBodiesReader(Asset asset, JsonCursor root, List<String> notes) throws ReadFailed {
        this.asset = asset;
        this.notes = notes;
        nodes = root.objects("nodes");
        shared = root.at("extensions").at(RigidBodiesWriter.BODIES);
        joints = shared.objects("physicsJoints");
        for (JsonCursor at : root.at("extensions").at(RigidBodiesWriter.SHAPES).objects("shapes")) {
            shapes.add(shape(at));
        }
        for (JsonCursor at : shared.objects("physicsMaterials")) {
            surfaces.add(surface(at));
        }
        for (JsonCursor at : shared.objects("collisionFilters")) {
            filters.add(new Filter(
                    texts(at, "collisionSystems"),
                    texts(at, "collideWithSystems"),
                    texts(at, "notCollideWithSystems")));
        }
        parents = asset.parents();
        busy = asset.jointFlags();
        asset.animatedNodes().stream().forEach(n -> busy[n] = true);
        asset.scenes().forEach(s -> Arrays.stream(s.roots()).forEach(n -> busy[n] = true));
    }

    /** @param notes gets what could not be taken over */
    static Asset read(Asset asset, JsonCursor root, List<String> notes) throws ReadFailed {
        boolean any = root.json().path("extensions").has(RigidBodiesWriter.BODIES)
                || root.json().path("extensions").has(RigidBodiesWriter.SHAPES)
                || asset.nodes().stream()
                        .anyMatch(n ->
                                !n.carried().extension(RigidBodiesWriter.BODIES).isMissingNode());
        return any ? new RigidBodiesReader(asset, root, notes).run() : asset;
    }

    private Asset run() throws ReadFailed {
        for (int n = 0; n < nodes.size(); n++) {
            JsonCursor at = said(n);
            if (at.has("joint")) {
                int pivot = at.at("joint").index("connectedNode", nodes.size(), "nodes");
                if (pivot >= 0) {
                    pivots.set(pivot);
                }
            }
        }
        for (int n = 0; n < nodes.size(); n++) {
            JsonCursor at = said(n);
            if (at.has("motion")) {
                attached.add(body(n, at.at("motion")));
            } else if (at.json().path("extras").path("body").asString("").equals("still")) {
                attached.add(new RigidBody(n, RigidBody.Kind.STILL, 0));
            }
            for (String key : List.of("collider", "trigger")) {
                if (at.has(key)) {
                    collider(n, at.at(key), key.equals("trigger"));
                }
            }
            if (at.has("joint")) {
                joint(n, at.at("joint"));
            }
        }
        attached.sort(RigidBodiesWriter.ORDER);
        List<Node> bare = asset.nodes().stream()
                .map(n -> n.withCarried(without(n.carried(), RigidBodiesWriter.BODIES)))
                .toList();
        BitSet drawn = new BitSet();
        asset.nodes().stream().filter(n -> n.mesh() >= 0).forEach(n -> drawn.set(n.mesh()));
        usedMeshes.andNot(drawn);
        BitSet kept = new BitSet();
        kept.set(0, asset.meshes().size());
        kept.andNot(usedMeshes);
        Asset out = asset.withNodes(bare)
                .withCarried(without(
                        without(asset.carried(), RigidBodiesWriter.BODIES, "extensionsUsed", "extensionsRequired"),
                        RigidBodiesWriter.SHAPES,
                        "extensionsUsed",
                        "extensionsRequired"))
                .withAttached(attached);
        if (!usedMeshes.isEmpty()) {
            out = out.renumbered(Renumbering.NONE.keeping(
                    Renumbering.Kind.MESH, kept, asset.meshes().size()));
        }
        return foldedNodes.isEmpty() ? out : out.without(foldedNodes);
    }

    /** Without an extension, and without its name in lists of those used. */
    private static Passthrough without(Passthrough carried, String name, String... lists) {
        if (carried.isEmpty()) {
            return carried;
        }
        ObjectNode json = (ObjectNode) JsonMapper.shared().readTree(carried.json());
        if (json.get("extensions") instanceof ObjectNode extensions) {
            extensions.remove(name);
            if (extensions.isEmpty()) {
                json.remove("extensions");
            }
        }
        for (String list : lists) {
            if (json.get(list) instanceof tools.jackson.databind.node.ArrayNode names) {
                names.removeIf(n -> n.asString("").equals(name));
                if (names.isEmpty()) {
                    json.remove(list);
                }
            }
        }
        return json.isEmpty() ? Passthrough.NONE : new Passthrough(json.toString());
    }

    private JsonCursor said(int node) {
        return nodes.get(node).at("extensions").at(RigidBodiesWriter.BODIES);
    }

    /** Whether a node is there for one thing alone, which can stand in the axes of the node above it. */
    private boolean folds(int n, String key) {
        Node node = asset.nodes().get(n);
        JsonNode json = said(n).json();
        boolean alone = json.isMissingNode() ? key.isEmpty() : json.size() == 1 && json.has(key);
        return alone
                && parents[n] >= 0
                && !busy[n]
                && node.mesh() < 0
                && node.camera() < 0
                && node.children().length == 0
                && (key.isEmpty() || !pivots.get(n))
                && without(node.carried(), RigidBodiesWriter.BODIES).isEmpty()
                && node.local().matrix() == null
                && Arrays.equals(node.local().scale(), Local.IDENTITY.scale());
    }

    private Frame frame(int node) {
        Local local = asset.nodes().get(node).local();
        float[] r = local.rotation();
        return Frame.at(local.translationVector(), new Quaterniond(r[0], r[1], r[2], r[3]));
    }

    private void collider(int n, JsonCursor at, boolean trigger) throws ReadFailed {
        JsonCursor geometry = at.at("geometry");
        boolean convex = geometry.flag("convexHull");
        Shape shape;
        int number = geometry.index("shape", shapes.size(), "shapes");
        int mesh = geometry.index("mesh", asset.meshes().size(), "meshes");
        int node = geometry.index("node", nodes.size(), "nodes");
        mesh = mesh < 0 && node >= 0 ? asset.nodes().get(node).mesh() : mesh;
        if (number >= 0) {
            shape = shapes.get(number);
        } else if (mesh < 0 || asset.meshes().get(mesh).vertexCount() == 0) {
            notes.add(at.path() + ": has no shape of its own and was left behind");
            return;
        } else if (mesh == asset.nodes().get(n).mesh()) {
            shape = new Shape.Drawn(convex);
        } else {
            shape = solid(asset.meshes().get(mesh), convex);
            usedMeshes.set(mesh);
        }
        boolean folds = folds(n, trigger ? "trigger" : "collider");
        int surface = at.index("physicsMaterial", surfaces.size(), "physics materials");
        int filter = at.index("collisionFilter", filters.size(), "collision filters");
        boolean query = at.json().path("extras").path("role").asString("").equals("query");
        Collider made = new Collider(
                folds ? asset.nodes().get(n).name() : "",
                folds ? parents[n] : n,
                folds ? frame(n) : Frame.NONE,
                shape,
                trigger ? Collider.Role.TRIGGER : query ? Collider.Role.QUERY : Collider.Role.SOLID,
                surface < 0 ? Surface.PLAIN : surfaces.get(surface),
                filter < 0 ? Filter.ALL : filters.get(filter));
        if (folds) {
            foldedNodes.set(n);
            // The points of a surface stand in the node's own axes.
            made = shape instanceof Shape.Solid
                    ? made.withShape(Frame.NONE, shape).moved(made.at().matrix())
                    : made;
        }
        attached.add(made);
    }

    private static Shape.Solid solid(Mesh mesh, boolean convex) {
        int count = mesh.vertexCount();
        float[] points = new float[3 * count];
        List<int[]> corners = new ArrayList<>();
        int from = 0;
        for (Primitive p : mesh.primitives()) {
            System.arraycopy(p.positions(), 0, points, 3 * from, p.positions().length);
            int first = from;
            corners.add(Arrays.stream(p.triangleCorners()).map(c -> c + first).toArray());
            from += p.vertexCount();
        }
        return new Shape.Solid(
                points, corners.stream().flatMapToInt(Arrays::stream).toArray(), convex);
    }

    private RigidBody body(int n, JsonCursor at) throws ReadFailed {
        boolean keyframed = at.flag("isKinematic");
        Vector3d nowhere = new Vector3d(Double.NaN);
        RigidBody.Mass mass = new RigidBody.Mass(
                number(at, "mass", 0, 0),
                vector(at, "centerOfMass", nowhere),
                vector(at, "inertiaDiagonal", nowhere),
                Frame.at(new Vector3d(), turn(at)));
        JsonNode extras = at.json().path("extras");
        RigidBody.Damping damping = new RigidBody.Damping(
                extras.path("linearDamping").asDouble(0),
                extras.path("angularDamping").asDouble(0),
                number(at, "gravityFactor", 1, Double.NEGATIVE_INFINITY));
        RigidBody.Speed speed = new RigidBody.Speed(
                vector(at, "linearVelocity", new Vector3d()), vector(at, "angularVelocity", new Vector3d()));
        return new RigidBody(n, keyframed ? RigidBody.Kind.KEYFRAMED : RigidBody.Kind.FREE, mass, speed, damping);
    }

    private static Quaterniond turn(JsonCursor at) throws ReadFailed {
        if (!at.has("inertiaOrientation")) {
            return new Quaterniond();
        }
        double[] q = numbers(at, "inertiaOrientation", 4);
        return new Quaterniond(q[0], q[1], q[2], q[3]);
    }

    private static Vector3d vector(JsonCursor at, String key, Vector3d fallback) throws ReadFailed {
        if (!at.has(key)) {
            return fallback;
        }
        double[] v = numbers(at, key, 3);
        return new Vector3d(v[0], v[1], v[2]);
    }

    private void joint(int n, JsonCursor at) throws ReadFailed {
        JsonCursor described = joints.isEmpty() || !at.has("joint")
                ? at.at("nothing")
                : joints.get(at.required("joint", joints.size(), "physics joints"));
        int other = at.index("connectedNode", nodes.size(), "nodes");
        if (other >= 0 && folds(other, "")) {
            foldedNodes.set(other);
            other = parents[other];
        }
        boolean folds = folds(n, "joint");
        if (folds) {
            foldedNodes.set(n);
        }
        List<RigidJoint.Limit> limits = new ArrayList<>();
        for (JsonCursor limit : described.objects("limits")) {
            for (boolean turn : new boolean[] {false, true}) {
                String key = turn ? "angularAxes" : "linearAxes";
                if (limit.has(key)) {
                    limits.add(limit(limit, turn, limit.indices(key, 3, "axes")));
                }
            }
        }
        List<RigidJoint.Drive> drives = new ArrayList<>();
        for (JsonCursor drive : described.objects("drives")) {
            drives.add(drive(drive));
        }
        attached.add(new RigidJoint(
                folds ? asset.nodes().get(n).name() : "",
                folds ? parents[n] : n,
                folds ? frame(n) : Frame.NONE,
                other,
                limits,
                drives,
                at.flag("enableCollision")));
    }

    private static RigidJoint.Limit limit(JsonCursor at, boolean turn, int[] axes) throws ReadFailed {
        int bits = Arrays.stream(axes).map(a -> 1 << a).reduce(0, (x, y) -> x | y);
        double least = number(at, "min", Double.NEGATIVE_INFINITY, Double.NEGATIVE_INFINITY);
        double most = number(at, "max", Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY);
        if (least > most) {
            throw at.wrong("min", "expected at most " + most + ", found " + least);
        }
        return new RigidJoint.Limit(
                turn,
                bits,
                least,
                most,
                number(at, "stiffness", Double.POSITIVE_INFINITY, 0),
                number(at, "damping", 0, 0));
    }

    private static RigidJoint.Drive drive(JsonCursor at) throws ReadFailed {
        return new RigidJoint.Drive(
                at.text("type", "linear").equals("angular"),
                at.number("axis", 0, 0, 2),
                at.text("mode", "force").equals("acceleration"),
                number(at, "maxForce", Double.POSITIVE_INFINITY, 0),
                number(at, "positionTarget", 0, Double.NEGATIVE_INFINITY),
                number(at, "velocityTarget", 0, Double.NEGATIVE_INFINITY),
                number(at, "stiffness", 0, 0),
                number(at, "damping", 0, 0));
    }

    private Shape shape(JsonCursor at) throws ReadFailed {
        String type = at.text("type", "");
        JsonCursor sizes = at.at(type);
        return switch (type) {
            case "sphere" -> new Shape.Sphere(size(sizes, "radius", 0.5));
            case "box" -> {
                double[] size = sizes.has("size") ? numbers(sizes, "size", 3) : new double[] {1, 1, 1};
                for (double s : size) {
                    if (!(s > 0)) {
                        throw sizes.wrong("size", "expected numbers above 0, found " + s);
                    }
                }
                yield new Shape.Box(size[0], size[1], size[2]);
            }
            case "capsule" ->
                new Shape.Capsule(
                        number(sizes, "radiusBottom", 0.25, 0),
                        number(sizes, "radiusTop", 0.25, 0),
                        number(sizes, "height", 0.5, 0));
            case "cylinder" ->
                new Shape.Cylinder(
                        number(sizes, "radiusBottom", 0.25, 0),
                        number(sizes, "radiusTop", 0.25, 0),
                        size(sizes, "height", 0.5));
            default -> throw at.wrong("type", "expected box, sphere, capsule or cylinder, found \"" + type + "\"");
        };
    }

    private static Surface surface(JsonCursor at) throws ReadFailed {
        return new Surface(
                number(at, "staticFriction", 0.6, 0),
                number(at, "dynamicFriction", 0.6, 0),
                number(at, "restitution", 0, 0),
                combined(at, "frictionCombine"),
                combined(at, "restitutionCombine"));
    }

    private static String combined(JsonCursor at, String key) throws ReadFailed {
        String said = at.text(key, "average");
        if (!COMBINED.contains(said)) {
            throw at.wrong(key, "expected average, minimum, maximum or multiply, found \"" + said + "\"");
        }
        return said;
    }

    private static List<String> texts(JsonCursor at, String key) throws ReadFailed {
        List<String> out = new ArrayList<>();
        JsonNode list = at.json().path(key);
        if (!list.isMissingNode() && !list.isArray()) {
            throw at.wrong(key, "expected a list of texts");
        }
        for (JsonNode one : list) {
            if (!one.isString()) {
                throw at.wrong(key, "expected texts, found " + one);
            }
            out.add(one.stringValue());
        }
        return out;
    }

    private static double size(JsonCursor at, String key, double fallback) throws ReadFailed {
        double size = number(at, key, fallback, 0);
        if (size == 0) {
            throw at.wrong(key, "expected a number above 0, found 0");
        }
        return size;
    }

    private static double number(JsonCursor at, String key, double fallback, double least) throws ReadFailed {
        JsonNode value = at.json().path(key);
        if (value.isMissingNode()) {
            return fallback;
        }
        double number = value.isNumber() ? value.doubleValue() : Double.NaN;
        if (!Double.isFinite(number) || number < least) {
            throw at.wrong(
                    key, "expected a number" + (least == 0 ? " of at least 0" : "") + ", found " + value.toString());
        }
        return number;
    }

    private static double[] numbers(JsonCursor at, String key, int count) throws ReadFailed {
        JsonNode list = at.json().path(key);
        double[] out = new double[count];
        for (int i = 0; i < count; i++) {
            JsonNode value = list.path(i);
            out[i] = list.size() == count && value.isNumber() ? value.doubleValue() : Double.NaN;
            if (!Double.isFinite(out[i])) {
                throw at.wrong(key, "expected " + count + " numbers");
            }
        }
        return out;
    }
}
