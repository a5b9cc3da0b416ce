package org.cleanmarrow.trial;

import java.util.Optional;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * How far a hinged joint may turn, kept with it in its extras:
 * {@code "extras": {"swing": {"axis": "x", "degrees": [0, 68]}}}.
 *
 * @param axis one of the joint's own: 0 x, 1 y, 2 z
 * @param from degrees from rest, at most {@code to}
 */
public record Swing(int axis, double from, double to) {
    private static final String KEY = "swing";
    private static final String AXES = "xyz";

    /** What a joint says. */
    public static Optional<Swing> of(Node node) {
        JsonNode said = Extras.of(node.carried(), KEY);
        int axis = said.path("axis").asString("").length() == 1
                ? AXES.indexOf(said.path("axis").stringValue())
                : -1;
        JsonNode degrees = said.path("degrees");
        if (axis < 0
                || degrees.size() != 2
                || !degrees.get(0).isNumber()
                || !degrees.get(1).isNumber()) {
            return Optional.empty();
        }
        Swing swing =
                new Swing(axis, degrees.get(0).doubleValue(), degrees.get(1).doubleValue());
        return swing.from <= swing.to ? Optional.of(swing) : Optional.empty();
    }

    /** The node with these limits, in place of those it had. */
    public Node on(Node node) {
        ObjectNode said = JsonNodeFactory.instance.objectNode();
        said.put("axis", AXES.substring(axis, axis + 1));
        said.putArray("degrees").add(from).add(to);
        Passthrough carried = Extras.with(node.carried(), KEY, said);
        return node.withCarried(carried);
    }
}
