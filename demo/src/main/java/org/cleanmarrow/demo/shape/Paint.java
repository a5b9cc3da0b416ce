package org.cleanmarrow.demo.shape;

import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Passthrough;

/** Plain colours of the demo. */
public final class Paint {
    private Paint() {}

    /** A material of one colour, in linear values. */
    public static Material of(String name, float r, float g, float b) {
        return new Material(name, new float[] {r, g, b, 1}, -1, false, Passthrough.NONE);
    }
}
