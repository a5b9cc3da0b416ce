package org.cleanmarrow.desktop.uv;

/** What the triangles are painted by. */
public enum UvPaint {
    /** A colour an island. */
    ISLANDS,
    /** What is painted there. */
    PICTURE,
    /** How large they are in the picture against what they are on the surface. */
    SCALE,
    /** How much their angles are distorted. */
    ANGLES
}
