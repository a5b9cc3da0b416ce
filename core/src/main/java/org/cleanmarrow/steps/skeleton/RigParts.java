package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Makes joints of loose parts: each part's node becomes a joint that moves the whole part, with its pivot and keys, and
 * the meshes become skinned. Set pivots at hinges first. Nothing moves.
 */
@StepInfo(name = "rig-parts", says = "Makes a joint of each loose part, at its pivot and with its keys; nothing moves.")
public record RigParts(
        @Parameter(says = "names of the parts, with * for any run of characters", fallback = "\"*\"")
        String parts) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(parts);
        List<Integer> chosen = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            boolean fits = pattern.fits(node.name()) || pattern.fits(asset.nodeRef(n));
            if (fits && node.mesh() >= 0 && node.skin() < 0) {
                chosen.add(n);
            }
        }
        if (chosen.isEmpty()) {
            throw new Refused("rig.none", parts);
        }
        BitSet cached = asset.cachedNodes();
        for (int n : chosen) {
            if (cached.get(n)) {
                throw new Refused("rig.cache", asset.nodeRef(n));
            }
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d[] binds = new Matrix4d[chosen.size()];
        for (int j = 0; j < binds.length; j++) {
            binds[j] = world[chosen.get(j)].invert(new Matrix4d());
            if (!binds[j].isFinite()) {
                throw new Refused("freeze.flat", asset.nodeRef(chosen.get(j)));
            }
        }
        List<Skin> skins = new ArrayList<>(asset.skins());
        int[] joints = chosen.stream().mapToInt(Integer::intValue).toArray();
        skins.add(new Skin("parts", joints, Skin.pack(binds), -1, Passthrough.NONE));
        Asset out = asset.withSkins(skins);
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        for (int j = 0; j < joints.length; j++) {
            Node node = asset.nodes().get(joints[j]);
            Mesh mesh = new ShapeMap(world[joints[j]]).apply(asset.meshes().get(node.mesh()));
            meshes.add(bound(mesh, j));
            Node added = new Node(
                    node.name() + "_mesh",
                    Local.IDENTITY,
                    new int[0],
                    meshes.size() - 1,
                    skins.size() - 1,
                    -1,
                    node.weights(),
                    node.ships(),
                    Passthrough.NONE);
            if (asset.nodes().stream().anyMatch(x -> x.name().equals(added.name()))) {
                throw new Refused("name.taken", added.name());
            }
            List<Node> nodes = new ArrayList<>(out.nodes());
            nodes.set(joints[j], nodes.get(joints[j]).withMesh(-1, -1));
            out = NewNodes.under(out.withNodes(nodes), -1, added);
        }
        return Change.of(org.cleanmarrow.query.Unused.removed(out.withMeshes(meshes)))
                .count("parts.that.are.joints.now", joints.length);
    }

    private static Mesh bound(Mesh mesh, int joint) {
        return mesh.withPrimitives(mesh.primitives().stream()
                .map(p -> p.withInfluences(Influences.wholly(p.vertexCount(), joint)))
                .toList());
    }
}
