package org.cleanmarrow.desktop.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import javafx.application.Platform;
import org.testfx.api.FxToolkit;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;

/** Work away from the interface thread: in order, its results on the interface thread, none after it was cancelled. */
public class WorkQueueTest {
    @BeforeClass
    public void startToolkit() throws Exception {
        FxToolkit.registerPrimaryStage();
    }

    private static void idle(WorkQueue queue) throws Exception {
        for (int i = 0; i < 6000 && queue.isBusy(); i++) {
            Thread.sleep(10);
        }
        assertThat(queue.isBusy()).isFalse();
    }

    @Test
    public void resultsComeInOrderOnTheInterfaceThread() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        List<String> said = Collections.synchronizedList(new ArrayList<>());
        for (int i = 0; i < 5; i++) {
            int number = i;
            queue.run(
                    w -> {
                        assertThat(Platform.isFxApplicationThread()).isFalse();
                        Thread.sleep(5L * (5 - number));
                        return number;
                    },
                    n -> said.add(n + (Platform.isFxApplicationThread() ? "" : " elsewhere")),
                    e -> said.add(e.toString()));
        }
        idle(queue);
        assertThat(said).containsExactly("0", "1", "2", "3", "4");
        queue.close();
    }

    /** A clock that looked once more, just as the window closed, brought the interface down with it. */
    @Test
    public void aClosedQueueTakesNothing() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        queue.close();
        queue.run(w -> 1, n -> {}, e -> {});
        assertThat(queue.isBusy()).isFalse();
    }

    /** Errors too end with a message: a queue that stayed busy would stop everything. */
    @Test
    public void errorsEndAJobAsWell() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        List<String> said = Collections.synchronizedList(new ArrayList<>());
        queue.run(
                w -> {
                    throw new StackOverflowError();
                },
                n -> said.add("done"),
                e -> said.add(e.getMessage()));
        queue.run(w -> 1, n -> said.add("next"), e -> said.add(e.getMessage()));
        idle(queue);
        assertThat(said).hasSize(2).last().isEqualTo("next");
        assertThat(said.getFirst()).contains("StackOverflowError", "log");
        queue.close();
    }

    @Test
    public void failuresAreHandedOverAndTheQueueGoesOn() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        List<String> said = Collections.synchronizedList(new ArrayList<>());
        queue.run(
                w -> {
                    throw new IllegalStateException("broken");
                },
                n -> said.add("done"),
                e -> said.add(e.getMessage()));
        queue.run(
                w -> {
                    throw new OutOfMemoryError();
                },
                n -> said.add("done"),
                e -> said.add(e.getMessage()));
        queue.run(w -> 1, n -> said.add("done"), e -> said.add(e.getMessage()));
        idle(queue);
        assertThat(said).containsExactly("broken", "There is not enough memory for this.", "done");
        queue.close();
    }

    @Test
    public void whatWasCancelledNeverAnswersWhetherItRanOrWaited() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        List<String> said = Collections.synchronizedList(new ArrayList<>());
        CountDownLatch running = new CountDownLatch(1);
        CountDownLatch started = new CountDownLatch(2);
        queue.run(
                w -> {
                    started.countDown();
                    running.countDown();
                    while (!w.cancelled()) {
                        Thread.sleep(2);
                    }
                    w.stopIfCancelled();
                    return "first";
                },
                said::add,
                e -> said.add(e.toString()));
        queue.run(
                w -> {
                    started.countDown();
                    return "second";
                },
                said::add,
                e -> said.add(e.toString()));
        assertThat(running.await(60, TimeUnit.SECONDS)).isTrue();
        queue.cancel();
        queue.run(w -> "third", said::add, e -> said.add(e.toString()));
        idle(queue);
        assertThat(said).containsExactly("third");
        assertThat(started.getCount()).as("what only waited was never begun").isEqualTo(1);
        queue.close();
    }

    /** What people set up, or steps that leave the desk, are written whatever ends meanwhile. */
    @Test
    public void whatWaitsIsDoneBeforeItClosesWhereThatIsAsked() throws Exception {
        WorkQueue queue = new WorkQueue("test", p -> {});
        CountDownLatch started = new CountDownLatch(1);
        List<String> done = Collections.synchronizedList(new ArrayList<>());
        CountDownLatch closing = new CountDownLatch(1);
        queue.run(
                w -> {
                    started.countDown();
                    closing.await(60, TimeUnit.SECONDS);
                    return done.add("first");
                },
                n -> {},
                e -> {});
        queue.run(w -> done.add("second"), n -> {}, e -> {});
        assertThat(started.await(60, TimeUnit.SECONDS)).isTrue();
        closing.countDown();
        queue.closeWhenDone();
        idle(queue);
        assertThat(done).containsExactly("first", "second");
    }

    @Test
    public void progressIsSaidAndTakenBack() throws Exception {
        List<String> said = Collections.synchronizedList(new ArrayList<>());
        WorkQueue queue = new WorkQueue("test", p -> said.add(p == null ? "over" : p.doing()));
        queue.run(
                w -> {
                    for (int i = 0; i < 5; i++) {
                        w.at(i / 5.0, "turning");
                        Thread.sleep(60);
                    }
                    return 0;
                },
                n -> {},
                e -> {});
        idle(queue);
        assertThat(said).contains("turning");
        assertThat(said.getLast()).isEqualTo("over");
        queue.closeGently();
    }
}
