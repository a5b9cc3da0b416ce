package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.step.Step;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Finds in a reference what is the same thing under another name. */
public final class NamesFrom {
    /** Joints this near, as a share of the figure's size, are the same joint. */
    private static final double NEAR = 0.004;

    private NamesFrom() {}

    /**
     * Steps that give an asset the names of a reference; none where all are the same already. Parts are the same where
     * their vertices and triangles are as many and no other's are; joints where their names differ only in case, signs or
     * a subject's prefix, or where no other stands so near at rest.
     */
    public static List<Step> reference(Asset asset, Asset reference) {
        List<Step> out = new ArrayList<>();
        Map<String, String> nodes = new LinkedHashMap<>(joints(asset, reference));
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

    private static String plain(String name) {
        return name.substring(name.lastIndexOf(':') + 1)
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]", "");
    }

    private static Map<String, String> joints(Asset asset, Asset reference) {
        Map<String, String> out = new LinkedHashMap<>();
        boolean[] own = asset.jointFlags();
        boolean[] others = reference.jointFlags();
        Map<String, Integer> byPlain = new HashMap<>();
        for (int n = 0; n < others.length; n++) {
            if (others[n]) {
                byPlain.merge(plain(reference.nodes().get(n).name()), n, (a, b) -> -1);
            }
        }
        List<Vector3d> places = places(asset);
        List<Vector3d> known = places(reference);
        double near = NEAR * Math.max(span(places, own), span(known, others));
        for (int n = 0; n < own.length; n++) {
            if (!own[n]) {
                continue;
            }
            int found = byPlain.getOrDefault(plain(asset.nodes().get(n).name()), -1);
            found = found >= 0 ? found : nearest(places.get(n), known, others, near);
            if (found >= 0) {
                put(
                        out,
                        asset.nodes().get(n).name(),
                        reference.nodes().get(found).name());
            }
        }
        return out;
    }

    /** The only joint so near, or -1. */
    private static int nearest(Vector3d at, List<Vector3d> known, boolean[] joint, double near) {
        int found = -1;
        for (int n = 0; n < joint.length; n++) {
            if (joint[n] && known.get(n).distance(at) < near) {
                if (found >= 0) {
                    return -1;
                }
                found = n;
            }
        }
        return found;
    }

    private static double span(List<Vector3d> places, boolean[] joint) {
        Box box = Box.empty();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                box.grow(places.get(n).x, places.get(n).y, places.get(n).z);
            }
        }
        return box.diagonal();
    }

    /** Places of all nodes at rest, in metres as glTF has its axes. */
    private static List<Vector3d> places(Asset asset) {
        Matrix4d view = Conversion.between(asset.conventions(), org.cleanmarrow.convention.Conventions.GLTF)
                .matrix();
        List<Vector3d> out = new ArrayList<>();
        for (Matrix4d world : new Rig(asset).rest().world()) {
            out.add(view.transformPosition(world.getTranslation(new Vector3d())));
        }
        return out;
    }
}
