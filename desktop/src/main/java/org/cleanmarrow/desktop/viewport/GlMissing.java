package org.cleanmarrow.desktop.viewport;

/** OpenGL cannot be had here; the message says what is missing. Everything but the picture works without it. */
public final class GlMissing extends Exception {
    private static final long serialVersionUID = 1;

    GlMissing(String what) {
        super(what);
    }
}
