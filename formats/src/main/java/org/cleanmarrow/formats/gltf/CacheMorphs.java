package org.cleanmarrow.formats.gltf;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Blend;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Vertex caches as glTF has them: a morph target a frame, behind the mesh's own, and weights of which one is one at each key, so
 * that between frames vertices go straight there too (glTF 2.0, 3.7.2.2 and 3.11). {@code extras.vertexCache} of the mesh says which
 * target is the first frame; without it targets stay targets. Where a skin moves the mesh as well, frames are written as the
 * skin must find them to put every vertex in its place.
 */
final class CacheMorphs {
    private static final String KEY = "vertexCache";
    private static final String FIRST = "firstTarget";
    private static final ValueLayout.OfFloat NUMBER =
            ValueLayout.JAVA_FLOAT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);

    private CacheMorphs() {}

    /** The asset with its caches as morph targets; caches that do not fit their mesh, which are not played, go. */
    static Asset spelled(Asset asset) {
        Map<Integer, List<CacheUse>> byMesh = new HashMap<>();
        for (CacheUse use : CacheUse.all(asset)) {
            if (use.fits(asset)) {
                byMesh.computeIfAbsent(use.mesh(), m -> new ArrayList<>()).add(use);
            }
        }
        Asset out = asset;
        for (Map.Entry<Integer, List<CacheUse>> entry : byMesh.entrySet()) {
            out = spelled(asset, out, entry.getKey(), entry.getValue());
        }
        return out.mapClips(c -> c.channels().stream().anyMatch(Channel::movesVertices)
                ? c.withChannels(
                        c.channels().stream().filter(x -> !x.movesVertices()).toList())
                : c);
    }

    private static Asset spelled(Asset asset, Asset so, int m, List<CacheUse> uses) {
        Mesh mesh = asset.meshes().get(m);
        int own = mesh.targetCount();
        int[] firsts = new int[uses.size()];
        int count = own;
        Map<VertexTrack, Integer> known = new IdentityHashMap<>();
        List<float[]> frames = new ArrayList<>();
        for (int u = 0; u < firsts.length; u++) {
            VertexTrack track = uses.get(u).track();
            boolean bare = asset.nodes().get(uses.get(u).node()).skin() < 0;
            Integer there = bare ? known.get(track) : null;
            firsts[u] = there == null ? count : there;
            if (there == null) {
                frames.addAll(frames(asset, uses.get(u)));
                count += track.times().length;
            }
            if (bare) {
                known.put(track, firsts[u]);
            }
        }
        Mesh made = targeted(mesh, own, count, frames);
        List<Node> nodes = new ArrayList<>(so.nodes());
        for (int n = 0; n < nodes.size(); n++) {
            Node node = nodes.get(n);
            if (node.mesh() == m && node.weights() != null) {
                nodes.set(n, withWeights(node, Arrays.copyOf(node.weights(), count)));
            }
        }
        List<Clip> clips = new ArrayList<>();
        for (int c = 0; c < so.clips().size(); c++) {
            List<Channel> channels = new ArrayList<>();
            List<Integer> played = new ArrayList<>();
            List<Channel> more = new ArrayList<>();
            for (int u = 0; u < firsts.length; u++) {
                CacheUse use = uses.get(u);
                if (use.clip() == c && !played.contains(use.node())) {
                    played.add(use.node());
                    Sampler s = hot(use.track().times(), count, firsts[u]);
                    Passthrough carried =
                            asset.clips().get(c).channels().get(use.channel()).carried();
                    more.add(new Channel(use.node(), Channel.Path.WEIGHTS, s, "", carried));
                }
            }
            for (Channel channel : so.clips().get(c).channels()) {
                boolean here = channel.path() == Channel.Path.WEIGHTS
                        && channel.node() >= 0
                        && asset.nodes().get(channel.node()).mesh() == m;
                // A cache plays in place of morph targets.
                if (here && !played.contains(channel.node())) {
                    channels.add(channel.withTrack(widened(channel.sampler(), own, count)));
                } else if (!here) {
                    channels.add(channel);
                }
            }
            channels.addAll(more);
            clips.add(so.clips().get(c).withChannels(channels));
        }
        return so.withMesh(m, made).withNodes(nodes).withClips(clips);
    }

    /** All frames of a cache in the space of the mesh's own vertices. */
    private static List<float[]> frames(Asset asset, CacheUse use) {
        List<float[]> out = new ArrayList<>();
        Rig rig = new Rig(asset);
        VertexTrack track = use.track();
        for (int k = 0; k < track.times().length; k++) {
            float[] at = new float[track.width()];
            track.at(k, at);
            Moves moves = Moves.of(rig, use.node(), use.clip(), track.times()[k]);
            if (moves != null) {
                moves.change(at, false);
            }
            out.add(at);
        }
        return out;
    }

    private static Mesh targeted(Mesh mesh, int own, int count, List<float[]> frames) {
        List<Primitive> primitives = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            List<MorphTarget> targets = new ArrayList<>(p.targets());
            while (targets.size() < own) {
                targets.add(new MorphTarget(new float[p.positions().length], null, null, List.of()));
            }
            for (float[] frame : frames) {
                float[] delta = new float[p.positions().length];
                for (int i = 0; i < delta.length; i++) {
                    delta[i] = frame[first + i] - p.positions()[i];
                }
                targets.add(new MorphTarget(delta, null, null, List.of()));
            }
            primitives.add(p.withShape(p.positions(), p.normals(), p.tangents(), targets));
            first += p.positions().length;
        }
        List<String> names = new ArrayList<>(mesh.targetNames());
        for (int t = names.size(); !names.isEmpty() && t < count; t++) {
            names.add("frame " + (t - own));
        }
        ObjectNode mark = JsonNodeFactory.instance.objectNode().put(FIRST, own);
        float[] weights = mesh.weights() == null ? null : Arrays.copyOf(mesh.weights(), count);
        return new Mesh(mesh.name(), primitives, weights, names, Extras.with(mesh.carried(), KEY, mark));
    }

    private static Node withWeights(Node n, float @Nullable [] weights) {
        return new Node(
                n.name(), n.local(), n.children(), n.mesh(), n.skin(), n.camera(), weights, n.ships(), n.carried());
    }

    private static Sampler hot(float[] times, int width, int first) {
        float[] values = new float[times.length * width];
        for (int k = 0; k < times.length; k++) {
            values[k * width + first + k] = 1;
        }
        return new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
    }

    private static Sampler widened(Sampler s, int own, int count) {
        int rows = s.values().length / s.width();
        float[] values = new float[rows * count];
        for (int r = 0; r < rows; r++) {
            System.arraycopy(s.values(), r * s.width(), values, r * count, Math.min(own, s.width()));
        }
        return new Sampler(s.interpolation(), s.times(), values, count, s.storage());
    }

    /**
     * A target as it lies in the file.
     *
     * @param bytes   float32, little-endian, three a vertex
     * @param decoded the same as an array
     */
    record Frame(ByteBuffer bytes, Decoded decoded) {
        interface Decoded {
            float[] get() throws ReadFailed;
        }
    }

    /** Which target of a mesh of glTF is the first that is a frame; beyond all where none is. */
    static int firstFrame(JsonNode mesh) {
        JsonNode mark = mesh.path("extras").path(KEY).path(FIRST);
        return mark.isIntegralNumber() && mark.intValue() >= 0 ? mark.intValue() : Integer.MAX_VALUE;
    }

    /**
     * Sets as they were read, with every mesh that {@link #spelled} marked as a cache again.
     *
     * @param frames of targets that were not decoded what they are; those that stay targets are decoded now
     */
    static Asset read(Asset asset, Map<MorphTarget, Frame> frames, Work work) throws ReadFailed {
        Asset out = asset;
        for (int m = 0; m < asset.meshes().size(); m++) {
            work.stopIfCancelled();
            JsonNode mark = Extras.of(asset.meshes().get(m).carried(), KEY).path(FIRST);
            int count = asset.meshes().get(m).targetCount();
            int own = mark.isIntegralNumber() ? mark.intValue() : -1;
            Asset played = own >= 0 && own < count ? read(asset, frames, out, m, own, count) : out;
            out = played == out && !frames.isEmpty() ? decoded(out, m, frames) : played;
        }
        return out;
    }

    private static Asset decoded(Asset asset, int m, Map<MorphTarget, Frame> frames) throws ReadFailed {
        Mesh mesh = asset.meshes().get(m);
        List<Primitive> primitives = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            List<MorphTarget> targets = new ArrayList<>();
            for (MorphTarget target : p.targets()) {
                Frame frame = frames.get(target);
                targets.add(
                        frame == null
                                ? target
                                : new MorphTarget(frame.decoded().get(), null, null, target.attributes()));
            }
            primitives.add(p.withShape(p.positions(), p.normals(), p.tangents(), targets));
        }
        return asset.withMesh(m, mesh.withPrimitives(primitives));
    }

    private static Asset read(Asset asset, Map<MorphTarget, Frame> frames, Asset so, int m, int own, int count) {
        List<Clip> clips = new ArrayList<>();
        for (int c = 0; c < so.clips().size(); c++) {
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : so.clips().get(c).channels()) {
                int node = channel.node();
                if (channel.path() != Channel.Path.WEIGHTS
                        || node < 0
                        || asset.nodes().get(node).mesh() != m) {
                    channels.add(channel);
                    continue;
                }
                Sampler s = channel.sampler();
                int[] hot = hot(s, own, count);
                if (hot == null && !isOwn(s, own, count)) {
                    // Somebody wrote over it: targets stay targets.
                    return so;
                }
                channels.add(
                        hot == null
                                ? channel.withTrack(narrowed(s, own))
                                : new Channel(
                                        node,
                                        Channel.Path.VERTICES,
                                        track(asset, frames, m, node, c, s.times(), hot),
                                        "",
                                        channel.carried()));
            }
            clips.add(so.clips()
                    .get(c)
                    .withChannels(channels.stream()
                            .filter(x -> x.path() != Channel.Path.WEIGHTS
                                    || x.sampler().width() > 0)
                            .toList()));
        }
        List<Node> nodes = new ArrayList<>(so.nodes());
        for (int n = 0; n < nodes.size(); n++) {
            Node node = nodes.get(n);
            if (node.mesh() == m && node.weights() != null) {
                nodes.set(n, withWeights(node, fewer(node.weights(), own)));
            }
        }
        return so.withMesh(m, bare(so.meshes().get(m), own)).withNodes(nodes).withClips(clips);
    }

    private static float @Nullable [] fewer(float[] weights, int own) {
        return own == 0 ? null : Arrays.copyOf(weights, own);
    }

    private static Mesh bare(Mesh mesh, int own) {
        List<Primitive> primitives = mesh.primitives().stream()
                .map(p -> p.withShape(
                        p.positions(),
                        p.normals(),
                        p.tangents(),
                        p.targets().subList(0, Math.min(own, p.targets().size()))))
                .toList();
        List<String> names =
                mesh.targetNames().size() > own ? mesh.targetNames().subList(0, own) : mesh.targetNames();
        float[] weights = mesh.weights() == null ? null : fewer(mesh.weights(), own);
        return new Mesh(mesh.name(), primitives, weights, List.copyOf(names), Extras.with(mesh.carried(), KEY, null));
    }

    /** The frame that each key shows; null where a key shows none, or more than one. */
    private static int @Nullable [] hot(Sampler s, int own, int count) {
        // A file that shows one target again and again would ask for more memory than it has bytes.
        boolean many = s.times().length > 2L * (count - own);
        if (s.interpolation() != Sampler.Interpolation.LINEAR || s.width() != count || many) {
            return null;
        }
        int[] out = new int[s.times().length];
        for (int k = 0; k < out.length; k++) {
            out[k] = -1;
            for (int t = 0; t < count; t++) {
                float w = s.values()[k * count + t];
                if (w == 1 && t >= own && out[k] < 0) {
                    out[k] = t;
                } else if (w != 0) {
                    return null;
                }
            }
            if (out[k] < 0) {
                return null;
            }
        }
        return out;
    }

    private static boolean isOwn(Sampler s, int own, int count) {
        return s.width() == count
                && IntStream.range(0, s.values().length).allMatch(i -> i % count < own || s.values()[i] == 0);
    }

    private static Sampler narrowed(Sampler s, int own) {
        int rows = s.values().length / s.width();
        float[] values = new float[rows * own];
        for (int r = 0; r < rows; r++) {
            System.arraycopy(s.values(), r * s.width(), values, r * own, own);
        }
        return new Sampler(s.interpolation(), s.times(), values, own, s.storage());
    }

    private static VertexTrack track(
            Asset asset, Map<MorphTarget, Frame> known, int m, int node, int clip, float[] times, int[] targets) {
        Mesh mesh = asset.meshes().get(m);
        int[] runs = mesh.primitives().stream().mapToInt(Primitive::vertexCount).toArray();
        MemorySegment[] pieces = new MemorySegment[times.length * runs.length];
        for (int i = 0; i < pieces.length; i++) {
            List<MorphTarget> own = mesh.primitives().get(i % runs.length).targets();
            int target = targets[i / runs.length];
            pieces[i] = target < own.size() ? piece(own.get(target), known) : null;
        }
        VertexFrames moved = VertexFrames.fromRest(MeshTopology.restPositions(mesh), runs, pieces);
        if (asset.nodes().get(node).skin() < 0) {
            return VertexTrack.of(times, moved);
        }
        Rig rig = new Rig(asset);
        return VertexTrack.of(times, CacheBake.frames(mesh.vertexCount(), times.length, Work.QUIET, (k, out) -> {
            moved.read(k, out);
            Objects.requireNonNull(Moves.of(rig, node, clip, times[k])).change(out, true);
        }));
    }

    /** How far a target moves the vertices of a primitive; null where it does not. */
    private static @Nullable MemorySegment piece(MorphTarget target, Map<MorphTarget, Frame> known) {
        Frame frame = known.get(target);
        if (frame != null) {
            return MemorySegment.ofBuffer(frame.bytes().asReadOnlyBuffer());
        }
        if (target.positions() == null) {
            return null;
        }
        int many = target.positions().length;
        MemorySegment out = MemorySegment.ofArray(new byte[Float.BYTES * many]);
        MemorySegment.copy(target.positions(), 0, out, NUMBER, 0, many);
        return out.asReadOnly();
    }

    /** What a skin does to the vertices of a mesh at one moment, in the axes of the node that the mesh stands at. */
    private record Moves(Mesh mesh, Matrix4d[] joints) {
        /** Null where no skin moves it. */
        static @Nullable Moves of(Rig rig, int node, int clip, double seconds) {
            Asset asset = rig.asset();
            int skin = asset.nodes().get(node).skin();
            if (skin < 0) {
                return null;
            }
            List<Channel> others = asset.clips().get(clip).channels().stream()
                    .filter(c -> !c.shapes())
                    .toList();
            Pose pose = rig.at(asset.clips().get(clip).withChannels(others), seconds);
            Matrix4d[] world = pose.world();
            Skin of = asset.skins().get(skin);
            Matrix4d back = world[node].invert(new Matrix4d());
            float[] rows = Deformer.jointMatrices(of, world, back);
            Matrix4d[] joints = new Matrix4d[of.joints().length];
            for (int j = 0; j < joints.length; j++) {
                joints[j] = new Matrix4d();
                for (int r = 0; r < 3; r++) {
                    for (int c = 0; c < 4; c++) {
                        joints[j].set(c, r, rows[12 * j + 4 * r + c]);
                    }
                }
            }
            Mesh mesh = asset.meshes().get(asset.nodes().get(node).mesh());
            return new Moves(mesh, joints);
        }

        /** Vertices moved by the skin, or back to where it finds them; one that no joint moves, or flat, stays. */
        void change(float[] p, boolean forwards) {
            int at = 0;
            Vector3d v = new Vector3d();
            for (Primitive primitive : mesh.primitives()) {
                Influences rows = primitive.influences();
                for (int i = 0; i < primitive.vertexCount(); i++, at += 3) {
                    Matrix4d blend = rows == null || rows.rowLength(i) == 0 ? null : Blend.of(rows, i, joints);
                    if (blend == null || Math.abs(blend.determinant3x3()) < 1e-30) {
                        continue;
                    }
                    (forwards ? blend : blend.invert()).transformPosition(v.set(p[at], p[at + 1], p[at + 2]));
                    p[at] = (float) v.x;
                    p[at + 1] = (float) v.y;
                    p[at + 2] = (float) v.z;
                }
            }
        }
    }
}
