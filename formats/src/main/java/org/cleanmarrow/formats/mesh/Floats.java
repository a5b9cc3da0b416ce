package org.cleanmarrow.formats.mesh;

import java.util.Arrays;

/** A list of float32 numbers that grows. */
public final class Floats {
    private float[] values = new float[1024];
    private int size;

    public void add(double value) {
        if (size == values.length) {
            values = Arrays.copyOf(values, size * 2);
        }
        values[size++] = (float) value;
    }

    public int size() {
        return size;
    }

    public float get(int i) {
        return values[i];
    }

    public float[] array() {
        return values;
    }
}
