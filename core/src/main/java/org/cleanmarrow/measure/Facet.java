package org.cleanmarrow.measure;

import org.cleanmarrow.text.Message;
import org.joml.Matrix4d;

/** Things of one kind that two assets both have, in pairs, and how far each is from its twin. Vertices are compared apart. */
interface Facet {
    int size();

    /** Metres between the twins of a pair, worlds as posed; infinite where a number is not finite on one side alone. */
    double apart(int pair, Matrix4d[] worldA, Matrix4d[] worldB);

    /** What to call a pair. */
    String name(int pair);

    /** What is to be said of one that moves otherwise. */
    Message moved(int pair, double metres);
}
