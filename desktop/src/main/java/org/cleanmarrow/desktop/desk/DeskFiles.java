package org.cleanmarrow.desktop.desk;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.VertexOrder;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Arrival;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.report.Report;
import org.cleanmarrow.formats.report.ReportFiles;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Newer;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.steps.intake.NamesFrom;
import org.cleanmarrow.steps.intake.OrderVertices;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/**
 * What comes onto the desk and leaves it: assets, demo assets, ledgers, lists of names, deliveries. None is read or written on the
 * interface thread.
 */
public final class DeskFiles {
    /** Stands before the name of a demo asset where that is the source in recovery files. */
    private static final String DEMO = "demo:";
    /** Between the files of one asset in a recovery file; no path holds it. */
    private static final String SEPARATOR = "\0";

    private final Desk desk;
    private final Jobs jobs;

    private final ReadOnlyObjectWrapper<Begin> begin;

    /** What one can begin with: work that was put away or left behind, and files opened lately; the last first. */
    public record Begin(List<AppFolder.Leftover> left, List<Path> recent) {
        static Begin of(AppFolder folder) {
            return new Begin(folder.leftovers(), folder.recent());
        }
    }

    DeskFiles(Desk desk) {
        this.desk = desk;
        jobs = desk.jobs();
        begin = new ReadOnlyObjectWrapper<>(Begin.of(desk.folder()));
    }

    /** What one can begin with; looked for anew whenever the desk is cleared. */
    public ReadOnlyObjectProperty<Begin> begin() {
        return begin.getReadOnlyProperty();
    }

    /** Closes what lies on the desk. Its steps are kept and can be gone on with. */
    public void close() {
        if (!desk.isOpen()) {
            return;
        }
        desk.clear(() -> jobs.run(w -> Begin.of(desk.folder()), begin::set));
        jobs.say("");
    }

    /** Forgets work that was put away or left behind. */
    public void forget(AppFolder.Leftover leftover) {
        jobs.run(
                w -> {
                    desk.folder().discard(leftover);
                    return Begin.of(desk.folder());
                },
                begin::set);
    }

    /** The demo asset that a source is. */
    static Optional<Demo> demo(String source) {
        return source.startsWith(DEMO) ? Demo.named(source.substring(DEMO.length())) : Optional.empty();
    }

    /** Opens a file in place of what is on the desk; where it cannot be read the desk stays as it is. */
    public void open(Path file) {
        open(List.of(file));
    }

    /** Opens several files as one asset: the first, and the others brought onto its skeleton by joint names. */
    public void open(List<Path> files) {
        jobs.run(
                w -> {
                    Read read = Read.of(files, w);
                    files.reversed().forEach(desk.folder()::remember);
                    return read;
                },
                read -> {
                    AssetFiles.Opened opened = read.opened;
                    desk.take(opened, sources(files), read.files, Ledger.EMPTY, List.of());
                    jobs.say(
                            files.size() == 1
                                    ? Labels.of("said.opened", files.getFirst().getFileName())
                                    : Labels.of(
                                            "said.joined",
                                            files.size(),
                                            opened.asset().notes().getLast()));
                });
    }

    /** What was read, and how its files were before. */
    private record Read(AssetFiles.Opened opened, List<SourceWatch.Noted> files) {
        static Read of(List<Path> files, Work work) throws ReadFailed {
            List<SourceWatch.Noted> noted = SourceWatch.note(files);
            return new Read(AssetFiles.open(files, work), noted);
        }
    }

    private static String sources(List<Path> files) {
        return files.stream().map(f -> f.toAbsolutePath().toString()).collect(Collectors.joining(SEPARATOR));
    }

    /** Begins to make a demo asset before there is a desk to open it on: it is there sooner when it is asked for. */
    public static void makeAhead(Demo demo) {
        Thread.ofPlatform()
                .daemon()
                .name("demo ahead")
                .priority(WorkThreads.SEEN)
                .start(demo.asset()::get);
    }

    public void openDemo() {
        openDemo(Demo.pilot());
    }

    /** Opens the demo asset of a name; where there is none of it, says so and which there are. */
    public void openDemo(String name) {
        Demo.named(name).ifPresentOrElse(this::openDemo, () -> {
            String all = Demo.ALL.stream().map(Demo::name).collect(Collectors.joining(", "));
            jobs.fail(new Exception(Labels.of("said.demo.none", name, all)));
        });
    }

    public void openDemo(Demo demo) {
        jobs.run(w -> demo.asset().get(), asset -> {
            desk.take(alone(asset), DEMO + demo.name(), List.of(), Ledger.EMPTY, List.of());
            jobs.say(Labels.of("said.demo", demo.faults().get().size(), demo.name()));
        });
    }

    /** Takes the names of another file's parts and joints for those that are the same, as one step a kind. */
    public void namesFrom(Path file) {
        like(file, "said.names.none", NamesFrom::reference);
    }

    /** Gives the materials another file's names and order. */
    public void materialsFrom(Path file) {
        like(file, "said.materials.none", NamesFrom::materials);
    }

    /** Puts the vertices of every mesh in the order of another file's mesh of that name. */
    public void orderFrom(Path file) {
        like(file, "said.order.none", (asset, template) -> {
            boolean same = template.conventions().equals(asset.conventions());
            Change there =
                    same ? Change.of(template) : new Convert(asset.conventions(), true).apply(template, Work.QUIET);
            return OrderVertices.like(there.asset(), asset);
        });
    }

    /** Finds what makes an asset like another. */
    private interface Likeness {
        List<Step> steps(Asset asset, Asset other) throws Refused;
    }

    private void like(Path file, String none, Likeness likeness) {
        Asset asset = desk.history().latest();
        jobs.run(w -> likeness.steps(asset, AssetFiles.open(file, w)), steps -> {
            if (steps.isEmpty()) {
                jobs.say(Labels.of(none, file.getFileName()));
            }
            steps.forEach(desk::apply);
        });
    }

    /** Selects, on the mesh that was put in order, the vertices of its template that were not found. */
    public void notFound(Replay.Done ordered) {
        int at = desk.history().done().indexOf(ordered);
        if (at < 0) {
            return;
        }
        OrderVertices step = (OrderVertices) ordered.step();
        Asset before = desk.history().after(at);
        jobs.run(
                w -> VertexOrder.of(step.like().mesh(), before, Names.mesh(before, step.mesh()), w)
                        .meshes()
                        .getFirst()
                        .unmatched(),
                unmatched -> {
                    BitSet chosen = new BitSet();
                    Arrays.stream(unmatched).forEach(chosen::set);
                    int mesh = desk.now().findMesh(step.mesh());
                    if (mesh >= 0
                            && desk.now().meshes().get(mesh).vertexCount()
                                    == step.like().mesh().vertexCount()) {
                        desk.selection().choose(mesh, chosen);
                    } else {
                        jobs.say(Labels.of("said.order.gone", step.mesh()));
                    }
                });
    }

    /** Reads another file's skeleton to compare with. */
    public void openReference(Path file) {
        jobs.run(w -> AssetFiles.open(file, w), asset -> {
            desk.compareWith(asset);
            jobs.say(Labels.of("said.reference", file.getFileName()));
        });
    }

    /** Takes a newer version of the source and runs the whole ledger on it. */
    public void openNewer(Path file) {
        Ledger ledger = desk.history().ledger();
        jobs.run(
                w -> {
                    Read read = Read.of(List.of(file), w);
                    desk.folder().remember(file);
                    return new Replayed(read, Replay.all(read.opened.asset(), ledger, true, w));
                },
                r -> take(r.read, List.of(file), ledger, r.done));
    }

    private record Replayed(Read read, List<Replay.Done> done) {}

    private void take(Read read, List<Path> files, Ledger ledger, List<Replay.Done> done) {
        desk.take(read.opened, sources(files), read.files, ledger, done);
        long lost = Desk.misfits(ledger, done);
        jobs.say(Labels.of(
                "said.replayed",
                done.size() - lost,
                done.size(),
                files.getFirst().getFileName()));
    }

    /** A newer version of the files on the desk, read and tried, and not taken yet. */
    public final class Tried {
        private final Read read;
        private final List<Path> files;
        private final Newer newer;
        private final History on;

        private Tried(Read read, List<Path> files, Newer newer, History on) {
            this.read = read;
            this.files = files;
            this.newer = newer;
            this.on = on;
        }

        public Newer newer() {
            return newer;
        }

        public String name() {
            return files.getFirst().getFileName().toString();
        }

        /** Takes it, with one of the ledgers that were tried; not where the desk went on meanwhile. */
        public void take(Newer.Replayed replayed) {
            if (!desk.isOn(on) || newer.plain().ledger() != desk.history().ledger()) {
                jobs.fail(new Exception(Labels.of("said.meanwhile")));
                return;
            }
            DeskFiles.this.take(read, files, replayed.ledger(), replayed.done());
        }
    }

    /** Reads the files on the desk again, and tells what that would mean; the desk stays as it is. */
    public void tryNewer(Consumer<Tried> then) {
        History on = desk.history();
        Ledger ledger = on.ledger();
        Asset received = desk.received();
        List<Path> files = files(desk.source());
        jobs.run(
                w -> {
                    Read read = Read.of(files, w);
                    return new Tried(read, files, Newer.of(received, read.opened.asset(), ledger, w), on);
                },
                then);
    }

    private static List<Path> files(String source) {
        return Arrays.stream(source.split(SEPARATOR)).map(Path::of).toList();
    }

    /** Opens again what a session left behind, and replays its ledger. */
    public void recover(AppFolder.Leftover leftover) {
        jobs.run(
                w -> {
                    String from = leftover.source();
                    Optional<Demo> demo = demo(from);
                    Read read = demo.isPresent()
                            ? new Read(alone(demo.get().asset().get()), List.of())
                            : Read.of(files(from), w);
                    Ledger ledger = Ledger.parse(leftover.ledger());
                    return new Recovered(read, from, ledger, Replay.all(read.opened.asset(), ledger, true, w));
                },
                r -> {
                    desk.take(r.read.opened, r.source, r.read.files, r.ledger, r.done);
                    forget(leftover);
                    jobs.say(Labels.of("said.recovered", r.done.size()));
                });
    }

    private record Recovered(Read read, String source, Ledger ledger, List<Replay.Done> done) {}

    private static AssetFiles.Opened alone(Asset asset) {
        return new AssetFiles.Opened(asset, List.of());
    }

    public void saveLedger(Path file) {
        String text = desk.history().ledger().toJson();
        jobs.run(
                w -> {
                    SafeFiles.replace(file, text.getBytes(StandardCharsets.UTF_8));
                    return file;
                },
                f -> jobs.say(Labels.of("said.ledger.saved", f.getFileName())));
    }

    /** Keeps a list of names as a ledger of one step. */
    public void saveNames(Path file, RenameMany names) {
        jobs.run(
                w -> {
                    SafeFiles.replace(file, Ledger.EMPTY.plus(names).toJson().getBytes(StandardCharsets.UTF_8));
                    return file;
                },
                f -> jobs.say(Labels.of("said.ledger.saved", f.getFileName())));
    }

    /** Reads the names in the first list of names of a ledger. */
    public void loadNames(Path file, Consumer<Map<String, String>> then) {
        jobs.run(
                w -> Ledger.parse(Files.readString(file)).entries().stream()
                        .filter(e -> e.step() instanceof RenameMany)
                        .map(e -> ((RenameMany) e.step()).names())
                        .findFirst()
                        .orElseThrow(() -> new Exception(Labels.of("said.no.names", file.getFileName()))),
                then);
    }

    /** Runs a saved ledger on what was received, in place of the present one. */
    public void loadLedger(Path file) {
        jobs.run(w -> Ledger.parse(Files.readString(file)), desk::rerun);
    }

    /** Writes what ships of the latest state out as a recipe says, reads it back and compares. */
    public void deliver(Path out, Recipe recipe) {
        Asset asset = desk.history().latest();
        jobs.run(w -> Delivery.deliver(asset, out, recipe, Optional.empty(), w), delivered -> {
            desk.delivered(delivered);
            jobs.say(Labels.of(
                    "said.delivered",
                    delivered.files().getFirst().getFileName(),
                    desk.outcomes().length(delivered.landing().largestMetres())));
            if (recipe.report()) {
                report();
            }
        });
    }

    /**
     * Opens files as the receiver of the target would, puts them on the other side of the view's divider, and stands the figure
     * beside them.
     *
     * @param files the model, and its clips where those lie apart
     */
    public void land(List<Path> files, Consumer<Arrival> then) {
        Asset meant = desk.history().latest();
        Conventions taken = desk.target().get().conventions();
        jobs.run(w -> Arrival.of(files, taken, Shipping.of(meant), w), arrival -> {
            String name = files.getFirst().getFileName().toString();
            desk.beside().set(new Desk.Beside(name, arrival.asset()));
            desk.seeing().divider().set(0.5);
            desk.seeing().figure().set(true);
            jobs.say(Labels.of(
                    arrival.wrong().isEmpty() ? "said.landed" : "said.landed.otherwise",
                    name,
                    arrival.wrong().size()));
            then.accept(arrival);
        });
    }

    /** Writes a page about what was delivered last, beside it. */
    public void report() {
        Delivery.Delivered delivered = desk.lastDelivery().orElseThrow();
        Asset asset = desk.history().latest();
        Target target = desk.target().get();
        List<Replay.Done> done = List.copyOf(desk.history().done());
        jobs.run(
                w -> {
                    List<Finding> findings = new ArrayList<>(Examiner.findings(asset, target, w));
                    findings.addAll(delivered.tooLarge(target));
                    Report report = new Report(asset, target, findings, Map.of(), done, Optional.of(delivered));
                    return ReportFiles.beside(delivered, report.page(w));
                },
                file -> jobs.say(Labels.of("said.report", file.getFileName())));
    }
}
