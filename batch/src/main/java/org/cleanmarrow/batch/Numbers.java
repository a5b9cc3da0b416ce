package org.cleanmarrow.batch;

import java.math.BigDecimal;
import tools.jackson.databind.node.ObjectNode;

/** Numbers in JSON, which knows none that are not finite. */
final class Numbers {
    /** Read as infinite by whatever reads numbers as doubles. */
    private static final BigDecimal INFINITE = new BigDecimal("1E+999");

    private Numbers() {}

    static void put(ObjectNode out, String name, double value) {
        if (Double.isFinite(value)) {
            out.put(name, value);
        } else {
            out.put(name, INFINITE);
        }
    }
}
