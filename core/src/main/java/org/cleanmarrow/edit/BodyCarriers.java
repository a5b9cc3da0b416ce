package org.cleanmarrow.edit;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;

/** Which joints may travel in a clip, and which should only turn. */
public final class BodyCarriers {
    private BodyCarriers() {}

    /**
     * For each node, whether it may travel: what is no joint, tops of skeletons, what leads from them to the hips, and what is named
     * besides.
     *
     * @param keep names, with {@code *} for any run of characters
     */
    public static boolean[] of(Asset asset, String keep) {
        boolean[] carries = new boolean[asset.nodes().size()];
        int[] parents = asset.parents();
        boolean[] joint = asset.jointFlags();
        for (int n : Roles.of(asset).getOrDefault(Role.HIPS, List.of())) {
            for (int up = n; up >= 0; up = parents[up]) {
                carries[up] = true;
            }
        }
        NamePattern kept = new NamePattern(keep);
        String[] refs = asset.nodeRefs();
        for (int n = 0; n < carries.length; n++) {
            boolean top = parents[n] < 0 || !joint[parents[n]];
            carries[n] |= !joint[n] || top || kept.fits(asset.nodes().get(n).name()) || kept.fits(refs[n]);
        }
        return carries;
    }
}
