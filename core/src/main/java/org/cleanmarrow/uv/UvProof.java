package org.cleanmarrow.uv;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/**
 * Whether the texture coordinates of a mesh are those of the mesh of that name in a template.
 *
 * @param difference empty where the triangles with coordinates are not the same ones, so that corners cannot be told
 */
public record UvProof(String mesh, int set, Optional<UvDifference> difference) {
    /** One of each mesh and set of a template that the other asset has a mesh for. */
    public static List<UvProof> between(Asset template, Asset other) {
        List<UvProof> out = new ArrayList<>();
        for (int m = 0; m < template.meshes().size(); m++) {
            Mesh before = template.meshes().get(m);
            int same = other.findMesh(template.meshRef(m));
            if (same < 0) {
                continue;
            }
            for (int set : UvLayout.sets(before)) {
                Mesh after = other.meshes().get(same);
                out.add(new UvProof(template.meshRef(m), set, of(before, after, set)));
            }
        }
        return out;
    }

    private static Optional<UvDifference> of(Mesh before, Mesh after, int set) {
        Optional<UvLayout> a = UvLayout.of(before, set);
        Optional<UvLayout> b = UvLayout.of(after, set);
        return a.isEmpty() || b.isEmpty() ? Optional.empty() : UvDifference.of(a.get(), b.get());
    }
}
