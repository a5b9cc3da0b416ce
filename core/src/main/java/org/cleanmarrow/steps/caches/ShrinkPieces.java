package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Shrinking;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Lets the pieces of a part shrink about their own middles from whole at one frame to nothing at another. What moves with a joint of its
 * own gets keys of scale there, and of place where the joint does not stand at the middle; the pieces of a vertex cache shrink in its
 * frames; parts that stand at nodes of their own get keys at these. Before and after, everything moves as it did.
 */
@StepInfo(
        name = "shrink-pieces",
        says = "Lets pieces of a part shrink about their own middles, from whole at one frame to nothing at another.")
public record ShrinkPieces(
        @Parameter(says = "name of the mesh, or of parts that are a piece each, with * for any run of characters")
        String part,

        @Parameter(says = "frame at which the first piece is whole for the last time", unit = "frames")
        int first,

        @Parameter(says = "frame at which the last piece is gone", unit = "frames")
        int last,

        @Parameter(
                says = "name of the clip; none: the only one, or a new one called shrink where there is none",
                fallback = "\"\"")
        String clip,

        @Parameter(
                says = "who comes first: together, by height from the top, by distance from the middle, or random",
                fallback = "\"together\"")
        Shrinking.Order order,

        @Parameter(
                says = "of the whole time, how much of it lies between the first and the last that begin",
                fallback = "0.5",
                least = 0,
                most = 0.99)
        double spread,

        @Parameter(says = "another gives another random order", fallback = "1", least = 0)
        int seed,

        @Parameter(says = "linear, or smooth: slow at both ends", fallback = "\"linear\"")
        Shrinking.Ease ease)
        implements Step {
    private static final double RATE = 30;

    public ShrinkPieces(String part, int first, int last) {
        this(part, first, last, "", Shrinking.Order.TOGETHER, 0.5, 1, Shrinking.Ease.LINEAR);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (first >= last || first < 0 || !(spread >= 0 && spread <= 0.99) || seed < 0) {
            throw new Refused("shrink.range", first, last, spread);
        }
        Asset timed = asset;
        int number;
        if (clip.isBlank() && asset.clips().isEmpty()) {
            timed = asset.withClips(
                    List.of(new Clip("shrink", List.of(), RATE, false, true, List.of(), Passthrough.NONE)));
            number = 0;
        } else if (clip.isBlank() && asset.clips().size() == 1) {
            number = 0;
        } else if (clip.isBlank()) {
            throw new Refused("shrink.which.clip", asset.clips().size());
        } else {
            number = Clips.number(asset, clip);
        }
        int m = asset.findMesh(part);
        List<Integer> nodes = Names.nodes(asset, part).stream()
                .filter(n ->
                        asset.nodes().get(n).mesh() >= 0 && asset.nodes().get(n).skin() < 0)
                .toList();
        if (m >= 0) {
            CacheUse cache = CacheUse.of(timed, m).stream()
                    .filter(u -> u.clip() == number && u.fits(asset))
                    .findFirst()
                    .orElse(null);
            if (cache != null) {
                return cached(timed, cache, work);
            }
            if (asset.skinOfMesh(m) >= 0 && asset.meshes().get(m).skinned()) {
                return jointed(timed, number, m);
            }
            int at = m;
            nodes = IntStream.range(0, asset.nodes().size())
                    .filter(n -> asset.nodes().get(n).mesh() == at)
                    .boxed()
                    .toList();
        }
        if (nodes.isEmpty()) {
            throw new Refused("shrink.none", part);
        }
        return parts(timed, number, nodes);
    }

    private Shrinking shrinking(Asset asset, Clip clip, Vector3d[] middles) {
        Vector3d up = asset.conventions().up().vector();
        double rate = clip.rate();
        return Shrinking.of(middles, up, order, seed, first / rate, last / rate, spread, ease);
    }

    private Change cached(Asset asset, CacheUse use, Work work) throws Refused {
        Clip was = asset.clips().get(use.clip());
        Mesh mesh = asset.meshes().get(use.mesh());
        MeshTopology topology = MeshTopology.of(mesh);
        int[] pieceOf =
                IntStream.range(0, mesh.vertexCount()).map(topology::islandOf).toArray();
        int many = topology.islandCount();
        VertexTrack track = use.track();
        float[] at = new float[track.width()];
        track.at(0, at);
        Matrix4d world = new Rig(asset).rest().world()[use.node()];
        Vector3d[] middles = middles(at, pieceOf, many);
        for (Vector3d middle : middles) {
            world.transformPosition(middle);
        }
        Shrinking shrinking = shrinking(asset, was, middles);
        float[] times = times(track.times(), was);
        VertexFrames frames = CacheBake.frames(mesh.vertexCount(), times.length, work, (k, out) -> {
            float[] there = track.positions(times[k]);
            Vector3d[] now = middles(there, pieceOf, many);
            for (int v = 0; v < pieceOf.length; v++) {
                double s = shrinking.at(pieceOf[v], times[k]);
                Vector3d c = now[pieceOf[v]];
                out[3 * v] = s == 1 ? there[3 * v] : (float) (c.x + s * (there[3 * v] - c.x));
                out[3 * v + 1] = s == 1 ? there[3 * v + 1] : (float) (c.y + s * (there[3 * v + 1] - c.y));
                out[3 * v + 2] = s == 1 ? there[3 * v + 2] : (float) (c.z + s * (there[3 * v + 2] - c.z));
            }
        });
        Channel now = was.channels().get(use.channel()).withTrack(VertexTrack.of(times, frames));
        return Change.of(use.replaced(asset, List.of(now))).count("pieces.shrunk", many);
    }

    private static Vector3d[] middles(float[] p, int[] pieceOf, int many) {
        Vector3d[] out = IntStream.range(0, many).mapToObj(i -> new Vector3d()).toArray(Vector3d[]::new);
        int[] sizes = new int[many];
        for (int v = 0; v < pieceOf.length; v++) {
            out[pieceOf[v]].add(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
            sizes[pieceOf[v]]++;
        }
        for (int i = 0; i < many; i++) {
            out[i].div(Math.max(1, sizes[i]));
        }
        return out;
    }

    /** Times that were keys, and every frame while pieces shrink. */
    private float[] times(float[] had, Clip clip) {
        TreeSet<Float> all = new TreeSet<>();
        for (float t : had) {
            all.add(t);
        }
        for (int f = first; f <= last; f++) {
            all.add((float) (f / clip.rate()));
        }
        float[] out = new float[all.size()];
        int i = 0;
        for (float t : all) {
            out[i++] = t;
        }
        return out;
    }

    private Change jointed(Asset asset, int number, int m) throws Refused {
        Skin skin = asset.skins().get(asset.skinOfMesh(m));
        Mesh mesh = asset.meshes().get(m);
        float[] rest = MeshTopology.restPositions(mesh);
        int[] jointOf = new int[mesh.vertexCount()];
        int v = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int i = 0; i < p.vertexCount(); i++, v++) {
                if (rows == null || rows.rowLength(i) != 1) {
                    throw new Refused("shrink.shared", part, v);
                }
                jointOf[v] = rows.joints()[rows.offsets()[i]];
            }
        }
        int[] used = Arrays.stream(jointOf).distinct().sorted().toArray();
        List<Piece> pieces = new ArrayList<>();
        for (int j : used) {
            int node = skin.joints()[j];
            Vector3d middle = new Vector3d();
            int many = 0;
            for (int i = 0; i < jointOf.length; i++) {
                if (jointOf[i] == j) {
                    middle.add(rest[3 * i], rest[3 * i + 1], rest[3 * i + 2]);
                    many++;
                }
            }
            pieces.add(new Piece(node, skin.inverseBind(j).transformPosition(middle.div(many))));
        }
        for (Piece p : pieces) {
            int[] below = asset.nodes().get(p.node).children();
            if (below.length > 0) {
                throw new Refused("shrink.children", asset.nodeRef(p.node), asset.nodeRef(below[0]));
            }
        }
        return keyed(asset, number, pieces);
    }

    private Change parts(Asset asset, int number, List<Integer> nodes) throws Refused {
        List<Piece> pieces = new ArrayList<>();
        for (int n : nodes) {
            Node node = asset.nodes().get(n);
            Mesh mesh = asset.meshes().get(node.mesh());
            if (node.children().length > 0) {
                throw new Refused("shrink.children", asset.nodeRef(n), asset.nodeRef(node.children()[0]));
            }
            if (node.local().matrix() != null) {
                throw new Refused("shrink.matrix", asset.nodeRef(n));
            }
            if (mesh.vertexCount() > 0) {
                Vector3d middle = middles(MeshTopology.restPositions(mesh), new int[mesh.vertexCount()], 1)[0];
                pieces.add(new Piece(n, middle));
            }
        }
        if (nodes.size() == 1) {
            int islands = MeshTopology.of(asset.meshes()
                            .get(asset.nodes().get(nodes.getFirst()).mesh()))
                    .islandCount();
            if (islands > 1) {
                throw new Refused("shrink.loose", part, islands);
            }
        }
        return keyed(asset, number, pieces);
    }

    /**
     * What shrinks with a node.
     *
     * @param middle in the node's axes
     */
    private record Piece(int node, Vector3d middle) {}

    private Change keyed(Asset asset, int number, List<Piece> pieces) {
        Clip was = asset.clips().get(number);
        Matrix4d[] world = new Rig(asset).at(was, first / was.rate()).world();
        Vector3d[] middles = pieces.stream()
                .map(p -> world[p.node].transformPosition(new Vector3d(p.middle)))
                .toArray(Vector3d[]::new);
        Shrinking shrinking = shrinking(asset, was, middles);
        List<Channel> channels = new ArrayList<>(was.channels());
        Rig rig = new Rig(asset);
        for (int i = 0; i < pieces.size(); i++) {
            Piece piece = pieces.get(i);
            float[] times = times(own(was, piece.node), was);
            float[] sizes = new float[3 * times.length];
            float[] places = new float[3 * times.length];
            boolean moves = false;
            for (int k = 0; k < times.length; k++) {
                Matrix4d local = rig.at(was, times[k]).local(piece.node);
                double s = shrinking.at(i, times[k]);
                Vector3d size = local.getScale(new Vector3d());
                // About the middle: the node gives way by as much as the middle would.
                Vector3d shift =
                        local.transformDirection(new Vector3d(piece.middle)).mul(1 - s);
                Vector3d place = local.getTranslation(new Vector3d());
                moves |= shift.length() > 1e-6 * (1e-12 + piece.middle.length() * size.length());
                for (int c = 0; c < 3; c++) {
                    sizes[3 * k + c] = (float) (size.get(c) * s);
                    places[3 * k + c] = (float) (place.get(c) + shift.get(c));
                }
            }
            boolean translated = moves;
            channels.removeIf(c -> c.node() == piece.node
                    && (c.path() == Channel.Path.SCALE || translated && c.path() == Channel.Path.TRANSLATION));
            channels.add(channel(piece.node, Channel.Path.SCALE, times, sizes));
            if (moves) {
                channels.add(channel(piece.node, Channel.Path.TRANSLATION, times, places));
            }
        }
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(number, was.withChannels(channels).withRate(was.rate()));
        return Change.of(asset.withClips(clips)).count("pieces.shrunk", pieces.size());
    }

    private static float[] own(Clip clip, int node) {
        TreeSet<Float> all = new TreeSet<>();
        for (Channel c : clip.channels()) {
            if (c.node() == node && (c.path() == Channel.Path.SCALE || c.path() == Channel.Path.TRANSLATION)) {
                for (float t : c.track().times()) {
                    all.add(t);
                }
            }
        }
        float[] out = new float[all.size()];
        int i = 0;
        for (float t : all) {
            out[i++] = t;
        }
        return out;
    }

    private static Channel channel(int node, Channel.Path path, float[] times, float[] values) {
        Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values, 3, Storage.FLOAT);
        return new Channel(node, path, keys, "", Passthrough.NONE);
    }
}
