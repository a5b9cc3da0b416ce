package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;

/**
 * A body that comes in several meshes as one surface, at rest in the world: it hangs together where vertices of two of them lie on one
 * place.
 */
public final class BodySurface {
    /** Of the size: vertices of two meshes that are no farther apart lie on one place; float32 of a metre holds a tenth of it. */
    private static final double ONE_PLACE = 1e-6;

    private final WeldedSurface surface;
    /** The number of each mesh's first vertex, through all of them. */
    private final Map<Integer, Integer> first;

    private BodySurface(WeldedSurface surface, Map<Integer, Integer> first) {
        this.surface = surface;
        this.first = first;
    }

    /** Cost: as one mesh of that many vertices, and a search for each that meet. */
    public static BodySurface of(Asset asset, List<Integer> meshes) {
        if (meshes.size() == 1) {
            return new BodySurface(RestSurface.of(asset, meshes.getFirst()), Map.of(meshes.getFirst(), 0));
        }
        List<float[]> standing = new ArrayList<>();
        Box box = Box.empty();
        for (int mesh : meshes) {
            standing.add(RestSurface.standing(asset, mesh));
            box.grow(standing.getLast());
        }
        double within = box.diagonal() * ONE_PLACE;
        List<Primitive> all = new ArrayList<>();
        Map<Integer, Integer> first = new HashMap<>();
        int vertices = 0;
        for (int m = 0; m < meshes.size(); m++) {
            float[] own = standing.get(m);
            for (int before = 0; before < m; before++) {
                meet(own, standing.get(before), within);
            }
            first.put(meshes.get(m), vertices);
            Mesh mesh = asset.meshes().get(meshes.get(m));
            int from = 0;
            for (Primitive p : mesh.primitives()) {
                float[] part = Arrays.copyOfRange(own, from * 3, (from + p.vertexCount()) * 3);
                all.add(p.withInfluences(null).withAttributes(List.of()).withShape(part, null, null, List.of()));
                from += p.vertexCount();
            }
            vertices += from;
        }
        Mesh one = asset.meshes().get(meshes.getFirst()).withPrimitives(all);
        return new BodySurface(new WeldedSurface(MeshTopology.of(one), MeshTopology.restPositions(one)), first);
    }

    /** Puts points that lie where others do to the same numbers. */
    private static void meet(float[] points, float[] others, double within) {
        PointTree tree = new PointTree(others);
        for (int v = 0; v * 3 < points.length; v++) {
            int at = tree.nearest(points[v * 3], points[v * 3 + 1], points[v * 3 + 2], within, i -> true);
            if (at >= 0) {
                System.arraycopy(others, at * 3, points, v * 3, 3);
            }
        }
    }

    public WeldedSurface surface() {
        return surface;
    }

    /** Where a vertex of one of the meshes lies on the surface. */
    public int placeOf(int mesh, int vertex) {
        return surface.weldedOf(first.getOrDefault(mesh, 0) + vertex);
    }

    /**
     * Meshes, and after them those that the same skeleton moves: with a joint in common, used once, that ship, and stand for nothing
     * that is there already at another level of detail.
     */
    public static List<Integer> around(Asset asset, List<Integer> meshes) {
        Map<Integer, String> families = LodFamilies.ofMeshes(asset);
        Set<String> there = new HashSet<>();
        meshes.stream().filter(families::containsKey).map(families::get).forEach(there::add);
        List<Skin> skins = meshes.stream()
                .map(m -> asset.skins().get(asset.skinOfMesh(m)))
                .distinct()
                .toList();
        List<Integer> out = new ArrayList<>(meshes);
        for (Node node : asset.nodes()) {
            int mesh = node.mesh();
            boolean skinned =
                    mesh >= 0 && node.skin() >= 0 && asset.meshes().get(mesh).skinned();
            if (!skinned || !node.ships() || out.contains(mesh) || uses(asset, mesh) > 1) {
                continue;
            }
            Skin skin = asset.skins().get(node.skin());
            boolean shares = skins.stream().anyMatch(skin::shares);
            if (shares && (!families.containsKey(mesh) || there.add(families.get(mesh)))) {
                out.add(mesh);
            }
        }
        return out;
    }

    private static long uses(Asset asset, int mesh) {
        return asset.nodes().stream().filter(n -> n.mesh() == mesh).count();
    }
}
