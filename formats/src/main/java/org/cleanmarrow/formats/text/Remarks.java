package org.cleanmarrow.formats.text;

/** Remarks that our writers leave in formats which have no place of their own for what they say. */
public final class Remarks {
    /** Stands before the short name of the file's unit and axes, such as {@code z-up-cm-lh}. */
    public static final String CONVENTIONS = "conventions: ";

    private Remarks() {}
}
