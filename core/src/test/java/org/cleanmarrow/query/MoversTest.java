package org.cleanmarrow.query;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.WeldedWeights;
import org.testng.annotations.Test;

/** Held against a sum row by row, with another access to the weights. */
public class MoversTest {
    @Test
    public void meansAreThoseOfTheRows() {
        int tried = 0;
        for (int seed = 0; seed < 20; seed++) {
            Asset asset = RandomAssets.of(seed);
            for (int m = 0; m < asset.meshes().size(); m++) {
                if (asset.skinOfMesh(m) < 0) {
                    continue;
                }
                Mesh mesh = asset.meshes().get(m);
                BitSet some = new BitSet();
                for (int v = seed % 3; v < mesh.vertexCount(); v += 3) {
                    some.set(v);
                }
                List<Movers.Mover> movers = Movers.of(asset, m, some);
                int[] joints = asset.skins().get(asset.skinOfMesh(m)).joints();
                double total = 0;
                for (int j = 0; j < joints.length; j++) {
                    double sum = 0;
                    for (int v = some.nextSetBit(0); v >= 0; v = some.nextSetBit(v + 1)) {
                        Row row = WeldedWeights.rows(mesh).apply(v);
                        sum += row.of(j);
                    }
                    int node = joints[j];
                    double mean = movers.stream()
                            .filter(x -> x.node() == node)
                            .mapToDouble(Movers.Mover::mean)
                            .findFirst()
                            .orElse(0);
                    assertThat(mean).isCloseTo(sum / some.cardinality(), within(1e-6));
                    total += mean;
                    tried += sum > 0 ? 1 : 0;
                }
                assertThat(movers).isSortedAccordingTo((a, b) -> Double.compare(b.mean(), a.mean()));
                double ofAll = movers.stream().mapToDouble(Movers.Mover::mean).sum();
                assertThat(ofAll).as("nothing but the skin's joints").isCloseTo(total, within(1e-6));
            }
        }
        assertThat(tried).isGreaterThan(20);
    }

    @Test
    public void whatHasNoSkinOrNoVerticesIsMovedByNone() {
        Asset asset = RandomAssets.of(1);
        assertThat(Movers.of(asset, -1, new BitSet())).isEmpty();
        assertThat(Movers.of(asset, 0, new BitSet())).isEmpty();
    }
}
