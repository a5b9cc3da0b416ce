package org.cleanmarrow.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.testng.annotations.Test;

/** What is kept is that of the very same objects, and only as much as was said. */
public class KeptTest {
    private final AtomicInteger looks = new AtomicInteger();

    private int look() {
        return looks.incrementAndGet();
    }

    @Test
    public void theSameObjectsAreLookedIntoOnce() {
        Kept<Integer> kept = new Kept<>(2);
        int[] a = {1};
        int[] b = {1};
        int first = kept.of(List.of(a, b), this::look);
        assertThat(kept.of(List.of(a, b), this::look)).isEqualTo(first);
        assertThat(kept.of(List.of(b, a), this::look)).isNotEqualTo(first);
        assertThat(kept.of(List.of(a), this::look)).isNotEqualTo(first);
        // Two others came after it.
        int before = looks.get();
        assertThat(kept.of(List.of(a, b), this::look)).isEqualTo(before + 1);
    }

    /** Undone and done again among many, what one comes back to would else be the first to go. */
    @Test
    public void whatWasAskedForLastStays() {
        Kept<Integer> kept = new Kept<>(2);
        Object a = new Object();
        Object b = new Object();
        int first = kept.of(List.of(a), this::look);
        kept.of(List.of(b), this::look);
        kept.of(List.of(a), this::look);
        kept.of(List.of(new Object()), this::look);
        assertThat(kept.of(List.of(a), this::look)).isEqualTo(first);
    }

    @Test
    public void whatIsEqualIsNotTheSame() {
        Kept<Integer> kept = new Kept<>(4);
        List<String> one = List.of("mesh");
        int first = kept.of(List.of(one), this::look);
        assertThat(kept.of(List.of(List.of("mesh")), this::look)).isNotEqualTo(first);
    }

    @Test
    public void whatFailedIsTriedAgain() {
        Kept<Integer> kept = new Kept<>(4);
        Object o = new Object();
        assertThatThrownBy(() -> kept.of(List.of(o), () -> {
                    throw new IllegalStateException("cancelled");
                }))
                .isInstanceOf(IllegalStateException.class);
        assertThat(kept.of(List.of(o), this::look)).isPositive();
    }
}
