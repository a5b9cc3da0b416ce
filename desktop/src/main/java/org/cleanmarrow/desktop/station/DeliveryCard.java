package org.cleanmarrow.desktop.station;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Locale;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.Formats;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.query.Shipping;

/** Writes a version, reads it back, and says how far what landed moves from what was meant. */
final class DeliveryCard extends StationCard {
    private final FileDialogs dialogs;
    private final TextField folder =
            new TextField(Path.of("deliveries").toAbsolutePath().toString());

    private final ComboBox<String> format = new ComboBox<>();

    DeliveryCard(Desk desk, FileDialogs dialogs) {
        super(desk);
        this.dialogs = dialogs;
        format.setId("delivery-format");
        format.setAccessibleText(Labels.of("delivery.format"));
        format.getItems().setAll(AssetFiles.written());
        format.setValue("glb");
        format.setConverter(Widgets.shown(ending -> Labels.of("format." + ending)));
        format.valueProperty().addListener((o, a, b) -> {
            if (getParent() != null) {
                refresh();
            }
        });
        folder.setId("delivery-folder");
        folder.setAccessibleText(Labels.of("delivery.folder"));
        folder.textProperty().addListener((o, a, b) -> {
            if (getParent() != null && !folder.isFocused()) {
                refresh();
            }
        });
    }

    @Override
    void fill() {
        long blockers = desk.findings().stream()
                .filter(f -> f.severity() == Severity.BLOCKER)
                .count();
        title("station.delivery", Labels.of(blockers == 0 ? "delivery.clean" : "delivery.blocked", blockers));
        heading("delivery.where");
        put(format, folder);
        fact("delivery.next", nextName());
        Formats.ofEnding(format.getValue())
                .flatMap(f -> f.leavesOut(Shipping.of(desk.now())))
                .ifPresent(left -> put(Widgets.sentence(desk.outcomes().words(left) + ".")));
        sentence("delivery.kept");
        put(Widgets.row(
                Widgets.mainButton(
                        "deliver",
                        "delivery.act",
                        () -> desk.deliver(Path.of(folder.getText().strip()), format.getValue())),
                Widgets.button(
                        "choose-folder", "delivery.choose", () -> dialogs.folder(f -> folder.setText(f.toString())))));
        desk.lastDelivery().ifPresent(this::landing);
        heading("delivery.again");
        sentence("delivery.again.why");
        put(Widgets.row(Widgets.button("newer-source", "intake.newer", dialogs::openNewer)));
    }

    private String nextName() {
        try {
            int version = Delivery.nextVersion(
                    Path.of(folder.getText().strip()), desk.now().name());
            return String.format(Locale.ROOT, "%s_v%03d.%s", desk.now().name(), version, format.getValue());
        } catch (IOException | IllegalArgumentException e) {
            return "–";
        }
    }

    private void landing(Delivery.Delivered delivered) {
        heading("delivery.landed");
        Motion motion = delivered.landing();
        fact("delivery.file", delivered.files().getFirst().getFileName().toString());
        delivered.notes().forEach(n -> put(Widgets.sentence(n)));
        fact("delivery.moments", Integer.toString(motion.moments()));
        fact("delivery.largest", desk.outcomes().length(motion.largestMetres()));
        fact("delivery.mean", desk.outcomes().length(motion.meanMetres()));
        boolean sound = delivered.sound();
        var verdict = Widgets.sentence(
                sound
                        ? Labels.of("delivery.sound")
                        : Labels.of("delivery.differs", String.join("; ", delivered.differences())));
        verdict.getStyleClass().add(sound ? "clean" : "trouble");
        put(verdict);
    }
}
