package org.cleanmarrow.work;

import org.cleanmarrow.text.Messages;

/** A step that could not be done, with the reason and what to do, for people. Nothing was changed. */
public final class Refused extends Exception {
    private static final long serialVersionUID = 1;

    /** @param key of the sentence in the text bundle */
    public Refused(String key, Object... facts) {
        super(Messages.of("refused." + key, facts));
    }
}
