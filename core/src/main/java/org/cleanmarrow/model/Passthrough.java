package org.cleanmarrow.model;

/**
 * What a file said beyond what the asset models, kept word for word so that it can be written back.
 *
 * @param json text of a JSON object, or empty when there was nothing
 */
public record Passthrough(String json) {
    public static final Passthrough NONE = new Passthrough("");

    public boolean isEmpty() {
        return json.isEmpty();
    }
}
