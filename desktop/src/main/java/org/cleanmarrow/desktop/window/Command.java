package org.cleanmarrow.desktop.window;

import java.util.function.BooleanSupplier;
import org.cleanmarrow.desktop.text.Labels;

/**
 * Something the interface can do.
 *
 * @param id   short and stable; its name is the text {@code act.<id>}
 * @param keys the combination it comes with, as {@link javafx.scene.input.KeyCombination} reads it; empty: none
 * @param can  whether it can be done now
 */
record Command(String id, String keys, BooleanSupplier can, Runnable run) {
    String name() {
        return Labels.of("act." + id);
    }
}
