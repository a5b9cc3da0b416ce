package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Says from where on each level of detail is shown, in the node's extras: {@code "lod": {"level": 1, "screen": 0.25}} or
 * {@code "metres"} in place of {@code "screen"}.
 */
@StepInfo(name = "lod-distances", says = "Says from which distance or size on screen on each level of detail is shown.")
public record LodDistances(
        @Parameter(
                says = "screen: share of the height of the picture, falling; metres: distance, rising",
                fallback = "\"screen\"")
        Measure measure,

        @Parameter(says = "one number a level from level 0 on, with blanks between them")
        String values)
        implements Step {
    /** What the numbers are. */
    public enum Measure {
        SCREEN,
        METRES
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<Double> numbers = numbers();
        List<LodFamilies.Family> families = LodFamilies.of(asset);
        if (families.isEmpty()) {
            throw new Refused("lods.none");
        }
        List<Node> nodes = new ArrayList<>(asset.nodes());
        long said = 0;
        for (LodFamilies.Family family : families) {
            for (LodFamilies.Member member : family.members()) {
                if (member.level() < numbers.size()) {
                    Node node = nodes.get(member.node());
                    nodes.set(member.node(), node.withCarried(with(node.carried(), member.level(), numbers)));
                    said++;
                }
            }
        }
        return Change.of(asset.withNodes(nodes)).count("levels.given.their.range", said);
    }

    private Passthrough with(Passthrough carried, int level, List<Double> numbers) {
        ObjectNode json = carried.isEmpty()
                ? JsonMapper.shared().createObjectNode()
                : (ObjectNode) JsonMapper.shared().readTree(carried.json());
        ObjectNode extras =
                json.path("extras").isObject() ? (ObjectNode) json.path("extras") : json.putObject("extras");
        ObjectNode lod = extras.putObject("lod");
        lod.put("level", level);
        lod.put(measure == Measure.SCREEN ? "screen" : "metres", numbers.get(level));
        return new Passthrough(json.toString());
    }

    private List<Double> numbers() throws Refused {
        List<Double> out = new ArrayList<>();
        for (String word : values.strip().split("[\\s;]+")) {
            double value;
            try {
                value = Double.parseDouble(word);
            } catch (NumberFormatException e) {
                throw new Refused("lods.number", word);
            }
            boolean order =
                    out.isEmpty() || (measure == Measure.SCREEN ? value < out.getLast() : value > out.getLast());
            boolean range = measure == Measure.SCREEN ? value >= 0 && value <= 1 : value >= 0 && value < 1e9;
            if (!order || !range) {
                throw new Refused("lods." + (measure == Measure.SCREEN ? "screens" : "metres"), word);
            }
            out.add(value);
        }
        return out;
    }
}
