package org.cleanmarrow.steps;

import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Faces;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

/** Lets polygons go in favour of the triangles that they are drawn with. */
@StepInfo(name = "triangulate", says = "Makes triangles of polygons for good; vertices and their order stay.")
public record Triangulate() implements Step {
    @Override
    public Change apply(Asset asset, Work work) {
        long polygons = 0;
        for (Mesh mesh : asset.meshes()) {
            for (Primitive p : mesh.primitives()) {
                Faces faces = p.layout().faces();
                polygons += faces == null ? 0 : faces.beyondTriangles();
            }
        }
        List<Mesh> meshes = asset.meshes().stream()
                .map(m -> m.withPrimitives(m.primitives().stream()
                        .map(p -> p.layout().faces() == null
                                ? p
                                : p.withLayout(p.layout().withFaces(null)))
                        .toList()))
                .toList();
        return Change.of(polygons == 0 ? asset : asset.withMeshes(meshes)).count("polygons made triangles", polygons);
    }
}
