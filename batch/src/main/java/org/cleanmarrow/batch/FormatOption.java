package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.ReadFailed;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** What is delivered, for all commands that deliver: a format, or a recipe. */
final class FormatOption {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec spec;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "glb, gltf, dae, usda, usdz, obj, obj-sequence, ply or bvh; glb where it is left out")
    private String format;

    @Option(
            names = "--recipe",
            paramLabel = "FILE",
            description = "what a delivery consists of, in place of --as: formats, clips apart, archive and so on")
    private Path recipe;

    /**
     * The recipe, or one of the format alone.
     *
     * @param apart whether the command itself asks for clips apart
     * @throws CommandLine.ParameterException where two things are asked for at once
     */
    Recipe recipe(boolean apart) throws ReadFailed, IOException {
        return recipe(apart, Optional.empty());
    }

    /** The same, of what is kept with the work where nothing is asked for. */
    Recipe recipe(boolean apart, Optional<Recipe> kept) throws ReadFailed, IOException {
        if (recipe == null && format == null && !apart && kept.isPresent()) {
            return kept.get();
        }
        if (recipe == null) {
            return Recipe.of(format == null ? "glb" : format, apart);
        }
        if (format != null || apart) {
            throw new CommandLine.ParameterException(
                    spec.commandLine(),
                    "A recipe says formats and whether clips lie apart; leave --as and --apart out.");
        }
        return Recipe.read(recipe);
    }

    /** Files that it reads. */
    List<Path> files() {
        return recipe == null ? List.of() : List.of(recipe);
    }

    /** The same for a command that does one file of many. */
    List<String> again() {
        if (recipe != null) {
            return List.of("--recipe", recipe.toString());
        }
        return format == null ? List.of() : List.of("--as", format);
    }
}
