package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.file.SmallText;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.Ledger;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What a delivery consists of, to be kept and used again, for all work or with one. As text: {@code {"recipe": 1, "name":
 * "SK_{asset}", "formats": ["glb", "dae"], "apart": true, "still": true, "roles": true, "report": true, "zip": true, "pictures":
 * "folder", "notes": "Import at 30 frames."}}; all but the first may be left out.
 *
 * @param name    how the files are called, with {@code {asset}} for the asset's own name; empty for that alone
 * @param formats endings, at least one, the first of which is the one to be opened first
 * @param apart   the model first, every clip in a file of its own
 * @param still   besides, the rest pose as parts that nothing moves, {@code name_v003.still}
 * @param roles   besides, which joint has which role, {@code name_v003.roles.json}
 * @param report  besides, a page about it; written by whoever knows the findings
 * @param zip     besides, all of it in one archive, {@code name_v003.zip}
 * @param pictures where those of the materials lie, as {@link Pictures.Place#key}; inside where nothing is said
 * @param notes   what whoever imports it must know, {@code name_v003.notes.txt}; none where it is blank
 */
public record Recipe(
        String name,
        List<String> formats,
        boolean apart,
        boolean still,
        boolean roles,
        boolean report,
        boolean zip,
        Pictures.Place pictures,
        String notes) {
    /** The asset's own name, in {@link #name}. */
    public static final String ASSET = "{asset}";

    /** A recipe is a handful of lines; what is larger is something else. */
    private static final long MOST_BYTES = 64 * 1024;

    private static final Set<String> KEYS =
            Set.of("recipe", "name", "formats", "apart", "still", "roles", "report", "zip", "pictures", "notes");

    public Recipe {
        formats = List.copyOf(formats);
    }

    /** One format, with the clips apart where they are wanted so. */
    public static Recipe of(String ending, boolean apart) {
        return new Recipe("", List.of(ending), apart, false, false, false, false, Pictures.Place.EMBEDDED, "");
    }

    /** The recipe that is kept with the work. */
    public static Optional<Recipe> keptWith(Ledger ledger) throws BadJson {
        return ledger.delivery().isEmpty() ? Optional.empty() : Optional.of(parse(ledger.delivery()));
    }

    /** What the files of an asset are called, before what the version adds. */
    String base(String asset) {
        return Delivery.legal(name.isBlank() ? asset : name.strip().replace(ASSET, asset));
    }

    /** The recipe as {@link #parse} takes it. */
    public String toJson() {
        ObjectNode json = JsonMapper.shared().createObjectNode();
        json.put("recipe", 1);
        json.put("name", name);
        ArrayNode endings = json.putArray("formats");
        formats.forEach(endings::add);
        json.put("apart", apart);
        json.put("still", still);
        json.put("roles", roles);
        json.put("report", report);
        json.put("zip", zip);
        json.put("pictures", pictures.key());
        json.put("notes", notes);
        return json.toPrettyString() + "\n";
    }

    /** @throws BadJson saying what was expected and what was found; what is not known is never passed over */
    public static Recipe parse(String text) throws BadJson {
        JsonNode json;
        try {
            json = JsonMapper.shared().readTree(text);
        } catch (JacksonException e) {
            throw new BadJson("not.json", e.getOriginalMessage());
        }
        if (!json.path("recipe").isInt() || json.path("recipe").intValue() != 1) {
            throw new BadJson("recipe.version", json.path("recipe").toString());
        }
        for (String key : json.propertyNames()) {
            if (!KEYS.contains(key)) {
                throw new BadJson(
                        "unknown.key",
                        key,
                        String.join(", ", KEYS.stream().sorted().toList()));
            }
        }
        return new Recipe(
                words(json, "name"),
                endings(json.path("formats")),
                flag(json, "apart"),
                flag(json, "still"),
                flag(json, "roles"),
                flag(json, "report"),
                flag(json, "zip"),
                pictures(json),
                words(json, "notes"));
    }

    private static String words(JsonNode json, String key) throws BadJson {
        JsonNode value = json.path(key);
        if (!value.isMissingNode() && !value.isString()) {
            throw new BadJson("recipe.words", key, value.toString());
        }
        return value.asString("");
    }

    private static Pictures.Place pictures(JsonNode json) throws BadJson {
        String key = words(json, "pictures");
        if (!json.has("pictures")) {
            return Pictures.Place.EMBEDDED;
        }
        return Pictures.Place.of(key)
                .orElseThrow(() -> new BadJson("recipe.pictures", String.join(", ", Pictures.Place.keys()), key));
    }

    private static List<String> endings(JsonNode json) throws BadJson {
        List<String> out = new ArrayList<>();
        for (JsonNode one : json) {
            if (!one.isString()
                    || !AssetFiles.written().contains(one.stringValue())
                    || out.contains(one.stringValue())) {
                throw new BadJson("recipe.format", String.join(", ", AssetFiles.written()), one.toString());
            }
            out.add(one.stringValue());
        }
        if (!json.isMissingNode() && (!json.isArray() || out.isEmpty())) {
            throw new BadJson("recipe.format", String.join(", ", AssetFiles.written()), json.toString());
        }
        return out.isEmpty() ? List.of("glb") : out;
    }

    private static boolean flag(JsonNode json, String key) throws BadJson {
        JsonNode value = json.path(key);
        if (!value.isMissingNode() && !value.isBoolean()) {
            throw new BadJson("recipe.flag", key, value.toString());
        }
        return value.asBoolean(false);
    }

    /** @throws ReadFailed saying where it is no recipe and what was expected */
    public static Recipe read(Path file) throws ReadFailed, IOException {
        String text = SmallText.read(file, MOST_BYTES, "a recipe, a JSON file");
        try {
            return parse(text);
        } catch (BadJson e) {
            throw new ReadFailed(String.valueOf(file.getFileName()), "", String.valueOf(e.getMessage()));
        }
    }

    /** Writes it whole or not at all, in place of what is there. */
    public void write(Path file) throws IOException {
        SafeFiles.replace(file, toJson().getBytes(StandardCharsets.UTF_8));
    }
}
