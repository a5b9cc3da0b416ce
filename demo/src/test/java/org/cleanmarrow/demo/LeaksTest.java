package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Vertices put onto wrong joints are found wherever they are, and natural blends are not taken for faults. */
public class LeaksTest {
    /** A whole piece of the mesh instead of so many vertices. */
    private static final int WHOLE = -1;

    private static final int PLACES = Integer.getInteger("marrow.places", 12);

    private static List<Finding> faults(Asset asset) {
        Examination examination = new Examination(asset, Target.of(asset.conventions()));
        return Checks.ALL.stream()
                .filter(c -> c.id().equals("leak") || c.id().equals("island"))
                .flatMap(c -> c.run(examination).stream())
                .toList();
    }

    /** The pilot with its planted leaks mended. */
    private static Asset cleanPilot() {
        Asset pilot = FerryPilot.asset();
        for (Finding finding : faults(pilot)) {
            pilot = Replay.one(pilot, finding.fix().orElseThrow(), false, Work.QUIET)
                    .asset();
        }
        return pilot;
    }

    @Test
    public void nothingIsFoundOnWhatIsSound() throws Exception {
        assertThat(faults(cleanPilot())).extracting(f -> f.message().toString()).isEmpty();
        assertThat(faults(MarshHeron.asset()))
                .extracting(f -> f.message().toString())
                .isEmpty();
        for (String file : List.of("generic-hand-left.glb", "generic-hand-right.glb", "simple_skin.gltf")) {
            assertThat(faults(AssetFiles.open(OpenSamples.path(file), Work.QUIET)))
                    .as(file)
                    .extracting(f -> f.message().toString())
                    .isEmpty();
        }
    }

    @Test
    public void theStrapIsFoundOnTheArmAndOnItsTwistJoint() {
        assertThat(faults(FerryPilot.asset()))
                .extracting(f -> f.message().toString())
                .hasSize(2)
                .anyMatch(m -> m.contains("left_upper_arm moves"))
                .anyMatch(m -> m.contains("left_arm_twist moves"));
    }

    @Test
    public void whatIsPutOntoAWrongLimbIsFound() throws Exception {
        Map<String, int[]> tally = new TreeMap<>();
        Asset hand = AssetFiles.open(OpenSamples.path("generic-hand-left.glb"), Work.QUIET);
        List<Asset> bodies = List.of(cleanPilot(), MarshHeron.asset(), hand);
        Random random = new Random(11);
        int missed = 0;
        int tried = 0;
        for (Asset body : bodies) {
            for (int many : new int[] {1, 3, 20, 300, WHOLE}) {
                if (many == WHOLE && MeshTopology.of(body.meshes().getFirst()).islandCount() < 4) {
                    continue;
                }
                for (int i = 0; i < PLACES; i++) {
                    Asset spoilt = spoilt(body, many, random);
                    // A quarter of a hand is several fingers at once; the tally says what is found of those.
                    boolean counts = many * 8 <= body.meshes().getFirst().vertexCount();
                    tried += counts ? 1 : 0;
                    List<Finding> found = faults(spoilt);
                    int[] row = tally.computeIfAbsent(
                            body.name() + (many == WHOLE ? " whole piece" : " " + many + " vertices"), k -> new int[2]);
                    row[0]++;
                    row[1] += found.isEmpty() ? 0 : 1;
                    missed += counts && found.isEmpty() ? 1 : 0;
                    assertThat(found).hasSizeLessThanOrEqualTo(12);
                }
            }
        }
        tally.forEach(
                (what, row) -> System.out.println("wrong joint on " + what + ": found " + row[1] + " of " + row[0]));
        assertThat(missed).isLessThanOrEqualTo((int) (0.03 * tried));
    }

    /** A patch of neighbours put wholly onto a joint far from them. */
    private static Asset spoilt(Asset asset, int many, Random random) throws Refused {
        Mesh mesh = asset.meshes().getFirst();
        Skin skin = asset.skins().get(asset.skinOfMesh(0));
        MeshTopology topology = MeshTopology.of(mesh);
        Matrix4d[] world = new Rig(asset).rest().world();
        var deformer = new org.cleanmarrow.pose.Deformer(asset);
        float[] at = deformer.positions(
                deformer.places().stream()
                        .filter(p -> p.mesh() == 0)
                        .findFirst()
                        .orElseThrow(),
                new Rig(asset).rest());
        double size = org.cleanmarrow.pose.RestBox.of(asset).diagonal();
        while (true) {
            BitSet patch = new BitSet();
            patch.set(random.nextInt(mesh.vertexCount()));
            if (many == WHOLE) {
                patch = topology.islandsOf(patch);
                if (patch.cardinality() > mesh.vertexCount() / 4) {
                    continue;
                }
            }
            while (patch.cardinality() < many) {
                BitSet wider = topology.grown(patch);
                if (wider.equals(patch)) {
                    break;
                }
                for (int v = wider.nextSetBit(0); v >= 0 && patch.cardinality() < many; v = wider.nextSetBit(v + 1)) {
                    patch.set(v);
                }
            }
            patch = topology.sameWelded(patch);
            int v = patch.nextSetBit(0);
            Vector3d here = new Vector3d(at[v * 3], at[v * 3 + 1], at[v * 3 + 2]);
            int joint = skin.joints()[random.nextInt(skin.joints().length)];
            boolean bears = org.cleanmarrow.query.Skeletons.bearing(asset).get(joint);
            if (bears
                    && patch.cardinality() >= many
                    && world[joint].getTranslation(new Vector3d()).distance(here) > 0.25 * size) {
                return new SetWeight(mesh.name(), asset.nodeRef(joint), VertexSet.chosen(mesh, patch), 1)
                        .apply(asset, Work.QUIET)
                        .asset();
            }
        }
    }

    /** The offered fix moves what it mends, and leaves nothing to be found. */
    @Test
    public void theFixTakesItOff() throws Exception {
        Random random = new Random(5);
        for (int many : new int[] {1, 20, 300}) {
            Asset spoilt = spoilt(cleanPilot(), many, random);
            Asset now = spoilt;
            List<Finding> left = new ArrayList<>(faults(now));
            assertThat(left).isNotEmpty();
            for (int i = 0; i < 6 && !left.isEmpty(); i++) {
                assertThat(left.getFirst().fix().orElseThrow()).isInstanceOf(RemoveInfluence.class);
                now = Replay.one(now, left.getFirst().fix().orElseThrow(), false, Work.QUIET)
                        .asset();
                left = faults(now);
            }
            assertThat(left).extracting(f -> f.message().toString()).isEmpty();
        }
    }
}
