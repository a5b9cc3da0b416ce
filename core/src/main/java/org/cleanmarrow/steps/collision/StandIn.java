package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.ConvexParts;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Hull;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Says what parts collide as: as they are drawn, or as a simple shape around them that is not drawn. What a part collided as
 * before, by this step, is replaced. A part that joints deform can only collide as drawn here; its joints get shapes by
 * {@link FitShapes}.
 */
@StepInfo(name = "stand-in", says = "Lets parts collide as they are drawn, or as a simple shape that stands for them.")
public record StandIn(
        @Parameter(says = "names of parts or meshes, with commas between and * for any run of characters")
        String parts,

        @Parameter(
                says = "drawn: the part itself; capsule, box, sphere, hull, or best: the least volume around it; parts:"
                        + " several hulls close to one that is not convex",
                fallback = "\"best\"")
        Kind kind,

        @Parameter(
                says = "parts with this many triangles or fewer collide as they are drawn, whatever the kind",
                fallback = "0",
                least = 0)
        int over,

        @Parameter(
                says = "solid, trigger (says that something is inside) or query (found by rays alone)",
                fallback = "\"solid\"")
        Collider.Role role,

        @Parameter(says = "corners of a hull at most", fallback = "32", least = 4, most = 255)
        int corners,

        @Parameter(says = "hulls at most, of the kind parts", fallback = "8", least = 1, most = 64)
        int hulls)
        implements Step {
    /** What stands for a part. */
    public enum Kind {
        DRAWN,
        BEST,
        CAPSULE,
        BOX,
        SPHERE,
        HULL,
        PARTS
    }

    /** How much of the hulls of a part that is not convex may be empty; less is not cut further. */
    private static final double EMPTY = 0.05;

    private static final String PART = "_part_";

    public StandIn(String parts, Kind kind, int over) {
        this(parts, kind, over, Collider.Role.SOLID, 32, 8);
    }

    public StandIn(String parts, Kind kind) {
        this(parts, kind, 0);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (over < 0 || corners < 4 || corners > 255 || hulls < 1 || hulls > 64) {
            throw new Refused("stand.in.range", over, corners, hulls);
        }
        List<Attached> all = new ArrayList<>(asset.attached());
        Map<String, Long> kinds = new TreeMap<>();
        List<String> skinned = new ArrayList<>();
        NamePattern names = new NamePattern(parts);
        int fitting = 0;
        for (int n = 0; n < asset.nodes().size(); n++) {
            work.stopIfCancelled();
            Node node = asset.nodes().get(n);
            boolean fits = node.mesh() >= 0
                    && (names.fits(node.name())
                            || names.fits(asset.nodeRef(n))
                            || names.fits(asset.meshRef(node.mesh())));
            if (!fits) {
                continue;
            }
            fitting++;
            Mesh mesh = asset.meshes().get(node.mesh());
            boolean drawn = kind == Kind.DRAWN || mesh.triangleCount() <= over;
            if (node.skin() >= 0 && !drawn) {
                skinned.add(asset.nodeRef(n));
                continue;
            }
            int at = n;
            String piece = node.name() + PART;
            all.removeIf(a -> a instanceof Collider c
                    && c.node() == at
                    && (c.name().isEmpty() || c.name().startsWith(piece)));
            List<Collider> made = drawn
                    ? List.of(asDrawn(n))
                    : kind == Kind.PARTS ? inParts(mesh, n, piece, work) : List.of(around(mesh, n));
            all.addAll(made);
            made.forEach(c -> kinds.merge(
                    c.shape() instanceof Shape.Drawn ? "drawn" : c.shape().kind(), 1L, Long::sum));
        }
        if (fitting == 0) {
            throw new Refused("stand.in.no.parts", parts);
        }
        if (kinds.isEmpty()) {
            throw new Refused("stand.in.skinned", String.join(", ", skinned));
        }
        Change change = Change.of(asset.withAttached(all))
                .count("stand.ins", kinds.values().stream().mapToLong(k -> k).sum())
                .note("stand.in.kinds", FitShapes.said(kinds));
        return skinned.isEmpty() ? change : change.note("stand.in.skinned", String.join(", ", skinned));
    }

    private Collider asDrawn(int node) {
        return new Collider("", node, Frame.NONE, new Shape.Drawn(false), role, Surface.PLAIN, Filter.ALL);
    }

    private List<Collider> inParts(Mesh mesh, int node, String piece, Work work) {
        MeshTopology topology = MeshTopology.of(mesh);
        int[] island = IntStream.range(0, topology.vertexCount())
                .map(topology::islandOf)
                .toArray();
        List<Collider> out = new ArrayList<>();
        for (Hull hull : ConvexParts.of(MovedPoints.of(mesh), topology.corners(), island, hulls, EMPTY, work)) {
            hull.reduced(corners)
                    .ifPresent(h -> out.add(asDrawn(node)
                            .withShape(Frame.NONE, h.shape())
                            .withName(hulls == 1 ? "" : piece + (out.size() + 1))));
        }
        return out.isEmpty() ? List.of(asDrawn(node)) : out;
    }

    /** What lies in one plane collides as it is drawn. */
    private Collider around(Mesh mesh, int node) {
        double[] points = MovedPoints.of(mesh);
        Optional<ShapeFit> fit = ShapeFit.of(points, ShapeFit.Kind.valueOf(kind.name()), null, 1, corners);
        Collider drawn = asDrawn(node);
        return fit.map(f -> drawn.withShape(f.frame(), f.shape())).orElse(drawn);
    }
}
