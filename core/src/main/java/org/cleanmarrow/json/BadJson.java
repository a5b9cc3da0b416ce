package org.cleanmarrow.json;

import org.cleanmarrow.text.Message;

/** A text of JSON that cannot be read; the message says where, what was expected and what was found. */
public final class BadJson extends Exception {
    private static final long serialVersionUID = 1;

    public BadJson(String key, Object... facts) {
        super(Message.of("json." + key, facts).toString());
    }
}
