package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * A part that became a mesh on joints of its own: these hang below the part's node, which keeps its place and its keys, and the mesh is
 * drawn by a node of its own.
 *
 * @param joints nodes, one for each middle
 */
record JointPerPiece(Asset asset, int[] joints) {
    /**
     * @param node    where the mesh stood; it stands at no other
     * @param bound   the mesh as it is now, on joints by their numbers among the middles
     * @param middles where each joint stands, in the node's axes
     */
    static JointPerPiece of(Asset asset, int node, Mesh bound, Vector3d[] middles) {
        Node was = asset.nodes().get(node);
        Asset out = asset.withMesh(was.mesh(), bound);
        List<Node> nodes = new ArrayList<>(out.nodes());
        nodes.set(node, was.withMesh(-1, -1));
        out = out.withNodes(nodes);
        Set<String> taken = new HashSet<>();
        asset.nodes().forEach(n -> taken.add(n.name()));
        int[] joints = new int[middles.length];
        Matrix4d[] binds = new Matrix4d[joints.length];
        String base = was.name().isEmpty() ? "piece" : was.name();
        int digits = Math.max(2, String.valueOf(joints.length).length());
        for (int j = 0; j < joints.length; j++) {
            String name = NewNodes.free(taken, base + "_" + String.format(Locale.ROOT, "%0" + digits + "d", j + 1));
            Vector3d c = middles[j];
            out = NewNodes.under(out, node, Node.group(name, Local.at(c.x, c.y, c.z)));
            joints[j] = out.nodes().size() - 1;
            // As float32 has it, so that nothing is off at rest.
            binds[j] = out.nodes().get(joints[j]).local().toMatrix().invert();
        }
        List<Skin> skins = new ArrayList<>(out.skins());
        skins.add(new Skin(base, joints, Skin.pack(binds), -1, Passthrough.NONE));
        Node drawn = new Node(
                NewNodes.free(taken, base + "_mesh"),
                Local.IDENTITY,
                new int[0],
                was.mesh(),
                skins.size() - 1,
                -1,
                was.weights(),
                was.ships(),
                Passthrough.NONE);
        return new JointPerPiece(NewNodes.under(out.withSkins(skins), -1, drawn), joints);
    }
}
