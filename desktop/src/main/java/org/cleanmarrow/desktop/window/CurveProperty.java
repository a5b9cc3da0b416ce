package org.cleanmarrow.desktop.window;

import org.cleanmarrow.model.Channel;

/** What of the joint is shown. */
enum CurveProperty {
    ROTATION,
    TRANSLATION,
    SCALE,
    WEIGHTS;

    Channel.Path path() {
        return Channel.Path.valueOf(name());
    }

    /** The least that the height of the picture stands for: degrees, metres, or as they are. */
    double least() {
        return this == ROTATION ? 2 : this == TRANSLATION ? 0.002 : 0.02;
    }
}
