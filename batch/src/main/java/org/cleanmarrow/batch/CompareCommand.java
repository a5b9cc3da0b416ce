package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.List;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.uv.UvProof;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "compare", description = "Plays two files side by side and measures how far their surfaces part.")
final class CompareCommand extends JsonCommand {
    @Parameters(index = "0", paramLabel = "A", description = "first file")
    private Path first;

    @Parameters(index = "1", paramLabel = "B", description = "second file")
    private Path second;

    @Option(
            names = "--tolerance",
            paramLabel = "METRES",
            description =
                    "distance that still counts as the same; default what rounding can part them by, some millionths of their reach")
    private Double tolerance;

    @Override
    public Integer call() throws Exception {
        Asset a = AssetFiles.open(first, Work.QUIET);
        Asset b = AssetFiles.open(second, Work.QUIET);
        Motion motion = MotionProbe.compare(a, b, Work.QUIET);
        double limit = tolerance != null ? tolerance : motion.toleranceMetres();
        List<Message> differences = motion.differences(limit);
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("topology", motion.topology().map(Message::toString).orElse("same"));
        Numbers.put(out, "largestMetres", motion.largestMetres());
        Numbers.put(out, "meanMetres", motion.meanMetres());
        out.put("mesh", motion.mesh());
        out.put("vertex", motion.vertex());
        out.put("clip", motion.clip());
        out.put("seconds", motion.seconds());
        out.put("moments", motion.moments());
        Numbers.put(out, "jointsMetres", motion.jointsMetres());
        out.put("toleranceMetres", limit);
        sentences(motion.unmatched(), out.putArray("unmatched"));
        sentences(differences, out.putArray("differences"));
        sentences(Losses.between(a, b), out.putArray("losses"));
        ArrayNode proofs = out.putArray("textureCoordinates");
        UvProof.between(a, b).forEach(p -> proof(p, proofs.addObject()));
        print(out);
        return differences.isEmpty() ? 0 : 1;
    }

    private static void proof(UvProof proof, ObjectNode out) {
        out.put("mesh", proof.mesh());
        out.put("set", proof.set());
        out.put("sameTriangles", proof.difference().isPresent());
        proof.difference().ifPresent(d -> {
            out.put("islands", d.islands().size());
            out.put("changedIslands", d.changed());
            out.put("movedCorners", d.moved());
            out.put("largest", d.largest());
        });
    }

    private static void sentences(List<Message> messages, ArrayNode out) {
        messages.forEach(m -> out.add(m.toString()));
    }
}
