package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.measure.Hidden;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.skin.Cover;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Work;

/**
 * More triangles of a body than the target allows that nobody sees under what it wears, in any trial pose or clip. What covers what
 * is found ({@link PokeThrough#coverings}).
 */
public final class Unseen implements Check {
    private static final Kept<List<Under>> KEPT = new Kept<>(32);

    private record Under(int body, List<Integer> worn, int triangles, BitSet vertices) {}

    @Override
    public String id() {
        return "unseen";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        double most = examination.target().most(Budget.UNSEEN_TRIANGLES);
        if (Double.isInfinite(most)) {
            return List.of();
        }
        List<Object> read = Kept.posed(asset, asset.clips(), asset.materials());
        List<Finding> out = new ArrayList<>();
        for (Under under : KEPT.of(read, () -> all(asset, examination.work()))) {
            if (under.triangles > most) {
                String body = asset.meshRef(under.body);
                String worn = under.worn.stream()
                        .map(asset::meshRef)
                        .map(NamePattern::exactly)
                        .collect(Collectors.joining(","));
                String said = under.worn.stream().map(asset::meshRef).collect(Collectors.joining(", "));
                Finding finding = Finding.of(
                                this, Severity.CAUTION, "", body, under.triangles, under.triangles, body, said, most)
                        .at(Finding.Place.mesh(under.body, (BitSet) under.vertices.clone()));
                // What is hidden as a whole is a part to be left out, not one with a hole in it.
                boolean all = under.triangles == asset.meshes().get(under.body).triangleCount();
                out.add(all ? finding : finding.fixedBy(new Cover(body, worn)));
            }
        }
        return out;
    }

    private static List<Under> all(Asset asset, Work work) {
        List<Under> out = new ArrayList<>();
        for (Map.Entry<Integer, List<Integer>> pair :
                PokeThrough.coverings(asset, work).entrySet()) {
            Mesh mesh = asset.meshes().get(pair.getKey());
            BitSet hidden = Hidden.triangles(asset, pair.getKey(), pair.getValue(), Cover.FRAMES, Cover.RINGS, work);
            int[] corners = MeshTopology.of(mesh).corners();
            BitSet vertices = new BitSet();
            hidden.stream().forEach(t -> {
                for (int i = 0; i < 3; i++) {
                    vertices.set(corners[3 * t + i]);
                }
            });
            out.add(new Under(pair.getKey(), pair.getValue(), hidden.cardinality(), vertices));
        }
        return out;
    }
}
