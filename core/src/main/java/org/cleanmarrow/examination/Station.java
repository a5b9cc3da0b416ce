package org.cleanmarrow.examination;

/** The stages of the work, in order. */
public enum Station {
    INTAKE,
    SCALE_AND_AXES,
    SKELETON,
    SKIN,
    MOTION,
    CACHES,
    COLLISION,
    DELIVERY
}
