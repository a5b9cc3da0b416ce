package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.motion.Resample;
import org.cleanmarrow.steps.motion.SetLoop;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** The state before a clip was changed last is found, and only where the two can be held against each other. */
public class EarlierClipTest {
    private final Asset source = RandomAssets.of(3);
    private History history = new History(source);

    private void does(Step step) {
        Replay.Done done = Replay.one(history.latest(), step, true, Work.QUIET);
        assertThat(done.outcome()).isPresent();
        history = history.with(done);
    }

    private Optional<EarlierClip> earlier(String name) {
        return EarlierClip.of(source, history.done(), name);
    }

    @Test
    public void itIsTheOneBeforeTheLastStepThatChangedItsKeys() {
        assertThat(earlier("linear")).isEmpty();
        does(new Resample("linear", 12));
        Asset once = history.latest();
        assertThat(earlier("linear").orElseThrow().asset()).isSameAs(source);
        assertThat(earlier("cubic")).as("another clip").isEmpty();
        assertThat(earlier("nothing of this name")).isEmpty();
        does(new SetLoop("linear", !once.clips().get(once.findClip("linear")).loop()));
        assertThat(earlier("linear").orElseThrow().asset()).as("keys stayed").isSameAs(source);
        does(new Resample("linear", 48));
        EarlierClip found = earlier("linear").orElseThrow();
        assertThat(found.clip().rate()).isEqualTo(12);
        does(new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), false));
        assertThat(earlier("linear")).as("in other axes").isEmpty();
        does(new Resample("linear", 24));
        assertThat(earlier("linear").orElseThrow().clip().rate()).isEqualTo(48);
    }
}
