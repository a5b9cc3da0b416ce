package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Consumer;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.TargetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import picocli.CommandLine.Option;

/** What files are held against, for all commands that ask. */
final class TargetOption {
    @Option(
            names = "--target",
            paramLabel = "T",
            defaultValue = "y-up-m-rh",
            description = "conventions such as z-up-cm-lh, or a JSON file; default ${DEFAULT-VALUE}")
    private String target;

    /** As it was given. */
    String text() {
        return target;
    }

    /** The file that it is in, where it is one. */
    Optional<Path> file() {
        return Target.named(target).isEmpty() && Files.isRegularFile(Path.of(target))
                ? Optional.of(Path.of(target))
                : Optional.empty();
    }

    /** @param say takes what people are told where there is no such target */
    Optional<Target> wanted(Consumer<String> say) throws IOException {
        Optional<Target> named = Target.named(target);
        if (named.isPresent()) {
            return named;
        }
        if (file().isEmpty()) {
            say.accept("There is no target \"" + target
                    + "\". Expected conventions such as y-up-m-rh, z-up-cm-lh, or a JSON file with \"conventions\".");
            return Optional.empty();
        }
        try {
            return Optional.of(TargetFiles.read(file().get()));
        } catch (ReadFailed e) {
            say.accept(e.getMessage());
            return Optional.empty();
        }
    }
}
