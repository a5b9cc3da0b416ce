package org.cleanmarrow.ledger;

import org.cleanmarrow.text.Text;

/** A ledger text that cannot be read; the message says where, what was expected and what was found. */
public final class BadLedger extends Exception {
    private static final long serialVersionUID = 1;

    public BadLedger(String key, Object... facts) {
        super(Text.of("ledger." + key, facts));
    }
}
