package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Makes one part of several. Skinned parts get one skin of all their joints; a rigid part that hangs on a joint is bound
 * to it wholly; rigid parts among themselves must hang on the same moving node. Primitives of one material become one.
 */
@StepInfo(name = "combine", says = "Makes one part of several; nothing moves.")
public record Combine(
        @Parameter(says = "names of the parts, with * for any run of characters and commas between several")
        String parts,

        @Parameter(says = "name of the new part") String name)
        implements Step {
    private static final double SAME = 1e-4;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(parts);
        List<Integer> chosen = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0 && (pattern.fits(node.name()) || pattern.fits(asset.nodeRef(n)))) {
                chosen.add(n);
            }
        }
        if (chosen.size() < 2) {
            throw new Refused("combine.few", parts, chosen.size());
        }
        BitSet cached = asset.cachedNodes();
        for (int n : chosen) {
            if (asset.meshes().get(asset.nodes().get(n).mesh()).targetCount() > 0) {
                throw new Refused("combine.morph", asset.nodeRef(n));
            }
            if (cached.get(n)) {
                throw new Refused("combine.cache", asset.nodeRef(n));
            }
        }
        boolean taken = asset.nodes().stream().anyMatch(n -> n.name().equals(name))
                && chosen.stream().noneMatch(n -> asset.nodes().get(n).name().equals(name));
        if (name.isBlank() || taken) {
            throw new Refused("name.taken", name);
        }
        boolean skinned = chosen.stream().anyMatch(n -> asset.nodes().get(n).skin() >= 0);
        boolean regions = chosen.stream()
                .anyMatch(n ->
                        RegionMarks.on(asset.meshes().get(asset.nodes().get(n).mesh())));
        return new Combining(regions ? marked(asset, chosen) : asset, chosen, name, regions).run(skinned);
    }

    /** With regions of the body in one numbering, also where a part has none. */
    private static Asset marked(Asset asset, List<Integer> nodes) {
        Asset out = asset;
        for (int n : nodes) {
            int m = asset.nodes().get(n).mesh();
            Mesh mesh = asset.meshes().get(m);
            out = out.withMesh(m, RegionMarks.with(mesh, RegionMarks.of(mesh)));
        }
        return out;
    }

    private static final class Combining {
        private final Asset asset;
        private final List<Integer> chosen;
        private final String name;
        private final boolean regions;
        private final Matrix4d[] world;
        private final List<Primitive> all = new ArrayList<>();
        private final Map<Integer, Matrix4d> binds = new LinkedHashMap<>();

        Combining(Asset asset, List<Integer> chosen, String name, boolean regions) {
            this.regions = regions;
            this.asset = asset;
            this.chosen = chosen;
            this.name = name;
            world = new Rig(asset).rest().world();
        }

        Change run(boolean skinned) throws Refused {
            int home = chosen.stream()
                    .filter(n -> !skinned || asset.nodes().get(n).skin() >= 0)
                    .findFirst()
                    .orElseThrow();
            if (skinned) {
                // The first skin says in which space the vertices are; the others are brought there.
                List<Integer> order = new ArrayList<>(chosen);
                order.remove(Integer.valueOf(home));
                order.addFirst(home);
                List<Integer> rigid = order.stream()
                        .filter(n -> asset.nodes().get(n).skin() < 0)
                        .toList();
                for (int n : order) {
                    if (asset.nodes().get(n).skin() >= 0) {
                        takeSkinned(n);
                    }
                }
                for (int n : rigid) {
                    takeRigid(n);
                }
            } else {
                takeStill(home);
            }
            List<Primitive> merged = PrimitiveMerge.byMaterial(all);
            List<Mesh> meshes = new ArrayList<>(asset.meshes());
            Mesh one = new Mesh(name, merged, null, List.of(), Passthrough.NONE);
            meshes.add(regions ? RegionMarks.listed(one) : one);
            List<Skin> skins = new ArrayList<>(asset.skins());
            if (skinned) {
                Skin first = asset.skins().get(asset.nodes().get(home).skin());
                int[] joints =
                        binds.keySet().stream().mapToInt(Integer::intValue).toArray();
                skins.add(first.with(joints, Skin.pack(binds.values().toArray(Matrix4d[]::new)), first.skeleton()));
            }
            List<Node> nodes = new ArrayList<>(asset.nodes());
            for (int n : chosen) {
                nodes.set(n, nodes.get(n).withMesh(-1, -1));
            }
            nodes.set(
                    home, nodes.get(home).withName(name).withMesh(meshes.size() - 1, skinned ? skins.size() - 1 : -1));
            Asset out = asset.withNodes(nodes).withMeshes(meshes).withSkins(skins);
            out = Unused.removed(out.without(emptied(out, home)));
            return Change.of(out).count("parts.combined", chosen.size()).count("primitives.now", merged.size());
        }

        /** Places that held nothing but their part, and now hold nothing. */
        private BitSet emptied(Asset out, int home) {
            boolean[] joint = out.jointFlags();
            BitSet gone = new BitSet();
            BitSet carries = new BitSet();
            asset.attached().forEach(a -> carries.set(a.node()));
            for (int n : chosen) {
                Node node = out.nodes().get(n);
                boolean bare = node.children().length == 0
                        && node.camera() < 0
                        && !carries.get(n)
                        && node.carried().isEmpty();
                if (n != home && bare && !joint[n]) {
                    gone.set(n);
                }
            }
            return gone;
        }

        private void takeSkinned(int n) throws Refused {
            Node node = asset.nodes().get(n);
            Skin skin = asset.skins().get(node.skin());
            Matrix4d data = new Matrix4d();
            boolean found = false;
            for (int j = 0; j < skin.joints().length; j++) {
                Matrix4d known = binds.get(skin.joints()[j]);
                if (known == null) {
                    continue;
                }
                Matrix4d here = known.invert(new Matrix4d()).mul(skin.inverseBind(j));
                if (found && !near(here, data)) {
                    throw new Refused("combine.binds", asset.nodeRef(n), asset.nodeRef(skin.joints()[j]));
                }
                data = found ? data : here;
                found = true;
            }
            data = near(data, new Matrix4d()) ? new Matrix4d() : data;
            Matrix4d back = data.invert(new Matrix4d());
            List<Integer> places = new ArrayList<>(binds.keySet());
            int[] number = new int[skin.joints().length];
            for (int j = 0; j < number.length; j++) {
                int place = places.indexOf(skin.joints()[j]);
                if (place < 0) {
                    binds.put(skin.joints()[j], skin.inverseBind(j).mul(back));
                    places.add(skin.joints()[j]);
                    place = places.size() - 1;
                }
                number[j] = place;
            }
            ShapeMap shape = new ShapeMap(data);
            boolean same = data.equals(new Matrix4d(), 0);
            for (Primitive p : asset.meshes().get(node.mesh()).primitives()) {
                Influences rows = p.influences() == null
                        ? new Influences.Builder(p.vertexCount()).build()
                        : p.influences().renumbered(number);
                all.add((same ? p : shape.apply(p)).withRenumbered(rows));
            }
        }

        private static boolean near(Matrix4d a, Matrix4d b) {
            double reach = Math.max(1, a.getTranslation(new org.joml.Vector3d()).length());
            return a.equals(b, SAME * reach);
        }

        /** A part on a joint follows that joint wholly. */
        private void takeRigid(int n) throws Refused {
            boolean[] joint = asset.jointFlags();
            int[] parents = asset.parents();
            BitSet moved = asset.animatedNodes();
            int on = n;
            while (on >= 0 && !joint[on]) {
                if (moved.get(on)) {
                    throw new Refused("combine.moves", asset.nodeRef(on));
                }
                on = parents[on];
            }
            if (on < 0) {
                throw new Refused("combine.no.joint", asset.nodeRef(n));
            }
            Matrix4d bind = binds.computeIfAbsent(on, k -> anyBind(k));
            int place = new ArrayList<>(binds.keySet()).indexOf(on);
            Matrix4d data = new Matrix4d(world[on]).mul(bind).invert().mul(world[n]);
            ShapeMap shape = new ShapeMap(data);
            for (Primitive p : asset.meshes().get(asset.nodes().get(n).mesh()).primitives()) {
                Influences.Builder rows = new Influences.Builder(p.vertexCount());
                for (int v = 0; v < p.vertexCount(); v++) {
                    rows.add(place, 1);
                    rows.endRow();
                }
                all.add(shape.apply(p).withInfluences(rows.build()));
            }
        }

        private Matrix4d anyBind(int joint) {
            Matrix4d first = null;
            for (var known : binds.entrySet()) {
                first = first == null ? new Matrix4d(world[known.getKey()]).mul(known.getValue()) : first;
            }
            // Bound where the others are bound, so that at rest all of the mesh is in one space.
            return world[joint].invert(new Matrix4d()).mul(first == null ? new Matrix4d() : first);
        }

        private void takeStill(int home) throws Refused {
            int mover = mover(home);
            Matrix4d back = world[home].invert(new Matrix4d());
            if (!back.isFinite()) {
                throw new Refused("freeze.flat", asset.nodeRef(home));
            }
            for (int n : chosen) {
                if (mover(n) != mover) {
                    throw new Refused("combine.moves", asset.nodeRef(mover(n) < 0 ? mover : mover(n)));
                }
                Matrix4d data = new Matrix4d(back).mul(world[n]);
                ShapeMap shape = new ShapeMap(data);
                boolean same = n == home;
                for (Primitive p :
                        asset.meshes().get(asset.nodes().get(n).mesh()).primitives()) {
                    all.add(same ? p : shape.apply(p));
                }
            }
        }

        /** The nearest node from here up that a clip moves or that is a joint, or -1. */
        private int mover(int n) {
            boolean[] joint = asset.jointFlags();
            BitSet moved = asset.animatedNodes();
            int[] parents = asset.parents();
            int up = n;
            while (up >= 0 && !joint[up] && !moved.get(up)) {
                up = parents[up];
            }
            return up;
        }
    }
}
