package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.TwinSkeletons;
import org.cleanmarrow.steps.skeleton.OneSkeleton;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** A figure, and a coat of the same triangles on a copy of its skeleton. */
public class OneSkeletonTest {
    private static Sampler turned(float... turns) {
        return new Sampler(Sampler.Interpolation.LINEAR, new float[] {0, 1}, turns, 4, Storage.FLOAT);
    }

    /**
     * @param suffix what the copy's joints are called besides
     * @param moved  how far the copy's sixth joint rests elsewhere, in metres
     * @param tail   whether the coat has a joint of its own, below the copy's first, that a clip turns
     */
    private static Asset dressed(String prefix, String suffix, float moved, boolean tail) {
        Asset figure = StickFigure.of(1.8);
        int count = figure.nodes().size();
        Skin skin = figure.skins().getFirst();
        List<Node> nodes = new ArrayList<>(figure.nodes());
        for (int n = 0; n < count; n++) {
            Node node = figure.nodes().get(n);
            int[] children = Arrays.stream(node.children()).map(c -> c + count).toArray();
            Node copy = new Node(
                    node.mesh() >= 0 ? "coat" : prefix + node.name() + suffix,
                    n == 5
                            ? Local.at(
                                    node.local().translation()[0] + moved,
                                    node.local().translation()[1],
                                    0)
                            : node.local(),
                    children,
                    node.mesh() >= 0 ? 1 : -1,
                    node.mesh() >= 0 ? 1 : -1,
                    -1,
                    null,
                    true,
                    Passthrough.NONE);
            nodes.add(copy);
        }
        int[] joints = Arrays.stream(skin.joints()).map(j -> j + count).toArray();
        if (tail) {
            int first = joints[0];
            int[] below =
                    Arrays.copyOf(nodes.get(first).children(), nodes.get(first).children().length + 1);
            below[below.length - 1] = nodes.size();
            nodes.set(first, nodes.get(first).withChildren(below));
            nodes.add(Node.group("coat_tail", Local.at(0, -0.2, -0.1)));
            joints = Arrays.copyOf(joints, joints.length + 1);
            joints[joints.length - 1] = nodes.size() - 1;
        }
        Asset both = figure.withNodes(nodes)
                .withMeshes(List.of(
                        figure.meshes().getFirst(), figure.meshes().getFirst().withName("coat")))
                .withSkins(List.of(skin, skin))
                .withScenes(List.of(new Scene("", tops(nodes), Passthrough.NONE)));
        Skin copied = bound(joints, new Rig(both).rest().world());
        List<Channel> channels = new ArrayList<>();
        channels.add(new Channel(
                skin.joints()[0], Channel.Path.ROTATION, turned(0, 0, 0, 1, 0.6f, 0, 0, 0.8f), "", Passthrough.NONE));
        channels.add(new Channel(
                skin.joints()[5], Channel.Path.ROTATION, turned(0, 0, 0, 1, 0, 0.6f, 0, 0.8f), "", Passthrough.NONE));
        // The copy's own keys say something else, and count for nothing.
        channels.add(
                new Channel(joints[1], Channel.Path.ROTATION, turned(0, 0, 0, 1, 0, 0, 1, 0), "", Passthrough.NONE));
        if (tail) {
            channels.add(new Channel(
                    joints[joints.length - 1],
                    Channel.Path.ROTATION,
                    turned(0, 0, 0, 1, 0, 0, 0.6f, 0.8f),
                    "",
                    Passthrough.NONE));
        }
        return both.withSkins(List.of(skin, copied))
                .withClips(List.of(new Clip("bow", channels, 24, false, true, List.of(), Passthrough.NONE)));
    }

    private static int[] tops(List<Node> nodes) {
        boolean[] below = new boolean[nodes.size()];
        nodes.forEach(n -> Arrays.stream(n.children()).forEach(c -> below[c] = true));
        return IntStream.range(0, below.length).filter(n -> !below[n]).toArray();
    }

    private static float[] standing(Asset asset, String mesh, double seconds) {
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        int number = asset.findMesh(mesh);
        return deformer.positions(
                deformer.places().stream()
                        .filter(p -> p.mesh() == number)
                        .findFirst()
                        .orElseThrow(),
                seconds < 0 ? rig.rest() : rig.at(asset.clips().getFirst(), seconds));
    }

    private static String body(Asset asset) {
        return asset.meshes().stream()
                .map(Mesh::name)
                .filter(n -> !n.equals("coat"))
                .findFirst()
                .orElseThrow();
    }

    @DataProvider
    public Object[][] copies() {
        return new Object[][] {{"", ".001"}, {"coat:", ""}, {"", ""}};
    }

    @Test(dataProvider = "copies")
    public void whatHungOnACopyFollowsTheBody(String prefix, String suffix) throws Refused {
        Asset asset = dressed(prefix, suffix, 0, false);
        List<Finding> found = Checks.run(asset, Target.of(asset.conventions()), Work.QUIET).stream()
                .filter(f -> f.check().equals("skeleton-twice"))
                .toList();
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().message().toString()).contains("coat", "19 of its 19 joints");
        Change change = new OneSkeleton().apply(asset, Work.QUIET);
        assertThat(change.notes()).isEmpty();
        Asset one = change.asset();
        assertThat(one.nodes()).hasSize(asset.nodes().size() - 19);
        assertThat(standing(one, "coat", -1)).isEqualTo(standing(asset, "coat", -1));
        for (double t = 0; t <= 1; t += 0.25) {
            assertThat(standing(one, "coat", t)).isEqualTo(standing(one, body(one), t));
            assertThat(standing(one, body(one), t)).isEqualTo(standing(asset, body(asset), t));
        }
        assertThat(Checks.run(one, Target.of(one.conventions()), Work.QUIET))
                .noneMatch(f -> f.check().equals("skeleton-twice"));
        assertThatThrownBy(() -> new OneSkeleton().apply(one, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("copy of another");
    }

    /** A joint that only the coat has goes with the body, turns as it was keyed, and nothing moves at rest. */
    @Test
    public void whatTheCopyHasBesidesComesAlong() throws Refused {
        Asset asset = dressed("", ".001", 0.05f, true);
        Change change = new OneSkeleton().apply(asset, Work.QUIET);
        assertThat(change.notes()).hasSize(1);
        assertThat(change.notes().getFirst().toString()).contains("5 cm");
        Asset one = change.asset();
        int tail = one.findNode("coat_tail");
        assertThat(one.nodes().get(one.parents()[tail]).name()).isEqualTo("a");
        assertThat(one.clips().getFirst().channels()).hasSize(3);
        float[] was = standing(asset, "coat", -1);
        float[] is = standing(one, "coat", -1);
        for (int i = 0; i < was.length; i++) {
            assertThat(is[i]).isCloseTo(was[i], within(1e-6f));
        }
    }

    /** Tails on a skeleton of their own, of the coat's names but for the hips: what the coat's joints become is theirs too. */
    @Test
    public void aCopyOfACopyGoesOntoTheFirst() throws Refused {
        Asset coat = dressed("", ".001", 0, true);
        List<Node> nodes = new ArrayList<>(coat.nodes());
        List<Skin> skins = new ArrayList<>(coat.skins());
        // Two more joints that the coat alone has.
        int tail = coat.findNode("coat_tail");
        nodes.set(tail, nodes.get(tail).withChildren(nodes.size()));
        nodes.add(Node.group("coat_tail_2", Local.at(0, -0.2, 0), nodes.size() + 1));
        nodes.add(Node.group("coat_tail_3", Local.at(0, -0.2, 0)));
        int[] ofCoat = Arrays.copyOf(skins.get(1).joints(), skins.get(1).joints().length + 2);
        ofCoat[ofCoat.length - 2] = nodes.size() - 2;
        ofCoat[ofCoat.length - 1] = nodes.size() - 1;
        int first = nodes.size();
        float[] hips = nodes.get(coat.findNode("a")).local().translation();
        nodes.add(Node.group("a.002", Local.at(hips[0], hips[1], hips[2]), first + 1));
        nodes.add(Node.group("coat_tail.002", Local.at(0, -0.2, -0.1), first + 2));
        nodes.add(Node.group("coat_tail_2.002", Local.at(0, -0.2, 0), first + 3));
        nodes.add(Node.group("coat_tail_3.002", Local.at(0, -0.2, 0)));
        nodes.add(Node.group("tails", Local.IDENTITY).withMesh(2, 2));
        List<Mesh> meshes = new ArrayList<>(coat.meshes());
        Influences.Builder rows = new Influences.Builder(3);
        for (int v = 0; v < 3; v++) {
            rows.add(v == 0 ? 0 : 3, 1);
            rows.endRow();
        }
        float[] p = {0, 0.9f, 0, 0.1f, 0.3f, -0.1f, 0, 0.3f, -0.1f};
        meshes.add(Mesh.of(
                "tails", Primitive.triangles(new int[] {0, 1, 2}, p, null, -1).withInfluences(rows.build())));
        Asset all = coat.withMeshes(meshes)
                .withNodes(nodes)
                .withScenes(List.of(new Scene("", tops(nodes), Passthrough.NONE)));
        Matrix4d[] world = new Rig(all).rest().world();
        skins.set(1, bound(ofCoat, world));
        skins.add(bound(new int[] {first, first + 1, first + 2, first + 3}, world));
        Asset asset = all.withSkins(skins);
        assertThat(TwinSkeletons.of(asset)).hasSize(2);
        Asset one = new OneSkeleton().apply(asset, Work.QUIET).asset();
        assertThat(one.nodes().stream().map(Node::name)).doesNotContain("a.001", "a.002", "coat_tail.002");
        assertThat(one.nodes()
                        .get(one.skins()
                                .get(one.skinOfMesh(one.findMesh("tails")))
                                .joints()[0])
                        .name())
                .isEqualTo("a");
        for (double t = -1; t <= 1; t += 0.5) {
            // The first corner follows the body's hips, as at rest.
            Matrix4d hipsNow = t < 0
                    ? new Rig(one).rest().world()[one.findNode("a")]
                    : new Rig(one).at(one.clips().getFirst(), t).world()[one.findNode("a")];
            Vector3d there = hipsNow.mul(world[all.findNode("a")].invert(new Matrix4d()), new Matrix4d())
                    .transformPosition(new Vector3d(0, 0.9, 0));
            float[] at = standing(one, "tails", t);
            assertThat(there.distance(at[0], at[1], at[2])).isLessThan(1e-5);
        }
    }

    private static Skin bound(int[] joints, Matrix4d[] world) {
        Matrix4d[] binds = new Matrix4d[joints.length];
        for (int j = 0; j < joints.length; j++) {
            binds[j] = world[joints[j]].invert(new Matrix4d());
        }
        return new Skin("", joints, Skin.pack(binds), -1, Passthrough.NONE);
    }

    /** Of other names, or of the same rig and a step beside it: two people. */
    @Test
    public void skeletonsOfOtherNamesOrPlacesAreTheirOwn() {
        Asset other = dressed("coat_", "", 0, false);
        Asset same = dressed("", ".001", 0, false);
        List<Node> nodes = new ArrayList<>(same.nodes());
        int top = same.findNode("a.001");
        float[] at = nodes.get(top).local().translation();
        nodes.set(top, nodes.get(top).withLocal(Local.at(at[0] + 1, at[1], at[2])));
        for (Asset asset : List.of(other, same.withNodes(nodes))) {
            assertThatThrownBy(() -> new OneSkeleton().apply(asset, Work.QUIET)).isInstanceOf(Refused.class);
            assertThat(Checks.run(asset, Target.of(asset.conventions()), Work.QUIET))
                    .noneMatch(f -> f.check().equals("skeleton-twice"));
        }
    }
}
