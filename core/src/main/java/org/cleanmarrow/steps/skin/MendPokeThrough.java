package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Keeps a body from showing through what it wears, by their shapes at rest: where a place of the body stands out in a trial pose or a clip,
 * it goes in along its normal, or the garment there goes out along its own, by as much as it stands out and a little more, and what is
 * around goes along less and less. Layers of a garment move together. No vertex moves further than it may; what still stands out then is
 * said, and what stands out by more than that is let be. Weights stay. The measure is {@link PokeThrough}'s; it is taken anew after every round, of which there are six at most, and the best is kept.
 */
@StepInfo(
        name = "mend-poke-through",
        says = "Moves a body in, or what it wears out, where the body shows through in trial poses and clips.")
public record MendPokeThrough(
        @Parameter(says = "name of the mesh below") String body,

        @Parameter(says = "name of the mesh worn on it") String worn,

        @Parameter(says = "what gives way: the body, what is worn, or both by half", fallback = "\"body\"")
        Way way,

        @Parameter(
                says = "the furthest that any vertex may move",
                fallback = "10",
                unit = "mm",
                least = 0.1,
                most = 1000)
        double mostMillimetres,

        @Parameter(
                says = "frames looked at in every clip, beside rest and the trial poses; 0 for none",
                fallback = "8",
                least = 0,
                most = 1000)
        int framesPerClip)
        implements Step {
    /** What gives way. */
    public enum Way {
        BODY,
        WORN,
        BOTH
    }

    private static final int ROUNDS = 6;
    /** Metres by which the body is to lie below in the end. */
    private static final double CLEARANCE = 0.001;
    /** How far around a place others go along, in what it moves. */
    private static final double SPREAD = 4;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int below = Names.skinnedMesh(asset, body);
        int above = Names.skinnedMesh(asset, worn);
        if (below == above || !(mostMillimetres > 0) || framesPerClip < 0 || framesPerClip > 1000) {
            throw new Refused("poke.range", body, worn);
        }
        double metre = 1 / asset.conventions().metresPerUnit();
        Layer in = new Layer(asset, below, mostMillimetres / 1000 * metre, -1);
        Layer out = new Layer(asset, above, mostMillimetres / 1000 * metre, 1);
        double share = way == Way.BOTH ? 0.5 : 1;
        Asset now = asset;
        Asset best = asset;
        PokeThrough.Found wants = (vertex, depth, corners) -> {
            double by = share * (depth + CLEARANCE * metre);
            if (by > mostMillimetres / 1000 * metre) {
                // A dent that does not help; such places want other weights.
                return;
            }
            if (way != Way.WORN) {
                in.wants(vertex, by);
            }
            for (int k = 0; k < 3 && way != Way.BODY; k++) {
                out.wants(corners[k], by);
            }
        };
        PokeThrough before = PokeThrough.of(asset, below, above, framesPerClip, wants, work)
                .orElseThrow(() -> new Refused("poke.none.covered", worn, body));
        PokeThrough after = before;
        PokeThrough found = before;
        for (int round = 0; round < ROUNDS && !found.moments().isEmpty(); round++) {
            work.at((round + 1) / (ROUNDS + 1.0), "");
            boolean moves = in.move() | out.move();
            if (!moves) {
                break;
            }
            now = now.withMesh(below, in.mesh()).withMesh(above, out.mesh());
            in.begin();
            out.begin();
            found = PokeThrough.of(now, below, above, before.asked(), framesPerClip, wants, work);
            if (places(found) < places(after)) {
                after = found;
                best = now;
            }
        }
        if (before.moments().isEmpty()) {
            throw new Refused("poke.nothing", body, worn);
        }
        if (places(after) >= places(before)) {
            throw new Refused("poke.no.better", body, worn, mostMillimetres);
        }
        Change change = Change.of(best)
                .count("vertices.moved", moved(asset, best, below) + moved(asset, best, above))
                .note("poke.was", before.moments().size(), before.looked(), deepest(before), places(before));
        return after.moments().isEmpty()
                ? change.note("poke.gone")
                : change.note("poke.left", after.moments().size(), after.looked(), deepest(after), places(after));
    }

    private static long moved(Asset before, Asset after, int mesh) {
        float[] was = MeshTopology.restPositions(before.meshes().get(mesh));
        float[] is = MeshTopology.restPositions(after.meshes().get(mesh));
        return IntStream.range(0, was.length / 3)
                .filter(v -> !Arrays.equals(was, v * 3, v * 3 + 3, is, v * 3, v * 3 + 3))
                .count();
    }

    private static long places(PokeThrough found) {
        return found.moments().stream()
                .mapToLong(m -> m.vertices().cardinality())
                .sum();
    }

    private static Length deepest(PokeThrough found) {
        return new Length(found.moments().getFirst().deepest());
    }

    /** One of the two meshes: how far each place is to go by itself, and how far all go because of it. */
    private static final class Layer {
        private final Mesh given;
        private final WeldedSurface surface;
        private final double most;
        private final int sign;
        private final float[] normals;
        private final double[] own;
        private final float[] gone;
        /** How large the mesh stands in the scene against its own positions. */
        private final double scale;

        private double[] wanted;

        Layer(Asset asset, int mesh, double most, int sign) {
            given = asset.meshes().get(mesh);
            surface = MeshTopology.of(given).welded(given);
            Deformer deformer = new Deformer(asset);
            float[] posed = deformer.places().stream()
                    .filter(p -> p.mesh() == mesh)
                    .findFirst()
                    .map(p -> deformer.positions(p, new Rig(asset).rest()))
                    .orElseGet(surface::positions);
            scale = size(posed) / size(surface.positions());
            this.most = most / scale;
            this.sign = sign;
            normals = surface.normals();
            own = new double[surface.size()];
            wanted = new double[surface.size()];
            gone = new float[surface.size() * 3];
        }

        private static double size(float[] positions) {
            Box box = Box.empty();
            box.grow(positions);
            return box.diagonal();
        }

        void begin() {
            wanted = new double[surface.size()];
        }

        /** @param by how far a vertex is to go, where it stands in the scene */
        void wants(int vertex, double by) {
            int place = surface.weldedOf(vertex);
            wanted[place] = Math.max(wanted[place], by / scale);
        }

        /** Moves what wants to and what is around it; false where nothing may move any more. */
        boolean move() {
            boolean more = false;
            for (int p = 0; p < own.length; p++) {
                double to = Math.min(most, own[p] + wanted[p]);
                more |= to > own[p];
                own[p] = to;
            }
            if (!more) {
                return false;
            }
            int[] sources =
                    IntStream.range(0, own.length).filter(p -> own[p] > 0).toArray();
            float[] at = surface.positions();
            IntStream.range(0, surface.size()).parallel().forEach(p -> {
                int from = p;
                double by = own[p];
                for (int s : sources) {
                    double dx = at[p * 3] - at[s * 3];
                    double dy = at[p * 3 + 1] - at[s * 3 + 1];
                    double dz = at[p * 3 + 2] - at[s * 3 + 2];
                    double share = 1 - Math.sqrt(dx * dx + dy * dy + dz * dz) / (SPREAD * own[s]);
                    // Smoothly from all of it to nothing.
                    double along = share <= 0 ? 0 : own[s] * share * share * (3 - 2 * share);
                    if (along > by) {
                        by = along;
                        from = s;
                    }
                }
                // The layers of a garment go the same way; of a body each place goes straight in.
                int way = sign > 0 ? from : p;
                for (int i = 0; i < 3; i++) {
                    gone[p * 3 + i] = (float) (sign * by * normals[way * 3 + i]);
                }
            });
            return true;
        }

        Mesh mesh() {
            List<Primitive> primitives = new ArrayList<>();
            int first = 0;
            for (Primitive p : given.primitives()) {
                float[] positions = p.positions().clone();
                for (int v = 0; v < p.vertexCount(); v++) {
                    for (int i = 0; i < 3; i++) {
                        positions[v * 3 + i] += gone[surface.weldedOf(first + v) * 3 + i];
                    }
                }
                primitives.add(p.withShape(positions, p.normals(), p.tangents(), p.targets()));
                first += p.vertexCount();
            }
            return given.withPrimitives(primitives);
        }
    }
}
