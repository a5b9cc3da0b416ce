package org.cleanmarrow.steps.intake;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

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
        return Change.of(polygons == 0 ? asset : asset.withMeshes(meshes)).count("polygons.made.triangles", polygons);
    }
}
