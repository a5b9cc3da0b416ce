package org.cleanmarrow.examination;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.motion.ShiftClip;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/**
 * One fault after the other put into assets in which nothing is wrong: each is found by its check, where it was put, and
 * what else is found is what follows from it. Faults of weights across pieces, of roles, and of bodies beside each other need
 * bodies: the demo's tests plant those.
 */
public class PlantedFaultsTest {
    private static final Target TARGET = Target.named("y-up-m-rh").orElseThrow();
    private static final Asset CLEAN = painted(ChecksTest.clean());
    private static final int MESHES = CLEAN.meshes().size();
    private static final Asset PERSON = StickFigure.of(1.8);

    private final List<Object[]> table = new ArrayList<>();

    /** Things that collide and hang, each wrong in one way. */
    private void collision() {
        Collider ball = new Collider("", node("crate"), Frame.NONE, new Shape.Sphere(0.012));
        Collider tool = new Collider("", node("tool"), Frame.NONE, new Shape.Drawn(false));
        Collider near = new Collider("", node("joint_0"), Frame.NONE, new Shape.Box(90, 90, 90));
        plant("shapes-overlap", "*", CLEAN.withAttached(List.of(tool, ball, near)));
        plant("collider-missing", "crate", CLEAN.withAttached(List.of(tool, near)));
        RigidBody heavy = new RigidBody(node("crate"), RigidBody.Kind.FREE, 60);
        plant("body-shape", "crate", CLEAN.withAttached(List.of(tool, heavy)));
        plant(
                "body-mass",
                "crate",
                CLEAN.withAttached(List.of(tool, ball, new RigidBody(node("crate"), RigidBody.Kind.FREE, 1e-5))));
        Collider alone = new Collider("", node("joint_0"), Frame.at(new Vector3d(500, 0, 0)), new Shape.Sphere(0.1));
        RigidBody light = new RigidBody(node("joint_0"), RigidBody.Kind.FREE, 2);
        RigidJoint hung = new RigidJoint("", node("crate"), Frame.NONE, node("joint_0"), List.of(), List.of(), false);
        plant(
                "still-root",
                "joint_0",
                CLEAN.withAttached(
                        List.of(tool, ball, alone, new RigidBody(node("crate"), RigidBody.Kind.FREE, 3), light, hung)),
                "joint-apart");
        plant(
                "body-mass",
                "crate",
                CLEAN.withAttached(List.of(tool, ball, alone, heavy, light, hung)),
                "still-root",
                "joint-apart");
        plant(
                "joint-apart",
                "crate",
                CLEAN.withAttached(List.of(
                        tool,
                        ball,
                        alone,
                        new RigidBody(node("crate"), RigidBody.Kind.FREE, 3),
                        new RigidBody(node("joint_0"), RigidBody.Kind.STILL, 0),
                        hung)));
        RigidBody still = new RigidBody(node("joint_0"), RigidBody.Kind.STILL, 0);
        RigidBody swings = new RigidBody(node("crate"), RigidBody.Kind.FREE, 3);
        Collider plate = new Collider("", node("crate"), Frame.NONE, new Shape.Box(0.02, 0.009, 0.02));
        plant("shape-thin", "crate", CLEAN.withAttached(List.of(tool, plate, swings)));
        Collider beside = new Collider("", node("joint_0"), Frame.at(new Vector3d(0, 2, 0)), new Shape.Sphere(2.1));
        RigidJoint.Limit pinned = new RigidJoint.Limit(false, 7, 0, 0);
        for (RigidJoint.Limit limit :
                List.of(new RigidJoint.Limit(true, 1, 0.2, 1), new RigidJoint.Limit(true, 1, 0, -1))) {
            plant(
                    "joint-limits",
                    "crate",
                    CLEAN.withAttached(List.of(tool, ball, beside, swings, still, joint(List.of(pinned, limit)))),
                    "joint-apart");
        }
        RigidJoint.Drive beyond = new RigidJoint.Drive(true, 0, false, 1e9, 2, 0, 3, 0);
        plant(
                "joint-limits",
                "crate",
                CLEAN.withAttached(List.of(
                        tool,
                        ball,
                        beside,
                        swings,
                        still,
                        joint(List.of(pinned, new RigidJoint.Limit(true, 1, -1, 1)), beyond))),
                "joint-apart");
        plant(
                "joint-fights",
                "crate",
                CLEAN.withAttached(
                        List.of(tool, ball, beside, swings, still, joint(List.of(pinned)), joint(List.of(pinned)))),
                "joint-apart");
        plant(
                "joint-fights",
                "crate",
                CLEAN.withAttached(List.of(
                        tool,
                        ball,
                        beside,
                        new RigidBody(node("crate"), RigidBody.Kind.STILL, 0),
                        still,
                        joint(List.of(pinned)))),
                "joint-apart");
        for (Vector3d inertia : List.of(new Vector3d(1, 2, 3.1), new Vector3d(1, 1, 0.0009), new Vector3d(0, 1, 1))) {
            RigidBody.Mass mass = new RigidBody.Mass(3, new Vector3d(), inertia, Frame.NONE);
            RigidBody spun = new RigidBody(
                    node("crate"), RigidBody.Kind.FREE, mass, RigidBody.Speed.NONE, RigidBody.Damping.NONE);
            plant("body-inertia", "crate", CLEAN.withAttached(List.of(tool, ball, spun)));
        }
        Collider tiny = new Collider("", node("crate"), Frame.NONE, new Shape.Sphere(0.002));
        plant("shape-size", "crate", CLEAN.withAttached(List.of(tool, tiny)));
    }

    private static RigidJoint joint(List<RigidJoint.Limit> limits, RigidJoint.Drive... drives) {
        return new RigidJoint("", node("crate"), Frame.NONE, node("joint_0"), limits, List.of(drives), false);
    }

    /** Caches of the crate in another unit and of another mesh, and a part of lines. */
    private void caches() {
        Mesh crate = CLEAN.meshes().get(CLEAN.nodes().get(node("crate")).mesh());
        float[] rest = crate.primitives().getFirst().positions();
        for (int factor : new int[] {100, 1}) {
            int count = factor == 100 ? crate.vertexCount() : crate.vertexCount() - 1;
            VertexFrames frames = CacheBake.frames(count, 2, Work.QUIET, (k, out) -> {
                for (int i = 0; i < out.length; i++) {
                    out[i] = factor * rest[i];
                }
            });
            VertexTrack track = VertexTrack.of(new float[] {0, 1}, frames);
            Channel plays = new Channel(node("crate"), Channel.Path.VERTICES, track, "", Passthrough.NONE);
            List<Clip> clips = new ArrayList<>(CLEAN.clips());
            clips.add(new Clip("blown", List.of(plays), 30, false, true, List.of(), Passthrough.NONE));
            plant(factor == 100 ? "cache-unit" : "cache-count", "crate", CLEAN.withClips(clips));
        }
        Asset baked = Replay.one(CLEAN, new BakeCache("figure", "linear"), false, Work.QUIET)
                .asset();
        plant(
                "cache-shifted",
                "figure",
                Replay.one(baked, new ShiftClip("linear_cache", 5), false, Work.QUIET)
                        .asset(),
                // It is thrown about between four poses.
                "cache-jump");
        plant(
                "cache-jump",
                "crate",
                CLEAN.withClips(blown(crate, rest, (k, i) -> k == 2 && isFirst(rest, i) ? 0.004f : 0)));
        plant(
                "cache-order",
                "crate",
                CLEAN.withClips(blown(crate, rest, (k, i) -> rest[shuffled(rest, i)] - rest[i])),
                "cache-stretched");
        plant("cache-stretched", "crate", CLEAN.withClips(blown(crate, rest, (k, i) -> 0.2f * k * rest[i])));
        int mesh = CLEAN.nodes().get(node("tool")).mesh();
        Asset lines = CLEAN.withMesh(
                mesh, primitives(CLEAN.meshes().get(mesh), p -> p.withIndices(Primitive.Mode.LINES, new int[] {0, 1})));
        plant("strands-bare", "*", lines);
        plant("strands-budget", "*", lines, TARGET.with(Budget.PART_TRIANGLES, 7), "strands-bare", "triangle-budget");
    }

    /** The number in which a vertex's number in the cache has the same coordinate: the first and the last are exchanged. */
    private static int shuffled(float[] rest, int i) {
        int last = rest.length / 3 - 1;
        int v = i / 3;
        return 3 * (v == 0 ? last : v == last ? 0 : v) + i % 3;
    }

    private interface Shift {
        float by(int frame, int number);
    }

    /** Five frames of the crate, each of its numbers shifted. */
    private static List<Clip> blown(Mesh crate, float[] rest, Shift shift) {
        VertexFrames frames = CacheBake.frames(crate.vertexCount(), 5, Work.QUIET, (k, out) -> {
            for (int i = 0; i < out.length; i++) {
                out[i] = rest[i] + shift.by(k, i);
            }
        });
        VertexTrack track = VertexTrack.of(new float[] {0, 1, 2, 3, 4}, frames);
        Channel plays = new Channel(node("crate"), Channel.Path.VERTICES, track, "", Passthrough.NONE);
        List<Clip> clips = new ArrayList<>(CLEAN.clips());
        clips.add(new Clip("blown", List.of(plays), 1, false, true, List.of(), Passthrough.NONE));
        return clips;
    }

    /** Whether a number is of a vertex that lies where the first does. */
    private static boolean isFirst(float[] rest, int i) {
        int v = i / 3 * 3;
        return rest[v] == rest[0] && rest[v + 1] == rest[1] && rest[v + 2] == rest[2];
    }

    private static int node(String name) {
        return CLEAN.findNode(name);
    }

    private void plant(String check, String subject, Asset faulty, String... following) {
        plant(check, subject, faulty, TARGET, following);
    }

    /**
     * @param subject   what the finding is about; {@code *} where the asset as a whole is
     * @param following checks that find what follows from the fault
     */
    private void plant(String check, String subject, Asset faulty, Target target, String... following) {
        table.add(new Object[] {check, subject, faulty, target, Set.of(following)});
    }

    private static byte[] png(int width, int height, int rgba) {
        int[] pixels = new int[width * height];
        Arrays.fill(pixels, rgba);
        return Png.encode(width, height, pixels);
    }

    /** Every mesh with a material of its own that shows a picture of its own. */
    private static Asset painted(Asset asset) {
        List<Material> materials = new ArrayList<>();
        List<Texture> textures = new ArrayList<>();
        List<Image> images = new ArrayList<>();
        Asset out = asset;
        for (int m = 0; m < asset.meshes().size(); m++) {
            int number = m;
            String name = asset.meshes().get(m).name();
            materials.add(new Material(name, new float[] {1, 1, 1, 1}, m, false, Passthrough.NONE));
            textures.add(new Texture(name, m, Passthrough.NONE));
            images.add(new Image(name, "image/png", "", png(16, 16, 0xC04020FF + (m << 8)), Passthrough.NONE));
            out = out.withMesh(m, primitives(out.meshes().get(m), p -> p.withMaterial(number)));
        }
        return out.withPictures(materials, textures, images);
    }

    private static Mesh primitives(Mesh mesh, UnaryOperator<Primitive> change) {
        return mesh.withPrimitives(mesh.primitives().stream().map(change).toList());
    }

    private static Asset node(Asset asset, String name, UnaryOperator<Node> change) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(asset.findNode(name), change.apply(nodes.get(asset.findNode(name))));
        return asset.withNodes(nodes);
    }

    private static Asset local(String name, Local local) {
        return node(CLEAN, name, n -> n.withLocal(local));
    }

    private static Asset shape(int mesh, UnaryOperator<float[]> positions, UnaryOperator<float[]> normals) {
        return CLEAN.withMesh(
                mesh,
                primitives(
                        CLEAN.meshes().get(mesh),
                        p -> p.withShape(
                                positions.apply(p.positions().clone()),
                                p.normals() == null
                                        ? null
                                        : normals.apply(p.normals().clone()),
                                p.tangents(),
                                p.targets())));
    }

    private static float[] put(float[] all, int at, float number) {
        all[at] = number;
        return all;
    }

    /** Weights of one vertex of the figure, by joint. */
    private static Asset weights(int vertex, double... weights) {
        return CLEAN.withMesh(0, primitives(CLEAN.meshes().getFirst(), p -> {
            Influences rows = p.influences();
            Influences.Builder out = new Influences.Builder(rows.vertexCount());
            out.copyRows(rows, 0, vertex);
            for (int j = 0; j < weights.length; j++) {
                out.add(j, (float) weights[j]);
            }
            out.endRow();
            out.copyRows(rows, vertex + 1, rows.vertexCount());
            return p.withInfluences(out.build());
        }));
    }

    private static Asset clip(String name, UnaryOperator<Clip> change) {
        return CLEAN.mapClips(c -> c.name().equals(name) ? change.apply(c) : c);
    }

    private static Clip keys(Clip clip, Channel.Path path, UnaryOperator<float[]> values) {
        List<Channel> channels = new ArrayList<>(clip.channels());
        for (int c = 0; c < channels.size(); c++) {
            Channel channel = channels.get(c);
            if (channel.path() == path) {
                Sampler s = channel.sampler();
                channels.set(
                        c,
                        new Channel(
                                channel.node(),
                                path,
                                new Sampler(
                                        s.interpolation(),
                                        s.times(),
                                        values.apply(s.values().clone()),
                                        s.width(),
                                        s.storage()),
                                channel.target(),
                                channel.carried()));
                break;
            }
        }
        return clip.withChannels(channels);
    }

    private static Asset skin(UnaryOperator<float[]> binds) {
        Skin skin = CLEAN.skins().getFirst();
        return CLEAN.withSkins(
                List.of(skin.with(skin.joints(), binds.apply(skin.inverseBinds().clone()), skin.skeleton())));
    }

    private static Asset image(Image changed) {
        List<Image> images = new ArrayList<>(CLEAN.images());
        images.set(1, changed);
        return CLEAN.withPictures(CLEAN.materials(), CLEAN.textures(), images);
    }

    private static Image picture(String name, byte[] bytes) {
        return new Image(name, "image/png", bytes == null ? name : "", bytes, Passthrough.NONE);
    }

    private static Asset crateShows(List<TextureUse> uses) {
        Material crate = CLEAN.materials().get(1);
        List<Material> materials = new ArrayList<>(CLEAN.materials());
        materials.set(1, new Material(crate.name(), crate.baseColour(), uses, false, crate.carried()));
        return CLEAN.withPictures(materials, CLEAN.textures(), CLEAN.images());
    }

    private static Target rules(
            List<Rules.Names> names,
            List<Rules.Joint> joints,
            Optional<String> materials,
            Optional<List<String>> extensions,
            List<Double> rates) {
        return TARGET.with(new Rules(names, joints, materials, extensions, rates, Map.of()));
    }

    private static Target named(Rules.Kind kind, String pattern) {
        return rules(List.of(new Rules.Names(kind, pattern)), List.of(), Optional.empty(), Optional.empty(), List.of());
    }

    private static Target needs(String joint, String parent) {
        return rules(List.of(), List.of(new Rules.Joint(joint, parent)), Optional.empty(), Optional.empty(), List.of());
    }

    @DataProvider
    public Object[][] faults() {
        table.clear();
        numbers();
        places();
        skeleton();
        skin();
        motion();
        paint();
        budgets();
        names();
        return table.toArray(Object[][]::new);
    }

    private static float[] larger(float[] p) {
        for (int i = 0; i < p.length; i++) {
            p[i] *= 1.01f;
        }
        return p;
    }

    private static float[] negated(float[] n) {
        for (int i = 0; i < n.length; i++) {
            n[i] = -n[i];
        }
        return n;
    }

    private void numbers() {
        UnaryOperator<float[]> same = all -> all;
        plant("non-finite", "crate", shape(1, p -> put(p, 4, Float.NaN), same));
        plant("non-finite", "crate", shape(1, p -> put(p, 4, Float.POSITIVE_INFINITY), same));
        plant("non-finite", "figure", shape(0, same, n -> put(n, 4, Float.NaN)));
        plant("non-finite", "crate", local("crate", Local.at(Double.NaN, 0, 0)));
        plant("non-finite", "linear", clip("linear", c -> keys(c, Channel.Path.ROTATION, v -> put(v, 2, Float.NaN))));
        plant("normals", "figure", shape(0, same, n -> put(n, 1, 2)));
        plant("normals-away", "figure", shape(0, same, PlantedFaultsTest::negated));
        plant("normals", "crate", shape(1, same, n -> {
            Arrays.fill(n, 0, 3, 0);
            return n;
        }));
        plant("seams", "figure", CLEAN.withMesh(0, primitives(CLEAN.meshes().getFirst(), p -> {
            float[] positions = p.positions().clone();
            System.arraycopy(positions, 0, positions, 3, 3);
            Influences.Builder out = new Influences.Builder(p.vertexCount());
            out.add(0, 1);
            out.endRow();
            out.add(1, 1);
            out.endRow();
            out.copyRows(p.influences(), 2, p.vertexCount());
            return p.withShape(positions, p.normals(), p.tangents(), p.targets())
                    .withInfluences(out.build());
        })));
    }

    private void places() {
        plant("size", "*", CLEAN.withConventions(unit(1000)), "axes");
        plant("size", "*", CLEAN.withConventions(unit(1e-4)), "axes");
        plant("size", "*", StickFigure.of(180), "roles", "end-joints", "names-differ", "root");
        plant("axes", "*", CLEAN.withConventions(unit(0.01)));
        plant("axes", "*", CLEAN, Target.named("z-up-m-lh").orElseThrow());
        plant("axes", "*", CLEAN, Target.named("y-up-m-lh").orElseThrow());
        plant("axes", "*", CLEAN, Target.named("y-up-cm-rh").orElseThrow());
        Vector3d none = new Vector3d();
        Quaterniond quarter = new Quaterniond().rotateX(Math.PI / 2);
        plant("node-transform", "crate", local("crate", Local.of(none, quarter, new Vector3d(1))));
        plant("node-transform", "crate", local("crate", Local.of(none, new Quaterniond(), new Vector3d(3))));
        plant("node-transform", "crate", local("crate", Local.of(none, quarter, new Vector3d(1, 2, 1))));
        plant("node-transform", "joint_3", local("joint_3", Local.of(none, new Quaterniond(), new Vector3d(2))));
        Target zUp = Target.named("z-up-m-rh").orElseThrow();
        Passthrough offset = new Passthrough("{\"extras\": {\"offset\": [1, 2, 3]}}");
        plant("unread-transforms", "*", node(CLEAN, "crate", n -> n.withCarried(offset)), zUp, "axes");
        plant(
                "facing",
                "*",
                PERSON.withConventions(Conventions.parse("z-up-m-rh").orElseThrow()),
                "axes",
                "names-differ",
                "root",
                "roles",
                "end-joints");
        plant(
                "unread-transforms",
                "*",
                node(
                        CLEAN,
                        "tool",
                        n -> n.withCarried(
                                new Passthrough("{\"extensions\": {\"OWN_socket\": {\"translation\": [0, 1, 0]}}}"))),
                zUp,
                "axes");
    }

    private static Conventions unit(double metres) {
        return new Conventions(
                metres, Conventions.GLTF.up(), Conventions.GLTF.forward(), Conventions.GLTF.handedness());
    }

    private void skeleton() {
        plant("root", "root", local("root", Local.at(0, 1, 0)));
        plant("root", "root", local("root", Local.of(new Vector3d(), new Quaterniond().rotateY(1), new Vector3d(1))));
        plant(
                "root",
                "root",
                local("root", Local.of(new Vector3d(), new Quaterniond(), new Vector3d(2))),
                "node-transform");
        plant("root", "*", PERSON, "names-differ", "roles", "end-joints");
        plant(
                "binds",
                "*",
                skin(b -> {
                    Arrays.fill(b, 16, 31, 0);
                    return b;
                }),
                "binds-differ");
        plant("binds", "*", skin(b -> put(b, 3, 0.5f)), "binds-differ");
        plant("joint-names", "joint_1", node(CLEAN, "joint_2", n -> n.withName("joint_1")));
        plant("joint-names", "*", node(CLEAN, "joint_2", n -> n.withName("")));
        List<Node> ends = new ArrayList<>(CLEAN.nodes());
        ends.add(Node.group("tip", Local.at(0.1, 0, 0)));
        int last = CLEAN.findNode("joint_5");
        Node bearer = ends.get(last);
        int[] below = Arrays.copyOf(bearer.children(), bearer.children().length + 1);
        below[below.length - 1] = ends.size() - 1;
        ends.set(last, bearer.withChildren(below));
        Skin skin = CLEAN.skins().getFirst();
        int[] joints = Arrays.copyOf(skin.joints(), skin.joints().length + 1);
        joints[joints.length - 1] = ends.size() - 1;
        float[] binds = Arrays.copyOf(skin.inverseBinds(), joints.length * 16);
        System.arraycopy(skin.inverseBinds(), 0, binds, binds.length - 16, 16);
        plant("end-joints", "tip", CLEAN.withNodes(ends).withSkins(List.of(skin.with(joints, binds, -1))));
        plant("joints-needed", "tail", CLEAN, needs("tail", ""));
        plant("joints-needed", "joint_2", CLEAN, needs("joint_2", "crate"));
        plant("joints-needed", "root", CLEAN, needs("root", "joint_1"));
    }

    private void skin() {
        plant("weight-sums", "figure", weights(3, 0.6, 0.6));
        plant("weight-sums", "figure", weights(3, 0.6, 0.3));
        plant("weight-sums", "figure", weights(3, 0.60001, 0.4));
        plant("strays", "figure", weights(3));
        plant("strays", "figure", weights(3, 0, 0));
        plant("influences", "figure", weights(3, 0.2, 0.2, 0.2, 0.2, 0.2));
        plant("influences", "figure", CLEAN, TARGET.with(Budget.INFLUENCES, 1));
    }

    private void motion() {
        Clip linear = CLEAN.clips().get(CLEAN.findClip("linear"));
        Channel any = linear.channels().getFirst();
        plant(
                "lost-channels",
                "linear",
                clip(
                        "linear",
                        c -> c.withChannels(
                                List.of(any, new Channel(-1, any.path(), any.sampler(), "hook", Passthrough.NONE)))));
        plant(
                "one-way-loop",
                "gate_open",
                clip("linear", c -> c.withName("gate_open").withLoop(true)),
                "loop-jump");
        plant(
                "one-way-loop",
                "closeLid",
                clip("cubic", c -> c.withName("closeLid").withLoop(true)),
                "loop-jump");
        plant("loop-jump", "linear", clip("linear", c -> c.withLoop(true)));
        plant("clip-length", "linear", CLEAN, TARGET.with(Budget.CLIP_SECONDS, linear.seconds() * 0.9), "clip-length");
        plant(
                "clip-rate",
                "linear",
                CLEAN,
                rules(List.of(), List.of(), Optional.empty(), Optional.empty(), List.of(linear.rate() * 7)));
        List<Node> nodes = new ArrayList<>(CLEAN.nodes());
        nodes.add(Node.group("stranger", Local.IDENTITY));
        List<Clip> clips = new ArrayList<>(CLEAN.clips());
        clips.add(new Clip("foreign", List.of(any.withNode(nodes.size() - 1)), 24, false, true, Passthrough.NONE));
        plant("other-skeleton", "foreign", CLEAN.withNodes(nodes).withClips(clips));
    }

    private void paint() {
        plant("texture-size", "crate", image(picture("crate", png(24, 16, 0x808000FF))));
        plant(
                "texture-size",
                "crate",
                image(picture("crate", png(64, 16, 0x808000FF))),
                TARGET.with(Budget.TEXTURE_SIDE, 32));
        plant("pictures", "crate.png", image(picture("crate.png", null)));
        plant("pictures", "crate", image(picture("crate", new byte[] {'B', 'M', 1, 2, 3})));
        plant("pictures", "crate", image(picture("crate", png(16, 16, 0x8080FFFF))));
        plant("pictures", "crate", crateShows(List.of(new TextureUse(TextureUse.NORMAL, 1, Passthrough.NONE))));
        plant(
                "pictures",
                "crate",
                crateShows(List.of(
                        new TextureUse(TextureUse.BASE_COLOUR, 1, Passthrough.NONE),
                        new TextureUse("occlusionTexture", 1, Passthrough.NONE))));
        plant("unused", "*", crateShows(List.of()));
        List<Material> materials = new ArrayList<>(CLEAN.materials());
        materials.add(new Material("spare", new float[] {0, 1, 0, 1}, -1, false, Passthrough.NONE));
        plant("unused", "*", CLEAN.withMaterials(materials));
        List<Mesh> meshes = new ArrayList<>(CLEAN.meshes());
        meshes.add(primitives(meshes.get(1).withName("spare"), p -> {
            return p.withShape(larger(p.positions().clone()), p.normals(), p.tangents(), p.targets());
        }));
        plant("unused", "*", CLEAN.withMeshes(meshes));
        materials.set(
                materials.size() - 1, new Material("spare", new float[] {1, 1, 1, 1}, 1, false, Passthrough.NONE));
        plant("duplicates", "*", CLEAN.withMaterials(materials), "unused");
        List<Mesh> twice = new ArrayList<>(CLEAN.meshes());
        twice.add(twice.get(1).withName("copy"));
        List<Node> nodes = new ArrayList<>(CLEAN.nodes());
        nodes.add(Node.group("copy", Local.at(1, 0, 0)).withMesh(MESHES, -1));
        plant("duplicates", "*", CLEAN.withMeshes(twice).withNodes(nodes));
        plant(
                "materials-allowed",
                "crate",
                CLEAN,
                rules(List.of(), List.of(), Optional.of("figure"), Optional.empty(), List.of()));
        plant(
                "extensions-allowed",
                "KHR_materials_sheen",
                crateShows(List.of(
                        new TextureUse(TextureUse.BASE_COLOUR, 1, Passthrough.NONE),
                        new TextureUse("extensions/KHR_materials_sheen/sheenColorTexture", 1, Passthrough.NONE))),
                rules(List.of(), List.of(), Optional.empty(), Optional.of(List.of()), List.of()));
    }

    private void budgets() {
        plant("triangle-budget", "*", CLEAN, TARGET.with(Budget.TRIANGLES, 3));
        plant("triangle-budget", "figure", CLEAN, TARGET.with(Budget.PART_TRIANGLES, 3));
        plant("vertex-budget", "*", CLEAN, TARGET.with(Budget.VERTICES, 3));
        plant("material-budget", "*", CLEAN, TARGET.with(Budget.MATERIALS, 1));
        plant("texture-budget", "*", CLEAN, TARGET.with(Budget.TEXTURES, 1));
        plant("joint-budget", "*", CLEAN, TARGET.with(Budget.JOINTS, 3));
    }

    private void names() {
        plant("names-illegal", "*", node(CLEAN, "joint_2", n -> n.withName("knee left")));
        plant("names-illegal", "*", node(CLEAN, "joint_2", n -> n.withName("kn\u00e4")));
        plant("names-illegal", "*", node(CLEAN, "joint_2", n -> n.withName("k".repeat(64))));
        plant("names-illegal", "*", clip("linear", c -> c.withName("walk/run")));
        plant("names-differ", "*", node(CLEAN, "crate", n -> n.withName("box")));
        collision();
        caches();
        plant("names-asked", "*", CLEAN, named(Rules.Kind.NODE, "x_*"));
        plant("names-asked", "*", CLEAN, named(Rules.Kind.JOINT, "joint_1"));
        plant("names-asked", "*", CLEAN, named(Rules.Kind.MESH, "crate"));
        plant("names-asked", "*", CLEAN, named(Rules.Kind.MATERIAL, "?"));
        plant("names-asked", "*", CLEAN, named(Rules.Kind.CLIP, "linear"));
        List<Mesh> meshes = new ArrayList<>(CLEAN.meshes());
        List<Node> nodes = new ArrayList<>(CLEAN.nodes());
        meshes.add(primitives(meshes.get(1).withName("crate_LOD1"), p -> {
            return p.withShape(larger(p.positions().clone()), p.normals(), p.tangents(), p.targets());
        }));
        nodes.add(Node.group("crate_LOD1", Local.IDENTITY).withMesh(MESHES, -1));
        plant("lods-together", "crate", CLEAN.withMeshes(meshes).withNodes(nodes));
    }

    @Test
    public void whereNothingIsWrongNothingIsFound() {
        assertThat(Checks.run(CLEAN, TARGET, Work.QUIET)).isEmpty();
    }

    @Test(dataProvider = "faults")
    public void eachFaultIsFoundWhereItIs(
            String check, String subject, Asset faulty, Target target, Set<String> following) {
        List<Finding> all = Checks.run(faulty, target, Work.QUIET);
        String found = all.stream()
                .map(f -> f.check() + " " + f.subject() + ": " + f.message())
                .collect(Collectors.joining("\n"));
        assertThat(all)
                .as(found)
                .anyMatch(f -> f.check().equals(check)
                        && (subject.equals("*") || f.subject().equals(subject)));
        Set<String> others = all.stream().map(Finding::check).collect(Collectors.toCollection(TreeSet::new));
        others.remove(check);
        others.removeAll(following);
        assertThat(others).as(found).isEmpty();
    }

    @Test
    public void thereAreManyAndNearlyEveryCheckIsTried() {
        Set<String> tried = Arrays.stream(faults()).map(f -> (String) f[0]).collect(Collectors.toSet());
        Set<String> left = Checks.ALL.stream()
                .map(Check::id)
                .filter(id -> !tried.contains(id))
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(table).hasSizeGreaterThan(75);
        assertThat(left)
                .as(
                        "planted by BodyTest, RolesTest, LeaksTest, RetargetTest, ChecksTest, PokeThroughTest, OneSkeletonTest, WornChecksTest")
                .containsExactly(
                        "binds-differ",
                        "cache-through",
                        "clip-size",
                        "hard-bends",
                        "island",
                        "leak",
                        "other-proportions",
                        "poke-through",
                        "regions",
                        "roles",
                        "skeleton-apart",
                        "skeleton-twice",
                        "unseen");
    }
}
