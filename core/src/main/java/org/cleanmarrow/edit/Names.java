package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.work.Refused;

/** Finds what a step's parameters name, or refuses with what there is instead. */
public final class Names {
    private Names() {}

    public static int mesh(Asset asset, String name) throws Refused {
        int mesh = asset.findMesh(name);
        if (mesh < 0) {
            throw new Refused(
                    "no.mesh",
                    name,
                    some(java.util.stream.IntStream.range(0, asset.meshes().size())
                            .mapToObj(asset::meshRef)
                            .toList()));
        }
        return mesh;
    }

    /** The mesh of a name, or where there is none, those that patterns name. */
    public static List<Integer> oneOrSeveral(Asset asset, String patterns) throws Refused {
        List<Integer> named = asset.findMesh(patterns) >= 0 ? List.of() : meshes(asset, patterns);
        return named.isEmpty() ? List.of(mesh(asset, patterns)) : named;
    }

    /** Meshes that patterns name, in the order of the patterns; none may fit. */
    public static List<Integer> meshes(Asset asset, String patterns) {
        List<Integer> out = new ArrayList<>();
        for (NamePattern pattern : NamePattern.each(patterns)) {
            for (int m = 0; m < asset.meshes().size(); m++) {
                if (pattern.fits(asset.meshRef(m)) && !out.contains(m)) {
                    out.add(m);
                }
            }
        }
        return out;
    }

    /** Nodes that a pattern names, in their order; none may fit. */
    public static List<Integer> nodes(Asset asset, String pattern) {
        NamePattern names = new NamePattern(pattern);
        String[] refs = asset.nodeRefs();
        List<Integer> out = new ArrayList<>();
        for (int n = 0; n < refs.length; n++) {
            if (names.fits(refs[n]) || names.fits(asset.nodes().get(n).name())) {
                out.add(n);
            }
        }
        return out;
    }

    public static int skinnedMesh(Asset asset, String name) throws Refused {
        int mesh = mesh(asset, name);
        if (asset.skinOfMesh(mesh) < 0 || !asset.meshes().get(mesh).skinned()) {
            throw new Refused("not.skinned", name);
        }
        return mesh;
    }

    public static int node(Asset asset, String name) throws Refused {
        int node = asset.findNode(name);
        if (node < 0) {
            throw new Refused("no.node", name);
        }
        return node;
    }

    /** Position of a joint in a skin's list. */
    public static int joint(Asset asset, Skin skin, String name) throws Refused {
        int node = asset.findNode(name);
        int joint = node < 0 ? -1 : skin.indexOfNode(node);
        if (joint < 0) {
            throw new Refused("no.joint", name, skin.joints().length);
        }
        return joint;
    }

    /** Number of a material, the first of its name. */
    public static int material(Asset asset, String name) throws Refused {
        List<String> names = asset.materials().stream().map(Material::name).toList();
        if (!names.contains(name)) {
            throw new Refused("no.material", name, some(names));
        }
        return names.indexOf(name);
    }

    private static String some(List<String> names) {
        if (names.isEmpty()) {
            return "-";
        }
        String joined = String.join(", ", names.subList(0, Math.min(6, names.size())));
        return names.size() > 6 ? joined + ", …" : joined;
    }
}
