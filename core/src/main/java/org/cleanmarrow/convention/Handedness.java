package org.cleanmarrow.convention;

import java.util.Locale;

/** Which way the third axis points when thumb and first finger follow the first two. */
public enum Handedness {
    RIGHT,
    LEFT;

    /** {@code right} or {@code left}, as written in JSON. */
    public String code() {
        return name().toLowerCase(Locale.ROOT);
    }
}
