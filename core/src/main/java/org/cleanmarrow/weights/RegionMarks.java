package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.roles.BodyRegion;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;

/**
 * Which region of the body every vertex of a mesh belongs to, as it is kept with the mesh: a vertex attribute whose numbers point
 * into the list {@code extras.regions}. What is written lists all regions in one order, so that meshes can be joined; lists
 * of other files are read in their own.
 */
public final class RegionMarks {
    /** The vertex attribute. */
    public static final String ATTRIBUTE = "_REGION";

    private static final String KEY = "regions";

    private RegionMarks() {}

    /** True where the mesh has regions, be they whole or not. */
    public static boolean on(Mesh mesh) {
        return Extras.of(mesh.carried(), KEY).isArray()
                || mesh.primitives().stream().anyMatch(p -> numbers(p).isPresent());
    }

    private static Optional<float[]> numbers(Primitive p) {
        return p.attribute(ATTRIBUTE).filter(a -> a.width() == 1).map(Attribute::values);
    }

    /** By vertex; null where none is said, or none that is known. */
    public static @Nullable BodyRegion[] of(Mesh mesh) {
        List<Optional<BodyRegion>> names = new ArrayList<>();
        for (JsonNode name : Extras.of(mesh.carried(), KEY)) {
            names.add(name.isString() ? BodyRegion.of(name.stringValue()) : Optional.empty());
        }
        @Nullable BodyRegion[] out = new @Nullable BodyRegion[mesh.vertexCount()];
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            float[] numbers = numbers(p).orElse(new float[0]);
            for (int v = 0; v < numbers.length; v++) {
                boolean whole = numbers[v] >= 0 && numbers[v] < names.size() && numbers[v] == Math.rint(numbers[v]);
                out[first + v] = whole ? names.get((int) numbers[v]).orElse(null) : null;
            }
            first += p.vertexCount();
        }
        return out;
    }

    /** The mesh with these; -1 stands where there is none. */
    public static Mesh with(Mesh mesh, @Nullable BodyRegion[] of) {
        List<Primitive> primitives = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            float[] numbers = new float[p.vertexCount()];
            for (int v = 0; v < numbers.length; v++) {
                BodyRegion region = of[first + v];
                numbers[v] = region == null ? -1 : region.ordinal();
            }
            List<Attribute> attributes = new ArrayList<>(p.attributes());
            attributes.removeIf(a -> a.name().equals(ATTRIBUTE));
            attributes.add(new Attribute(ATTRIBUTE, 1, numbers, Storage.FLOAT));
            primitives.add(p.withAttributes(attributes));
            first += p.vertexCount();
        }
        return listed(mesh.withPrimitives(primitives));
    }

    /** The mesh with the list of all regions, into which its numbers must point. */
    public static Mesh listed(Mesh mesh) {
        ArrayNode list = JsonNodeFactory.instance.arrayNode();
        Arrays.stream(BodyRegion.values()).forEach(r -> list.add(r.code()));
        return new Mesh(
                mesh.name(),
                mesh.primitives(),
                mesh.weights(),
                mesh.targetNames(),
                Extras.with(mesh.carried(), KEY, list));
    }

    /** The region of a triangle: that of most of its corners; where all differ, of the first. */
    public static @Nullable BodyRegion of(@Nullable BodyRegion[] marks, int a, int b, int c) {
        return marks[b] == marks[c] ? marks[b] : marks[a];
    }
}
