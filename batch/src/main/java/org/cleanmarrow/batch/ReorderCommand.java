package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.Optional;
import org.cleanmarrow.edit.VertexOrder;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Work;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(
        name = "reorder",
        description =
                "Puts vertices and triangles back into the order of a template, delivers the file and reads it back.")
final class ReorderCommand extends JsonCommand {
    /** Numbers of vertices that are listed; all are counted. */
    private static final int MOST_LISTED = 10_000;

    @Parameters(paramLabel = "FILE", description = "file whose vertices an editor left in another order")
    private Path file;

    @Option(
            names = "--like",
            paramLabel = "TEMPLATE",
            required = true,
            description = "file with the meshes as they were, by the same names")
    private Path template;

    @Option(names = "--out", paramLabel = "DIR", required = true, description = "folder to deliver to")
    private Path out;

    @Mixin
    private FormatOption format;

    @Override
    public Integer call() throws Exception {
        Asset edited = AssetFiles.open(file, Work.QUIET);
        Asset like = AssetFiles.open(template, Work.QUIET);
        if (!like.conventions().equals(edited.conventions())) {
            like = new Convert(edited.conventions(), true)
                    .apply(like, Work.QUIET)
                    .asset();
        }
        VertexOrder order = VertexOrder.of(like, edited, Work.QUIET);
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        int matched =
                order.meshes().stream().mapToInt(VertexOrder.Reordered::matched).sum();
        int unmatched =
                order.meshes().stream().mapToInt(m -> m.unmatched().length).sum();
        result.put("matched", matched).put("unmatched", unmatched);
        ArrayNode meshes = result.putArray("meshes");
        for (VertexOrder.Reordered mesh : order.meshes()) {
            ObjectNode one = meshes.addObject().put("name", mesh.mesh());
            one.put("matched", mesh.matched()).put("unmatched", mesh.unmatched().length);
            one.put("welded", mesh.welded()).put("over", mesh.over());
            ArrayNode listed = one.putArray("unmatchedVertices");
            for (int i = 0; i < Math.min(MOST_LISTED, mesh.unmatched().length); i++) {
                listed.add(mesh.unmatched()[i]);
            }
            if (mesh.unmatched().length > 0) {
                say(mesh.mesh() + ": " + mesh.unmatched().length + " of the template's vertices could not be told.");
            }
        }
        Told told = new Told(result, this::say);
        told.read(edited, file);
        if (matched > 0) {
            told.delivered(
                    Delivery.deliver(order.asset(), out, format.recipe(false), Optional.empty(), Work.QUIET), file);
        }
        told.finish();
        print(result);
        return unmatched == 0 && told.isSound() ? 0 : 1;
    }
}
