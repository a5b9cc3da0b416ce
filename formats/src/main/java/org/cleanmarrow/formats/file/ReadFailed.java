package org.cleanmarrow.formats.file;

/** A file that cannot be read. The message names the file, the place in it, what was expected and what was found. */
public final class ReadFailed extends Exception {
    private static final long serialVersionUID = 1;

    /**
     * @param file     name of the file
     * @param place    such as {@code accessors[3].count}; empty for the file as a whole
     * @param expected what should be there, and what was found
     */
    public ReadFailed(String file, String place, String expected) {
        super(file + (place.isEmpty() ? "" : ", at " + place) + ": " + expected);
    }
}
