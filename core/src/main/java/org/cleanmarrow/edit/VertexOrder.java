package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.surface.VertexMatch;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/**
 * Puts vertices and triangles back into the order of a template: the meshes of an asset, as an editor left them, get the template's
 * vertices, triangles and primitives, with the positions, normals, weights and shapes that the editor gave them.
 *
 * <p>Where an editor welded what the template keeps apart, texture coordinates are the template's. A vertex that could not be told is where
 * those around it would have taken it, with the weights of the nearest that was; it is named. A mesh of which not even half can be told
 * stays as it is. Faces of more than three corners
 * are triangles afterwards. Materials are those that the edited triangles had.
 *
 * @param asset  the edited one with its meshes in the template's order
 * @param meshes what became of each mesh that has its like in the template, by name, or that is the only one in both
 */
public record VertexOrder(Asset asset, List<Reordered> meshes) {
    /** Of the template's vertices: with fewer told the mesh is another, and stays as it is. */
    private static final double LEAST = 0.5;

    private static final String COORDINATES = "TEXCOORD_";

    /**
     * What became of a mesh.
     *
     * @param matched   vertices of the template that were found
     * @param unmatched those that were not, by the template's numbers, rising
     * @param welded    vertices of the template that share theirs with others
     * @param over      vertices of the edited mesh that none of the template is
     */
    public record Reordered(String mesh, int matched, int[] unmatched, int welded, int over) {}

    /**
     * Finds which vertices are which and puts them in order.
     *
     * @param template in the same space and unit as the edited
     * @throws Refused where no mesh has its like, or one has shapes in several primitives that would have to become one
     */
    public static VertexOrder of(Asset template, Asset edited, Work work) throws Refused {
        Asset asset = edited;
        List<Reordered> done = new ArrayList<>();
        for (int m = 0; m < edited.meshes().size(); m++) {
            Optional<Mesh> like = like(template, edited, m);
            if (like.isPresent()) {
                work.at(
                        (double) m / edited.meshes().size(),
                        edited.meshes().get(m).name());
                asset = reordered(asset, m, like.get(), done, work);
            }
        }
        if (done.isEmpty()) {
            throw new Refused("order.no.mesh", template.name());
        }
        return new VertexOrder(asset, List.copyOf(done));
    }

    /**
     * The same for one mesh.
     *
     * @param template in the same space and unit as the asset
     */
    public static VertexOrder of(Mesh template, Asset edited, int mesh, Work work) throws Refused {
        List<Reordered> done = new ArrayList<>();
        return new VertexOrder(reordered(edited, mesh, template, done, work), List.copyOf(done));
    }

    /** The mesh of a template that a mesh of the edited asset was made from: by name, or where both have but one. */
    public static Optional<Mesh> like(Asset template, Asset edited, int mesh) {
        if (template.meshes().size() == 1 && edited.meshes().size() == 1) {
            return Optional.of(template.meshes().getFirst());
        }
        String name = edited.meshes().get(mesh).name();
        return template.meshes().stream().filter(t -> t.name().equals(name)).findFirst();
    }

    private static Asset reordered(Asset asset, int mesh, Mesh template, List<Reordered> done, Work work)
            throws Refused {
        Mesh edited = asset.meshes().get(mesh);
        int[] found = VertexMatch.of(template, edited, work::stopIfCancelled);
        int[] unmatched =
                IntStream.range(0, found.length).filter(v -> found[v] < 0).toArray();
        int matched = found.length - unmatched.length;
        if (matched < LEAST * found.length) {
            int[] all = IntStream.range(0, found.length).toArray();
            done.add(new Reordered(edited.name(), 0, all, 0, edited.vertexCount()));
            return asset;
        }
        int[] uses = new int[edited.vertexCount()];
        for (int v : found) {
            if (v >= 0) {
                uses[v]++;
            }
        }
        int welded =
                (int) Arrays.stream(found).filter(v -> v >= 0 && uses[v] > 1).count();
        int over = (int) Arrays.stream(uses).filter(u -> u == 0).count();
        float[] positions = new float[found.length * 3];
        int[] from = stoodIn(template, edited, found, positions);
        List<Primitive> primitives = new ArrayList<>();
        Source source = new Source(edited);
        int first = 0;
        for (Primitive t : template.primitives()) {
            int end = first + t.vertexCount();
            int[] kept = Arrays.copyOfRange(from, first, end);
            float[] at = Arrays.copyOfRange(positions, first * 3, end * 3);
            primitives.add(source.primitive(t, kept, uses, at));
            first = end;
        }
        done.add(new Reordered(edited.name(), matched, unmatched, welded, over));
        return asset.withMesh(mesh, edited.withPrimitives(primitives), new VertexMap(from));
    }

    /** For vertices that were not found the one whose data they take, and where all are. */
    private static int[] stoodIn(Mesh template, Mesh edited, int[] found, float[] positions) {
        MeshTopology topology = MeshTopology.of(template);
        float[] was = MeshTopology.restPositions(template);
        float[] is = MeshTopology.restPositions(edited);
        int[] from = found.clone();
        List<Integer> ring = new ArrayList<>();
        for (int v = 0; v < from.length; v++) {
            if (from[v] >= 0) {
                System.arraycopy(is, from[v] * 3, positions, v * 3, 3);
                ring.add(v);
            }
        }
        // Outwards from those that were found, each moved as the mean of those that it was reached from.
        while (!ring.isEmpty()) {
            List<Integer> next = new ArrayList<>();
            for (int v : ring) {
                for (int n : topology.neighboursOf(v)) {
                    if (from[n] < 0) {
                        from[n] = from[v];
                        next.add(n);
                    }
                }
            }
            for (int v : next) {
                move(v, topology, from, next, was, positions);
            }
            ring = next;
        }
        int any = Arrays.stream(found).filter(v -> v >= 0).findFirst().orElseThrow();
        for (int v = 0; v < from.length; v++) {
            int stands = topology.weldedOf(v);
            if (from[v] < 0 && from[stands] >= 0) {
                from[v] = from[stands];
                System.arraycopy(positions, stands * 3, positions, v * 3, 3);
            } else if (from[v] < 0) {
                from[v] = any;
                System.arraycopy(was, v * 3, positions, v * 3, 3);
            }
        }
        return from;
    }

    private static void move(
            int v, MeshTopology topology, int[] from, List<Integer> fresh, float[] was, float[] positions) {
        double[] moved = new double[3];
        int many = 0;
        for (int n : topology.neighboursOf(v)) {
            if (from[n] >= 0 && !fresh.contains(n)) {
                many++;
                for (int i = 0; i < 3; i++) {
                    moved[i] += positions[n * 3 + i] - was[n * 3 + i];
                }
            }
        }
        for (int i = 0; i < 3; i++) {
            positions[v * 3 + i] = (float) (was[v * 3 + i] + moved[i] / Math.max(1, many));
        }
    }

    /** The edited mesh as one primitive, however many it has. */
    private static final class Source {
        private final Mesh mesh;
        private final int[] primitiveOf;
        private final Primitive whole;

        Source(Mesh mesh) throws Refused {
            this.mesh = mesh;
            List<Primitive> painted =
                    mesh.primitives().stream().map(p -> p.withMaterial(-1)).toList();
            List<Primitive> merged = PrimitiveMerge.byMaterial(painted);
            if (merged.size() != 1) {
                throw new Refused("order.primitives", mesh.name(), merged.size());
            }
            whole = merged.getFirst();
            primitiveOf = new int[mesh.vertexCount()];
            for (int p = 0, v = 0; p < mesh.primitives().size(); p++) {
                int end = v + mesh.primitives().get(p).vertexCount();
                Arrays.fill(primitiveOf, v, end, p);
                v = end;
            }
        }

        Primitive primitive(Primitive template, int[] kept, int[] uses, float[] positions) {
            Primitive made = Subset.ofVertices(whole, kept, template.triangleCorners());
            List<Attribute> attributes = made.attributes().stream()
                    .map(a -> coordinates(a, template, kept, uses))
                    .toList();
            return made.withShape(positions, made.normals(), made.tangents(), made.targets())
                    .withAttributes(attributes)
                    .withMaterial(mesh.primitives().get(most(kept)).material());
        }

        /** Those of the template for vertices that share one of the edited. */
        private static Attribute coordinates(Attribute own, Primitive template, int[] kept, int[] uses) {
            Optional<Attribute> meant = template.attribute(own.name());
            if (!own.name().startsWith(COORDINATES)
                    || meant.isEmpty()
                    || meant.get().width() != own.width()) {
                return own;
            }
            float[] values = own.values().clone();
            for (int v = 0; v < kept.length; v++) {
                if (uses[kept[v]] != 1) {
                    System.arraycopy(meant.get().values(), v * own.width(), values, v * own.width(), own.width());
                }
            }
            return new Attribute(own.name(), own.width(), values, own.storage());
        }

        /** The primitive that most of some vertices are of. */
        private int most(int[] vertices) {
            int[] many = new int[mesh.primitives().size()];
            int best = 0;
            for (int v : vertices) {
                int p = primitiveOf[v];
                best = ++many[p] > many[best] ? p : best;
            }
            return best;
        }
    }
}
