package org.cleanmarrow.desktop.desk;

import java.util.List;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.IntegerProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleIntegerProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.beans.value.ObservableValue;
import org.cleanmarrow.model.Asset;

/** How the view shows the asset. None of it is part of the work. */
public final class ViewOptions {
    /** A vertex of a mesh, where an end of the tape is held. */
    public record Spot(int mesh, int vertex) {}

    /** A tape between two spots; either may be null while it is not yet held. */
    public record Tape(Spot from, Spot to) {
        public static final Tape NONE = new Tape(null, null);
    }

    private final ObjectProperty<Asset> tried = new SimpleObjectProperty<>();
    private final ObjectProperty<ShadingMode> paint = new SimpleObjectProperty<>();
    private final DoubleProperty divider = new SimpleDoubleProperty();
    private final BooleanProperty ghost = new SimpleBooleanProperty();
    private final BooleanProperty before = new SimpleBooleanProperty();
    private final BooleanProperty joints = new SimpleBooleanProperty();
    private final BooleanProperty names = new SimpleBooleanProperty();
    private final BooleanProperty shapes = new SimpleBooleanProperty();
    private final BooleanProperty wire = new SimpleBooleanProperty();
    private final BooleanProperty points = new SimpleBooleanProperty();
    private final BooleanProperty figure = new SimpleBooleanProperty();
    private final BooleanProperty cube = new SimpleBooleanProperty();
    private final BooleanProperty box = new SimpleBooleanProperty();
    private final BooleanProperty taping = new SimpleBooleanProperty();
    private final ObjectProperty<Tape> tape = new SimpleObjectProperty<>();
    private final BooleanProperty dual = new SimpleBooleanProperty();
    private final BooleanProperty relaxed = new SimpleBooleanProperty();
    private final IntegerProperty neighbours = new SimpleIntegerProperty();
    private final BooleanProperty uvs = new SimpleBooleanProperty();
    private final BooleanProperty turning = new SimpleBooleanProperty();

    ViewOptions() {
        reset();
    }

    /** As at the start. */
    final void reset() {
        tried.set(null);
        paint.set(ShadingMode.COLOURS);
        divider.set(0);
        tape.set(Tape.NONE);
        neighbours.set(0);
        List.of(joints, shapes).forEach(on -> on.set(true));
        List.of(ghost, before, names, wire, points, figure, cube, box, taping, dual, relaxed, uvs, turning)
                .forEach(off -> off.set(false));
    }

    /** Drawn in place of what is now, as long as something is only tried; else null. Of the same nodes. */
    public ObjectProperty<Asset> tried() {
        return tried;
    }

    public ObjectProperty<ShadingMode> paint() {
        return paint;
    }

    /** Share of the picture's width that shows the asset as received. */
    public DoubleProperty divider() {
        return divider;
    }

    /** What was received lies over what is now, see-through. */
    public BooleanProperty ghost() {
        return ghost;
    }

    /** Only what was received is shown, as long as a key is held. */
    public BooleanProperty before() {
        return before;
    }

    public BooleanProperty joints() {
        return joints;
    }

    /** Every joint's name beside it. */
    public BooleanProperty names() {
        return names;
    }

    /** What collides, at its station. */
    public BooleanProperty shapes() {
        return shapes;
    }

    public BooleanProperty wire() {
        return wire;
    }

    /** A dot on every vertex. */
    public BooleanProperty points() {
        return points;
    }

    /** A figure of 1.8 m stands beside the asset. */
    public BooleanProperty figure() {
        return figure;
    }

    /** A cube of 1 m stands beside the asset. */
    public BooleanProperty cube() {
        return cube;
    }

    /** The box around the asset, with its lengths. */
    public BooleanProperty box() {
        return box;
    }

    /** A click holds an end of the tape instead of choosing. */
    public BooleanProperty taping() {
        return taping;
    }

    public ObjectProperty<Tape> tape() {
        return tape;
    }

    /** Skins are blended by dual quaternions instead of linearly. */
    public BooleanProperty dual() {
        return dual;
    }

    /** Skins are smoothed after they are deformed, to see what a corrective could gain. */
    public BooleanProperty relaxed() {
        return relaxed;
    }

    /** Frames between the skeletons that are drawn before and after the moment shown; 0 for none. */
    public IntegerProperty neighbours() {
        return neighbours;
    }

    /** How the mesh in hand lies in its picture is shown beside the view. */
    public BooleanProperty uvs() {
        return uvs;
    }

    /** The asset turns slowly by itself. */
    public BooleanProperty turning() {
        return turning;
    }

    /** What the picture must be drawn anew for. */
    public List<ObservableValue<?>> inPicture() {
        return List.of(tried, paint, divider, ghost, before, wire, points, figure, cube, dual, relaxed);
    }

    /** What only the drawing over the picture shows. */
    public List<ObservableValue<?>> overPicture() {
        return List.of(joints, names, shapes, box, taping, tape, neighbours);
    }
}
