package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.SideWords;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Makes the joints of the other side: a joint and all joints below it seen in a mirror through the world's origin, with
 * side words swapped. The axes are mirrored as a conversion between handednesses mirrors them, so that a key mirrored
 * alike plays alike. The new joints are in every skin that has the old ones, and move no vertex yet.
 */
@StepInfo(name = "mirror-limb", says = "Makes the joints of the other side, names swapped, with or without their keys.")
public record MirrorLimb(
        @Parameter(says = "topmost joint of the limb") String top,

        @Parameter(says = "mirror the keys of all clips too", fallback = "false")
        boolean keys)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int first = Names.node(asset, top);
        boolean[] joint = asset.jointFlags();
        if (!joint[first]) {
            throw new Refused("limb.no.joint", asset.nodeRef(first));
        }
        List<Integer> limb = below(asset, first, joint);
        Map<Integer, Integer> twins = new HashMap<>();
        int next = asset.nodes().size();
        for (int n : limb) {
            String name = asset.nodes().get(n).name();
            String twin = SideWords.swapped(name).orElseThrow(() -> new Refused("limb.no.side", asset.nodeRef(n)));
            if (asset.nodes().stream().anyMatch(x -> x.name().equals(twin))) {
                throw new Refused("name.taken", twin);
            }
            twins.put(n, next++);
        }
        int parent = asset.parents()[first];
        int hang = MirrorPart.otherSide(asset, parent);
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix3d across = MirrorPart.Across.SIDE.mirror(asset.conventions());
        Matrix4d mirror = new Matrix4d().set3x3(across);
        Map<Integer, Matrix4d> placed = new HashMap<>();
        for (int n : limb) {
            placed.put(n, new Matrix4d(mirror).mul(world[n]).mul(mirror));
        }
        Asset out = asset;
        for (int n : limb) {
            Node node = asset.nodes().get(n);
            Matrix4d above = n == first ? hang < 0 ? new Matrix4d() : world[hang] : placed.get(asset.parents()[n]);
            Matrix4d local = new Matrix4d(above).invert().mul(placed.get(n));
            if (!(Baker.shear(local) <= 1e-4)) {
                throw new Refused("rehang.shear", asset.nodeRef(n), String.format("%.3g", Baker.shear(local)));
            }
            String name = SideWords.swapped(node.name()).orElseThrow();
            Node twin =
                    new Node(name, Baker.parts(local), new int[0], -1, -1, -1, null, node.ships(), Passthrough.NONE);
            out = NewNodes.under(out, n == first ? hang : Objects.requireNonNull(twins.get(asset.parents()[n])), twin);
        }
        out = out.withSkins(asset.skins().stream()
                .map(s -> longer(s, limb, twins, world, placed))
                .toList());
        if (keys) {
            out = keyed(out, asset, limb, twins, across, parent, hang, world);
        }
        return Change.of(out).count("joints.put.in", limb.size());
    }

    private static List<Integer> below(Asset asset, int first, boolean[] joint) {
        List<Integer> out = new ArrayList<>(List.of(first));
        for (int i = 0; i < out.size(); i++) {
            for (int child : asset.nodes().get(out.get(i)).children()) {
                if (joint[child]) {
                    out.add(child);
                }
            }
        }
        return out;
    }

    private static Skin longer(
            Skin skin,
            List<Integer> limb,
            Map<Integer, Integer> twins,
            Matrix4d[] world,
            Map<Integer, Matrix4d> placed) {
        List<Integer> held = limb.stream().filter(n -> skin.indexOfNode(n) >= 0).toList();
        if (held.isEmpty()) {
            return skin;
        }
        return skin.plus(
                held.stream().map(twins::get).toList(),
                held.stream()
                        .map(n -> {
                            // What the joint does to the mesh at rest, the new one does too.
                            Matrix4d bound = new Matrix4d(world[n]).mul(skin.inverseBind(skin.indexOfNode(n)));
                            return new Matrix4d(placed.get(n)).invert().mul(bound);
                        })
                        .toList());
    }

    private static Asset keyed(
            Asset out,
            Asset asset,
            List<Integer> limb,
            Map<Integer, Integer> twins,
            Matrix3d across,
            int parent,
            int hang,
            Matrix4d[] world) {
        Map<Integer, NodeMap> maps = new HashMap<>();
        for (int n : limb) {
            Matrix4d through = new Matrix4d().set3x3(across);
            if (n == limb.getFirst()) {
                through = new Matrix4d(hang < 0 ? new Matrix4d() : world[hang])
                        .invert()
                        .mul(new Matrix4d().set3x3(across))
                        .mul(parent < 0 ? new Matrix4d() : world[parent]);
            }
            Matrix3d linear = new Matrix3d(through);
            maps.put(
                    n,
                    new NodeMap(
                            linear,
                            through.getTranslation(new Vector3d()),
                            NodeMap.properPart(linear),
                            NodeMap.properPart(across),
                            new Matrix3d().scaling(Math.cbrt(Math.abs(linear.determinant())))));
        }
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : out.clips()) {
            List<Channel> all = new ArrayList<>(clip.channels());
            for (Channel c : clip.channels()) {
                NodeMap map = maps.get(c.node());
                if (map != null && c.path().ordinal() <= Channel.Path.SCALE.ordinal()) {
                    all.add(c.withNode(Objects.requireNonNull(twins.get(c.node())))
                            .withTrack(map.apply(c.sampler(), c.path())));
                }
            }
            clips.add(all.size() == clip.channels().size() ? clip : clip.withChannels(all));
        }
        return out.withClips(clips);
    }
}
