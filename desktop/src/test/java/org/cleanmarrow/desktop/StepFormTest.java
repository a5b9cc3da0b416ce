package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.List;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import javafx.stage.Window;
import org.cleanmarrow.desktop.station.StepForm;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.steps.Steps;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.work.Step;
import org.testng.annotations.Test;

/** Forms made from the steps alone: every step has one, and what is typed becomes the step. */
public class StepFormTest extends DeskWindow {
    @Test
    public void everyStepHasAFormThatGivesItOrSaysWhatItLacks() throws Exception {
        openDemo();
        int made = 0;
        for (Class<? extends Step> kind : Steps.ALL) {
            StepForm form = on(() -> new StepForm(desk, kind));
            try {
                Step step = on(form::step);
                assertThat(step).isInstanceOf(kind);
                // The form of a recorded step gives that very step back.
                assertThat(StepCodec.write(on(() -> new StepForm(desk, step).step())))
                        .isEqualTo(StepCodec.write(step));
                made++;
            } catch (BadJson e) {
                assertThat(e.getMessage()).contains(StepCodec.info(kind).name());
            }
        }
        assertThat(made).isGreaterThan(Steps.ALL.size() * 3 / 4);
    }

    @Test
    public void aStepIsTypedForetoldAndDoneOnTheSelection() throws Exception {
        openDemo();
        station(Station.SKIN);
        on(() -> {
            BitSet some = new BitSet();
            some.set(0, 200);
            desk.selection().choose(0, some);
            return null;
        });
        choose("#skin-steps-which", SmoothWeights.class);
        type("#edit-mesh", "pilot");
        type("#edit-rounds", "many");
        press("#skin-steps-apply");
        quiet();
        assertThat(text("#skin-steps-preview")).contains("rounds");
        assertThat(on(() -> desk.history().done())).isEmpty();
        type("#edit-rounds", "700");
        press("#skin-steps-apply");
        quiet();
        assertThat(text("#skin-steps-preview")).contains("rounds", "1 to 100", "700");
        assertThat(on(() -> desk.history().done())).isEmpty();
        type("#edit-rounds", "2");
        press("#skin-steps-apply");
        quiet();
        Step done = on(() -> desk.history().done().getLast().step());
        assertThat(((SmoothWeights) done).rounds()).isEqualTo(2);
        assertThat(((SmoothWeights) done)
                        .vertices()
                        .on(on(() -> desk.now().meshes().getFirst()))
                        .cardinality())
                .isEqualTo(200);
    }

    /** Names are picked from a list that filters as one types. */
    @Test
    public void aParentIsPickedFromTheNamesThereAre() throws Exception {
        openDemo();
        station(Station.SKELETON);
        choose("#skeleton-steps-which", Reparent.class);
        type("#edit-node", "forearm");
        ListView<?> offered = (ListView<?>) on(() -> Window.getWindows().stream()
                .map(w -> w.getScene().lookup("#edit-node-names"))
                .filter(n -> n != null)
                .findFirst()
                .orElseThrow());
        List<String> names =
                on(() -> offered.getItems().stream().map(String::valueOf).toList());
        assertThat(names).hasSize(2).allMatch(n -> n.contains("forearm"));
        hand.push(KeyCode.DOWN);
        hand.push(KeyCode.ENTER);
        assertThat(on(() -> ((javafx.scene.control.TextField) scene.lookup("#edit-node")).getText()))
                .isEqualTo(names.getFirst());
    }
}
