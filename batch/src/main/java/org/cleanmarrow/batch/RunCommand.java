package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.FileTroubles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
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

    @Option(names = "--apart", description = "the model in one file, every clip in one of its own")
    private boolean apart;

    @Override
    public Integer call() throws Exception {
        Ledger steps = Ledger.parse(text(ledger));
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        Told told = new Told(result);
        for (Path file : files) {
            try {
                deliver(file, steps, told);
            } catch (ReadFailed | Refused | IOException e) {
                if (told.landed == 0) {
                    throw e;
                }
                // What was delivered before stands; the JSON says so, and what did not follow.
                say(file.getFileName() + ": " + FileTroubles.say(e));
                told.failed.addObject().put("file", file.toString()).put("reason", FileTroubles.say(e));
                told.finish();
                print(result);
                return 2;
            }
        }
        told.finish();
        print(result);
        return told.sound ? 0 : 1;
    }

    /** What is told of all files together. */
    private static final class Told {
        private final ArrayNode steps;
        private final ArrayNode files;
        private final ArrayNode notes;
        private final ArrayNode failed;
        private final ObjectNode landing;
        private final List<String> differences = new ArrayList<>();
        private final List<String> losses = new ArrayList<>();
        private double largest;
        private double meanTotal;
        private int landed;
        private boolean sound = true;

        Told(ObjectNode result) {
            steps = result.putArray("steps");
            files = result.putArray("files");
            landing = result.putObject("landing");
            notes = result.putArray("notes");
            failed = result.putArray("failed");
        }

        void finish() {
            Numbers.put(landing, "largestMetres", largest);
            Numbers.put(landing, "meanMetres", landed == 0 ? 0 : meanTotal / landed);
            differences.forEach(landing.putArray("differences")::add);
            losses.forEach(landing.putArray("losses")::add);
            sound &= differences.isEmpty();
        }
    }

    private void deliver(Path file, Ledger steps, Told told) throws ReadFailed, Refused, IOException {
        Asset asset = AssetFiles.open(file, Work.QUIET);
        asset.notes().forEach(n -> {
            say(file.getFileName() + ": " + n);
            told.notes.add(file.getFileName() + ": " + n);
        });
        List<Replay.Done> done = Replay.all(asset, steps, true, Work.QUIET);
        for (int i = 0; i < done.size(); i++) {
            describe(done.get(i), steps.entries().get(i).on(), file, told.steps.addObject());
            told.sound &=
                    done.get(i).outcome().isPresent() || !steps.entries().get(i).on();
            asset = done.get(i).asset();
        }
        Delivery.Delivered delivered = Delivery.deliver(asset, out, format, apart, Work.QUIET);
        delivered.notes().forEach(n -> say(file.getFileName() + ": " + n));
        delivered.differences().forEach(d -> say(file.getFileName() + ": " + d));
        delivered.files().forEach(f -> told.files.add(f.toString()));
        delivered.notes().forEach(n -> told.losses.add(file.getFileName() + ": " + n));
        delivered.differences().forEach(d -> told.differences.add(file.getFileName() + ": " + d));
        told.largest = Math.max(told.largest, delivered.landing().largestMetres());
        told.meanTotal += delivered.landing().meanMetres();
        told.landed++;
    }

    private void describe(Replay.Done done, boolean on, Path file, ObjectNode step) {
        step.put("step", StepCodec.info(done.step().getClass()).name());
        step.put("on", on);
        step.put("done", done.outcome().isPresent());
        step.put("reason", done.reason());
        ObjectNode counts = step.putObject("counts");
        done.outcome().ifPresent(c -> c.counts().forEach((what, many) -> counts.put(what.toString(), many)));
        if (done.motion().isPresent()) {
            Numbers.put(step, "largestMovementMetres", done.motion().get().largestMetres());
        } else {
            step.putNull("largestMovementMetres");
        }
        ArrayNode notes = step.putArray("notes");
        done.outcome().ifPresent(c -> c.notes().forEach(n -> notes.add(n.toString())));
        step.put("source", file.toString());
        if (on && !done.reason().isEmpty()) {
            say(file.getFileName() + ": " + done.reason());
        }
    }
}
