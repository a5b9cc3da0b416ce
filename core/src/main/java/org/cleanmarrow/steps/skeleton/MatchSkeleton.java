package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.geometry.Turn;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.reference.SkeletonOutline;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;

/**
 * Makes a skeleton like a reference, by joint names: hangs joints on the parents they have there, turns their axes as
 * they are there, and puts them in that order. Clips and binds are rewritten, so nothing moves. Joints that only one of
 * the two has stay as they are; places at rest are not touched.
 */
@StepInfo(
        name = "match-skeleton",
        says = "Hangs, turns and orders joints as a reference skeleton has them; nothing moves.")
public record MatchSkeleton(
        @Parameter(says = "the reference: joints in order, with parent, place in metres and axes, as glTF has them")
        SkeletonOutline reference,

        @Parameter(says = "give joints the parents they have there", fallback = "true")
        boolean parents,

        @Parameter(says = "turn the joints' own axes as they are there", fallback = "true")
        boolean axes,

        @Parameter(says = "put joints in the order they have there", fallback = "true")
        boolean order)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Map<String, SkeletonOutline.Joint> wanted = reference.byName();
        Map<String, Integer> here = joints(asset);
        here.keySet().retainAll(wanted.keySet());
        if (here.isEmpty()) {
            throw new Refused("reference.none", reference.joints().size());
        }
        ReparentKeepingWorld rehang = new ReparentKeepingWorld(asset);
        long hung = parents ? hang(asset, here, rehang) : 0;
        long turned = axes ? turn(asset, here, wanted, rehang) : 0;
        Asset alike = hung + turned == 0 ? asset : rehang.done(work);
        Asset ordered = order ? ordered(alike) : alike;
        long moved = IntStream.range(0, ordered.skins().size())
                .filter(s -> ordered.skins().get(s) != alike.skins().get(s))
                .count();
        return Change.of(ordered)
                .count("joints.hung.elsewhere", hung)
                .count("joints.turned", turned)
                .count("skins.put.in.order", moved);
    }

    private static Map<String, Integer> joints(Asset asset) {
        Map<String, Integer> out = new HashMap<>();
        boolean[] joint = asset.jointFlags();
        String[] refs = asset.nodeRefs();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                out.put(refs[n], n);
            }
        }
        return out;
    }

    /** A joint goes below the nearest one above it in the reference that is here too; tops of the reference stay. */
    private long hang(Asset asset, Map<String, Integer> here, ReparentKeepingWorld rehang) {
        int[] was = asset.parents();
        boolean[] joint = asset.jointFlags();
        long many = 0;
        for (var entry : here.entrySet()) {
            int n = entry.getValue();
            int above = reference.above(entry.getKey()).stream()
                    .filter(here::containsKey)
                    .findFirst()
                    .map(here::get)
                    .orElse(-1);
            int now = was[n];
            while (now >= 0 && !(joint[now] && here.containsValue(now))) {
                now = was[now];
            }
            if (above >= 0 && above != now) {
                rehang.hang(n, above);
                many++;
            }
        }
        return many;
    }

    private static long turn(
            Asset asset,
            Map<String, Integer> here,
            Map<String, SkeletonOutline.Joint> wanted,
            ReparentKeepingWorld rehang) {
        Conversion back = Conversion.between(Conventions.GLTF, asset.conventions());
        Matrix4d[] world = new Rig(asset).rest().world();
        long many = 0;
        for (var entry : here.entrySet()) {
            int n = entry.getValue();
            Matrix3d own = new Matrix3d().set(Turn.of(world[n]));
            Quaterniond there =
                    Objects.requireNonNull(wanted.get(entry.getKey())).axes();
            Matrix3d target = new Matrix3d(back.apply(new Matrix4d().rotation(there)));
            Matrix3d change = own.transpose(new Matrix3d()).mul(target);
            if (!change.equals(new Matrix3d(), 1e-7)) {
                rehang.frame(n, new Matrix4d().set3x3(change));
                many++;
            }
        }
        return many;
    }

    private Asset ordered(Asset asset) {
        Map<String, Integer> rank = new HashMap<>();
        reference.joints().forEach(j -> rank.putIfAbsent(j.name(), rank.size()));
        String[] refs = asset.nodeRefs();
        Comparator<Integer> byRank = Comparator.comparingInt(n -> rank.getOrDefault(refs[n], Integer.MAX_VALUE));
        List<Node> nodes = new ArrayList<>();
        for (Node node : asset.nodes()) {
            int[] children = Arrays.stream(node.children())
                    .boxed()
                    .sorted(byRank)
                    .mapToInt(Integer::intValue)
                    .toArray();
            nodes.add(Arrays.equals(children, node.children()) ? node : node.withChildren(children));
        }
        List<Skin> skins = new ArrayList<>();
        int[][] number = new int[asset.skins().size()][];
        BitSet shared = sharingAMesh(asset);
        for (int s = 0; s < number.length; s++) {
            Skin skin = asset.skins().get(s);
            if (shared.get(s)) {
                skins.add(skin);
                continue;
            }
            int[] places = IntStream.range(0, skin.joints().length)
                    .boxed()
                    .sorted(Comparator.comparing(j -> skin.joints()[j], byRank))
                    .mapToInt(Integer::intValue)
                    .toArray();
            number[s] = new int[places.length];
            boolean same = true;
            for (int j = 0; j < places.length; j++) {
                number[s][places[j]] = j;
                same &= places[j] == j;
            }
            skins.add(same ? skin : permuted(skin, places));
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        for (int m = 0; m < meshes.size(); m++) {
            int s = asset.skinOfMesh(m);
            if (s >= 0 && skins.get(s) != asset.skins().get(s)) {
                meshes.set(m, meshes.get(m).withJoints(number[s]));
            }
        }
        return asset.withNodes(nodes).withSkins(skins).withMeshes(meshes);
    }

    /** Skins of meshes that stand with another skin too: their influences cannot be renumbered for both. */
    private static BitSet sharingAMesh(Asset asset) {
        BitSet out = new BitSet();
        for (Node node : asset.nodes()) {
            if (node.mesh() >= 0 && node.skin() >= 0 && node.skin() != asset.skinOfMesh(node.mesh())) {
                out.set(node.skin());
                out.set(asset.skinOfMesh(node.mesh()));
            }
        }
        return out;
    }

    private static Skin permuted(Skin skin, int[] places) {
        int[] joints = Arrays.stream(places).map(j -> skin.joints()[j]).toArray();
        Matrix4d[] binds = Arrays.stream(places).mapToObj(skin::inverseBind).toArray(Matrix4d[]::new);
        return skin.with(joints, skin.inverseBinds() == null ? null : Skin.pack(binds), skin.skeleton());
    }
}
