package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;

/** What of an asset is delivered: everything but what was marked to be left behind. */
public final class Shipping {
    private Shipping() {}

    /**
     * The asset without what stays behind. Nodes are taken out only where nothing below them ships; those with
     * something below them stay as plain groups, and so do joints that move something that ships. Meshes, skins,
     * materials and pictures that nothing uses any more go too. An asset that ships whole comes back as it is.
     */
    public static Asset of(Asset asset) {
        boolean all = asset.nodes().stream().allMatch(Node::ships)
                && asset.clips().stream().allMatch(Clip::ships);
        if (all) {
            return asset;
        }
        List<Node> emptied = new ArrayList<>();
        for (Node node : asset.nodes()) {
            emptied.add(node.ships() ? node : emptied(node));
        }
        Asset shown = asset.withNodes(emptied)
                .withAttached(asset.attached().stream()
                        .filter(a -> asset.nodes().get(a.node()).ships())
                        .toList())
                .withClips(asset.clips().stream().filter(Clip::ships).toList());
        BitSet kept = kept(asset, shown);
        BitSet gone = new BitSet();
        gone.set(0, asset.nodes().size());
        gone.andNot(kept);
        return withoutEmptied(Unused.removed(skinsInUse(shown, gone).without(gone)), shown);
    }

    /** A clip whose parts all stay behind moves nothing; without a channel it could not even be written. */
    private static Asset withoutEmptied(Asset asset, Asset before) {
        List<Clip> kept = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            boolean emptied = asset.clips().get(c).channels().isEmpty()
                    && !before.clips().get(c).channels().isEmpty();
            if (!emptied) {
                kept.add(asset.clips().get(c));
            }
        }
        return asset.withClips(kept);
    }

    private static Node emptied(Node node) {
        return new Node(node.name(), node.local(), node.children(), -1, -1, -1, null, false, Passthrough.NONE);
    }

    private static BitSet kept(Asset asset, Asset shown) {
        BitSet kept = new BitSet();
        BitSet bearing = Skeletons.bearing(shown);
        int[] parents = asset.parents();
        for (int n = 0; n < parents.length; n++) {
            if (asset.nodes().get(n).ships() || bearing.get(n)) {
                for (int up = n; up >= 0 && !kept.get(up); up = parents[up]) {
                    kept.set(up);
                }
            }
        }
        return kept;
    }

    /** Skins that move nothing any more and whose joints all go would be left without a joint. */
    private static Asset skinsInUse(Asset asset, BitSet gone) {
        BitSet keep = new BitSet();
        for (int s = 0; s < asset.skins().size(); s++) {
            for (int joint : asset.skins().get(s).joints()) {
                if (!gone.get(joint)) {
                    keep.set(s);
                }
            }
        }
        return Unused.keepSkins(asset, keep);
    }
}
