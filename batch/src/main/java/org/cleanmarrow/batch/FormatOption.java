package org.cleanmarrow.batch;

import picocli.CommandLine.Option;

/** Which format is delivered, for all commands that deliver. */
final class FormatOption {
    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            defaultValue = "glb",
            description = "glb, dae, obj, ply or bvh; glb where it is left out")
    private String format;

    String ending() {
        return format;
    }
}
