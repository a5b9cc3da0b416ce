package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Files;
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
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "check", description = "Holds a file against what the receiving side expects.")
final class CheckCommand extends JsonCommand {
    @Parameters(paramLabel = "FILE", description = "file to check")
    private Path file;

    @Option(
            names = "--target",
            paramLabel = "T",
            defaultValue = "y-up-m-rh",
            description = "conventions such as z-up-cm-lh, or a JSON file; default ${DEFAULT-VALUE}")
    private String target;

    @Override
    public Integer call() throws Exception {
        Optional<Target> wanted = target(target);
        if (wanted.isEmpty()) {
            say("There is no target \"" + target + "\". Expected conventions such as y-up-m-rh, z-up-cm-lh, or a JSON "
                    + "file with \"conventions\".");
            return 2;
        }
        Asset asset = AssetFiles.open(file, Work.QUIET);
        List<Finding> findings = Checks.run(asset, wanted.get(), Work.QUIET);
        print(describe(wanted.get(), findings));
        return findings.isEmpty() ? 0 : 1;
    }

    private static Optional<Target> target(String text) throws IOException {
        Optional<Target> named = Target.named(text);
        if (named.isPresent() || !Files.isRegularFile(Path.of(text))) {
            return named;
        }
        return Target.fromJson(Files.readString(Path.of(text)));
    }

    private static ObjectNode describe(Target target, List<Finding> findings) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("target", target.name());
        ArrayNode list = out.putArray("findings");
        for (Finding finding : findings) {
            ObjectNode f = list.addObject();
            f.put("check", finding.check());
            f.put("severity", finding.severity().code());
            f.put("message", finding.message().toString());
            f.put("subject", finding.subject());
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
}
