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
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;

/** A brush: how wide and how strong, and the stroke that is being drawn; what it changes is its {@link Paint}'s. A stroke becomes one step. */
public final class Brush {
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

    /** What a brush changes. */
    public interface Paint {
        /** A stroke over the mesh that was hit; empty where nothing of this can be painted there. */
        Optional<Drawn> begin(Desk desk, Picker.Hit hit);

        /** What to do where nothing can be painted. */
        String advice();
    }

    /** A stroke over one mesh of the asset it began on. */
    public interface Drawn {
        /**
         * The mesh as the stroke leaves it.
         *
         * @param amounts one a vertex, 0 to 1
         * @param touched those above 0
         */
        Mesh live(Mesh mesh, float[] amounts, BitSet touched);

        Step step(String mesh, VertexAmounts amounts);
    }

    private final ObjectProperty<Paint> paint = new SimpleObjectProperty<>();
    private final ObjectProperty<Falloff> falloff = new SimpleObjectProperty<>(Falloff.SOFT);
    private final DoubleProperty strength = new SimpleDoubleProperty(0.3);
    private final DoubleProperty metres = new SimpleDoubleProperty();
    private final BooleanProperty onSurface = new SimpleBooleanProperty(true);

    private Drawn drawn;
    private int mesh = -1;
    private float[] amounts;
    private final BitSet touched = new BitSet();

    /** What it changes; null where nothing is painted. */
    public ObjectProperty<Paint> paint() {
        return paint;
    }

    public ObjectProperty<Falloff> falloff() {
        return falloff;
    }

    /** How much one stroke does at most, above 0 to 1. */
    public DoubleProperty strength() {
        return strength;
    }

    /** Radius in metres of the asset; 0: so many pixels of the picture, as {@link Chooser#brush} has it. */
    public DoubleProperty metres() {
        return metres;
    }

    /** Whether the brush runs along the surface, or goes through. */
    public BooleanProperty onSurface() {
        return onSurface;
    }

    public boolean isDrawing() {
        return drawn != null;
    }

    /**
     * Touches the mesh at a place; the first touch begins a stroke.
     *
     * @param radius in metres
     * @return the asset as the stroke leaves it so far, empty where nothing can be painted there
     */
    Optional<Asset> touch(Desk desk, Picker picker, Picker.Hit hit, double radius) {
        if (!isDrawing()) {
            begin(desk, hit);
        }
        if (!isDrawing() || hit.place().mesh() != mesh) {
            return Optional.empty();
        }
        picker.touch(hit, radius, onSurface.get(), (v, distance) -> {
            double amount = strength.get() * falloff.get().at(distance / radius);
            // Within a stroke a vertex gets the most that any touch gave it, however often it was passed.
            amounts[v] = Math.max(amounts[v], (float) amount);
            touched.set(v, amounts[v] > 0);
        });
        Asset asset = desk.now();
        return Optional.of(asset.withMesh(mesh, drawn.live(asset.meshes().get(mesh), amounts, touched)));
    }

    private void begin(Desk desk, Picker.Hit hit) {
        drawn = paint.get() == null ? null : paint.get().begin(desk, hit).orElse(null);
        if (drawn != null) {
            mesh = hit.place().mesh();
            amounts = new float[desk.now().meshes().get(mesh).vertexCount()];
            touched.clear();
        }
    }

    /** Ends the stroke; gives it as a step, where it touched anything. */
    Optional<Step> end(Desk desk) {
        Drawn ended = drawn;
        drawn = null;
        if (ended == null || touched.isEmpty()) {
            return Optional.empty();
        }
        Asset asset = desk.now();
        return Optional.of(
                ended.step(asset.meshRef(mesh), VertexAmounts.of(asset.meshes().get(mesh), amounts)));
    }
}
