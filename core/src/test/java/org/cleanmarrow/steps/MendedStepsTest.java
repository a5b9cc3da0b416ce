package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.RestAndBind;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.QuantiseWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.weights.InfluenceChoice;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Steps on assets that others make: keys on every node, transforms above the skeleton, rows of every length. */
public class MendedStepsTest {
    @DataProvider
    public Object[][] seeds() {
        return IntStream.range(0, 24).mapToObj(i -> new Object[] {(long) i}).toArray(Object[][]::new);
    }

    /** As most exporters write it: three channels on every node, most of which never leave rest. */
    private static Asset keyed(Asset asset) {
        return asset.mapClips(clip -> {
            List<Channel> channels = new ArrayList<>(clip.channels());
            for (int n = 0; n < asset.nodes().size(); n++) {
                Local local = asset.nodes().get(n).local();
                for (Channel.Path path : List.of(Channel.Path.TRANSLATION, Channel.Path.ROTATION, Channel.Path.SCALE)) {
                    int node = n;
                    if (channels.stream().noneMatch(c -> c.node() == node && c.path() == path)) {
                        float[] rest = path == Channel.Path.TRANSLATION
                                ? local.translation()
                                : path == Channel.Path.ROTATION ? local.rotation() : local.scale();
                        channels.add(held(n, path, rest));
                    }
                }
            }
            return clip.withChannels(channels);
        });
    }

    private static Channel held(int node, Channel.Path path, float[] value) {
        float[] twice = java.util.Arrays.copyOf(value, value.length * 2);
        System.arraycopy(value, 0, twice, value.length, value.length);
        return new Channel(
                node,
                path,
                new Sampler(Sampler.Interpolation.LINEAR, new float[] {0.1f, 0.4f}, twice, value.length, Storage.FLOAT),
                "",
                Passthrough.NONE);
    }

    private static double still(Asset a, Asset b) {
        Motion motion = MotionProbe.compare(a, b, Work.QUIET);
        assertThat(motion.sameTopology()).as(motion.topology().toString()).isTrue();
        return motion.largestMetres() / Math.max(1, motion.toleranceMetres() / 1e-6);
    }

    @Test(dataProvider = "seeds")
    public void freezingFoldsNodesThatOnlyHoldTheirRest(long seed) throws Refused {
        Asset asset = keyed(RandomAssets.of(seed));
        Asset frozen = new FreezeNodes().apply(asset, Work.QUIET).asset();
        assertThat(still(asset, frozen)).isLessThan(1e-5);
        boolean[] joint = frozen.jointFlags();
        for (int n = 0; n < joint.length; n++) {
            Local local = frozen.nodes().get(n).local();
            assertThat(local.scale()).as(frozen.nodes().get(n).name()).containsExactly(1, 1, 1);
            assertThat(joint[n] || Math.abs(local.rotation()[3]) == 1).isTrue();
        }
        Target target = Target.named("y-up-m-rh").orElseThrow();
        assertThat(Checks.run(frozen, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("node-transform"));
    }

    /** A scale that moves evenly is folded and goes on from one; one that moves unevenly keeps the node's turn. */
    @Test
    public void movingScaleIsFoldedWhereThatIsExact() throws Refused {
        for (boolean even : new boolean[] {true, false}) {
            Asset asset = RandomAssets.of(3);
            int node = asset.findNode("still");
            List<Node> nodes = new ArrayList<>(asset.nodes());
            nodes.set(
                    node,
                    nodes.get(node)
                            .withLocal(Local.of(
                                    new Vector3d(1, 2, 3),
                                    new Quaterniond().rotateXYZ(0.4, 1.1, -0.3),
                                    new Vector3d(2))));
            float[] keys = even ? new float[] {2, 2, 2, 5, 5, 5} : new float[] {2, 2, 2, 5, 3, 1};
            Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, new float[] {0, 1}, keys, 3, Storage.FLOAT);
            Asset moving = asset.withNodes(nodes).mapClips(clip -> {
                List<Channel> channels = new ArrayList<>(clip.channels());
                channels.add(new Channel(node, Channel.Path.SCALE, sampler, "", Passthrough.NONE));
                return clip.withChannels(channels);
            });
            Asset frozen = new FreezeNodes().apply(moving, Work.QUIET).asset();
            assertThat(still(moving, frozen)).isLessThan(1e-5);
            Local now = frozen.nodes().get(node).local();
            assertThat(now.scale()).containsExactly(1, 1, 1);
            assertThat(Math.abs(now.rotation()[3]) > 0.9999f).isEqualTo(even);
        }
    }

    @Test(dataProvider = "seeds")
    public void restFromBindKeepsWhatStandsAboveTheSkeleton(long seed) throws Refused {
        Asset asset = RandomAssets.of(seed);
        // Bound under a group that turns and scales: nothing to be done, and nothing is.
        assertThat(RestAndBind.of(asset)).isEmpty();
        Asset rested =
                new RestFrom(Optional.empty(), 0).apply(asset, Work.QUIET).asset();
        assertThat(rested.nodes()).isEqualTo(asset.nodes());
        // Bound in the group's own space, as exporters do, and then one joint turned: that one comes back.
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d group = world[0];
        Skin skin = asset.skins().getFirst();
        Matrix4d[] binds = new Matrix4d[skin.joints().length];
        for (int j = 0; j < binds.length; j++) {
            binds[j] = new Matrix4d(world[skin.joints()[j]]).invert().mul(group);
        }
        Asset bound = asset.withSkins(List.of(skin.with(skin.joints(), Skin.pack(binds), -1)));
        int last = skin.joints()[skin.joints().length - 1];
        List<Node> nodes = new ArrayList<>(bound.nodes());
        Local was = nodes.get(last).local();
        nodes.set(
                last,
                nodes.get(last)
                        .withLocal(Local.of(
                                was.translationVector(),
                                was.rotationQuaternion().rotateY(1),
                                was.scaleVector())));
        Asset back = new RestFrom(Optional.empty(), 0)
                .apply(bound.withNodes(nodes), Work.QUIET)
                .asset();
        Matrix4d[] is = new Rig(back).rest().world();
        for (int n = 0; n < is.length; n++) {
            assertThat(is[n].equals(
                            world[n],
                            1e-4 * (1 + world[n].getTranslation(new Vector3d()).length())))
                    .as(asset.nodes().get(n).name())
                    .isTrue();
        }
    }

    /** Joints that a clip only holds at rest once lost all their channels with their old axes. */
    @Test
    public void turningAxesLeavesEveryClipAsLongAsItWas() throws Refused {
        Asset asset = keyed(RandomAssets.of(4)).withName("held");
        Asset holding = asset.mapClips(c -> c.withChannels(c.channels().stream()
                .filter(x -> x.sampler().times().length == 2 && x.path() == Channel.Path.ROTATION)
                .filter(x -> asset.jointFlags()[x.node()])
                .toList()));
        Asset turned = new OrientJoints("*", OrientJoints.Along.Y)
                .apply(holding, Work.QUIET)
                .asset();
        for (int c = 0; c < holding.clips().size(); c++) {
            assertThat(turned.clips().get(c).channels()).isNotEmpty();
            assertThat(turned.clips().get(c).start())
                    .isEqualTo(holding.clips().get(c).start());
            assertThat(turned.clips().get(c).end())
                    .isEqualTo(holding.clips().get(c).end());
        }
        assertThat(still(holding, turned)).isLessThan(1e-5);
    }

    @Test
    public void leavingBehindWorksBeyondSixtyFourNodesAndTakesEmptiedClipsAlong() {
        for (int joints : new int[] {20, 61, 62, 63, 64, 130}) {
            Asset asset = RandomAssets.of(5, joints, 12);
            int crate = asset.findNode("crate");
            List<Node> nodes = new ArrayList<>(asset.nodes());
            nodes.set(crate, nodes.get(crate).withShips(false));
            List<Clip> clips = new ArrayList<>(asset.clips());
            clips.add(new Clip(
                    "crate alone",
                    List.of(held(crate, Channel.Path.TRANSLATION, new float[] {0, 0, 0})),
                    24,
                    false,
                    true,
                    Passthrough.NONE));
            Asset ships = Shipping.of(asset.withNodes(nodes).withClips(clips));
            assertThat(ships.nodes()).hasSize(asset.nodes().size() - 1);
            assertThat(ships.clips()).extracting(Clip::name).containsExactly("step", "linear", "cubic");
        }
    }

    /** glTF 2.0, 3.7.3.3 allows 2e-7 a weight; a reader that adds in float32 must find no more. */
    @Test
    public void normalisedRowsSumToOneInFloatAndInDouble() throws Refused {
        Random random = new Random(7);
        for (int round = 0; round < 40; round++) {
            int many = 1 + random.nextInt(12);
            Influences.Builder rows = new Influences.Builder(500);
            for (int v = 0; v < 500; v++) {
                double left = 1;
                for (int i = 0; i < many; i++) {
                    double w = i == many - 1 ? left : left * random.nextDouble();
                    left -= w;
                    // Off by a few units in the last place, as sums of products are.
                    rows.add(i, (float) (w * (1 + 4e-7 * (random.nextDouble() - 0.5) * many)));
                }
                rows.endRow();
            }
            Asset done = new NormaliseWeights("")
                    .apply(skinned(rows.build(), many), Work.QUIET)
                    .asset();
            Influences now = done.meshes().getFirst().primitives().getFirst().influences();
            for (int v = 0; v < 500; v++) {
                float single = 0;
                int count = 0;
                for (int i = now.offsets()[v]; i < now.offsets()[v + 1]; i++) {
                    single += now.weights()[i];
                    count++;
                }
                assertThat((double) single).isCloseTo(1, within(2e-7 * count));
                assertThat(now.sum(v)).isCloseTo(1, within(2e-7 * count));
            }
            assertThat(Checks.run(done, Target.named("y-up-m-rh").orElseThrow(), Work.QUIET))
                    .noneMatch(f -> f.check().equals("weight-sums"));
        }
    }

    private static Asset skinned(Influences rows, int joints) {
        int count = rows.vertexCount();
        float[] p = new float[count * 3];
        int[] corners = new int[(count - 2) * 3];
        for (int v = 0; v < count; v++) {
            p[v * 3] = v % 20;
            p[v * 3 + 1] = v / 20;
            p[v * 3 + 2] = (v * 7 % 5) * 0.1f;
        }
        for (int t = 0; t < count - 2; t++) {
            corners[t * 3] = t;
            corners[t * 3 + 1] = t + 1;
            corners[t * 3 + 2] = t + 2;
        }
        List<Node> nodes = new ArrayList<>();
        int[] list = new int[joints];
        for (int j = 0; j < joints; j++) {
            list[j] = j;
            nodes.add(Node.group("j" + j, Local.at(j, 0, 0)));
        }
        nodes.add(Node.group("sheet", Local.IDENTITY).withMesh(0, 0));
        Mesh mesh = Mesh.of("sheet", Primitive.triangles(corners, p, null, -1).withInfluences(rows));
        Asset bare = Asset.of(
                "sheet",
                Conventions.GLTF,
                nodes,
                List.of(mesh),
                List.of(new Skin("sheet", list, null, -1, Passthrough.NONE)),
                List.of());
        Matrix4d[] world = new Rig(bare).rest().world();
        Matrix4d[] binds = new Matrix4d[joints];
        for (int j = 0; j < joints; j++) {
            binds[j] = new Matrix4d(world[j]).invert();
        }
        return bare.withSkins(List.of(bare.skins().getFirst().with(list, Skin.pack(binds), -1)));
    }

    private static Influences spread(int vertices, int joints, int each, long seed) {
        Random random = new Random(seed);
        Influences.Builder rows = new Influences.Builder(vertices);
        Row row = new Row();
        for (int v = 0; v < vertices; v++) {
            row.clear();
            while (row.size() < each) {
                row.add(random.nextInt(joints), random.nextDouble());
            }
            row.normalise();
            row.to(rows);
        }
        return rows.build();
    }

    @Test
    public void smoothingKeepsToALimitOfInfluences() throws Refused {
        Asset asset = skinned(spread(200, 12, 3, 1), 12);
        for (int most : new int[] {0, 2, 6}) {
            for (String locked : new String[] {"", "j1"}) {
                Asset smooth = new SmoothWeights("sheet", VertexSet.ALL, 0.8, 8, locked, most)
                        .apply(asset, Work.QUIET)
                        .asset();
                Influences rows =
                        smooth.meshes().getFirst().primitives().getFirst().influences();
                Influences before =
                        asset.meshes().getFirst().primitives().getFirst().influences();
                assertThat(rows.longestRow()).isEqualTo(most == 0 ? 4 : most);
                for (int v = 0; v < 200; v++) {
                    assertThat(rows.sum(v)).isCloseTo(1, within(1e-6));
                    assertThat(locked.isEmpty() || rows.weight(v, 1) == before.weight(v, 1))
                            .isTrue();
                }
            }
        }
    }

    /** Two of five by effect, against every pair tried here with a search of its own over the one free share. */
    @Test
    public void fewOfFewAreTheBestOfAllSubsets() {
        Asset asset = skinned(spread(60, 5, 5, 3), 5).withClips(swinging(5));
        InfluenceChoice choice = new InfluenceChoice(asset, 0);
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        Row full = new Row();
        for (int v = 0; v < 60; v++) {
            float[] at = java.util.Arrays.copyOfRange(p.positions(), v * 3, v * 3 + 3);
            full.clear();
            full.load(p.influences(), v);
            Row cut = new Row();
            cut.add(full, 1);
            choice.cut(cut, at[0], at[1], at[2], 2);
            double found = choice.distance(full, cut, at[0], at[1], at[2]);
            double best = Double.POSITIVE_INFINITY;
            for (int a = 0; a < 5; a++) {
                for (int b = 0; b < a; b++) {
                    for (int share = 0; share <= 400; share++) {
                        Row pair = new Row();
                        pair.append(a, share / 400.0);
                        pair.append(b, 1 - share / 400.0);
                        best = Math.min(best, choice.distance(full, pair, at[0], at[1], at[2]));
                    }
                }
            }
            assertThat(found).as("vertex " + v).isLessThanOrEqualTo(best * 1.0001 + 1e-6);
        }
    }

    private static List<Clip> swinging(int joints) {
        Random random = new Random(5);
        List<Channel> channels = new ArrayList<>();
        for (int j = 0; j < joints; j++) {
            float[] values = new float[16];
            for (int k = 0; k < 4; k++) {
                Quaterniond q = new Quaterniond().rotateXYZ(random.nextGaussian(), random.nextGaussian(), 0);
                values[k * 4] = (float) q.x;
                values[k * 4 + 1] = (float) q.y;
                values[k * 4 + 2] = (float) q.z;
                values[k * 4 + 3] = (float) q.w;
            }
            Sampler sampler =
                    new Sampler(Sampler.Interpolation.LINEAR, new float[] {0, 0.5f, 1, 1.5f}, values, 4, Storage.FLOAT);
            channels.add(new Channel(j, Channel.Path.ROTATION, sampler, "", Passthrough.NONE));
        }
        return List.of(new Clip("swing", channels, 30, false, true, Passthrough.NONE));
    }

    @Test
    public void quantisedWeightsAreStoredAsWholeNumbers() throws Refused {
        for (int bits : new int[] {8, 16}) {
            Asset done = new QuantiseWeights("", bits)
                    .apply(RandomAssets.of(3), Work.QUIET)
                    .asset();
            Primitive p = done.meshes().getFirst().primitives().getFirst();
            assertThat(p.layout().weights())
                    .isEqualTo(bits == 8 ? Storage.UNSIGNED_BYTE_NORMALISED : Storage.UNSIGNED_SHORT_NORMALISED);
            // Once more there is nothing to do.
            assertThat(new QuantiseWeights("", bits).apply(done, Work.QUIET).asset())
                    .isSameAs(done);
        }
    }

    /** Normals of a morphed surface under an uneven scale, against the inverse transpose of the scale (in double). */
    @Test
    public void morphNormalsStandUprightAfterAnUnevenFreeze() throws Refused {
        Random random = new Random(2);
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        float[] n = new float[9];
        float[] dn = new float[9];
        for (int v = 0; v < 3; v++) {
            Vector3d base =
                    new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
            n[v * 3] = (float) base.x;
            n[v * 3 + 1] = (float) base.y;
            n[v * 3 + 2] = (float) base.z;
            for (int i = 0; i < 3; i++) {
                dn[v * 3 + i] = (float) random.nextGaussian() * 0.5f;
            }
        }
        Primitive primitive = Primitive.triangles(new int[] {0, 1, 2}, p, n, -1)
                .withShape(p, n, null, List.of(new MorphTarget(new float[9], dn, null, List.of())));
        Matrix4d scale = new Matrix4d().rotateY(0.5).scale(0.5, 2, 1.3);
        Asset asset = Asset.of(
                "sail",
                Conventions.GLTF,
                List.of(Node.group(
                                "sail",
                                Local.of(new Vector3d(), new Quaterniond().rotateY(0.5), new Vector3d(0.5, 2, 1.3)))
                        .withMesh(0, -1)),
                List.of(new Mesh("sail", List.of(primitive), new float[] {0.3f}, List.of("full"), Passthrough.NONE)),
                List.of(),
                List.of());
        Asset frozen = new FreezeNodes().apply(asset, Work.QUIET).asset();
        Deformer deformer = new Deformer(frozen);
        var rest = new Rig(frozen).rest();
        float[] normals = new float[9];
        deformer.deform(deformer.places().getFirst(), rest, rest.world(), new Matrix4d(), new float[9], normals, false);
        Matrix4d upright = scale.invert(new Matrix4d()).transpose();
        for (int v = 0; v < 3; v++) {
            Vector3d wanted = new Vector3d(
                    n[v * 3] + 0.3 * dn[v * 3], n[v * 3 + 1] + 0.3 * dn[v * 3 + 1], n[v * 3 + 2] + 0.3 * dn[v * 3 + 2]);
            upright.transformDirection(wanted);
            Vector3d is = new Vector3d(normals[v * 3], normals[v * 3 + 1], normals[v * 3 + 2]);
            assertThat(Math.toDegrees(is.angle(wanted))).as("normal " + v).isLessThan(0.01);
        }
    }
}
