package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.kit.FaultyAssets;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.MendPlan;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/**
 * Mending comes to an end with no blocker that has a fix, fixes that only tidy move nothing, what is delivered lands as it was meant,
 * and the Khronos validator (npm gltf-validator 2.0.0-dev.3.10) accepts every file.
 */
public class MendManyTest {
    /** Random assets; 200 with {@code -Dmarrow.mends=200}, and then all demos and samples: some minutes, for the table of docs/proof.md. */
    private static final int SEEDS = Integer.getInteger("marrow.mends", 0);

    private static final boolean ALL = SEEDS > 0;
    private static final int FEW = 4;

    /** Fixes that bring what lies wrong to where it belongs; all others move nothing that is seen. */
    private static final Set<String> MOVE =
            Set.of("assign-unweighted", "normalise-weights", "limit-influences", "remove-influence", "scale-clip");

    /** What became of all assets of a kind. */
    private static final class Row {
        int assets;
        int findings;
        int steps;
        int decisions;
        double largest;
        double landed;
        int complaints;
    }

    private static Map<String, Asset> assets() throws Exception {
        Map<String, Asset> out = new LinkedHashMap<>();
        for (Demo demo : ALL ? Demo.ALL : List.of(Demo.named("lift-bridge").orElseThrow())) {
            out.put("demo " + demo.name(), demo.asset().get());
        }
        try (Stream<Path> files = Files.list(OpenSamples.FOLDER)) {
            for (Path file : files.filter(Files::isRegularFile)
                    .sorted()
                    .limit(ALL ? Integer.MAX_VALUE : FEW)
                    .toList()) {
                String name = file.getFileName().toString();
                if (AssetFiles.endings().stream().anyMatch(name::endsWith)) {
                    try {
                        out.put("sample " + name, AssetFiles.open(file, Work.QUIET));
                    } catch (ReadFailed e) {
                        assertThat(e.getMessage()).contains(name);
                    }
                }
            }
        }
        for (long seed = 0; seed < (ALL ? SEEDS : FEW); seed++) {
            out.put("random " + seed, FaultyAssets.of(seed));
        }
        return out;
    }

    @Test
    public void allComeToAnEndLandAndAreAccepted() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Map<String, Row> rows = new TreeMap<>();
        Map<Path, String> files = new LinkedHashMap<>();
        List<String> faults = new ArrayList<>();
        for (Map.Entry<String, Asset> e : assets().entrySet()) {
            String name = e.getKey();
            Row row = rows.computeIfAbsent(name.substring(0, name.indexOf(' ')), k -> new Row());
            Target target = Target.named(name.hashCode() % 2 == 0 ? "z-up-cm-lh" : "y-up-m-rh")
                    .orElseThrow();
            MendPlan plan = MendPlan.of(e.getValue(), Optional.empty(), (a, w) -> Checks.run(a, target, w), Work.QUIET);
            row.assets++;
            row.findings += plan.before();
            row.steps += plan.done().size();
            for (Finding left : plan.left()) {
                if (left.severity() == Severity.BLOCKER && left.fix().isPresent()) {
                    faults.add(name + ": left " + left.message() + ", " + plan.why(left));
                }
                row.decisions++;
            }
            Asset mended = e.getValue();
            for (Replay.Done done : plan.done()) {
                String step = StepCodec.info(done.step().getClass()).name();
                double share = done.motion()
                        .map(m -> m.largestMetres() / m.toleranceMetres())
                        .orElse(0.0);
                if (!MOVE.contains(step)) {
                    row.largest = Math.max(row.largest, share);
                    if (share > 1) {
                        faults.add(name + ": " + step + " moves " + share + " of what is let pass");
                    }
                }
                mended = done.asset();
            }
            Path own = folder.resolve(Integer.toString(files.size()));
            Delivery.Delivered delivered = Delivery.deliver(mended, own, "glb", Work.QUIET);
            if (!delivered.sound()) {
                faults.add(name + ": landed " + delivered.differences());
            }
            Motion landing = delivered.landing();
            row.landed = Math.max(row.landed, landing.largestMetres() / landing.toleranceMetres());
            files.put(delivered.files().getFirst(), name);
        }
        for (Map.Entry<Path, String> file : files.entrySet()) {
            JsonNode json = Witness.validated(file.getKey());
            String name = file.getValue();
            if (json.path("errors").intValue() > 0) {
                rows.get(name.substring(0, name.indexOf(' '))).complaints++;
                faults.add(name + ": " + json.path("messages"));
            }
        }
        rows.forEach((kind, r) -> System.out.printf(
                "mended %s: %d assets, %d findings, %d steps, %d left, moved %.2f, landed %.2f of the tolerance, refused %d%n",
                kind, r.assets, r.findings, r.steps, r.decisions, r.largest, r.landed, r.complaints));
        assertThat(faults).isEmpty();
    }
}
