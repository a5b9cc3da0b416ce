package org.cleanmarrow.json;

import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * One type that a step's parameter may have: everything that the ledger, {@code steps --json}, the form in which it is edited
 * and the tests need to know of it. A new one is one line in {@link ParameterTypes}.
 *
 * @param type    class of the record's component
 * @param says    what it is called where something else was given
 * @param form    how it is edited
 * @param example any sound value
 * @param write   its JSON
 * @param read    its value from JSON that nobody vouches for
 * @param schema  the form of its JSON, a JSON Schema (2020-12)
 */
public record ParameterType<T>(
        Class<T> type, String says, Form form, T example, Function<T, JsonNode> write, Reader<T> read, String schema) {

    /** How a value is edited by hand. */
    public enum Form {
        TEXT,
        NUMBER,
        SWITCH,
        CHOICE,
        /** As JSON. */
        STRUCTURE,
        /** Chosen on the model, not typed. */
        CHOSEN
    }

    /** Reads a value. */
    @FunctionalInterface
    public interface Reader<T> {
        /**
         * @param where for messages
         * @return null where it is not of this type
         * @throws BadJson where more can be said than what type was expected
         */
        @Nullable
        T read(JsonNode json, String where) throws BadJson;
    }

    /** JSON of a value of this type. */
    public JsonNode toJson(Object value) {
        return write.apply(type.cast(value));
    }
}
