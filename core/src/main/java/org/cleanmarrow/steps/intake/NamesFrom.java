package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.reference.JointMap;
import org.cleanmarrow.work.Step;

/** Finds in a reference what is the same thing under another name. */
public final class NamesFrom {
    private NamesFrom() {}

    /**
     * Steps that give an asset the names of a reference; none where all are the same already. Parts are the same where
     * their vertices and triangles are as many and no other's are; joints as {@link JointMap} finds them.
     */
    public static List<Step> reference(Asset asset, Asset reference) {
        List<Step> out = new ArrayList<>();
        Map<String, String> nodes = new LinkedHashMap<>(JointMap.guess(asset, reference));
        Map<String, String> meshes = new LinkedHashMap<>();
        for (int[] pair : parts(asset, reference)) {
            put(
                    meshes,
                    asset.meshes().get(pair[0]).name(),
                    reference.meshes().get(pair[1]).name());
            String own = nodeOf(asset, pair[0]);
            String other = nodeOf(reference, pair[1]);
            put(nodes, own, other);
        }
        withoutClashes(nodes, asset.nodes().stream().map(n -> n.name()).toList());
        withoutClashes(meshes, asset.meshes().stream().map(Mesh::name).toList());
        if (!nodes.isEmpty()) {
            out.add(new RenameMany(Rename.Kind.NODE, nodes));
        }
        if (!meshes.isEmpty()) {
            out.add(new RenameMany(Rename.Kind.MESH, meshes));
        }
        return out;
    }

    /**
     * Steps that give the materials of an asset the names of a reference, and its slots their order; none where both are so already.
     * Materials are the same where primitives of parts that are the same have as many triangles, and no other of the part has.
     */
    public static List<Step> materials(Asset asset, Asset reference) {
        Map<String, String> names = new LinkedHashMap<>();
        for (int[] pair : parts(asset, reference)) {
            Map<Integer, List<String>> own = slots(asset, pair[0]);
            Map<Integer, List<String>> others = slots(reference, pair[1]);
            own.forEach((triangles, name) -> {
                List<String> like = others.getOrDefault(triangles, List.of());
                if (name.size() == 1 && like.size() == 1) {
                    put(names, name.getFirst(), like.getFirst());
                }
            });
        }
        List<String> all = asset.materials().stream().map(Material::name).toList();
        withoutClashes(names, all);
        List<Step> out = new ArrayList<>();
        if (!names.isEmpty()) {
            out.add(new RenameMany(Rename.Kind.MATERIAL, names));
        }
        List<String> now = all.stream().map(n -> names.getOrDefault(n, n)).toList();
        List<String> order = reference.materials().stream()
                .map(Material::name)
                .filter(now::contains)
                .distinct()
                .toList();
        if (!order.isEmpty()
                && !now.subList(0, Math.min(order.size(), now.size())).equals(order)) {
            out.add(new OrderMaterials(order));
        }
        return out;
    }

    /** By the number of triangles the materials of a mesh's primitives. */
    private static Map<Integer, List<String>> slots(Asset asset, int mesh) {
        Map<Integer, List<String>> out = new LinkedHashMap<>();
        for (Primitive p : asset.meshes().get(mesh).primitives()) {
            if (p.material() >= 0) {
                out.computeIfAbsent(p.triangleCorners().length / 3, k -> new ArrayList<>())
                        .add(asset.materials().get(p.material()).name());
            }
        }
        return out;
    }

    private static void put(Map<String, String> names, String from, String to) {
        if (!from.isEmpty() && !to.isEmpty() && !from.equals(to)) {
            names.put(from, to);
        }
    }

    /** Names that stay, or that two would get, are not given. */
    private static void withoutClashes(Map<String, String> names, List<String> all) {
        boolean changed = true;
        while (changed) {
            Set<String> taken = new HashSet<>();
            all.stream().filter(n -> !names.containsKey(n)).forEach(taken::add);
            changed = names.entrySet().removeIf(e -> !taken.add(e.getValue()));
        }
    }

    private static String nodeOf(Asset asset, int mesh) {
        return asset.nodes().stream()
                .filter(n -> n.mesh() == mesh)
                .findFirst()
                .map(n -> n.name())
                .orElse("");
    }

    private static List<int[]> parts(Asset asset, Asset reference) {
        Map<List<Integer>, List<Integer>> own = byCounts(asset);
        Map<List<Integer>, List<Integer>> others = byCounts(reference);
        List<int[]> out = new ArrayList<>();
        own.forEach((counts, meshes) -> {
            List<Integer> same = others.getOrDefault(counts, List.of());
            if (meshes.size() == 1 && same.size() == 1) {
                out.add(new int[] {meshes.getFirst(), same.getFirst()});
            }
        });
        return out;
    }

    private static Map<List<Integer>, List<Integer>> byCounts(Asset asset) {
        Map<List<Integer>, List<Integer>> out = new LinkedHashMap<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            out.computeIfAbsent(List.of(mesh.vertexCount(), mesh.triangleCount()), k -> new ArrayList<>())
                    .add(m);
        }
        return out;
    }
}
