package org.cleanmarrow.examination;

import java.util.Locale;

/** How much a finding matters: a blocker must be mended, a caution should be looked at, a note is only said. */
public enum Severity {
    BLOCKER,
    CAUTION,
    NOTE;

    public String code() {
        return name().toLowerCase(Locale.ROOT);
    }
}
