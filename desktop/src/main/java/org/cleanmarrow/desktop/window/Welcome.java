package org.cleanmarrow.desktop.window;

import java.nio.file.Path;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.DeskFiles;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;

/** What stands in the view while nothing is open: the demo, recent files, work to go on with, a drop zone. */
final class Welcome extends StackPane {
    /** What fits beside the rest at 1280x800; more is scrolled to. */
    private static final double TALLEST = 190;

    private static final DateTimeFormatter LEFT =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT).withZone(ZoneId.systemDefault());

    private final Desk desk;
    /** What one can go on with; filled anew whenever the desk is cleared. */
    private final VBox earlier = new VBox(6);

    private final ScrollPane scroll = new ScrollPane(earlier);

    Welcome(Desk desk, Commands acts) {
        this.desk = desk;
        getStyleClass().add("welcome");
        Label title = new Label(Labels.of("welcome.title"));
        title.getStyleClass().add("big");
        Label promise = Widgets.sentence(Labels.of("welcome.promise"));
        promise.setMaxWidth(400);
        Button demo = Widgets.mainButton("welcome-demo", "welcome.demo", desk.files()::openDemo);
        Button tour = Widgets.button("welcome-tour", "welcome.tour", () -> acts.run("tour"));
        Button open = Widgets.button("welcome-open", "welcome.open", () -> acts.run("open"));
        FlowPane others = Widgets.row();
        for (Demo each : Demo.ALL.subList(1, Demo.ALL.size())) {
            Hyperlink link = new Hyperlink(Labels.of("demo." + each.name()));
            link.setId("demo-" + each.name());
            link.setOnAction(e -> desk.files().openDemo(each));
            others.getChildren().add(link);
        }
        Label drop = new Label(Labels.of("welcome.drop"));
        drop.getStyleClass().add("drop");
        drop.setMaxWidth(Double.MAX_VALUE);
        drop.setAlignment(Pos.CENTER);
        scroll.setFitToWidth(true);
        scroll.setMaxHeight(TALLEST);
        scroll.managedProperty().bind(scroll.visibleProperty());
        VBox sheet = new VBox(
                12,
                title,
                promise,
                Widgets.row(demo, tour, open),
                Widgets.heading("welcome.others"),
                others,
                scroll,
                drop);
        sheet.getStyleClass().add("sheet");
        sheet.setMaxSize(460, VBox.USE_PREF_SIZE);
        getChildren().add(sheet);
        desk.files().begin().addListener((o, a, b) -> fill(b));
        fill(desk.files().begin().get());
        visibleProperty().addListener((o, a, b) -> setManaged(b));
        desk.asset().addListener((o, a, b) -> setVisible(!desk.isOpen()));
        setVisible(!desk.isOpen());
    }

    private void fill(DeskFiles.Begin begin) {
        earlier.getChildren().clear();
        if (!begin.left().isEmpty()) {
            earlier.getChildren().add(Widgets.heading("welcome.left"));
        }
        for (AppFolder.Leftover left : begin.left()) {
            boolean first = left == begin.left().getFirst();
            Hyperlink goOn = new Hyperlink(Labels.of("welcome.recover", left.name(), LEFT.format(left.left())));
            goOn.setOnAction(e -> desk.files().recover(left));
            Hyperlink forget = new Hyperlink(Labels.of("welcome.discard"));
            forget.setOnAction(e -> desk.files().forget(left));
            forget.getStyleClass().add("ink-2");
            if (first) {
                goOn.setId("welcome-recover");
                forget.setId("welcome-forget");
            }
            earlier.getChildren().add(new HBox(12, goOn, Widgets.spring(), forget));
        }
        if (!begin.recent().isEmpty()) {
            earlier.getChildren().add(Widgets.heading("welcome.recent"));
        }
        for (Path file : begin.recent()) {
            Hyperlink link = new Hyperlink(file.getFileName().toString());
            Tips.say(link, file.toString());
            link.setOnAction(e -> desk.files().open(file));
            earlier.getChildren().add(link);
        }
        scroll.setVisible(!earlier.getChildren().isEmpty());
    }
}
