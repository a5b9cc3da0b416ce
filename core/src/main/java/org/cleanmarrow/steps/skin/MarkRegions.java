package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.RegionMap;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.weights.Worn;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Says of a part which region of the body every triangle of it belongs to: by the joints that move it, or, where it is not
 * skinned, by those of the body it lies nearest to. Kept as a vertex attribute whose numbers point into the list
 * {@code extras.regions} of the mesh, which goes along through every step that keeps or renumbers vertices; or as a material
 * each. A triangle belongs to the region of most of its corners, where all differ to that of the first.
 */
@StepInfo(
        name = "regions",
        says = "Marks which region of the body each triangle of a part belongs to, such as torso or left foot.")
public record MarkRegions(
        @Parameter(says = "name of the mesh") String part,

        @Parameter(says = "where it is not skinned: the skinned mesh that it is worn on", fallback = "\"\"")
        String body,

        @Parameter(
                says = "rounds of evening borders out; 0 leaves each vertex to its heaviest joint",
                fallback = "20",
                least = 0,
                most = 100)
        int rounds,

        @Parameter(
                says = "the vertex attribute _REGION, whose numbers point into the mesh's extras.regions, or a material"
                        + " for each region",
                fallback = "\"attribute\"")
        As as,

        @Parameter(says = "as an attribute: keep the regions that vertices have already", fallback = "false")
        boolean missing)
        implements Step {
    /** Where it is kept. */
    public enum As {
        ATTRIBUTE,
        MATERIALS
    }

    private static final int ROUNDS = 20;

    /** By its joints, as an attribute. */
    public MarkRegions(String part) {
        this(part, false);
    }

    /** By its joints, as an attribute, of all vertices or of those alone that have none yet. */
    public MarkRegions(String part, boolean missing) {
        this(part, "", ROUNDS, As.ATTRIBUTE, missing);
    }

    /** All anew. */
    public MarkRegions(String part, String body, int rounds, As as) {
        this(part, body, rounds, as, false);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (rounds < 0 || rounds > 100) {
            throw new Refused("regions.range", rounds);
        }
        int m = Names.mesh(asset, part);
        WeldedSurface surface = RestSurface.of(asset, m);
        RegionMap map = map(asset, m, surface, work);
        Map<String, Integer> many = new TreeMap<>();
        int[] triangles = map.triangles();
        for (BodyRegion region : BodyRegion.values()) {
            if (triangles[region.ordinal()] > 0) {
                many.put(region.code(), triangles[region.ordinal()]);
            }
        }
        Asset out = as == As.ATTRIBUTE ? marked(asset, m, surface, map) : painted(asset, m, surface, map);
        Change change = Change.of(out)
                .count("triangles.marked", IntStream.of(triangles).sum())
                .note(
                        "regions",
                        many.entrySet().stream()
                                .map(e -> e.getKey() + " " + e.getValue())
                                .collect(Collectors.joining(", ")));
        return map.joined() == 0 ? change : change.count("islands.joined", map.joined());
    }

    private RegionMap map(Asset asset, int m, WeldedSurface surface, Work work) throws Refused {
        boolean own = asset.skinOfMesh(m) >= 0 && asset.meshes().get(m).skinned();
        if (!own && body.isBlank()) {
            throw new Refused("regions.no.body", part);
        }
        int giver = own ? m : Names.skinnedMesh(asset, body);
        BodyRegion[] ofJoints = Worn.regionsOfJoints(asset, asset.skins().get(asset.skinOfMesh(giver)));
        if (ofJoints.length == 0) {
            throw new Refused("regions.no.roles", asset.meshRef(giver));
        }
        Mesh mesh = asset.meshes().get(giver);
        WeldedSurface below = own ? surface : RestSurface.of(asset, giver);
        Influences rows = WeldedWeights.of(mesh, below);
        return RegionMap.of(surface, own ? rows : Worn.nearest(surface, below, rows, work), ofJoints, rounds);
    }

    private Asset marked(Asset asset, int m, WeldedSurface surface, RegionMap map) {
        Mesh mesh = asset.meshes().get(m);
        @Nullable BodyRegion[] marks = RegionMarks.of(mesh);
        for (int v = 0; v < marks.length; v++) {
            marks[v] = missing && marks[v] != null ? marks[v] : map.at(surface.weldedOf(v));
        }
        return asset.withMesh(m, RegionMarks.with(mesh, marks));
    }

    private static Asset painted(Asset asset, int m, WeldedSurface surface, RegionMap map) {
        Mesh mesh = asset.meshes().get(m);
        List<Material> materials = new ArrayList<>(asset.materials());
        List<Primitive> primitives = new ArrayList<>();
        List<VertexMap.Piece> pieces = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            int[] corners = p.triangleCorners();
            int start = first;
            for (BodyRegion region : BodyRegion.values()) {
                int[] own = IntStream.range(0, corners.length / 3)
                        .filter(t -> map.of(
                                        surface.weldedOf(start + corners[t * 3]),
                                        surface.weldedOf(start + corners[t * 3 + 1]),
                                        surface.weldedOf(start + corners[t * 3 + 2]))
                                == region)
                        .flatMap(t -> IntStream.of(corners[t * 3], corners[t * 3 + 1], corners[t * 3 + 2]))
                        .toArray();
                if (own.length > 0) {
                    primitives.add(Subset.ofTriangles(p, own).withMaterial(material(materials, p, region)));
                    pieces.add(new VertexMap.Piece(start, p.vertexCount(), Subset.used(own)));
                }
            }
            if (corners.length == 0) {
                primitives.add(p);
                pieces.add(new VertexMap.Piece(start, p.vertexCount(), null));
            }
            first += p.vertexCount();
        }
        return asset.withMesh(m, mesh.withPrimitives(primitives), VertexMap.of(pieces))
                .withMaterials(materials);
    }

    /** A material of a region, as the triangles had it; there already where another primitive has the same. */
    private static int material(List<Material> materials, Primitive p, BodyRegion region) {
        Material had = p.material() < 0
                ? new Material("", new float[] {1, 1, 1, 1}, -1, false, Passthrough.NONE)
                : materials.get(p.material());
        String name = had.name().isEmpty() ? region.code() : had.name() + "_" + region.code();
        for (int i = 0; i < materials.size(); i++) {
            if (materials.get(i).name().equals(name)) {
                return i;
            }
        }
        materials.add(had.withName(name));
        return materials.size() - 1;
    }
}
