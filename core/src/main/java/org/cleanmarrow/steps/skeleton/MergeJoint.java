package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
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

/** Takes a joint out and gives its weights to the one above, which moves them from now on. */
@StepInfo(name = "merge-joint", says = "Takes a joint out and gives its weights to the joint above it.")
public record MergeJoint(@Parameter(says = "the joint") String joint) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, joint);
        boolean[] flags = asset.jointFlags();
        int parent = asset.parents()[n];
        if (!flags[n] || parent < 0 || !flags[parent]) {
            throw new Refused("merge.no.parent", asset.nodeRef(n));
        }
        Node node = asset.nodes().get(n);
        boolean carries = asset.attached().stream().anyMatch(a -> a.node() == n);
        if (node.mesh() >= 0 || node.camera() >= 0 || carries) {
            throw new Refused("merge.carries", asset.nodeRef(n));
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        long moved = 0;
        for (int s = 0; s < asset.skins().size(); s++) {
            Skin skin = asset.skins().get(s);
            int from = skin.indexOfNode(n);
            int to = skin.indexOfNode(parent);
            if (from < 0) {
                continue;
            }
            if (to < 0) {
                throw new Refused("merge.not.in.skin", asset.nodeRef(parent), skin.name());
            }
            BitSet done = new BitSet();
            for (Node use : asset.nodes()) {
                if (use.skin() != s || use.mesh() < 0 || done.get(use.mesh())) {
                    continue;
                }
                done.set(use.mesh());
                List<Primitive> primitives = new ArrayList<>();
                for (Primitive p : meshes.get(use.mesh()).primitives()) {
                    long here = vertices(p, from);
                    moved += here;
                    primitives.add(
                            here == 0 ? p : p.withInfluences(given(Objects.requireNonNull(p.influences()), from, to)));
                }
                meshes.set(use.mesh(), meshes.get(use.mesh()).withPrimitives(primitives));
            }
        }
        ReparentKeepingWorld rehang = new ReparentKeepingWorld(asset);
        for (int child : node.children()) {
            rehang.hang(child, parent);
        }
        BitSet gone = new BitSet();
        gone.set(n);
        Asset out = rehang.done(work).withMeshes(meshes).without(gone);
        return Change.of(out)
                .count("joints.merged", 1)
                .count("vertices.that.follow.the.joint.above.now", moved)
                .count("joints.hung.elsewhere", node.children().length);
    }

    private static long vertices(Primitive p, int joint) {
        long many = 0;
        for (int v = 0; p.influences() != null && v < p.vertexCount(); v++) {
            many += p.influences().weight(v, joint) != 0 ? 1 : 0;
        }
        return many;
    }

    private static Influences given(Influences rows, int from, int to) {
        Influences.Builder out = new Influences.Builder(rows.vertexCount());
        for (int v = 0; v < rows.vertexCount(); v++) {
            float sum = rows.weight(v, from) + rows.weight(v, to);
            boolean put = false;
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                boolean own = rows.joints()[i] == from || rows.joints()[i] == to;
                if (!own) {
                    out.add(rows.joints()[i], rows.weights()[i]);
                } else if (!put) {
                    out.add(to, sum);
                    put = true;
                }
            }
            out.endRow();
        }
        return out.build();
    }
}
