package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.checks.intake.NonFinite;
import org.cleanmarrow.checks.intake.NormalsNotUnit;
import org.cleanmarrow.checks.skin.WeightSums;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.query.Apart;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.HideByScale;
import org.cleanmarrow.steps.motion.JoinClips;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.ReverseClip;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/**
 * What we write, judged by the Khronos glTF validator (npm gltf-validator 2.0.0-dev.3.10). It is really run:
 * without Node.js these tests fail.
 */
public class ValidatorTest {
    private record Verdict(int errors, Set<String> messages) {}

    /** Runs the validator over files, in the order given. */
    private static List<Verdict> judge(List<Path> files) throws Exception {
        List<Verdict> verdicts = new ArrayList<>();
        for (Path file : files) {
            JsonNode json = Witness.validated(file);
            Set<String> messages = new HashSet<>();
            json.path("messages").forEach(m -> messages.add(m.stringValue()));
            verdicts.add(new Verdict(json.path("errors").intValue(), messages));
        }
        return verdicts;
    }

    /** Writing adds no error and no warning that the source did not have. */
    @Test
    public void whatWasReadIsWrittenWithoutNewComplaints() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        List<Path> sources = Samples.valid();
        List<Path> written = new ArrayList<>();
        for (Path source : sources) {
            Asset asset = AssetFiles.open(source, Work.QUIET);
            Path glb = folder.resolve(source.getFileName() + ".glb");
            Files.write(glb, GltfWriter.glb(asset));
            written.add(glb);
        }
        List<Verdict> before = judge(sources);
        List<Verdict> after = judge(written);
        for (int i = 0; i < sources.size(); i++) {
            assertThat(after.get(i).errors).as(sources.get(i).toString()).isZero();
            assertThat(before.get(i).messages).as(sources.get(i).toString()).containsAll(after.get(i).messages);
        }
    }

    /** Where both judge they agree: sums of weights, lengths of normals, numbers that are not finite. */
    @Test
    public void ourFindingsAreTheirs() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        List<Path> files = new ArrayList<>(Samples.valid());
        List<Asset> faulty = new ArrayList<>();
        for (long seed = 0; seed < 6; seed++) {
            Asset asset = RandomAssets.of(seed);
            Mesh mesh = asset.meshes().getFirst();
            Primitive p = mesh.primitives().getFirst();
            float[] normals = p.normals().clone();
            normals[1] += seed % 2 == 0 ? 1 : 0;
            float[] weights = p.influences().weights().clone();
            weights[0] += seed % 3 == 0 ? 0.25f : 0;
            Influences rows =
                    new Influences(p.influences().offsets(), p.influences().joints(), weights);
            faulty.add(asset.withMesh(
                    0,
                    mesh.withPrimitives(List.of(p.withShape(p.positions(), normals, p.tangents(), p.targets())
                            .withInfluences(rows)))));
        }
        for (Asset asset : faulty) {
            files.add(Files.write(folder.resolve(files.size() + ".glb"), GltfWriter.glb(asset)));
        }
        List<Verdict> verdicts = judge(files);
        Map<String, Check> both = Map.of(
                "ACCESSOR_WEIGHTS_NON_NORMALIZED", new WeightSums(),
                "ACCESSOR_VECTOR3_NON_UNIT", new NormalsNotUnit(),
                "ACCESSOR_INVALID_FLOAT", new NonFinite());
        int found = 0;
        for (int i = 0; i < files.size(); i++) {
            Asset asset = AssetFiles.open(files.get(i), Work.QUIET);
            Examination examination = new Examination(asset, Target.of(asset.conventions()));
            for (Map.Entry<String, Check> one : both.entrySet()) {
                boolean theirs = verdicts.get(i).messages.stream().anyMatch(m -> m.startsWith(one.getKey()));
                boolean ours = !one.getValue().run(examination).isEmpty();
                assertThat(ours).as(files.get(i) + " " + one.getKey()).isEqualTo(theirs);
                found += ours ? 1 : 0;
            }
        }
        assertThat(found).isGreaterThanOrEqualTo(5);
    }

    /** Random assets, as they are and after every structural step, as GLB and as separate files. */
    @Test
    public void whatWeMakeIsWithoutAnyComplaint() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        List<Path> written = new ArrayList<>();
        for (long seed = 0; seed < 12; seed++) {
            Asset asset = RandomAssets.of(seed);
            Asset rooted = new AddRoot("root").apply(asset, Work.QUIET).asset();
            Asset converted = new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), true)
                    .apply(rooted, Work.QUIET)
                    .asset();
            Asset trimmed = new TrimEnds().apply(converted, Work.QUIET).asset();
            Asset baked = new Bake("*").apply(asset, Work.QUIET).asset();
            Asset led = new LeadIn("*", 12)
                    .apply(new ReduceKeys("*", 5).apply(baked, Work.QUIET).asset(), Work.QUIET)
                    .asset();
            Asset joined = new JoinClips("step, linear, cubic", "long", 1, true)
                    .apply(asset, Work.QUIET)
                    .asset();
            Asset back = new ReverseClip("*").apply(joined, Work.QUIET).asset();
            Asset hidden = new HideByScale("tool", "long", "2..4")
                    .apply(
                            new HideByScale("joint_1", "step", "2..4")
                                    .apply(back, Work.QUIET)
                                    .asset(),
                            Work.QUIET)
                    .asset();
            List<Asset> states = new ArrayList<>(List.of(asset, rooted, converted, trimmed, baked, led, hidden));
            states.addAll(Apart.of(asset).clips());
            int number = 0;
            for (Asset state : states) {
                Path glb = folder.resolve(seed + "-" + number++ + ".glb");
                Files.write(glb, GltfWriter.glb(state));
                written.add(glb);
            }
            String apart = "apart-" + seed;
            for (Written.Piece piece : GltfWriter.separate(trimmed, apart, new Pictures(Pictures.Place.BESIDE, apart))
                    .pieces()) {
                Files.write(folder.resolve(piece.name()), piece.bytes());
            }
            written.add(folder.resolve("apart-" + seed + ".gltf"));
        }
        Asset broken = new Shatter("crate", 30)
                .apply(Solids.crate(Local.IDENTITY, Solids.faceted(Solids.torus(1, 0.4, 16, 9))), Work.QUIET)
                .asset();
        Asset fallen =
                new SimulateBodies("", 0.5, "fall").apply(broken, Work.QUIET).asset();
        Files.write(folder.resolve("broken.glb"), GltfWriter.glb(fallen));
        written.add(folder.resolve("broken.glb"));
        List<Verdict> verdicts = judge(written);
        for (int i = 0; i < verdicts.size(); i++) {
            assertThat(verdicts.get(i).errors)
                    .as(written.get(i) + " " + verdicts.get(i).messages)
                    .isZero();
            assertThat(verdicts.get(i).messages).as(written.get(i).toString()).isEmpty();
        }
    }

    @Test
    public void theValidatorDoesFindFaults() throws Exception {
        Verdict verdict =
                judge(List.of(Samples.path("broken/IndexOutOfRange.gltf"))).getFirst();
        assertThat(verdict.errors).isPositive();
    }
}
