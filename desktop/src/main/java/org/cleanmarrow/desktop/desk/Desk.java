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
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javafx.application.Platform;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.ReadOnlyLongProperty;
import javafx.beans.property.ReadOnlyLongWrapper;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.beans.property.StringProperty;
import javafx.beans.value.ObservableValue;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.intake.NamesFrom;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * All state that the interface shows, and the acts that change it. Lives on the interface thread; computation
 * runs on work queues, and nothing changes until its result is back.
 *
 * <p>The asset, the ledger and the step that is looked at are announced by {@link #revision}; findings, what was measured
 * and the rest are properties of their own. A change is one event: {@link #onAnyChange} hears of several together once.
 */
public final class Desk {
    /** Stands before the name of a demo asset where that is the source in recovery files. */
    private static final String DEMO = "demo:";
    /** Between the files of one asset in a recovery file; no path holds it. */
    private static final String SEPARATOR = "\0";

    private final AppFolder folder;
    private final WorkQueue work;
    private final Examiner examiner = new Examiner(this::fail);
    private final Foreteller foreteller = new Foreteller(this);
    private final Facts facts = new Facts(this::announce);
    private final WorkQueue measurer;
    private final WorkQueue saver;
    private final WorkQueue settings = new WorkQueue("settings", p -> {});
    private final WorkQueue student;
    private final WorkQueue poser;
    private final ReadOnlyLongWrapper revision = new ReadOnlyLongWrapper();
    private final ReadOnlyObjectWrapper<Double> progress = new ReadOnlyObjectWrapper<>();
    private final StringProperty doing = new SimpleStringProperty("");
    private final StringProperty message = new SimpleStringProperty("");
    private final BooleanProperty trouble = new SimpleBooleanProperty();
    private final ObjectProperty<Station> station = new SimpleObjectProperty<>(Station.INTAKE);
    private final ObjectProperty<Target> target =
            new SimpleObjectProperty<>(Target.of(Conventions.parse("z-up-cm-lh").orElseThrow()));
    private final StringProperty joint = new SimpleStringProperty("");
    private final ObjectProperty<DisplacementMap> price = new SimpleObjectProperty<>();
    private final StringProperty compared = new SimpleStringProperty("");
    private final StringProperty locked = new SimpleStringProperty("");
    private final ObjectProperty<Chosen> chosen = new SimpleObjectProperty<>(Chosen.NONE);
    private final Playback playback = new Playback();
    private final ReadOnlyObjectWrapper<List<TrialPose>> poses = new ReadOnlyObjectWrapper<>(List.of());
    /** Of {@link #poses} those that are made for the skeleton. */
    private List<TrialPose> posesMade = List.of();

    private final ObjectProperty<Asset> reference = new SimpleObjectProperty<>();
    private final ViewOptions seeing = new ViewOptions();
    private final Preferences preferences;
    private final Targets targets;
    private final Outcomes outcomes;
    private final ObjectProperty<Finding> shown = new SimpleObjectProperty<>();
    private History history;
    private String source = "";
    private int looking;
    private final ReadOnlyLongWrapper measured = new ReadOnlyLongWrapper();
    private final List<Runnable> followers = new ArrayList<>();
    private boolean announced;
    private Delivery.Delivered lastDelivery;
    private List<AssetFiles.Joined> joined = List.of();

    /**
     * Chosen vertices of one mesh.
     *
     * @param mesh number in the asset that is looked at, or -1
     */
    public record Chosen(int mesh, BitSet vertices) {
        public static final Chosen NONE = new Chosen(-1, new BitSet());

        public boolean isEmpty() {
            return mesh < 0 || vertices.isEmpty();
        }
    }

    public Desk(AppFolder folder) {
        this.folder = folder;
        preferences = new Preferences(
                folder.preferences(),
                task -> settings.run(
                        w -> {
                            task.run();
                            return task;
                        },
                        done -> {},
                        this::fail));
        outcomes = new Outcomes(preferences);
        targets = new Targets(folder.targets(), this::fail);
        work = new WorkQueue("work", p -> {
            progress.set(p == null ? null : p.share());
            doing.set(p == null ? "" : p.doing());
        });
        measurer = new WorkQueue("measure", p -> {});
        saver = new WorkQueue("save", p -> {});
        student = new WorkQueue("study", p -> {});
        poser = new WorkQueue("poses", p -> {});
        target.addListener((o, before, now) -> examine());
        for (ObservableValue<?> seen : List.of(
                revision,
                examiner.findings(),
                measured,
                station,
                target,
                joint,
                chosen,
                compared,
                locked,
                playback.clip(),
                playback.trial(),
                poses,
                reference,
                price,
                preferences.unit())) {
            seen.addListener((o, before, now) -> announce());
        }
    }

    public void close() {
        saver.closeGently();
        settings.closeGently();
        targets.queue().closeGently();
        queues().forEach(WorkQueue::close);
        folder.forgetWork();
    }

    private List<WorkQueue> queues() {
        return List.of(
                work,
                settings,
                targets.queue(),
                examiner.queue(),
                foreteller.queue(),
                facts.queue(),
                measurer,
                saver,
                student,
                poser);
    }

    /** True when nothing is being computed. */
    public boolean isQuiet() {
        return !foreteller.isBusy() && queues().stream().noneMatch(WorkQueue::isBusy);
    }

    // ---- what there is

    public boolean isOpen() {
        return history != null;
    }

    /** The demo asset that is on the desk. */
    public Optional<Demo> demo() {
        return source.startsWith(DEMO) ? Demo.named(source.substring(DEMO.length())) : Optional.empty();
    }

    /** What became of the joints of files that were opened together with the first. */
    public List<AssetFiles.Joined> joined() {
        return joined;
    }

    public AppFolder folder() {
        return folder;
    }

    /** The asset as it was opened. */
    public Asset received() {
        return history.source();
    }

    /** The asset at the step that is looked at. */
    public Asset now() {
        return history.after(looking);
    }

    public History history() {
        return history;
    }

    /** Number of steps that are looked at; all of them unless an earlier chip was chosen. */
    public int looking() {
        return looking;
    }

    public List<Finding> findings() {
        return examiner.findings().get();
    }

    public List<Finding> findingsAt(Station where) {
        return findings().stream().filter(f -> f.station() == where).toList();
    }

    /** True once the findings are those of the latest state. */
    public boolean isExamined() {
        return isOpen() && examiner.isOf(history.latest(), target.get());
    }

    public long count(Station where, Severity severity) {
        return findings().stream()
                .filter(f -> f.station() == where && f.severity() == severity)
                .count();
    }

    public Optional<Delivery.Delivered> lastDelivery() {
        return Optional.ofNullable(lastDelivery);
    }

    /** What is shown of time on the asset looked at: the trial pose, or else the chosen clip. */
    public Optional<Clip> playedClip() {
        return isOpen() ? playedOn(now()) : Optional.empty();
    }

    /** The same on another state of the asset. */
    public Optional<Clip> playedOn(Asset asset) {
        return playback.on(asset);
    }

    /** Node number of the chosen joint in the asset looked at, or -1. */
    public int jointNode() {
        return isOpen() && !joint.get().isEmpty() ? now().findNode(joint.get()) : -1;
    }

    // ---- observable

    /**
     * Calls after every change of what there is, what is selected and what is looked at, once for as many as come
     * together; not for the time that is played.
     */
    public void onAnyChange(Runnable follower) {
        followers.add(follower);
    }

    private void announce() {
        if (!announced) {
            announced = true;
            Platform.runLater(() -> {
                announced = false;
                followers.forEach(Runnable::run);
            });
        }
    }

    /** Steps were measured that had been shown before. */
    public ReadOnlyLongProperty measured() {
        return measured.getReadOnlyProperty();
    }

    /** What one can work for. */
    public Targets targets() {
        return targets;
    }

    /** Says what steps would do. */
    public Foreteller foreteller() {
        return foreteller;
    }

    /** What is found out about the asset away from the interface thread. */
    public Facts facts() {
        return facts;
    }

    public ReadOnlyLongProperty revision() {
        return revision.getReadOnlyProperty();
    }

    public ReadOnlyObjectProperty<Double> progress() {
        return progress.getReadOnlyProperty();
    }

    public StringProperty doing() {
        return doing;
    }

    public StringProperty message() {
        return message;
    }

    /** True while {@link #message} is about something that could not be done. */
    public BooleanProperty trouble() {
        return trouble;
    }

    public ObjectProperty<Station> station() {
        return station;
    }

    public ObjectProperty<Target> target() {
        return target;
    }

    public StringProperty joint() {
        return joint;
    }

    /** The joint that the chosen one is compared with; empty for none. */
    public StringProperty compared() {
        return compared;
    }

    /** What the last step that was asked for costs, vertex by vertex; null until it is asked. */
    public ReadOnlyObjectProperty<DisplacementMap> price() {
        return price;
    }

    /** Finds what the step that is looked at costs, and shows it. */
    public void findPrice() {
        if (!isOpen() || looking == 0) {
            fail(new Exception(Labels.of("said.price.none")));
            return;
        }
        Asset before = history.after(looking - 1);
        Asset after = now();
        study(w -> DisplacementMap.of(before, after, w), found -> {
            price.set(found);
            seeing.paint().set(ShadingMode.PRICE);
            say(Labels.of("said.price", outcomes.length(found.most())));
        });
    }

    /** Names of the joints whose weights are not touched, with commas between. */
    public StringProperty locked() {
        return locked;
    }

    public String lockedJoints() {
        return locked.get();
    }

    /** Locks the chosen joint, or unlocks it. */
    public void toggleLock() {
        List<String> names = new ArrayList<>(List.of(locked.get().split(", *")));
        names.removeIf(String::isBlank);
        String name = jointNode() < 0 ? "" : now().nodes().get(jointNode()).name();
        if (!name.isEmpty() && !names.remove(name)) {
            names.add(name);
        }
        locked.set(String.join(", ", names));
    }

    public ObjectProperty<Chosen> chosen() {
        return chosen;
    }

    public StringProperty clip() {
        return playback.clip();
    }

    public DoubleProperty seconds() {
        return playback.seconds();
    }

    public BooleanProperty playing() {
        return playback.playing();
    }

    /** The trial pose that is held against the skin; null for none. */
    public ReadOnlyObjectProperty<TrialPose> trial() {
        return playback.trial();
    }

    /** Trial poses for the skeleton looked at, and those that were kept. */
    public ReadOnlyObjectProperty<List<TrialPose>> poses() {
        return poses.getReadOnlyProperty();
    }

    /** A skeleton that this one is compared with; null for none. */
    public ReadOnlyObjectProperty<Asset> reference() {
        return reference;
    }

    /** How the view shows the asset. */
    public ViewOptions seeing() {
        return seeing;
    }

    /** Words for what steps did and checks found. */
    public Outcomes outcomes() {
        return outcomes;
    }

    public Preferences preferences() {
        return preferences;
    }

    /** The finding that was last shown. */
    public ObjectProperty<Finding> shown() {
        return shown;
    }

    // ---- acts

    private void say(String text) {
        trouble.set(false);
        message.set(text);
    }

    private void fail(Exception e) {
        trouble.set(true);
        message.set(e.getMessage() == null ? e.toString() : e.getMessage());
    }

    /** Opens a file in place of what is on the desk; where it cannot be read the desk stays as it is. */
    public void open(Path file) {
        open(List.of(file));
    }

    /** Opens several files as one asset: the first, and the others brought onto its skeleton by joint names. */
    public void open(List<Path> files) {
        work.run(
                w -> {
                    AssetFiles.Opened opened = AssetFiles.open(files, w);
                    files.reversed().forEach(folder::remember);
                    return opened;
                },
                opened -> {
                    take(opened, sources(files), Ledger.EMPTY, List.of());
                    say(
                            files.size() == 1
                                    ? Labels.of("said.opened", files.getFirst().getFileName())
                                    : Labels.of(
                                            "said.joined",
                                            files.size(),
                                            opened.asset().notes().getLast()));
                },
                this::fail);
    }

    private static String sources(List<Path> files) {
        return files.stream().map(f -> f.toAbsolutePath().toString()).collect(Collectors.joining(SEPARATOR));
    }

    public void openDemo() {
        openDemo(Demo.pilot());
    }

    public void openDemo(Demo demo) {
        work.run(
                w -> demo.asset().get(),
                asset -> {
                    take(alone(asset), DEMO + demo.name(), Ledger.EMPTY, List.of());
                    say(Labels.of("said.demo", demo.faults().get().size(), demo.name()));
                },
                this::fail);
    }

    /** Takes the names of another file's parts and joints for those that are the same, as one step a kind. */
    public void namesFrom(Path file) {
        Asset asset = history.latest();
        work.run(
                w -> NamesFrom.reference(asset, AssetFiles.open(file, w)),
                steps -> {
                    if (steps.isEmpty()) {
                        say(Labels.of("said.names.none", file.getFileName()));
                    }
                    steps.forEach(this::apply);
                },
                this::fail);
    }

    /** Holds a trial pose against the skin, all the way, in place of a clip; null for none. */
    public void hold(TrialPose pose) {
        playback.hold(pose);
    }

    /** Reads another file's skeleton to compare with. */
    public void openReference(Path file) {
        work.run(
                w -> AssetFiles.open(file, w),
                asset -> {
                    reference.set(asset);
                    say(Labels.of("said.reference", file.getFileName()));
                },
                this::fail);
    }

    /** Takes a newer version of the source and runs the whole ledger on it. */
    public void openNewer(Path file) {
        Ledger ledger = history.ledger();
        work.run(
                w -> {
                    Asset asset = AssetFiles.open(file, w);
                    folder.remember(file);
                    return new Replayed(asset, Replay.all(asset, ledger, true, w));
                },
                r -> {
                    take(alone(r.asset), file.toAbsolutePath().toString(), ledger, r.done);
                    long lost = misfits(ledger, r.done);
                    say(Labels.of("said.replayed", r.done.size() - lost, r.done.size(), file.getFileName()));
                },
                this::fail);
    }

    private record Replayed(Asset asset, List<Replay.Done> done) {}

    /** Opens again what a session left behind, and replays its ledger. */
    public void recover(AppFolder.Leftover leftover) {
        work.run(
                w -> {
                    String from = leftover.source();
                    Optional<Demo> demo =
                            from.startsWith(DEMO) ? Demo.named(from.substring(DEMO.length())) : Optional.empty();
                    List<Path> files = demo.isPresent()
                            ? List.of()
                            : Arrays.stream(from.split(SEPARATOR)).map(Path::of).toList();
                    AssetFiles.Opened opened =
                            demo.isPresent() ? alone(demo.get().asset().get()) : AssetFiles.open(files, w);
                    Ledger ledger = Ledger.parse(leftover.ledger());
                    return new Recovered(opened, from, ledger, Replay.all(opened.asset(), ledger, true, w));
                },
                r -> {
                    take(r.opened, r.source, r.ledger, r.done);
                    folder.discard(leftover);
                    say(Labels.of("said.recovered", r.done.size()));
                },
                this::fail);
    }

    private record Recovered(AssetFiles.Opened opened, String source, Ledger ledger, List<Replay.Done> done) {}

    private static AssetFiles.Opened alone(Asset asset) {
        return new AssetFiles.Opened(asset, List.of());
    }

    private void take(AssetFiles.Opened opened, String from, Ledger ledger, List<Replay.Done> done) {
        history = new History(opened.asset());
        joined = opened.joined();
        source = from;
        lastDelivery = null;
        if (!ledger.isEmpty()) {
            history.replace(ledger, done);
        }
        // Before any property says that it changed: who hears it asks for the asset that is looked at.
        looking = history.done().size();
        chosen.set(Chosen.NONE);
        locked.set("");
        compared.set("");
        price.set(null);
        joint.set("");
        hold(null);
        changed();
    }

    /** The history moved: shows its end, keeps what choices still fit, saves, and checks anew. */
    private void changed() {
        Asset before = looking <= history.done().size() && revision.get() > 0 ? chosenOn : null;
        looking = history.done().size();
        keepChoices(before);
        chosenOn = now();
        foreteller.forget();
        autosave();
        revision.set(revision.get() + 1);
        examine();
        listPoses();
    }

    /** Finds the poses that suit the skeleton looked at; guessing roles takes time. */
    private void listPoses() {
        Asset asset = now();
        poser.cancel();
        poser.run(
                w -> TrialPoses.of(asset),
                made -> {
                    if (asset == now()) {
                        posesMade = made;
                        gatherPoses();
                    }
                },
                this::fail);
    }

    private void gatherPoses() {
        List<TrialPose> all = new ArrayList<>(posesMade);
        all.addAll(history.ledger().poses());
        poses.set(List.copyOf(all));
    }

    /** The asset that choices were made on. */
    private Asset chosenOn;

    private void keepChoices(Asset before) {
        Chosen c = chosen.get();
        if (c.mesh() >= 0 && before != null && before != now()) {
            int mesh = c.mesh() < before.meshes().size() ? now().findMesh(before.meshRef(c.mesh())) : -1;
            boolean same = mesh >= 0
                    && now().meshes().get(mesh).vertexCount()
                            == before.meshes().get(c.mesh()).vertexCount();
            chosen.set(same ? new Chosen(mesh, c.vertices()) : Chosen.NONE);
        }
        if (jointNode() < 0) {
            joint.set(renamed(before));
        }
        if (playedClip().isEmpty()) {
            clip().set("");
        }
    }

    /** What the joint in hand is called now, where nothing but names changed; empty where it is gone. */
    private String renamed(Asset before) {
        int node = before == null || joint.get().isEmpty() ? -1 : before.findNode(joint.get());
        boolean same = node >= 0 && Arrays.equals(before.parents(), now().parents());
        return same ? now().nodeRef(node) : "";
    }

    /** Saved away from the interface thread: a long ledger takes time to write, and a disk takes as long as it likes. */
    private void autosave() {
        Ledger ledger = history.ledger();
        String from = source;
        saver.cancel();
        saver.run(
                w -> {
                    if (ledger.isEmpty()) {
                        folder.forgetWork();
                    } else {
                        folder.autosave(from, ledger.toJson());
                    }
                    return ledger;
                },
                saved -> {},
                this::fail);
    }

    private void examine() {
        if (isOpen()) {
            examiner.examine(history.latest(), target.get());
        }
    }

    /**
     * Runs a step and records it; a step that is refused changes nothing and says why. How far it moved anything is
     * measured afterwards, so that the change is seen at once.
     */
    public void apply(Step step) {
        History on = history;
        Asset before = on.latest();
        Optional<Replay.Done> foretold = foreteller.known(before, step);
        work.run(
                w -> foretold.orElseGet(() -> Replay.one(before, step, false, w)),
                done -> {
                    if (on != history) {
                        return;
                    }
                    if (before != history.latest()) {
                        // Another step came in between: this one is for what that one left.
                        apply(step);
                        return;
                    }
                    if (done.outcome().isEmpty()) {
                        fail(new Exception(done.reason()));
                        return;
                    }
                    history.record(done);
                    say(outcomes.sentence(done));
                    changed();
                    if (done.motion().isPresent()) {
                        measured.set(measured.get() + 1);
                    } else {
                        measure(before, done);
                    }
                },
                this::fail);
    }

    private void measure(Asset before, Replay.Done done) {
        History on = history;
        measurer.run(
                w -> Replay.measured(before, done, w),
                measured -> {
                    if (on != history) {
                        return;
                    }
                    history.amend(done, measured);
                    boolean last = !history.done().isEmpty() && history.done().getLast() == measured;
                    if (last && !trouble.get()) {
                        say(outcomes.sentence(measured));
                    }
                    this.measured.set(this.measured.get() + 1);
                },
                this::fail);
    }

    /** Records steps that were run on the latest state already; they are undone together. */
    public void applyAsOne(List<Replay.Done> done) {
        history.recordAll(done);
        changed();
        say(Labels.of("said.mended", done.size()));
    }

    /** Finds something out with progress and a way to cancel it; {@code end} is called however it ends. */
    public <T> void job(Function<Work, T> task, Consumer<T> then, Runnable end) {
        work.run(
                task::apply,
                found -> {
                    end.run();
                    then.accept(found);
                },
                e -> {
                    end.run();
                    fail(e);
                },
                end);
    }

    /** Runs steps one after the other, each on what the one before left; those that are refused are passed over. */
    public void applyAll(List<Step> steps) {
        History on = history;
        Asset before = on.latest();
        work.run(
                w -> {
                    List<Replay.Done> done = new ArrayList<>();
                    Asset asset = before;
                    for (Step step : steps) {
                        w.stopIfCancelled();
                        Replay.Done one = Replay.one(asset, step, true, w);
                        if (one.outcome().isPresent()) {
                            done.add(one);
                            asset = one.asset();
                        }
                    }
                    return done;
                },
                done -> {
                    if (on != history) {
                        return;
                    }
                    if (before != history.latest()) {
                        applyAll(steps);
                        return;
                    }
                    if (!done.isEmpty()) {
                        applyAsOne(done);
                    }
                    say(Labels.of("said.all", done.size(), steps.size()));
                },
                this::fail);
    }

    /** Finds something out that changes nothing; only the last that was asked is answered. */
    public <T> void study(Function<Work, T> task, Consumer<T> then) {
        student.cancel();
        student.run(task::apply, then, e -> {});
    }

    public void undo() {
        if (isOpen() && history.canUndo()) {
            history.undo();
            changed();
            say(Labels.of("said.undone"));
        }
    }

    public void redo() {
        if (isOpen() && history.canRedo()) {
            history.redo();
            changed();
            say(Labels.of("said.redone"));
        }
    }

    /** Looks at the state after so many steps; nothing is changed. */
    public void lookAt(int steps) {
        looking = steps;
        keepChoices(chosenOn);
        chosenOn = now();
        revision.set(revision.get() + 1);
        listPoses();
    }

    /** Switches a step on or off and runs the ledger again. */
    public void switchStep(int index, boolean on) {
        rerun(history.ledger().switched(index, on));
    }

    public void removeStep(int index) {
        rerun(history.ledger().without(index));
    }

    /** Puts a step with other parameters in one's place and runs the ledger again. */
    public void replaceStep(int index, Step step) {
        rerun(history.ledger().replaced(index, step));
    }

    /** Moves a step within the ledger, where all steps that fit now still do; otherwise says which would not. */
    public void moveStep(int from, int to) {
        if (to < 0 || to >= history.ledger().entries().size() || from == to) {
            return;
        }
        History on = history;
        Ledger before = on.ledger();
        Ledger moved = before.moved(from, to);
        work.run(
                w -> Replay.all(on.source(), moved, true, w),
                done -> {
                    if (cameBetween(on, before)) {
                        return;
                    }
                    Optional<Replay.Done> lost = firstLost(moved, done);
                    if (misfits(moved, done) > misfits(on.ledger(), on.done()) && lost.isPresent()) {
                        fail(new Exception(Labels.of(
                                "said.not.moved",
                                Outcomes.name(lost.get()),
                                lost.get().reason())));
                        return;
                    }
                    history.replace(moved, done);
                    changed();
                    say(Labels.of("said.step.moved", to + 1));
                },
                this::fail);
    }

    /** True where the ledger is no longer the one that was changed; the change is then left undone, and said so. */
    private boolean cameBetween(History on, Ledger before) {
        boolean other = on != history || before != on.ledger();
        if (other) {
            fail(new Exception(Labels.of("said.meanwhile")));
        }
        return other;
    }

    private static Optional<Replay.Done> firstLost(Ledger ledger, List<Replay.Done> done) {
        return IntStream.range(0, done.size())
                .filter(i -> isLost(ledger, done, i))
                .mapToObj(done::get)
                .findFirst();
    }

    private static long misfits(Ledger ledger, List<Replay.Done> done) {
        return IntStream.range(0, done.size())
                .filter(i -> isLost(ledger, done, i))
                .count();
    }

    private static boolean isLost(Ledger ledger, List<Replay.Done> done, int step) {
        return ledger.entries().get(step).on() && done.get(step).outcome().isEmpty();
    }

    private void rerun(Ledger ledger) {
        History on = history;
        Ledger before = on.ledger();
        work.run(
                w -> Replay.all(on.source(), ledger, true, w),
                done -> {
                    if (cameBetween(on, before)) {
                        return;
                    }
                    history.replace(ledger, done);
                    changed();
                    say(Labels.of("said.rerun", done.size(), misfits(ledger, done)));
                },
                this::fail);
    }

    public void saveLedger(Path file) {
        String text = history.ledger().toJson();
        work.run(
                w -> {
                    SafeFiles.replace(file, text.getBytes(StandardCharsets.UTF_8));
                    return file;
                },
                f -> say(Labels.of("said.ledger.saved", f.getFileName())),
                this::fail);
    }

    /** Keeps a list of names as a ledger of one step. */
    public void saveNames(Path file, RenameMany names) {
        work.run(
                w -> {
                    SafeFiles.replace(file, Ledger.EMPTY.plus(names).toJson().getBytes(StandardCharsets.UTF_8));
                    return file;
                },
                f -> say(Labels.of("said.ledger.saved", f.getFileName())),
                this::fail);
    }

    /** Reads the names in the first list of names of a ledger. */
    public void loadNames(Path file, Consumer<Map<String, String>> then) {
        work.run(
                w -> Ledger.parse(Files.readString(file)).entries().stream()
                        .filter(e -> e.step() instanceof RenameMany)
                        .map(e -> ((RenameMany) e.step()).names())
                        .findFirst()
                        .orElseThrow(() -> new Exception(Labels.of("said.no.names", file.getFileName()))),
                then,
                this::fail);
    }

    /** Runs a saved ledger on what was received, in place of the present one. */
    public void loadLedger(Path file) {
        work.run(w -> Ledger.parse(Files.readString(file)), this::rerun, this::fail);
    }

    /** Writes what ships of the latest state out in a format, reads it back and compares. */
    public void deliver(Path out, String ending) {
        Asset asset = history.latest();
        work.run(
                w -> Delivery.deliver(asset, out, ending, w),
                delivered -> {
                    lastDelivery = delivered;
                    say(Labels.of(
                            "said.delivered",
                            delivered.files().getFirst().getFileName(),
                            outcomes.length(delivered.landing().largestMetres())));
                    announce();
                },
                this::fail);
    }

    public void cancel() {
        work.cancel();
    }

    /** Chooses vertices of a mesh of the asset that is looked at. */
    public void choose(int mesh, BitSet vertices) {
        chosenOn = now();
        chosen.set(vertices.isEmpty() ? Chosen.NONE : new Chosen(mesh, vertices));
    }

    /** Gives the chosen vertices a name that is kept with the work. */
    public void keepChoice(String name) {
        Chosen c = chosen.get();
        if (c.isEmpty() || name.isBlank()) {
            return;
        }
        VertexSet vertices = VertexSet.chosen(now().meshes().get(c.mesh()), c.vertices());
        Ledger.Choice choice = new Ledger.Choice(name, now().meshRef(c.mesh()), vertices);
        rename(history.ledger().keeping(choice));
        say(Labels.of("said.kept", name, c.vertices().cardinality()));
    }

    /** Keeps what is held or played at this moment as a pose of that name, with the work. */
    public void keepPose(String name) {
        if (name.isBlank() || playedClip().isEmpty()) {
            fail(new Exception(Labels.of("said.pose.none")));
            return;
        }
        TrialPose pose = TrialPose.held(
                name, now(), playedClip().orElseThrow(), seconds().get());
        rename(history.ledger().keeping(pose));
        say(Labels.of("said.pose.kept", name));
    }

    public void forgetChoice(String name) {
        rename(history.ledger().forgetting(name));
    }

    /** Takes a ledger with the same steps. */
    private void rename(Ledger ledger) {
        history.replace(ledger, history.done());
        autosave();
        revision.set(revision.get() + 1);
        gatherPoses();
    }

    /** Chooses the vertices of a name again, on the asset as it is looked at. */
    public void chooseNamed(Ledger.Choice choice) {
        int mesh = now().findMesh(choice.mesh());
        if (mesh < 0) {
            fail(new Exception(Labels.of("said.choice.gone", choice.name(), choice.mesh())));
            return;
        }
        try {
            choose(mesh, (BitSet) choice.vertices().on(now().meshes().get(mesh)).clone());
        } catch (Refused e) {
            fail(e);
        }
    }

    /** Turns choices and time to a finding's place; the view follows {@link #shown}. */
    public void show(Finding finding) {
        Finding.Place place = finding.place();
        Asset latest = history.latest();
        if (now() != latest) {
            lookAt(history.done().size());
        }
        if (place.node() >= 0) {
            joint.set(latest.nodeRef(place.node()));
        }
        if (place.mesh() >= 0) {
            choose(place.mesh(), (BitSet) place.vertices().clone());
            if (finding.station() == Station.SKIN) {
                seeing.paint().set(ShadingMode.INFLUENCE);
            }
        }
        if (place.clip() >= 0) {
            clip().set(latest.clips().get(place.clip()).name());
            seconds().set(latest.clips().get(place.clip()).start());
        }
        shown.set(null);
        shown.set(finding);
    }

    /** The mesh that is worked on: the chosen one, or the first skinned one. */
    public Optional<Mesh> workedMesh() {
        if (!isOpen()) {
            return Optional.empty();
        }
        if (!chosen.get().isEmpty()) {
            return Optional.of(now().meshes().get(chosen.get().mesh()));
        }
        return now().meshes().stream().filter(Mesh::skinned).findFirst();
    }
}
