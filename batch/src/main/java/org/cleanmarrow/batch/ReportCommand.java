package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.report.Report;
import org.cleanmarrow.formats.report.ReportFiles;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(
        name = "report",
        description = "Writes one page about a file: pictures, what is in it, and what is wrong with it for a target.")
final class ReportCommand extends JsonCommand {
    @Parameters(paramLabel = "FILE", description = "file to report on")
    private Path file;

    @Mixin
    private TargetOption target;

    @Option(names = "--out", paramLabel = "DIR", required = true, description = "folder to write the page to")
    private Path out;

    @Override
    public Integer call() throws Exception {
        Optional<Target> wanted = target.wanted(this::say);
        if (wanted.isEmpty()) {
            return 2;
        }
        Asset asset = AssetFiles.open(file, Work.QUIET);
        List<Finding> findings = Checks.run(asset, wanted.get(), Work.QUIET);
        byte[] page = new Report(asset, wanted.get(), findings, Map.of(), List.of(), Optional.empty()).page(Work.QUIET);
        Path written = ReportFiles.into(out, asset.name(), page);
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        result.put("reportFile", written.toString());
        result.put("bytes", page.length);
        result.put("findings", findings.size());
        print(result);
        return findings.isEmpty() ? 0 : 1;
    }
}
