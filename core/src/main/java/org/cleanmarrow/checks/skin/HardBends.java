package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.skin.MakeRigid;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.VertexSet;
import tools.jackson.databind.JsonNode;

/**
 * Buckles and plates that bend: pieces of a skinned mesh that are metal all over, of which an edge grows or shrinks in a trial
 * pose. Metal is what says so in so many words (glTF 2.0, 5.22.4): a material that says nothing is one too, whatever it is of.
 */
public final class HardBends implements Check {
    /** Of its length, what an edge may change by: joints that scale a little, and rounding. */
    private static final double MOST = 0.02;

    private static final double METAL = 0.5;
    private static final Kept<List<Optional<Bent>>> KEPT = new Kept<>(32);

    /** @param most of its length that an edge changed by */
    private record Bent(BitSet vertices, int pieces, double most, String pose) {}

    @Override
    public String id() {
        return "hard-bends";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        if (asset.materials().stream().noneMatch(HardBends::isMetal)) {
            return List.of();
        }
        List<Object> read = Kept.posed(asset, asset.materials());
        List<Optional<Bent>> all = KEPT.of(read, () -> all(asset));
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < all.size(); m++) {
            if (all.get(m).isPresent()) {
                Bent bent = all.get(m).get();
                String mesh = asset.meshRef(m);
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                bent.pieces,
                                bent.pieces,
                                mesh,
                                100 * bent.most,
                                bent.pose)
                        .at(Finding.Place.mesh(m, (BitSet) bent.vertices.clone()))
                        .fixedBy(new MakeRigid(
                                mesh, VertexSet.chosen(asset.meshes().get(m), bent.vertices), "*", "")));
            }
        }
        return out;
    }

    private static boolean isMetal(Material material) {
        JsonNode factor = material.carried().read().path("pbrMetallicRoughness").path("metallicFactor");
        return factor.isNumber()
                && factor.doubleValue() >= METAL
                && material.textures().stream().noneMatch(t -> t.slot().endsWith("/metallicRoughnessTexture"));
    }

    private static List<Optional<Bent>> all(Asset asset) {
        List<Optional<Bent>> out = new ArrayList<>();
        Deformer deformer = new Deformer(asset);
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            int number = m;
            Optional<MeshPlace> place = deformer.places().stream()
                    .filter(p -> p.mesh() == number && p.skin() >= 0)
                    .findFirst();
            BitSet hard = mesh.skinned() && place.isPresent() ? hard(asset, mesh) : new BitSet();
            out.add(hard.isEmpty() ? Optional.empty() : bent(asset, deformer, place.orElseThrow(), hard));
        }
        return out;
    }

    /** Vertices of pieces that are metal all over and do not follow one joint with their whole weight. */
    private static BitSet hard(Asset asset, Mesh mesh) {
        MeshTopology topology = MeshTopology.of(mesh);
        int[] follows = new int[topology.islandCount()];
        boolean[] soft = new boolean[follows.length];
        boolean[] bends = new boolean[follows.length];
        Arrays.fill(follows, -1);
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            boolean metal = p.material() >= 0 && isMetal(asset.materials().get(p.material()));
            Influences rows = p.influences();
            for (int v = 0; v < p.vertexCount(); v++) {
                int island = topology.islandOf(first + v);
                soft[island] |= !metal;
                int joint = rows == null ? -1 : alone(rows, v);
                bends[island] |= joint < 0 || follows[island] >= 0 && follows[island] != joint;
                follows[island] = joint;
            }
            first += p.vertexCount();
        }
        BitSet out = new BitSet();
        for (int v = 0; v < first; v++) {
            int island = topology.islandOf(v);
            out.set(v, bends[island] && !soft[island]);
        }
        return out;
    }

    /** The joint that alone moves a vertex; -1 where several do, or none. */
    private static int alone(Influences rows, int v) {
        int at = rows.offsets()[v];
        return rows.offsets()[v + 1] == at + 1 ? rows.joints()[at] : -1;
    }

    private static Optional<Bent> bent(Asset asset, Deformer deformer, MeshPlace place, BitSet hard) {
        Mesh mesh = asset.meshes().get(place.mesh());
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        Rig rig = new Rig(asset);
        float[] rest = surface.byWelded(deformer.positions(place, rig.rest()));
        double[] change = new double[surface.islandCount()];
        double most = 0;
        String worst = "";
        BitSet places = new BitSet();
        hard.stream().forEach(v -> places.set(surface.weldedOf(v)));
        for (TrialPose pose : TrialPoses.of(asset)) {
            float[] at = surface.byWelded(deformer.positions(place, rig.at(pose.clip(asset), 1)));
            for (int p = places.nextSetBit(0); p >= 0; p = places.nextSetBit(p + 1)) {
                for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                    double was = length(rest, p, surface.neighbours()[e]);
                    double by = was > 0 ? Math.abs(length(at, p, surface.neighbours()[e]) / was - 1) : 0;
                    change[surface.islandOf(p)] = Math.max(change[surface.islandOf(p)], by);
                    worst = by > most ? pose.name() : worst;
                    most = Math.max(most, by);
                }
            }
        }
        BitSet bending = new BitSet();
        BitSet pieces = new BitSet();
        hard.stream()
                .filter(v -> change[surface.islandOf(surface.weldedOf(v))] > MOST)
                .forEach(v -> {
                    bending.set(v);
                    pieces.set(surface.islandOf(surface.weldedOf(v)));
                });
        return bending.isEmpty() ? Optional.empty() : Optional.of(new Bent(bending, pieces.cardinality(), most, worst));
    }

    private static double length(float[] at, int a, int b) {
        return Math.sqrt(square(at[3 * a] - at[3 * b])
                + square(at[3 * a + 1] - at[3 * b + 1])
                + square(at[3 * a + 2] - at[3 * b + 2]));
    }

    private static double square(double x) {
        return x * x;
    }
}
