package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Recipes;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.Pictures;
import org.testng.annotations.Test;

/** What a delivery consists of is put together, kept, used and found again. */
public class RecipeWindowTest extends DeskWindow {
    private static final Recipe WANTED =
            new Recipe("SM_{asset}", List.of("glb", "obj"), false, false, true, true, true, Pictures.Place.FOLDER, "");

    private void open() throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.named("bell-chain").orElseThrow());
            desk.station().set(Station.DELIVERY);
            return null;
        });
        quiet();
        type("#delivery-folder", home.resolve("out").toString());
    }

    private void also(String ending) throws Exception {
        on(() -> {
            MenuButton menu = (MenuButton) scene.lookup("#recipe-also");
            ((CheckMenuItem) menu.getItems().stream()
                            .filter(i -> i.getText().contains("(." + ending + ")"))
                            .findFirst()
                            .orElseThrow())
                    .setSelected(true);
            return null;
        });
    }

    @Override
    boolean hasOneForEach() {
        return true;
    }

    @Test
    public void whatIsAskedForIsListedDeliveredAndKept() throws Exception {
        open();
        type("#recipe-name", "SM_{asset}");
        also("obj");
        press("#recipe-roles");
        press("#recipe-page");
        press("#recipe-zip");
        choose("#recipe-pictures", Pictures.Place.FOLDER);
        quiet();
        Node list = find("#delivery-planned");
        quiet();
        List<String> planned = on(() -> list.lookupAll(".label").stream()
                .map(l -> ((Label) l).getText())
                .toList());
        assertThat(planned).contains("SM_bell-chain_v001.glb", "SM_bell-chain_v001.obj", "SM_bell-chain_v001.zip");
        choose("#recipe-kept", "for the game/2");
        press("#recipe-keep");
        click("#deliver");
        quiet();
        try (Stream<Path> files = Files.list(home.resolve("out"))) {
            assertThat(files.map(f -> f.getFileName().toString()))
                    .contains(
                            "SM_bell-chain_v001.glb",
                            "SM_bell-chain_v001.obj",
                            "SM_bell-chain_v001.mtl",
                            "SM_bell-chain_v001.roles.json",
                            "SM_bell-chain_v001.zip",
                            "SM_bell-chain_v001.report.html",
                            "SM_bell-chain_v001.manifest.json");
        }
        assertThat(Recipe.read(home.resolve("recipes/for the game_2.json"))).isEqualTo(WANTED);
    }

    /** As a ledger that is saved, opened on a newer source and delivered again has it. */
    @Test
    public void whatIsSaidOfADeliveryStaysWithTheWork() throws Exception {
        open();
        type("#recipe-notes", "Import at 30 frames, the bell rings at 12.");
        press("#recipe-roles");
        quiet();
        Recipe own = Recipe.keptWith(on(() -> desk.history().ledger())).orElseThrow();
        assertThat(own.notes()).isEqualTo("Import at 30 frames, the bell rings at 12.");
        assertThat(own.roles()).isTrue();
        Path ledger = Files.writeString(
                home.resolve("own.json"), on(() -> desk.history().ledger().toJson()));
        on(() -> {
            desk.files().openDemo(Demo.named("marsh-heron").orElseThrow());
            return null;
        });
        quiet();
        assertThat(on(() -> ((TextArea) scene.lookup("#recipe-notes")).getText()))
                .isEmpty();
        on(() -> {
            desk.files().openDemo(Demo.named("bell-chain").orElseThrow());
            return null;
        });
        quiet();
        on(() -> {
            desk.files().loadLedger(ledger);
            return null;
        });
        quiet();
        assertThat(on(() -> ((TextArea) scene.lookup("#recipe-notes")).getText()))
                .isEqualTo(own.notes());
        click("#deliver");
        quiet();
        assertThat(home.resolve("out/bell-chain_v001.notes.txt")).hasContent(own.notes() + "\n");
    }

    @Test
    public void aKeptRecipeIsThereTheNextTimeAndCanBeForgotten() throws Exception {
        WANTED.write(home.resolve("recipes/for the game.json"));
        Files.writeString(home.resolve("recipes/spoiled.json"), "{\"recipe\": 1, \"formats\": \"glb\"}");
        CompletableFuture<Desk> other = new CompletableFuture<>();
        Platform.runLater(() -> other.complete(new Desk(new AppFolder(home))));
        Desk next = other.get();
        List<Recipes.Kept> found = kept(next);
        assertThat(found).containsExactly(new Recipes.Kept("for the game", WANTED));
        on(() -> {
            next.close();
            return null;
        });
        on(() -> {
            desk.recipes().keep("for the game", WANTED);
            return null;
        });
        open();
        choose("#recipe-kept", "for the game");
        quiet();
        assertThat(on(() -> ((TextField) scene.lookup("#recipe-name")).getText()))
                .isEqualTo("SM_{asset}");
        assertThat(on(() -> ((MenuButton) scene.lookup("#recipe-also")).getText()))
                .isEqualTo("obj");
        assertThat(on(() -> ((CheckBox) scene.lookup("#recipe-still")).isSelected()))
                .isFalse();
        assertThat(on(() -> ((CheckBox) scene.lookup("#recipe-zip")).isSelected()))
                .isTrue();
        assertThat(on(() -> ((ComboBox<?>) scene.lookup("#recipe-pictures")).getValue()))
                .isEqualTo(Pictures.Place.FOLDER);
        press("#recipe-forget");
        quiet();
        assertThat(on(() -> List.copyOf(desk.recipes().all()))).isEmpty();
        assertThat(home.resolve("recipes/for the game.json")).doesNotExist();
    }

    /** Once its files are read. */
    private List<Recipes.Kept> kept(Desk desk) throws Exception {
        until("recipes are read", desk::isQuiet);
        return on(() -> List.copyOf(desk.recipes().all()));
    }
}
