package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import java.util.Optional;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleObjectProperty;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.VertexAmounts;

/** A brush that changes weights: what it does, and the stroke that is being drawn. A stroke becomes one step. */
public final class WeightBrush {
    /** How the strength falls off from the middle of the brush to its rim. */
    public enum Falloff {
        SOFT,
        LINEAR,
        HARD;

        double at(double share) {
            double rest = 1 - share;
            return switch (this) {
                case SOFT -> rest * rest * (3 - 2 * rest);
                case LINEAR -> rest;
                case HARD -> 1;
            };
        }
    }

    private final ObjectProperty<Stroke.Mode> mode = new SimpleObjectProperty<>(Stroke.Mode.ADD);
    private final ObjectProperty<Falloff> falloff = new SimpleObjectProperty<>(Falloff.SOFT);
    private final DoubleProperty strength = new SimpleDoubleProperty(0.3);
    private final DoubleProperty goal = new SimpleDoubleProperty(1);
    private final DoubleProperty metres = new SimpleDoubleProperty();
    private final BooleanProperty mirrored = new SimpleBooleanProperty();
    private final BooleanProperty onSurface = new SimpleBooleanProperty(true);

    private int mesh = -1;
    private int joint;
    private float[] amounts;
    private final BitSet touched = new BitSet();
    private BitSet locked;
    private WeldedSurface surface;
    private Influences places;

    public ObjectProperty<Stroke.Mode> mode() {
        return mode;
    }

    public ObjectProperty<Falloff> falloff() {
        return falloff;
    }

    /** How much one stroke does at most, above 0 to 1. */
    public DoubleProperty strength() {
        return strength;
    }

    /** Weight that {@link Stroke.Mode#SET} goes towards. */
    public DoubleProperty goal() {
        return goal;
    }

    /** Radius in metres of the asset; 0: so many pixels of the picture, as {@link Chooser#brush} has it. */
    public DoubleProperty metres() {
        return metres;
    }

    public BooleanProperty mirrored() {
        return mirrored;
    }

    /** Whether the brush runs along the surface, or goes through. */
    public BooleanProperty onSurface() {
        return onSurface;
    }

    /** Whether the joint that is chosen matters. */
    private boolean ofJoint() {
        return mode.get() == Stroke.Mode.ADD || mode.get() == Stroke.Mode.TAKE || mode.get() == Stroke.Mode.SET;
    }

    public boolean isDrawing() {
        return mesh >= 0;
    }

    /**
     * Touches the mesh at a place; the first touch begins a stroke.
     *
     * @param radius in metres
     * @return the asset as the stroke leaves it so far, empty where nothing can be painted there
     */
    Optional<Asset> touch(Desk desk, Picker picker, Picker.Hit hit, double radius) {
        if (!isDrawing() && !begin(desk, hit) || hit.place().mesh() != mesh) {
            return Optional.empty();
        }
        picker.touch(hit, radius, onSurface.get(), (v, distance) -> {
            double amount = strength.get() * falloff.get().at(distance / radius);
            // Within a stroke a vertex gets the most that any touch gave it, however often it was passed.
            amounts[v] = Math.max(amounts[v], (float) amount);
            touched.set(v, amounts[v] > 0);
        });
        Asset asset = desk.now();
        Stroke stroke = new Stroke(mode.get(), surface, this::places, joint, goal.get(), locked, amounts);
        return Optional.of(asset.withMesh(mesh, PaintWeights.live(asset.meshes().get(mesh), stroke, touched)));
    }

    private Influences places() {
        return places;
    }

    private boolean begin(Desk desk, Picker.Hit hit) {
        Asset asset = desk.now();
        int at = hit.place().mesh();
        if (hit.place().skin() < 0 || !asset.meshes().get(at).skinned()) {
            return false;
        }
        Skin skin = asset.skins().get(hit.place().skin());
        locked = PaintWeights.locked(asset, skin, desk.selection().lockedJoints());
        joint = desk.selection().jointNode() < 0
                ? -1
                : skin.indexOfNode(desk.selection().jointNode());
        if (ofJoint() && (joint < 0 || locked.get(joint))) {
            return false;
        }
        Mesh painted = asset.meshes().get(at);
        surface = MeshTopology.of(painted).welded(painted);
        places = mode.get() == Stroke.Mode.SMOOTH ? WeldedWeights.of(painted, surface) : null;
        amounts = new float[painted.vertexCount()];
        touched.clear();
        mesh = at;
        return true;
    }

    /** Ends the stroke; gives it as a step, where it touched anything. */
    Optional<PaintWeights> end(Desk desk) {
        int painted = mesh;
        mesh = -1;
        if (painted < 0 || touched.isEmpty()) {
            return Optional.empty();
        }
        Asset asset = desk.now();
        return Optional.of(new PaintWeights(
                asset.meshRef(painted),
                desk.selection().joint().get(),
                mode.get(),
                VertexAmounts.of(asset.meshes().get(painted), amounts),
                goal.get(),
                desk.selection().lockedJoints(),
                mirrored.get()));
    }
}
