package org.cleanmarrow.desktop.view;

import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.parts.FileDialogs;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;

/** The recorded steps as chips, with undo and redo; below them what was said last, and progress. */
final class LedgerRibbon extends VBox {
    private final Desk desk;
    private final FileDialogs dialogs;
    private final HBox chips = new HBox(6);
    private final ScrollPane scroll = new ScrollPane(chips);
    private final Hyperlink undo = link("undo", "ledger.undo");
    private final Hyperlink redo = link("redo", "ledger.redo");
    private final Hyperlink save = link("save-ledger", "ledger.save");
    private final Hyperlink load = link("load-ledger", "ledger.load");

    LedgerRibbon(Desk desk, FileDialogs dialogs) {
        this.desk = desk;
        this.dialogs = dialogs;
        getStyleClass().add("ledger");
        chips.setAlignment(Pos.CENTER_LEFT);
        scroll.getStyleClass().add("chips");
        scroll.setVbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setFitToHeight(true);
        scroll.setMinWidth(60);
        HBox.setHgrow(scroll, Priority.ALWAYS);
        undo.setOnAction(e -> desk.undo());
        redo.setOnAction(e -> desk.redo());
        save.setOnAction(e -> dialogs.saveLedger());
        load.setOnAction(e -> dialogs.loadLedger());
        HBox row = new HBox(8, Parts.heading("ledger.title"), scroll, undo, redo, save, load);
        row.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(row, status());
        desk.revision().addListener((o, a, b) -> refresh());
        refresh();
    }

    private static Hyperlink link(String id, String key) {
        Hyperlink link = new Hyperlink(Words.of(key));
        link.setId(id);
        link.setMinWidth(Region.USE_PREF_SIZE);
        return link;
    }

    private HBox status() {
        Label message = new Label();
        message.setId("message");
        message.textProperty().bind(desk.message());
        message.getStyleClass().add("message");
        message.setMinWidth(40);
        Tooltip whole = new Tooltip();
        whole.textProperty().bind(desk.message());
        message.setTooltip(whole);
        desk.trouble().addListener((o, a, bad) -> {
            message.getStyleClass().remove("trouble");
            if (bad) {
                message.getStyleClass().add("trouble");
            }
        });
        ProgressBar bar = new ProgressBar();
        bar.setPrefWidth(120);
        Label doing = new Label();
        doing.textProperty().bind(desk.doing());
        Button cancel = Parts.button("cancel", "progress.cancel", desk::cancel);
        HBox busy = new HBox(8, doing, bar, cancel);
        busy.setAlignment(Pos.CENTER_RIGHT);
        busy.visibleProperty().bind(desk.progress().isNotNull());
        busy.managedProperty().bind(busy.visibleProperty());
        desk.progress().addListener((o, a, b) -> bar.setProgress(b == null || b < 0 ? -1 : b));
        HBox row = new HBox(8, message, Parts.spring(), busy);
        row.setAlignment(Pos.CENTER_LEFT);
        row.getStyleClass().add("status");
        return row;
    }

    private void refresh() {
        chips.getChildren().clear();
        boolean open = desk.isOpen();
        undo.setDisable(!open || !desk.history().canUndo());
        redo.setDisable(!open || !desk.history().canRedo());
        save.setDisable(!open || desk.history().ledger().entries().isEmpty());
        load.setDisable(!open);
        if (!open) {
            return;
        }
        chips.getChildren()
                .add(chip(0, Words.of("ledger.opened", desk.received().name()), "", true, "", null));
        List<Replay.Done> done = desk.history().done();
        for (int i = 0; i < done.size(); i++) {
            Ledger.Entry entry = desk.history().ledger().entries().get(i);
            Replay.Done d = done.get(i);
            String moved =
                    d.motion().map(m -> Outcomes.length(m.largestMetres())).orElse("");
            boolean fits = d.change().isPresent() || !entry.on();
            chips.getChildren().add(chip(i + 1, Outcomes.name(d), moved, fits, Outcomes.sentence(d), entry));
        }
        scroll.setHvalue(1);
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
        if (number == desk.looking()) {
            chip.getStyleClass().add("chosen");
        }
        chip.setOnAction(e -> desk.lookAt(number));
        if (!hover.isEmpty()) {
            chip.setTooltip(new Tooltip(hover));
        }
        if (entry != null) {
            MenuItem toggle = new MenuItem(Words.of(entry.on() ? "ledger.switch.off" : "ledger.switch.on"));
            toggle.setOnAction(e -> desk.switchStep(number - 1, !entry.on()));
            MenuItem remove = new MenuItem(Words.of("ledger.remove"));
            remove.setOnAction(e -> desk.removeStep(number - 1));
            chip.setContextMenu(new ContextMenu(toggle, remove));
        }
        return chip;
    }
}
