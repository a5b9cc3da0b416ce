package org.cleanmarrow.retarget;

import java.util.BitSet;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.joml.Vector3d;

/**
 * One of several bodies in an asset: some of its nodes, and what they are in a human body.
 *
 * @param roles as they are set, or else as they are guessed
 * @param ahead where it faces
 */
public record BodyRoles(Map<Role, Integer> roles, Vector3d ahead) {
    /** Cost: that of guessing roles, even where they are set. */
    public static BodyRoles of(Asset asset, BitSet nodes) {
        int[] kept = nodes.stream().toArray();
        Body body = Body.of(alone(asset, nodes));
        Map<Role, Integer> roles = new EnumMap<>(Role.class);
        Roles.of(asset).forEach((role, joints) -> {
            if (joints.size() == 1 && nodes.get(joints.getFirst())) {
                roles.put(role, joints.getFirst());
            }
        });
        if (!roles.keySet().containsAll(Role.allRequired())) {
            roles.clear();
            body.roles().forEach((role, guess) -> roles.put(role, kept[guess.node()]));
        }
        return new BodyRoles(roles, body.frame().forward());
    }

    /** These nodes as an asset; where none of them is known for a joint, all without a mesh are. */
    private static Asset alone(Asset asset, BitSet nodes) {
        BitSet gone = new BitSet();
        gone.set(0, asset.nodes().size());
        gone.andNot(nodes);
        boolean[] joint = asset.jointFlags();
        boolean known = nodes.stream().anyMatch(n -> joint[n]);
        int[] own = nodes.stream()
                .filter(n -> known ? joint[n] : asset.nodes().get(n).mesh() < 0)
                .toArray();
        return asset.withNodes(asset.nodes().stream()
                        .map(n -> n.mesh() < 0 ? n : n.withMesh(-1, -1))
                        .toList())
                .withMeshes(List.of())
                .withClips(List.of())
                .withAttached(List.of())
                .withSkins(List.of(new Skin("", own, null, -1, Passthrough.NONE)))
                .without(gone);
    }
}
