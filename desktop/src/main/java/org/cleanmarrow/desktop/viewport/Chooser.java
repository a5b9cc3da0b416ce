package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.geometry.Point2D;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.surface.MeshTopology;

/** Turns clicks and drags in the view into vertices: how far a pick reaches, and what a drag draws. */
public final class Chooser {
    public static final double LEAST_BRUSH = 4;
    public static final double MOST_BRUSH = 240;

    /** What one pick takes. */
    public enum Reach {
        VERTEX,
        FACE,
        ISLAND,
        PART
    }

    /** What a drag draws. */
    public enum Gesture {
        BOX,
        OUTLINE,
        BRUSH,
        /** Drags a brush that changes the surface, not the choice. */
        PAINT
    }

    private final ObjectProperty<Reach> reach = new SimpleObjectProperty<>(Reach.ISLAND);
    private final ObjectProperty<Gesture> gesture = new SimpleObjectProperty<>(Gesture.BOX);
    private final BooleanProperty seenOnly = new SimpleBooleanProperty();
    private final DoubleProperty brush = new SimpleDoubleProperty(28);

    public ObjectProperty<Reach> reach() {
        return reach;
    }

    public ObjectProperty<Gesture> gesture() {
        return gesture;
    }

    /** Whether a drag draws with a brush. */
    boolean brushes() {
        return gesture.get() == Gesture.BRUSH || gesture.get() == Gesture.PAINT;
    }

    /** Whether drags leave out what lies behind something. */
    public BooleanProperty seenOnly() {
        return seenOnly;
    }

    /** Radius of the brush in pixels of the picture, {@value #LEAST_BRUSH} to {@value #MOST_BRUSH}. */
    public DoubleProperty brush() {
        return brush;
    }

    public void scaleBrush(double factor) {
        brush.set(Math.clamp(brush.get() * factor, LEAST_BRUSH, MOST_BRUSH));
    }

    /** What a finished box or outline takes; empty where there is nothing inside. */
    Optional<Picker.Found> drawn(
            Asset asset, Picker picker, Camera camera, double width, double height, List<Point2D> line) {
        return Optional.ofNullable(picker.within(camera, width, height, region(line), seenOnly.get()))
                .map(found -> widened(asset, found));
    }

    private Picker.Region region(List<Point2D> line) {
        if (gesture.get() == Gesture.OUTLINE) {
            return Picker.Region.outline(
                    line.stream().mapToDouble(Point2D::getX).toArray(),
                    line.stream().mapToDouble(Point2D::getY).toArray());
        }
        Point2D a = line.getFirst();
        Point2D b = line.getLast();
        return Picker.Region.box(
                Math.min(a.getX(), b.getX()), Math.min(a.getY(), b.getY()),
                Math.max(a.getX(), b.getX()), Math.max(a.getY(), b.getY()));
    }

    /** What one touch of the brush takes. */
    Picker.Found touched(Asset asset, Picker picker, Camera camera, double width, double height, Picker.Hit hit) {
        double depth = camera.parallel() ? 1 : hit.distance() / camera.reach();
        double radius = brush.get() * camera.metresPerPixel(height) * depth;
        BitSet near = picker.around(camera, width, height, hit, radius, seenOnly.get());
        return widened(asset, new Picker.Found(hit.place().mesh(), near));
    }

    /** A drag takes whole faces, islands or parts where a click would. */
    private Picker.Found widened(Asset asset, Picker.Found found) {
        MeshTopology topology = MeshTopology.of(asset.meshes().get(found.mesh()));
        BitSet in = found.vertices();
        return new Picker.Found(
                found.mesh(),
                switch (reach.get()) {
                    case VERTEX -> in;
                    case FACE -> topology.facesOf(in, true);
                    case ISLAND -> topology.islandsOf(in);
                    case PART -> VertexChoice.all(asset.meshes().get(found.mesh()));
                });
    }
}
