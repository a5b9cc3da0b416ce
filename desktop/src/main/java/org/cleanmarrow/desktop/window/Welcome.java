package org.cleanmarrow.desktop.window;

import java.nio.file.Path;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;

/** What stands in the view while nothing is open: the demo, recent files, work to be recovered, a drop zone. */
final class Welcome extends StackPane {
    Welcome(Desk desk, Commands acts) {
        getStyleClass().add("welcome");
        Label title = new Label(Labels.of("welcome.title"));
        title.getStyleClass().add("big");
        Label promise = Widgets.sentence(Labels.of("welcome.promise"));
        promise.setMaxWidth(400);
        Button demo = Widgets.mainButton("welcome-demo", "welcome.demo", desk.files()::openDemo);
        Button tour = Widgets.button("welcome-tour", "welcome.tour", () -> acts.run("tour"));
        Button open = Widgets.button("welcome-open", "welcome.open", () -> acts.run("open"));
        VBox sheet = new VBox(12, title, promise, Widgets.row(demo, tour, open));
        FlowPane others = Widgets.row();
        for (Demo each : Demo.ALL.subList(1, Demo.ALL.size())) {
            Hyperlink link = new Hyperlink(Labels.of("demo." + each.name()));
            link.setId("demo-" + each.name());
            link.setOnAction(e -> desk.files().openDemo(each));
            others.getChildren().add(link);
        }
        sheet.getChildren().addAll(Widgets.heading("welcome.others"), others);
        desk.folder().leftover().ifPresent(leftover -> {
            Button recover = Widgets.button(
                    "welcome-recover", "welcome.recover", () -> desk.files().recover(leftover));
            Hyperlink discard = new Hyperlink(Labels.of("welcome.discard"));
            discard.setOnAction(e -> {
                desk.folder().discard(leftover);
                recover.setDisable(true);
                discard.setDisable(true);
            });
            sheet.getChildren()
                    .addAll(
                            Widgets.heading("welcome.left"),
                            Widgets.sentence(Labels.of("welcome.left.why", leftover.name())),
                            Widgets.row(recover, discard));
        });
        var recent = desk.folder().recent();
        if (!recent.isEmpty()) {
            sheet.getChildren().add(Widgets.heading("welcome.recent"));
            for (Path file : recent) {
                Hyperlink link = new Hyperlink(file.getFileName().toString());
                Tips.say(link, file.toString());
                link.setOnAction(e -> desk.files().open(file));
                sheet.getChildren().add(link);
            }
        }
        Label drop = new Label(Labels.of("welcome.drop"));
        drop.getStyleClass().add("drop");
        drop.setMaxWidth(Double.MAX_VALUE);
        drop.setAlignment(Pos.CENTER);
        sheet.getChildren().add(drop);
        sheet.getStyleClass().add("sheet");
        sheet.setMaxSize(460, VBox.USE_PREF_SIZE);
        getChildren().add(sheet);
        visibleProperty().addListener((o, a, b) -> setManaged(b));
        desk.asset().addListener((o, a, b) -> setVisible(!desk.isOpen()));
        setVisible(!desk.isOpen());
    }
}
