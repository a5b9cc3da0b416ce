package org.cleanmarrow.batch;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.step.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "run", description = "Replays a ledger on files, delivers them and reads them back.")
final class RunCommand extends JsonCommand {
    @Parameters(index = "0", paramLabel = "LEDGER", description = "ledger file; an empty one delivers what was read")
    private Path ledger;

    @Parameters(index = "1..*", arity = "1..*", paramLabel = "FILE", description = "files to run it on, each by itself")
    private List<Path> files;

    @Option(names = "--out", paramLabel = "DIR", required = true, description = "folder to deliver to")
    private Path out;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            defaultValue = "glb",
            description = "glb, dae, obj, ply or bvh; glb where it is left out")
    private String format;

    /** Delivered data are float32, so reading back may differ in the last place. */
    private static final double SAME = 1e-6;

    @Override
    public Integer call() throws Exception {
        Ledger steps = Ledger.parse(Files.readString(ledger));
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        ArrayNode stepList = result.putArray("steps");
        ArrayNode fileList = result.putArray("files");
        double largest = 0;
        double meanTotal = 0;
        boolean sound = true;
        for (Path file : files) {
            Asset asset = AssetFiles.open(file, Work.QUIET);
            for (Replay.Done done : Replay.all(asset, steps, true, Work.QUIET)) {
                describe(done, file, stepList.addObject());
                sound &= done.change().isPresent();
                asset = done.asset();
            }
            Delivery.Delivered delivered = Delivery.deliver(asset, out, format, Work.QUIET);
            delivered.notes().forEach(n -> say(file.getFileName() + ": " + n));
            delivered.files().forEach(f -> fileList.add(f.toString()));
            largest = Math.max(largest, delivered.landing().largestMetres());
            meanTotal += delivered.landing().meanMetres();
            double size = Box.ofRest(asset).diagonal() * asset.conventions().metresPerUnit();
            sound &= delivered.landing().largestMetres() <= SAME * size;
        }
        ObjectNode landing = result.putObject("landing");
        landing.put("largestMetres", largest);
        landing.put("meanMetres", meanTotal / files.size());
        print(result);
        return sound ? 0 : 1;
    }

    private void describe(Replay.Done done, Path file, ObjectNode step) {
        step.put("step", StepCodec.info(done.step().getClass()).name());
        step.put("done", done.change().isPresent());
        step.put("reason", done.reason());
        ObjectNode counts = step.putObject("counts");
        done.change().ifPresent(c -> c.counts().forEach(counts::put));
        if (done.motion().isPresent()) {
            step.put("largestMovementMetres", done.motion().get().largestMetres());
        } else {
            step.putNull("largestMovementMetres");
        }
        ArrayNode notes = step.putArray("notes");
        done.change().ifPresent(c -> c.notes().forEach(notes::add));
        step.put("source", file.toString());
        if (!done.reason().isEmpty()) {
            say(file.getFileName() + ": " + done.reason());
        }
    }
}
