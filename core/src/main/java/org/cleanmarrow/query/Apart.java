package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.text.Message;

/**
 * An asset taken apart: the model with its rest pose, and every clip with the skeleton alone. All hold the same skeleton: the
 * same joints in the same order, in the same units, at the same rest.
 *
 * @param model without clips
 * @param clips one asset each, called as its clip, with joints, what the clip moves and what stands above them; no mesh
 * @param left  what clips move that only a mesh has, one sentence each; it is in none of them
 */
public record Apart(Asset model, List<Asset> clips, List<Message> left) {

    public static Apart of(Asset asset) {
        List<Asset> alone = new ArrayList<>();
        List<Message> left = new ArrayList<>();
        for (Clip clip : asset.clips()) {
            List<Channel> moves =
                    clip.channels().stream().filter(c -> !c.shapes()).toList();
            if (moves.size() < clip.channels().size()) {
                left.add(Message.of("apart.left", clip.name(), clip.channels().size() - moves.size()));
            }
            if (!moves.isEmpty()) {
                Clip own = clip.withChannels(moves);
                alone.add(skeleton(asset, List.of(own)).withName(clip.name()));
            }
        }
        return new Apart(asset.withClips(List.of()), List.copyOf(alone), List.copyOf(left));
    }

    /** Joints and what stands above them, without meshes and clips. */
    public static Asset skeleton(Asset asset) {
        return skeleton(asset, List.of());
    }

    private static Asset skeleton(Asset asset, List<Clip> clips) {
        Asset bare = asset.withNodes(asset.nodes().stream()
                        .map(n -> n.mesh() < 0 ? n : n.withMesh(-1, -1))
                        .toList())
                .withAttached(List.of())
                .withClips(clips);
        BitSet kept = bare.animatedNodes();
        boolean[] joint = bare.jointFlags();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                kept.set(n);
            }
        }
        int[] parents = bare.parents();
        for (int n = 0; n < parents.length; n++) {
            for (int up = kept.get(n) ? parents[n] : -1; up >= 0 && !kept.get(up); up = parents[up]) {
                kept.set(up);
            }
        }
        BitSet gone = new BitSet();
        gone.set(0, parents.length);
        gone.andNot(kept);
        return Unused.removed(bare.without(gone));
    }
}
