package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * An asset as a USD scene can hold it: right-handed with Y or Z up, meshes at leaves, nothing hung on joints but by weights, and one skeleton.
 *
 * @param above      the node that the skeleton stands under; -1: at the top
 * @param inSkeleton nodes that are joints of the skeleton
 * @param joints     the same, parents first
 * @param binds      of each joint where it was bound, in the skeleton's axes
 * @param geometry   of each skin what brings a mesh to where the joints were bound
 */
record UsdShape(
        Asset asset, int above, BitSet inSkeleton, int[] joints, Matrix4d[] binds, Map<Integer, Matrix4d> geometry) {

    /** Levels of nodes that are no joints; what reads a scene goes down it step by step. */
    private static final int DEEPEST = 200;

    int position(int node) {
        for (int j = 0; j < joints.length; j++) {
            if (joints[j] == node) {
                return j;
            }
        }
        return 0;
    }

    Matrix4d geometryBind(int skin) {
        return geometry.getOrDefault(skin, new Matrix4d());
    }

    static UsdShape of(Asset given, Work work) throws Refused {
        Asset asset = held(turned(given, work));
        asset = skinnedBeside(cachesWithoutSkin(asset));
        int above = above(asset);
        BitSet in = inSkeleton(asset, above);
        asset = withLeaves(withoutHangers(asset, in, above), in);
        shallow(asset, in);
        // Numbered as they are written, so that reading gives the same numbers.
        int[] order = order(asset, in, above);
        int[] number = new int[order.length];
        for (int i = 0; i < order.length; i++) {
            number[order[i]] = i;
        }
        asset = ownMeshes(asset.renumbered(Renumbering.NONE.with(Renumbering.Kind.NODE, number)));
        BitSet within = new BitSet();
        in.stream().forEach(n -> within.set(number[n]));
        int under = above < 0 ? -1 : number[above];
        int[] joints = within.stream().toArray();
        Matrix4d[] binds = new Matrix4d[joints.length];
        Map<Integer, Matrix4d> geometry = new HashMap<>();
        bind(asset, under, joints, binds, geometry);
        return new UsdShape(asset, under, within, joints, binds, geometry);
    }

    /** Prims nest; joints do not, they have paths. */
    private static void shallow(Asset asset, BitSet in) throws Refused {
        int[] parents = asset.parents();
        int[] depth = new int[parents.length];
        for (int n : asset.topDown()) {
            depth[n] = parents[n] < 0 ? 0 : depth[parents[n]] + 1;
            if (!in.get(n) && depth[n] > DEEPEST) {
                throw new Refused("write.usd.deep", asset.nodeRef(n), DEEPEST);
            }
        }
    }

    /** The skeleton's joints, parents first, come right behind what they stand under; the others as they hang below one another. */
    private static int[] order(Asset asset, BitSet in, int above) {
        List<Integer> out = new ArrayList<>();
        int[] joints = Arrays.stream(asset.topDown()).filter(in::get).toArray();
        if (above < 0) {
            Arrays.stream(joints).forEach(out::add);
        }
        int[] parents = asset.parents();
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0 && !in.get(n)) {
                walk(asset, n, in, above, joints, out);
            }
        }
        return out.stream().mapToInt(i -> i).toArray();
    }

    private static void walk(Asset asset, int node, BitSet in, int above, int[] joints, List<Integer> out) {
        out.add(node);
        if (node == above) {
            Arrays.stream(joints).forEach(out::add);
        }
        for (int child : asset.nodes().get(node).children()) {
            if (!in.get(child)) {
                walk(asset, child, in, above, joints, out);
            }
        }
    }

    /** Each part with a mesh of its own, in the order of nodes. */
    private static Asset ownMeshes(Asset asset) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<Mesh> meshes = new ArrayList<>();
        for (int n = 0; n < nodes.size(); n++) {
            Node node = nodes.get(n);
            if (node.mesh() >= 0) {
                meshes.add(asset.meshes().get(node.mesh()));
                nodes.set(n, node.withMesh(meshes.size() - 1, node.skin()));
            }
        }
        return asset.withMeshes(meshes).withNodes(nodes);
    }

    private static Asset turned(Asset asset, Work work) throws Refused {
        Conventions is = asset.conventions();
        boolean fits = is.handedness() == Handedness.RIGHT && (is.up() == Axis.Y || is.up() == Axis.Z);
        if (fits) {
            return asset;
        }
        Axis forward = is.up() == Axis.Z ? Axis.MINUS_Y : Axis.Z;
        Conventions can =
                new Conventions(is.metresPerUnit(), is.up() == Axis.Z ? Axis.Z : Axis.Y, forward, Handedness.RIGHT);
        return new Convert(can, false).apply(asset, work).asset();
    }

    /** Without what a scene of this kind does not hold. */
    private static Asset held(Asset asset) {
        List<Mesh> meshes = new ArrayList<>();
        for (Mesh mesh : asset.meshes()) {
            boolean triangles = mesh.triangleCount() > 0;
            List<Primitive> primitives = mesh.primitives().stream()
                    .filter(p -> !triangles || p.triangleCorners().length > 0)
                    .map(p -> atRest(p, mesh.weights())
                            .withAttributes(p.attributes().stream()
                                    .filter(a -> a.name().startsWith("TEXCOORD_") && a.width() == 2)
                                    .toList()))
                    .toList();
            meshes.add(new Mesh(mesh.name(), primitives, null, List.of(), Passthrough.NONE));
        }
        List<Material> materials = asset.materials().stream()
                .map(m -> new Material(m.name(), m.baseColour(), -1, m.doubleSided(), Passthrough.NONE))
                .toList();
        List<Node> nodes = asset.nodes().stream()
                .map(n -> new Node(
                        n.name(), n.local(), n.children(), n.mesh(), n.skin(), -1, null, true, Passthrough.NONE))
                .toList();
        return asset.withMeshes(meshes)
                .withNodes(nodes)
                .withPictures(materials, List.of(), List.of())
                .withCameras(List.of())
                .withAttached(List.of())
                .withCarried(Passthrough.NONE)
                .withNotes(List.of())
                .mapClips(c -> c.withChannels(c.channels().stream()
                        .filter(x ->
                                x.node() >= 0 && x.path() != Channel.Path.WEIGHTS && x.path() != Channel.Path.POINTER)
                        .map(x -> straight(x, c))
                        .toList()));
    }

    /** Values go straight between samples: a step takes a hundredth of a frame, and a curve has four a frame. */
    private static Channel straight(Channel channel, Clip clip) {
        if (!(channel.track() instanceof Sampler s) || s.interpolation() == Sampler.Interpolation.LINEAR) {
            return channel;
        }
        TreeSet<Float> times = new TreeSet<>();
        for (float t : s.times()) {
            times.add(t);
        }
        double rate = clip.rate();
        if (s.interpolation() == Sampler.Interpolation.STEP) {
            for (int k = 1; k < s.times().length; k++) {
                times.add(Math.max(s.times()[k - 1], (float) (s.times()[k] - 1e-2 / rate)));
            }
        } else {
            float first = times.first();
            float last = times.last();
            for (double f = Math.ceil(4 * first * rate); f < 4 * last * rate; f++) {
                times.add(Math.clamp((float) (f / (4 * rate)), first, last));
            }
        }
        float[] at = new float[times.size()];
        float[] values = new float[s.width() * at.length];
        double[] one = new double[s.width()];
        int k = 0;
        for (float t : times) {
            if (channel.path() == Channel.Path.ROTATION) {
                Keys.sampleRotation(s, t, one);
            } else {
                Keys.sample(s, t, one);
            }
            for (int i = 0; i < one.length; i++) {
                values[one.length * k + i] = (float) one[i];
            }
            at[k++] = t;
        }
        if (channel.path() == Channel.Path.ROTATION) {
            Baker.alongTheShorterWay(values);
        }
        return channel.withTrack(new Sampler(Sampler.Interpolation.LINEAR, at, values, s.width(), Storage.FLOAT));
    }

    /** A primitive as its morph targets have it at rest. */
    private static Primitive atRest(Primitive p, float @Nullable [] weights) {
        float[] positions = p.positions();
        float[] normals = p.normals();
        for (int t = 0;
                weights != null && t < Math.min(weights.length, p.targets().size());
                t++) {
            positions = moved(positions, p.targets().get(t).positions(), weights[t]);
            normals = normals == null ? null : moved(normals, p.targets().get(t).normals(), weights[t]);
        }
        boolean turned = normals != null && normals != p.normals();
        return p.withShape(positions, turned ? ShapeMap.unitNormals(normals) : normals, null, List.of());
    }

    private static float[] moved(float[] base, float @Nullable [] by, float weight) {
        if (by == null || weight == 0) {
            return base;
        }
        float[] out = base.clone();
        for (int i = 0; i < out.length; i++) {
            out[i] += weight * by[i];
        }
        return out;
    }

    /** A cache plays in place of a skin, so there is none where one plays. */
    private static Asset cachesWithoutSkin(Asset asset) {
        BitSet cached = asset.cachedNodes();
        if (cached.isEmpty()) {
            return asset;
        }
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        for (int n = cached.nextSetBit(0); n >= 0; n = cached.nextSetBit(n + 1)) {
            Node node = nodes.get(n);
            if (node.mesh() >= 0 && node.skin() >= 0) {
                Mesh mesh = meshes.get(node.mesh());
                meshes.add(mesh.withPrimitives(mesh.primitives().stream()
                        .map(p -> p.withInfluences(null))
                        .toList()));
                nodes.set(n, node.withMesh(meshes.size() - 1, -1));
            }
        }
        return asset.withMeshes(meshes).withNodes(nodes);
    }

    /** Skinned meshes stand beside the skeleton, without a place of their own, which a skin goes over anyway. */
    private static Asset skinnedBeside(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int above = above(asset);
        Asset out = asset;
        BitSet gone = new BitSet();
        for (int n = 0; n < joint.length; n++) {
            Node node = asset.nodes().get(n);
            boolean leaf = node.children().length == 0 && !joint[n];
            if (leaf && node.mesh() >= 0 && node.skin() >= 0) {
                gone.set(n);
                out = NewNodes.under(
                        out, above, Node.group(node.name(), Local.IDENTITY).withMesh(node.mesh(), node.skin()));
            }
        }
        return gone.isEmpty() ? out : out.without(gone);
    }

    /** The lowest node above all joints that is none itself. */
    private static int above(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        List<Integer> common = null;
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                List<Integer> way = new ArrayList<>();
                for (int p = parents[n]; p >= 0; p = parents[p]) {
                    way.add(p);
                }
                if (common == null) {
                    common = way;
                } else {
                    common.retainAll(way);
                }
            }
        }
        while (common != null && !common.isEmpty() && hasJointAbove(common.getFirst(), joint, parents)) {
            common.removeFirst();
        }
        return common == null || common.isEmpty() ? -1 : common.getFirst();
    }

    private static boolean hasJointAbove(int node, boolean[] joint, int[] parents) {
        for (int n = node; n >= 0; n = parents[n]) {
            if (joint[n]) {
                return true;
            }
        }
        return false;
    }

    private static BitSet inSkeleton(Asset asset, int above) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        BitSet out = new BitSet();
        for (int n = 0; n < joint.length; n++) {
            for (int p = n; joint[n] && p >= 0 && p != above; p = parents[p]) {
                out.set(p);
            }
        }
        for (int n : asset.topDown()) {
            out.set(n, out.get(n) || parents[n] >= 0 && out.get(parents[n]));
        }
        return out;
    }

    /** What has a mesh within the skeleton has it beside it, and what had no skin gets one of its joint alone. */
    private static Asset withoutHangers(Asset asset, BitSet in, int above) {
        Asset out = asset;
        BitSet cached = asset.cachedNodes();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (!in.get(n) || node.mesh() < 0) {
                continue;
            }
            if (cached.get(n)) {
                out = besideSkeleton(out, n, above);
                continue;
            }
            int skin = node.skin();
            int mesh = node.mesh();
            if (skin < 0) {
                List<Skin> skins = new ArrayList<>(out.skins());
                skins.add(new Skin(
                        node.name(), new int[] {n}, Skin.pack(new Matrix4d[] {new Matrix4d()}), -1, Passthrough.NONE));
                List<Mesh> meshes = new ArrayList<>(out.meshes());
                Mesh own = meshes.get(mesh);
                meshes.add(own.withPrimitives(own.primitives().stream()
                        .map(p -> p.withInfluences(Influences.wholly(p.vertexCount(), 0)))
                        .toList()));
                out = out.withSkins(skins).withMeshes(meshes);
                skin = skins.size() - 1;
                mesh = meshes.size() - 1;
            }
            List<Node> nodes = new ArrayList<>(out.nodes());
            nodes.set(n, nodes.get(n).withMesh(-1, -1));
            out = NewNodes.under(
                    out.withNodes(nodes),
                    above,
                    Node.group(NewNodes.free(out, node.name() + "_mesh"), Local.IDENTITY)
                            .withMesh(mesh, skin));
        }
        return out;
    }

    /** A cache that hangs on a joint, as it moves with it, at a node of its own beside the skeleton. */
    private static Asset besideSkeleton(Asset asset, int node, int above) {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.node() == node)
                .findFirst()
                .orElseThrow();
        Rig rig = new Rig(asset);
        Matrix4d[] rest = rig.rest().world();
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(new ShapeMap(new Matrix4d(from(rest, above)).mul(rest[node])).apply(meshes.get(place.mesh())));
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(node, nodes.get(node).withMesh(-1, -1));
        Node beside = Node.group(NewNodes.free(asset, nodes.get(node).name() + "_mesh"), Local.IDENTITY)
                .withMesh(meshes.size() - 1, -1);
        Asset out = NewNodes.under(asset.withMeshes(meshes).withNodes(nodes), above, beside);
        int number = out.nodes().size() - 1;
        return out.mapClips(clip -> clip.withChannels(clip.channels().stream()
                .map(c -> {
                    if (c.node() != node || !c.movesVertices()) {
                        return c;
                    }
                    float[] times = c.track().times();
                    VertexFrames frames =
                            CacheBake.frames(deformer.vertexCount(place), times.length, Work.QUIET, (k, p) -> {
                                Pose pose = rig.at(clip, times[k]);
                                Matrix4d[] world = pose.world();
                                deformer.deform(place, pose, world, from(world, above), p, null, true);
                            });
                    return c.withNode(number).withTrack(VertexTrack.of(times, frames));
                })
                .toList()));
    }

    /** From the world into the axes of a node, or the world's own. */
    private static Matrix4d from(Matrix4d[] world, int node) {
        return node < 0 ? new Matrix4d() : world[node].invert(new Matrix4d());
    }

    /** Meshes stand at leaves alone. */
    private static Asset withLeaves(Asset asset, BitSet in) {
        Asset out = asset;
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() < 0 || in.get(n) || node.children().length == 0) {
                continue;
            }
            List<Node> nodes = new ArrayList<>(out.nodes());
            nodes.set(n, nodes.get(n).withMesh(-1, -1));
            int place = nodes.size();
            out = NewNodes.under(
                    out.withNodes(nodes),
                    n,
                    Node.group(NewNodes.free(out, node.name() + "_mesh"), Local.IDENTITY)
                            .withMesh(node.mesh(), node.skin()));
            int from = n;
            out = out.mapClips(c -> c.withChannels(c.channels().stream()
                    .map(x -> x.movesVertices() && x.node() == from ? x.withNode(place) : x)
                    .toList()));
        }
        return out;
    }

    private static void bind(Asset asset, int above, int[] joints, Matrix4d[] binds, Map<Integer, Matrix4d> geometry)
            throws Refused {
        Map<Integer, Integer> position = new HashMap<>();
        for (int j = 0; j < joints.length; j++) {
            position.put(joints[j], j);
        }
        boolean[] used = new boolean[asset.skins().size()];
        asset.nodes().stream().filter(n -> n.mesh() >= 0 && n.skin() >= 0).forEach(n -> used[n.skin()] = true);
        for (int s = 0; s < used.length; s++) {
            Skin skin = asset.skins().get(s);
            Matrix4d common = null;
            for (int j = 0; used[s] && j < skin.joints().length; j++) {
                int at = position.getOrDefault(skin.joints()[j], -1);
                if (at >= 0 && binds[at] != null) {
                    Matrix4d g = new Matrix4d(binds[at]).mul(skin.inverseBind(j));
                    if (common != null && !g.equals(common, 1e-4 * reach(common))) {
                        throw new Refused("write.usd.binds", asset.nodeRef(skin.joints()[j]));
                    }
                    common = common == null ? g : common;
                }
            }
            Matrix4d shared = common == null ? new Matrix4d() : common;
            geometry.put(s, shared);
            for (int j = 0; used[s] && j < skin.joints().length; j++) {
                int at = position.getOrDefault(skin.joints()[j], -1);
                if (at >= 0 && binds[at] == null) {
                    Matrix4d ibm = skin.inverseBind(j);
                    if (Math.abs(ibm.determinant()) < 1e-30) {
                        throw new Refused("write.usd.flat", asset.nodeRef(skin.joints()[j]));
                    }
                    binds[at] = new Matrix4d(shared).mul(ibm.invert());
                }
            }
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d back = from(world, above);
        for (int j = 0; j < binds.length; j++) {
            binds[j] = binds[j] == null ? new Matrix4d(back).mul(world[joints[j]]) : binds[j];
        }
    }

    private static double reach(Matrix4d m) {
        double most = 1;
        for (double x : m.get(new double[16])) {
            most = Math.max(most, Math.abs(x));
        }
        return most;
    }
}
