package org.cleanmarrow.desktop.desk;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.beans.property.StringProperty;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/** What is being done, how far it is, and what became of it: every error of every kind ends as a message here. */
public final class Jobs {
    private final ReadOnlyObjectWrapper<Double> progress = new ReadOnlyObjectWrapper<>();
    private final StringProperty doing = new SimpleStringProperty("");
    private final StringProperty message = new SimpleStringProperty("");
    private final BooleanProperty trouble = new SimpleBooleanProperty();
    private final WorkQueue work = new WorkQueue("work", p -> {
        progress.set(p == null ? null : p.share());
        doing.set(p == null ? "" : p.doing());
    });
    private final WorkQueue student = new WorkQueue("study", p -> {});
    private final WorkQueue glance = new WorkQueue("glance", WorkThreads.SEEN, p -> {});

    Jobs() {}

    List<WorkQueue> queues() {
        return List.of(work, student, glance);
    }

    /** How far the work is, below 0 where that is not known; null where there is none. */
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

    void say(String text) {
        trouble.set(false);
        message.set(text);
    }

    void fail(Exception e) {
        trouble.set(true);
        message.set(e.getMessage() == null ? e.toString() : e.getMessage());
    }

    /** Does the work that is shown, one after the other. */
    <T> void run(WorkQueue.Task<T> task, Consumer<T> then) {
        work.run(task, then, this::fail);
    }

    /** Finds something out with progress and a way to cancel it; {@code end} is called however it ends. */
    public <T> void find(Function<Work, T> task, Consumer<T> then, Runnable end) {
        tryOut(task::apply, then, end);
    }

    /** Something to be tried, which may be refused. */
    public interface Trial<T> {
        T run(Work work) throws Refused;
    }

    /** Tries something with progress and a way to cancel it; {@code end} is called however it ends. */
    public <T> void tryOut(Trial<T> trial, Consumer<T> then, Runnable end) {
        ask(work, trial::run, then, end);
    }

    private <T> void ask(WorkQueue queue, WorkQueue.Task<T> task, Consumer<T> then, Runnable end) {
        queue.run(
                task,
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

    /** Finds something out that changes nothing; only the last that was asked is answered. */
    public <T> void study(Function<Work, T> task, Consumer<T> then) {
        student.cancel();
        student.run(task::apply, then, e -> {});
    }

    /** Finds out at once what the hand waits for; {@code end} is called first, however it ends. */
    public <T> void glance(Function<Work, T> task, Consumer<T> then, Runnable end) {
        ask(glance, task::apply, then, end);
    }

    public void cancel() {
        work.cancel();
    }

    /** Gives up whatever was asked. */
    void cancelAll() {
        queues().forEach(WorkQueue::cancel);
    }
}
