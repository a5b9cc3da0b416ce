package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.model.Asset;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** What is told of files that were changed and delivered: steps, files, how they landed, what failed. */
final class Told {
    private final Consumer<String> say;
    private final ArrayNode steps;
    private final ArrayNode files;
    private final ArrayNode manifests;
    private final ArrayNode notes;
    private final ArrayNode failed;
    private final ObjectNode landing;
    private final List<String> differences = new ArrayList<>();
    private final List<String> losses = new ArrayList<>();
    private double largest;
    private double meanTotal;
    private int landed;
    private boolean sound = true;

    /** @param say takes what people are told besides */
    Told(ObjectNode result, Consumer<String> say) {
        this.say = say;
        steps = result.putArray("steps");
        files = result.putArray("files");
        manifests = result.putArray("manifests");
        landing = result.putObject("landing");
        notes = result.putArray("notes");
        failed = result.putArray("failed");
    }

    private static String about(Path file, Object what) {
        return file.getFileName() + ": " + what;
    }

    void read(Asset asset, Path file) {
        asset.notes().forEach(n -> {
            say.accept(about(file, n));
            notes.add(about(file, n));
        });
    }

    void step(Replay.Done done, boolean on, Path file) {
        sound &= done.outcome().isPresent() || !on;
        ObjectNode step = steps.addObject();
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
            say.accept(about(file, done.reason()));
        }
    }

    void delivered(Delivery.Delivered delivered, Path file) {
        delivered.notes().forEach(n -> say.accept(about(file, n)));
        delivered.differences().forEach(d -> say.accept(about(file, d)));
        delivered.files().forEach(f -> files.add(f.toString()));
        manifests.add(delivered.manifest().toString());
        delivered.notes().forEach(n -> losses.add(about(file, n)));
        delivered.differences().forEach(d -> differences.add(about(file, d)));
        largest = Math.max(largest, delivered.landing().largestMetres());
        meanTotal += delivered.landing().meanMetres();
        landed++;
    }

    void failed(Path file, String why) {
        say.accept(about(file, why));
        failed.addObject().put("file", file.toString()).put("reason", why);
    }

    boolean hasDeliveredNone() {
        return landed == 0;
    }

    /** Whether every step that was on was done, and all arrived as it was meant. */
    boolean isSound() {
        return sound && differences.isEmpty();
    }

    /** Puts in what is told of all files together. */
    void finish() {
        Numbers.put(landing, "largestMetres", largest);
        Numbers.put(landing, "meanMetres", landed == 0 ? 0 : meanTotal / landed);
        differences.forEach(landing.putArray("differences")::add);
        losses.forEach(landing.putArray("losses")::add);
    }
}
