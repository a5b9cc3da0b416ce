package org.cleanmarrow.desktop.desk;

/** How surfaces are painted in the view. The shader knows them by their order. */
public enum Paint {
    COLOURS,
    CLAY,
    INFLUENCE
}
