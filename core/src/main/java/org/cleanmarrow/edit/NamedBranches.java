package org.cleanmarrow.edit;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.work.Refused;

/** Branches of the hierarchy that are named by their first nodes. */
public final class NamedBranches {
    private NamedBranches() {}

    /**
     * For each node, the nearest at or above it that is named; -1 where none is.
     *
     * @param names with {@code *} for any run of characters and commas between several
     * @throws Refused where none is named
     */
    public static int[] of(Asset asset, String names) throws Refused {
        NamePattern pattern = new NamePattern(names);
        String[] refs = asset.nodeRefs();
        int[] parents = asset.parents();
        int[] branch = new int[refs.length];
        boolean any = false;
        for (int n : asset.topDown()) {
            boolean named = pattern.fits(asset.nodes().get(n).name()) || pattern.fits(refs[n]);
            any |= named;
            branch[n] = named ? n : parents[n] < 0 ? -1 : branch[parents[n]];
        }
        if (!any) {
            throw new Refused("no.node", names);
        }
        return branch;
    }
}
