package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.input.KeyEvent;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Rechoosing;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.surface.MeshTopology;

/** Everything that can be done by key or found by name; a new act is added by its line here. */
final class Commands {
    /** Held, not pressed: shows what was received as long as it is down. */
    static final String BEFORE = "before";

    private final Desk desk;
    private final List<Command> all = new ArrayList<>();

    Commands(Desk desk, ViewportPane viewport, Transport time, FileDialogs dialogs, Layer layer) {
        this.desk = desk;
        ViewOptions seeing = desk.seeing();
        BooleanSupplier open = desk::isOpen;
        BooleanSupplier chosen =
                () -> desk.isOpen() && !desk.selection().chosen().get().isEmpty();
        add("find", "Shortcut+K", () -> true, layer::find);
        add("open", "Shortcut+O", () -> true, dialogs::open);
        add("newer", "Shortcut+Shift+O", open, dialogs::openNewer);
        add("demo", "", () -> true, desk.files()::openDemo);
        add("close", "Shortcut+W", open, desk.files()::close);
        add("save-ledger", "Shortcut+S", open, dialogs::saveLedger);
        add("run-ledger", "", open, dialogs::loadLedger);
        add("undo", "Shortcut+Z", () -> desk.isOpen() && desk.history().canUndo(), desk::undo);
        add("redo", "Shortcut+Shift+Z", () -> desk.isOpen() && desk.history().canRedo(), desk::redo);
        for (int i = 0; i < Spine.STATIONS.size(); i++) {
            var station = Spine.STATIONS.get(i);
            String id = "station-" + station.name().toLowerCase(java.util.Locale.ROOT);
            add(id, "Alt+" + (i + 1), () -> true, () -> desk.station().set(station));
        }
        add("look-choice", "F", open, viewport::frameChoice);
        add("look-all", "0", open, viewport::frameAll);
        add("look-front", "1", open, () -> viewport.lookFrom(0, 0));
        add("look-side", "2", open, () -> viewport.lookFrom(90, 0));
        add("look-top", "3", open, () -> viewport.lookFrom(0, 90));
        add("look-quarter", "4", open, () -> viewport.lookFrom(24, 8));
        add(
                "parallel",
                "P",
                open,
                () -> viewport.setCamera(
                        viewport.camera().withParallel(!viewport.camera().parallel())));
        add("turntable", "T", open, () -> seeing.turning().set(!seeing.turning().get()));
        add(BEFORE, "B", open, () -> {});
        add("divider", "D", open, () -> seeing.divider().set(seeing.divider().get() > 0 ? 0 : 0.5));
        add("ghost", "G", open, () -> seeing.ghost().set(!seeing.ghost().get()));
        add("joints", "J", open, () -> seeing.joints().set(!seeing.joints().get()));
        add("names", "N", open, () -> seeing.names().set(!seeing.names().get()));
        add("wire", "W", open, () -> seeing.wire().set(!seeing.wire().get()));
        add("points", "V", open, () -> seeing.points().set(!seeing.points().get()));
        add("uvs", "Y", open, () -> seeing.uvs().set(!seeing.uvs().get()));
        add("box", "X", open, () -> seeing.box().set(!seeing.box().get()));
        add("tape", "L", open, () -> seeing.taping().set(!seeing.taping().get()));
        add("figure", "", open, () -> seeing.figure().set(!seeing.figure().get()));
        add("cube", "", open, () -> seeing.cube().set(!seeing.cube().get()));
        add("play", "Space", open, time::toggle);
        add("frame-back", "Comma", open, () -> time.step(-1));
        add("frame-on", "Period", open, () -> time.step(1));
        add("first-frame", "Home", open, () -> time.jump(false));
        add("last-frame", "End", open, () -> time.jump(true));
        add(
                "choose-all",
                "Shortcut+A",
                open,
                () -> change(
                        (asset, mesh, set) -> VertexChoice.all(asset.meshes().get(mesh))));
        add("choose-none", "Esc", chosen, () -> desk.selection().choose(-1, new BitSet()));
        add(
                "invert",
                "I",
                chosen,
                () -> change((asset, mesh, set) ->
                        VertexChoice.inverted(asset.meshes().get(mesh), set)));
        add(
                "grow",
                "Close Bracket",
                chosen,
                () -> change((asset, mesh, set) -> topology(asset, mesh).grown(set)));
        add(
                "shrink",
                "Open Bracket",
                chosen,
                () -> change((asset, mesh, set) -> topology(asset, mesh).shrunk(set)));
        add(
                "whole-island",
                "",
                chosen,
                () -> change((asset, mesh, set) -> topology(asset, mesh).islandsOf(set)));
        add(
                "same-material",
                "",
                chosen,
                () -> change((asset, mesh, set) ->
                        VertexChoice.sameMaterial(asset.meshes().get(mesh), set)));
        add("mirror-choice", "M", chosen, () -> {
            double tolerance = viewport.mirrorTolerance();
            change((asset, mesh, set) ->
                    VertexChoice.mirrored(asset, mesh, set, tolerance).vertices());
        });
        add(
                "brush-larger",
                "Shift+Close Bracket",
                open,
                () -> viewport.chooser().scaleBrush(1.25));
        add(
                "brush-smaller",
                "Shift+Open Bracket",
                open,
                () -> viewport.chooser().scaleBrush(0.8));
        add(
                "theme",
                "",
                () -> true,
                () -> desk.preferences().dark().set(!desk.preferences().dark().get()));
        add("larger", "Shortcut+Equals", () -> true, () -> desk.preferences().scaleBy(0.125));
        add("smaller", "Shortcut+Minus", () -> true, () -> desk.preferences().scaleBy(-0.125));
        add("settings", "F1", () -> true, layer::settings);
        add("tour", "", () -> true, layer::tour);
        add("target", "", () -> true, layer::target);
    }

    private void add(String id, String keys, BooleanSupplier can, Runnable run) {
        all.add(new Command(id, keys, can, run));
    }

    private static MeshTopology topology(Asset asset, int mesh) {
        return MeshTopology.of(asset.meshes().get(mesh));
    }

    private void change(Rechoosing.Way way) {
        Asset asset = desk.now();
        int mesh = desk.selection().chosen().get().mesh();
        if (mesh < 0) {
            Optional<Mesh> worked = desk.selection().workedMesh();
            mesh = worked.map(m -> asset.meshes().indexOf(m))
                    .orElse(asset.meshes().isEmpty() ? -1 : 0);
        }
        if (mesh >= 0) {
            desk.rechoosing().ask(mesh, way);
        }
    }

    List<Command> all() {
        return all;
    }

    Command get(String id) {
        return all.stream().filter(a -> a.id().equals(id)).findFirst().orElseThrow();
    }

    /** Does it where it can be done. */
    void run(String id) {
        Command act = get(id);
        if (act.can().getAsBoolean()) {
            act.run().run();
        }
    }

    /** The combination an act has now; empty where it has none. */
    String keys(Command act) {
        return desk.preferences().keys().getOrDefault(act.id(), act.keys());
    }

    /** The combination as people read it. */
    String said(Command act) {
        return combination(keys(act)).map(KeyCombination::getDisplayText).orElse("");
    }

    /** Gives an act another combination and takes it away from the one that had it; empty takes the act's away. */
    void setKeys(Command act, String keys) {
        all.stream()
                .filter(a -> a != act && !keys.isEmpty() && keys(a).equals(keys))
                .forEach(a -> desk.preferences().keys().put(a.id(), ""));
        if (keys.equals(act.keys())) {
            desk.preferences().keys().remove(act.id());
        } else {
            desk.preferences().keys().put(act.id(), keys);
        }
    }

    void resetKeys() {
        desk.preferences().keys().clear();
    }

    /** The act of a key event; one that cannot be done now is not found. */
    Optional<Command> of(KeyEvent e) {
        return all.stream()
                .filter(a -> combination(keys(a)).filter(c -> c.match(e)).isPresent())
                .filter(a -> a.can().getAsBoolean())
                .findFirst();
    }

    static Optional<KeyCombination> combination(String keys) {
        try {
            // Combinations by key code alone: what character a key gives differs between keyboards.
            return keys.isEmpty()
                    ? Optional.empty()
                    : Optional.of(KeyCombination.valueOf(keys)).filter(KeyCodeCombination.class::isInstance);
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }
}
