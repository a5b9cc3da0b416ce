package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import javafx.application.Platform;
import javafx.beans.property.ReadOnlyBooleanProperty;
import javafx.beans.property.ReadOnlyBooleanWrapper;
import javafx.beans.property.ReadOnlyIntegerProperty;
import javafx.beans.property.ReadOnlyIntegerWrapper;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.simulation.BodyKeys;
import org.cleanmarrow.simulation.BodyWorld;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.work.Pulls;
import org.cleanmarrow.work.Refused;
import org.joml.Vector3dc;

/**
 * Lets bodies go while one watches and draws at them, on a thread of its own, frame by frame as time passes. What was done can be kept:
 * the step that does the same again, to the bit.
 */
public final class LetGo {
    private final Desk desk;
    private final ReadOnlyBooleanWrapper running = new ReadOnlyBooleanWrapper();
    private final ReadOnlyIntegerWrapper frames = new ReadOnlyIntegerWrapper();
    private Run run;

    /**
     * A body that is held.
     *
     * @param node of the body
     * @param at   taken hold of, in the node's axes without their scale, metres
     * @param to   drawn to, in the asset's world, metres
     */
    public record Hold(int node, Vector3dc at, Vector3dc to) {}

    /** What one frame looks like. */
    private record Shown(Clip clip, double seconds, int frame) {}

    LetGo(Desk desk) {
        this.desk = desk;
    }

    public ReadOnlyBooleanProperty running() {
        return running.getReadOnlyProperty();
    }

    /** How many frames passed of what is or was let go last; 0 where nothing can be kept. */
    public ReadOnlyIntegerProperty frames() {
        return frames.getReadOnlyProperty();
    }

    /** Lets the bodies of the asset that is looked at go. */
    public void start(SimulateBodies how) {
        forget();
        Asset asset = desk.now();
        try {
            how.ready(asset);
        } catch (Refused e) {
            desk.jobs().fail(e);
            return;
        }
        running.set(true);
        run = new Run(asset, how);
        Thread.ofPlatform().daemon().name("let go").start(run);
    }

    /** Ends it; it stands as it was left until something else is shown. */
    public void stop() {
        if (run != null) {
            run.ended = true;
        }
        running.set(false);
    }

    /** Ends it and shows nothing of it. */
    public void forget() {
        stop();
        run = null;
        frames.set(0);
        desk.playback().live(null, null, 0);
    }

    /** The step that does what was watched last. */
    public Optional<SimulateBodies> kept() {
        return run == null || frames.get() < 1
                ? Optional.empty()
                : Optional.of(run.how.tried(frames.get(), run.pulls(frames.get())));
    }

    /** What is drawn at from now on; null: nothing. */
    public void pull(Hold hold) {
        if (run != null) {
            run.hold.set(hold);
        }
    }

    /** The node of the free body that what stands at a node belongs to; -1 where that is none, or nothing is let go. */
    public int bearer(int node) {
        BodyWorld world = run == null ? null : run.world;
        return world == null ? -1 : world.bearer(node);
    }

    private final class Run implements Runnable {
        private final Asset asset;
        private final SimulateBodies how;
        private final AtomicReference<Hold> hold = new AtomicReference<>();
        private final AtomicReference<Shown> next = new AtomicReference<>();
        private final List<Pulls.Pull> done = new ArrayList<>();
        private volatile boolean ended;
        private volatile BodyWorld world;
        private double rate;

        Run(Asset asset, SimulateBodies how) {
            this.asset = asset;
            this.how = how;
        }

        @Override
        public void run() {
            try {
                Clip source = how.source(asset);
                float[] times = how.times(asset);
                rate = times.length < 2 ? 1 : 1 / ((double) times[1] - times[0]);
                try (BodyWorld made = new BodyWorld(asset, source, how.height(asset), times[0])) {
                    world = made;
                    long begun = System.nanoTime();
                    for (int k = 1; k < times.length && !ended; k++) {
                        frame(made, source, times[k], k);
                        long due = begun + (long) (1e9 * (times[k] - times[0]));
                        long early = due - System.nanoTime();
                        if (early > 0) {
                            Thread.sleep(early / 1_000_000, (int) (early % 1_000_000));
                        } else {
                            // Slower than time passes: it goes on from here, nothing is left out.
                            begun -= early;
                        }
                    }
                }
            } catch (Refused | RuntimeException e) {
                Platform.runLater(() -> desk.jobs().fail(e));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            } finally {
                Platform.runLater(() -> {
                    if (LetGo.this.run == this) {
                        running.set(false);
                    }
                });
            }
        }

        private void frame(BodyWorld made, Clip source, float at, int k) {
            Hold held = hold.get();
            if (held == null) {
                made.advance(at, List.of());
            } else {
                made.advance(at, List.of(new BodyWorld.Pull(held.node, held.at, held.to)));
                synchronized (done) {
                    done.add(new Pulls.Pull(k, asset.nodeRef(held.node), held.at, held.to));
                }
            }
            Clip pose = BodyKeys.clip(
                    asset, source, how.clip(), rate, new float[] {at}, made.free(), List.of(made.frame()));
            if (next.getAndSet(new Shown(pose, at, k)) == null) {
                Platform.runLater(this::show);
            }
        }

        private void show() {
            Shown shown = next.getAndSet(null);
            if (shown != null && LetGo.this.run == this && desk.isOpen() && desk.now() == asset) {
                frames.set(shown.frame);
                desk.playback().live(asset, shown.clip, shown.seconds);
            }
        }

        /** What was drawn at up to a frame. */
        Pulls pulls(int last) {
            synchronized (done) {
                return new Pulls(done.stream().filter(p -> p.frame() <= last).toList());
            }
        }
    }
}
