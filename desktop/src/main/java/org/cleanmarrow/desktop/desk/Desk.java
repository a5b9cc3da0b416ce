package org.cleanmarrow.desktop.desk;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import javafx.application.Platform;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.beans.value.ObservableValue;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.work.Composite;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;

/**
 * The piece of work on the desk with all that is shown of it, and the acts that change it. Lives on the interface thread;
 * computation runs on work queues, and nothing changes until its result is back.
 *
 * <p>What decides what is shown is one immutable {@link DeskState}; properties show its parts, and to set one is to change the whole.
 * Findings and what else is found out away from the interface thread come later, as properties of their own. Whatever changes, and
 * however much at once, {@link #onAnyChange} hears of it once.
 */
public final class Desk {
    private final AppFolder folder;
    private final Jobs jobs = new Jobs();
    private final DeskFiles files;
    private final Examiner examiner = new Examiner(jobs::fail);
    private final Foreteller foreteller = new Foreteller(this);
    private final Facts facts = new Facts("facts", this::announce);
    private final Facts figures = new Facts("figures", this::announce);
    private final SourceWatch sourceWatch = new SourceWatch(jobs::fail);
    private final WorkQueue measurer = new WorkQueue("measure", p -> {});
    private final WorkQueue saver = new WorkQueue("save", p -> {});
    private final WorkQueue settings = new WorkQueue("settings", p -> {});
    private final Whole<DeskState> state = new Whole<>(DeskState.FIRST, this::announce);
    private final ReadOnlyObjectProperty<Asset> asset =
            state.part(s -> s.asset().orElse(null));
    private final Selection selection = new Selection(state);
    private final Playback playback = new Playback(state);
    private final ReadOnlyObjectProperty<Piece> piece = state.part(DeskState::piece);
    private final ObjectProperty<Station> station = state.part(DeskState::station, DeskState::at);
    private final ObjectProperty<Target> target = state.part(DeskState::target, DeskState::meantFor);
    private final ReadOnlyObjectProperty<Asset> reference = state.part(DeskState::reference);
    private final ObjectProperty<Beside> beside = state.part(DeskState::beside, DeskState::besides);
    private final ReadOnlyObjectProperty<DisplacementMap> price = state.part(DeskState::price);
    private final LetGo letGo = new LetGo(this);
    private final Rechoosing rechoosing = new Rechoosing(this);
    private final Poses poses = new Poses(jobs);
    private final ViewOptions seeing = new ViewOptions();
    private final Preferences preferences;
    private final Targets targets;
    private final Recipes recipes;
    private final Outcomes outcomes;
    private final ObjectProperty<Finding> shown = new SimpleObjectProperty<>();
    private final List<Runnable> followers = new ArrayList<>();
    private boolean announced;

    public Desk(AppFolder folder) {
        this.folder = folder;
        preferences = new Preferences(folder.preferences(), task -> write(settings, task::run));
        outcomes = new Outcomes(preferences);
        targets = new Targets(folder.targets(), jobs::fail);
        recipes = new Recipes(folder.recipes(), jobs::fail);
        target.addListener((o, before, now) -> examine());
        for (ObservableValue<?> found :
                List.of(examiner.findings(), examiner.examined(), poses.all(), preferences.unit())) {
            found.addListener((o, before, now) -> announce());
        }
        files = new DeskFiles(this);
    }

    public void close() {
        letGo.forget();
        saver.closeGently();
        settings.closeWhenDone();
        targets.queue().closeGently();
        recipes.queue().closeGently();
        sourceWatch.stop();
        queues().forEach(WorkQueue::close);
        try {
            if (isOpen()) {
                keep(source(), history().ledger());
            }
            folder.forgetWork();
        } catch (IOException e) {
            // What was saved on the way stays, and is offered in its place.
            AppLog.failed("keeping the work", e);
        }
    }

    private List<WorkQueue> queues() {
        List<WorkQueue> all = new ArrayList<>(jobs.queues());
        all.addAll(List.of(
                settings,
                targets.queue(),
                recipes.queue(),
                examiner.queue(),
                foreteller.queue(),
                facts.queue(),
                figures.queue(),
                measurer,
                saver,
                sourceWatch.queue(),
                poses.queue()));
        return all;
    }

    /** True when nothing is being computed. */
    public boolean isQuiet() {
        return !foreteller.isBusy() && queues().stream().noneMatch(WorkQueue::isBusy);
    }

    // ---- what lies on it

    /** What is being done, and what became of it. */
    public Jobs jobs() {
        return jobs;
    }

    /**
     * Another asset that is looked at in place of what was received.
     *
     * @param name what it is called in the view
     */
    public record Beside(String name, Asset asset) {}

    /** What is looked at in place of what was received; null for that itself. */
    public ObjectProperty<Beside> beside() {
        return beside;
    }

    /** What the view shows on the other side of its divider. */
    public Asset otherSide() {
        return beside.get() == null ? received() : beside.get().asset();
    }

    /** What deliveries consist of, as people kept it. */
    public Recipes recipes() {
        return recipes;
    }

    /** Whether the files it came from were written since. */
    public SourceWatch sourceWatch() {
        return sourceWatch;
    }

    /** What is opened, saved and delivered. */
    public DeskFiles files() {
        return files;
    }

    /** What is in hand. */
    public Selection selection() {
        return selection;
    }

    /** What is chosen from what is chosen. */
    public Rechoosing rechoosing() {
        return rechoosing;
    }

    /** Bodies let go while one watches. */
    public LetGo letGo() {
        return letGo;
    }

    /** What is shown of time. */
    public Playback playback() {
        return playback;
    }

    // ---- what there is

    public boolean isOpen() {
        return state.now().piece() != null;
    }

    /** The demo asset that is on the desk. */
    public Optional<Demo> demo() {
        return DeskFiles.demo(source());
    }

    /** What became of the joints of files that were opened together with the first. */
    public List<AssetFiles.Joined> joined() {
        return isOpen() ? state.now().piece().joined() : List.of();
    }

    public AppFolder folder() {
        return folder;
    }

    /** The asset as it was opened. */
    public Asset received() {
        return history().source();
    }

    /** The asset at the step that is looked at. */
    public Asset now() {
        return state.now().piece().asset();
    }

    /** What was opened, and what was done to it; null before anything is. */
    public History history() {
        return isOpen() ? state.now().piece().history() : null;
    }

    /** Number of steps that are looked at; all of them unless an earlier chip was chosen. */
    public int looking() {
        return isOpen() ? state.now().piece().looking() : 0;
    }

    public List<Finding> findings() {
        return examiner.findings().get();
    }

    public List<Finding> findingsAt(Station where) {
        return findings().stream().filter(f -> f.station() == where).toList();
    }

    /** True once what lies on the desk was examined, be it as it was some steps ago. */
    public boolean wasExamined() {
        return isOpen() && examiner.examined().get() != null;
    }

    /** True once the findings are those of the latest state. */
    public boolean isExamined() {
        return isOpen() && examiner.isOf(history().latest(), target.get());
    }

    public Optional<Delivery.Delivered> lastDelivery() {
        return Optional.ofNullable(state.now().piece()).map(Piece::delivered);
    }

    /** What is shown of time on the asset looked at: the trial pose, or else the chosen clip. */
    public Optional<Clip> playedClip() {
        return state.now().asset().flatMap(playback::on);
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

    /** Facts that take seconds, found beside those that the hand waits for. */
    public Facts figures() {
        return figures;
    }

    /** The piece of work: its steps, what they moved, and which of them are looked at; null before anything is opened. */
    public ReadOnlyObjectProperty<Piece> piece() {
        return piece;
    }

    /** The asset that is looked at; null before anything is opened. */
    public ReadOnlyObjectProperty<Asset> asset() {
        return asset;
    }

    public ObjectProperty<Station> station() {
        return station;
    }

    public ObjectProperty<Target> target() {
        return target;
    }

    /** What the last step that was asked for costs, vertex by vertex; null until it is asked. */
    public ReadOnlyObjectProperty<DisplacementMap> price() {
        return price;
    }

    /** Finds what the step that is looked at costs, and shows it. */
    public void findPrice() {
        if (looking() == 0) {
            jobs.fail(new Exception(Labels.of("said.price.none")));
            return;
        }
        Asset before = history().after(looking() - 1);
        Asset after = now();
        jobs.study(w -> DisplacementMap.of(before, after, w), found -> {
            state.change(s -> s.with(found));
            seeing.paint().set(ShadingMode.PRICE);
            jobs.say(Labels.of("said.price", outcomes.length(found.most())));
        });
    }

    /** Trial poses for the skeleton looked at, and those that were kept. */
    public ReadOnlyObjectProperty<List<TrialPose>> poses() {
        return poses.all();
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

    String source() {
        return isOpen() ? state.now().piece().source() : "";
    }

    /** @param files that it came from, as they were before they were read */
    void take(
            AssetFiles.Opened opened,
            String from,
            List<SourceWatch.Noted> files,
            Ledger ledger,
            List<Replay.Done> done) {
        if (isOpen() && ledger != history().ledger()) {
            String before = source();
            Ledger steps = history().ledger();
            write(settings, () -> keep(before, steps));
        }
        History history = new History(opened.asset());
        sourceWatch.follow(files);
        foreteller.forget();
        letGo.forget();
        playback.stop();
        // They name places in what lay there before.
        examiner.forget();
        History lying = ledger.isEmpty() ? history : history.with(ledger, done);
        state.change(s -> s.opened(Piece.of(lying, from, opened.joined())));
        changed();
    }

    /** Keeps steps that are about to leave the desk, where there are any: they are nowhere else unless somebody saved them. */
    private void keep(String from, Ledger steps) throws IOException {
        if (!steps.isEmpty()) {
            folder.keep(from, steps.toJson());
        }
    }

    /** Nothing lies on the desk any more; {@code then} is called once its steps are kept, on a queue that nobody cancels. */
    void clear(Runnable then) {
        String before = source();
        Ledger steps = history().ledger();
        settings.run(
                w -> {
                    keep(before, steps);
                    return before;
                },
                kept -> {
                    // Only now: whatever happens in between, one of the two is there. What was opened since writes over
                    // it.
                    if (!isOpen()) {
                        write(saver, folder::forgetWork);
                    }
                    then.run();
                },
                jobs::fail);
        sourceWatch.follow(List.of());
        foreteller.forget();
        letGo.forget();
        playback.stop();
        examiner.forget();
        poses.forget();
        seeing.reset();
        playback.speed().set(1);
        shown.set(null);
        saver.cancel();
        state.change(DeskState::closed);
        // Last: what was asked on the way is about what is gone, too.
        jobs.cancelAll();
        measurer.cancel();
    }

    private interface Writing {
        void run() throws IOException;
    }

    private void write(WorkQueue queue, Writing writing) {
        queue.run(
                w -> {
                    writing.run();
                    return writing;
                },
                done -> {},
                jobs::fail);
    }

    void compareWith(Asset skeleton) {
        state.change(s -> s.comparedWith(skeleton));
    }

    void delivered(Delivery.Delivered delivered) {
        state.change(s -> s.with(s.piece().with(delivered)));
    }

    /** Whether the history that lies on the desk goes on from one. */
    boolean isOn(History history) {
        return isOpen() && history().isOf(history);
    }

    /** Takes another history, and shows its end. */
    private void become(History next) {
        foreteller.forget();
        letGo.forget();
        state.change(s -> s.with(next));
        changed();
    }

    /** The history moved: saves, and finds out anew what is to be known of its end. */
    private void changed() {
        autosave();
        suitPoses();
        examine();
    }

    private void suitPoses() {
        poses.suit(now(), history().ledger().poses());
    }

    /** Saved away from the interface thread: a long ledger takes time to write, and a disk takes as long as it likes. */
    private void autosave() {
        Ledger ledger = history().ledger();
        String from = source();
        saver.cancel();
        write(saver, () -> {
            if (ledger.isEmpty()) {
                folder.forgetWork();
            } else {
                folder.autosave(from, ledger.toJson());
            }
        });
    }

    private void examine() {
        if (isOpen()) {
            examiner.examine(history().latest(), target.get());
        }
    }

    /**
     * Runs a step and records it; a step that is refused changes nothing and says why. How far it moved anything is
     * measured afterwards, so that the change is seen at once.
     */
    public void apply(Step step) {
        History on = history();
        Asset before = on.latest();
        Optional<Replay.Done> foretold = foreteller.known(before, step);
        jobs.run(w -> foretold.orElseGet(() -> Replay.one(before, step, false, w)), done -> {
            if (!isOn(on)) {
                return;
            }
            if (before != history().latest()) {
                // Another step came in between: this one is for what that one left.
                apply(step);
                return;
            }
            if (done.outcome().isEmpty()) {
                jobs.fail(new Exception(done.reason()));
                return;
            }
            jobs.say(outcomes.sentence(done));
            become(history().with(done));
            if (done.motion().isEmpty()) {
                measure(before, done);
            }
        });
    }

    private void measure(Asset before, Replay.Done done) {
        History on = history();
        measurer.run(
                w -> Replay.measured(before, done, w),
                measured -> {
                    if (!isOn(on)) {
                        return;
                    }
                    History known = history().amended(done, measured);
                    boolean last = !known.done().isEmpty() && known.done().getLast() == measured;
                    if (last && !jobs.trouble().get()) {
                        jobs.say(outcomes.sentence(measured));
                    }
                    state.change(s -> s.with(s.piece().with(known)));
                },
                jobs::fail);
    }

    /** Records steps that were run on the latest state already; they are undone together. */
    public void applyAsOne(List<Replay.Done> done) {
        become(history().with(done));
        jobs.say(Labels.of("said.mended", done.size()));
    }

    /** Runs steps one after the other, each on what the one before left; those that are refused are passed over. */
    public void applyAll(List<Step> steps) {
        History on = history();
        Asset before = on.latest();
        jobs.run(
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
                    if (!isOn(on)) {
                        return;
                    }
                    if (before != history().latest()) {
                        applyAll(steps);
                        return;
                    }
                    if (!done.isEmpty()) {
                        applyAsOne(done);
                    }
                    jobs.say(Labels.of("said.all", done.size(), steps.size()));
                });
    }

    public void undo() {
        if (isOpen() && history().canUndo()) {
            become(history().undone());
            jobs.say(Labels.of("said.undone"));
        }
    }

    public void redo() {
        if (isOpen() && history().canRedo()) {
            become(history().redone());
            jobs.say(Labels.of("said.redone"));
        }
    }

    /** Looks at the state after so many steps; nothing is changed. */
    public void lookAt(int steps) {
        letGo.forget();
        state.change(s -> s.with(s.piece().lookingAt(steps)));
        suitPoses();
    }

    /** Switches a step on or off and runs the ledger again. */
    public void switchStep(int index, boolean on) {
        rerun(history().ledger().switched(index, on));
    }

    public void removeStep(int index) {
        rerun(history().ledger().without(index));
    }

    /** Puts a step with other parameters in one's place and runs the ledger again. */
    public void replaceStep(int index, Step step) {
        rerun(history().ledger().replaced(index, step));
    }

    /** Puts the steps that one consists of in its place; all that comes after them stays as it is. */
    public void openStep(int index) {
        History on = history();
        Ledger before = on.ledger();
        if (!(before.entries().get(index).step() instanceof Composite whole)
                || on.done().get(index).outcome().isEmpty()) {
            return;
        }
        jobs.run(w -> Replay.opened(on.after(index), whole, w), parts -> {
            if (cameBetween(on, before)) {
                return;
            }
            List<Replay.Done> done = new ArrayList<>(history().done());
            done.remove(index);
            done.addAll(index, parts);
            List<Step> steps = parts.stream().map(Replay.Done::step).toList();
            become(history().with(before.opened(index, steps), done));
            jobs.say(Labels.of("said.opened.step", parts.size()));
        });
    }

    /** Moves a step within the ledger, where all steps that fit now still do; otherwise says which would not. */
    public void moveStep(int from, int to) {
        if (to < 0 || to >= history().ledger().entries().size() || from == to) {
            return;
        }
        History on = history();
        Ledger before = on.ledger();
        Ledger moved = before.moved(from, to);
        jobs.run(w -> Replay.all(on.source(), moved, true, w), done -> {
            if (cameBetween(on, before)) {
                return;
            }
            Optional<Replay.Done> lost = firstLost(moved, done);
            if (misfits(moved, done) > misfits(on.ledger(), on.done()) && lost.isPresent()) {
                jobs.fail(new Exception(Labels.of(
                        "said.not.moved", Outcomes.name(lost.get()), lost.get().reason())));
                return;
            }
            become(history().with(moved, done));
            jobs.say(Labels.of("said.step.moved", to + 1));
        });
    }

    /** True where the ledger is no longer the one that was changed; the change is then left undone, and said so. */
    private boolean cameBetween(History on, Ledger before) {
        boolean other = !isOn(on) || before != history().ledger();
        if (other) {
            jobs.fail(new Exception(Labels.of("said.meanwhile")));
        }
        return other;
    }

    private static Optional<Replay.Done> firstLost(Ledger ledger, List<Replay.Done> done) {
        return IntStream.range(0, done.size())
                .filter(i -> isLost(ledger, done, i))
                .mapToObj(done::get)
                .findFirst();
    }

    static long misfits(Ledger ledger, List<Replay.Done> done) {
        return IntStream.range(0, done.size())
                .filter(i -> isLost(ledger, done, i))
                .count();
    }

    private static boolean isLost(Ledger ledger, List<Replay.Done> done, int step) {
        return ledger.entries().get(step).on() && done.get(step).outcome().isEmpty();
    }

    void rerun(Ledger ledger) {
        History on = history();
        Ledger before = on.ledger();
        jobs.run(w -> Replay.all(on.source(), ledger, true, w), done -> {
            if (cameBetween(on, before)) {
                return;
            }
            become(history().with(ledger, done));
            jobs.say(Labels.of("said.rerun", done.size(), misfits(ledger, done)));
        });
    }

    /** Gives the chosen vertices a name that is kept with the work. */
    public void keepChoice(String name) {
        Selection.Chosen c = selection.chosen().get();
        if (c.isEmpty() || name.isBlank()) {
            return;
        }
        VertexSet vertices = VertexSet.chosen(now().meshes().get(c.mesh()), c.vertices());
        Ledger.Choice choice = new Ledger.Choice(name, now().meshRef(c.mesh()), vertices);
        rename(history().ledger().keeping(choice));
        jobs.say(Labels.of("said.kept", name, c.vertices().cardinality()));
    }

    /** Keeps what is held or played at this moment as a pose of that name, with the work. */
    public void keepPose(String name) {
        if (name.isBlank() || playedClip().isEmpty()) {
            jobs.fail(new Exception(Labels.of("said.pose.none")));
            return;
        }
        TrialPose pose = TrialPose.held(
                name, now(), playedClip().orElseThrow(), playback.seconds().get());
        rename(history().ledger().keeping(pose));
        jobs.say(Labels.of("said.pose.kept", name));
    }

    /** Keeps with the work what a delivery of it consists of. */
    public void keepRecipe(Recipe recipe) {
        rename(history().ledger().delivering(recipe.toJson()));
    }

    /** What is kept with the work; where that cannot be read, nothing. */
    public Optional<Recipe> keptRecipe() {
        try {
            return Recipe.keptWith(history().ledger());
        } catch (BadJson e) {
            jobs.fail(e);
            return Optional.empty();
        }
    }

    public void forgetChoice(String name) {
        rename(history().ledger().forgetting(name));
    }

    /** Takes a ledger with the same steps. */
    private void rename(Ledger ledger) {
        state.change(s -> s.with(s.piece().with(history().with(ledger, history().done()))));
        autosave();
        poses.keep(ledger.poses());
    }

    /** Chooses the vertices of a name again, on the asset as it is looked at. */
    public void chooseNamed(Ledger.Choice choice) {
        int mesh = now().findMesh(choice.mesh());
        if (mesh < 0) {
            jobs.fail(new Exception(Labels.of("said.choice.gone", choice.name(), choice.mesh())));
            return;
        }
        try {
            selection.choose(mesh, (BitSet)
                    choice.vertices().on(now().meshes().get(mesh)).clone());
        } catch (Refused e) {
            jobs.fail(e);
        }
    }

    /** Turns choices and time to a finding's place; the view follows {@link #shown}. */
    public void show(Finding finding) {
        if (!isExamined()) {
            // Its place is one of an earlier state.
            jobs.say(Labels.of("said.earlier"));
            return;
        }
        Finding.Place place = finding.place();
        Asset latest = history().latest();
        if (now() != latest) {
            lookAt(history().done().size());
        }
        if (place.node() >= 0) {
            selection.joint().set(latest.nodeRef(place.node()));
        }
        if (place.mesh() >= 0) {
            selection.choose(place.mesh(), (BitSet) place.vertices().clone());
            if (finding.station() == Station.SKIN) {
                seeing.paint().set(ShadingMode.INFLUENCE);
            }
        }
        if (place.clip() >= 0) {
            playback.clip().set(latest.clips().get(place.clip()).name());
            playback.seconds().set(latest.clips().get(place.clip()).start());
        }
        shown.set(null);
        shown.set(finding);
    }
}
