package org.cleanmarrow.desktop.widgets;

import java.io.File;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import javafx.stage.DirectoryChooser;
import javafx.stage.FileChooser;
import javafx.stage.Window;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.steps.intake.RenameMany;

/** Asks for files and folders. */
public final class FileDialogs {
    private final Desk desk;
    private Window owner;

    public FileDialogs(Desk desk) {
        this.desk = desk;
    }

    /** The window that dialogs belong to. */
    public void setOwner(Window window) {
        owner = window;
    }

    private FileChooser chooser(String titleKey, String kindKey, String... endings) {
        FileChooser chooser = new FileChooser();
        chooser.setTitle(Labels.of(titleKey));
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter(Labels.of(kindKey), endings));
        return chooser;
    }

    private static void with(File file, Consumer<Path> act) {
        if (file != null) {
            act.accept(file.toPath());
        }
    }

    private static String[] assetEndings() {
        return AssetFiles.endings().stream().map(e -> "*." + e).toArray(String[]::new);
    }

    /** Asks for a file to open, or several that become one asset. */
    public void open() {
        List<File> files =
                chooser("dialog.open", "dialog.assets", assetEndings()).showOpenMultipleDialog(owner);
        if (files != null && !files.isEmpty()) {
            desk.files().open(files.stream().map(File::toPath).toList());
        }
    }

    /** Asks for a newer version of the source. */
    public void openNewer() {
        like("dialog.newer", desk.files()::openNewer);
    }

    /** Asks for a file that something is to be taken from. */
    public void like(String titleKey, Consumer<Path> then) {
        with(chooser(titleKey, "dialog.assets", assetEndings()).showOpenDialog(owner), then);
    }

    /** Asks for a file whose skeleton is to be compared with. */
    public void reference() {
        like("dialog.reference", desk.files()::openReference);
    }

    /** Asks for a file to be looked at beside the desk. */
    public void asset(Consumer<Path> then) {
        like("dialog.beside", then);
    }

    /** Asks where to keep a list of names; it is a ledger of one step. */
    public void saveNames(RenameMany names) {
        FileChooser chooser = chooser("dialog.save.map", "dialog.ledgers", "*.ledger.json");
        chooser.setInitialFileName("joint-names.ledger.json");
        with(chooser.showSaveDialog(owner), file -> desk.files().saveNames(file, names));
    }

    /** Asks for a list of names that was kept. */
    public void loadNames(Consumer<Map<String, String>> then) {
        with(
                chooser("dialog.load.map", "dialog.ledgers", "*.json").showOpenDialog(owner),
                file -> desk.files().loadNames(file, then));
    }

    /** Asks where to save the ledger. */
    public void saveLedger() {
        FileChooser chooser = chooser("dialog.save.ledger", "dialog.ledgers", "*.ledger.json");
        chooser.setInitialFileName(desk.received().name() + ".ledger.json");
        with(chooser.showSaveDialog(owner), desk.files()::saveLedger);
    }

    /** Asks for a ledger to run. */
    public void loadLedger() {
        with(chooser("dialog.load.ledger", "dialog.ledgers", "*.json").showOpenDialog(owner), desk.files()::loadLedger);
    }

    /** Asks for a file that holds a target. */
    public void target(Consumer<Target> then) {
        with(
                chooser("dialog.target", "dialog.targets", "*.json").showOpenDialog(owner),
                file -> desk.targets().open(file, then));
    }

    /** Asks for a folder. */
    public void folder(Consumer<Path> then) {
        DirectoryChooser chooser = new DirectoryChooser();
        chooser.setTitle(Labels.of("dialog.folder"));
        with(chooser.showDialog(owner), then);
    }
}
