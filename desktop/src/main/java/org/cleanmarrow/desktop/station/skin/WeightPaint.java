package org.cleanmarrow.desktop.station.skin;

import java.util.BitSet;
import java.util.Optional;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleObjectProperty;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Picker;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;

/** The brush over the weights of a skinned part: towards or away from the chosen joint, or evening out. */
final class WeightPaint implements Brush.Paint {
    private final ObjectProperty<Stroke.Mode> mode = new SimpleObjectProperty<>(Stroke.Mode.ADD);
    private final DoubleProperty goal = new SimpleDoubleProperty(1);
    private final BooleanProperty mirrored = new SimpleBooleanProperty();

    ObjectProperty<Stroke.Mode> mode() {
        return mode;
    }

    /** Weight that {@link Stroke.Mode#SET} goes towards. */
    DoubleProperty goal() {
        return goal;
    }

    BooleanProperty mirrored() {
        return mirrored;
    }

    @Override
    public String advice() {
        return Labels.of("brush.cannot");
    }

    /** Whether the joint that is chosen matters. */
    private boolean ofJoint() {
        return mode.get() == Stroke.Mode.ADD || mode.get() == Stroke.Mode.TAKE || mode.get() == Stroke.Mode.SET;
    }

    @Override
    public Optional<Brush.Drawn> begin(Desk desk, Picker.Hit hit) {
        Asset asset = desk.now();
        Mesh painted = asset.meshes().get(hit.place().mesh());
        if (hit.place().skin() < 0 || !painted.skinned()) {
            return Optional.empty();
        }
        Skin skin = asset.skins().get(hit.place().skin());
        BitSet locked = PaintWeights.locked(asset, skin, desk.selection().lockedJoints());
        int joint = desk.selection().jointNode() < 0
                ? -1
                : skin.indexOfNode(desk.selection().jointNode());
        if (ofJoint() && (joint < 0 || locked.get(joint))) {
            return Optional.empty();
        }
        return Optional.of(new Weights(desk, painted, joint, locked));
    }

    private final class Weights implements Brush.Drawn {
        private final Desk desk;
        private final WeldedSurface surface;
        private final Influences places;
        private final int joint;
        private final BitSet locked;

        Weights(Desk desk, Mesh mesh, int joint, BitSet locked) {
            this.desk = desk;
            this.joint = joint;
            this.locked = locked;
            surface = MeshTopology.of(mesh).welded(mesh);
            places = mode.get() == Stroke.Mode.SMOOTH ? WeldedWeights.of(mesh, surface) : null;
        }

        @Override
        public Mesh live(Mesh mesh, float[] amounts, BitSet touched) {
            Stroke stroke = new Stroke(mode.get(), surface, () -> places, joint, goal.get(), locked, amounts);
            return PaintWeights.live(mesh, stroke, touched);
        }

        @Override
        public Step step(String mesh, VertexAmounts amounts) {
            return new PaintWeights(
                    mesh,
                    desk.selection().joint().get(),
                    mode.get(),
                    amounts,
                    goal.get(),
                    desk.selection().lockedJoints(),
                    mirrored.get());
        }
    }
}
