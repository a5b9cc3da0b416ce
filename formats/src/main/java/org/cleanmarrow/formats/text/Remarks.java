package org.cleanmarrow.formats.text;

/** Remarks that our writers leave in formats which have no place of their own for what they say. */
public final class Remarks {
    /** Stands before the short name of the file's unit and axes, such as {@code z-up-cm-lh}. */
    public static final String CONVENTIONS = "conventions: ";

    /** Stands before the name of the clip that a row of files is the frames of. */
    public static final String CLIP = "clip: ";

    /** Stands before how many of a row of files are played in a second. */
    public static final String RATE = "frames per second: ";

    private Remarks() {}
}
