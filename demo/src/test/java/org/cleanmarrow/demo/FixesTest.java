package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.kit.FaultyAssets;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Every fix that is offered removes its finding, and makes nothing else worse; taken in turn they come to an end. */
public class FixesTest {
    /** Random assets; 500 with {@code -Dmarrow.seeds=500}, which takes a minute. */
    private static final int SEEDS = Integer.getInteger("marrow.seeds", 40);

    /** What a mended file may show that could not be seen before, such as roles once joints have names. */
    private static final Map<String, List<String>> UNCOVERS = Map.of();

    @DataProvider
    public Object[][] assets() throws Exception {
        Map<String, Asset> out = new LinkedHashMap<>();
        for (Demo demo : Demo.ALL) {
            out.put(demo.name(), demo.asset().get());
        }
        // The files in "broken" are for readers to refuse.
        try (Stream<Path> files = Files.list(OpenSamples.FOLDER)) {
            for (Path file : files.filter(Files::isRegularFile).sorted().toList()) {
                String name = file.getFileName().toString();
                boolean readable = AssetFiles.endings().stream().anyMatch(name::endsWith);
                if (readable) {
                    try {
                        out.put(name, AssetFiles.open(file, Work.QUIET));
                    } catch (ReadFailed e) {
                        // Some samples are there to be refused; the readers' own tests hold them to it.
                        assertThat(e.getMessage()).contains(name);
                    }
                }
            }
        }
        for (long seed = 0; seed < SEEDS; seed++) {
            out.put("random " + seed, FaultyAssets.of(seed));
        }
        return out.entrySet().stream()
                .map(e -> new Object[] {e.getKey(), e.getValue()})
                .toArray(Object[][]::new);
    }

    private static Target target(String name) {
        boolean other = name.hashCode() % 2 == 0;
        return Target.named(other ? "z-up-cm-lh" : "y-up-m-rh").orElseThrow();
    }

    @Test(dataProvider = "assets")
    public void eachFixByItselfRemovesItsFinding(String name, Asset asset) {
        List<Finding> before = Checks.run(asset, target(name), Work.QUIET);
        List<String> faults = new ArrayList<>();
        for (Finding finding : before) {
            if (finding.fix().isPresent()) {
                faults.addAll(faultsOf(asset, finding, before, target(name)));
            }
        }
        assertThat(faults).as(name).isEmpty();
    }

    static List<String> faultsOf(Asset asset, Finding finding, List<Finding> before, Target target) {
        String fix = StepCodec.write(finding.fix().get()).toString();
        String what = finding.check() + " \"" + finding.message().toString() + "\" by "
                + fix.substring(0, Math.min(90, fix.length()));
        Replay.Done done = Replay.one(asset, finding.fix().get(), false, Work.QUIET);
        if (done.outcome().isEmpty()) {
            return List.of(what + ": refused, " + done.reason());
        }
        List<Finding> after = Checks.run(done.asset(), target, Work.QUIET);
        List<String> out = new ArrayList<>();
        boolean stands = after.stream()
                .anyMatch(f -> f.check().equals(finding.check())
                        && f.message().toString().equals(finding.message().toString())
                        && f.subject().equals(finding.subject()));
        if (stands) {
            out.add(what + ": stands");
        }
        Map<String, Long> had = weights(before);
        weights(after).forEach((check, weight) -> {
            if (weight > had.getOrDefault(check, 0L)
                    && !UNCOVERS.getOrDefault(finding.check(), List.of()).contains(check)) {
                String more = after.stream()
                        .filter(f -> f.check().equals(check))
                        .map(Finding::message)
                        .toList()
                        .toString();
                out.add(what + ": more " + check + " " + more);
            }
        });
        return out;
    }

    /** By check how much is wrong: findings, those that block counting more than any number of others. */
    private static Map<String, Long> weights(List<Finding> findings) {
        Map<String, Long> out = new TreeMap<>();
        for (Finding f : findings) {
            if (f.severity() != Severity.NOTE) {
                out.merge(f.check(), f.severity() == Severity.BLOCKER ? 1000L : 1L, Long::sum);
            }
        }
        return out;
    }

    /** As somebody does it who presses the first fix there is, again and again. */
    @Test(dataProvider = "assets")
    public void takenInTurnTheyEndWithNothingLeftToFix(String name, Asset asset) {
        Asset now = asset;
        List<String> taken = new ArrayList<>();
        while (true) {
            List<Finding> left = Checks.run(now, target(name), Work.QUIET);
            Finding next =
                    left.stream().filter(f -> f.fix().isPresent()).findFirst().orElse(null);
            if (next == null) {
                break;
            }
            taken.add(next.check() + " " + next.subject());
            assertThat(taken).as(name).hasSizeLessThan(160);
            Replay.Done done = Replay.one(now, next.fix().get(), false, Work.QUIET);
            assertThat(done.outcome())
                    .as(name + " " + taken.getLast() + ": " + done.reason())
                    .isPresent();
            now = done.asset();
        }
        assertThat(now.conventions()).isEqualTo(target(name).conventions());
    }

    /** All fixes of one look, in the order in which they are listed: an earlier one never breaks a later one. */
    @Test(dataProvider = "assets")
    public void inTheOrderGivenNoneDisturbsAnother(String name, Asset asset) {
        Asset now = asset;
        for (Finding finding : Checks.run(asset, target(name), Work.QUIET)) {
            if (finding.fix().isPresent()) {
                Replay.Done done = Replay.one(now, finding.fix().get(), false, Work.QUIET);
                assertThat(done.outcome())
                        .as(name + ": " + finding.check() + " "
                                + finding.message().toString() + ": " + done.reason())
                        .isPresent();
                now = done.asset();
            }
        }
        // Whatever order they came in, the data are in the target's axes, and say so.
        assertThat(now.conventions()).isEqualTo(target(name).conventions());
        assertThat(Checks.run(now, target(name), Work.QUIET))
                .noneMatch(f -> f.check().equals("axes")
                        || f.check().equals("size") && f.fix().isPresent());
    }
}
