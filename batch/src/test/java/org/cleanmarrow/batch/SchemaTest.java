package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.checks.TargetJson;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Ledger;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * All JSON that is read or written, held against its schema by npm ajv 8.17.1, a general validator of JSON Schema 2020-12, which
 * also holds the schemas themselves against theirs.
 */
public class SchemaTest {
    private final List<String> arguments = new ArrayList<>();
    private Path folder;

    /** A folder with all schemas. */
    private static Path schemas() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        for (String name : SchemaCommand.NAMES) {
            Files.writeString(
                    folder.resolve(name + ".schema.json"),
                    Said.run("schema", name).out());
        }
        return folder;
    }

    /** What a text has that its schema does not allow; {@code []} where it fits. */
    static String errors(String schema, String text) throws Exception {
        Path folder = schemas();
        Path file = Files.writeString(folder.resolve("text.json"), text);
        String said = Witness.node("schema.mjs", folder.toString(), schema, file.toString());
        return JsonMapper.shared().readTree(said).path("errors").toString();
    }

    private void hold(String schema, String text) throws Exception {
        Path file = folder.resolve(arguments.size() + ".json");
        Files.writeString(file, text);
        arguments.addAll(List.of(schema, file.toString()));
    }

    private void said(String schema, String... command) throws Exception {
        hold(schema, Said.run(command).out());
    }

    @Test
    public void whatIsWrittenIsAsItsSchemaSaysAndWhatIsRefusedIsNot() throws Exception {
        folder = schemas();
        String hand = OpenSamples.path("generic-hand-left.glb").toString();
        Path random = folder.resolve("random.glb");
        Files.write(random, GltfWriter.glb(RandomAssets.of(8, 4, 40)));
        Path none = Files.writeString(folder.resolve("none.glb"), "nothing");
        String out = folder.resolve("out").toString();
        said("inspect", "inspect", hand, "--json");
        said("inspect", "inspect", random.toString());
        said("check", "check", random.toString(), "--target", "z-up-cm-lh", "--json");
        said("mend", "mend", random.toString(), none.toString(), "--report", "--out", out, "--json");
        said("mend", "mend", random.toString(), "--dry-run", "--json");
        said("report", "report", hand, "--out", out, "--json");
        Path ledger = folder.resolve("empty.json");
        Files.writeString(ledger, Ledger.EMPTY.toJson());
        said("run", "run", ledger.toString(), hand, none.toString(), "--out", out, "--json");
        said("reorder", "reorder", hand, "--like", hand, "--out", out, "--json");
        said("compare", "compare", hand, random.toString(), "--json");
        said("steps", "steps", "--json");
        said("checks", "checks", "--json");
        try (var files = Files.list(Path.of(out))) {
            for (Path file :
                    files.filter(f -> f.toString().endsWith(".manifest.json")).toList()) {
                hold("manifest", Files.readString(file));
            }
        }
        String target = """
            {"name": "Ferry kiosk", "conventions": "y-up-m-rh", "influences": 8, "clipSeconds": 0.5, "rates": [29.97],
             "names": [{"of": "joint", "pattern": "*"}], "jointsNeeded": [{"name": "hips", "parent": "root"}],
             "materialNames": "*", "extensions": [], "checks": {"end-joints": "off"}}""";
        hold("target", target);
        hold("target", TargetJson.write(TargetJson.read(target)));
        hold(
                "recipe",
                new Recipe(
                                "SK_{asset}",
                                AssetFiles.written(),
                                true,
                                true,
                                true,
                                true,
                                true,
                                Pictures.Place.FOLDER,
                                "Import at 30 frames.")
                        .toJson());
        hold("recipe", "{\"recipe\": 1}");
        int sound = arguments.size() / 2;
        hold("recipe", "{\"recipe\": 1, \"zipped\": true}");
        hold("recipe", "{\"recipe\": 1, \"formats\": [\"glb\", \"glb\"]}");
        hold("target", "{\"conventions\": \"y-up-m-rh\", \"jonits\": 3}");
        hold("target", "{\"conventions\": \"y-up-m-rh\", \"checks\": {\"end-joints\": \"grave\"}}");
        hold("target", "{\"joints\": 3}");
        hold("ledger", "{\"ledger\": 1, \"steps\": [{\"step\": \"no-such-step\"}]}");
        hold("ledger", "{\"ledger\": 1, \"steps\": [{\"step\": \"add-root\", \"nam\": \"root\"}]}");
        hold("manifest", "{\"manifest\": 1, \"delivery\": \"a\", \"files\": [{\"name\": \"a\", \"bytes\": 3}]}");

        arguments.addFirst(folder.toString());
        List<String> lines = Witness.node("schema.mjs", arguments.toArray(String[]::new))
                .lines()
                .toList();
        Map<String, String> wrong = new TreeMap<>();
        for (int i = 0; i < lines.size(); i++) {
            JsonNode line = JsonMapper.shared().readTree(lines.get(i));
            if (line.path("errors").isEmpty() != i < sound) {
                wrong.put(
                        i + " " + line.path("schema").stringValue(),
                        line.path("errors").toString());
            }
        }
        assertThat(lines).hasSize(sound + 8);
        assertThat(wrong).isEmpty();
    }

    @Test
    public void anUnknownSchemaIsSaidAndAllAreListed() {
        assertThat(Said.run("schema", "tagret").code()).isEqualTo(2);
        assertThat(Said.run("schema", "tagret").err()).contains("tagret").contains("target");
        assertThat(Said.run("schema").json().path("schemas")).hasSize(SchemaCommand.NAMES.size());
    }
}
