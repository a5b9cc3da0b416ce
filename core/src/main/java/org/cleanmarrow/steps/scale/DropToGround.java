package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NodeEdits;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.text.Length;
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

/** Lets the whole asset, or one part, down or up until its lowest vertex at rest is on the ground. */
@StepInfo(name = "drop-to-ground", says = "Puts the lowest vertex of everything, or of one part, on the ground.")
public record DropToGround(
        @Parameter(says = "also put the middle of the box above the origin", fallback = "false")
        boolean centre,

        @Parameter(says = "node of the part; null for everything", fallback = "null")
        Optional<String> part)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = part.isPresent() ? Names.node(asset, part.get()) : -1;
        if (n >= 0 && asset.nodes().get(n).skin() >= 0) {
            throw new Refused("part.skinned", asset.nodeRef(n));
        }
        Box box = n < 0 ? RestBox.of(asset) : SetPivot.boxOf(asset, n);
        if (box.isEmpty()) {
            throw new Refused("ground.nothing");
        }
        Axis up = asset.conventions().up();
        Vector3d by = new Vector3d();
        for (int i = 0; i < 3; i++) {
            if (i == up.dimension()) {
                by.setComponent(
                        i, -(up.sign() > 0 ? box.min().get(i) : box.max().get(i)));
            } else if (centre) {
                by.setComponent(i, -box.centre().get(i));
            }
        }
        Asset out = n < 0 ? everything(asset, by) : onePart(asset, n, by);
        return Change.of(out)
                .count(
                        "parts.let.down",
                        n < 0
                                ? asset.nodes().stream()
                                        .filter(x -> x.mesh() >= 0)
                                        .count()
                                : 1)
                .note("ground.by", new Length(by.length() * asset.conventions().metresPerUnit()));
    }

    private static NodeMap shift(Vector3d by) {
        return new NodeMap(new Matrix3d(), by, new Quaterniond(), new Quaterniond(), new Matrix3d());
    }

    private static Asset onePart(Asset asset, int n, Vector3d by) {
        int parent = asset.parents()[n];
        Matrix4d above = parent < 0 ? new Matrix4d() : new Rig(asset).rest().world()[parent];
        NodeEdits edits = new NodeEdits(asset);
        edits.map(n, shift(new Matrix3d(above).invert().transform(new Vector3d(by))));
        return edits.done();
    }

    private static Asset everything(Asset asset, Vector3d by) {
        NodeEdits edits = new NodeEdits(asset);
        int[] parents = asset.parents();
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                edits.map(n, shift(by));
            }
        }
        return bound(asset, edits.done(), by);
    }

    /** Skinned meshes whose data stand where the mesh does go along in their data, so that bind and rest stay one. */
    private static Asset bound(Asset was, Asset moved, Vector3d by) {
        Matrix4d[] world = new Rig(was).rest().world();
        Matrix4d shift = new Matrix4d().translation(by);
        Matrix4d back = new Matrix4d().translation(new Vector3d(by).negate());
        List<Skin> skins = new ArrayList<>(moved.skins());
        List<Mesh> meshes = new ArrayList<>(moved.meshes());
        for (int s = 0; s < skins.size(); s++) {
            int skin = s;
            Skin own = skins.get(s);
            double reach = 1 + by.length();
            boolean plain = own.joints().length > 0;
            for (int j = 0; j < own.joints().length; j++) {
                plain &= new Matrix4d(world[own.joints()[j]])
                        .mul(own.inverseBind(j))
                        .equals(new Matrix4d(), 1e-4 * reach);
            }
            List<Integer> used = was.nodes().stream()
                    .filter(n -> n.skin() == skin && n.mesh() >= 0)
                    .map(Node::mesh)
                    .distinct()
                    .toList();
            boolean alone = was.nodes().stream().noneMatch(n -> used.contains(n.mesh()) && n.skin() != skin);
            if (!plain || !alone) {
                continue;
            }
            ShapeMap shape = new ShapeMap(shift);
            used.forEach(m -> meshes.set(m, shape.apply(meshes.get(m))));
            skins.set(s, own.bound(j -> own.inverseBind(j).mul(back)));
        }
        return moved.withMeshes(meshes).withSkins(skins);
    }
}
