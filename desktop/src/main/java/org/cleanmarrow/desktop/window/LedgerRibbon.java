package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.geometry.Side;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Composite;

/** One line: the recorded steps as chips, beside them what was said last or how far work is, and undo and redo. */
final class LedgerRibbon extends VBox {
    /** A ledger of hundreds of steps shows its latest; the others are a click away. */
    private static final int MOST_CHIPS = 30;

    private static final double STATUS = 430;

    private final Desk desk;
    private final Layer layer;
    private final HBox chips = new HBox(6);
    private final ScrollPane scroll = new ScrollPane(chips);
    private final Hyperlink undo = link("undo", "ledger.undo");
    private final Hyperlink redo = link("redo", "ledger.redo");
    private final Hyperlink save = link("save-ledger", "ledger.save");
    private final Hyperlink load = link("load-ledger", "ledger.load");

    LedgerRibbon(Desk desk, Commands acts, Layer layer) {
        this.desk = desk;
        this.layer = layer;
        getStyleClass().add("ledger");
        chips.setAlignment(Pos.CENTER_LEFT);
        scroll.getStyleClass().add("chips");
        scroll.setVbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setFitToHeight(true);
        // The latest steps are in sight, also when a chip grows by what was measured.
        chips.widthProperty().addListener((o, a, b) -> Platform.runLater(() -> scroll.setHvalue(1)));
        scroll.setMinWidth(60);
        HBox.setHgrow(scroll, Priority.ALWAYS);
        undo.setOnAction(e -> acts.run("undo"));
        redo.setOnAction(e -> acts.run("redo"));
        save.setOnAction(e -> acts.run("save-ledger"));
        load.setOnAction(e -> acts.run("run-ledger"));
        HBox row = new HBox(8, Widgets.heading("ledger.title"), scroll, status(), undo, redo, save, load);
        row.setAlignment(Pos.CENTER_LEFT);
        getChildren().add(row);
        desk.piece().addListener((o, a, b) -> refresh());
        refresh();
    }

    private static Hyperlink link(String id, String key) {
        Hyperlink link = new Hyperlink(Labels.of(key));
        link.setId(id);
        link.setMinWidth(Region.USE_PREF_SIZE);
        return link;
    }

    private HBox status() {
        Label message = new Label();
        message.setId("message");
        message.textProperty().bind(desk.jobs().message());
        message.getStyleClass().add("message");
        message.setMinWidth(40);
        Tips.say(message, message::getText);
        desk.jobs().trouble().addListener((o, a, bad) -> {
            message.getStyleClass().remove("trouble");
            if (bad) {
                message.getStyleClass().add("trouble");
            }
        });
        ProgressBar bar = new ProgressBar();
        bar.setPrefWidth(120);
        Label doing = new Label();
        doing.textProperty().bind(desk.jobs().doing());
        Button cancel = Widgets.button("cancel", "progress.cancel", desk.jobs()::cancel);
        HBox busy = new HBox(8, doing, bar, cancel);
        busy.setAlignment(Pos.CENTER_RIGHT);
        busy.visibleProperty().bind(desk.jobs().progress().isNotNull());
        busy.managedProperty().bind(busy.visibleProperty());
        desk.jobs().progress().addListener((o, a, b) -> bar.setProgress(b == null || b < 0 ? -1 : b));
        HBox row = new HBox(8, message, busy);
        row.setAlignment(Pos.CENTER_LEFT);
        row.getStyleClass().add("status");
        // The sentence keeps its room beside however many chips there are.
        row.setMinWidth(STATUS);
        row.setPrefWidth(STATUS);
        row.setMaxWidth(STATUS);
        HBox.setHgrow(message, Priority.ALWAYS);
        message.setMaxWidth(Double.MAX_VALUE);
        return row;
    }

    /** What the chips were made for. */
    private record Shown(List<Replay.Done> done, Ledger ledger, int looking, Asset received) {
        boolean sameAs(Shown other) {
            return done == other.done
                    && ledger == other.ledger
                    && looking == other.looking
                    && received == other.received;
        }
    }

    private Shown shown;
    private boolean everything;

    private void refresh() {
        boolean open = desk.isOpen();
        undo.setDisable(!open || !desk.history().canUndo());
        redo.setDisable(!open || !desk.history().canRedo());
        save.setDisable(!open || desk.history().ledger().entries().isEmpty());
        load.setDisable(!open);
        Shown now = open
                ? new Shown(desk.history().done(), desk.history().ledger(), desk.looking(), desk.received())
                : null;
        if (now == null) {
            shown = null;
            made.clear();
            chips.getChildren().clear();
            return;
        }
        if (shown != null && now.sameAs(shown)) {
            return;
        }
        shown = now;
        List<Node> row = new ArrayList<>();
        row.add(kept(new Made(0, Labels.of("ledger.opened", desk.received().name()), "", true, "", new Same(null))));
        List<Replay.Done> done = desk.history().done();
        int hidden = everything ? 0 : Math.max(0, done.size() - MOST_CHIPS);
        if (hidden > 0) {
            Button earlier = new Button(Labels.of("ledger.hidden", hidden));
            earlier.getStyleClass().setAll("button", "chip");
            earlier.setMinWidth(Region.USE_PREF_SIZE);
            earlier.setOnAction(e -> {
                everything = true;
                shown = null;
                refresh();
            });
            row.add(earlier);
        }
        for (int i = hidden; i < done.size(); i++) {
            Ledger.Entry entry = desk.history().ledger().entries().get(i);
            Replay.Done d = done.get(i);
            String moved = d.motion()
                    .map(m -> desk.outcomes().length(m.largestMetres()))
                    .orElse("");
            boolean fits = d.outcome().isPresent() || !entry.on();
            row.add(kept(new Made(
                    i + 1, Outcomes.name(d), moved, fits, desk.outcomes().sentence(d), new Same(entry))));
        }
        made.keySet().removeIf(m -> !row.contains(made.get(m)));
        row.forEach(n -> {
            boolean chosen = n == chipOf(desk.looking());
            if (chosen != n.getStyleClass().contains("chosen")) {
                n.getStyleClass().remove("chosen");
                if (chosen) {
                    n.getStyleClass().add("chosen");
                }
            }
        });
        if (!row.equals(chips.getChildren())) {
            chips.getChildren().setAll(row);
        }
    }

    /** What a chip was made for: one for the same is kept, because making and styling them takes time. */
    private record Made(int number, String name, String moved, boolean fits, String hover, Same entry) {}

    /** An entry by identity: comparing what steps hold takes longer than making a chip. */
    private record Same(Ledger.Entry entry) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Same s && s.entry == entry;
        }

        @Override
        public int hashCode() {
            return System.identityHashCode(entry);
        }
    }

    private final Map<Made, Button> made = new HashMap<>();

    private Button kept(Made for_) {
        return made.computeIfAbsent(for_, m -> chip(m.number, m.name, m.moved, m.fits, m.hover, m.entry.entry));
    }

    private Node chipOf(int number) {
        return made.entrySet().stream()
                .filter(e -> e.getKey().number == number)
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(null);
    }

    private Button chip(int number, String name, String moved, boolean fits, String hover, Ledger.Entry entry) {
        Label movement = new Label(moved);
        movement.getStyleClass().add("ink-2");
        Button chip = new Button(name, moved.isEmpty() ? null : movement);
        chip.setContentDisplay(javafx.scene.control.ContentDisplay.RIGHT);
        chip.getStyleClass().setAll("button", "chip");
        chip.setId("chip-" + number);
        chip.setMinWidth(Region.USE_PREF_SIZE);
        if (!fits) {
            chip.getStyleClass().add("caution");
        }
        if (entry != null && !entry.on()) {
            chip.getStyleClass().add("off");
        }
        chip.setOnAction(e -> desk.lookAt(number));
        chip.setOnKeyPressed(e -> {
            boolean asks = e.getCode() == KeyCode.CONTEXT_MENU || e.getCode() == KeyCode.ENTER && e.isAltDown();
            if (asks && entry != null) {
                menu(number - 1, name, entry).show(chip, Side.TOP, 0, 0);
                e.consume();
            }
        });
        if (!hover.isEmpty()) {
            Tips.say(chip, hover);
        }
        if (entry != null) {
            // Made when it is asked for: a long ledger would otherwise make hundreds at every step.
            chip.setOnContextMenuRequested(e -> menu(number - 1, name, entry).show(chip, Side.TOP, 0, 0));
        }
        return chip;
    }

    private ContextMenu menu(int index, String name, Ledger.Entry entry) {
        boolean edits = entry.step().getClass().getRecordComponents().length > 0;
        int last = desk.history().ledger().entries().size() - 1;
        ContextMenu menu = new ContextMenu();
        menu.getItems()
                .addAll(
                        item("ledger.edit", edits, () -> StepEditor.open(desk, layer, index, name)),
                        item(
                                entry.on() ? "ledger.switch.off" : "ledger.switch.on",
                                true,
                                () -> desk.switchStep(index, !entry.on())),
                        item(
                                "ledger.open",
                                entry.on() && entry.step() instanceof Composite,
                                () -> desk.openStep(index)),
                        item("ledger.earlier", index > 0, () -> desk.moveStep(index, index - 1)),
                        item("ledger.later", index < last, () -> desk.moveStep(index, index + 1)),
                        item("ledger.remove", true, () -> desk.removeStep(index)));
        return menu;
    }

    private static MenuItem item(String key, boolean can, Runnable act) {
        MenuItem item = new MenuItem(Labels.of(key));
        item.setDisable(!can);
        item.setOnAction(e -> act.run());
        return item;
    }
}
