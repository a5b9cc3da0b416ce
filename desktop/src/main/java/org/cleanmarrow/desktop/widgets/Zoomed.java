package org.cleanmarrow.desktop.widgets;

import javafx.beans.property.DoubleProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.scene.layout.Region;
import javafx.scene.transform.Scale;

/** Shows one region larger: it is laid out for less room and scaled up to fill what there is. */
public final class Zoomed extends Region {
    private final Region content;
    private final Scale scale = new Scale(1, 1);
    private final DoubleProperty factor = new SimpleDoubleProperty(1);

    public Zoomed(Region content) {
        this.content = content;
        content.getTransforms().add(scale);
        getChildren().add(content);
        factor.addListener((o, a, b) -> requestLayout());
    }

    /** How much larger; 1 for the size it was drawn for. */
    public DoubleProperty factor() {
        return factor;
    }

    @Override
    protected void layoutChildren() {
        double f = factor.get();
        scale.setX(f);
        scale.setY(f);
        content.resizeRelocate(0, 0, getWidth() / f, getHeight() / f);
    }
}
