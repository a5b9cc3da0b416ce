package org.cleanmarrow.model;

/**
 * What a channel of a clip plays: so many numbers at each of its times. A clip's range, rate and keys come from its tracks,
 * whatever they move.
 */
public sealed interface Track permits Sampler, VertexTrack {
    /** Seconds, rising, at least one. */
    float[] times();

    /** Numbers a value. */
    int width();

    /**
     * The value of a key.
     *
     * @param key from 0 to under the number of times
     * @param out at least {@link #width} long
     */
    void at(int key, float[] out);
}
