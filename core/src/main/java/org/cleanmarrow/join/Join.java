package org.cleanmarrow.join;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Brings a second asset into a first, joint by joint of the same name: its clips move the first's joints, its meshes
 * hang on them. The second is first written in the first's unit and axes.
 *
 * <p>A joint is found by its name, or by what stands behind the last colon of it, as in {@code take_3:hips}. Joints
 * that the first does not have are added where a mesh of the second needs them, or where the first has no skeleton; channels of
 * others move nothing, keep the name of what they moved, and are found by the checks. Where the first knows none of the joints that
 * the second's clips move, or knows them with other axes, the whole skeleton comes along to be retargeted.
 *
 * <p>Where a joint rests elsewhere in the second than in the first, clips that do not key it hold it there: they play as they did.
 */
public final class Join {
    private static final int NAMED = 6;
    /** Shares of a length that make it another, of the bone itself and of the longest. */
    private static final double OTHER = 1e-4;

    private static final double OTHER_OF_LONGEST = 1e-5;
    /** Radians that make a turn another. */
    private static final double OTHER_TURN = 1e-3;
    /** Bones that lie further than this from each other, in their joint's axes, are no matter of proportions. */
    private static final double OTHER_AXES = Math.toRadians(30);

    private static final int FEWEST_BONES = 3;

    private final Asset base;
    private final Asset other;
    private final List<Node> nodes;
    private final int[] place;
    private final int[] skinPlace;
    private final Map<String, Integer> known;
    private final boolean otherAxes;
    /** Whether the second's skeleton is none of the first's, and comes along to move by itself. */
    private final boolean apart;

    /** The second's numbers behind the first's; nodes have their {@link #place}. */
    private final Renumbering behind;

    private final List<Integer> tops = new ArrayList<>();
    private final Set<String> missing = new LinkedHashSet<>();
    private final Set<Integer> held = new HashSet<>();
    private int matched;

    private Join(Asset base, Asset other) {
        this.base = base;
        this.other = other;
        nodes = new ArrayList<>(base.nodes());
        place = new int[other.nodes().size()];
        Arrays.fill(place, -1);
        skinPlace = new int[other.skins().size()];
        Arrays.fill(skinPlace, -1);
        known = byName();
        otherAxes = hasOtherAxes();
        apart = otherAxes || knowsNone();
        int next = base.skins().size();
        for (int s = 0; s < skinPlace.length; s++) {
            int skin = s;
            boolean used = other.nodes().stream().anyMatch(n -> n.skin() == skin && n.mesh() >= 0);
            skinPlace[s] = used || apart || base.skins().isEmpty() ? next++ : -1;
        }
        int[] noCamera = new int[other.cameras().size()];
        Arrays.fill(noCamera, -1);
        behind = Renumbering.NONE
                .behind(
                        Renumbering.Kind.MESH,
                        other.meshes().size(),
                        base.meshes().size())
                .behind(
                        Renumbering.Kind.MATERIAL,
                        other.materials().size(),
                        base.materials().size())
                .behind(
                        Renumbering.Kind.TEXTURE,
                        other.textures().size(),
                        base.textures().size())
                .behind(
                        Renumbering.Kind.IMAGE,
                        other.images().size(),
                        base.images().size())
                .with(Renumbering.Kind.SKIN, skinPlace)
                .with(Renumbering.Kind.CAMERA, noCamera);
    }

    /**
     * The first asset with the second in it; what matched and what did not is said in its notes.
     *
     * @throws Refused where the second cannot be written in the first's conventions
     */
    public static Asset of(Asset base, Asset other, Work work) throws Refused {
        Asset alike = new Convert(base.conventions(), false).apply(other, work).asset();
        return new Join(base, alike).run();
    }

    private Asset run() {
        placeNodes();
        List<Mesh> meshes = new ArrayList<>(base.meshes());
        other.meshes().forEach(m -> meshes.add(m.renumbered(behind)));
        List<Skin> skins = skins();
        Asset joined = base.withNodes(nodes)
                .withMeshes(meshes)
                .withSkins(skins)
                .withClips(clips())
                .withAttached(attached())
                .withScenes(scenes());
        return withoutCarriers(withPictures(joined)).withNotes(notes());
    }

    /**
     * A joint or moved node of a second file.
     *
     * @param other its name there
     * @param found the first's node that it is, empty where there is none; {@code added} where it came along
     */
    public record Match(String other, String found, boolean added) {}

    /** What {@link #of} would make of each joint and moved node of a second asset, in its order. */
    public static List<Match> table(Asset base, Asset other) {
        Join join = new Join(base, other);
        join.placeNodes();
        List<Match> out = new ArrayList<>();
        boolean[] joint = other.jointFlags();
        BitSet moved = other.animatedNodes();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n] || moved.get(n)) {
                int place = join.place[n];
                boolean added = place >= base.nodes().size();
                String found = place < 0 ? "" : join.nodes.get(place).name();
                out.add(new Match(other.nodes().get(n).name(), found, added));
            }
        }
        return out;
    }

    /** Numbers of the first's nodes by name; names that are there twice name nothing. */
    private Map<String, Integer> byName() {
        Map<String, Integer> out = new HashMap<>();
        Set<String> twice = new HashSet<>();
        for (int n = 0; n < base.nodes().size(); n++) {
            String name = base.nodes().get(n).name();
            if (out.put(name, n) != null) {
                twice.add(name);
            }
        }
        out.keySet().removeAll(twice);
        out.remove("");
        return out;
    }

    /** True where the second has clips and the first knows none of what they move. */
    private boolean knowsNone() {
        BitSet moved = other.animatedNodes();
        return !moved.isEmpty() && moved.stream().allMatch(n -> find(n) < 0);
    }

    /**
     * True where the second has clips and its bones lie otherwise in their joints' axes than the first's of the same names, which no
     * pose and no proportions make so: turns about such axes would be others here.
     */
    private boolean hasOtherAxes() {
        BitSet moved = other.animatedNodes();
        if (moved.isEmpty()) {
            return false;
        }
        boolean[] joint = other.jointFlags();
        int[] above = other.parents();
        int[] aboveHere = base.parents();
        List<Double> angles = new ArrayList<>();
        for (int n = 0; n < joint.length; n++) {
            int here = (joint[n] || moved.get(n)) && above[n] >= 0 ? find(n) : -1;
            if (here >= 0 && aboveHere[here] >= 0 && find(above[n]) == aboveHere[here]) {
                Vector3d bone = base.nodes().get(here).local().translationVector();
                double angle = bone.angle(other.nodes().get(n).local().translationVector());
                if (Double.isFinite(angle)) {
                    angles.add(angle);
                }
            }
        }
        angles.sort(null);
        return angles.size() >= FEWEST_BONES && angles.get(angles.size() / 2) > OTHER_AXES;
    }

    private void placeNodes() {
        boolean[] joint = other.jointFlags();
        BitSet moved = other.animatedNodes();
        for (int n = 0; n < place.length; n++) {
            if (joint[n] || moved.get(n)) {
                place[n] = apart ? -1 : find(n);
                matched += place[n] >= 0 ? 1 : 0;
            }
        }
        BitSet needed = needed(joint);
        int[] parents = other.parents();
        for (int n : other.topDown()) {
            if (place[n] < 0 && needed.get(n)) {
                place[n] = nodes.size();
                nodes.add(added(other.nodes().get(n)));
                int parent = parents[n] < 0 ? -1 : place[parents[n]];
                if (parent < 0) {
                    tops.add(place[n]);
                } else {
                    Node above = nodes.get(parent);
                    int[] children = Arrays.copyOf(above.children(), above.children().length + 1);
                    children[children.length - 1] = place[n];
                    nodes.set(parent, above.withChildren(children));
                }
            } else if (place[n] < 0 && (joint[n] || moved.get(n))) {
                missing.add(other.nodes().get(n).name());
            }
        }
    }

    /** The first's node of the same name as one of the second's; -1 where there is none. */
    private int find(int node) {
        String name = other.nodes().get(node).name();
        Integer whole = known.get(name);
        return whole != null ? whole : known.getOrDefault(name.substring(name.lastIndexOf(':') + 1), -1);
    }

    /** Nodes that must come along: those with meshes, the joints these hang on, and what stands above any of them. */
    private BitSet needed(boolean[] joint) {
        BitSet needed = new BitSet();
        boolean bare = base.skins().isEmpty();
        BitSet moved = other.animatedNodes();
        BitSet carries = new BitSet();
        other.attached().forEach(a -> carries.set(a.node()));
        for (int n = 0; n < joint.length; n++) {
            Node node = other.nodes().get(n);
            if (carries.get(n)) {
                needed.set(n);
            }
            if (node.mesh() >= 0) {
                needed.set(n);
                if (node.skin() >= 0) {
                    Arrays.stream(other.skins().get(node.skin()).joints()).forEach(needed::set);
                }
            } else if ((bare || apart) && (joint[n] || apart && moved.get(n))) {
                needed.set(n);
            }
        }
        int[] parents = other.parents();
        int[] order = other.topDown();
        for (int i = order.length - 1; i >= 0; i--) {
            int n = order[i];
            // Above a node that the first has stands the first's own hierarchy.
            if (needed.get(n) && place[n] < 0 && parents[n] >= 0) {
                needed.set(parents[n]);
            }
        }
        return needed;
    }

    private Node added(Node node) {
        return node.withChildren().renumbered(behind);
    }

    /** The first's skins and those of the second that move a mesh. */
    private List<Skin> skins() {
        List<Skin> skins = new ArrayList<>(base.skins());
        for (int s = 0; s < skinPlace.length; s++) {
            if (skinPlace[s] >= 0) {
                skins.add(other.skins().get(s).renumbered(behind.with(Renumbering.Kind.NODE, place)));
            }
        }
        return skins;
    }

    private List<Attached> attached() {
        List<Attached> out = new ArrayList<>(base.attached());
        Renumbering placed = behind.with(Renumbering.Kind.NODE, place);
        other.attached().forEach(a -> out.add(a.renumbered(placed)));
        return out;
    }

    private List<Clip> clips() {
        List<Clip> clips = new ArrayList<>(base.clips());
        Set<String> taken = new HashSet<>();
        clips.forEach(c -> taken.add(c.name()));
        List<Resting> resting = resting();
        for (Clip clip : other.clips()) {
            String name = clip.name();
            for (int i = 2; !taken.add(name); i++) {
                name = clip.name() + "_" + i;
            }
            List<Channel> channels =
                    new ArrayList<>(clip.channels().stream().map(this::placed).toList());
            channels.addAll(holding(clip, resting));
            clips.add(clip.withName(name).withChannels(channels));
        }
        return clips;
    }

    /** A part of a joint's place that is another at rest in the second. */
    private record Resting(int node, Channel.Path path, float[] value) {}

    private List<Resting> resting() {
        List<Resting> out = new ArrayList<>();
        BitSet cached = other.cachedNodes();
        double longest = 0;
        for (Node node : other.nodes()) {
            longest = Math.max(longest, node.local().translationVector().length());
        }
        for (int n = 0; n < place.length; n++) {
            int here = place[n];
            // A cache is brought into the axes that the first's node has.
            if (here < 0 || here >= base.nodes().size() || cached.get(n)) {
                continue;
            }
            Local a = base.nodes().get(here).local();
            Local b = other.nodes().get(n).local();
            if (a.matrix() != null || b.matrix() != null) {
                continue;
            }
            if (differ(a.translationVector(), b.translationVector(), longest * OTHER_OF_LONGEST)) {
                out.add(new Resting(n, Channel.Path.TRANSLATION, b.translation()));
            }
            Quaterniond turn = a.rotationQuaternion().difference(b.rotationQuaternion());
            if (2 * Math.acos(Math.min(1, Math.abs(turn.w))) > OTHER_TURN) {
                out.add(new Resting(n, Channel.Path.ROTATION, b.rotation()));
            }
            if (differ(a.scaleVector(), b.scaleVector(), 0)) {
                out.add(new Resting(n, Channel.Path.SCALE, b.scale()));
            }
        }
        return out;
    }

    private static boolean differ(Vector3d a, Vector3d b, double least) {
        return a.distance(b) > Math.max(least, OTHER * Math.max(a.length(), b.length()));
    }

    /** What keeps joints that a clip does not key where they rest in the second. */
    private List<Channel> holding(Clip clip, List<Resting> resting) {
        Set<Clips.Moved> keyed = new HashSet<>();
        clip.channels().forEach(c -> keyed.add(Clips.Moved.by(c)));
        List<Channel> out = new ArrayList<>();
        for (Resting r : resting) {
            float[] start = {(float) clip.start()};
            Sampler still = new Sampler(Sampler.Interpolation.LINEAR, start, r.value, r.value.length, Storage.FLOAT);
            Channel holds = new Channel(r.node, r.path, still, "", Passthrough.NONE);
            if (!clip.channels().isEmpty() && !keyed.contains(Clips.Moved.by(holds))) {
                out.add(placed(holds));
                held.add(r.node);
            }
        }
        return out;
    }

    private Channel placed(Channel channel) {
        if (channel.node() < 0) {
            return channel;
        }
        int node = place[channel.node()];
        if (node >= 0 && node < base.nodes().size() && channel.track() instanceof VertexTrack cache) {
            return channel.withNode(node).withTrack(cache.moved(toBase(channel.node(), node)));
        }
        return node >= 0
                ? channel.withNode(node)
                : new Channel(
                        -1,
                        channel.path(),
                        channel.track(),
                        other.nodes().get(channel.node()).name(),
                        channel.carried());
    }

    /** From the axes of a node of the second, at rest, into those of the first's node that it is. */
    private Matrix4d toBase(int node, int here) {
        Matrix4d is = new Rig(base).rest().world()[here];
        Matrix4d back = is.invert(new Matrix4d());
        return back.isFinite() ? back.mul(new Rig(other).rest().world()[node]) : back.identity();
    }

    /** Of a mesh that came for its cache alone, and is the first's own, there need not be two. */
    private Asset withoutCarriers(Asset joined) {
        BitSet kept = new BitSet();
        kept.set(0, base.meshes().size());
        for (Node node : joined.nodes()) {
            if (node.mesh() >= 0) {
                kept.set(node.mesh());
            }
        }
        BitSet cached = other.cachedNodes();
        for (int n = 0; n < other.nodes().size(); n++) {
            int mesh = other.nodes().get(n).mesh();
            if (mesh >= 0 && !cached.get(n)) {
                kept.set(base.meshes().size() + mesh);
            }
        }
        int all = joined.meshes().size();
        return kept.cardinality() == all
                ? joined
                : joined.renumbered(Renumbering.NONE.keeping(Renumbering.Kind.MESH, kept, all));
    }

    private List<Scene> scenes() {
        if (tops.isEmpty()) {
            return base.scenes();
        }
        int[] more = tops.stream().mapToInt(Integer::intValue).toArray();
        if (base.scenes().isEmpty()) {
            return List.of(new Scene("", more, Passthrough.NONE));
        }
        List<Scene> scenes = new ArrayList<>(base.scenes());
        int shown = Math.max(0, base.scene());
        Scene scene = scenes.get(shown);
        int[] roots = Arrays.copyOf(scene.roots(), scene.roots().length + more.length);
        System.arraycopy(more, 0, roots, scene.roots().length, more.length);
        scenes.set(shown, new Scene(scene.name(), roots, scene.carried()));
        return scenes;
    }

    private Asset withPictures(Asset joined) {
        List<Material> materials = new ArrayList<>(base.materials());
        other.materials().forEach(m -> materials.add(m.renumbered(behind)));
        List<Texture> textures = new ArrayList<>(base.textures());
        other.textures().forEach(t -> textures.add(t.renumbered(behind)));
        var images = new ArrayList<>(base.images());
        images.addAll(other.images());
        return joined.withPictures(materials, textures, images);
    }

    private List<String> notes() {
        List<String> notes = new ArrayList<>(base.notes());
        notes.addAll(other.notes());
        int meshes = other.meshes().size();
        int clips = other.clips().size();
        int moved = other.animatedNodes().cardinality();
        Message came = otherAxes
                ? Message.of("join.other.axes", other.name(), moved, meshes, clips)
                : apart
                        ? Message.of("join.apart", other.name(), moved, meshes, clips)
                        : Message.of("join.matched", other.name(), matched, matched + missing.size(), meshes, clips);
        notes.add(came.toString());
        if (!held.isEmpty()) {
            notes.add(Message.of("join.held", other.name(), held.size()).toString());
        }
        if (!missing.isEmpty()) {
            List<String> some = missing.stream().limit(NAMED).toList();
            String more = missing.size() > NAMED ? ", …" : "";
            notes.add(Message.of("join.missing", other.name(), missing.size(), String.join(", ", some) + more)
                    .toString());
        }
        return notes;
    }
}
