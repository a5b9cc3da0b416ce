package org.cleanmarrow.cloth;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;

/**
 * How far every vertex of a cloth may go from where its skin has it, kept as a vertex attribute: 0 pinned, 1 free, between
 * them that share of the cloth's reach.
 */
public final class Strays {
    /** One number a vertex. */
    public static final String ATTRIBUTE = "_STRAY";

    private Strays() {}

    /** Of every vertex of a mesh, 0 to 1; free where nothing is said. */
    public static float[] of(Mesh mesh) {
        float[] out = new float[mesh.vertexCount()];
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            Arrays.fill(out, first, first + p.vertexCount(), 1);
            for (Attribute a : p.attributes()) {
                for (int v = 0; a.name().equals(ATTRIBUTE) && v < p.vertexCount(); v++) {
                    float said = a.values()[v * a.width()];
                    out[first + v] = said >= 0 && said <= 1 ? said : said > 1 ? 1 : 0;
                }
            }
            first += p.vertexCount();
        }
        return out;
    }

    /** The mesh with these. @param strays one a vertex, 0 to 1 */
    public static Mesh with(Mesh mesh, float[] strays) {
        List<Primitive> primitives = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            float[] own = Arrays.copyOfRange(strays, first, first + p.vertexCount());
            primitives.add(with(p, new Attribute(ATTRIBUTE, 1, own, Storage.FLOAT)));
            first += p.vertexCount();
        }
        return mesh.withPrimitives(primitives);
    }

    private static Primitive with(Primitive p, Attribute strays) {
        List<Attribute> attributes = new ArrayList<>(p.attributes());
        attributes.removeIf(a -> a.name().equals(ATTRIBUTE));
        attributes.add(strays);
        return p.withAttributes(attributes);
    }
}
