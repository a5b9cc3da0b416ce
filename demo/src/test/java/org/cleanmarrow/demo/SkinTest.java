package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.pose.Strain;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.CleanSides;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** The skin's work on the pilot: transfer, automatic binding, fewer influences; with what each costs or gains. */
public class SkinTest {
    private static Change done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET);
    }

    private static Influences rows(Asset asset, String mesh) {
        return asset.meshes().get(asset.findMesh(mesh)).primitives().getFirst().influences();
    }

    /** The asset with a part copied, its points moved by noise, and its weights gone. */
    private static Asset withBareCopy(Asset asset, String mesh, double noise) {
        int m = asset.findMesh(mesh);
        Mesh was = asset.meshes().get(m);
        Random random = new Random(4);
        List<Primitive> primitives = new ArrayList<>();
        for (Primitive p : was.primitives()) {
            float[] moved = p.positions().clone();
            // What lies on one place stays on one place.
            MeshTopology topology = MeshTopology.of(was);
            for (int v = 0; v < moved.length / 3; v++) {
                for (int i = 0; i < 3; i++) {
                    moved[v * 3 + i] = topology.weldedOf(v) == v
                            ? moved[v * 3 + i] + (float) (noise * random.nextGaussian())
                            : moved[topology.weldedOf(v) * 3 + i];
                }
            }
            Primitive copy = Primitive.triangles(p.indices(), moved, null, -1);
            primitives.add(copy.withInfluences(new Influences(new int[p.vertexCount() + 1], new int[0], new float[0])));
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(was.withName("copy").withPrimitives(primitives));
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.add(Node.group("copy", org.cleanmarrow.model.Local.IDENTITY)
                .withMesh(meshes.size() - 1, asset.skinOfMesh(m)));
        return asset.withNodes(nodes).withMeshes(meshes);
    }

    @Test
    public void aCopyOffsetByNoiseGetsTheWeightsOfTheBody() throws Refused {
        Asset pilot = VestedPilot.asset();
        // A twentieth of a millimetre.
        Asset bare = withBareCopy(pilot, "pilot", 0.00005 / pilot.conventions().metresPerUnit());
        Change change = done(bare, new TransferWeights("pilot", "copy", VertexSet.ALL, 2, 60, false, "*", 8));
        Influences given = rows(change.asset(), "copy");
        Influences wanted = rows(pilot, "pilot");
        int joints = pilot.skins().getFirst().joints().length;
        double sum = 0;
        long near = 0;
        for (int v = 0; v < given.vertexCount(); v++) {
            double most = 0;
            for (int j = 0; j < joints; j++) {
                most = Math.max(most, Math.abs(given.weight(v, j) - wanted.weight(v, j)));
            }
            sum += most;
            near += most < 1e-2 ? 1 : 0;
        }
        System.out.printf(
                "copy: mean difference %.2g, %.2f %% within 0.01%n",
                sum / given.vertexCount(), 100.0 * near / given.vertexCount());
        assertThat(sum / given.vertexCount()).isLessThan(1e-3);
    }

    private static double worst(Asset asset, String mesh, BitSet only) {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> asset.meshes().get(p.mesh()).name().equals(mesh))
                .findFirst()
                .orElseThrow();
        Rig rig = new Rig(asset);
        int[] triangles = MeshTopology.of(asset.meshes().get(place.mesh())).corners();
        float[] rest = deformer.positions(place, rig.rest());
        double worst = 0;
        for (var pose : TrialPoses.of(asset)) {
            Clip clip = pose.clip(asset);
            Strain strain = Strain.of(triangles, rest, deformer.positions(place, rig.at(clip, 1)));
            for (int v = only.nextSetBit(0); v >= 0; v = only.nextSetBit(v + 1)) {
                worst = Math.max(worst, strain.stretch()[v]);
            }
        }
        return worst;
    }

    /** Largest weight of a joint of the other side at so many centimetres from the middle or more. */
    private static double[] otherSide(Asset asset, String mesh, BitSet only) {
        int m = asset.findMesh(mesh);
        WeldedSurface surface = RestSurface.of(asset, m);
        Influences rows = rows(asset, mesh);
        Skin skin = asset.skins().get(asset.skinOfMesh(m));
        double[] out = new double[30];
        for (int v = only.nextSetBit(0); v >= 0; v = only.nextSetBit(v + 1)) {
            // The left is +X.
            float x = surface.positions()[surface.weldedOf(v) * 3];
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                String joint =
                        asset.nodes().get(skin.joints()[rows.joints()[i]]).name();
                if (joint.startsWith(x > 0 ? "right_" : "left_")) {
                    for (int cm = 0; cm <= Math.min(29, (int) (Math.abs(x) * 100)); cm++) {
                        out[cm] = Math.max(out[cm], rows.weights()[i]);
                    }
                }
            }
        }
        return out;
    }

    private static BitSet all(int count) {
        BitSet out = new BitSet();
        out.set(0, count);
        return out;
    }

    /** The piece of the pilot that has the most vertices. */
    private static BitSet body(Asset pilot) {
        MeshTopology topology = MeshTopology.of(pilot.meshes().get(pilot.findMesh("pilot")));
        int[] sizes = new int[topology.islandCount()];
        BitSet out = new BitSet();
        for (int v = 0; v < topology.vertexCount(); v++) {
            sizes[topology.islandOf(v)]++;
        }
        for (int v = 0; v < topology.vertexCount(); v++) {
            boolean largest = true;
            for (int size : sizes) {
                largest &= sizes[topology.islandOf(v)] >= size;
            }
            out.set(v, largest);
        }
        return out;
    }

    /** Body vertices that the vest lies over. */
    private static BitSet beneath(Asset asset) {
        WeldedSurface vest = RestSurface.of(asset, asset.findMesh("float_vest"));
        WeldedSurface body = RestSurface.of(asset, asset.findMesh("pilot"));
        TriangleTree tree = new TriangleTree(vest.triangles(), vest.positions());
        BitSet out = new BitSet();
        Mesh mesh = asset.meshes().get(asset.findMesh("pilot"));
        for (int v = 0; v < mesh.vertexCount(); v++) {
            int p = body.weldedOf(v) * 3;
            var hit =
                    tree.nearestPoint(body.positions()[p], body.positions()[p + 1], body.positions()[p + 2], t -> true);
            if (hit.distance() < 0.06) {
                out.set(v);
            }
        }
        return out;
    }

    /** The plain way: each vertex takes the row of the body's vertex nearest to it. */
    private static Asset nearestCopy(Asset bound) {
        WeldedSurface vest = RestSurface.of(bound, bound.findMesh("float_vest"));
        WeldedSurface body = RestSurface.of(bound, bound.findMesh("pilot"));
        Influences from = WeldedWeights.of(bound.meshes().get(bound.findMesh("pilot")), body);
        PointTree grid = new PointTree(body.positions());
        int m = bound.findMesh("float_vest");
        Mesh mesh = bound.meshes().get(m);
        Influences.Builder out = new Influences.Builder(mesh.vertexCount());
        for (int v = 0; v < mesh.vertexCount(); v++) {
            int p = vest.weldedOf(v) * 3;
            int near = grid.nearest(vest.positions()[p], vest.positions()[p + 1], vest.positions()[p + 2]);
            out.copyRows(from, near, near + 1);
        }
        return bound.withMesh(
                m, mesh.withPrimitives(List.of(mesh.primitives().getFirst().withInfluences(out.build()))));
    }

    @Test
    public void theVestMovesWithTheBodyAndStrainsLittleMore() throws Refused {
        Asset pilot = VestedPilot.asset();
        // From the body alone, without scarf, strap and satchel that lie on it.
        VertexSet ofBody = VertexSet.chosen(pilot.meshes().get(pilot.findMesh("pilot")), body(pilot));
        Change change =
                done(pilot, new TransferWeights("pilot", "float_vest", VertexSet.ALL, 0, 30, false, "*", 8, ofBody));
        // The fill is smooth across the middle, further than the body shares it; side clean-up ends that.
        Asset dressed = done(change.asset(), new CleanSides("float_vest", VertexSet.ALL, 60, ""))
                .asset();
        assertThat(change.counts().get(Message.of("count.matched"))).isPositive();
        assertThat(change.counts().get(Message.of("count.filled.in"))).isPositive();
        Influences given = rows(dressed, "float_vest");
        WeldedSurface vest = RestSurface.of(dressed, dressed.findMesh("float_vest"));
        WeldedSurface was = RestSurface.of(pilot, pilot.findMesh("float_vest"));
        for (int v = 0; v < given.vertexCount(); v++) {
            assertThat(given.sum(v)).isCloseTo(1, within(2e-6));
            int p = vest.weldedOf(v) * 3;
            for (int i = 0; i < 3; i++) {
                assertThat(vest.positions()[p + i]).isCloseTo(was.positions()[p + i], within(1e-5f));
            }
        }
        double wrong = otherSide(dressed, "float_vest", all(given.vertexCount()))[7];
        assertThat(wrong).as("weight of the other side, 7 cm from the middle").isZero();
        assertThat(otherSide(dressed, "pilot", beneath(dressed))[7]).isPositive();
        double body = worst(dressed, "pilot", beneath(dressed));
        double ours = worst(dressed, "float_vest", all(given.vertexCount()));
        double plain = worst(nearestCopy(dressed), "float_vest", all(given.vertexCount()));
        System.out.printf(
                "vest: worst stretch in all trial poses %.0f %%, body beneath %.0f %%, nearest point copy %.0f %%;"
                        + " %s%n",
                100 * ours, 100 * body, 100 * plain, change.counts());
        assertThat(ours).isLessThan(body + 0.1);
        assertThat(ours).isLessThan(plain);
        // Cut to four without a step the vest strains little more; cut by size it folds.
        double[] cut = new double[2];
        for (LimitInfluences.By by : List.of(LimitInfluences.By.SMOOTH, LimitInfluences.By.SIZE)) {
            Asset four =
                    done(dressed, new LimitInfluences("float_vest", 4, 0, by)).asset();
            assertThat(rows(four, "float_vest").longestRow()).isEqualTo(4);
            cut[by == LimitInfluences.By.SIZE ? 1 : 0] = worst(four, "float_vest", all(given.vertexCount()));
        }
        System.out.printf("cut to four: smoothly %.0f %%, by size %.0f %%%n", 100 * cut[0], 100 * cut[1]);
        assertThat(cut[0]).isLessThan(cut[1]).isLessThan(body + 0.1);
    }

    @Test
    public void fourChosenByEffectAreNeverWorseThanFourBySize() throws Refused {
        // Eight and more joints a vertex, as smoothing leaves them.
        Asset many = done(VestedPilot.asset(), new SmoothWeights("pilot", VertexSet.ALL, 1, 12, "", 255))
                .asset();
        assertThat(rows(many, "pilot").longestRow()).isGreaterThanOrEqualTo(8);
        Asset size = done(many, new LimitInfluences("pilot", 4, 0, LimitInfluences.By.SIZE))
                .asset();
        Asset effect = done(many, new LimitInfluences("pilot", 4, 0, LimitInfluences.By.EFFECT))
                .asset();
        assertThat(rows(effect, "pilot").longestRow()).isEqualTo(4);
        var bySize = MotionProbe.compare(many, size, Work.QUIET);
        var byEffect = MotionProbe.compare(many, effect, Work.QUIET);
        System.out.printf(
                "four of many: by size %.2f mm largest %.4f mean, by effect %.2f mm largest %.4f mean%n",
                bySize.largestMetres() * 1000,
                bySize.meanMetres() * 1000,
                byEffect.largestMetres() * 1000,
                byEffect.meanMetres() * 1000);
        assertThat(byEffect.meanMetres()).isLessThan(bySize.meanMetres() / 4);
        assertThat(byEffect.largestMetres()).isLessThan(bySize.largestMetres() / 2);
    }

    private static int limb(String joint) {
        if (joint.matches("(left|right)_(thigh|shin|foot|toes).*")) {
            return joint.startsWith("left") ? 3 : 4;
        }
        return joint.matches("(left|right)_(upper_arm|arm_twist|forearm|hand|thumb|index|middle|ring|little).*")
                ? joint.startsWith("left") ? 1 : 2
                : 0;
    }

    private static boolean nearCrotch(Asset pilot, int vertex) {
        float[] p = pilot.meshes()
                .get(pilot.findMesh("pilot"))
                .primitives()
                .getFirst()
                .positions();
        Bones bones = Bones.bound(pilot, pilot.skins().getFirst());
        Vector3d left = bones.place(joint(pilot, "left_thigh"));
        Vector3d right = bones.place(joint(pilot, "right_thigh"));
        Vector3d middle = new Vector3d(left).lerp(right, 0.5);
        return middle.distance(p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]) < 1.2 * left.distance(right);
    }

    private static int joint(Asset asset, String name) {
        return asset.skins().getFirst().indexOfNode(asset.findNode(name));
    }

    @Test
    public void anAutomaticBindKeepsLimbsApart() throws Refused {
        Asset pilot = FerryPilot.asset();
        Skin skin = pilot.skins().getFirst();
        Influences made = rows(pilot, "pilot");
        for (VolumeBind.How how : VolumeBind.How.values()) {
            Change change = done(pilot, new BindVolume("pilot", VertexSet.ALL, "*", "", how, 0.5, 4));
            Influences bound = rows(change.asset(), "pilot");
            double wrong = 0;
            double all = 0;
            for (int v = 0; v < bound.vertexCount(); v++) {
                double[] shares = new double[5];
                for (int i = made.offsets()[v]; i < made.offsets()[v + 1]; i++) {
                    shares[
                            limb(pilot.nodes()
                                    .get(skin.joints()[made.joints()[i]])
                                    .name())] += made.weights()[i];
                }
                int own = 0;
                for (int k = 1; k < 5; k++) {
                    own = shares[k] > shares[own] ? k : own;
                }
                if (own == 0) {
                    continue;
                }
                for (int i = bound.offsets()[v]; i < bound.offsets()[v + 1]; i++) {
                    int to = limb(
                            pilot.nodes().get(skin.joints()[bound.joints()[i]]).name());
                    // A limb's neighbour is the trunk; the legs meet in the crotch, and nowhere else.
                    boolean meets = to == 0 || to == own || to + own == 7 && nearCrotch(pilot, v);
                    wrong += meets ? 0 : bound.weights()[i];
                    all += bound.weights()[i];
                }
            }
            System.out.printf("%s: weight of a wrong limb %.4f %%%n", how, 100 * wrong / all);
            assertThat(wrong / all).isLessThan(0.01);
        }
    }

    @Test
    public void aSlipOfTheBrushFarFromItsJointIsFoundAndTakenOff() throws Refused {
        Asset pilot = VestedPilot.asset();
        Target target = Target.of(pilot.conventions());
        assertThat(Checks.run(pilot, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("island"));
        int m = pilot.findMesh("pilot");
        MeshTopology topology = MeshTopology.of(pilot.meshes().get(m));
        // A patch of the jumper where the forearm does nothing, on the piece whose sleeve it moves.
        BitSet patch = new BitSet();
        float[] p = pilot.meshes().get(m).primitives().getFirst().positions();
        int near = 0;
        for (int v = 0; v < topology.vertexCount(); v++) {
            boolean jumper = topology.islandOf(v) == topology.islandOf(0);
            if (jumper && square(p, v, -0.05, 1.2, 0.12) < square(p, near, -0.05, 1.2, 0.12)) {
                near = v;
            }
        }
        patch.set(near);
        patch = topology.grown(topology.grown(patch));
        VertexSet slip = VertexSet.chosen(pilot.meshes().get(m), patch);
        Asset wrong =
                done(pilot, new SetWeight("pilot", "left_forearm", slip, 0.4)).asset();
        List<Finding> found = Checks.run(wrong, target, Work.QUIET).stream()
                .filter(f -> f.check().equals("island"))
                .toList();
        assertThat(found).singleElement().satisfies(f -> {
            assertThat(f.count()).isEqualTo(slip.vertices().cardinality());
            assertThat(f.message().toString()).contains("left_forearm");
        });
        Asset mended = done(wrong, found.getFirst().fix().orElseThrow()).asset();
        assertThat(Checks.run(mended, target, Work.QUIET))
                .noneMatch(f -> f.check().equals("island"));
        assertThat(MotionProbe.compare(pilot, mended, Work.QUIET).largestMetres())
                .isLessThan(1e-5);
    }

    private static double square(float[] p, int v, double x, double y, double z) {
        return (p[v * 3] - x) * (p[v * 3] - x)
                + (p[v * 3 + 1] - y) * (p[v * 3 + 1] - y)
                + (p[v * 3 + 2] - z) * (p[v * 3 + 2] - z);
    }
}
