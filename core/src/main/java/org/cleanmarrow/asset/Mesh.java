package org.cleanmarrow.asset;

import java.util.List;

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
        String name, List<Primitive> primitives, float[] weights, List<String> targetNames, Carried carried) {

    public static Mesh of(String name, Primitive... primitives) {
        return new Mesh(name, List.of(primitives), null, List.of(), Carried.NONE);
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
