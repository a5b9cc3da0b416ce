package org.cleanmarrow.asset;

/**
 * What a file said beyond what the asset models, kept word for word so that it can be written back.
 *
 * @param json text of a JSON object, or empty when there was nothing
 */
public record Carried(String json) {
    public static final Carried NONE = new Carried("");

    public boolean isEmpty() {
        return json.isEmpty();
    }
}
