package org.cleanmarrow.steps.intake;

import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Puts materials, and with them the slots of every mesh, which are its primitives, in an order. Those of which nothing is said come
 * after, as they stood; primitives without a material come first. Vertices are numbered by primitives, so those of a mesh whose slots change
 * places are numbered anew. Several of one name keep their order among themselves.
 */
@StepInfo(name = "order-materials", says = "Puts materials and the slots of every mesh in a given order.")
public record OrderMaterials(
        @Parameter(says = "names in the order wanted; those that are not there are passed over")
        List<String> names) implements Step {
    public OrderMaterials {
        names = List.copyOf(names);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Map<String, Integer> place = new HashMap<>();
        names.forEach(name -> place.putIfAbsent(name, place.size()));
        Set<String> known = new HashSet<>();
        asset.materials().forEach(m -> known.add(m.name()));
        Set<String> unknown = new LinkedHashSet<>(names);
        unknown.removeAll(known);
        if (unknown.size() == place.size()) {
            throw new Refused("materials.none.there", String.join(", ", names));
        }
        int count = asset.materials().size();
        int[] order = IntStream.range(0, count)
                .boxed()
                .sorted(Comparator.comparingInt(
                        m -> place.getOrDefault(asset.materials().get(m).name(), Integer.MAX_VALUE)))
                .mapToInt(m -> m)
                .toArray();
        int[] number = new int[count];
        int moved = 0;
        for (int i = 0; i < count; i++) {
            number[order[i]] = i;
            moved += order[i] == i ? 0 : 1;
        }
        Asset out = asset.renumbered(Renumbering.NONE.with(Renumbering.Kind.MATERIAL, number));
        long changed = 0;
        for (int m = 0; m < out.meshes().size(); m++) {
            Mesh mesh = out.meshes().get(m);
            List<Primitive> slots = mesh.primitives();
            List<Integer> sorted = IntStream.range(0, slots.size())
                    .boxed()
                    .sorted(Comparator.comparingInt(p -> slots.get(p).material()))
                    .toList();
            if (!sorted.equals(IntStream.range(0, slots.size()).boxed().toList())) {
                Mesh done = mesh.withPrimitives(sorted.stream().map(slots::get).toList());
                out = out.withMesh(m, done, PrimitiveMerge.map(slots, sorted));
                changed++;
            }
        }
        Change change = Change.of(out).count("materials.in.order", moved).count("meshes.with.slots.in.order", changed);
        return unknown.isEmpty() ? change : change.note("materials.not.there", String.join(", ", unknown));
    }
}
