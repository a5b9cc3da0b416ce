package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.FileTroubles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.report.Report;
import org.cleanmarrow.formats.report.ReportFiles;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.MendPlan;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "mend", description = "Mends what needs no decision, delivers files and reads them back.")
final class MendCommand extends JsonCommand {
    @Parameters(
            paramLabel = "FILE",
            arity = "1..*",
            description = "files, folders or patterns such as '*.glb', each file by itself")
    private List<Path> files;

    @Mixin
    private TargetOption target;

    @Option(names = "--out", paramLabel = "DIR", description = "folder to deliver to")
    private Path out;

    @Option(names = "--dry-run", description = "tell what would be done, and write nothing")
    private boolean dry;

    @Mixin
    private Batch batch;

    @Option(
            names = "--report",
            description = "write a page with pictures, findings and what was done beside the delivery")
    private boolean report;

    @Option(
            names = "--most-moved",
            paramLabel = "METRES",
            defaultValue = "Infinity",
            description = "take back every fix that moves anything further; no bound where it is left out")
    private double most;

    @Mixin
    private FormatOption format;

    private Recipe recipe;

    @Override
    public Integer call() throws Exception {
        if (out == null && !dry) {
            say("Where to? Give a folder with --out, or --dry-run to write nothing.");
            return 2;
        }
        if (!(most >= 0)) {
            say("Expected --most-moved to be metres from 0 on, found " + most + ".");
            return 2;
        }
        Optional<Target> wanted = target.wanted(this::say);
        if (wanted.isEmpty()) {
            return 2;
        }
        recipe = format.recipe(false);
        if (batch.isAskedFor(files)) {
            List<Path> reads = Stream.concat(target.file().stream(), format.files().stream())
                    .toList();
            return batch.run(
                    files, dry ? Optional.empty() : Optional.of(out), reads, this::one, this::say, this::print);
        }
        if (files.size() == 1) {
            ObjectNode one = JsonNodeFactory.instance.objectNode();
            int code = mend(files.getFirst(), wanted.get(), one);
            print(one);
            return code;
        }
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        ArrayNode assets = result.putArray("assets");
        int code = 0;
        for (Path file : files) {
            ObjectNode one = assets.addObject().put("source", file.toString());
            code = Math.max(code, mendOrSay(file, wanted.get(), one));
        }
        print(result);
        return code;
    }

    /** This command for one of its files. */
    private List<String> one(Path file, Path under) {
        List<String> all = new ArrayList<>(List.of("mend", file.toString(), "--json", "--target", target.text()));
        all.addAll(List.of("--most-moved", Double.toString(most)));
        all.addAll(format.again());
        if (report) {
            all.add("--report");
        }
        all.addAll(
                dry ? List.of("--dry-run") : List.of("--out", out.resolve(under).toString()));
        return all;
    }

    /** A file that cannot be read or delivered does not stop the others. */
    private int mendOrSay(Path file, Target wanted, ObjectNode one) {
        try {
            return mend(file, wanted, one);
        } catch (ReadFailed | Refused | IOException e) {
            String why = FileTroubles.say(e);
            say(file.getFileName() + ": " + why);
            one.removeAll();
            one.put("source", file.toString()).put("reason", why);
            return 2;
        }
    }

    private int mend(Path file, Target wanted, ObjectNode one) throws ReadFailed, Refused, IOException {
        Asset asset = AssetFiles.open(file, Work.QUIET);
        MendPlan plan = MendPlan.of(asset, Optional.empty(), (a, w) -> Checks.run(a, wanted, w), most, Work.QUIET);
        Ledger ledger = Ledger.EMPTY;
        for (Step step : plan.steps()) {
            ledger = ledger.plus(step);
        }
        one.set("ledger", json(ledger));
        Told told = new Told(one, this::say);
        told.read(asset, file);
        for (Replay.Done done : plan.done()) {
            told.step(done, true, file);
            asset = done.asset();
        }
        List<Finding> left = new ArrayList<>(plan.left());
        if (!dry) {
            Delivery.Delivered delivered = Delivery.deliver(asset, out, recipe, Optional.of(ledger), Work.QUIET);
            told.delivered(delivered, file);
            one.put("ledgerFile", delivered.ledger().orElseThrow().toString());
            left.addAll(delivered.tooLarge(wanted));
            if (report || recipe.report()) {
                one.put(
                        "reportFile",
                        report(asset, wanted, left, plan, delivered).toString());
            }
        }
        ArrayNode listed = one.putArray("left");
        for (Finding finding : left) {
            ObjectNode json = listed.addObject();
            CheckCommand.name(finding, json);
            json.put("reason", plan.why(finding).toString());
        }
        told.finish();
        boolean blocked = left.stream().anyMatch(f -> f.severity() == Severity.BLOCKER);
        return blocked || !told.isSound() ? 1 : 0;
    }

    private static Path report(
            Asset asset, Target wanted, List<Finding> left, MendPlan plan, Delivery.Delivered delivered)
            throws IOException {
        Map<Finding, Message> why = new HashMap<>();
        left.forEach(f -> why.put(f, plan.why(f)));
        Report page = new Report(asset, wanted, left, why, plan.done(), Optional.of(delivered));
        return ReportFiles.beside(delivered, page.page(Work.QUIET));
    }

    private static JsonNode json(Ledger ledger) {
        return JsonMapper.shared().readTree(ledger.toJson());
    }
}
