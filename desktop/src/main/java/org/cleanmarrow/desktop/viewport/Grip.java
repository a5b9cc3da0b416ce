package org.cleanmarrow.desktop.viewport;

import javafx.scene.canvas.GraphicsContext;

/** Something in the view that a drag may take hold of, before it selects or draws anything. */
interface Grip {
    /** Takes hold of what lies under the pointer; false where there is nothing to hold. */
    boolean take(Sight sight, double x, double y);

    /** Whether there is something to hold. */
    boolean isOver(Sight sight, double x, double y);

    void drag(Sight sight, double x, double y);

    void release();

    void draw(GraphicsContext g, Sight sight);
}
