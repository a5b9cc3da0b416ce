package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.joml.Quaterniond;
import org.testng.annotations.Test;

/** Ledgers as we write them fit their schema, by npm ajv 8.17.1, a general validator of JSON Schema 2020-12. */
public class LedgerSchemaTest {
    @Test
    public void everyStepFitsTheSchema() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Files.writeString(
                folder.resolve("ledger.schema.json"), LedgerSchema.of().toString());
        Ledger all = Ledger.EMPTY;
        for (Step step : LedgerTest.oneOfEach()) {
            all = all.plus(step);
        }
        VertexSet some = VertexSet.numbers(BitSet.valueOf(new long[] {0b1011}));
        all = all.switched(0, false)
                .keeping(new Ledger.Choice("strap", "figure", some))
                .keeping(new TrialPose("reach", List.of(Map.of("joint_1", new Quaterniond()))))
                .delivering("{\"recipe\": 1}");
        Path ledger = Files.writeString(folder.resolve("ledger.json"), all.toJson());
        String said = Witness.node("schema.mjs", folder.toString(), "ledger", ledger.toString());
        assertThat(said).contains("\"errors\":[]");
    }
}
