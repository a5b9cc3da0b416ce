package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.edit.VertexOrder;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.reference.MeshOutline;
import org.cleanmarrow.steps.intake.OrderVertices;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.surface.VertexMatch;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Which vertex is which after an editor: held against the permutations that made the mess. */
public class VertexOrderTest {
    private final Asset pilot = FerryPilot.asset();
    private final Mesh body = pilot.meshes().getFirst();

    /** A mesh in another order and what each of its vertices was. */
    private record Mixed(Mesh mesh, int[] from) {}

    /** The same triangles in any order, beginning at any corner, with the vertices in any order. */
    private static Mixed shuffled(Mesh mesh, Random random) {
        Primitive p = mesh.primitives().getFirst();
        List<Integer> order =
                new ArrayList<>(IntStream.range(0, p.vertexCount()).boxed().toList());
        Collections.shuffle(order, random);
        int[] from = order.stream().mapToInt(Integer::intValue).toArray();
        int[] number = new int[from.length];
        for (int v = 0; v < from.length; v++) {
            number[from[v]] = v;
        }
        int[] corners = p.triangleCorners();
        List<Integer> faces =
                new ArrayList<>(IntStream.range(0, corners.length / 3).boxed().toList());
        Collections.shuffle(faces, random);
        int[] indices = new int[corners.length];
        int at = 0;
        for (int f : faces) {
            int turn = random.nextInt(3);
            for (int k = 0; k < 3; k++) {
                indices[at++] = number[corners[f * 3 + (k + turn) % 3]];
            }
        }
        return new Mixed(mesh.withPrimitives(List.of(Subset.ofVertices(p, from, indices))), from);
    }

    private static Mesh moved(Mesh mesh, float[] positions) {
        Primitive p = mesh.primitives().getFirst();
        return mesh.withPrimitives(List.of(p.withShape(positions, p.normals(), p.tangents(), p.targets())));
    }

    /** Noise alike for all that lies on one place, and 9 cm to one side where vertices lie 2 apart; the mesh is in metres. */
    private static Mesh sculpted(Mesh mesh, double noise, Random random) {
        MeshTopology topology = MeshTopology.of(mesh);
        float[] positions = mesh.primitives().getFirst().positions().clone();
        Map<Integer, float[]> off = new HashMap<>();
        for (int v = 0; v < topology.vertexCount(); v++) {
            float[] by = off.computeIfAbsent(topology.weldedOf(v), k -> new float[] {
                (float) (random.nextGaussian() * noise),
                (float) (random.nextGaussian() * noise),
                (float) (random.nextGaussian() * noise)
            });
            float height = positions[v * 3 + 1];
            for (int i = 0; i < 3; i++) {
                positions[v * 3 + i] += by[i];
            }
            positions[v * 3] += height > 1.1 && height < 1.3 ? 0.09f : 0;
        }
        return moved(mesh, positions);
    }

    /** Vertices that lie on one place may stand for each other only where nothing tells them apart. */
    private static int wrong(Mesh template, int[] found, int[] from) {
        MeshTopology topology = MeshTopology.of(template);
        int wrong = 0;
        for (int v = 0; v < found.length; v++) {
            wrong += found[v] < 0 || topology.weldedOf(from[found[v]]) != topology.weldedOf(v) ? 1 : 0;
        }
        return wrong;
    }

    /** Vertices of triangles; those of none can be told by their place alone. */
    private int[] drawn() {
        return Subset.used(body.primitives().getFirst().triangleCorners());
    }

    @Test
    public void aShuffledAndSculptedBodyIsPutBackVertexForVertex() throws Exception {
        Random random = new Random(5);
        Mixed mixed = shuffled(body, random);
        int[] found = VertexMatch.of(body, mixed.mesh, () -> {});
        assertThat(wrong(body, found, mixed.from)).isZero();
        for (int v : drawn()) {
            assertThat(mixed.from[found[v]]).as("vertex %d", v).isEqualTo(v);
        }
        Mesh sculpted = sculpted(mixed.mesh, 0.002, random);
        int[] after = VertexMatch.of(body, sculpted, () -> {});
        assertThat(wrong(body, after, mixed.from)).isZero();
        assertThat(Arrays.stream(after).distinct().count()).isEqualTo(body.vertexCount());
        // Shipped through the asset: the template's own triangles, nothing else moved, weights gone along.
        Asset edited = pilot.withMesh(0, mixed.mesh, new VertexMap(mixed.from));
        VertexOrder order = VertexOrder.of(pilot, edited, Work.QUIET);
        assertThat(order.meshes().getFirst().matched()).isEqualTo(body.vertexCount());
        assertThat(order.asset().meshes().getFirst().primitives().getFirst().triangleCorners())
                .isEqualTo(body.primitives().getFirst().triangleCorners());
        Motion motion = MotionProbe.compare(pilot, order.asset(), Work.QUIET);
        assertThat(motion.largestMetres()).isZero();
        assertThat(motion.differences(motion.toleranceMetres())).isEmpty();
    }

    /** The ledger's text brings the template along, and what it gives is what the search over whole assets gives. */
    @Test
    public void theStepThatIsReadFromALedgerPutsInOrderWhatCameShuffled() throws Exception {
        Mixed mixed = shuffled(body, new Random(7));
        Asset edited = pilot.withMesh(0, mixed.mesh, new VertexMap(mixed.from));
        List<Step> steps = OrderVertices.like(pilot, edited);
        assertThat(steps).hasSize(1);
        String text = Ledger.EMPTY.plus(steps.getFirst()).toJson();
        assertThat(text.length()).isLessThan(800_000);
        Step read = Ledger.parse(text).entries().getFirst().step();
        assertThat(read).isEqualTo(steps.getFirst());
        Change change = read.apply(edited, Work.QUIET);
        assertThat(change.notes()).isEmpty();
        Motion motion = MotionProbe.compare(pilot, change.asset(), Work.QUIET);
        assertThat(motion.largestMetres()).isZero();
        assertThat(motion.differences(motion.toleranceMetres())).isEmpty();
        assertThat(OrderVertices.like(pilot, change.asset())).isEmpty();
        assertThatThrownBy(() -> OrderVertices.like(pilot.withMeshes(List.of()), edited))
                .isInstanceOf(Refused.class);
        Asset other = LiftBridge.asset();
        assertThatThrownBy(() -> new OrderVertices(other.meshRef(0), MeshOutline.of(body)).apply(other, Work.QUIET))
                .hasMessageContaining("another mesh");
    }

    @Test
    public void whatWasWeldedOrSplitIsToldByItsPlace() throws Exception {
        Random random = new Random(6);
        MeshTopology topology = MeshTopology.of(body);
        Primitive p = body.primitives().getFirst();
        // Welded: one vertex a place.
        int[] kept = IntStream.range(0, topology.vertexCount())
                .filter(v -> topology.weldedOf(v) == v)
                .toArray();
        int[] number = new int[topology.vertexCount()];
        for (int v = 0; v < kept.length; v++) {
            number[kept[v]] = v;
        }
        int[] corners = Arrays.stream(p.triangleCorners())
                .map(c -> number[topology.weldedOf(c)])
                .toArray();
        Mesh welded = body.withPrimitives(List.of(Subset.ofVertices(p, kept, corners)));
        assertThat(kept.length).isLessThan(topology.vertexCount());
        Mixed mixed = shuffled(welded, random);
        int[] found = VertexMatch.of(body, mixed.mesh, () -> {});
        assertThat(wrong(
                        body, found, Arrays.stream(mixed.from).map(v -> kept[v]).toArray()))
                .isZero();
        // The template's seams are there again: every corner has the coordinates that it had.
        Asset edited = pilot.withMesh(
                0,
                mixed.mesh,
                new VertexMap(Arrays.stream(mixed.from).map(v -> kept[v]).toArray()));
        VertexOrder order = VertexOrder.of(pilot, edited, Work.QUIET);
        assertThat(order.meshes().getFirst().welded()).isPositive();
        Primitive back = order.asset().meshes().getFirst().primitives().getFirst();
        assertThat(back.attribute("TEXCOORD_0").orElseThrow().values())
                .isEqualTo(p.attribute("TEXCOORD_0").orElseThrow().values());
        assertThat(back.positions()).isEqualTo(p.positions());
        // Split: every triangle by itself.
        int[] every = p.triangleCorners();
        Mesh split = body.withPrimitives(List.of(
                Subset.ofVertices(p, every, IntStream.range(0, every.length).toArray())));
        Mixed apart = shuffled(split, random);
        int[] told = VertexMatch.of(body, apart.mesh, () -> {});
        int[] from = Arrays.stream(apart.from).map(v -> every[v]).toArray();
        assertThat(wrong(body, told, from)).isZero();
        for (int v : drawn()) {
            assertThat(from[told[v]]).as("vertex %d with its own seam", v).isEqualTo(v);
        }
    }

    /** A tube of 40 sides looks the same turned by each of them: only where it lies tells. */
    @Test
    public void aSymmetricMeshIsToldByWhereItLies() {
        int around = 40;
        int rings = 12;
        float[] positions = new float[around * rings * 3];
        List<Integer> corners = new ArrayList<>();
        for (int r = 0; r < rings; r++) {
            for (int s = 0; s < around; s++) {
                int v = r * around + s;
                double turn = 2 * Math.PI * s / around;
                positions[v * 3] = (float) Math.cos(turn);
                positions[v * 3 + 1] = (float) Math.sin(turn);
                positions[v * 3 + 2] = r * 0.2f;
                int right = r * around + (s + 1) % around;
                if (r + 1 < rings) {
                    corners.addAll(List.of(v, right, right + around, v, right + around, v + around));
                }
            }
        }
        int[] indices = corners.stream().mapToInt(Integer::intValue).toArray();
        Mesh tube = Mesh.of("tube", Primitive.triangles(indices, positions, positions.clone(), -1));
        Random random = new Random(7);
        Mixed mixed = shuffled(tube, random);
        float[] noisy = mixed.mesh.primitives().getFirst().positions().clone();
        for (int i = 0; i < noisy.length; i++) {
            noisy[i] += (float) (random.nextGaussian() * 0.01);
        }
        int[] found = VertexMatch.of(tube, moved(mixed.mesh, noisy), () -> {});
        for (int v = 0; v < found.length; v++) {
            assertThat(mixed.from[found[v]]).isEqualTo(v);
        }
    }

    /** Two thousand equal quads, each told by where it lies, with noise of a thirtieth of its size. */
    @Test
    public void aFieldOfEqualPiecesIsToldByWhereTheyLie() {
        int many = 2000;
        float[] positions = new float[many * 12];
        int[] indices = new int[many * 6];
        for (int q = 0; q < many; q++) {
            float x = q % 50 * 3;
            float y = q / 50 * 3;
            float[] corners = {x, y, 0, x + 1, y, 0, x + 1, y + 1, 0, x, y + 1, 0};
            System.arraycopy(corners, 0, positions, q * 12, 12);
            int[] two = {q * 4, q * 4 + 1, q * 4 + 2, q * 4, q * 4 + 2, q * 4 + 3};
            System.arraycopy(two, 0, indices, q * 6, 6);
        }
        Mesh field = Mesh.of("field", Primitive.triangles(indices, positions, positions.clone(), -1));
        Random random = new Random(9);
        Mixed mixed = shuffled(field, random);
        float[] noisy = mixed.mesh.primitives().getFirst().positions().clone();
        for (int i = 0; i < noisy.length; i++) {
            noisy[i] += (float) (random.nextGaussian() * 0.03);
        }
        int[] found = VertexMatch.of(field, moved(mixed.mesh, noisy), () -> {});
        for (int v = 0; v < found.length; v++) {
            assertThat(mixed.from[found[v]]).isEqualTo(v);
        }
    }

    /** A hole was cut and triangles were turned: all others are told, those that are gone are named. */
    @Test
    public void whatIsNoLongerThereIsNamedAndStandsWhereItsNeighboursWouldHaveIt() throws Exception {
        Primitive p = body.primitives().getFirst();
        MeshTopology topology = MeshTopology.of(body);
        BitSet gone = topology.grown(topology.sameWelded(of(p.triangleCorners()[3000])));
        int[] corners = p.triangleCorners();
        List<Integer> left = new ArrayList<>();
        for (int t = 0; t < corners.length; t += 3) {
            if (!gone.get(corners[t]) && !gone.get(corners[t + 1]) && !gone.get(corners[t + 2])) {
                left.addAll(List.of(corners[t], corners[t + 1], corners[t + 2]));
            }
        }
        int[] indices = left.stream().mapToInt(Integer::intValue).toArray();
        int[] used = Subset.used(indices);
        Mesh cut = body.withPrimitives(List.of(Subset.ofTriangles(p, indices)));
        Mixed mixed = shuffled(cut, new Random(8));
        int[] from = Arrays.stream(mixed.from).map(v -> used[v]).toArray();
        VertexOrder order = VertexOrder.of(pilot, pilot.withMesh(0, mixed.mesh, new VertexMap(from)), Work.QUIET);
        VertexOrder.Reordered told = order.meshes().getFirst();
        BitSet unmatched = new BitSet();
        Arrays.stream(told.unmatched()).forEach(unmatched::set);
        BitSet there = new BitSet();
        Arrays.stream(used).forEach(there::set);
        there = topology.sameWelded(there);
        there.flip(0, body.vertexCount());
        assertThat(unmatched).isEqualTo(there);
        assertThat(there.cardinality()).isPositive();
        assertThat(told.matched() + told.unmatched().length).isEqualTo(body.vertexCount());
        float[] at = order.asset().meshes().getFirst().primitives().getFirst().positions();
        assertThat(at).containsExactly(p.positions(), org.assertj.core.data.Offset.offset(1e-4f));
    }

    private static BitSet of(int vertex) {
        BitSet out = new BitSet();
        out.set(vertex);
        return out;
    }

    @Test
    public void withoutALikeNothingIsDone() {
        assertThatThrownBy(() -> VertexOrder.of(
                        pilot.withMeshes(List.of(body.withName("else"), body.withName("other"))), pilot, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("ferry-pilot");
    }
}
