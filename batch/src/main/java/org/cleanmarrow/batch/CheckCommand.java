package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "check", description = "Holds a file against what the receiving side expects.")
final class CheckCommand extends JsonCommand {
    @Parameters(paramLabel = "FILE", description = "file to check")
    private Path file;

    @Mixin
    private TargetOption target;

    @Override
    public Integer call() throws Exception {
        Optional<Target> wanted = target.wanted(this::say);
        if (wanted.isEmpty()) {
            return 2;
        }
        Asset asset = AssetFiles.open(file, Work.QUIET);
        List<Finding> findings = Checks.run(asset, wanted.get(), Work.QUIET);
        print(describe(wanted.get(), findings));
        return findings.isEmpty() ? 0 : 1;
    }

    private static ObjectNode describe(Target target, List<Finding> findings) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("target", target.name());
        ArrayNode list = out.putArray("findings");
        for (Finding finding : findings) {
            ObjectNode f = list.addObject();
            name(finding, f);
            f.put("count", finding.count());
            finding.fix().ifPresent(fix -> f.set("fix", StepCodec.write(fix)));
        }
        ObjectNode counts = out.putObject("counts");
        for (Severity severity : Severity.values()) {
            counts.put(
                    severity.code(),
                    findings.stream().filter(f -> f.severity() == severity).count());
        }
        return out;
    }

    /** What a finding is, and of what. */
    static void name(Finding finding, ObjectNode json) {
        json.put("check", finding.check());
        json.put("severity", finding.severity().code());
        json.put("message", finding.message().toString());
        json.put("subject", finding.subject());
    }
}
