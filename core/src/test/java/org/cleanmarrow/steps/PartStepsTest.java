package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.steps.intake.Combine;
import org.cleanmarrow.steps.intake.LegalNames;
import org.cleanmarrow.steps.intake.LodDistances;
import org.cleanmarrow.steps.intake.MarkForExport;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.steps.intake.PaletteTexture;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.intake.RenamePattern;
import org.cleanmarrow.steps.intake.ReplacePrefix;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.steps.intake.SweepLods;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.DropToGround;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.steps.scale.SetPivot;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** The steps of Intake and of Scale and Axes: what must not move does not, by the probe, and what must does. */
public class PartStepsTest {
    private static Change done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET);
    }

    private static double moved(Asset a, Asset b) {
        return MotionProbe.compare(a, b, Work.QUIET).largestMetres();
    }

    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    /** A rigid part that turns: an uneven scale of its own, mirrored or not, a child below it. */
    private static Asset turning(boolean mirrored) {
        Primitive box = RandomAssets.of(2).meshes().get(1).primitives().getFirst();
        Quaterniond lean = new Quaterniond().rotationXYZ(0.3, -0.8, 0.2);
        List<Node> nodes = List.of(
                Node.group("ground", Local.of(new Vector3d(1, 2, 3), lean, new Vector3d(2)), 1),
                Node.group(
                                "leaf",
                                Local.of(
                                        new Vector3d(0.4, 0, 1),
                                        new Quaterniond().rotationY(0.5),
                                        new Vector3d(mirrored ? -1 : 1, 3, 0.5)),
                                2)
                        .withMesh(0, -1),
                Node.group("knob", Local.at(0.2, 0.1, 0)).withMesh(1, -1));
        Asset still = Asset.of(
                "bridge",
                Conventions.GLTF,
                nodes,
                List.of(Mesh.of("leaf", box), Mesh.of("knob", box)),
                List.of(),
                List.of());
        float[] times = {0, 0.5f, 1.5f};
        float[] turns = new float[12];
        for (int k = 0; k < 3; k++) {
            Quaterniond q = new Quaterniond().rotationY(0.5 + k * 0.6).rotateX(k * 0.3);
            turns[k * 4] = (float) q.x;
            turns[k * 4 + 1] = (float) q.y;
            turns[k * 4 + 2] = (float) q.z;
            turns[k * 4 + 3] = (float) q.w;
        }
        Sampler sampler = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
        Channel channel = new Channel(1, Channel.Path.ROTATION, sampler, "", Passthrough.NONE);
        return still.withClips(List.of(new Clip("open", List.of(channel), 24, false, true, Passthrough.NONE)));
    }

    /** All 48 axis systems, there and back, with a skin, morph targets and keys of every kind. */
    @Test
    public void everyAxisSystemThereAndBackMovesNothing() throws Refused {
        Asset asset = done(RandomAssets.of(11, 5, 12), new FreezeNodes()).asset();
        List<Conventions> systems = new ArrayList<>();
        for (Axis up : Axis.values()) {
            for (Axis forward : Axis.values()) {
                for (Handedness hand : Handedness.values()) {
                    if (up.dimension() != forward.dimension()) {
                        systems.add(new Conventions(systems.size() % 2 == 0 ? 0.01 : 0.0254, up, forward, hand));
                    }
                }
            }
        }
        assertThat(systems).hasSize(48);
        double most = 0;
        for (Conventions from : systems) {
            Asset first = done(asset, new Convert(from, false)).asset();
            // Every system against seven others, each of the 48 differences among them many times.
            for (int i = 0; i < systems.size(); i += 7) {
                Conventions to = systems.get((i + systems.indexOf(from)) % 48);
                Asset there = done(first, new Convert(to, false)).asset();
                assertThat(there.conventions()).isEqualTo(to);
                // The numbers themselves are in the other axes: the product of two stated matrices, and no more.
                Matrix4d way = Conversion.between(from, to).matrix();
                float[] was = first.meshes().getFirst().primitives().getFirst().positions();
                float[] is = there.meshes().getFirst().primitives().getFirst().positions();
                Vector3d wanted = way.transformPosition(new Vector3d(was[3], was[4], was[5]));
                assertThat(wanted.distance(is[3], is[4], is[5])).isLessThan(1e-6 * (1 + wanted.length()));
                assertThat(to.equals(from) || !Arrays.equals(was, is)).isTrue();
                Asset back = done(there, new Convert(from, false)).asset();
                assertThat(back.conventions()).isEqualTo(from);
                most = Math.max(most, moved(first, back) / size(first));
            }
        }
        assertThat(most).isLessThan(1e-6);
    }

    @DataProvider
    public Object[][] mirrored() {
        return new Object[][] {{false}, {true}};
    }

    @Test(dataProvider = "mirrored")
    public void unevenScaleOfATurningPartIsFolded(boolean mirrored) throws Refused {
        Asset asset = turning(mirrored);
        Asset frozen = done(asset, new FreezeNodes()).asset();
        assertThat(moved(asset, frozen)).isLessThan(2e-6 * size(asset));
        for (Node node : frozen.nodes()) {
            assertThat(node.local().scale()).containsExactly(1, 1, 1);
            assertThat(node.local().rotationQuaternion().angle()).isLessThan(1e-5);
        }
        // Winding stays right: a mirrored node turns it round (glTF 2.0, 3.7.4), so the data keep the sign of their
        // volume.
        assertThat(Math.signum(volume(frozen))).isEqualTo(Math.signum(volume(asset)));
    }

    private static double volume(Asset asset) {
        double sum = 0;
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        int[] c = p.triangleCorners();
        for (int t = 0; t < c.length; t += 3) {
            Vector3d[] v = new Vector3d[3];
            for (int i = 0; i < 3; i++) {
                v[i] = new Vector3d(
                        p.positions()[c[t + i] * 3], p.positions()[c[t + i] * 3 + 1], p.positions()[c[t + i] * 3 + 2]);
            }
            sum += v[0].dot(new Vector3d(v[1]).cross(v[2]));
        }
        return sum;
    }

    @Test(dataProvider = "mirrored")
    public void aPivotMovesWhileNothingElseDoes(boolean mirrored) throws Refused {
        Asset asset = turning(mirrored);
        for (Step step : List.of(
                new SetPivot("leaf", SetPivot.To.ORIGIN, "bottom", 0, 0, 0),
                new SetPivot("leaf", SetPivot.To.BOX, "bottom left", 0, 0, 0),
                new SetPivot("leaf", SetPivot.To.POINT, "bottom", 0.5, 1, -2),
                new SetPivot("knob", SetPivot.To.BOX, "top front", 0, 0, 0),
                new SetPivot("ground", SetPivot.To.ORIGIN, "bottom", 0, 0, 0))) {
            Asset out = done(asset, step).asset();
            assertThat(moved(asset, out)).as(step.toString()).isLessThan(1e-4 * size(asset));
        }
        Asset out = done(asset, new SetPivot("leaf", SetPivot.To.POINT, "bottom", 0.5, 1, -2))
                .asset();
        Vector3d at = new Rig(out).rest().world()[1].getTranslation(new Vector3d());
        assertThat(at.distance(new Vector3d(0.5, 1, -2))).isLessThan(1e-5);
        assertThatThrownBy(() -> done(asset, new SetPivot("leaf", SetPivot.To.BOX, "sideways", 0, 0, 0)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("sideways");
    }

    @Test
    public void thePivotOfAJointMovesWithoutItsSkin() throws Refused {
        for (int seed = 1; seed < 6; seed++) {
            Asset asset = RandomAssets.of(seed);
            Asset out = done(asset, new SetPivot("joint_1", SetPivot.To.POINT, "bottom", 0.1, 0.2, 0.3))
                    .asset();
            assertThat(moved(asset, out)).isLessThan(2e-5 * size(asset));
            Vector3d at = new Rig(out).rest().world()[out.findNode("joint_1")].getTranslation(new Vector3d());
            assertThat(at.distance(new Vector3d(0.1, 0.2, 0.3))).isLessThan(1e-4);
        }
    }

    @Test
    public void turningEverythingTurnsEveryFrameAndLeavesNoNodeHoldingIt() throws Refused {
        for (int seed = 1; seed < 8; seed++) {
            Asset asset = done(RandomAssets.of(seed), new FreezeNodes()).asset();
            Asset out = done(asset, new TurnAndFold(TurnAndFold.About.X, 90, Optional.empty()))
                    .asset();
            // A quarter turn about X is what brings Y-up to Z-up (PRODUCT: +90 degrees), so saying so undoes it.
            Matrix3d turn = new Matrix3d().rotationX(Math.PI / 2);
            Deformer was = new Deformer(asset);
            Deformer is = new Deformer(out);
            for (Clip clip : asset.clips()) {
                Clip same = out.clips().get(out.findClip(clip.name()));
                for (double t : new double[] {clip.start(), (clip.start() + clip.end()) / 2, clip.end()}) {
                    for (int p = 0; p < was.places().size(); p++) {
                        float[] a = was.positions(was.places().get(p), new Rig(asset).at(clip, t));
                        float[] b = is.positions(is.places().get(p), new Rig(out).at(same, t));
                        for (int v = 0; v < a.length; v += 3) {
                            Vector3d wanted = turn.transform(new Vector3d(a[v], a[v + 1], a[v + 2]));
                            assertThat(wanted.distance(b[v], b[v + 1], b[v + 2]))
                                    .isLessThan(1e-4 * size(asset));
                        }
                    }
                }
            }
            boolean[] joint = out.jointFlags();
            for (int n = 0; n < joint.length; n++) {
                if (!joint[n]
                        && out.nodes().get(n).mesh() >= 0
                        && out.nodes().get(n).skin() < 0) {
                    assertThat(out.nodes().get(n).local().rotationQuaternion().angle())
                            .isLessThan(1e-5);
                }
            }
        }
    }

    @Test
    public void onePartTurnsAboutItsPivotAndKeepsItsNumbers() throws Refused {
        Asset asset = turning(false);
        Asset out = done(asset, new TurnAndFold(TurnAndFold.About.Z, 40, Optional.of("knob")))
                .asset();
        assertThat(out.nodes().get(2).local()).isEqualTo(asset.nodes().get(2).local());
        Matrix4d world = new Rig(asset).rest().world()[2];
        Vector3d pivot = world.getTranslation(new Vector3d());
        MeshPlace place = new MeshPlace(2, 1, -1);
        float[] a = new Deformer(asset).positions(place, new Rig(asset).rest());
        float[] b = new Deformer(out).positions(place, new Rig(out).rest());
        for (int v = 0; v < a.length; v += 3) {
            Vector3d wanted = new Matrix3d()
                    .rotationZ(Math.toRadians(40))
                    .transform(new Vector3d(a[v], a[v + 1], a[v + 2]).sub(pivot))
                    .add(pivot);
            assertThat(wanted.distance(b[v], b[v + 1], b[v + 2])).isLessThan(1e-5);
        }
    }

    @Test
    public void theLowestVertexComesToTheGroundInEveryConvention() throws Refused {
        for (String code : List.of("y-up-m-rh", "z-up-cm-lh", "-z-up-m-rh")) {
            Asset asset = done(
                            done(RandomAssets.of(4), new FreezeNodes()).asset(),
                            new Convert(Conventions.parse(code).orElseThrow(), false))
                    .asset();
            Asset out = done(asset, new DropToGround(true, Optional.empty())).asset();
            Box box = RestBox.of(out);
            Axis up = asset.conventions().up();
            double low =
                    up.sign() > 0 ? box.min().get(up.dimension()) : -box.max().get(up.dimension());
            double diagonal = box.diagonal();
            assertThat(low).isCloseTo(0, within(1e-5 * diagonal));
            int other = (up.dimension() + 1) % 3;
            assertThat(box.centre().get(other)).isCloseTo(0, within(1e-5 * diagonal));
            // All of it went the same way, in every clip.
            Vector3d by = new Vector3d(box.centre()).sub(RestBox.of(asset).centre());
            Asset again = done(out, new DropToGround(true, Optional.empty())).asset();
            assertThat(moved(out, again)).isLessThan(1e-5 * size(asset));
            assertThat(moved(asset, out) / asset.conventions().metresPerUnit())
                    .isCloseTo(by.length(), within(1e-3 * diagonal));
        }
    }

    private static Asset sided() {
        Asset asset = done0(RandomAssets.of(6, 7, 40));
        Map<String, String> names =
                Map.of("joint_1", "left_arm", "joint_2", "right_arm", "joint_3", "left_hand", "joint_4", "right_hand");
        try {
            asset = done(asset, new RenameMany(Rename.Kind.NODE, names)).asset();
            return done(asset, new RenamePattern(Rename.Kind.NODE, "figure", "left_glove"))
                    .asset();
        } catch (Refused e) {
            throw new AssertionError(e);
        }
    }

    private static Asset done0(Asset asset) {
        try {
            return done(asset, new FreezeNodes()).asset();
        } catch (Refused e) {
            throw new AssertionError(e);
        }
    }

    @Test
    public void theOtherOfAPairIsItsMirrorImageAndFollowsTheOtherSide() throws Refused {
        Asset asset = sided();
        int glove = asset.findNode("left_glove");
        Asset out = done(asset, new MirrorPart("left_glove", MirrorPart.Across.SIDE))
                .asset();
        int twin = out.findNode("right_glove");
        assertThat(twin).isPositive();
        MeshPlace a = new MeshPlace(
                glove, asset.nodes().get(glove).mesh(), asset.nodes().get(glove).skin());
        MeshPlace b = new MeshPlace(
                twin, out.nodes().get(twin).mesh(), out.nodes().get(twin).skin());
        float[] was = new Deformer(asset).positions(a, new Rig(asset).rest());
        float[] is = new Deformer(out).positions(b, new Rig(out).rest());
        double size = RestBox.of(asset).diagonal();
        for (int v = 0; v < was.length; v += 3) {
            assertThat(new Vector3d(-was[v], was[v + 1], was[v + 2]).distance(is[v], is[v + 1], is[v + 2]))
                    .isLessThan(1e-5 * size);
        }
        Primitive p = asset.meshes().get(a.mesh()).primitives().getFirst();
        Primitive q = out.meshes().get(b.mesh()).primitives().getFirst();
        int[] first = asset.skins().get(a.skin()).joints();
        int[] second = out.skins().get(b.skin()).joints();
        for (int i = 0; i < p.influences().joints().length; i++) {
            String from = asset.nodes().get(first[p.influences().joints()[i]]).name();
            String to = out.nodes().get(second[q.influences().joints()[i]]).name();
            assertThat(to)
                    .isEqualTo(from.startsWith("left") ? from.replace("left", "right") : from.replace("right", "left"));
            assertThat(q.influences().weights()[i]).isEqualTo(p.influences().weights()[i]);
        }
        // The mirror of the mirror is where it began, winding and all.
        Asset back = done(
                        done(out, new RenamePattern(Rename.Kind.NODE, "left_glove", "old_left"))
                                .asset(),
                        new MirrorPart("right_glove", MirrorPart.Across.SIDE))
                .asset();
        Primitive again = back.meshes()
                .get(back.nodes().get(back.findNode("left_glove")).mesh())
                .primitives()
                .getFirst();
        assertThat(again.triangleCorners()).containsExactly(p.triangleCorners());
        assertThatThrownBy(() -> done(out, new MirrorPart("left_glove", MirrorPart.Across.SIDE)))
                .isInstanceOf(Refused.class);
    }

    @Test(dataProvider = "mirrored")
    public void aRigidTwinGoesMirroredThroughEveryFrame(boolean mirrored) throws Refused {
        Asset asset = turning(mirrored);
        Asset out = done(asset, new MirrorPart("leaf", MirrorPart.Across.SIDE)).asset();
        int twin = out.findNode("leaf_mirrored");
        MeshPlace a = new MeshPlace(1, 0, -1);
        MeshPlace b = new MeshPlace(twin, out.nodes().get(twin).mesh(), -1);
        for (double t : new double[] {0, 0.3, 1, 1.5}) {
            float[] was = new Deformer(asset)
                    .positions(a, new Rig(asset).at(asset.clips().getFirst(), t));
            float[] is =
                    new Deformer(out).positions(b, new Rig(out).at(out.clips().getFirst(), t));
            for (int v = 0; v < was.length; v += 3) {
                assertThat(new Vector3d(-was[v], was[v + 1], was[v + 2]).distance(is[v], is[v + 1], is[v + 2]))
                        .as("at " + t)
                        .isLessThan(1e-5 * size(asset));
            }
        }
    }

    @Test
    public void combinedPartsMoveAsTheyDidApart() throws Refused {
        Asset whole = done0(RandomAssets.of(7));
        // Without morph targets; a second skinned part with a skin of its own, and the tool that hangs on a joint.
        Mesh plain = whole.meshes().getFirst();
        plain = new Mesh(
                plain.name(),
                plain.primitives().stream()
                        .map(p -> p.withShape(p.positions(), p.normals(), p.tangents(), List.of()))
                        .toList(),
                null,
                List.of(),
                Passthrough.NONE);
        List<Mesh> meshes = new ArrayList<>(whole.meshes());
        meshes.set(0, plain);
        meshes.add(plain.withName("coat"));
        List<Node> nodes = new ArrayList<>(whole.nodes());
        nodes.add(Node.group("coat", Local.IDENTITY).withMesh(meshes.size() - 1, 1));
        Asset asset = whole.withMeshes(meshes)
                .withNodes(nodes)
                .withSkins(List.of(whole.skins().getFirst(), shuffled(whole)))
                .withClips(whole.clips().stream()
                        .map(c -> c.withChannels(c.channels().stream()
                                .filter(x -> x.path() != Channel.Path.WEIGHTS)
                                .toList()))
                        .toList());
        asset = asset.withMesh(
                meshes.size() - 1,
                renumbered(meshes.getLast(), whole.skins().getFirst().joints().length));
        Asset out = done(asset, new Combine("figure, coat, tool", "all")).asset();
        int all = out.findNode("all");
        MeshPlace place = new MeshPlace(
                all, out.nodes().get(all).mesh(), out.nodes().get(all).skin());
        Deformer was = new Deformer(asset);
        Deformer is = new Deformer(out);
        Rig rig = new Rig(asset);
        for (Clip clip : asset.clips()) {
            double t = (clip.start() + clip.end()) / 2;
            List<Float> apart = new ArrayList<>();
            for (String name : List.of("figure", "coat", "tool")) {
                int n = asset.findNode(name);
                MeshPlace one = new MeshPlace(
                        n, asset.nodes().get(n).mesh(), asset.nodes().get(n).skin());
                for (float f : was.positions(one, rig.at(clip, t))) {
                    apart.add(f);
                }
            }
            float[] together = is.positions(place, new Rig(out).at(out.clips().get(out.findClip(clip.name())), t));
            assertThat(together).hasSize(apart.size());
            // Part after part, vertex by vertex.
            for (int i = 0; i < together.length; i++) {
                assertThat((double) together[i]).isCloseTo(apart.get(i), within(2e-5 * size(asset)));
            }
        }
        assertThat(out.findNode("coat")).isEqualTo(-1);
        assertThatThrownBy(() -> done(whole, new Combine("figure, tool", "all")))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("morph");
        assertThatThrownBy(() -> done(whole, new Combine("nothing*", "all"))).hasMessageContaining("two parts");
    }

    private static org.cleanmarrow.model.Skin shuffled(Asset asset) {
        var skin = asset.skins().getFirst();
        int count = skin.joints().length;
        int[] joints = new int[count];
        Matrix4d[] binds = new Matrix4d[count];
        for (int j = 0; j < count; j++) {
            joints[count - 1 - j] = skin.joints()[j];
            binds[count - 1 - j] = skin.inverseBind(j);
        }
        return skin.with(joints, org.cleanmarrow.model.Skin.pack(binds), -1);
    }

    private static Mesh renumbered(Mesh mesh, int joints) {
        int[] number = new int[joints];
        Arrays.setAll(number, j -> joints - 1 - j);
        return mesh.withPrimitives(mesh.primitives().stream()
                .map(p -> p.withRenumbered(p.influences().renumbered(number)))
                .toList());
    }

    @Test
    public void onlyWhatShipsIsDeliveredAndItMovesAsBefore() throws Refused {
        Asset asset = RandomAssets.of(5);
        assertThat(Shipping.of(asset)).isSameAs(asset);
        Asset marked = done(asset, new MarkForExport(MarkForExport.Kind.LOOSE, "*", Optional.empty(), false))
                .asset();
        marked = done(marked, new MarkForExport(MarkForExport.Kind.CLIP, "st*", Optional.empty(), false))
                .asset();
        Asset out = Shipping.of(marked);
        assertThat(out.nodes().stream().filter(n -> n.mesh() >= 0).map(Node::name))
                .containsExactly("figure");
        assertThat(out.clips().stream().map(Clip::name)).containsExactly("linear", "cubic");
        assertThat(out.findNode("crate")).isEqualTo(-1);
        // The group above the skeleton is left behind as an item, and stays to hold what ships.
        assertThat(out.findNode("group")).isNotNegative();
        Asset alone = asset.withNodes(asset.nodes().stream()
                        .map(n -> n.skin() < 0 && n.mesh() >= 0 ? n.withMesh(-1, -1) : n)
                        .toList())
                .withClips(asset.clips().subList(1, 3));
        assertThat(moved(alone, out)).isZero();
        // A joint that moves something that ships cannot stay behind.
        Asset noJoints =
                Shipping.of(done(asset, new MarkForExport(MarkForExport.Kind.JOINT, "*", Optional.empty(), false))
                        .asset());
        assertThat(noJoints.skins().getFirst().joints())
                .hasSameSizeAs(asset.skins().getFirst().joints());
        // By branch: everything at and below one joint.
        Asset branch = done(asset, new MarkForExport(MarkForExport.Kind.ANY, "*", Optional.of("group"), false))
                .asset();
        assertThat(Inventory.of(branch).stream().filter(i -> !i.ships()).count())
                .isGreaterThan(4);
        assertThatThrownBy(() ->
                        done(asset, new MarkForExport(MarkForExport.Kind.PART, "nobody", Optional.empty(), false)))
                .hasMessageContaining("nobody");
    }

    @Test
    public void everyItemHasAKind() throws Refused {
        Asset asset = RandomAssets.of(5);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.add(Node.group("pilot:marker_07", Local.IDENTITY));
        nodes.add(Node.group("lamp", Local.IDENTITY)
                .withCarried(new Passthrough("{\"extensions\":{\"KHR_lights_punctual\":{\"light\":0}}}")));
        Map<Inventory.Kind, Long> counts = Inventory.of(asset.withNodes(nodes)).stream()
                .collect(java.util.stream.Collectors.groupingBy(
                        Inventory.Item::kind, java.util.stream.Collectors.counting()));
        assertThat(counts)
                .containsEntry(Inventory.Kind.PART, 3L)
                .containsEntry(Inventory.Kind.MARKER, 1L)
                .containsEntry(Inventory.Kind.LIGHT, 1L)
                .containsEntry(Inventory.Kind.CLIP, 3L)
                .containsEntry(Inventory.Kind.HELPER, 2L);
        assertThat(counts.get(Inventory.Kind.JOINT))
                .isEqualTo(asset.skins().getFirst().joints().length);
    }

    @Test
    public void levelsOfDetailAreMadeSweptAndGivenTheirRange() throws Refused {
        Asset asset = RandomAssets.of(3, 5, 400);
        Change made =
                done(asset, new Simplify("figure", asset.meshes().getFirst().triangleCount() / 2, 1, 0.1));
        Asset out = made.asset();
        assertThat(LodFamilies.of(out)).hasSize(1);
        assertThat(made.notes()).anyMatch(n -> n.toString().contains("frames of the clips"));
        out = done(out, new LodDistances(LodDistances.Measure.METRES, "0 12.5")).asset();
        assertThat(out.nodes().getLast().carried().json())
                .contains("\"metres\":12.5")
                .contains("\"level\":1");
        Asset swept = done(out, new SweepLods(1)).asset();
        assertThat(swept.nodes().getLast().ships()).isTrue();
        assertThat(swept.nodes().get(swept.findNode("figure")).ships()).isFalse();
        Asset given = out;
        assertThatThrownBy(() -> done(given, new LodDistances(LodDistances.Measure.SCREEN, "0.5 0.7")))
                .hasMessageContaining("0.7");
        assertThatThrownBy(() -> done(given, new Simplify("figure", 2, 0, 0.1))).isInstanceOf(Refused.class);
    }

    @Test
    public void flatColoursBecomeFieldsOfAPaletteAndUvsTheirMiddles() throws Refused {
        Asset asset = RandomAssets.of(5);
        List<Material> flats = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            flats.add(
                    new Material("flat_" + i, new float[] {i / 4f, 0.5f, 1 - i / 4f, 1}, -1, false, Passthrough.NONE));
        }
        flats.add(new Material(
                "shiny",
                new float[] {1, 1, 1, 1},
                -1,
                false,
                new Passthrough("{\"pbrMetallicRoughness\":{\"metallicFactor\":1}}")));
        Primitive p = asset.meshes().get(1).primitives().getFirst();
        List<Primitive> pieces = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            pieces.add(p.withMaterial(i));
        }
        Asset given =
                asset.withMaterials(flats).withMesh(1, asset.meshes().get(1).withPrimitives(pieces));
        Asset out = done(given, new PaletteTexture("*", "palette")).asset();
        assertThat(out.materials().stream().map(Material::name)).containsExactly("shiny", "palette");
        assertThat(out.meshes().get(1).primitives()).hasSize(2);
        assertThat(out.meshes().get(1).triangleCount())
                .isEqualTo(given.meshes().get(1).triangleCount());
        byte[] png = out.images().getFirst().bytes();
        java.awt.image.BufferedImage picture = read(png);
        Primitive merged = out.meshes().get(1).primitives().stream()
                .filter(x -> x.material() == 1)
                .findFirst()
                .orElseThrow();
        float[] uv = merged.attribute("TEXCOORD_0").orElseThrow().values();
        for (int i = 0; i < 5; i++) {
            int v = i * p.vertexCount();
            int rgb =
                    picture.getRGB((int) (uv[2 * v] * picture.getWidth()), (int) (uv[2 * v + 1] * picture.getHeight()));
            // sRGB of a linear half is 188 (IEC 61966-2-1).
            assertThat(rgb >> 8 & 255).isEqualTo(188);
            assertThat(rgb >> 16 & 255).isEqualTo(PaletteTexture.encoded(i / 4f));
        }
        assertThat(PaletteTexture.encoded(0.2158605f)).isEqualTo(128);
    }

    /** The decoder is the platform's own, not ours. */
    private static java.awt.image.BufferedImage read(byte[] png) {
        try {
            return javax.imageio.ImageIO.read(new java.io.ByteArrayInputStream(png));
        } catch (java.io.IOException e) {
            throw new AssertionError(e);
        }
    }

    @Test
    public void shellsGetMaterialsOfTheirOwnAndNothingMoves() throws Refused {
        Asset asset = RandomAssets.of(5);
        Primitive p = asset.meshes().get(1).primitives().getFirst();
        int half = p.triangleCorners().length / 6 * 3;
        java.util.BitSet set = new java.util.BitSet();
        Arrays.stream(p.triangleCorners(), 0, half).forEach(set::set);
        Asset out = done(
                        asset,
                        new OwnMaterial("crate", VertexSet.chosen(asset.meshes().get(1), set), "wood", false))
                .asset();
        assertThat(out.materials().getLast().name()).isEqualTo("wood");
        assertThat(out.meshes().get(1).triangleCount())
                .isEqualTo(asset.meshes().get(1).triangleCount());
        List<Vector3d> before = points(asset.meshes().get(1));
        assertThat(points(out.meshes().get(1))).containsAll(before);
        assertThatThrownBy(() -> done(out, new OwnMaterial("crate", VertexSet.ALL, "wood", false)))
                .hasMessageContaining("wood");
    }

    private static List<Vector3d> points(Mesh mesh) {
        List<Vector3d> out = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            for (int c : p.triangleCorners()) {
                out.add(new Vector3d(p.positions()[3 * c], p.positions()[3 * c + 1], p.positions()[3 * c + 2]));
            }
        }
        return out;
    }

    @Test
    public void namesAreExchangedPatternedStrippedAndMadeLegal() throws Refused {
        Asset asset = RandomAssets.of(5);
        Asset swapped = done(
                        asset, new RenameMany(Rename.Kind.NODE, Map.of("joint_0", "joint_1", "joint_1", "joint_0")))
                .asset();
        assertThat(swapped.nodes().get(1).name()).isEqualTo("joint_1");
        assertThat(swapped.nodes().get(2).name()).isEqualTo("joint_0");
        Asset prefixed = done(asset, new RenamePattern(Rename.Kind.NODE, "joint_*", "take_3:joint_*"))
                .asset();
        assertThat(prefixed.findNode("take_3:joint_2")).isEqualTo(asset.findNode("joint_2"));
        assertThat(done(prefixed, new ReplacePrefix("*:", "")).asset().nodes().stream()
                        .map(Node::name)
                        .toList())
                .isEqualTo(asset.nodes().stream().map(Node::name).toList());
        assertThatThrownBy(() -> done(asset, new RenamePattern(Rename.Kind.NODE, "joint_*", "same")))
                .hasMessageContaining("same")
                .hasMessageContaining("Nothing was renamed");
        Asset odd = done(
                        asset,
                        new RenameMany(
                                Rename.Kind.NODE,
                                Map.of("joint_0", "Süß & weiß", "joint_1", "7", "joint_2", "süss  weiss")))
                .asset();
        List<String> legal = done(odd, new LegalNames(12)).asset().nodes().stream()
                .map(Node::name)
                .toList();
        assertThat(legal)
                .allMatch(n -> n.matches("[A-Za-z_][A-Za-z0-9_]{0,11}"))
                .doesNotHaveDuplicates();
        assertThat(legal).contains("_7");
    }
}
