package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.joml.Matrix4d;

/**
 * Moves what stands at nodes within their axes, when these are about to change. A mesh that stands at several nodes and is
 * not moved alike at all becomes several; those alike go on sharing.
 *
 * <p>Cost: one pass over the vertices of what moves.
 */
public final class Reframed {
    private static final double SAME = 1e-9;

    private Reframed() {}

    /**
     * @param meshes by what the data of the mesh at each node are moved, null for not at all
     * @param things the same for all else that is in its axes: what is attached, and vertex caches
     */
    public static Asset of(Asset asset, Matrix4d[] meshes, Matrix4d[] things) {
        List<Mesh> all = new ArrayList<>(asset.meshes());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (var uses : byMesh(asset, meshes).entrySet()) {
            Mesh mesh = asset.meshes().get(uses.getKey());
            boolean first = true;
            for (var group : uses.getValue().entrySet()) {
                Mesh moved = isNone(group.getKey()) ? mesh : new ShapeMap(group.getKey()).apply(mesh);
                int number = first ? uses.getKey() : all.size();
                if (first) {
                    all.set(number, moved);
                } else {
                    all.add(moved.withName(moved.name() + "_" + number));
                }
                first = false;
                for (int n : group.getValue()) {
                    nodes.set(n, nodes.get(n).withMesh(number, nodes.get(n).skin()));
                }
            }
        }
        return asset.withMeshes(all)
                .withNodes(nodes)
                .mapAttached(a -> moves(things[a.node()]) ? a.moved(things[a.node()]) : a)
                .mapCaches((n, track) -> moves(things[n]) ? track.moved(things[n]) : track);
    }

    private static boolean moves(Matrix4d by) {
        return by != null && !isNone(by);
    }

    private static boolean isNone(Matrix4d by) {
        return by.equals(new Matrix4d(), SAME);
    }

    /** Nodes of every mesh of which any moves, by how it moves; those that stay come first and keep its number. */
    private static Map<Integer, Map<Matrix4d, List<Integer>>> byMesh(Asset asset, Matrix4d[] by) {
        Map<Integer, Map<Matrix4d, List<Integer>>> out = new LinkedHashMap<>();
        for (boolean moving : new boolean[] {false, true}) {
            for (int n = 0; n < by.length; n++) {
                int mesh = asset.nodes().get(n).mesh();
                boolean moves = moves(by[n]);
                if (mesh >= 0 && moves == moving) {
                    out.computeIfAbsent(mesh, m -> new LinkedHashMap<>())
                            .computeIfAbsent(moves ? by[n] : new Matrix4d(), k -> new ArrayList<>())
                            .add(n);
                }
            }
        }
        out.values().removeIf(groups -> groups.keySet().stream().allMatch(Reframed::isNone));
        return out;
    }
}
