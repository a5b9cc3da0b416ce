package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.ComboBox;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.TargetFiles;
import org.cleanmarrow.model.Asset;
import org.testng.annotations.Test;

/** A station mended in two clicks, and targets with budgets of one's own. */
public class MendAllTest extends DeskWindow {
    @Test
    public void aStationIsMendedAsOneAndUndoneAsOne() throws Exception {
        openDemo();
        station(Station.SKIN);
        Asset before = on(() -> desk.now());
        int findings = on(() -> desk.findingsAt(Station.SKIN).size());
        click("#mend-all");
        quiet();
        ListView<?> plan = (ListView<?>) find("#mend-plan");
        int steps = on(() -> plan.getItems().size());
        assertThat(steps).isBetween(3, findings);
        assertThat(on(() -> plan.getItems().stream().map(String::valueOf).toList()))
                .allMatch(row -> row.matches(".* \\d+(\\.\\d+)? [cm]?m"));
        assertThat(on(() -> desk.now()))
                .as("nothing is done before it is asked for")
                .isSameAs(before);
        click("#mend-do");
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(steps);
        assertThat(on(() -> desk.findingsAt(Station.SKIN).stream()
                        .filter(f -> f.severity() == Severity.BLOCKER)
                        .toList()))
                .isEmpty();
        on(() -> {
            desk.undo();
            return null;
        });
        quiet();
        assertThat(on(() -> desk.now())).as("undone as one").isSameAs(before);
    }

    @Test
    public void aTargetWithBudgetsIsKeptAndCheckedAgainst() throws Exception {
        openDemo();
        click("#target-edit");
        type("#target-name", "Ferry kiosk");
        type("#target-joints", "40");
        type("#target-triangles", "a lot");
        click("#target-keep");
        assertThat(text("#target-trouble")).contains("whole numbers");
        type("#target-triangles", "20000");
        type("#target-rules", "{\"rates\": [25], \"joints\": []}");
        hand.push(KeyCode.TAB);
        assertThat(on(() -> scene.getFocusOwner().getId())).as("a tab goes on").isEqualTo("target-open");
        click("#target-keep");
        assertThat(text("#target-trouble"))
                .contains("\"joints\" is not known here")
                .contains("jointsNeeded");
        type("#target-rules", "{\"jointsNeeded\": [{\"name\": \"tail\"}], \"checks\": {\"end-joints\": \"off\"}}");
        click("#target-keep");
        quiet();
        assertThat(on(() -> desk.target().get().most(Budget.JOINTS))).isEqualTo(40);
        assertThat(on(() -> desk.findings().stream().map(f -> f.check()).toList()))
                .contains("joint-budget", "triangle-budget", "joints-needed")
                .doesNotContain("end-joints");
        assertThat(finding("triangle-budget").message().toString())
                .contains("30,256")
                .contains("20,000");
        assertThat(on(() -> ((ComboBox<?>) scene.lookup("#target")).getValue()))
                .isEqualTo(on(() -> desk.target().get()));
        Path kept = new AppFolder(home).targets().resolve("Ferry_kiosk.json");
        assertThat(TargetFiles.read(kept)).isEqualTo(on(() -> desk.target().get()));
        // What is no target is said, and nothing changes.
        Path other = home.resolve("other.json");
        Files.writeString(other, "{\"conventions\": \"sideways\"}");
        on(() -> {
            desk.targets().open(other, t -> desk.target().set(t));
            return null;
        });
        quiet();
        assertThat(on(() -> desk.jobs().message().get()))
                .contains("other.json")
                .contains("conventions")
                .contains("sideways");
        assertThat(on(() -> desk.target().get().name())).isEqualTo("Ferry kiosk");
        List<String> names =
                on(() -> desk.targets().all().stream().map(Target::name).toList());
        assertThat(names).hasSize(8).endsWith("Ferry kiosk");
    }
}
