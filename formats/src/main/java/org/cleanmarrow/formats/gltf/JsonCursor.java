package org.cleanmarrow.formats.gltf;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Passthrough;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A place in a JSON document: reads typed values, and where they are wrong says where and what was expected. */
record JsonCursor(JsonNode json, String path, String file) {

    ReadFailed wrong(String key, String expected) {
        return new ReadFailed(file, path.isEmpty() ? key : path + (key.isEmpty() ? "" : "." + key), expected);
    }

    boolean has(String key) {
        return json.has(key);
    }

    JsonCursor at(String key) {
        return new JsonCursor(json.path(key), path.isEmpty() ? key : path + "." + key, file);
    }

    /** The objects of an array; none where the key is missing. */
    List<JsonCursor> objects(String key) throws ReadFailed {
        JsonNode array = json.path(key);
        if (array.isMissingNode()) {
            return List.of();
        }
        if (!array.isArray()) {
            throw wrong(key, "expected a list");
        }
        List<JsonCursor> out = new ArrayList<>(array.size());
        int i = 0;
        for (JsonNode element : array) {
            JsonCursor at = new JsonCursor(element, at(key).path + "[" + i++ + "]", file);
            if (!element.isObject()) {
                throw at.wrong("", "expected an object");
            }
            out.add(at);
        }
        return out;
    }

    String text(String key, String fallback) throws ReadFailed {
        JsonNode value = json.path(key);
        if (value.isMissingNode()) {
            return fallback;
        }
        if (!value.isString()) {
            throw wrong(key, "expected text");
        }
        return value.stringValue();
    }

    /** A whole number from least to most. */
    int number(String key, int fallback, int least, int most) throws ReadFailed {
        JsonNode value = json.path(key);
        if (value.isMissingNode()) {
            return fallback;
        }
        if (!value.isNumber() || value.doubleValue() != Math.rint(value.doubleValue())) {
            throw wrong(key, "expected a whole number, found " + brief(value));
        }
        double number = value.doubleValue();
        if (number < least || number > most) {
            throw wrong(key, "expected " + least + " to " + most + ", found " + brief(value));
        }
        return (int) number;
    }

    /** An index into a list of so many things; -1 where the key is missing. */
    int index(String key, int size, String ofWhat) throws ReadFailed {
        if (!has(key)) {
            return -1;
        }
        int found = number(key, -1, Integer.MIN_VALUE, Integer.MAX_VALUE);
        if (found < 0 || found >= size) {
            throw wrong(key, "there are " + size + " " + ofWhat + ", and this names number " + found);
        }
        return found;
    }

    int required(String key, int size, String ofWhat) throws ReadFailed {
        int found = index(key, size, ofWhat);
        if (found < 0) {
            throw wrong(key, "is missing");
        }
        return found;
    }

    boolean flag(String key) throws ReadFailed {
        JsonNode value = json.path(key);
        if (!value.isMissingNode() && !value.isBoolean()) {
            throw wrong(key, "expected true or false");
        }
        return value.asBoolean(false);
    }

    /** Indices into a list of so many things; empty where the key is missing. */
    int[] indices(String key, int size, String ofWhat) throws ReadFailed {
        JsonNode array = json.path(key);
        if (array.isMissingNode()) {
            return new int[0];
        }
        if (!array.isArray()) {
            throw wrong(key, "expected a list");
        }
        int[] out = new int[array.size()];
        for (int i = 0; i < out.length; i++) {
            JsonNode value = array.get(i);
            double found = value.isNumber() ? value.doubleValue() : -1;
            if (!(found >= 0 && found < size) || found != Math.rint(found)) {
                throw wrong(
                        key + "[" + i + "]", "there are " + size + " " + ofWhat + ", and this names " + brief(value));
            }
            out[i] = (int) found;
        }
        return out;
    }

    /** Numbers; {@code fallback} where the key is missing. A count below zero takes any. */
    /** Numbers of a list, or null where it is not there. */
    float @Nullable [] floatsIfAny(String key, int count) throws ReadFailed {
        return has(key) ? floats(key, count, new float[0]) : null;
    }

    float[] floats(String key, int count, float[] fallback) throws ReadFailed {
        JsonNode array = json.path(key);
        if (array.isMissingNode()) {
            return fallback;
        }
        if (!array.isArray() || count >= 0 && array.size() != count) {
            throw wrong(key, "expected a list of " + (count < 0 ? "" : count + " ") + "numbers");
        }
        float[] out = new float[array.size()];
        for (int i = 0; i < out.length; i++) {
            if (!array.get(i).isNumber()) {
                throw wrong(key + "[" + i + "]", "expected a number, found " + brief(array.get(i)));
            }
            out[i] = (float) array.get(i).doubleValue();
        }
        return out;
    }

    /** Everything here but the named keys, to be written back word for word. */
    Passthrough carried(Set<String> modelled) {
        if (!(json instanceof ObjectNode object)) {
            return Passthrough.NONE;
        }
        ObjectNode rest = object.deepCopy();
        rest.remove(modelled);
        return rest.isEmpty() ? Passthrough.NONE : new Passthrough(rest.toString());
    }

    private static String brief(JsonNode value) {
        String text = value.toString();
        return text.length() <= 40 ? text : text.substring(0, 37) + "...";
    }
}
