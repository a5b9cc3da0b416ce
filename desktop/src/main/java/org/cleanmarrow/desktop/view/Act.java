package org.cleanmarrow.desktop.view;

import java.util.function.BooleanSupplier;
import org.cleanmarrow.desktop.text.Words;

/**
 * Something the interface can do.
 *
 * @param id   short and stable; its name is the text {@code act.<id>}
 * @param keys the combination it comes with, as {@link javafx.scene.input.KeyCombination} reads it; empty: none
 * @param can  whether it can be done now
 */
record Act(String id, String keys, BooleanSupplier can, Runnable run) {
    String name() {
        return Words.of("act." + id);
    }
}
