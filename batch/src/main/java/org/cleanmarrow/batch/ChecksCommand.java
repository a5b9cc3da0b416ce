package org.cleanmarrow.batch;

import java.util.Locale;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.text.Message;
import picocli.CommandLine.Command;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "checks", description = "Lists every check: why it matters, how it is measured, how it is mended.")
final class ChecksCommand extends JsonCommand {
    @Override
    public Integer call() {
        print(describeAll());
        return 0;
    }

    static ObjectNode describeAll() {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        ArrayNode checks = out.putArray("checks");
        for (Check check : Checks.ALL) {
            ObjectNode one = checks.addObject();
            one.put("check", check.id());
            one.put("station", check.station().name().toLowerCase(Locale.ROOT).replace('_', '-'));
            for (String part : new String[] {"why", "measured", "mended"}) {
                one.put(part, Message.of(part + "." + check.id()).toString());
            }
        }
        return out;
    }
}
