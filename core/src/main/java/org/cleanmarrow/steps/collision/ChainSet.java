package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;

/** Joints that stand in rows: each with one joint below it at most, three or more; of a person what hangs from it alone. */
final class ChainSet {
    private static final int FEWEST = 3;

    private ChainSet() {}

    static BitSet of(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        boolean[] own = new boolean[joint.length];
        BitSet ofBody = BodySet.of(asset).map(BodySet::person).orElseGet(BitSet::new);
        for (int n = 0; n < joint.length; n++) {
            own[n] = joint[n] && !ofBody.get(n);
        }
        int[] below = new int[joint.length];
        for (int n = 0; n < joint.length; n++) {
            if (own[n] && parents[n] >= 0) {
                below[parents[n]]++;
            }
        }
        BitSet out = new BitSet();
        for (int n : asset.topDown()) {
            boolean begins = own[n] && (parents[n] < 0 || !own[parents[n]] || below[parents[n]] > 1);
            List<Integer> row = new ArrayList<>();
            for (int at = begins ? n : -1; at >= 0; at = next(asset, own, at)) {
                row.add(at);
                if (below[at] != 1) {
                    break;
                }
            }
            if (row.size() >= FEWEST) {
                row.forEach(out::set);
            }
        }
        return out;
    }

    private static int next(Asset asset, boolean[] own, int node) {
        return Arrays.stream(asset.nodes().get(node).children())
                .filter(n -> own[n])
                .findFirst()
                .orElse(-1);
    }
}
