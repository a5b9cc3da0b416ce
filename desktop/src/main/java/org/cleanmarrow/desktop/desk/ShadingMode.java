package org.cleanmarrow.desktop.desk;

/** How surfaces are painted in the view; shaders know them by these names. */
public enum ShadingMode {
    /** Own colours and pictures, lit. */
    COLOURS,
    /** Own colours and pictures, without light. */
    FLAT,
    CLAY,
    /** How much the chosen joint moves each place. */
    INFLUENCE,
    /** How much two joints move each place, one colour each. */
    PAIR,
    /** Every joint in a colour of its own. */
    JOINTS,
    /** Which region of the body every triangle belongs to, a flat colour each. */
    REGIONS,
    /** How far the pose stretches and presses the surface. */
    STRAIN,
    /** How much of each vertex's weight follows other joints than it did as received. */
    CHANGED,
    /** How far the last step moves each vertex at most, over clips and trial poses. */
    PRICE,
    /** How far every vertex of a cloth may stray. */
    STRAY,
    NORMALS
}
