package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Shards;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Hull;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.Cut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Breaks a closed part into closed pieces ({@link Shards}), a joint each, so that clips, bodies and caches can move them apart; at rest
 * it looks as before. The faces inside get a material of their own, with texture coordinates of one a metre. On demand each piece is a
 * free body with its hull, thrown off from where it was hit once bodies are let go.
 *
 * <p>Cost: pieces times the triangles that are left of the part around each.
 */
@StepInfo(
        name = "shatter",
        says = "Breaks a closed part into closed pieces, a joint each, that can be let go as bodies.")
public record Shatter(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "how many; what falls apart besides counts further", least = 2, most = 500)
        int pieces,

        @Parameter(says = "another gives other pieces", fallback = "1", least = 0)
        int seed,

        @Parameter(says = "where it was hit: the middle of its box, or a point", fallback = "\"middle\"")
        Hit hit,

        @Parameter(says = "x of the point, in the asset's unit", fallback = "0")
        double x,

        @Parameter(says = "y of the point", fallback = "0") double y,
        @Parameter(says = "z of the point", fallback = "0") double z,

        @Parameter(
                says = "how much smaller pieces are near where it was hit: 0 not at all, 1 most",
                fallback = "0",
                least = 0,
                most = 1)
        double gather,

        @Parameter(
                says = "between pieces, so that no two share a place",
                fallback = "0.1",
                unit = "millimetres",
                least = 0,
                most = 1000)
        double gapMillimetres,

        @Parameter(
                says =
                        "name of the material of the faces inside, made where there is none; none: the mesh's, with _inside",
                fallback = "\"\"")
        String inside,

        @Parameter(says = "true to make each piece a free body with its hull", fallback = "true")
        boolean bodies,

        @Parameter(
                says = "mass of the bodies from their volume",
                fallback = "1000",
                unit = "kilograms a cubic metre",
                least = 0.001,
                most = 30000)
        double density,

        @Parameter(
                says = "speed of the bodies at the start, away from where it was hit",
                fallback = "0",
                unit = "metres a second",
                least = 0,
                most = 1000)
        double speed)
        implements Step {
    public static final double GAP_MILLIMETRES = 0.1;

    private static final int MOST_PIECES = 500;
    private static final int MOST_CORNERS = 64;
    private static final double DENSEST = 30_000;
    private static final double FASTEST = 1000;

    /** Where it was hit. */
    public enum Hit {
        MIDDLE,
        POINT
    }

    public Shatter(String mesh, int pieces) {
        this(mesh, pieces, 1, Hit.MIDDLE, 0, 0, 0, 0, GAP_MILLIMETRES, "", true, 1000, 0);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (pieces < 2
                || pieces > MOST_PIECES
                || seed < 0
                || !(gather >= 0 && gather <= 1)
                || !(gapMillimetres >= 0 && gapMillimetres <= 1000)
                || !(density > 0 && density <= DENSEST)
                || !(speed >= 0 && speed <= FASTEST)
                || !new Vector3d(x, y, z).isFinite()) {
            throw new Refused("shatter.range", pieces, MOST_PIECES);
        }
        int m = Names.mesh(asset, mesh);
        Mesh whole = asset.meshes().get(m);
        int node = standing(asset, m);
        MeshTopology topology = MeshTopology.of(whole);
        if (topology.islandCount() > MOST_PIECES) {
            throw new Refused("shatter.loose", mesh, topology.islandCount(), MOST_PIECES);
        }
        WeldedSurface surface = topology.welded(whole);
        int[] placeOf =
                IntStream.range(0, whole.vertexCount()).map(surface::weldedOf).toArray();
        Cut solid = Cut.of(topology.corners(), placeOf, surface.positions());
        int[] open = solid.open();
        if (open.length > 0) {
            throw new Refused("shatter.open", mesh, open.length, surface.vertexOf(open[0]));
        }
        if (!(solid.volume() > 0)) {
            throw new Refused("shatter.flat", mesh);
        }
        Matrix4d world = new Rig(asset).rest().world()[node];
        Vector3d at = hit == Hit.POINT
                ? world.invert(new Matrix4d()).transformPosition(new Vector3d(x, y, z))
                : middle(surface.positions());
        Vector3d[] seeds = Shards.seeds(surface.triangles(), surface.positions(), pieces, at, gather, seed);
        List<Cut> parts = Shards.of(solid, seeds, gapMillimetres / 1000 / metres(asset, world), work);
        if (parts.size() < 2) {
            throw new Refused("shatter.flat", mesh);
        }
        Vector3d[] middles = new Vector3d[parts.size()];
        double[] volumes = new double[middles.length];
        for (int i = 0; i < middles.length; i++) {
            middles[i] = new Vector3d();
            volumes[i] = parts.get(i).volume(middles[i]);
            middles[i].div(volumes[i]);
        }
        List<Material> materials = new ArrayList<>(asset.materials());
        int painted = painted(materials, whole);
        Mesh broken = whole.withPrimitives(BrokenMesh.primitives(whole, parts, painted, metres(asset, world)));
        Asset ready = asset.withMaterials(materials);
        JointPerPiece jointed = JointPerPiece.of(ready, node, broken, middles);
        Asset out = bodies ? thrown(jointed, node, parts, middles, volumes, world, at) : jointed.asset();
        double small = Arrays.stream(volumes).min().orElseThrow() / solid.volume();
        double large = Arrays.stream(volumes).max().orElseThrow() / solid.volume();
        return Change.of(out)
                .count("pieces.broken", parts.size())
                .note("shatter.pieces", broken.triangleCount(), percent(small), percent(large));
    }

    private static double percent(double share) {
        return Math.rint(1e5 * share) / 1e3;
    }

    /** The one node where the mesh stands, moved by nothing but the node. */
    private int standing(Asset asset, int m) throws Refused {
        Mesh whole = asset.meshes().get(m);
        int[] nodes = IntStream.range(0, asset.nodes().size())
                .filter(n -> asset.nodes().get(n).mesh() == m)
                .toArray();
        if (nodes.length != 1) {
            throw new Refused("shatter.places", mesh, nodes.length);
        }
        boolean lines = whole.primitives().stream()
                .anyMatch(p -> p.mode().ordinal() < Primitive.Mode.TRIANGLES.ordinal() && p.vertexCount() > 0);
        boolean flexes = whole.skinned()
                || asset.nodes().get(nodes[0]).skin() >= 0
                || whole.targetCount() > 0
                || !CacheUse.of(asset, m).isEmpty();
        if (lines || flexes) {
            throw new Refused(lines ? "shatter.lines" : "shatter.flexes", mesh);
        }
        return nodes[0];
    }

    private static Vector3d middle(float[] positions) {
        Box box = Box.empty();
        box.grow(positions);
        return box.centre();
    }

    /** Metres that one of the node's own units is. */
    private static double metres(Asset asset, Matrix4d world) {
        return Math.cbrt(Math.abs(world.determinant3x3())) * asset.conventions().metresPerUnit();
    }

    private int painted(List<Material> materials, Mesh whole) {
        String name = inside.isBlank() ? whole.name() + "_inside" : inside;
        for (int i = 0; i < materials.size(); i++) {
            if (materials.get(i).name().equals(name)) {
                return i;
            }
        }
        int like = whole.primitives().getFirst().material();
        float[] colour = like < 0
                ? new float[] {1, 1, 1, 1}
                : materials.get(like).baseColour().clone();
        materials.add(new Material(name, colour, -1, false, Passthrough.NONE));
        return materials.size() - 1;
    }

    /** Free bodies instead of what the whole was. */
    private Asset thrown(
            JointPerPiece jointed,
            int node,
            List<Cut> parts,
            Vector3d[] middles,
            double[] volumes,
            Matrix4d world,
            Vector3d at) {
        Asset asset = jointed.asset();
        List<Attached> all = new ArrayList<>(asset.attached());
        all.removeIf(a -> a.node() == node && (a instanceof Collider || a instanceof RigidBody));
        double metres = metres(asset, world);
        for (int i = 0; i < middles.length; i++) {
            int joint = jointed.joints()[i];
            double[] points = new double[3 * parts.get(i).places()];
            for (int p = 0; p < parts.get(i).places(); p++) {
                Vector3d away = parts.get(i).at(p).sub(middles[i]);
                points[3 * p] = away.x;
                points[3 * p + 1] = away.y;
                points[3 * p + 2] = away.z;
            }
            String name = asset.nodes().get(joint).name() + "_shape";
            Hull.of(points)
                    .flatMap(h -> h.reduced(MOST_CORNERS))
                    .ifPresent(h -> all.add(new Collider(name, joint, Frame.NONE, h.shape())));
            Vector3d away = new Vector3d(middles[i]).sub(at);
            if (away.length() > 0) {
                away.normalize(speed / metres);
            }
            all.add(new RigidBody(
                    joint,
                    RigidBody.Kind.FREE,
                    RigidBody.Mass.of(density * volumes[i] * metres * metres * metres),
                    new RigidBody.Speed(away, new Vector3d()),
                    RigidBody.Damping.NONE));
        }
        return asset.withAttached(all);
    }
}
