package org.cleanmarrow.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Rules;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.json.BadJson;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class TargetJsonTest {
    private static Target full() {
        Target target = Target.of(Conventions.parse("z-up-cm-lh").orElseThrow()).called("Ferry kiosk");
        double limit = 7;
        for (Budget budget : Budget.values()) {
            target = target.with(budget, limit++);
        }
        return target.with(Budget.CLIP_SECONDS, 2.5)
                .with(Budget.FILE_BYTES, 5e9)
                .with(new Rules(
                        List.of(
                                new Rules.Names(Rules.Kind.JOINT, "left_*, root"),
                                new Rules.Names(Rules.Kind.CLIP, "?*")),
                        List.of(new Rules.Joint("root", ""), new Rules.Joint("hips", "root")),
                        Optional.of("skin, cloth_*"),
                        Optional.of(List.of()),
                        List.of(30.0, 23.976),
                        Map.of("end-joints", Optional.empty(), "texture-size", Optional.of(Severity.BLOCKER))));
    }

    @Test
    public void allThatATargetSaysIsWrittenAndReadAgain() throws BadJson {
        assertThat(TargetJson.read(TargetJson.write(full()))).isEqualTo(full());
        Target bare = Target.named("y-up-m-rh").orElseThrow();
        assertThat(TargetJson.read(TargetJson.write(bare))).isEqualTo(bare);
        assertThat(TargetJson.readRules(TargetJson.writeRules(full().rules()).toString()))
                .isEqualTo(full().rules());
        assertThat(TargetJson.readRules(" ")).isEqualTo(Rules.NONE);
    }

    @Test
    public void conventionsMayBeSpelledOutAtTheTop() throws BadJson {
        Target target = TargetJson.read(
                "{\"metresPerUnit\": 0.01, \"up\": \"z\", \"forward\": \"-y\", \"handedness\": \"left\", \"joints\": 60}");
        assertThat(target.conventions().up().code()).isEqualTo("z");
        assertThat(target.most(Budget.JOINTS)).isEqualTo(60);
        assertThat(target.most(Budget.TRIANGLES)).isInfinite();
        assertThat(target.influences()).isEqualTo(Target.USUAL_INFLUENCES);
    }

    @DataProvider
    public Object[][] slips() {
        String sound = "{\"conventions\": \"y-up-m-rh\", ";
        return new Object[][] {
            {"nothing", "not JSON"},
            {"[1]", "an object"},
            {"{}", "conventions"},
            {"{\"conventions\": \"sideways\"}", "sideways"},
            {sound + "\"jonits\": 60}", "\"jonits\" is not known here"},
            {sound + "\"joints\": 0}", "At joints"},
            {sound + "\"joints\": 2.5}", "At joints"},
            {sound + "\"joints\": \"sixty\"}", "At joints"},
            {sound + "\"influences\": 256}", "At influences"},
            {sound + "\"clipSeconds\": 0}", "a number over 0"},
            {sound + "\"fileBytes\": 1e300}", "At fileBytes"},
            {sound + "\"name\": \" \"}", "At name"},
            {sound + "\"names\": {}}", "At names"},
            {sound + "\"names\": [{\"of\": \"bone\", \"pattern\": \"*\"}]}", "At names[0].of"},
            {sound + "\"names\": [{\"of\": \"joint\"}]}", "At names[0].pattern"},
            {sound + "\"names\": [{\"of\": \"joint\", \"pattern\": \"*\", \"case\": 1}]}", "names[0].case"},
            {sound + "\"jointsNeeded\": [{\"name\": \"a\"}, {\"parent\": \"a\"}]}", "At jointsNeeded[1].name"},
            {sound + "\"jointsNeeded\": [{\"name\": \"a\", \"parent\": 3}]}", "At jointsNeeded[0].parent"},
            {sound + "\"materialNames\": [\"a\"]}", "At materialNames"},
            {sound + "\"extensions\": [1]}", "At extensions"},
            {sound + "\"rates\": [30, -1]}", "At rates"},
            {sound + "\"rates\": 30}", "At rates"},
            {sound + "\"checks\": [\"end-joints\"]}", "At checks"},
            {sound + "\"checks\": {\"end-joint\": \"off\"}}", "checks.end-joint"},
            {sound + "\"checks\": {\"end-joints\": \"grave\"}}", "At checks.end-joints"},
        };
    }

    @Test(dataProvider = "slips")
    public void aSlipIsSaidWithItsPlace(String text, String said) {
        assertThatThrownBy(() -> TargetJson.read(text))
                .isInstanceOf(BadJson.class)
                .hasMessageContaining(said);
    }
}
