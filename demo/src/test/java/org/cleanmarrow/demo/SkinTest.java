package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.Bones;
import org.cleanmarrow.weights.VolumeBind;
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
        Asset cape = withBareCopy(pilot, "cape", 0.00005 / pilot.conventions().metresPerUnit());
        Map<TransferWeights, Asset> both = Map.of(
                new TransferWeights("pilot", "copy", VertexSet.ALL, 2, 60, false, "*", 8), bare,
                new TransferWeights("cape", "copy"), cape);
        for (TransferWeights how : both.keySet()) {
            Influences given = rows(done(both.get(how), how).asset(), "copy");
            Influences wanted = rows(pilot, how.from());
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
            Change change = done(pilot, new BindVolume("pilot", VertexSet.ALL, "*", "", how, 0.5, 4, false));
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
