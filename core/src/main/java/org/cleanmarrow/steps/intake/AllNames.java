package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;

/** Renames all things of a kind by one rule. */
public final class AllNames {
    private AllNames() {}

    /** Names of a kind, in order. */
    public static List<String> of(Asset asset, Rename.Kind kind) {
        return switch (kind) {
            case NODE -> asset.nodes().stream().map(n -> n.name()).toList();
            case MESH -> asset.meshes().stream().map(m -> m.name()).toList();
            case CLIP -> asset.clips().stream().map(c -> c.name()).toList();
            case MATERIAL -> asset.materials().stream().map(m -> m.name()).toList();
        };
    }

    /**
     * Names as a rule makes them.
     *
     * @throws Refused where one would be empty, or be there twice where it was not before; nothing is changed then
     */
    static Change renamed(Asset asset, Rename.Kind kind, UnaryOperator<String> rule) throws Refused {
        List<String> was = of(asset, kind);
        List<String> names = new ArrayList<>();
        Map<String, String> owner = new HashMap<>();
        long changed = 0;
        for (String name : was) {
            String now = rule.apply(name);
            boolean same = now.equals(name);
            if (!same && now.isBlank()) {
                throw new Refused("name.empty", name);
            }
            String before = owner.putIfAbsent(now, name);
            if (before != null && !(same && before.equals(name))) {
                throw new Refused("name.twice", now, before, name);
            }
            changed += same ? 0 : 1;
            names.add(now);
        }
        return Change.of(changed == 0 ? asset : with(asset, kind, names)).count("renamed", changed);
    }

    private static Asset with(Asset asset, Rename.Kind kind, List<String> names) {
        return switch (kind) {
            case NODE -> asset.withNodes(zip(asset.nodes(), names, (n, s) -> n.withName(s)));
            case MESH -> asset.withMeshes(zip(asset.meshes(), names, (m, s) -> m.withName(s)));
            case CLIP -> asset.withClips(zip(asset.clips(), names, (c, s) -> c.withName(s)));
            case MATERIAL -> asset.withMaterials(zip(asset.materials(), names, (m, s) -> m.withName(s)));
        };
    }

    private static <T> List<T> zip(
            List<T> all, List<String> names, java.util.function.BiFunction<T, String, T> rename) {
        List<T> out = new ArrayList<>();
        for (int i = 0; i < names.size(); i++) {
            out.add(rename.apply(all.get(i), names.get(i)));
        }
        return out;
    }
}
