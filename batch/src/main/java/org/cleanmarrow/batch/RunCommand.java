package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.FileTroubles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "run", description = "Replays a ledger on files, delivers them and reads them back.")
final class RunCommand extends JsonCommand {
    @Parameters(index = "0", paramLabel = "LEDGER", description = "ledger file; an empty one delivers what was read")
    private Path ledger;

    @Parameters(
            index = "1..*",
            arity = "1..*",
            paramLabel = "FILE",
            description = "files, folders or patterns such as '*.glb', each file by itself")
    private List<Path> files;

    @Option(names = "--out", paramLabel = "DIR", required = true, description = "folder to deliver to")
    private Path out;

    @Mixin
    private FormatOption format;

    @Mixin
    private Batch batch;

    @Option(names = "--apart", description = "the model in one file, every clip in one of its own")
    private boolean apart;

    @Override
    public Integer call() throws Exception {
        Ledger steps = Ledger.parse(text(ledger));
        Recipe recipe = format.recipe(apart, Recipe.keptWith(steps));
        if (recipe.report()) {
            say("The report of the recipe is left out: run checks nothing. Use mend, or report.");
        }
        if (batch.isAskedFor(files)) {
            List<Path> reads =
                    Stream.concat(Stream.of(ledger), format.files().stream()).toList();
            return batch.run(files, Optional.of(out), reads, this::one, this::say, this::print);
        }
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        Told told = new Told(result, this::say);
        for (Path file : files) {
            try {
                deliver(file, steps, recipe, told);
            } catch (ReadFailed | Refused | IOException e) {
                if (told.hasDeliveredNone()) {
                    throw e;
                }
                // What was delivered before stands; the JSON says so, and what did not follow.
                told.failed(file, FileTroubles.say(e));
                told.finish();
                print(result);
                return 2;
            }
        }
        told.finish();
        print(result);
        return told.isSound() ? 0 : 1;
    }

    /** This command for one of its files. */
    private List<String> one(Path file, Path under) {
        List<String> all = new ArrayList<>(List.of("run", ledger.toString(), file.toString(), "--json"));
        all.addAll(format.again());
        all.addAll(List.of("--out", out.resolve(under).toString()));
        if (apart) {
            all.add("--apart");
        }
        return all;
    }

    private void deliver(Path file, Ledger steps, Recipe recipe, Told told) throws ReadFailed, Refused, IOException {
        Asset asset = AssetFiles.open(file, Work.QUIET);
        told.read(asset, file);
        List<Replay.Done> done = Replay.all(asset, steps, true, Work.QUIET);
        for (int i = 0; i < done.size(); i++) {
            told.step(done.get(i), steps.entries().get(i).on(), file);
            asset = done.get(i).asset();
        }
        told.delivered(Delivery.deliver(asset, out, recipe, Optional.empty(), Work.QUIET), file);
    }
}
