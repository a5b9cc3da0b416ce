package org.cleanmarrow.batch;

import java.nio.file.Path;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.probe.Motion;
import org.cleanmarrow.probe.MotionProbe;
import org.cleanmarrow.step.Work;
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
            description = "distance that still counts as the same; default a millionth of the first file's size")
    private Double tolerance;

    @Override
    public Integer call() throws Exception {
        Asset a = AssetFiles.open(first, Work.QUIET);
        Asset b = AssetFiles.open(second, Work.QUIET);
        Motion motion = MotionProbe.compare(a, b, Work.QUIET);
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("topology", motion.topology());
        out.put("largestMetres", motion.largestMetres());
        out.put("meanMetres", motion.meanMetres());
        out.put("mesh", motion.mesh());
        out.put("vertex", motion.vertex());
        out.put("clip", motion.clip());
        out.put("seconds", motion.seconds());
        out.put("moments", motion.moments());
        ArrayNode unmatched = out.putArray("unmatched");
        motion.unmatched().forEach(unmatched::add);
        print(out);
        double size = Box.ofRest(a).diagonal() * a.conventions().metresPerUnit();
        double limit = tolerance != null ? tolerance : 1e-6 * size;
        boolean same = motion.sameTopology() && motion.unmatched().isEmpty() && motion.largestMetres() <= limit;
        return same ? 0 : 1;
    }
}
