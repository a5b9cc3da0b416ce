package org.cleanmarrow.json;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Base64;
import java.util.BitSet;
import org.cleanmarrow.work.VertexSet;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Vertex sets as JSON: {@code "all"}, or {@code {"numbers": "0-411,500", "of", "topology", "positions"}} where
 * the last three remember the mesh they were chosen on and may be left out. Positions are little-endian float32
 * in base64.
 */
public final class VertexSetJson {
    /** No mesh that fits in memory has more vertices; a number above is a mistake or an attack. */
    private static final int MOST_VERTICES = 200_000_000;

    /** The form of it, a JSON Schema (2020-12). */
    public static final String SCHEMA = """
        {"anyOf": [{"const": "all"}, {"type": "object", "additionalProperties": false, "required": ["numbers"], "properties": {
          "numbers": {"type": "string", "pattern": "^([0-9]+(-[0-9]+)?(,[0-9]+(-[0-9]+)?)*)?$"},
          "of": {"type": "integer", "minimum": 1},
          "topology": {"type": "string", "pattern": "^[0-9a-f]+$"},
          "positions": {"type": "string", "contentEncoding": "base64"}}}]}""";

    private VertexSetJson() {}

    public static JsonNode write(VertexSet set) {
        if (set.everything()) {
            return JsonNodeFactory.instance.stringNode("all");
        }
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("numbers", ranges(set.vertices()));
        if (set.of() > 0) {
            out.put("of", set.of());
            out.put("topology", Long.toHexString(set.topology()));
            ByteBuffer bytes = ByteBuffer.allocate(set.positions().length * 4).order(ByteOrder.LITTLE_ENDIAN);
            bytes.asFloatBuffer().put(set.positions());
            out.put("positions", Base64.getEncoder().encodeToString(bytes.array()));
        }
        return out;
    }

    public static VertexSet read(JsonNode json, String where) throws BadJson {
        if (json.isString() && json.stringValue().equals("all")) {
            return VertexSet.ALL;
        }
        if (!json.isObject() || !json.path("numbers").isString()) {
            throw new BadJson("vertices", where);
        }
        BitSet numbers = parseRanges(json.path("numbers").stringValue(), where);
        if (!json.has("of")) {
            return VertexSet.numbers(numbers);
        }
        try {
            byte[] bytes = Base64.getDecoder().decode(json.path("positions").asString(""));
            float[] positions = new float[bytes.length / 4];
            ByteBuffer.wrap(bytes)
                    .order(ByteOrder.LITTLE_ENDIAN)
                    .asFloatBuffer()
                    .get(positions);
            if (positions.length != numbers.cardinality() * 3) {
                throw new BadJson("vertices", where);
            }
            long topology = Long.parseUnsignedLong(json.path("topology").asString(""), 16);
            return new VertexSet(numbers, json.path("of").asInt(0), topology, positions, false);
        } catch (IllegalArgumentException e) {
            throw new BadJson("vertices", where);
        }
    }

    private static String ranges(BitSet set) {
        StringBuilder out = new StringBuilder();
        for (int from = set.nextSetBit(0); from >= 0; ) {
            int to = set.nextClearBit(from) - 1;
            out.append(out.isEmpty() ? "" : ",").append(from);
            if (to > from) {
                out.append('-').append(to);
            }
            from = set.nextSetBit(to + 1);
        }
        return out.toString();
    }

    private static BitSet parseRanges(String text, String where) throws BadJson {
        BitSet out = new BitSet();
        if (text.isBlank()) {
            return out;
        }
        for (String part : text.split(",", -1)) {
            String[] ends = part.strip().split("-", -1);
            try {
                int from = Integer.parseInt(ends[0].strip());
                int to = ends.length == 1 ? from : Integer.parseInt(ends[1].strip());
                if (ends.length > 2 || from < 0 || to < from || to > MOST_VERTICES) {
                    throw new BadJson("vertices", where);
                }
                out.set(from, to + 1);
            } catch (NumberFormatException e) {
                throw new BadJson("vertices", where);
            }
        }
        return out;
    }
}
