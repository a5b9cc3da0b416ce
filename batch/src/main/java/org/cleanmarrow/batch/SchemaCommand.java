package org.cleanmarrow.batch;

import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.checks.TargetSchema;
import org.cleanmarrow.ledger.LedgerSchema;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;

@Command(name = "schema", description = "Prints the JSON Schema of a file or an answer, or lists those there are.")
final class SchemaCommand extends JsonCommand {
    private static final String TARGET = "target";
    private static final String LEDGER = "ledger";

    /** What is read and what is printed; {@code common} is what several refer to. */
    static final List<String> NAMES = List.of(
            TARGET,
            LEDGER,
            "manifest",
            "recipe",
            "inspect",
            "check",
            "mend",
            "run",
            "reorder",
            "compare",
            "report",
            "steps",
            "checks",
            "common");

    @Parameters(paramLabel = "NAME", arity = "0..1", description = "target, ledger, manifest, recipe, or a command")
    private String name;

    @Override
    public Integer call() throws Exception {
        if (name == null) {
            ArrayNode names = JsonNodeFactory.instance.arrayNode();
            NAMES.forEach(names::add);
            print(JsonNodeFactory.instance.objectNode().set("schemas", names));
            return 0;
        }
        if (!NAMES.contains(name)) {
            say("There is no schema \"" + name + "\". There are: " + String.join(", ", NAMES) + ".");
            return 2;
        }
        print(schema(name));
        return 0;
    }

    private static JsonNode schema(String name) throws IOException {
        return switch (name) {
            case TARGET -> TargetSchema.of();
            case LEDGER -> LedgerSchema.of();
            default -> {
                String resource = "schema/" + name + ".schema.json";
                try (InputStream in = Objects.requireNonNull(SchemaCommand.class.getResourceAsStream(resource))) {
                    yield JsonMapper.shared().readTree(in);
                }
            }
        };
    }
}
