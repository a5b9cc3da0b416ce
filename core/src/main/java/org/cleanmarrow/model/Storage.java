package org.cleanmarrow.model;

/** How numbers were held in the file. {@code NORMALISED} integers stand for 0..1 or -1..1 (glTF 2.0, 3.6.2.2). */
public enum Storage {
    FLOAT,
    BYTE,
    UNSIGNED_BYTE,
    SHORT,
    UNSIGNED_SHORT,
    UNSIGNED_INT,
    BYTE_NORMALISED,
    UNSIGNED_BYTE_NORMALISED,
    SHORT_NORMALISED,
    UNSIGNED_SHORT_NORMALISED;

    public boolean normalised() {
        return ordinal() >= BYTE_NORMALISED.ordinal();
    }
}
