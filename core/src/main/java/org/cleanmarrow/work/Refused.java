package org.cleanmarrow.work;

import org.cleanmarrow.text.Message;

/** A step that could not be done, with the reason and what to do, for people. Nothing was changed. */
public final class Refused extends Exception {
    private static final long serialVersionUID = 1;

    private final transient Message reason;

    /** @param key {@code refused.<key>} in the bundle */
    public Refused(String key, Object... facts) {
        this(Message.of("refused." + key, facts));
    }

    private Refused(Message reason) {
        super(reason.key());
        this.reason = reason;
    }

    public Message reason() {
        return reason;
    }

    @Override
    public String getMessage() {
        return reason.toString();
    }
}
