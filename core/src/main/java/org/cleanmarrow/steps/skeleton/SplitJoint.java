package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NodeEdits;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Puts joints between a joint and one below it, evenly along the bone. The new ones stand still in the one above, so that
 * nothing moves; weights may be shared out among them by where vertices are along the bone.
 */
@StepInfo(name = "split-joint", says = "Puts further joints between a joint and one right below it; nothing moves.")
public record SplitJoint(
        @Parameter(says = "the joint below, whose bone is split")
        String below,

        @Parameter(says = "pieces that the bone is to have", fallback = "2", least = 2, most = 64)
        int pieces,

        @Parameter(says = "share the joint's weights out along the bone", fallback = "true")
        boolean weights)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int child = Names.node(asset, below);
        int n = asset.parents()[child];
        boolean[] joint = asset.jointFlags();
        if (n < 0 || !joint[n] || !joint[child]) {
            throw new Refused("split.no.bone", asset.nodeRef(child));
        }
        if (pieces < 2 || pieces > 64) {
            throw new Refused("split.pieces", pieces);
        }
        Vector3d bone = asset.nodes().get(child).local().translationVector();
        List<String> names = new ArrayList<>();
        double[] shares = new double[pieces - 1];
        for (int i = 0; i < shares.length; i++) {
            names.add(asset.nodes().get(n).name() + "_" + (i + 1));
            shares[i] = (i + 1.0) / pieces;
        }
        Asset out = put(asset, child, names, shares);
        long shared = 0;
        List<Mesh> meshes = new ArrayList<>(out.meshes());
        for (int m = 0; weights && m < meshes.size(); m++) {
            int s = asset.skinOfMesh(m);
            int own = s < 0 ? -1 : asset.skins().get(s).indexOfNode(n);
            if (own >= 0) {
                Mesh was = meshes.get(m);
                meshes.set(m, sharedOut(was, asset.skins().get(s), own, bone));
                shared += was == meshes.get(m) ? 0 : 1;
            }
        }
        return Change.of(out.withMeshes(meshes))
                .count("joints.put.in", shares.length)
                .count("meshes.whose.weights.were.shared.out", shared);
    }

    /**
     * The asset with joints on the bone above a joint, one below the other, in every skin that has the joint above last.
     *
     * @param shares where on the bone, rising from 0 to 1
     */
    static Asset put(Asset asset, int child, List<String> names, double[] shares) throws Refused {
        int n = asset.parents()[child];
        Vector3d bone = asset.nodes().get(child).local().translationVector();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int first = nodes.size();
        double at = 0;
        for (int i = 0; i < shares.length; i++) {
            String name = names.get(i);
            if (asset.nodes().stream().anyMatch(x -> x.name().equals(name))) {
                throw new Refused("name.taken", name);
            }
            Vector3d step = new Vector3d(bone).mul(shares[i] - at);
            at = shares[i];
            int next = i + 1 < shares.length ? nodes.size() + 1 : child;
            nodes.add(Node.group(name, Local.at(step.x, step.y, step.z), next));
        }
        nodes.set(
                n,
                nodes.get(n)
                        .withChildren(Arrays.stream(nodes.get(n).children())
                                .map(c -> c == child ? first : c)
                                .toArray()));
        NodeEdits edits = new NodeEdits(asset.withNodes(nodes));
        Vector3d less = new Vector3d(bone).mul(-at);
        edits.map(child, new NodeMap(new Matrix3d(), less, new Quaterniond(), new Quaterniond(), new Matrix3d()));
        Asset out = edits.done();
        return out.withSkins(out.skins().stream()
                .map(s -> s.indexOfNode(n) < 0 ? s : longer(s, n, first, bone, shares))
                .toList());
    }

    private static Skin longer(Skin skin, int node, int first, Vector3d bone, double[] shares) {
        Matrix4d own = skin.inverseBind(skin.indexOfNode(node));
        return skin.plus(
                IntStream.range(first, first + shares.length).boxed().toList(),
                Arrays.stream(shares)
                        .mapToObj(share -> new Matrix4d()
                                .translation(new Vector3d(bone).mul(-share))
                                .mul(own))
                        .toList());
    }

    /** Each vertex's weight of the joint goes to the two pieces that it lies between. */
    private Mesh sharedOut(Mesh mesh, Skin skin, int own, Vector3d bone) {
        Matrix4d into = skin.inverseBind(own);
        int first = skin.joints().length;
        boolean any = false;
        List<Primitive> out = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            if (p.influences() == null || bone.lengthSquared() == 0) {
                out.add(p);
                continue;
            }
            Influences.Builder rows = new Influences.Builder(p.vertexCount());
            for (int v = 0; v < p.vertexCount(); v++) {
                Vector3d at = into.transformPosition(
                        new Vector3d(p.positions()[v * 3], p.positions()[v * 3 + 1], p.positions()[v * 3 + 2]));
                double along = Math.clamp(at.dot(bone) / bone.lengthSquared(), 0, 1) * pieces - 0.5;
                int low = (int) Math.clamp(Math.floor(along), 0, pieces - 1);
                int high = Math.min(low + 1, pieces - 1);
                float part = high == low ? 0 : (float) Math.clamp(along - low, 0, 1);
                for (int i = p.influences().offsets()[v]; i < p.influences().offsets()[v + 1]; i++) {
                    float w = p.influences().weights()[i];
                    if (p.influences().joints()[i] != own) {
                        rows.add(p.influences().joints()[i], w);
                        continue;
                    }
                    any = true;
                    float upper = w * part;
                    rows.add(low == 0 ? own : first + low - 1, w - upper);
                    rows.add(first + high - 1, upper);
                }
                rows.endRow();
            }
            out.add(p.withInfluences(rows.build()));
        }
        return any ? mesh.withPrimitives(out) : mesh;
    }
}
