package org.cleanmarrow.bench;

import static org.assertj.core.api.Assertions.assertThat;

import org.testng.annotations.Test;

/** Twelve thousand of the million that {@code ./marrow bench mutate} gives to the readers. */
public class MutationBenchTest {
    @Test
    public void noReaderCheckOrWriterThrowsAnythingButAMessage() throws Exception {
        MutationBench.Outcome outcome = MutationBench.outcome(12_000);
        assertThat(outcome.raw()).as(outcome.firstRaw()).isZero();
        // Enough open for the checks and writers behind the readers to be tried as well.
        assertThat(outcome.opened()).isGreaterThan(1000);
        assertThat(outcome.delivered()).isGreaterThan(1000);
    }
}
