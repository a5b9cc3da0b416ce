package org.cleanmarrow.model;

import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A named set of primitives that share morph weights.
 *
 * <p>Vertices of a mesh are numbered through its primitives in order: the first vertex of primitive p has
 * number {@link #firstVertex}.
 *
 * @param weights     morph weights at rest; null: none given
 * @param targetNames names of the morph targets; empty where the file had none
 */
public record Mesh(
        String name,
        List<Primitive> primitives,
        float @Nullable [] weights,
        List<String> targetNames,
        Passthrough carried)
        implements Refers<Mesh> {

    public static Mesh of(String name, Primitive... primitives) {
        return new Mesh(name, List.of(primitives), null, List.of(), Passthrough.NONE);
    }

    @Override
    public Mesh renumbered(Renumbering numbers) {
        List<Primitive> changed =
                primitives.stream().map(p -> p.renumbered(numbers)).toList();
        boolean same = true;
        for (int p = 0; p < changed.size(); p++) {
            same &= changed.get(p) == primitives.get(p);
        }
        return same ? this : withPrimitives(changed);
    }

    /** With the same weights under other positions of joints in the skin, -1 for those that go. */
    public Mesh withJoints(int[] positions) {
        Map<Influences, Influences> done = new IdentityHashMap<>();
        return withPrimitives(primitives.stream()
                .map(p -> p.influences() == null
                        ? p
                        : p.withRenumbered(done.computeIfAbsent(p.influences(), rows -> rows.renumbered(positions))))
                .toList());
    }

    public int vertexCount() {
        return primitives.stream().mapToInt(Primitive::vertexCount).sum();
    }

    public int triangleCount() {
        return primitives.stream().mapToInt(p -> p.triangleCorners().length / 3).sum();
    }

    public int firstVertex(int primitive) {
        int first = 0;
        for (int p = 0; p < primitive; p++) {
            first += primitives.get(p).vertexCount();
        }
        return first;
    }

    public boolean skinned() {
        return primitives.stream().anyMatch(p -> p.influences() != null);
    }

    public int targetCount() {
        return primitives.stream().mapToInt(p -> p.targets().size()).max().orElse(0);
    }

    public Mesh withPrimitives(List<Primitive> changed) {
        return new Mesh(name, List.copyOf(changed), weights, targetNames, carried);
    }

    public Mesh withName(String newName) {
        return new Mesh(newName, primitives, weights, targetNames, carried);
    }
}
