package org.cleanmarrow.batch;

import org.cleanmarrow.ledger.StepCodec;
import picocli.CommandLine.Command;

@Command(name = "steps", description = "Lists every step with its parameters.")
final class StepsCommand extends JsonCommand {
    @Override
    public Integer call() {
        print(StepCodec.describeAll());
        return 0;
    }
}
